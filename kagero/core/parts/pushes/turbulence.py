"""Turbulence."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.responses import NumberRow
from ...rows.units import ACCELERATION
from .noise import NoisePush


class Turbulence(NoisePush):
    """A push every way by noise: unlike curl noise it bunches particles up and tears gaps. Source of octaves and
    roughness: Musgrave, in Ebert et al., "Texturing and Modeling", 3rd ed., 2003."""

    label, operation = "Turbulence", "turbulence"
    compiles = "turbulence"

    kind: Literal["turbulence"] = "turbulence"
    strength: Annotated[
        NumberRow,
        Driven("Turbulence", ACCELERATION, -10_000, 10_000, 4, 1.5, "Push every way, that gathers and scatters."),
    ]
