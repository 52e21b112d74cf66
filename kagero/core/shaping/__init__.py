"""Shaping and time: stored frames shown at other times and in other places than simulated. Frames in, frames out."""

from .run import ShapedRun
from .shaper import Shaper

__all__ = ["ShapedRun", "Shaper"]
