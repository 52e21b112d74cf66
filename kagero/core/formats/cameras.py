"""Cameras of imported files."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

NO_LENS = 0.7  # radians that a camera without a lens sees, from top to bottom
MOST_KEYS = 48


@dataclass(frozen=True)
class FileCamera:
    """A camera of a file: name, vertical field of view in radians (None: the file does not say), transforms (4, 4) in
    the file's units at `times`, seconds (a single one: it does not move), and remarks on what was left out."""

    name: str
    field_of_view: float | None
    times: np.ndarray
    places: np.ndarray
    left_out: str = ""


def camera_facts(camera: FileCamera) -> dict[str, Any]:
    """Return a camera as plain data; of a moving one its transform at up to MOST_KEYS times."""
    still = len(camera.times) < 2 or not (camera.places != camera.places[0]).any()
    pick = (
        [0]
        if still
        else np.unique(np.linspace(0, len(camera.times) - 1, min(MOST_KEYS, len(camera.times))).astype(int)).tolist()
    )
    keys = [{"time": float(camera.times[i]), "place": camera.places[i].ravel().round(6).tolist()} for i in pick]
    view = NO_LENS if camera.field_of_view is None else min(max(camera.field_of_view, 0.02), 2.8)
    return {"name": camera.name, "field_of_view": view, "place": keys[0]["place"], "keys": [] if still else keys}


def remarks_on(cameras: tuple[FileCamera, ...]) -> list[str]:
    """Return remarks for somebody who imports cameras."""
    return [
        f"{camera.name} has no lens in this file: it sees {np.degrees(NO_LENS):.0f}° from top to bottom until you say "
        "otherwise."
        for camera in cameras
        if camera.field_of_view is None
    ] + [f"{camera.name}: {camera.left_out}" for camera in cameras if camera.left_out]
