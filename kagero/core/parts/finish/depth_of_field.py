"""What is out of focus."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...rows.model import CONTENT, Driven, Refers, Setting, Uid
from ...rows.responses import NumberRow, number
from ...rows.units import METRES, PLAIN
from .base import FinishPart


class DepthOfField(FinishPart):
    """What is nearer or further than the focus is blurred as by a thin lens: the picture is averaged over places on it.

    The lens is as wide as its focal length over the f-number (ISO 517); its focal length follows from the camera's view
    and the sensor's height.
    """

    gathers = "lens"
    label = "Depth of field"
    help = "What is nearer or further than the focus is blurred, as by a lens."
    acts, some = "gathering", False

    kind: Literal["depth_of_field"]
    focus_on: Annotated[
        Uid | None,
        CONTENT,
        Refers("props", "placed", "{name} is focused on a prop that is not there.", "Choose another, or a distance."),
        Setting("Focus on", "The prop whose distance from the camera is in focus.", nothing="a distance"),
    ] = None
    sensor: Annotated[
        float,
        CONTENT,
        Field(ge=0.0001, le=1),
        Setting("Sensor height", "How high the camera's sensor or film is: 24 mm of a 36 x 24 mm frame.", METRES),
    ] = 0.024
    moments: Annotated[
        int,
        CONTENT,
        Field(ge=2, le=256),
        Setting("Places", "At how many places of the lens pictures are taken and averaged."),
    ] = 24
    focus: Annotated[
        NumberRow,
        Driven("Focus", METRES, 0.01, 100_000, 4, 4.0, "How far from the camera things are sharp.", always=True),
    ] = number(4)
    f_number: Annotated[
        NumberRow,
        Driven(
            "f-number",
            PLAIN,
            0.05,
            128,
            4,
            2.8,
            "Focal length over the lens's width: the smaller, the more is blurred.",
            always=True,
        ),
    ] = number(2.8)

    def unused(self) -> frozenset[str]:
        return super().unused() | ({"focus"} if self.focus_on else set())
