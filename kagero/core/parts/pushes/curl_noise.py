"""Curl noise."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.responses import NumberRow
from ...rows.units import ACCELERATION
from .noise import NoisePush


class CurlNoise(NoisePush):
    """A swirling push without sources or sinks. Source: Bridson, Hourihan and Nordenstam, "Curl-noise for procedural
    fluid flow", ACM Transactions on Graphics 26 (2007)."""

    label, operation = "Curl noise", "curl_noise"

    kind: Literal["curl_noise"] = "curl_noise"
    strength: Annotated[
        NumberRow,
        Driven("Curl noise", ACCELERATION, -10_000, 10_000, 4, 0.9, "Swirling push that never bunches particles up."),
    ]
