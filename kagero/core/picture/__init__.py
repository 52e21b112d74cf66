"""Frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from . import passes
from .columns import black
from .fog import Air
from .items import bodies_of, items_of
from .layers import Layer, LookSheets, Projector, drawn_with, key_of, layers, projector_of, projector_of_camera
from .lights import Lighting, lighting, shadowed
from .render import check_size, render
from .solid import Solid
from .solids import solids
from .viewpoint import Viewpoint

__all__ = [
    "Air",
    "Layer",
    "Lighting",
    "LookSheets",
    "Projector",
    "Solid",
    "Viewpoint",
    "black",
    "bodies_of",
    "check_size",
    "drawn_with",
    "items_of",
    "key_of",
    "layers",
    "lighting",
    "passes",
    "projector_of",
    "projector_of_camera",
    "render",
    "shadowed",
    "solids",
]
