"""What beginnings are written with: rows, responses, remarks, a document with a camera and a clip."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from ..document.base import DOCUMENT_FORMAT, SCHEMA_VERSION

STRAIGHT = ((0.0, 0.0), (1.0, 1.0))
BREATH = ((0.0, 0.0), (0.5, 1.0), (1.0, 0.0))


@dataclass(frozen=True)
class Beginning:
    """A small effect to start from. document: gives it as plain data, with uids of its own."""

    key: str
    label: str
    help: str
    document: Callable[[], dict[str, Any]]


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


def remarks(texts: dict[str, str]) -> dict[str, Any]:
    """Return an emitter's shelf with remarks, by the row's address."""
    return {"remarks": [{"row": address, "text": text} for address, text in texts.items()]}


def effect(
    name: str,
    emitters: list[dict[str, Any]],
    *,
    note: str = "",
    last: int = 100,
    props: Sequence[dict[str, Any]] = (),
    at: tuple[float, float, float] = (0.0, 1.2, 4.6),
    target: tuple[float, float, float] = (0.0, 1.0, 0.0),
) -> dict[str, Any]:
    """Return a document of 25 frames a second, with a camera that stands at `at` and looks at `target`, metres."""
    return {
        "format": DOCUMENT_FORMAT,
        "schema_version": SCHEMA_VERSION,
        "name": name,
        "note": note,
        "clip": {"frame_rate": [25, 1], "first_frame": 0, "last_frame": last, "seed": 1, "background": "ink"},
        "camera": {"position": list(at), "target": list(target), "field_of_view": 0.62},
        "props": list(props),
        "emitters": emitters,
    }
