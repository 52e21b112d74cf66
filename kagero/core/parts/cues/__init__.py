"""Cues: when something becomes true of a particle, something happens. One module a kind; the order here is that of the
menu."""

from .base import CUES, CuePart

CUES.load(__name__, "test", "touch", "clock", "joined", "whole")

__all__ = ["CUES", "CuePart"]
