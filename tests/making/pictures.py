"""Pictures of one particle, and of lights that fall on a floor."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from kagero.core.document import read_effect
from kagero.core.workflows import Playing, RenderRequest, render_frame
from tests.making import document, emitter, row


def one(
    position=(0.0, 1.0, 0.0),
    velocity=(0.0, 0.0, 0.0),
    size=0.4,
    uid="one",
    colour=(0.8, 0.4, 0.2),
    blend="over",
    **more: Any,
) -> dict[str, Any]:
    """Return an emitter of a single disc with an edge, at a place at frame 0 and moving."""
    speed = float(np.linalg.norm(velocity))
    one = emitter(
        uid,
        births__rate=row(0.0),
        births__place__centre=row(list(position)),
        births__lifespan=row(100.0),
        births__launch__speed=row(speed),
        births__launch__direction=row(list(velocity) if speed else [0.0, 1.0, 0.0]),
        **more,
    )
    one["births"]["bursts"] = [{"uid": f"b-{uid}", "frame": 0, "count": 1}]
    one["look"] |= {"size": row(size), "colour": row(list(colour)), "hardness": row(0.9), "blend": blend}
    return one


SIZE = (200, 200)


FAR = (50.0, 50.0, 50.0)


DOWN = [-math.pi / 2, 0.0, 0.0]  # along -z, tilted so that it shines down


FLOOR = {
    "kind": "shape",
    "uid": "floor",
    "name": "floor",
    "shape": "plane",
    "width": 4.0,
    "depth": 4.0,
    "tint": [1.0, 1.0, 1.0],
}


def light(shines: str, uid: str = "light", **more: Any) -> dict[str, Any]:
    return {
        "kind": "light",
        "uid": uid,
        "name": uid,
        "shines": shines,
        **{k: row(v) if not isinstance(v, (bool, str, dict)) else v for k, v in more.items()},
    }


def from_above(
    *props: dict[str, Any],
    emitter: dict[str, Any] | None = None,
    frame: int = 0,
    size: tuple[int, int] = SIZE,
    **more: Any,
) -> np.ndarray:
    """Return the light of a floor of 4 x 4 m seen from 10 m above, two metres to each side."""
    result = {
        **document(emitter or one(FAR), last_frame=20),
        "props": [*([] if any(prop["uid"] == "floor" for prop in props) else [FLOOR]), *props],
        **more,
    }
    result["camera"] = {"position": [0.0, 10.0, 0.0], "target": [0.0, 0.0, 0.0], "field_of_view": 2 * math.atan(0.2)}
    return render_frame(Playing(read_effect(result)), frame, RenderRequest(*size, alone=True)).light


def at(picture: np.ndarray, x: float, z: float) -> np.ndarray:
    """Return the picture's light at a place of the floor, metres; looked down on, z goes up in the picture and x to the
    left."""
    return picture[round(100 - z * 50), round(100 - x * 50), :3]
