"""Breaking up: a mesh as the parts that it falls into, a way a module. Together they are the mesh, each in its own place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from importlib import import_module
from typing import Literal, get_args

import numpy as np

from ...work_limits import claim
from ..mesh import Mesh

Into = Literal["separate", "faces", "scraps", "cells", "areas"]
WAYS: tuple[Into, ...] = get_args(Into)
MOST_PARTS = 20_000
TRIANGLE = 600  # bytes of one triangle while parts are gathered


@dataclass(frozen=True)
class Breaking:
    """How a mesh breaks. count: of cells or scraps, about; seed: of where these are; splinters: the share of them that are slivers; closing: of
    what is not closed, whether its hull is broken instead; dense: how dense they are at (u, v), (n, 2) -> (n,); None: even; picture: what a
    picture prop shows, (H, W, 4) in linear light."""

    into: Into
    count: int = 60
    seed: int = 0
    splinters: float = 0.0
    closing: bool = False
    dense: Callable[[np.ndarray], np.ndarray] | None = None
    picture: np.ndarray | None = None


@dataclass(frozen=True)
class Broken:
    """The parts of a mesh, one behind the other.

    corners: of each triangle places (metres, where they are in the mesh), normals and (u, v), (T, 3, 8) float64; face: the mesh's triangle it
    is of, -1 for what was inside, (T,) int64. start: where each part's triangles begin, and the end, (P + 1,) int64. centre: of each part's volume,
    or of its area where it is a sheet, (P, 3); amount: its volume or area, m³ or m², (P,).
    """

    corners: np.ndarray
    face: np.ndarray
    start: np.ndarray
    centre: np.ndarray
    amount: np.ndarray

    def __len__(self) -> int:
        return len(self.centre)

    @cached_property
    def longest(self) -> np.ndarray:
        """How long the longest side of each part's box is, (P,) metres."""
        flat = self.corners[:, :, :3].reshape(-1, 3)
        first = self.start[:-1] * 3
        return (np.maximum.reduceat(flat, first) - np.minimum.reduceat(flat, first)).max(axis=1)


def broken(mesh: Mesh, how: Breaking) -> Broken:
    """Return the parts that a mesh falls into. Raises GeometryProblem where it cannot be broken so, and why."""
    parts: Broken = import_module(f"{__name__}.{how.into}").parts(mesh, how)
    return parts


def words(into: str) -> tuple[str, str]:
    """Return the label of a way to break, and what it gives."""
    module = import_module(f"{__name__}.{into}")
    return module.LABEL, module.HELP


def of_triangles(corners: np.ndarray, face: np.ndarray, part: np.ndarray, count: int, solid: bool) -> Broken:
    """Return parts by the triangles of each: part is the number of each one's, (T,). solid: they are closed, so that their volumes count."""
    claim(TRIANGLE * len(part), f"A mesh in {len(part):,} triangles", "Break a simpler mesh, or into fewer parts.")
    order = np.argsort(part, kind="stable")
    corners, face, part = corners[order], face[order], part[order]
    start = np.searchsorted(part, np.arange(count + 1)).astype(np.int64)
    points = corners[:, :, :3]
    area = np.linalg.norm(np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]), axis=1) / 2
    total = np.bincount(part, area, count)
    middle = _means(points.mean(axis=1), area, part, count)
    if not solid:
        return Broken(corners, face, start, middle, total)
    origin = middle[part]
    a, b, c = (points[:, k] - origin for k in range(3))
    volume = np.einsum("ij,ij->i", a, np.cross(b, c)) / 6
    of = np.bincount(part, volume, count)
    centre = middle + _means((a + b + c) / 4, volume, part, count)
    whole = np.abs(of) > 1e-9 * np.maximum(total, 1e-300) ** 1.5
    return Broken(corners, face, start, np.where(whole[:, None], centre, middle), np.where(whole, np.abs(of), 0))


def _means(values: np.ndarray, weight: np.ndarray, part: np.ndarray, count: int) -> np.ndarray:
    total = np.bincount(part, weight, count)
    safe = np.where(np.abs(total) > 1e-300, total, 1)
    return np.stack([np.bincount(part, weight * values[:, k], count) / safe for k in range(3)], axis=1)


def corners_of(mesh: Mesh) -> np.ndarray:
    """Return a mesh's triangles by their corners, as in `Broken`."""
    return np.concatenate(
        [mesh.points.astype(np.float64)[mesh.faces], mesh.normals[mesh.faces], mesh.uv.astype(np.float64)[mesh.faces]],
        axis=2,
    )
