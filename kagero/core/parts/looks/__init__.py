"""Looks: what particles are drawn as. One module a kind."""

from .base import LOOKS, Column, LookPart

LOOKS.load(__name__, "soft_disc", "picture")

__all__ = ["LOOKS", "Column", "LookPart"]
