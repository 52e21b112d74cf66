"""Pushes: what changes how particles move. One module a kind; the order here is that of the menu."""

from .base import PUSHES, FadingPush, PushPart

PUSHES.load(
    __name__,
    "gravity",
    "buoyancy",
    "wind",
    "drag",
    "curl_noise",
    "turbulence",
    "pull",
    "swirl",
    "stream",
    "home",
    "spring",
    "limit",
    "neighbours",
    "field",
)

__all__ = ["PUSHES", "FadingPush", "PushPart"]
