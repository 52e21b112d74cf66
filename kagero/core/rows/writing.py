"""Rows and responses written as plain data, as documents hold them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

STRAIGHT = ((0.0, 0.0), (1.0, 1.0))
BREATH = ((0.0, 0.0), (0.5, 1.0), (1.0, 0.0))


def row(base: Any, *responses: dict[str, Any]) -> dict[str, Any]:
    return {"base": base, "responses": list(responses)}


def source(kind: str, **more: Any) -> dict[str, Any]:
    return {"kind": kind, **more}


def curve(
    uid: str,
    driver: dict[str, Any],
    keys: Sequence[tuple[float, float]],
    *,
    input: tuple[float, float] = (0, 1),
    output: tuple[float, float] = (0, 1),
    read: str = "live",
    shape: str = "smooth",
    operation: str = "multiply",
) -> dict[str, Any]:
    """Return a response through a curve: keys (share of the input range, share of the output range)."""
    return {
        "kind": "curve",
        "uid": uid,
        "source": driver,
        "read": read,
        "input": list(input),
        "output": list(output),
        "operation": operation,
        "curve": {"keys": [{"x": x, "y": y, "shape": shape} for x, y in keys]},
    }


def colours(uid: str, driver: dict[str, Any], *stops: tuple[float, tuple[float, float, float]]) -> dict[str, Any]:
    """Return a response through a gradient, from 0 to 1: stops (share, linear-light colour)."""
    return {
        "kind": "gradient",
        "uid": uid,
        "source": driver,
        "read": "live",
        "input": [0, 1],
        "operation": "set",
        "gradient": {"stops": [{"x": x, "colour": list(colour)} for x, colour in stops]},
    }
