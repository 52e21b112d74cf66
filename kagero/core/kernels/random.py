"""Stateless random numbers: a hash of what they belong to, so that no edit reshuffles anything else.

The mixing function is the finaliser of SplitMix64 (Steele, Lea and Flood, "Fast splittable pseudorandom number
generators", OOPSLA 2014, with Stafford's variant 13 constants).
"""

from __future__ import annotations

import hashlib

import numpy as np
from numba import njit, uint64

GOLDEN = 0x9E3779B97F4A7C15


@njit(uint64(uint64), cache=True, nogil=True, inline="always")
def _mix(z):
    z = (z ^ (z >> uint64(30))) * uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> uint64(27))) * uint64(0x94D049BB133111EB)
    return z ^ (z >> uint64(31))


@njit("void(uint64[::1], uint64, float32[::1])", cache=True, nogil=True)
def uniform_into(keys, seed, out):
    """Write to out one number in [0, 1) for each key: the upper 24 bits of mix(mix(key + golden) ^ seed) / 2^24."""
    for i in range(keys.size):
        z = _mix(_mix(keys[i] + uint64(0x9E3779B97F4A7C15)) ^ seed)
        out[i] = np.float32(z >> uint64(40)) * np.float32(1.0 / 16777216.0)


@njit("void(uint64, uint64, uint64[::1])", cache=True, nogil=True)
def hashed_keys_into(cause, first, out):
    """Write to out the keys of births first, first+1, ... of one cause; their top bit is set, counted keys never have it."""
    for i in range(out.size):
        out[i] = _mix(cause + (first + uint64(i) + uint64(1)) * uint64(0x9E3779B97F4A7C15)) | uint64(0x8000000000000000)


def seed_of(*parts: int | str) -> int:
    """Return a 64-bit seed for a place in an effect, the same on every machine (BLAKE2b of the parts)."""
    text = "\x1f".join(str(part) for part in parts).encode()
    return int.from_bytes(hashlib.blake2b(text, digest_size=8).digest(), "little")
