"""Rides: what holds particles to a place that goes along something. One module a kind; the order here is that of the
menu."""

from .base import RIDES, RidePart

RIDES.load(__name__, "surface", "path", "crawl", "target")

__all__ = ["RIDES", "RidePart"]
