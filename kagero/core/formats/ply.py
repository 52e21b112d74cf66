"""One frame as a binary little-endian PLY point set (G. Turk, "The PLY polygon file format", 1994)."""

from __future__ import annotations

import numpy as np

from .cache import FrameParticles

_PROPERTIES = [
    ("x", "position", 0), ("y", "position", 1), ("z", "position", 2),
    ("vx", "velocity", 0), ("vy", "velocity", 1), ("vz", "velocity", 2),
    ("age", "age", None), ("lifespan", "lifespan", None), ("size", "size", None),
    ("r", "color", 0), ("g", "color", 1), ("b", "color", 2), ("opacity", "opacity", None), ("rotation", "rotation", None),
]  # fmt: skip


def ply_bytes(frame: FrameParticles) -> bytes:
    """Return the file: float properties, the emitter's index, and the 64-bit key as two unsigned 32-bit halves.

    PLY has no 64-bit integers: key = key_high * 2**32 + key_low.
    """
    kinds = [(name, "<f4") for name, _, _ in _PROPERTIES] + [("emitter", "<i4"), ("key_low", "<u4"), ("key_high", "<u4")]
    table = np.empty(len(frame), np.dtype(kinds))
    for name, column, part in _PROPERTIES:
        table[name] = frame.arrays[column] if part is None else frame.arrays[column][:, part]
    table["emitter"] = frame.arrays["emitter"]
    table["key_low"] = frame.arrays["key"] & np.uint64(0xFFFFFFFF)
    table["key_high"] = frame.arrays["key"] >> np.uint64(32)
    words = {"<f4": "float", "<i4": "int", "<u4": "uint"}
    header = ["ply", "format binary_little_endian 1.0", f"comment frame {frame.number} seconds {frame.seconds:.9g}"]
    header += [f"element vertex {len(frame)}", *(f"property {words[kind]} {name}" for name, kind in kinds), "end_header", ""]
    return "\n".join(header).encode("ascii") + table.tobytes()
