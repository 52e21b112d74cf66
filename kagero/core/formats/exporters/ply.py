"""Binary little-endian PLY point sets, one a frame (G. Turk, "The PLY polygon file format", 1994)."""

from __future__ import annotations

import numpy as np

from .base import SIMULATED, FrameParticles, Sequence, StoredColumn

_USUAL = {
    "position": ("x", "y", "z"),
    "velocity": ("vx", "vy", "vz"),
    "color": ("r", "g", "b"),
}  # common practice, no source
_WORDS = {"<f4": "float", "<i4": "int", "<u4": "uint"}


class PlySequence(Sequence):
    """A vertex a particle: the columns as properties, and the 64-bit key as two unsigned 32-bit halves.

    PLY has no 64-bit integers: key = key_high * 2**32 + key_low.
    """

    kind, label, suffix, ending = "ply", "PLY sequence", ".ply.zip", ".ply"
    help = "A point file a frame, in a zip."
    options = (SIMULATED,)

    def bytes_of(self, frame: FrameParticles) -> bytes:
        columns = [column for column in self.about.columns if column.name != "key"]
        kinds = [(name, column.kind) for column in columns for name in properties(column)] + [
            ("key_low", "<u4"),
            ("key_high", "<u4"),
        ]
        table = np.empty(len(frame), np.dtype(kinds))
        for column in columns:
            for part, name in enumerate(properties(column)):
                array = frame.arrays[column.name]
                table[name] = array[:, part] if column.parts else array
        table["key_low"] = frame.arrays["key"] & np.uint64(0xFFFFFFFF)
        table["key_high"] = frame.arrays["key"] >> np.uint64(32)
        header = ["ply", "format binary_little_endian 1.0", f"comment frame {frame.number} seconds {frame.seconds:.9g}"]
        header += [
            f"element vertex {len(frame)}",
            *(f"property {_WORDS[kind]} {name}" for name, kind in kinds),
            "end_header",
            "",
        ]
        return "\n".join(header).encode("ascii") + table.tobytes()


def properties(column: StoredColumn) -> tuple[str, ...]:
    """Return the names of a column's properties in PLY files."""
    return _USUAL.get(column.name) or tuple(f"{column.name}_{part}" for part in column.parts) or (column.name,)
