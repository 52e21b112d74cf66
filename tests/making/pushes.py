"""Gravity and drag, as documents have them."""

from __future__ import annotations

from tests.making import row

G, K = 9.81, 0.8


def gravity(strength: float = G) -> dict:
    return {"kind": "gravity", "uid": "g", "strength": row(strength)}


def drag(rate: float = K) -> dict:
    return {"kind": "drag", "uid": "k", "rate": row(rate)}
