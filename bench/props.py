"""Queries of props, as ratios to reference libraries within one run: medians of five."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import Any

import numpy as np
import trimesh

from kagero.core.geometry import Mesh, Picture

from .bounds import within

RUNS = 5


def main() -> None:
    """Print milliseconds of each query on a mesh of 20,000 triangles, and what the reference library takes for the
    same."""
    ball = trimesh.creation.icosphere(5)
    points = ball.vertices * (1 + 0.2 * np.sin(7 * ball.vertices[:, :1]) * np.cos(5 * ball.vertices[:, 1:2]))
    faces = ball.faces[:20_000]
    mesh, other = Mesh.of(points, faces), trimesh.Trimesh(points, faces, process=False)
    rng = np.random.default_rng(3)
    where, to = rng.normal(size=(10_000, 3)), rng.normal(size=(10_000, 3))
    three = rng.random((3, 100_000))
    picture, uv = Picture(rng.random((1024, 1024, 4)).astype(np.float32)), rng.random((100_000, 2))
    mesh.nearest(where[:2]), mesh.hits(where[:2], to[:2]), mesh.inside(where[:2])
    caster = trimesh.ray.ray_pyembree.RayMeshIntersector(other)
    print(f"props: {len(faces):,} triangles; milliseconds, medians of {RUNS}")
    show("tree built", lambda: Mesh.of(points, faces)._tree)
    near = show("10,000 closest points", lambda: mesh.nearest(where), 250)
    theirs = took(lambda: trimesh.proximity.closest_point(other, where[:200])) * 50
    print(f"{'':>40} {near / theirs:>8.4f} of trimesh with rtree")
    rays = show("10,000 rays", lambda: mesh.hits(where, to), 50)
    theirs = took(lambda: caster.intersects_id(where, to, multiple_hits=False))
    print(f"{'':>40} {rays / theirs:>8.2f} of embree in single precision")
    show("10,000 inside or outside", lambda: mesh.inside(where))
    show("100,000 places by area", lambda: mesh.on_surface(*three), 100)
    places = mesh.on_surface(*three)
    show("100,000 points and frames", lambda: (mesh.point(places), mesh.frame(places)))
    show("100,000 picture values", lambda: picture.at(uv))


def show(name: str, work: Callable[[], Any], most: float | None = None) -> float:
    ms = took(work)
    print(f"{name:>40} {ms:>8.1f} ms{within(name, ms, most=most) if most else ''}")
    return ms


def took(work: Callable[[], Any]) -> float:
    times = []
    for _ in range(RUNS):
        started = time.perf_counter()
        work()
        times.append((time.perf_counter() - started) * 1e3)
    return statistics.median(times)


if __name__ == "__main__":
    main()
