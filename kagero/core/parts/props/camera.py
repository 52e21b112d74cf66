"""A camera as a prop."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import Annotated, Any, Literal

import numpy as np

from ...rows.model import Driven
from ...rows.responses import NumberRow, number
from ...rows.units import DEGREES
from .base import PropOffer, StandingProp

UPRIGHT = {
    "y": np.eye(3),
    "z": np.array([[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, -1.0, 0.0]]),
}  # from a file's axes to y up


class CameraProp(StandingProp):
    """A camera: it looks along its own -z, with y up, as in glTF 2.0."""

    label = "Camera"
    solid, camera, holds, dissolves, tinted = False, True, False, False, False
    offers = (PropOffer("Camera", "camera", {"position": {"base": [0.0, 1.2, 4.0], "responses": []}}),)

    kind: Literal["camera"]
    field_of_view: Annotated[
        NumberRow,
        Driven("Field of view", DEGREES, 0.02, 2.8, 1, 0.7, "How much a camera sees, from top to bottom.", always=True),
    ] = number(0.7)

    def unused(self) -> frozenset[str]:
        return super().unused() | {"shown"}

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        for camera in file.get("cameras", ()):
            unit, axes = file.get("unit", 1.0), UPRIGHT[file.get("up", "y")]
            fields = {
                "field_of_view": {"base": camera["field_of_view"], "responses": []},
                "position": _keyed(camera, partial(_position, unit=unit, axes=axes), turns=False),
                "rotation": _keyed(camera, partial(_turned, axes=axes), turns=True),
            }
            yield PropOffer(cls.label, camera["name"] or "camera", fields)


def _position(place: np.ndarray, unit: float, axes: np.ndarray) -> np.ndarray:
    return np.round(axes @ place[:3, 3] * unit, 5)


def _turned(place: np.ndarray, axes: np.ndarray) -> np.ndarray:
    turn = axes @ place[:3, :3]
    return turned_by(turn / np.maximum(np.linalg.norm(turn, axis=0), 1e-12))


def turned_by(place: np.ndarray) -> np.ndarray:
    """Return how a matrix, (4, 4), turns about x, y and z, radians: about y first, then about its own x, then about its
    own z."""
    return np.round(
        [
            np.arcsin(np.clip(-place[1, 2], -1, 1)),
            np.arctan2(place[0, 2], place[2, 2]),
            np.arctan2(place[1, 0], place[1, 1]),
        ],
        5,
    )


def _keyed(camera: dict[str, Any], of: Callable[[np.ndarray], np.ndarray], turns: bool) -> dict[str, Any]:
    """Return a row of a camera of a file; where it moves, with a response from clip time for each number, which is what
    keyframes are.

    turns: values are angles, and go the short way round from key to key.
    """
    base = of(np.reshape(camera["place"], (4, 4))).tolist()
    keys = camera["keys"]
    last = float(keys[-1]["time"]) if keys else 0.0
    responses = []
    if last > 0:
        values = np.array([of(np.reshape(key["place"], (4, 4))) for key in keys])
        values = np.unwrap(values, axis=0) if turns else values
        for axis in range(3):
            low, high = float(values[:, axis].min()), float(values[:, axis].max())
            if high - low > 1e-5:
                line = [
                    {
                        "x": min(float(key["time"]) / last, 1.0),
                        "y": (float(value) - low) / (high - low),
                        "shape": "linear",
                    }
                    for key, value in zip(keys, values[:, axis], strict=True)
                ]
                responses.append(
                    {
                        "kind": "curve",
                        "uid": f"new-{axis}",
                        "source": {"kind": "clip_time"},
                        "read": "live",
                        "operation": "set",
                        "input": [0.0, last],
                        "curve": {"keys": line},
                        "output": [low, high],
                        "component": "xyz"[axis],
                    }
                )
    return {"base": base, "responses": responses}
