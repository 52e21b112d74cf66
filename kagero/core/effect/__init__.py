"""The document: pydantic models, one module a part. Unknown keys are refused, numbers are finite.

Nothing here computes; ranges, units and help stand in `catalog`.
"""

from .base import DOCUMENT_FORMAT, SCHEMA_VERSION, Model, Uid
from .births import Births, Box, Burst, Disc, Launch, Place, Point, Sphere
from .document import Camera, Clip, Draw, Effect, Emitter, json_schema, read_effect, write_effect
from .forces import Buoyancy, CurlNoise, Drag, Force, Gravity, Wind
from .look import Look
from .rows import (
    Colour,
    ColourRow,
    Curve,
    CurveResponse,
    Gradient,
    GradientResponse,
    Key,
    NumberRow,
    Response,
    Row,
    Source,
    Stop,
    VectorRow,
)

__all__ = [
    "DOCUMENT_FORMAT", "SCHEMA_VERSION", "Births", "Box", "Buoyancy", "Burst", "Camera", "Clip", "Colour", "ColourRow",
    "CurlNoise", "Curve", "CurveResponse", "Disc", "Drag", "Draw", "Effect", "Emitter", "Force", "Gradient",
    "GradientResponse", "Gravity", "Key", "Launch", "Look", "Model", "NumberRow", "Place", "Point", "Response", "Row",
    "Source", "Sphere", "Stop", "Uid", "VectorRow", "Wind", "json_schema", "read_effect", "write_effect",
]  # fmt: skip
