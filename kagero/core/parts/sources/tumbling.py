"""How fast a particle turns in space, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ...formula import Known, Values
from ...rows.attributes import NumberAttribute
from ...rows.example import Example
from ...rows.reader import Reader
from ...rows.source import Listed
from ...rows.units import DEGREES_PER_SECOND
from ...rows.view import View
from .own_axis import turning_of


class TumblingSource(NumberAttribute):
    label, group, unit, usual = "tumbling", "motion", DEGREES_PER_SECOND, (0, 6.28)
    words = "angular speed turning spin orientation"
    help = "How fast the particle turns in space, whichever way."
    example = Example(beside=("once:motion.turning",))

    kind: Literal["tumbling"]

    def missing(self, view: View) -> str:
        return (
            ""
            if turning_of(view) is not None
            else "how fast it turns; particles of this emitter are not turned in space"
        )

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        if turning_of(view) is not None:
            yield from super().listed(view)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        if turning_of(view) is not None:
            yield from super().named(view)

    def write(self, at: Reader) -> Values:
        b = at.builder
        turning = at.view.thing.motion.turning
        return (b.const(0) if turning is None else b.op("length", *turning.speed(at)),)
