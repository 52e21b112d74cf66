"""A picture as a mask."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Setting
from ...rows.reader import channel
from .base import LevelledMask, MaskOf, Spot

_CHANNELS = tuple((name, name) for name in ("luminance", "red", "green", "blue", "alpha"))


class PictureMask(LevelledMask, MaskOf):
    """By a picture, seen along its axis."""

    label, help, needs = "Picture", "By a picture, seen along its axis.", "picture"
    of_fits, of_needs = "film", "a picture"

    shape: Literal["picture"]
    channel: Annotated[
        Literal["luminance", "red", "green", "blue", "alpha"],
        Setting("Channel", "What of the picture counts.", choices=_CHANNELS),
    ] = "luminance"

    def over(self, at: Spot) -> int:
        assert self.of is not None
        return channel(at.builder, at.sample(self.of)[3:7], self.channel)
