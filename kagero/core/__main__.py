"""Kagero from a script: `python -m kagero.core simulate|render|validate|schema|ready`.

Exit code 0: done; 1: not done, or, with --strict, done with something amiss. What is wrong or amiss goes to standard
error, a line a finding, each beginning with its code: `missing_file`, `missing_letters`, `outside_clip` and `replaced`
tell of work that was done all the same.
"""

from __future__ import annotations

import argparse
import json
import re
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from .catalog import require_valid
from .document import Effect, json_schema, read_effect
from .errors import Finding, KageroError, RequestError
from .formats.exporters import EXPORTERS, Exporter, Sequence, folder_in_place
from .workflows import Playing, ReplacedNumbers, bake, compile_in_processes, export, exporter_of, files_beside


def main(arguments: list[str] | None = None) -> int:
    """Run a command; return its exit code."""
    options = _parser().parse_args(_joined(sys.argv[1:] if arguments is None else arguments))
    try:
        amiss = _tell(options.run(options) or [])
    except KageroError as problem:
        _tell(problem.findings)
        return 1
    except OSError as problem:
        print(f"file: {problem}", file=sys.stderr)
        return 1
    return 1 if amiss and options.strict else 0


def _tell(findings: Iterable[Finding]) -> int:
    """Write findings to standard error; return how many."""
    reported = 0
    for finding in findings:
        print(f"{finding.code}: {finding}", file=sys.stderr)
        reported += 1
    return reported


def _joined(arguments: list[str]) -> list[str]:
    """Return arguments with `--frames -10:5` as one, since a value that begins with a minus reads as an option."""
    parts: list[str] = []
    for argument in arguments:
        if parts and parts[-1] == "--frames" and re.match(r"-\d", argument):
            parts[-1] = f"--frames={argument}"
        else:
            parts.append(argument)
    return parts


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="python -m kagero.core", description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    parser.set_defaults(strict=False)
    commands = parser.add_subparsers(required=True)
    frames = (
        "a frame, or FIRST:LAST, both included; without LAST to the clip's end, without FIRST from its beginning; all "
        "without it"
    )

    def command(name: str, words: str) -> argparse.ArgumentParser:
        parser = commands.add_parser(name, help=words)
        parser.add_argument("effect", type=Path)
        parser.add_argument(
            "--files",
            type=Path,
            help="a folder or a zip with the files of its props; the effect's own folder without it",
        )
        parser.add_argument(
            "--strict",
            action="store_true",
            help="end with code 1 also where a file is missing or a result was not finite",
        )
        return parser

    simulate = command("simulate", "simulate frames into a particle cache")
    simulate.add_argument("--frames", help=frames)
    simulate.add_argument("--out", type=Path, required=True, help=f"a file ending in {_suffixes(_kinds('particles'))}")
    simulate.add_argument("--simulated", action="store_true", help="also where particles were before they were shaped")
    simulate.set_defaults(run=_simulate)

    render = command("render", "render frames as pictures, a film or a sprite sheet, finished as they will be seen")
    render.add_argument("--frames", help=frames)
    render.add_argument("--size", help="WIDTHxHEIGHT in pixels; without it the size of the effect's frame")
    pictured = list(_kinds("pictures"))
    render.add_argument("--format", choices=pictured, default=pictured[0], help="what is written")
    render.add_argument("--out", type=Path, required=True, help="a folder for pictures, else a file")
    render.add_argument("--camera", default="", help="the name of the camera they are taken by; the frame's without it")
    render.add_argument("--emitter", default="", help="the name of the only emitter that is seen")
    render.add_argument(
        "--option",
        action="append",
        default=[],
        metavar="NAME=VALUE",
        help=f"what is chosen of the format: {_option_words()}",
    )
    render.set_defaults(run=_render)

    validate = command("validate", "say whether an effect can be played, or what is wrong with it")
    validate.set_defaults(run=_validate)

    schema = commands.add_parser("schema", help="print the JSON Schema of effect files")
    schema.set_defaults(run=lambda options: print(json.dumps(json_schema(), indent=1)))

    compiled = commands.add_parser(
        "ready", help="compile what the first effect would else wait for: about a minute, once"
    )
    compiled.set_defaults(run=_ready)
    return parser


def _playing(options: argparse.Namespace) -> Playing:
    effect: Effect = require_valid(read_effect(options.effect.read_bytes()))
    refers = any(True for prop in effect.props for _ in prop.referred())
    if options.files is None and not refers:
        return Playing(effect.whole())
    return Playing(effect.whole(), content=files_beside(options.files or options.effect.parent))


def _noting(playing: Playing) -> Playing:
    playing.replaced = ReplacedNumbers()
    return playing


