"""Where a prop stands, as a source."""

from __future__ import annotations

from typing import Literal

from ...formula import Values
from ...rows.attributes import PropVector
from ...rows.reader import Reader
from ...rows.slots import OfProp
from ...rows.units import METRES


class PropSource(PropVector):
    """Where a prop of the effect stands: a component, its distance from the origin, or the whole."""

    label, group, unit, usual = "prop", "props", METRES, (-1, 1)
    words = "object follow camera where"
    help = "Where a prop stands at this moment."
    name_groups = ("props",)

    kind: Literal["prop"]

    def values(self, at: Reader) -> Values:
        m = at.builder.multi("prop_matrix", at.clip_time(), attrs=(OfProp(self.prop),))
        return (m[3], m[7], m[11])
