"""The document: pydantic models, one module a part. Unknown keys are refused, numbers are finite.

Nothing here computes; ranges, units and help stand in `catalog`.
"""

from .base import DOCUMENT_FORMAT, SCHEMA_VERSION, Model, Uid
from .births import Births, Box, Burst, Density, Disc, FromParticles, Launch, OnProp, Place, Point, Sphere
from .dials import Dial, DialUnit
from .document import Camera, Clip, Effect, Emitter, Motion, Shelf, Thinning, json_schema, read_effect, write_effect
from .draws import BOUNDS, ChoiceDraw, Draw
from .forces import Buoyancy, CurlNoise, Drag, Force, Gravity, Wind
from .look import Look
from .own import Own, OwnColour, OwnNumber, OwnVector
from .props import (
    CameraProp,
    Dissolve,
    FileRef,
    Follow,
    LogoProp,
    MaskProp,
    MeshProp,
    PathProp,
    PictureProp,
    PointsProp,
    Prop,
    PropBase,
    ShapeProp,
    Stroke,
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
    MaskSource,
    NoiseSource,
    OwnSource,
    ParentSource,
    PictureSource,
    RowSource,
    Source,
    SourcedBase,
    SurfaceSource,
    VectorSource,
    source_key,
)
from .upgrade import upgrade

__all__ = [
    "BOUNDS", "DOCUMENT_FORMAT", "SCHEMA_VERSION", "Births", "Box", "Buoyancy", "Burst", "Camera", "CameraProp", "ChoiceDraw", "Clip",
    "Colour", "ColourRow", "ColourSource", "CurlNoise", "Curve", "CurveResponse", "Density", "Dial", "DialSource", "DialUnit", "Disc",
    "Dissolve", "DistanceSource", "Drag", "Draw", "DrawSource", "Effect", "Emitter", "FileRef", "Follow", "Force", "FormulaSource",
    "FromParticles", "Gradient", "GradientResponse", "Gravity", "Key", "Launch", "LogoProp", "Look", "MaskProp", "MaskSource", "MeshProp",
    "Model", "Motion", "NoiseSource", "NumberRow", "OnProp", "Own", "OwnColour", "OwnNumber", "OwnSource", "OwnVector", "ParentSource",
    "PathProp", "PictureProp", "PictureSource", "Place", "Point", "PointsProp", "Prop", "PropBase", "RatioResponse", "Response", "Row",
    "RowSource", "ShapeProp", "Shelf", "Source", "SourcedBase", "Sphere", "Stop", "Stroke", "SurfaceSource", "TextProp", "Thinning", "Uid",
    "VectorRow", "VectorSource", "Wind", "json_schema", "read_effect", "row_of", "source_key", "upgrade", "write_effect",
]  # fmt: skip
