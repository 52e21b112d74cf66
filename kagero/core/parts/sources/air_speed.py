"""The speed against the air as a source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ...formula import Values
from ...rows.attributes import NumberAttribute
from ...rows.reader import Reader
from ...rows.source import Node
from ...rows.step import pushes_at
from ...rows.units import METRES_PER_SECOND
from ...rows.view import View


class AirSpeedSource(NumberAttribute):
    """How fast a particle moves against the air that takes it along: wind, turning and flowing air, fields, and still
    air where drag is alone."""

    label, group, unit, usual = "speed against the air", "motion", METRES_PER_SECOND, (0, 3)
    words = "wind drag relative"
    help = "How fast the particle moves against the air that takes it along; without wind, its speed."
    after = "launch"

    kind: Literal["air_speed"]

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        rows = ("forces.", "births.mass", *(("births.launch.", "births.place.") if stage == "birth" else ()))
        yield from ((stage, placed.address) for placed in view.sheet_rows() if placed.address.startswith(rows))

    def write(self, at: Reader) -> Values:
        b = at.builder
        pushes = pushes_at(at)
        for push in at.view.thing.forces:
            push.act(at, pushes)
        return (
            b.op(
                "length", *(b.op("sub", v, u) for v, u in zip(at.state("velocity"), pushes.air_velocity(), strict=True))
            ),
        )