def _amiss(playing: Playing) -> list[Finding]:
    return playing.lacking() + (playing.replaced.findings(playing.effect) if playing.replaced else [])


def _span(playing: Playing, text: str | None) -> tuple[int, int]:
    plan = playing.plan
    found = re.fullmatch(r"([+-]?\d{1,9})?(:)?([+-]?\d{1,9})?", ":" if text is None else text)
    if found is None or (found[2] is None and found[1] is None):
        raise RequestError(
            f"{text!r} is no span of frames.", where="--frames", remedy="Write 0:120, 20: or :40, or one frame."
        )
    first = plan.first_frame if found[1] is None else int(found[1])
    if found[2] is None:
        return first, first
    return first, plan.last_frame if found[3] is None else int(found[3])


def _simulate(options: argparse.Namespace) -> list[Finding]:
    playing = _noting(_playing(options))
    name = options.out.name
    kinds = _kinds("particles")
    kind = next((kind for kind, exporter in kinds.items() if name.endswith(exporter.suffix)), None)
    if kind is None:
        raise RequestError(f"{name!r} names no format.", where="--out", remedy=f"End it in {_suffixes(kinds)}.")
    first, last = _span(playing, options.frames)
    total = bake(playing, kind, first, last, options.out, options={"simulated": True} if options.simulated else {})
    print(f"{options.out}: frames {first} to {last}, {total:,} particles over all frames")
    return _amiss(playing)


def _render(options: argparse.Namespace) -> list[Finding]:
    playing = _noting(_playing(options))
    frame = playing.effect.frame
    try:
        width, height = (int(part) for part in options.size.split("x")) if options.size else (frame.width, frame.height)
    except ValueError:
        raise RequestError(f"{options.size!r} is no size.", where="--size", remedy="Write 1280x720.") from None
    first, last = _span(playing, options.frames)
    chosen = _options(options.format, options.option)
    for what, things in (("camera", playing.effect.props), ("emitter", playing.effect.emitters)):
        if name := getattr(options, what):
            there = next((each.uid for each in things if each.name == name), None)
            if there is None:
                raise RequestError(
                    f"There is no {what} called {name!r}.",
                    where=f"--{what}",
                    remedy="Write the name of one of the effect's.",
                )
            chosen[what] = there
    exporter = exporter_of(playing, options.format, first, last, (width, height), options.out.parent, chosen)
    if isinstance(exporter, Sequence):
        exporter.into(folder_in_place(options.out, print))
        export(playing, exporter)
    else:
        messages: list[str] = []
        bake(playing, options.format, first, last, options.out, size=(width, height), options=chosen, remarks=messages)
        print("\n".join([f"{options.out}: frames {first} to {last}", *messages]))
    return _amiss(playing)


def _options(kind: str, given: list[str]) -> dict[str, Any]:
    """Return options written as NAME=VALUE by what they are. Raises RequestError for what is none."""
    known = {option.name: option for option in EXPORTERS[kind].options}
    options: dict[str, Any] = {}
    for text in given:
        name, sign, value = text.partition("=")
        option = known.get(name)
        if option is None or not sign:
            raise RequestError(
                f"{kind} has no option {text!r}.",
                where="--option",
                remedy="It has " + ", ".join(known) + ": write NAME=VALUE.",
            )
        if option.kind == "tick" and value in ("yes", "no"):
            options[name] = value == "yes"
        elif option.kind == "whole" and re.fullmatch(r"[+-]?\d{1,9}", value):
            options[name] = int(value)
        else:
            options[name] = [each for each in value.split(",") if each] if option.kind == "several" else value
    return options


def _option_words() -> str:
    return "; ".join(
        f"{kind}: {', '.join(option.name for option in exporter.options)}"
        for kind, exporter in _kinds("pictures").items()
    )


def _kinds(takes: str) -> dict[str, type[Exporter]]:
    return {kind: exporter for kind, exporter in EXPORTERS.items() if exporter.takes == takes}


def _suffixes(kinds: dict[str, type[Exporter]]) -> str:
    *others, last = [exporter.suffix for exporter in kinds.values()]
    return f"{', '.join(others)} or {last}" if others else last


def _ready(options: argparse.Namespace) -> None:
    def report(done: int, of: int, words: str) -> None:
        print(f"compiling: {done} of {of} done{', now ' + words if words else ''}", flush=True)

    if not compile_in_processes(report):
        raise KageroError(
            "Kernels could not be compiled.",
            remedy="What failed stands above; what needs them compiles them when it is called.",
        )


def _validate(options: argparse.Namespace) -> list[Finding]:
    playing = _playing(options)
    print(f"{options.effect}: {playing.effect.name!r} can be played ({len(playing.effect.emitters)} emitters)")
    return _amiss(playing)


if __name__ == "__main__":
    sys.exit(main())
