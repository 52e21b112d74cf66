"""Frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from .items import items_of
from .layers import Layer, LookSheets, layers, look_sheets
from .render import Solid, check_size, render
from .solids import solids
from .viewpoint import Viewpoint

__all__ = ["Layer", "LookSheets", "Solid", "Viewpoint", "check_size", "items_of", "layers", "look_sheets", "render", "solids"]
