"""Breaking: a mesh divided into parts, one module for each way. Together the parts are the mesh, each in its place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from importlib import import_module
from typing import Literal, get_args

import numpy as np

from ...work_limits import claim
from ..mesh import Mesh

BreakKind = Literal["separate", "faces", "scraps", "cells", "areas"]
BREAK_KINDS: tuple[BreakKind, ...] = get_args(BreakKind)
MOST_PARTS = 20_000
TRIANGLE = 600  # bytes of one triangle while parts are gathered


@dataclass(frozen=True)
class BreakSettings:
    """How a mesh breaks.

    count: approximate number of cells or scraps. seed: of their positions. splinters: the share of them that are
    slivers. closing: use the hull of a mesh that is not closed. dense: density at (u, v), (n, 2) -> (n,); None:
    uniform. picture: of a picture prop, (H, W, 4) in linear light.
    """

    into: BreakKind
    count: int = 60
    seed: int = 0
    splinters: float = 0.0
    closing: bool = False
    dense: Callable[[np.ndarray], np.ndarray] | None = None
    picture: np.ndarray | None = None


@dataclass(frozen=True)
class BrokenMesh:
    """The parts of a mesh, concatenated.

    corners: position (m, in the mesh's space), normal and (u, v) of each triangle's corners, (T, 3, 8) float64. face:
    its original triangle, -1 for inner walls, (T,) int64. start: first triangle of each part, and the end, (P + 1,)
    int64. centre: of each part's volume, or of its area for a sheet, (P, 3). amount: volume or area, m³ or m², (P,).
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
        """The longest side of each part's bounding box, (P,) metres."""
        flat = self.corners[:, :, :3].reshape(-1, 3)
        first = self.start[:-1] * 3
        return (np.maximum.reduceat(flat, first) - np.minimum.reduceat(flat, first)).max(axis=1)


def break_mesh(mesh: Mesh, how: BreakSettings) -> BrokenMesh:
    """Return the parts of a mesh. Raises GeometryProblem, with the reason, where it cannot be broken so."""
    parts: BrokenMesh = import_module(f"{__name__}.{how.into}").parts(mesh, how)
    return parts


def label_and_help(into: str) -> tuple[str, str]:
    """Return the label and description of a way to break."""
    module = import_module(f"{__name__}.{into}")
    return module.LABEL, module.HELP


def of_triangles(corners: np.ndarray, face: np.ndarray, part: np.ndarray, count: int, solid: bool) -> BrokenMesh:
    """Return parts from each triangle's part number, (T,). solid: the parts are closed, so that volumes count."""
    claim(TRIANGLE * len(part), f"A mesh in {len(part):,} triangles", "Break a simpler mesh, or into fewer parts.")
    order = np.argsort(part, kind="stable")
    corners, face, part = corners[order], face[order], part[order]
    start = np.searchsorted(part, np.arange(count + 1)).astype(np.int64)
    points = corners[:, :, :3]
    area = np.linalg.norm(np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]), axis=1) / 2
    total = np.bincount(part, area, count)
    middle = _means(points.mean(axis=1), area, part, count)
    if not solid:
        return BrokenMesh(corners, face, start, middle, total)
    origin = middle[part]
    a, b, c = (points[:, k] - origin for k in range(3))
    volume = np.einsum("ij,ij->i", a, np.cross(b, c)) / 6
    of = np.bincount(part, volume, count)
    centre = middle + _means((a + b + c) / 4, volume, part, count)
    whole = np.abs(of) > 1e-9 * np.maximum(total, 1e-300) ** 1.5
    return BrokenMesh(corners, face, start, np.where(whole[:, None], centre, middle), np.where(whole, np.abs(of), 0))


def _means(values: np.ndarray, weight: np.ndarray, part: np.ndarray, count: int) -> np.ndarray:
    total = np.bincount(part, weight, count)
    safe = np.where(np.abs(total) > 1e-300, total, 1)
    return np.stack([np.bincount(part, weight * values[:, k], count) / safe for k in range(3)], axis=1)


def corners_of(mesh: Mesh) -> np.ndarray:
    """Return a mesh's triangles by corners, as in `BrokenMesh`."""
    return np.concatenate(
        [mesh.points.astype(np.float64)[mesh.faces], mesh.normals[mesh.faces], mesh.uv.astype(np.float64)[mesh.faces]],
        axis=2,
    )
