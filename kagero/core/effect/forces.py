"""Motion: what pushes particles. Each force has a uid, so that rows can be addressed and noise stays put when others change."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from .base import Model, Uid
from .rows import NumberRow, VectorRow


class _ForceBase(Model):
    uid: Uid
    muted: bool = False


class Gravity(_ForceBase):
    kind: Literal["gravity"] = "gravity"
    strength: NumberRow


class Buoyancy(_ForceBase):
    kind: Literal["buoyancy"] = "buoyancy"
    strength: NumberRow


class Wind(_ForceBase):
    kind: Literal["wind"] = "wind"
    velocity: VectorRow
    coupling: NumberRow


class Drag(_ForceBase):
    kind: Literal["drag"] = "drag"
    rate: NumberRow


class CurlNoise(_ForceBase):
    kind: Literal["curl_noise"] = "curl_noise"
    strength: NumberRow
    scale: NumberRow
    drift: NumberRow
    octaves: int = Field(default=1, ge=1, le=6)


Force = Annotated[Gravity | Buoyancy | Wind | Drag | CurlNoise, Field(discriminator="kind")]
