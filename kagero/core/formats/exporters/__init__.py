"""Exporters: frames out into files, one module a format. Frames come one after the other and go on at once: no clip is held whole."""

from .base import (
    EXPORTERS,
    About,
    Exporter,
    FileExporter,
    FrameParticles,
    FramePicture,
    Option,
    Sequence,
    StoredColumn,
    into_folder,
    read_options,
)

EXPORTERS.load(__name__, "npz", "ply", "csv_table", "png", "exr", "flipbook", "film", "apng")

__all__ = [
    "EXPORTERS",
    "About",
    "Exporter",
    "FileExporter",
    "FrameParticles",
    "FramePicture",
    "Option",
    "Sequence",
    "StoredColumn",
    "into_folder",
    "read_options",
]
