"""Noise as a mask."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...rows.model import Driven
from ...rows.responses import NumberRow, number
from ...rows.units import PLAIN
from .base import LevelledMask, NoiseDrift, NoiseScale, Spot, noise


class NoiseMask(LevelledMask):
    """Where noise is over a level."""

    label, help = "Noise", "Where noise is over a level."

    shape: Literal["noise"]
    amplitude: Annotated[
        NumberRow,
        Driven("Amplitude", PLAIN, 0, 1_000, 1, 1.0, "What the noise, from -1 to 1, is multiplied by.", always=True),
    ] = number(1)
    noise_scale: NoiseScale = number(0.5)
    noise_drift: NoiseDrift = number(0)

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {
            **super().template(),
            "level": {"base": 0.0, "responses": []},
            "softness": {"base": 0.2, "responses": []},
        }

    def over(self, at: Spot) -> int:
        return at.builder.op("mul", noise(self, at), self.row(at, "amplitude")[0])
