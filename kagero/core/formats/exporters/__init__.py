"""Exporters: frames into files, one module a format. Frames are written one after the other; a clip is never held
whole."""

from .base import (
    EXPORTERS,
    ExportDetails,
    Exporter,
    FileExporter,
    FrameParticles,
    FramePicture,
    Option,
    Sequence,
    StoredColumn,
    folder_in_place,
    read_options,
)

EXPORTERS.load(__name__, "npz", "ply", "csv_table", "png", "exr", "flipbook", "film", "apng")

__all__ = [
    "EXPORTERS",
    "ExportDetails",
    "Exporter",
    "FileExporter",
    "FrameParticles",
    "FramePicture",
    "Option",
    "Sequence",
    "StoredColumn",
    "folder_in_place",
    "read_options",
]
