"""Frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from .render import Solid, Viewpoint, check_size, render, to_png

__all__ = ["Solid", "Viewpoint", "check_size", "render", "to_png"]
