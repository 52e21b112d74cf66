"""Props as they are drawn into pictures, as the stage shows them: transforms, dissolved shares, colours."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..document import Effect
from ..geometry import Mesh, Picture
from ..geometry.picture import LUMINANCE
from ..kernels.colour import linear_to_srgb
from ..memory import PROCESS
from ..parts.props import SurfaceProp
from ..staging import Fields, Stage, fine_mesh, transform_points
from .layers import Projector, projector_of_camera
from .solid import WHITE, Solid, Surface

LEVELS = 1024  # and of one that drives what it is made of
TEXTURE = 4096  # pixels a side of what is drawn of a picture, at most
GHOST = 0.22  # how much of a ghosted prop covers


def solids(
    effect: Effect, stage: Stage, fields: Fields, frame: int, after: float = 0.0, moving: frozenset[str] | None = None
) -> list[Solid]:
    """Return the props to draw `after` of a frame past a frame; with `moving`, only these are moved and the others stay
    as at the frame. Those hidden in pictures are left out; shown as lines they are not drawn, hidden on the stage they
    are shaded."""
    drawn = []
    for prop in effect.props:
        seconds = fields.plan.scene(frame, after if moving is None or prop.uid in moving else 0.0)
        if prop.in_pictures and prop.shown != "lines" and stage.seen(prop.uid, seconds):
            mesh = stage.geometry(prop.uid)
            if isinstance(mesh, Mesh) and len(mesh.faces):
                drawn.append(_solid(stage, prop, mesh, fields, frame, seconds))
    return drawn


def _solid(stage: Stage, prop: Any, mesh: Mesh, fields: Fields, frame: int, seconds: float) -> Solid:
    gone = fields.gone(prop, frame)
    if gone is not None:
        mesh = fine_mesh(prop, mesh)
    rest = mesh
    if mesh.moves:
        mesh = mesh.at(stage.clock(prop.uid, seconds))
    matrix = stage.matrices(prop.uid, np.full(1, seconds))
    points = transform_points(matrix, mesh.points.astype(np.float64))
    normals = mesh.normals @ np.linalg.pinv(matrix[0, :3, :3])
    colour = np.broadcast_to(np.asarray(prop.tint, np.float64), (len(mesh.faces), 3)).copy()
    texture, pictured = WHITE, np.zeros(len(mesh.faces), bool)
    if prop.materials:
        material = np.clip(rest.material, 0, len(rest.colours) - 1)
        if len(rest.colours) > 1:
            colour *= rest.colours[material]
        if rest.textures:
            texture, pictured = Picture(rest.textures[0]).no_larger(TEXTURE), np.asarray(rest.pictures)[material] == 0
    if prop.film:
        picture = stage.picture_at(prop.uid, seconds)
        if isinstance(picture, Picture):
            texture, pictured, colour[:] = picture.no_larger(TEXTURE), np.ones(len(mesh.faces), bool), 0.8
    surface, laid = None, None
    if isinstance(prop, SurfaceProp):
        covering = _picture_of(stage, prop.covering, seconds)
        if covering is not None:
            texture, pictured = covering[1].no_larger(TEXTURE), np.ones(len(mesh.faces), bool)
            if prop.laid_by is None:
                colour[:] = 1.0
        surface = surface_of(stage, prop, rest, seconds)
        if prop.laid_by is not None and stage.has_prop(prop.laid_by):
            first = covering or _picture_of(stage, prop.rough_by, seconds) or _picture_of(stage, prop.glow_by, seconds)
            if first is not None:
                laid = _projected_uv(
                    points, projector_of_camera(stage, prop.laid_by, seconds), first[1].size[0] / first[1].size[1]
                )
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-300)
    return Solid(
        points,
        normals,
        mesh.uv,
        rest.points,
        np.zeros(len(points)) if gone is None else gone,
        mesh.faces,
        colour,
        texture,
        pictured,
        GHOST if prop.shown == "ghost" else 1.0,
        prop.lit and not prop.film,
        rest.moves,
        prop.uid,
        True,
        not prop.film,
        prop.catches,
        prop.casts,
        None,
        surface,
        laid,
    )


def _picture_of(stage: Stage, uid: str | None, seconds: float) -> tuple[str, Picture] | None:
    """Return the picture that a picture prop shows at a time, and a text that is equal for equal pictures; None without
    one."""
    found = stage.picture_at(uid, seconds) if uid is not None and stage.has_prop(uid) else None
    return None if found is None or uid is None else (stage.picture_key(uid, int(stage.clock(uid, seconds))), found)


def _projected_uv(points: np.ndarray, camera: Projector, aspect: float) -> np.ndarray:
    """Return homogeneous positions of points in a picture that a camera projects, (V, 3); the picture is as high as the
    camera's view."""
    seen = points @ camera.rows[:, :3].T + camera.rows[:, 3]
    away = -seen[:, 2]
    return np.stack(
        [seen[:, 0] / (2 * camera.tangent * aspect) + away / 2, seen[:, 1] / (2 * camera.tangent) + away / 2, away],
        axis=1,
    )


