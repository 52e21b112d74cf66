"""Outlines as meshes, flat or with a thickness: what text and drawings become."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import mapbox_earcut
import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.polygon import orient

from .mesh import Mesh

Rule = Literal["nonzero", "evenodd"]


def fill_rings(rings: Sequence[np.ndarray], rule: Rule = "nonzero") -> list[Polygon]:
    """Return what closed rings, (n, 2) each, enclose, as polygons with holes. Rings of less than three points enclose
    nothing."""
    area = shapely.Polygon()
    polygons = []
    for ring in rings:
        ring = np.asarray(ring, np.float64)
        if len(ring) < 3 or not np.isfinite(ring).all():
            continue
        x, y = ring[:, 0], ring[:, 1]
        turned = float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
        polygon = shapely.make_valid(shapely.Polygon(ring))
        if turned and not polygon.is_empty:
            polygons.append((polygon, turned))
    if rule == "evenodd":
        for polygon, _ in polygons:
            area = area.symmetric_difference(polygon)
    elif polygons:
        # the largest ring says which way round is outside; what goes the other way is cut out of what goes this way
        outward = np.sign(max(polygons, key=lambda item: abs(item[1]))[1])
        area = shapely.union_all([p for p, turned in polygons if np.sign(turned) == outward])
        holes = [p for p, turned in polygons if np.sign(turned) != outward]
        if holes:
            area = area.difference(shapely.union_all(holes))
    parts = area.geoms if hasattr(area, "geoms") else [area]
    flat: list[Polygon] = []
    for part in parts:
        flat += list(part.geoms) if isinstance(part, MultiPolygon) else [part]
    return [orient(p) for p in flat if isinstance(p, Polygon) and p.area > 0]


def extrude(polygons: Sequence[Polygon], depth: float = 0.0) -> Mesh:
    """Return polygons as a mesh that looks along z: flat, or from -depth/2 to depth/2 with sides of their own normals.

    (u, v) is the share of the outline's bounds; on the sides u goes round each ring and v from back to front.
    """
    points: list[np.ndarray] = []
    faces: list[np.ndarray] = []
    uv: list[np.ndarray] = []
    normals: list[np.ndarray] = []
    if not polygons:
        return Mesh.of(np.zeros((0, 3)), np.zeros((0, 3)))
    bounds = np.array([p.bounds for p in polygons])
    low, high = bounds[:, :2].min(axis=0), bounds[:, 2:].max(axis=0)
    size = np.maximum(high - low, 1e-12)
    count = 0

    def add(p: np.ndarray, f: np.ndarray, t: np.ndarray, n: np.ndarray) -> None:
        nonlocal count
        points.append(p)
        faces.append(f + count)
        uv.append(t)
        normals.append(np.broadcast_to(n, p.shape))
        count += len(p)

    for polygon in polygons:
        rings = [np.asarray(r.coords)[:-1] for r in (polygon.exterior, *polygon.interiors)]
        flat = np.concatenate(rings)
        ends = np.cumsum([len(r) for r in rings]).astype(np.uint32)
        triangles = mapbox_earcut.triangulate_float64(flat, ends).reshape(-1, 3).astype(np.int64)
        share = (flat - low) / size
        front = np.column_stack([flat, np.full(len(flat), depth / 2)])
        add(front, triangles, share, np.array([0.0, 0.0, 1.0]))
        if depth <= 0:
            continue
        add(front * [1, 1, -1], triangles[:, ::-1], share, np.array([0.0, 0.0, -1.0]))
        for ring in rings:
            after = np.roll(ring, -1, axis=0)
            along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(after - ring, axis=1))])
            along /= max(along[-1], 1e-12)
            n = len(ring)
            corner = np.empty((n, 4, 3))
            corner[:, 0], corner[:, 1] = (
                np.column_stack([ring, np.full(n, -depth / 2)]),
                np.column_stack([after, np.full(n, -depth / 2)]),
            )
            corner[:, 2], corner[:, 3] = (
                np.column_stack([after, np.full(n, depth / 2)]),
                np.column_stack([ring, np.full(n, depth / 2)]),
            )
            at = np.empty((n, 4, 2))
            at[:, (0, 3), 0], at[:, (1, 2), 0] = along[:-1, None], along[1:, None]
            at[:, :2, 1], at[:, 2:, 1] = 0, 1
            direction = after - ring
            outward = np.column_stack([direction[:, 1], -direction[:, 0], np.zeros(n)])
            outward /= np.maximum(np.linalg.norm(outward, axis=1, keepdims=True), 1e-300)
            start = 4 * np.arange(n)[:, None]
            quads = np.concatenate([start + np.array([0, 1, 2]), start + np.array([0, 2, 3])])
            add(corner.reshape(-1, 3), quads, at.reshape(-1, 2), np.repeat(outward, 4, axis=0))
    return Mesh.of(
        np.concatenate(points), np.concatenate(faces), np.concatenate(uv), np.concatenate(normals).astype(np.float32)
    )


def bezier(points: Sequence[tuple[float, float]], steps: int = 8) -> np.ndarray:
    """Return a Bezier curve of 2 to 4 points as (steps, 2) points, without its first."""
    p = np.asarray(points, np.float64)
    t = np.linspace(0, 1, steps + 1)[1:, None]
    n = len(p) - 1
    weights = {
        1: [1 - t, t],
        2: [(1 - t) ** 2, 2 * t * (1 - t), t**2],
        3: [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t**2 * (1 - t), t**3],
    }[n]
    return sum(w * q for w, q in zip(weights, p, strict=True))
