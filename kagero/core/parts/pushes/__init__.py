"""Pushes: what changes how particles move. One module a kind; the order here is that of the menu."""

from .base import PUSHES, PushPart

PUSHES.load(__name__, "gravity", "buoyancy", "wind", "drag", "curl_noise")

__all__ = ["PUSHES", "PushPart"]
