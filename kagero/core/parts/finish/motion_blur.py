"""What moves while the shutter is open."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...rows.model import CONTENT, Driven, Setting
from ...rows.responses import NumberRow, number
from ...rows.units import DEGREES, PERCENT
from .base import FinishPart

TURN = 6.283185307179586


class MotionBlur(FinishPart):
    """What moves while the shutter is open is drawn at so many moments of it, each particle along its own curved path,
    the camera and props as they move; the moments' pictures are averaged."""

    gathers = "shutter"
    label = "Motion blur"
    help = "What moves while the shutter is open is blurred along its own path: particles, props and the camera."
    acts = "gathering"

    kind: Literal["motion_blur"]
    measured: Annotated[
        Literal["angle", "share"],
        CONTENT,
        Setting(
            "Shutter as",
            "How long it is open: as the angle of a turning shutter, or as a share of the frame.",
            choices=(("angle", "an angle"), ("share", "a share")),
        ),
    ] = "angle"
    opens: Annotated[
        Literal["at", "about", "before"],
        CONTENT,
        Setting(
            "Open",
            "When it is open.",
            choices=(("at", "from the frame on"), ("about", "about the frame"), ("before", "up to the frame")),
        ),
    ] = "about"
    moments: Annotated[
        int, CONTENT, Field(ge=2, le=256), Setting("Moments", "How many pictures a frame is averaged from.")
    ] = 8
    angle: Annotated[
        NumberRow,
        Driven(
            "Shutter",
            DEGREES,
            0,
            TURN * 4,
            TURN,
            TURN / 2,
            "How far a shutter that turns once a frame is open; 180° is half of a frame.",
            always=True,
        ),
    ] = number(TURN / 2)
    share: Annotated[
        NumberRow, Driven("Shutter", PERCENT, 0, 4, 1, 0.5, "How much of a frame's time it is open.", always=True)
    ] = number(0.5)

    def unused(self) -> frozenset[str]:
        return super().unused() | {"share" if self.measured == "angle" else "angle"}
