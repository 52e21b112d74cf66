"""The document: an effect made of parts. Reading, writing, and what older versions become.

Nothing here computes.
"""

from .base import DOCUMENT_FORMAT, SCHEMA_VERSION
from .births import Births, Burst
from .dials import Dial
from .effect import (
    MAX_DOCUMENT_BYTES,
    UNIONS,
    Camera,
    Clip,
    Effect,
    Prop,
    json_schema,
    owner_of,
    read_effect,
    write_effect,
)
from .emitter import ONCE, Contact, Cue, Draw, Emitter, Motion, Own, Push, Ride, Shaping, Shelf, Space, once
from .framing import Framing
from .lighting import MOST_LAMPS
from .loop import Loop, loop_of
from .moments import Moment, moment_times
from .neighbours import Neighbours
from .retiming import Retiming
from .target import Target
from .thinning import Thinning
from .upgrade import exact_rate, upgrade

__all__ = [
    "DOCUMENT_FORMAT",
    "MAX_DOCUMENT_BYTES",
    "MOST_LAMPS",
    "ONCE",
    "SCHEMA_VERSION",
    "UNIONS",
    "Births",
    "Burst",
    "Camera",
    "Clip",
    "Contact",
    "Cue",
    "Dial",
    "Draw",
    "Effect",
    "Emitter",
    "Framing",
    "Loop",
    "Moment",
    "Motion",
    "Neighbours",
    "Own",
    "Prop",
    "Push",
    "Retiming",
    "Ride",
    "Shaping",
    "Shelf",
    "Space",
    "Target",
    "Thinning",
    "exact_rate",
    "json_schema",
    "loop_of",
    "moment_times",
    "once",
    "owner_of",
    "read_effect",
    "upgrade",
    "write_effect",
]
