"""Frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from .items import items_of
from .layers import Layer, LookSheets, Projector, drawn_with, key_of, layers, look_sheets, projector_of
from .render import Solid, check_size, render
from .solids import solids
from .viewpoint import Viewpoint

__all__ = [
    "Layer",
    "LookSheets",
    "Projector",
    "Solid",
    "Viewpoint",
    "check_size",
    "items_of",
    "drawn_with",
    "key_of",
    "layers",
    "look_sheets",
    "projector_of",
    "render",
    "solids",
]
