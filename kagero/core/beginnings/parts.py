"""What beginnings are written with: rows, responses, remarks, a document with a camera and a clip."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from ..document.base import DOCUMENT_FORMAT, SCHEMA_VERSION


@dataclass(frozen=True)
class Beginning:
    """A small effect to start from. document: gives it as plain data, with uids of its own."""

    key: str
    label: str
    help: str
    document: Callable[[], dict[str, Any]]


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
