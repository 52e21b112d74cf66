"""Kagero from a script: `python -m kagero.core simulate|render|validate|schema`."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from .effect import Effect, json_schema, read_effect
from .errors import KageroError, RequestError
from .picture import to_png
from .plan import compile_effect
from .workflows import Playing, bake, render_frame


def main(arguments: list[str] | None = None) -> int:
    """Run a command; return 0, or 1 after writing what is wrong to standard error, a line a finding."""
    options = _parser().parse_args(arguments)
    try:
        options.run(options)
    except KageroError as problem:
        for finding in problem.findings:
            print(f"{finding.code}: {finding}", file=sys.stderr)
        return 1
    except OSError as problem:
        print(f"file: {problem}", file=sys.stderr)
        return 1
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="python -m kagero.core", description=__doc__)
    commands = parser.add_subparsers(required=True)

    simulate = commands.add_parser("simulate", help="simulate frames into a particle cache")
    simulate.add_argument("effect", type=Path)
    simulate.add_argument("--frames", help="FIRST:LAST, both included; the whole clip without it")
    simulate.add_argument("--out", type=Path, required=True, help="a file ending in .npz, .csv or .ply.zip")
    simulate.set_defaults(run=_simulate)

    render = commands.add_parser("render", help="render frames as PNG with alpha")
    render.add_argument("effect", type=Path)
    render.add_argument("--frames", help="a frame, or FIRST:LAST, both included; the whole clip without it")
    render.add_argument("--size", default="1280x720", help="WIDTHxHEIGHT in pixels")
    render.add_argument("--out", type=Path, required=True, help="a folder")
    render.set_defaults(run=_render)

    validate = commands.add_parser("validate", help="say whether an effect can be played, or what is wrong with it")
    validate.add_argument("effect", type=Path)
    validate.set_defaults(run=_validate)

    schema = commands.add_parser("schema", help="print the JSON Schema of effect files")
    schema.set_defaults(run=lambda options: print(json.dumps(json_schema(), indent=1)))
    return parser


def _read(path: Path) -> Effect:
    return read_effect(path.read_bytes())


def _span(playing: Playing, text: str | None) -> tuple[int, int]:
    if text is None:
        return playing.plan.first_frame, playing.plan.last_frame
    first, _, last = text.partition(":")
    try:
        return int(first), int(last or first)
    except ValueError:
        raise RequestError(f"{text!r} is no span of frames.", where="--frames", remedy="Write 0:120, or one frame.") from None


def _simulate(options: argparse.Namespace) -> None:
    playing = Playing(_read(options.effect))
    name = options.out.name
    kind = next((kind for kind, suffix in (("npz", ".npz"), ("csv", ".csv"), ("ply", ".ply.zip")) if name.endswith(suffix)), None)
    if kind is None:
        raise RequestError(f"{name!r} names no format.", where="--out", remedy="End it in .npz, .csv or .ply.zip.")
    first, last = _span(playing, options.frames)
    total = bake(playing, kind, first, last, options.out)
    print(f"{options.out}: frames {first} to {last}, {total:,} particles over all frames")


def _render(options: argparse.Namespace) -> None:
    playing = Playing(_read(options.effect))
    try:
        width, height = (int(part) for part in options.size.split("x"))
    except ValueError:
        raise RequestError(f"{options.size!r} is no size.", where="--size", remedy="Write 1280x720.") from None
    options.out.mkdir(parents=True, exist_ok=True)
    first, last = _span(playing, options.frames)
    for number in range(first, last + 1):
        path = options.out / f"{number:06d}.png"
        path.write_bytes(to_png(render_frame(playing, number, width, height)))
        print(path)


def _validate(options: argparse.Namespace) -> None:
    effect = _read(options.effect)
    compile_effect(effect)
    print(f"{options.effect}: {effect.name!r} can be played ({len(effect.emitters)} emitters)")


if __name__ == "__main__":
    sys.exit(main())
