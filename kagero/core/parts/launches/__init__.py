"""Launches: how particles set off. One module a kind, by what they aim at."""

from .base import LAUNCHES, LaunchPart

LAUNCHES.load(__name__, "direction", "normal", "away", "guided")

__all__ = ["LAUNCHES", "LaunchPart"]
