"""A block."""

from __future__ import annotations

from ..mesh import Mesh
from ..shapes import box

LABEL, HELP = "Block", "A cube: crates, rubble; width, height and depth make boards and bricks of it."


def build() -> Mesh:
    return box()
