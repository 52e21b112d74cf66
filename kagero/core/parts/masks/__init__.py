"""Masks: numbers from 0 to 1 over space and time. One module a kind; the order here is that of the menu."""

from ..props import PROPS
from .base import MASKS, MaskPart, Spot

MASKS.load(
    __name__,
    "sphere",
    "box",
    "slab",
    "plane",
    "cylinder",
    "mesh",
    "distance",
    "painted",
    "picture",
    "noise",
    "formula",
    "union",
    "intersection",
    "difference",
)
PROPS.nest("mask", MASKS)

__all__ = ["MASKS", "MaskPart", "Spot"]
