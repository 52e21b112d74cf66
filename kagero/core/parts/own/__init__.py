"""Own attributes: what an emitter gives its particles besides. One module a kind."""

from .base import OWN, OwnPart

OWN.load(__name__, "number", "vector", "colour")

__all__ = ["OWN", "OwnPart"]
