"""Built-in shapes as meshes whose (u, v) is what one expects: u goes round (or across), v goes up (or outward)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from ..kernels import rays
from .mesh import Mesh

ROUND, HIGH = 64, 32  # spans round and up a shape


def _grid(
    u: np.ndarray,
    v: np.ndarray,
    place: Callable[[np.ndarray, np.ndarray], np.ndarray],
    normal: Callable[[np.ndarray, np.ndarray], np.ndarray],
    flip: bool = False,
) -> Mesh:
    """Return a grid of points over u and v as triangles; triangles without area, at poles, are left out."""
    gu, gv = (g.ravel() for g in np.meshgrid(u, v))
    points = place(gu, gv)
    n = len(u)
    i, j = (g.ravel() for g in np.meshgrid(np.arange(n - 1), np.arange(len(v) - 1)))
    a, b, c, d = j * n + i, j * n + i + 1, (j + 1) * n + i + 1, (j + 1) * n + i
    faces = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    if flip:
        faces = faces[:, ::-1]
    corners = points[faces]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    return Mesh.of(points, faces[area > 1e-12], np.stack([gu, gv], 1), normal(gu, gv))


def _turn(u: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return cosine and sine of a share of a turn; u = 0 looks along x, and grows towards -z, against the clock seen
    from above.

    A whole turn is none, to the last bit: the two sides of a seam stand on the same points.
    """
    return np.cos(2 * np.pi * (u % 1)), -np.sin(2 * np.pi * (u % 1))


def _up(u: np.ndarray, v: np.ndarray) -> np.ndarray:
    return np.broadcast_to([0.0, 1.0, 0.0], (len(u), 3)).astype(np.float32)


def disc(radius: float = 0.5) -> Mesh:
    """A level disc: u round it, v from the middle (0) to the rim (1)."""
    return ring(0.0, radius)


def ring(inner: float = 0.3, outer: float = 0.5) -> Mesh:
    """A level ring: u round it, v from the inner rim (0) to the outer (1)."""

    def place(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        c, s = _turn(u)
        r = inner + (outer - inner) * v
        return np.stack([c * r, np.zeros(len(u)), s * r], 1)

    return _grid(np.linspace(0, 1, ROUND + 1), np.linspace(0, 1, 9), place, _up, flip=True)


def sphere(radius: float = 0.5) -> Mesh:
    """A sphere: u round it, v from the lowest point (0) to the highest (1) by angle."""

    def outward(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        c, s = _turn(u)
        ring = np.where((v == 0) | (v == 1), 0.0, np.sin(np.pi * v))  # the poles are one point each
        return np.stack([c * ring, -np.cos(np.pi * v), s * ring], 1)

    return _grid(
        np.linspace(0, 1, ROUND + 1), np.linspace(0, 1, HIGH + 1), lambda u, v: outward(u, v) * radius, outward
    )


def plane(width: float = 1.0, depth: float = 1.0) -> Mesh:
    """A level plane: u along x, v from the front (+z, 0) to the back (-z, 1)."""
    return _grid(
        np.linspace(0, 1, 9),
        np.linspace(0, 1, 9),
        lambda u, v: np.stack([(u - 0.5) * width, np.zeros(len(u)), (0.5 - v) * depth], 1),
        _up,
    )


def box(width: float = 1.0, height: float = 1.0, depth: float = 1.0) -> Mesh:
    """A box; its six sides lie side by side in u, each a sixth of it, and go over the whole of v: +x, -x, +y, -y, +z,
    -z."""
    half = np.array([width, height, depth]) / 2
    sides = [("x", 1), ("x", -1), ("y", 1), ("y", -1), ("z", 1), ("z", -1)]
    points: list[np.ndarray] = []
    faces: list[np.ndarray] = []
    uv: list[np.ndarray] = []
    normals: list[np.ndarray] = []
    g = np.linspace(0, 1, 5)
    for k, (axis, sign) in enumerate(sides):
        normal = np.zeros(3)
        normal["xyz".index(axis)] = sign
        up = np.array([0.0, 1.0, 0.0]) if axis != "y" else np.array([0.0, 0.0, -sign])
        right = np.cross(up, normal)
        u, v = (x.ravel() for x in np.meshgrid(g, g))
        start = sum(len(p) for p in points)
        points.append((normal + np.outer(2 * u - 1, right) + np.outer(2 * v - 1, up)) * half)
        normals.append(np.broadcast_to(normal, (len(u), 3)))
        uv.append(np.stack([(k + u) / 6, v], 1))
        i, j = (x.ravel() for x in np.meshgrid(np.arange(4), np.arange(4)))
        a = start + j * 5 + i
        faces += [np.stack([a, a + 1, a + 6], 1), np.stack([a, a + 6, a + 5], 1)]
    return Mesh.of(
        np.concatenate(points), np.concatenate(faces), np.concatenate(uv), np.concatenate(normals).astype(np.float32)
    )


def cylinder(radius: float = 0.5, height: float = 1.0) -> Mesh:
    """An open cylinder standing on the ground: u round it, v from its foot (0) to its top (1)."""
    return funnel([(radius, 0.0), (radius, height)])


def funnel(profile: list[tuple[float, float]]) -> Mesh:
    """A profile of (radius, height) turned about the upright axis: u round it, v along the profile by its length."""
    line = np.asarray(profile, np.float64).reshape(-1, 2)
    steps = np.linalg.norm(np.diff(line, axis=0), axis=1)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    along = along / along[-1] if along[-1] > 0 else np.linspace(0, 1, len(line))
    v = np.unique(np.concatenate([along, np.linspace(0, 1, HIGH + 1)]))

    def place(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        c, s = _turn(u)
        r = np.interp(v, along, line[:, 0])
        return np.stack([c * r, np.interp(v, along, line[:, 1]), s * r], 1)

    grid = _grid(np.linspace(0, 1, ROUND + 1), v, place, _up)
    return Mesh.of(grid.points, grid.faces, grid.uv)


SHAPES: dict[str, Callable[..., Mesh]] = {
    "disc": disc,
    "ring": ring,
    "sphere": sphere,
    "box": box,
    "plane": plane,
    "cylinder": cylinder,
    "funnel": funnel,
}


def reach(kind: str, origins: np.ndarray, directions: np.ndarray, **sizes: Any) -> np.ndarray:
    """Return how far rays (n, 3) go to a built-in shape, in lengths of their direction, (n,); infinity where they miss.
    Exact: closed forms."""
    if kind in ("disc", "ring"):
        return rays.level(origins, directions, sizes.get("inner", 0.0), sizes.get("outer", sizes.get("radius", 0.5)))
    if kind in ("cylinder", "funnel"):
        profile = (
            [(sizes["radius"], 0.0), (sizes["radius"], sizes["height"])] if kind == "cylinder" else sizes["profile"]
        )
        return rays.lathe(origins, directions, np.asarray(profile, np.float64).reshape(-1, 2))
    meet: dict[str, Callable[..., np.ndarray]] = {"sphere": rays.sphere, "plane": rays.plane, "box": rays.box}
    return meet[kind](origins, directions, **sizes)


def shape(kind: str, **sizes: object) -> Mesh:
    """Return a built-in shape by its name; sizes in metres, as its function takes them."""
    return SHAPES[kind](**sizes)
