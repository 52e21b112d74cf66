"""Props as they are drawn into pictures, as the stage shows them: where they stand, what they are gone of, their colours."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..document import Effect
from ..geometry import Mesh, Picture
from ..staging import Fields, Stage, fine_mesh, moved
from .solid import Solid

TEXTURE = 4096  # pixels a side of what is drawn of a picture, at most
GHOST = 0.22  # how much of a ghosted prop covers
_WHITE = np.ones((1, 1, 4), np.float32)


def solids(effect: Effect, stage: Stage, fields: Fields, frame: int, after: float = 0.0, moving: frozenset[str] | None = None) -> list[Solid]:
    """Return the props to draw so much of a frame after a frame, of all or of some that move, the others as at the frame: those that pictures are
    to show; as lines nothing is drawn, hidden ones are shaded."""
    made = []
    for prop in effect.props:
        seconds = fields.plan.moment(frame, after if moving is None or prop.uid in moving else 0.0)
        if prop.in_pictures and prop.shown != "lines" and stage.seen(prop.uid, seconds):
            mesh = stage.geometry(prop.uid)
            if isinstance(mesh, Mesh) and len(mesh.faces):
                made.append(_solid(stage, prop, mesh, fields, frame, seconds))
    return made


def _solid(stage: Stage, prop: Any, mesh: Mesh, fields: Fields, frame: int, seconds: float) -> Solid:
    gone = fields.gone(prop, frame)
    if gone is not None:
        mesh = fine_mesh(prop, mesh)
    rest = mesh
    if mesh.moves:
        mesh = mesh.at(stage.clock(prop.uid, seconds))
    matrix = stage.matrices(prop.uid, np.full(1, seconds))
    points = moved(matrix, mesh.points.astype(np.float64))
    normals = mesh.normals @ np.linalg.pinv(matrix[0, :3, :3])
    colour = np.broadcast_to(np.asarray(prop.tint, np.float64), (len(mesh.faces), 3)).copy()
    texture, pictured = _WHITE, np.zeros(len(mesh.faces), bool)
    if prop.kind == "mesh":
        material = np.clip(rest.material, 0, len(rest.colours) - 1)
        if len(rest.colours) > 1:
            colour *= rest.colours[material]
        if rest.textures:
            texture, pictured = Picture(rest.textures[0]).no_larger(TEXTURE), np.asarray(rest.pictures)[material] == 0
    if prop.film:
        picture = stage.picture_at(prop.uid, seconds)
        if isinstance(picture, Picture):
            texture, pictured, colour[:] = picture.no_larger(TEXTURE), np.ones(len(mesh.faces), bool), 0.8
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-300)
    return Solid(points, normals, mesh.uv, rest.points, np.zeros(len(points)) if gone is None else gone, mesh.faces, colour, texture, pictured,
                 GHOST if prop.shown == "ghost" else 1.0, prop.lit and not prop.film, rest.moves, prop.uid, True, not prop.film,
                 prop.catches, prop.casts)  # fmt: skip
