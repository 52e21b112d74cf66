"""Particles as they are shown: stored frames, at other times and in other places than they were simulated. Frames in, frames out; never stepping
beyond what was asked for."""

from .run import ShapedRun
from .shaper import Shaper

__all__ = ["ShapedRun", "Shaper"]
