"""One module a format, bytes and streams. Never stepping."""

from .cache import COLUMNS, FrameParticles
from .csv_table import CsvWriter
from .npz import NpzWriter
from .packet import pack, unpack
from .ply import ply_bytes

__all__ = ["COLUMNS", "CsvWriter", "FrameParticles", "NpzWriter", "pack", "ply_bytes", "unpack"]
