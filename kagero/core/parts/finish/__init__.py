"""What is done to the picture, in order: how it is exposed, blurred, coloured. One module a kind; the order here is
that of the menu."""

from .base import FINISH, FinishPart

FINISH.load(
    __name__, "exposure", "glow", "motion_blur", "depth_of_field", "fog", "colour", "vignette", "grain", "tone_curve"
)

__all__ = ["FINISH", "FinishPart"]
