"""A camera as a prop."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven
from ...rows.responses import NumberRow, number
from ...rows.units import DEGREES
from .base import StandingProp


class CameraProp(StandingProp):
    """A camera: it looks along its own -z, with y up, as in glTF 2.0."""

    label = "Camera"
    solid, camera, holds = False, True, False

    kind: Literal["camera"]
    field_of_view: Annotated[
        NumberRow, Driven("Field of view", DEGREES, 0.02, 2.8, 1, 0.7, "How much a camera sees, from top to bottom.", always=True)
    ] = number(0.7)
