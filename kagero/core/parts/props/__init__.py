"""Props: what an effect must fit. One module a kind; masks have a room of their own."""

from .base import PROPS, PropOffer, PropPart

PROPS.load(__name__, "shape", "mesh", "picture", "made", "path", "text", "logo", "points", "field", "camera", "light")

__all__ = ["PROPS", "PropOffer", "PropPart"]
