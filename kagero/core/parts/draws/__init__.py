"""Draws: random values that particles are given once, at birth. One module a kind."""

from .base import DRAWS, DrawPart

DRAWS.load(__name__, "uniform", "spread", "normal", "choice", "sign", "integer")

__all__ = ["DRAWS", "DrawPart"]
