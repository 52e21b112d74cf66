"""The document: pydantic models, one module a part. Unknown keys are refused, numbers are finite.

Nothing here computes; ranges, units and help stand in `catalog`.
"""

from .base import DOCUMENT_FORMAT, SCHEMA_VERSION, Model, Uid
from .births import Births, Box, Burst, Disc, Launch, Place, Point, Sphere
from .dials import Dial, DialUnit
from .document import Camera, Clip, Effect, Emitter, Motion, Shelf, json_schema, read_effect, write_effect
from .draws import BOUNDS, ChoiceDraw, Draw
from .forces import Buoyancy, CurlNoise, Drag, Force, Gravity, Wind
from .look import Look
from .own import Own, OwnColour, OwnNumber, OwnVector
from .props import (
    CameraProp,
    FileRef,
    Follow,
    LogoProp,
    MeshProp,
    PathProp,
    PictureProp,
    PointsProp,
    Prop,
    PropBase,
    ShapeProp,
    TextProp,
)
from .rows import (
    Colour,
    ColourRow,
    Curve,
    CurveResponse,
    Gradient,
    GradientResponse,
    Key,
    NumberRow,
    RatioResponse,
    Response,
    Row,
    Stop,
    VectorRow,
    row_of,
)
from .sources import (
    ColourSource,
    DialSource,
    DistanceSource,
    DrawSource,
    FormulaSource,
    NoiseSource,
    OwnSource,
    RowSource,
    Source,
    SourcedBase,
    VectorSource,
    source_key,
)

__all__ = [
    "BOUNDS", "DOCUMENT_FORMAT", "SCHEMA_VERSION", "Births", "Box", "Buoyancy", "Burst", "Camera", "CameraProp", "ChoiceDraw",
    "Clip", "Colour", "ColourRow", "ColourSource", "CurlNoise", "Curve", "CurveResponse", "Dial", "DialSource", "DialUnit",
    "Disc", "DistanceSource", "Drag", "Draw", "DrawSource", "Effect", "Emitter", "FileRef", "Follow", "Force", "FormulaSource",
    "Gradient", "GradientResponse", "Gravity", "Key", "Launch", "LogoProp", "Look", "MeshProp", "Model", "Motion", "NoiseSource",
    "NumberRow", "Own", "OwnColour", "OwnNumber", "OwnSource", "OwnVector", "PathProp", "PictureProp", "Place", "Point",
    "PointsProp", "Prop", "PropBase", "RatioResponse", "Response", "Row", "RowSource", "ShapeProp", "Shelf", "Source",
    "SourcedBase", "Sphere", "Stop", "TextProp", "Uid", "VectorRow", "VectorSource", "Wind", "json_schema", "read_effect",
    "row_of", "source_key", "write_effect",
]  # fmt: skip
