"""Frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from .render import Solid, Viewpoint, check_size, render, to_png
from .solids import solids

__all__ = ["Solid", "Viewpoint", "check_size", "render", "solids", "to_png"]
