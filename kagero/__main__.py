"""Kagero's command line: `kagero serve`, and what works without a server: `kagero
simulate|render|validate|schema|ready`."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

CORE = {
    "simulate": "simulate frames into a particle cache",
    "render": "render frames as pictures, a film or a sprite sheet",
    "validate": "say whether an effect can be played, or what is wrong with it",
    "schema": "print the JSON Schema of effect files",
    "ready": "compile what the first effect would else wait for: about a minute, once",
}


def main(arguments: list[str] | None = None) -> int:
    """Run a command; return its exit code. Nothing is loaded that the command does not need."""
    given = sys.argv[1:] if arguments is None else arguments
    if given and given[0] in CORE:
        from kagero.core.__main__ import main as core

        return core(given)
    options = _parser().parse_args(given)
    if options.data is not None:
        os.environ["KAGERO_DATA"] = str(options.data.absolute())
    from kagero.server.settings.start import serve  # which reads the settings

    return serve(options.host, options.port, options.demo, options.open)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="kagero", description="Kagero: where an effects artist designs how particles live."
    )
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    serve = commands.add_parser("serve", help="serve Kagero to a browser on this machine")
    serve.add_argument("--host", default="127.0.0.1", help="the address that is listened at (127.0.0.1)")
    serve.add_argument(
        "--port", type=int, default=int(os.environ.get("PORT", 8130)), help="the port that is listened at (8130)"
    )
    serve.add_argument(
        "--data",
        type=Path,
        help="the folder with everything that is kept; KAGERO_DATA, or where this system keeps such things",
    )
    serve.add_argument(
        "--demo", action="store_true", help="load the effects of the Lantern Ferry that are not there yet"
    )
    serve.add_argument("--open", action="store_true", help="open the page in the browser")
    for name, words in CORE.items():
        commands.add_parser(name, help=words, add_help=False)
    return parser


if __name__ == "__main__":
    sys.exit(main())
