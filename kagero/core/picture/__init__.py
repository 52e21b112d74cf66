"""Frames in, float pictures out (linear light, premultiplied alpha). Never stepping."""

from .render import MAX_PIXELS, Viewpoint, render, to_png

__all__ = ["MAX_PIXELS", "Viewpoint", "render", "to_png"]
