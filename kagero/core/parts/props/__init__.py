"""Props: what an effect must fit. One module a kind; masks have a room of their own."""

from .base import PROPS, PropOffer, PropPart, SurfaceProp
from .file_refs import file_ref

PROPS.load(
    __name__, "shape", "mesh", "picture", "film", "made", "path", "text", "logo", "points", "field", "camera", "light"
)

__all__ = ["PROPS", "PropOffer", "PropPart", "SurfaceProp", "file_ref"]
