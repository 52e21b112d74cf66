"""Lights of a scene and their shadows: light props, and particles that are lamps."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from ..kernels import shading, shadows
from ..kernels.shading import LIGHT, VIEW, Lights
from ..staging import Stage
from .cutting import cut
from .layers import Layer
from .solid import Solid
from .viewpoint import NEAR, Viewpoint

F32, F64 = np.float32, np.float64
# texels a side of a shadow map: half as many where there are more maps than MOST_FINE; of all maps
SIDE = 1024
MOST_FINE = 5
MOST_TEXELS = 100 << 18
BIAS = 1.5  # texels that shadow begins behind what throws it
KINDS = {"point": shading.LAMP, "sun": shading.SUN, "around": shading.AROUND, "spot": shading.SPOT}

ShadowCaster = tuple[
    int, float, np.ndarray
]  # a light that throws shadows: its row, how soft they are, metres, and where it stands, (4, 4)


@dataclass(frozen=True)
class Lighting:
    """Lights in world space: rows (L, LIGHT) as in `kernels.shading`, shadow maps, and the maps' views (M, VIEW) from
    world space."""

    rows: np.ndarray = field(default_factory=lambda: np.zeros((0, LIGHT)))
    maps: np.ndarray = field(default_factory=lambda: np.zeros((0, 1, 1, 3), F32))
    views: np.ndarray = field(default_factory=lambda: np.zeros((0, VIEW)))

    @classmethod
    def of_lamps(cls, lamps: np.ndarray | None) -> Lighting:
        """Return lights made of lamps alone, (L, 7): position, linear colour, reach."""
        if lamps is None or not len(lamps):
            return cls()
        rows = np.zeros((len(lamps), LIGHT))
        rows[:, :7], rows[:, shading.MAP] = lamps, -1
        return cls(rows)

    def seen(self, viewpoint: Viewpoint) -> Lights:
        """Return the lights in eye space."""
        axes, eye = viewpoint.axes(), np.asarray(viewpoint.position, F64)
        rows = np.ascontiguousarray(self.rows, F64).copy()
        places = np.isin(rows[:, shading.WHAT], (shading.LAMP, shading.SPOT))
        rows[places, :3] = (rows[places, :3] - eye) @ axes.T
        rows[~places, :3] = rows[~places, :3] @ axes.T
        rows[:, shading.ALONG : shading.ALONG + 3] = rows[:, shading.ALONG : shading.ALONG + 3] @ axes.T
        views = self.views.copy()
        for view in views:  # light = A world + b, world = axesᵀ seen + eye
            matrix = view[:12].reshape(3, 4)
            view[:12] = np.column_stack([matrix[:, :3] @ axes.T, matrix[:, :3] @ eye + matrix[:, 3]]).ravel()
        return rows, self.maps, np.ascontiguousarray(views)


def lighting(
    props: Sequence[Any], stage: Stage, seconds: float, lamps: np.ndarray
) -> tuple[Lighting, list[ShadowCaster]]:
    """Return the lights at a clip time without shadows: light props, then lamps, (L, 7); and those that cast
    shadows."""
    found: list[np.ndarray] = []
    throws: list[ShadowCaster] = []
    for prop in props:
        if not prop.light or not stage.seen(prop.uid, seconds):
            continue
        own = stage.own(prop.uid, seconds)
        place = stage.matrices(prop.uid, np.full(1, seconds))[0]
        back = place[:3, 2] / max(float(np.linalg.norm(place[:3, 2])), 1e-12)
        row = np.zeros(LIGHT)
        row[shading.WHAT], row[shading.MAP] = KINDS[prop.shines], -1
        row[shading.PLACE : shading.PLACE + 3] = back if prop.shines == "sun" else place[:3, 3]
        row[shading.COLOUR : shading.COLOUR + 3] = [own[f"light_colour.{i}"] * own["strength.0"] for i in range(3)]
        row[shading.REACH], row[shading.ALONG : shading.ALONG + 3] = own["reach.0"], -back
        half = own["cone.0"] / 2
        row[shading.EDGE], row[shading.FULL] = math.cos(half), math.cos(half * (1 - own["edge.0"]))
        if prop.throws:
            throws.append((len(found), own["blur.0"], place))
        found.append(row)
    lit = Lighting.of_lamps(lamps)
    if not found:
        return lit, []
    return replace(lit, rows=np.concatenate([np.array(found), lit.rows])), throws


def with_shadows(
    lights: Lighting, throws: Sequence[ShadowCaster], solids: Sequence[Solid], layers: Sequence[Layer]
) -> Lighting:
    """Return lights with the shadows of props and particles. throws: from `lighting`."""
    if not throws:
        return lights
    rows = lights.rows.copy()
    views: list[np.ndarray] = []
    seen = [_views(rows[number], place) for number, _, place in throws]
    count = sum(map(len, seen))
    side = SIDE if count <= MOST_FINE else SIDE // 2
    while count * side * side > MOST_TEXELS:
        side //= 2
    maps = np.empty((count, side, side, 3), F32)
    for (number, soft, _), looks in zip(throws, seen, strict=True):
        rows[number, shading.MAP] = len(views)
        for matrix, wide in looks:
            views.append(_shadow_map(maps[len(views)], rows[number], matrix, wide, soft, solids, layers))
    return Lighting(rows, maps, np.array(views))


def _views(row: np.ndarray, place: np.ndarray) -> list[tuple[np.ndarray, float]]:
    """Return a light's views for its shadow maps: from world space to its right, up and ahead, (3, 4), and half of the
    visible width in metres, or its tangent. A lamp has six, each a little wider than a cube's face, to leave room for
    soft edges."""
    axes = (place[:3, :3] / np.maximum(np.linalg.norm(place[:3, :3], axis=0), 1e-12)).T
    turn = np.stack([axes[0], axes[1], -axes[2]])
    if row[shading.WHAT] == shading.LAMP:
        ways = [sign * np.roll(np.eye(3), k, axis=0)[[1, 2, 0]] for k in range(3) for sign in (1.0, -1.0)]
        return [(np.column_stack([rotation @ turn, -(rotation @ turn) @ place[:3, 3]]), 1.1) for rotation in ways]
    matrix = np.column_stack([turn, -turn @ place[:3, 3]])
    spot = row[shading.WHAT] == shading.SPOT
    return [
        (matrix, math.tan(math.acos(min(max(row[shading.EDGE], -0.999), 1.0))) if spot else float(row[shading.REACH]))
    ]


def _shadow_map(
    texels: np.ndarray,
    row: np.ndarray,
    matrix: np.ndarray,
    wide: float,
    soft: float,
    solids: Sequence[Solid],
    layers: Sequence[Layer],
) -> np.ndarray:
    """Write a light's shadow map of one view, (side, side, 3); return the view."""
    side = len(texels)
    perspective = bool(row[shading.WHAT] != shading.SUN)
    reach = float(row[shading.REACH])
    texel = 2 * wide / side * (reach / 2 if perspective else 1.0)
    view = np.zeros(VIEW)
    view[:12], view[shading.PERSPECTIVE], view[shading.SCALE] = matrix.ravel(), float(perspective), wide
    view[shading.BIAS], view[shading.SOFTNESS] = BIAS * texel + soft * 0.5, max(soft / texel, 0.7)
    texels[:] = (np.inf, 1.0, 0.0)
    behind = 0.0
    if not perspective:  # all that is toward the sun throws shadows, however far
        behind = 1000.0
        view[11] += behind
    for solid in solids:
        if solid.casts and not solid.catches:
            points, faces = solid.points, solid.faces
            if perspective and (left := cut(points @ matrix[2, :3] + matrix[2, 3], faces, NEAR * 1.01)) is not None:
                points, faces = left.points(points), left.faces
            x, y, away, _ = _shadow_coordinates(points, matrix, wide, perspective, behind, side)
            shadows.write_nearest(texels, x, y, away, np.ascontiguousarray(faces, np.int32), perspective)
    for layer in layers:
        if (surface := layer.shown.surface) is not None and len(surface.faces):
            x, y, away, _ = _shadow_coordinates(surface.points, matrix, wide, perspective, behind, side)
            shadows.write_nearest(texels, x, y, away, np.ascontiguousarray(surface.faces, np.int32), perspective)
        if not len(layer) or surface is not None or layer.shown.volume is not None:
            continue
        covers = np.clip(layer.column("opacity"), 0, 1) * (
            1.0 if layer.shown.look.drawing["blend"] == "over" else layer.column("cover")
        )
        x, y, away, near = _shadow_coordinates(layer.positions().astype(F64), matrix, wide, perspective, behind, side)
        half = layer.column("size").astype(F64) / 2 * near
        ok = (away > NEAR) & (covers > 0) & (half > 0)
        shadows.multiply_transmittance(
            texels, *(np.ascontiguousarray(each[ok], F64) for each in (x, y, away, half, covers.astype(F64)))
        )
    some = texels[..., 1] < 1 - 1e-4
    took, sums = 1 - texels[some, 1], texels[some, 2]
    # the mean of how far away those are that take light: what each takes, summed, is -log of what is left
    whole = np.maximum(-np.log(np.maximum(texels[some, 1], 1e-6)), took)
    texels[..., 2] = np.inf
    texels[some, 2] = sums / np.maximum(whole, 1e-6)
    return view


def _shadow_coordinates(
    points: np.ndarray, matrix: np.ndarray, wide: float, perspective: bool, behind: float, side: int
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Return the positions of points, (n, 3), in a shadow map in texels, their distance ahead of the light in metres,
    and texels a metre there."""
    seen = points.astype(F64) @ matrix[:, :3].T + matrix[:, 3]
    away = seen[:, 2] + behind
    spread = wide * (np.maximum(away, 1e-6) if perspective else 1.0)
    x, y = (seen[:, 0] / spread * 0.5 + 0.5) * side, (0.5 - seen[:, 1] / spread * 0.5) * side
    return (
        np.ascontiguousarray(x),
        np.ascontiguousarray(y),
        np.ascontiguousarray(away),
        np.broadcast_to(side / (2 * spread), x.shape),
    )
