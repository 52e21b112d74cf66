"""Props, stages that they stand on, meshes."""

from __future__ import annotations

import numpy as np
import trimesh

from kagero.core.document import read_effect
from kagero.core.geometry import Mesh, shape
from kagero.core.staging import PropPlaces
from kagero.core.workflows import Playing
from tests.making import document, emitter


def with_props(*props, one=None, dials=()):
    return read_effect({**document(one or emitter()), "props": list(props), "dials": list(dials)})


def prop(uid, name=None, kind="shape", **more):
    return {
        "uid": uid,
        "name": name or uid.title(),
        "kind": kind,
        **({"shape": "sphere"} if kind == "shape" else {}),
        **more,
    }


def stage(effect):
    return PropPlaces(effect, Playing(effect).plan)


def swinging(frames: int = 6) -> Mesh:
    """A sphere that bends more and more over a second and comes back to rest."""
    ball = shape("sphere")
    bend = [
        ball.points
        + np.float32(0.4 * np.sin(np.pi * k / (frames - 1)))
        * np.stack([ball.points[:, 1] ** 2, ball.points[:, 2] * 0.5, ball.points[:, 0]], 1)
        for k in range(frames)
    ]
    bend[-1] = ball.points
    return Mesh(
        ball.points,
        ball.faces,
        ball.uv,
        ball.material,
        ball.colours,
        frames=np.stack(bend).astype(np.float32),
        times=np.linspace(0, 1, frames),
    )


def bumpy(n: int = 24) -> Mesh:
    """A closed lump."""
    ball = trimesh.creation.icosphere(3)
    points = ball.vertices * (1 + 0.25 * np.sin(5 * ball.vertices[:, :1]) * np.cos(4 * ball.vertices[:, 1:2]))
    return Mesh.of(points, ball.faces)
