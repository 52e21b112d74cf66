"""A particle's neighbours as a source."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Values
from ...rows.example import Example
from ...rows.neighbour_state import CLOSEST, COUNT, RADIUS
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart
from ...rows.units import METRES, PER_CUBIC_METRE, PLAIN
from ...rows.view import View

PARTS = {
    "count": ("neighbours", PLAIN, (0, 20), "How many particles of the emitter are within its distance."),
    "closest": (
        "nearest neighbour",
        METRES,
        (0, 0.25),
        "How far the nearest one is; the distance itself where there is none.",
    ),
    "density": (
        "density about it",
        PER_CUBIC_METRE,
        (0, 500),
        "How many there are in a cubic metre, within its distance.",
    ),
}


class NeighbourSource(SourcePart):
    """How many other particles are near, how near the nearest is, and how dense they are."""

    label, group = "neighbours", "motion"
    words = "near crowd density flock close"
    help = "How many other particles of the emitter are near, and how near."
    after = "place"
    example = Example(beside=("force:neighbours",))

    kind: Literal["neighbours"]
    part: Annotated[Literal["count", "closest", "density"], NAMING] = "count"

    def facts(self, view: View) -> SourceFacts:
        words, unit, usual, _ = PARTS[self.part]
        return replace(self.kind_facts(), label=words, unit=unit, input=usual)

    def missing(self, view: View) -> str:
        return (
            ""
            if _seen(view)
            else "the particle's neighbours, and particles of this emitter do not see each other: add Neighbours"
        )

    def column(self) -> str:
        return f"neighbours.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if _seen(view):
            for part, (_, _, _, help) in PARTS.items():
                yield cls.entry({"kind": "neighbours", "part": part}, cls.group, help)

    def write(self, at: Reader) -> Values:
        b = at.builder
        if at.newborn:  # nobody has looked yet
            return (at.row("motion.near.within")[0] if self.part == "closest" else b.const(0),)
        if self.part != "density":
            return (b.input(COUNT if self.part == "count" else CLOSEST),)
        radius = b.op("max", b.input(RADIUS), b.const(1e-6))
        volume = b.op("mul", b.op("mul", b.op("mul", radius, radius), radius), b.const(4 / 3 * math.pi))
        return (b.op("div", b.input(COUNT), volume),)


def _seen(view: View) -> bool:
    motion = view.thing.motion
    return motion is not None and motion.near is not None
