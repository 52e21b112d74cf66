"""How a prop moves, as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import PropVector
from ...rows.reader import Reader
from ...rows.slots import OfProp
from ...rows.units import METRES_PER_SECOND


class PropVelocitySource(PropVector):
    """The velocity of a prop as a whole, with all that it follows: a component, its length (the speed), or the
    whole."""

    label, group, unit, usual, word = "prop velocity", "props", METRES_PER_SECOND, (0, 2), "velocity"
    words = "object moving"
    help = "Where to and how fast a prop moves at this moment."
    name_groups = ("velocities",)

    kind: Literal["prop_velocity"]

    def values(self, at: Reader) -> Values:
        return at.builder.multi("prop_velocity", at.clip_time(), attrs=(OfProp(self.prop),))
