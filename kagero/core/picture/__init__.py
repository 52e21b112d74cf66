"""Frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from .render import Solid, check_size, render
from .solids import solids
from .viewpoint import Viewpoint

__all__ = ["Solid", "Viewpoint", "check_size", "render", "solids"]
