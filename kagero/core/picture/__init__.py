"""Rendering: frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from . import passes
from .columns import as_occluder
from .fog import Air
from .items import bodies_of, items_of
from .layers import (
    Layer,
    LookSheets,
    Projector,
    layers,
    look_resources,
    projector_of,
    projector_of_camera,
    resources_key,
)
from .lights import Lighting, lighting, with_shadows
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
    "as_occluder",
    "bodies_of",
    "check_size",
    "items_of",
    "layers",
    "lighting",
    "look_resources",
    "passes",
    "projector_of",
    "projector_of_camera",
    "render",
    "resources_key",
    "solids",
    "with_shadows",
]
