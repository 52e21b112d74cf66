"""Frame packets, as streamed to the interface: a JSON header, then arrays that can be viewed in place.

Layout, little-endian: "KGP1", u32 whole length, u32 header length, header (UTF-8 JSON, padded with spaces to a multiple
of 8 from the packet's start), arrays (each padded to 8). The header's `arrays` names each with type, shape and offset.
"""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np

from ..errors import RequestError

MAGIC = b"KGP1"


def pack(header: dict[str, Any], arrays: dict[str, np.ndarray]) -> bytes:
    """Return a packet; header must be plain JSON data without a key `arrays`."""
    table: dict[str, Any] = {}
    offset = 0
    for name, array in arrays.items():
        table[name] = {"type": array.dtype.str, "shape": list(array.shape), "offset": offset}
        offset += _padded(array.nbytes)
    text = json.dumps({**header, "arrays": table}, separators=(",", ":"), allow_nan=False).encode()
    text += b" " * (_padded(12 + len(text)) - 12 - len(text))
    whole = 12 + len(text) + offset
    parts = [MAGIC, struct.pack("<II", whole, len(text)), text]
    for array in arrays.values():
        data = np.ascontiguousarray(array).tobytes()
        parts += [data, b"\0" * (_padded(len(data)) - len(data))]
    return b"".join(parts)


def unpack(packet: bytes) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """Return header and arrays. Raises RequestError when lengths do not agree."""
    if len(packet) < 12 or packet[:4] != MAGIC or struct.unpack_from("<I", packet, 4)[0] != len(packet):
        raise RequestError("These bytes are no frame packet.")
    (length,) = struct.unpack_from("<I", packet, 8)
    header = json.loads(packet[12 : 12 + length])
    arrays = {}
    for name, entry in header.pop("arrays").items():
        count = int(np.prod(entry["shape"]))
        arrays[name] = np.frombuffer(packet, entry["type"], count, 12 + length + entry["offset"]).reshape(
            entry["shape"]
        )
    return header, arrays


def _padded(length: int) -> int:
    return (length + 7) & ~7