def surface_of(stage: Stage, prop: Any, mesh: Mesh, seconds: float) -> Surface | None:
    """Return a prop's material at a time; None where it is matte and emits no light."""
    own = stage.own(prop.uid, seconds)
    rough, metal, glow = (own[f"{name}.0"] for name in ("roughness", "metal", "glow"))
    by_rough, by_glow = _picture_of(stage, prop.rough_by, seconds), _picture_of(stage, prop.glow_by, seconds)
    if rough >= 1 and metal <= 0 and glow <= 0 and mesh.surfaces is None and by_rough is None:
        return None
    numbers, mapped = np.zeros((len(mesh.faces), 7)), np.zeros(len(mesh.faces), np.uint8)
    numbers[:, 0] = 1
    maps = [WHITE, WHITE]
    if mesh.surfaces is not None and mesh.surface_pictures is not None:
        material = np.clip(mesh.material, 0, len(mesh.surfaces) - 1)
        numbers[:, :5] = mesh.surfaces[material]
        for bit in (0, 1):
            of = mesh.surface_pictures[:, bit]
            first = next((int(picture) for picture in of if picture >= 0), -1)  # a mesh with several shows the first
            if first >= 0:
                maps[bit] = (
                    _as_numbers(mesh.textures[first]) if bit == 0 else Picture(mesh.textures[first]).no_larger(TEXTURE)
                )
                mapped |= np.where(of[material] == first, 1 << bit, 0).astype(np.uint8)
    numbers[:, 0] *= rough
    numbers[:, 5], numbers[:, 6] = glow, metal
    for bit, found, (low, high) in (
        (0, by_rough, (prop.rough_from, prop.rough_to)),
        (1, by_glow, (prop.glow_from, prop.glow_to)),
    ):
        if found is not None:
            maps[bit] = with_levels(*found, low, high)
            mapped |= np.uint8(1 << bit)
    return Surface(numbers, mapped, maps[0], maps[1])


_with_levels = PROCESS.region("levels", 0.3)


def with_levels(key: str, picture: Picture, low: float, high: float) -> np.ndarray:
    """Return a picture's levels, (H, W, 4): its luminance mapped from low..high to 0..1, with alpha 1. key: equal for
    equal pictures."""
    found: np.ndarray | None = _with_levels.get((key, low, high))
    if found is not None:
        return found
    pixels = picture.no_larger(LEVELS)
    bright = linear_to_srgb(np.clip(pixels[..., :3] @ LUMINANCE, 0, 1))
    span = high - low
    level = np.clip((bright - low) / span, 0, 1) if span else (bright >= low).astype(np.float64)
    grey: np.ndarray = _with_levels.put(
        (key, low, high), np.stack([level, level, level, np.ones_like(level)], axis=2).astype(np.float32)
    )
    return grey


def _as_numbers(texture: np.ndarray) -> np.ndarray:
    """Return a data picture as numbers, (H, W, 4): roughness (green in glTF 2.0) in red, metalness (blue there) in
    alpha."""
    return np.ascontiguousarray(linear_to_srgb(Picture(texture).no_larger(LEVELS)[..., [1, 1, 1, 2]]), np.float32)
