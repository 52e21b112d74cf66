"""A ribbon: a band through several particles, in order of birth."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...rows.example import Example
from ...rows.model import Setting
from ...rows.reader import Reader
from ...rows.units import METRES
from ...rows.writing import row
from .strand import StrandLook


class Ribbon(StrandLook):
    """A band through particles in order of birth, or from each to the particle that it was born from."""

    label = "Ribbon"
    help = "A band through particles in order of birth, or from each to the particle that it was born from."
    example = Example(fields={"size": row(0.09)}, emitter={"births": {"rate": row(14.0)}})

    sprite: Literal["ribbon"] = "ribbon"
    joins: Annotated[
        Literal["all", "siblings", "parent"],
        Setting(
            "Joins",
            "Which particles one band goes through; the youngest stand at its beginning.",
            choices=(("all", "all of them"), ("siblings", "those of one parent"), ("parent", "each with its parent")),
        ),
    ] = "all"
    to_parent: Annotated[bool, Setting("Begins at the parent", "It begins where the parent is, while that lives.")] = (
        True
    )
    rounded: Annotated[bool, Setting("Rounded", "It goes through its particles in a curve, not by straight lines.")] = (
        True
    )
    gap: Annotated[
        float,
        Field(ge=0, le=1e6),
        Setting("Breaks at", "It breaks where two of its particles are further apart; 0 never breaks.", METRES),
    ] = 0.0

    def unused(self) -> frozenset[str]:
        off = {"to_parent"} if self.joins != "siblings" else set()
        return super().unused() | off | ({"rounded"} if self.joins == "parent" else set())

    def carried(self, at: Reader) -> dict[str, int]:
        if self.joins == "all" or not at.view.has_parent:
            return {}
        return dict(zip(PARENT, at.parent("name", len(PARENT)), strict=True))


PARENT = tuple(
    f"parent.name.{i}" for i in range(3)
)  # whose child a particle is: its parent's key in pieces of 22 bits, which float32 holds exactly
