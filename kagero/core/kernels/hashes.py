"""MurmurHash3, 32 bits (Austin Appleby, public domain, 2011), of names."""

from __future__ import annotations

import struct

MASK = 0xFFFFFFFF


def murmur3(data: bytes, seed: int = 0) -> int:
    """Return MurmurHash3_x86_32 of bytes, an unsigned 32-bit number."""
    h = seed
    whole = len(data) // 4 * 4
    for (k,) in struct.iter_unpack("<I", data[:whole]):
        h ^= _mixed(k)
        h = ((h << 13) | (h >> 19)) & MASK
        h = (h * 5 + 0xE6546B64) & MASK
    if len(data) > whole:
        h ^= _mixed(int.from_bytes(data[whole:], "little"))
    h ^= len(data)
    h ^= h >> 16
    h = (h * 0x85EBCA6B) & MASK
    h ^= h >> 13
    h = (h * 0xC2B2AE35) & MASK
    return h ^ (h >> 16)


def _mixed(k: int) -> int:
    k = (k * 0xCC9E2D51) & MASK
    k = ((k << 15) | (k >> 17)) & MASK
    return (k * 0x1B873593) & MASK


def name_to_float(name: str) -> tuple[float, int]:
    """Return a name's hash as a normal float32 number, and its bits. Where the bits would be denormal, infinite or not
    a number, the exponent's lowest bit is flipped (the open specification of ID mattes, version 1.2.0, "Hashing" and
    "Conversion to float")."""
    bits = murmur3(name.encode())
    exponent = bits >> 23 & 255
    if exponent in (0, 255):
        bits ^= 1 << 23
    return struct.unpack("<f", struct.pack("<I", bits))[0], bits
