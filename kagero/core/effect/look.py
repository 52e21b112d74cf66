"""Look: how a particle is drawn."""

from __future__ import annotations

from typing import Literal

from .base import Model
from .rows import ColourRow, NumberRow


class Look(Model):
    sprite: Literal["soft_disc"] = "soft_disc"
    blend: Literal["over", "add"] = "over"
    size: NumberRow
    stretch: NumberRow = NumberRow(base=1)
    opacity: NumberRow
    colour: ColourRow
