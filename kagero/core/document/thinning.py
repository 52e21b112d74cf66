"""Thinning: fewer particles where nobody looks."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..rows.model import Driven, Part, Refers, Setting, Uid
from ..rows.responses import NumberRow, number
from ..rows.units import METRES, PERCENT


class Thinning(Part):
    """Fewer particles further from a camera or prop, and none outside a camera's view. It hides, and never removes.

    prop: a camera or any prop; null: the effect's own camera. view: outside a camera's view nobody is shown.
    """

    band, stage = "look", "emitter"

    prop: Annotated[
        Uid | None,
        Refers(
            "props",
            "placed",
            "{name} is thinned by the distance to a prop that is not there.",
            "Choose another, or the effect's camera.",
        ),
        Setting("by the distance to", "A camera or any prop.", nothing="the effect's camera"),
    ] = None
    outer: Annotated[
        NumberRow, Driven("Thinned out at", METRES, 0, 100_000, 20, 10.0, "From this distance on nobody is shown.")
    ] = number(10)
    inner: Annotated[
        NumberRow,
        Driven(
            "All shown within",
            PERCENT,
            0,
            1,
            1,
            0.5,
            "The share of that distance within which everybody is shown; at 100 % the edge is hard.",
        ),
    ] = number(0.5)
    view: Annotated[bool, Setting("none outside its view", "Who is outside the camera's view is not shown.")] = False
    margin: Annotated[
        NumberRow,
        Driven(
            "View margin",
            PERCENT,
            0,
            10,
            1,
            0.1,
            "How far outside the view particles are still shown, in shares of its height.",
        ),
    ] = number(0.1)
    aspect: float = Field(default=16 / 9, gt=0.05, le=20, description="Width of the view over its height.")

    @classmethod
    def rows_key(cls) -> str:
        return "thinning"

    def unused(self) -> frozenset[str]:
        return frozenset() if self.view else frozenset({"margin"})
