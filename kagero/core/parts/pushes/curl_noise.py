"""Curl noise."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ...rows.model import Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import NumberRow
from ...rows.step import Pushes
from ...rows.units import ACCELERATION, METRES, METRES_PER_SECOND
from .base import PushPart


class CurlNoise(PushPart):
    """A swirling push without sources or sinks. Source: Bridson, Hourihan and Nordenstam, "Curl-noise for procedural fluid flow",
    ACM Transactions on Graphics 26 (2007)."""

    label = "Curl noise"

    kind: Literal["curl_noise"] = "curl_noise"
    strength: Annotated[NumberRow, Driven("Curl noise", ACCELERATION, -10_000, 10_000, 4, 0.9, "Swirling push that never bunches particles up.")]
    scale: Annotated[NumberRow, Driven("Curl noise scale", METRES, 0.001, 10_000, 2, 0.5, "Size of the swirls.")]
    drift: Annotated[NumberRow, Driven("Curl noise drift", METRES_PER_SECOND, 0, 10_000, 1, 0.2, "How fast the swirls change; 0 freezes them.")]
    octaves: Annotated[int, Setting("Octaves", "How many sizes of swirls, each half as large as the one before.")] = Field(default=1, ge=1, le=6)

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "octaves": 2}

    def write(self, at: Reader, pushes: Pushes) -> None:
        b = at.builder
        strength, scale, drift = (self.row(at, field)[0] for field in ("strength", "scale", "drift"))
        swirl = b.multi("curl_noise", *at.state("position"), at.clip_time(), scale, drift, attrs=(at.own_seed(self.uid, "noise"), self.octaves))
        strength = b.op("mul", strength, pushes.inverse_mass)
        for axis, value in enumerate(swirl):
            pushes.accelerate(axis, b.op("mul", value, strength))
