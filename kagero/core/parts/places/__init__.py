"""Places of birth. One module a kind; the order here is that of the menu."""

from .base import PLACES, BirthReader, PlacePart

PLACES.load(__name__, "point", "disc", "sphere", "box", "prop", "parts", "particles")

__all__ = ["PLACES", "BirthReader", "PlacePart"]
