"""PNG files told what their numbers are: chunks put behind the header (ISO/IEC 15948, clauses 5.3 and 11.3)."""

from __future__ import annotations

import struct
import zlib

HEADER = 8 + 12 + 13  # the signature, and IHDR with its length, type and checksum


def with_colour_chunks(data: bytes, words: str) -> bytes:
    """Return a PNG that says its numbers are sRGB (perceptual), and in words what else is to be known of them."""
    return (
        data[:HEADER]
        + chunk(b"sRGB", b"\0")
        + chunk(b"tEXt", b"Description\0" + words.encode("latin-1", "replace"))
        + data[HEADER:]
    )


def chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
