"""Stateless random numbers: hashes of what they belong to, so that no edit changes any other number.

The mixing function is the finaliser of SplitMix64 (Steele, Lea and Flood, "Fast splittable pseudorandom number
generators", OOPSLA 2014, with Stafford's variant 13 constants).
"""

from __future__ import annotations

import hashlib

import numpy as np
from numba import uint32, uint64

from .compiled import kernel

GOLDEN = 0x9E3779B97F4A7C15


@kernel("uint64(uint64)", inline="always")
def _mix(z):
    z = (z ^ (z >> uint64(30))) * uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> uint64(27))) * uint64(0x94D049BB133111EB)
    return z ^ (z >> uint64(31))


@kernel("void(uint64[::1], uint64, float32[::1])")
def uniform_into(keys, seed, out):
    """Write a number in [0, 1) for each key: the upper 24 bits of mix(mix(key + golden) ^ seed) / 2^24."""
    for i in range(keys.size):
        z = _mix(_mix(keys[i] + uint64(0x9E3779B97F4A7C15)) ^ seed)
        out[i] = np.float32(z >> uint64(40)) * np.float32(1.0 / 16777216.0)


@kernel("void(uint64[::1], float32[::1], uint64, float32[::1])")
def redrawn_uniform_into(keys, times, seed, out):
    """Write another number in [0, 1) for each key, drawn after `times` earlier ones (a whole number, 0 to 2^24)."""
    for i in range(keys.size):
        z = _mix(
            _mix(_mix(keys[i] + uint64(0x9E3779B97F4A7C15)) ^ seed)
            + uint64(uint32(times[i])) * uint64(0x9E3779B97F4A7C15)
        )
        out[i] = np.float32(z >> uint64(40)) * np.float32(1.0 / 16777216.0)


@kernel()
def rehash_uniform(uniform, attempt, out):
    """Write three new numbers in [0, 1), (n, 3), for each row of uniform (n, 3) float64 and its number of earlier
    attempts."""
    for i in range(uniform.shape[0]):
        z = _mix(
            uint64(uniform[i, 0] * 16777216.0)
            ^ (uint64(uniform[i, 1] * 16777216.0) << uint64(24))
            ^ (uint64(attempt) << uint64(48))
        )
        z = _mix(z ^ uint64(uniform[i, 2] * 16777216.0))
        for k in range(3):
            z = _mix(z + uint64(0x9E3779B97F4A7C15))
            out[i, k] = float(z >> uint64(40)) / 16777216.0


def burst_keys(cause: int, count: int) -> np.ndarray:
    """Return the uint64 keys of a burst's births: top bit set, 39 bits of its cause's hash, and 24 bits counting from
    0.

    Keys of a rate count from 0 and never have the top bit.
    """
    head = np.uint64(1 << 63 | (cause & (1 << 39) - 1) << 24)
    return head | np.arange(count, dtype=np.uint64)


@kernel("void(uint64[::1], uint64, uint64[::1], uint64[::1])")
def child_keys(parents, cause, ordinals, out):
    """Write the keys of births from particles: a hash of the parent's key, the cause, and the birth's number among the
    parent's."""
    for i in range(parents.size):
        out[i] = _mix(
            _mix(_mix(parents[i] + uint64(0x9E3779B97F4A7C15)) ^ cause) + ordinals[i] * uint64(0x9E3779B97F4A7C15)
        )


@kernel("void(uint64[::1], float32[::1])")
def number_into(keys, out):
    """Write each key's number among the births of its rate or burst, from 0; exact up to 16,777,215."""
    for i in range(keys.size):
        out[i] = np.float32(keys[i] & uint64(0xFFFFFF))


@kernel("void(float32[::1], float32[::1])")
def normal_into(u, out):
    """Write the standard normal quantile of each u, a multiple of 2^-24 in [0, 1), taken at the middle of its interval.

    Wichura, "Algorithm AS 241: the percentage points of the normal distribution", Applied Statistics 37 (1988), PPND7.
    """
    for i in range(u.size):
        q = float(u[i]) + 2.0**-25 - 0.5
        if abs(q) <= 0.425:
            r = 0.180625 - q * q
            out[i] = np.float32(
                q
                * (((59.109374720 * r + 159.29113202) * r + 50.434271938) * r + 3.3871327179)
                / (((67.187563600 * r + 78.757757664) * r + 17.895169469) * r + 1.0)
            )
        else:
            r = np.sqrt(-np.log(0.5 - abs(q)))
            if r <= 5.0:
                r -= 1.6
                value = (((0.17023821103 * r + 1.3067284816) * r + 2.7568153900) * r + 1.4234372777) / (
                    (0.12021132975 * r + 0.73700164250) * r + 1.0
                )
            else:
                r -= 5.0
                value = (((0.017337203997 * r + 0.42868294337) * r + 3.0812263860) * r + 6.6579051150) / (
                    (0.012258202635 * r + 0.24197894225) * r + 1.0
                )
            out[i] = np.float32(value if q > 0 else -value)


def seed_of(*parts: int | str) -> int:
    """Return a 64-bit seed for a path of names, the same on every machine (BLAKE2b)."""
    text = "\x1f".join(str(part) for part in parts).encode()
    return int.from_bytes(hashlib.blake2b(text, digest_size=8).digest(), "little")
