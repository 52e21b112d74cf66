"""Shapings: what moves particles that are already simulated, frame by frame, without any step. One module a kind; the
order here is that of the menu."""

from .base import SHAPINGS, BoxedShaping, ShapingPart

SHAPINGS.load(__name__, "twist", "bend", "taper", "stretch", "shear", "wander", "shift", "by_mask", "lattice", "path")

__all__ = ["SHAPINGS", "BoxedShaping", "ShapingPart"]
