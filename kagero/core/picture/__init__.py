"""Frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from .render import Viewpoint, check_size, render, to_png

__all__ = ["Viewpoint", "check_size", "render", "to_png"]
