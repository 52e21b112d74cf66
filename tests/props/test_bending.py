"""What stands off a mesh that bends follows its smooth normal as it is then: no tear at the lines of the mesh or where
its (u, v) is cut."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from kagero.core.geometry import Mesh, Places
from kagero.core.geometry.emission import EmissionSurface
from kagero.core.geometry.ride_rails import SurfaceRails

ACROSS, OUT = 9, 0.1


def bent(x: np.ndarray, z: np.ndarray, by: float) -> np.ndarray:
    """Return a sheet that goes by `by` m up and down along x and z."""
    return np.stack([x, by * np.sin(np.pi * x) * np.cos(0.5 * np.pi * z), z], axis=-1)


def normal(x: np.ndarray, z: np.ndarray, by: float) -> np.ndarray:
    """Return its exact unit normals."""
    dx, dz = (
        by * np.pi * np.cos(np.pi * x) * np.cos(0.5 * np.pi * z),
        -by * 0.5 * np.pi * np.sin(np.pi * x) * np.sin(0.5 * np.pi * z),
    )
    values = np.stack([-dx, np.ones_like(x), -dz], axis=-1)
    return values / np.linalg.norm(values, axis=-1, keepdims=True)


def sheet(across: int = ACROSS, cut: bool = False, frames: tuple[float, ...] = (0.0, 0.4, -0.4)) -> Mesh:
    """Return a sheet from -1 to 1 that is bent over 2 s. cut: its points in the middle stand twice, with (u, v) of
    their own."""
    g = np.linspace(-1, 1, across)
    columns = [g, g] if not cut else [g[: across // 2 + 1], g[across // 2 :]]
    points, uv, faces, first = [], [], [], 0
    for k, x in enumerate(columns if cut else columns[:1]):
        a, b = (each.ravel() for each in np.meshgrid(x, g, indexing="ij"))
        points.append(np.stack([a, b], 1))
        uv.append(np.stack([(a + 1) / 2 + (1.5 if k else 0.0), (b + 1) / 2], 1))
        i, j = (each.ravel() for each in np.meshgrid(np.arange(len(x) - 1), np.arange(across - 1), indexing="ij"))
        c = first + i * across + j
        faces.append(
            np.concatenate([np.stack([c, c + 1, c + across], 1), np.stack([c + 1, c + across + 1, c + across], 1)])
        )
        first += len(a)
    flat, every = np.concatenate(points), np.concatenate(faces).astype(np.int32)
    moved = np.stack([bent(flat[:, 0], flat[:, 1], by) for by in frames]).astype(np.float32)
    rest = Mesh.of(moved[0], every, np.concatenate(uv).astype(np.float32))
    return replace(rest, frames=moved, times=np.arange(len(frames), dtype=np.float64))


class Smooth(unittest.TestCase):
    def stood(self, mesh: Mesh, clock: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return pairs of places 40 micrometres apart across the lines of the mesh, where they stand, and by births
        along the normal: (n, 2, 3)."""
        lines = np.linspace(-1, 1, ACROSS)[1:-1]
        x, z = (each.ravel() for each in np.meshgrid(lines, np.linspace(-0.9, 0.9, 31)))
        pairs = np.stack([np.stack([x - 2e-5, x + 2e-5], 1), np.stack([z, z], 1)], axis=-1).reshape(-1, 2)
        near, _ = mesh.nearest(np.column_stack([pairs[:, 0], np.zeros(len(pairs)), pairs[:, 1]]))
        rails = SurfaceRails(mesh)
        aside = np.column_stack([np.full(len(pairs), OUT), np.zeros((len(pairs), 2))])
        place, facing = rails.stand(near, aside, clock, np.eye(4)[None])
        ground = EmissionSurface(mesh)
        binding, offset = ground.near(np.column_stack([pairs[:, 0], np.full(len(pairs), OUT), pairs[:, 1]]))
        born = ground.stand(binding, offset, np.full(len(pairs), clock))
        turned = ground.normal(binding, np.full(len(pairs), clock))
        self.assertLess(float(np.abs(turned - facing).max()), 1e-6)
        return place.reshape(-1, 2, 3), born.reshape(-1, 2, 3), facing

    def test_places_that_lie_together_stand_off_together(self):
        for cut in (False, True):
            mesh = sheet(cut=cut)
            for clock in (1.0, 1.5, 2.0):
                for pairs in self.stood(mesh, clock)[:2]:
                    self.assertLess(float(np.linalg.norm(pairs[:, 0] - pairs[:, 1], axis=1).max()), 2e-4, (cut, clock))

    def test_it_is_the_normal_of_the_bent_surface_as_nearly_as_its_points_can_show(self):
        for across, rim, within in (
            (9, 18, 6),
            (33, 5.5, 0.5),
            (129, 1.5, 0.05),
        ):  # degrees: of the first order in a cell's width at the rim, else the second
            mesh = sheet(across, frames=(0.0, 0.4))
            x, z = mesh.points[:, 0], mesh.points[:, 2]
            off = np.degrees(np.arccos(np.clip(np.einsum("ij,ij->i", mesh.normals_at(1.0), normal(x, z, 0.4)), -1, 1)))
            inner = (np.abs(x) < 0.999) & (np.abs(z) < 0.999)
            self.assertLess(float(off.max()), rim, across)
            self.assertLess(float(off[inner].max()), within, across)

    def test_a_mesh_that_only_turns_is_turned_exactly_and_at_rest_nothing_is(self):
        turn = np.array([[0.36, 0.48, -0.8], [-0.8, 0.6, 0.0], [0.48, 0.64, 0.6]])
        ball = sheet(frames=(0.4,) * 2)
        moved = replace(
            ball, frames=np.stack([ball.points, (ball.points @ turn.T).astype(np.float32)]), times=np.array([0.0, 1.0])
        )
        chance = np.random.default_rng(3)
        face, bary = chance.integers(0, len(moved.faces), 200), chance.dirichlet([1, 1, 1], 200)
        np.testing.assert_allclose(moved.turned(face, bary, 0.0), np.broadcast_to(np.eye(3), (200, 3, 3)), atol=1e-6)
        np.testing.assert_allclose(moved.turned(face, bary, 1.0), np.broadcast_to(turn, (200, 3, 3)), atol=1e-5)
        rotations = sheet().turned(face, bary, 1.3)
        np.testing.assert_allclose(
            np.einsum("nij,nik->njk", rotations, rotations), np.broadcast_to(np.eye(3), (200, 3, 3)), atol=1e-9
        )
        near = Places(face.astype(np.int32), bary)
        np.testing.assert_allclose(
            np.einsum("nij,nj->ni", moved.turned(face, bary, 1.0), moved.normal(near)),
            moved.normal(near) @ turn.T,
            atol=1e-5,
        )
