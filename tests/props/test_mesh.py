"""Meshes asked many points at once: against closed forms, brute force, and trimesh with embree and rtree."""

from __future__ import annotations

import math
import unittest

import numpy as np
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from kagero.core.geometry import Mesh, Places, shape
from tests.making.props import bumpy
from tests.soak import examples

RNG = np.random.default_rng(11)


def uneven(count: int = 60, seed: int = 3) -> Mesh:
    """A soup of triangles whose areas differ by thousands."""
    rng = np.random.default_rng(seed)
    centre, size = rng.uniform(-1, 1, (count, 1, 3)), 10 ** rng.uniform(-2, 0, (count, 1, 1))
    return Mesh.of((centre + rng.normal(size=(count, 3, 3)) * size).reshape(-1, 3), np.arange(count * 3))


def brute_nearest(mesh: Mesh, points: np.ndarray) -> np.ndarray:
    """Distances by trying many places of every triangle's plane, edges and corners: slow, and nothing like the
    product's."""
    best = np.full(len(points), np.inf)
    for a, b, c in mesh.corners:
        n = np.cross(b - a, c - a)
        if n @ n > 0:
            inside = points - np.outer((points - a) @ n / (n @ n), n)
            s = [np.cross(q - p, inside - p) @ n for p, q in ((a, b), (b, c), (c, a))]
            over = np.all(np.stack(s) >= 0, axis=0)
            best = np.where(over, np.minimum(best, np.linalg.norm(points - inside, axis=1)), best)
        for p, q in ((a, b), (b, c), (c, a)):
            t = np.clip((points - p) @ (q - p) / max((q - p) @ (q - p), 1e-300), 0, 1)
            best = np.minimum(best, np.linalg.norm(points - p - np.outer(t, q - p), axis=1))
    return best


class Sampling(unittest.TestCase):
    def test_a_surface_is_even_by_area(self):
        mesh = uneven()
        places = mesh.on_surface(*RNG.random((3, 200_000)))
        expected = 200_000 * mesh.areas / mesh.areas.sum()
        seen = np.bincount(places.face, minlength=len(mesh.faces))
        often = expected > 5
        chi = ((seen[often] - expected[often]) ** 2 / expected[often]).sum()
        self.assertGreater(stats.chi2.sf(chi, often.sum() - 1), 1e-3)
        # and within a triangle: each barycentric coordinate of an even spread has density 2 (1 - x)
        largest = places.bary[places.face == mesh.areas.argmax()]
        for k in range(3):
            self.assertGreater(stats.kstest(largest[:, k], lambda x: 1 - (1 - x) ** 2).pvalue, 1e-3)
        np.testing.assert_allclose(places.bary.sum(axis=1), 1, atol=1e-12)
        self.assertGreaterEqual(places.bary.min(), 0)

    def test_a_volume_is_inside_and_even(self):
        ball = shape("sphere", radius=1.0)
        points, found = ball.in_volume(RNG.random((20_000, 32, 3)))
        self.assertGreater(found.mean(), 0.9999)
        radius = np.linalg.norm(points, axis=1)
        self.assertLess(radius.max(), 1)
        self.assertGreater(
            stats.kstest(radius, lambda r: np.clip(r / 0.9985, 0, 1) ** 3).pvalue, 1e-4
        )  # of a ball of many flat sides
        box = shape("box", width=2.0, height=1.0, depth=1.0)
        points, found = box.in_volume(RNG.random((5_000, 4, 3)))
        self.assertTrue(found.all())
        for k, half in enumerate((1, 0.5, 0.5)):
            self.assertGreater(stats.kstest(points[:, k], stats.uniform(-half, 2 * half).cdf).pvalue, 1e-3)

    def test_points_and_edges(self):
        mesh = bumpy()
        index = np.arange(len(mesh.points))
        np.testing.assert_allclose(mesh.point(mesh.at_points(index)), mesh.points, atol=1e-7)
        self.assertEqual(len(mesh.edges), len(mesh.faces) * 3 // 2)  # Euler: closed, each edge shared by two
        square = Mesh.of([[0, 0, 0], [4, 0, 0], [4, 0, 1], [0, 0, 1]], [[0, 1, 2], [0, 2, 3]])
        on = square.on_edges(*RNG.random((2, 50_000)))
        long_side = np.isclose(on[:, 2], 0) & (on[:, 0] > 0)
        whole = 4 + 1 + 4 + 1 + math.hypot(4, 1)
        self.assertAlmostEqual(long_side.mean(), 4 / whole, delta=0.01)


class Nearest(unittest.TestCase):
    @given(st.integers(0, 10_000), st.integers(1, 40))
    @settings(max_examples=examples(25), deadline=None)
    def test_nearest_points_are_those_of_brute_force(self, seed, count):
        mesh = uneven(count, seed)
        points = np.random.default_rng(seed).uniform(-2, 2, (50, 3))
        places, away = mesh.nearest(points)
        np.testing.assert_allclose(away, brute_nearest(mesh, points), rtol=1e-9, atol=1e-12)
        np.testing.assert_allclose(np.linalg.norm(mesh.point(places) - points, axis=1), away, rtol=1e-9, atol=1e-12)
        self.assertGreaterEqual(places.bary.min(), -1e-12)

    def test_nearest_points_and_rays_are_those_of_a_reference_library(self):
        mesh = bumpy()
        other = trimesh.Trimesh(mesh.points.astype(float), mesh.faces, process=False)
        points = RNG.uniform(-2, 2, (400, 3))
        _, away = mesh.nearest(points)
        np.testing.assert_allclose(away, trimesh.proximity.closest_point(other, points)[1], atol=1e-6)
        origins, directions = RNG.normal(size=(4000, 3)), RNG.normal(size=(4000, 3))
        _, reach = mesh.hits(origins, directions)
        hit, ray, _ = trimesh.ray.ray_pyembree.RayMeshIntersector(other).intersects_location(
            origins, directions, multiple_hits=False
        )
        theirs = np.full(len(origins), np.inf)
        theirs[ray] = np.linalg.norm(hit - origins[ray], axis=1)
        ours = reach * np.linalg.norm(directions, axis=1)
        agree = np.isclose(ours, theirs, atol=1e-4) | (np.isinf(ours) & np.isinf(theirs))
        self.assertGreater(agree.mean(), 0.9995)  # single precision there: a ray along an edge may go either way
        inside = mesh.inside(origins)
        np.testing.assert_array_equal(inside, other.contains(origins))
        self.assertTrue(0.2 < inside.mean() < 0.8)

    def test_rays_hit_from_either_side_and_edges_and_flat_triangles_do_no_harm(self):
        flat = Mesh.of(
            [[-1, 0, -1], [1, 0, -1], [1, 0, 1], [-1, 0, 1], [0, 0, 0]], [[0, 1, 2], [0, 2, 3], [4, 4, 4], [0, 1, 1]]
        )
        for y in (2.0, -2.0):
            places, reach = flat.hits(
                np.array([[0.0, y, 0.0], [0.5, y, 0.5], [3.0, y, 0.0]]), np.array([[0.0, -y, 0.0]] * 3)
            )
            np.testing.assert_allclose(reach, [1, 1, np.inf])
            self.assertEqual(places.face[2], -1)
        nothing = Mesh.of(np.zeros((0, 3)), np.zeros((0, 3)))
        self.assertTrue(
            np.isinf(nothing.nearest(np.zeros((2, 3)))[1]).all()
            and np.isinf(nothing.hits(np.zeros((2, 3)), np.ones((2, 3)))[1]).all()
        )

    def test_inside_of_an_open_and_a_turned_mesh(self):
        ball = shape("sphere", radius=1.0)
        turned = Mesh.of(ball.points, ball.faces[:, ::-1])
        torn = Mesh.of(ball.points, ball.faces[:-120])
        points = RNG.uniform(-1.2, 1.2, (2000, 3))
        away = np.abs(np.linalg.norm(points, axis=1) - 1) > 0.15
        inside = np.linalg.norm(points, axis=1) < 1
        for mesh in (ball, turned, torn):
            self.assertGreater((mesh.inside(points) == inside)[away].mean(), 0.995)
        self.assertTrue(ball.is_closed and not torn.is_closed)


class Frames(unittest.TestCase):
    def test_frames_are_orthonormal_and_follow_u(self):
        for kind in ("sphere", "cylinder", "disc", "ring", "plane", "box"):
            mesh = shape(kind)
            places = mesh.on_surface(*RNG.random((3, 2000)))
            tangent, bitangent, normal = mesh.frame(places)
            for a, b, wanted in [
                (tangent, tangent, 1),
                (bitangent, bitangent, 1),
                (normal, normal, 1),
                (tangent, normal, 0),
                (tangent, bitangent, 0),
            ]:
                np.testing.assert_allclose(np.einsum("ij,ij->i", a, b), wanted, atol=1e-9)
            np.testing.assert_allclose(np.cross(tangent, bitangent), normal, atol=1e-9)
            step = mesh.point(places) + tangent * 1e-4  # a little way along the tangent, u has grown
            near, _ = mesh.nearest(step)
            grown = mesh.uv_at(near)[:, 0] - mesh.uv_at(places)[:, 0]
            self.assertGreater(np.mean((grown > 0) | (grown < -0.5)), 0.97, kind)

    def test_frames_are_continuous_across_triangles(self):
        mesh = shape("sphere", radius=1.0)
        angle = np.linspace(0, 2 * math.pi, 3000)
        places, _ = mesh.nearest(np.stack([np.cos(angle), 0.3 + 0 * angle, np.sin(angle)], 1))
        tangent, _, normal = mesh.frame(places)
        for vectors in (tangent, normal):
            self.assertLess(np.linalg.norm(np.diff(vectors, axis=0), axis=1).max(), 0.12)

    def test_uv_leads_to_the_place_it_came_from(self):
        for kind in ("sphere", "cylinder", "disc", "plane", "box", "funnel"):
            mesh = shape(kind, profile=[(0.1, 0.0), (0.3, 0.2), (0.5, 1.0)]) if kind == "funnel" else shape(kind)
            places = mesh.on_surface(*RNG.random((3, 1000)))
            back, found = mesh.at_uv(mesh.uv_at(places))
            self.assertTrue(found.all(), kind)
            np.testing.assert_allclose(mesh.point(back), mesh.point(places), atol=1e-5, err_msg=kind)
        self.assertFalse(shape("plane").at_uv(np.array([[1.5, 0.5]]))[1][0])


class Moving(unittest.TestCase):
    def turning(self, rate: float = 0.5, frames: int = 49) -> Mesh:
        """A disc turning about the upright axis and growing: position and velocity have closed forms."""
        flat = shape("disc", radius=1.0)
        times = np.linspace(0, 2, frames)
        collected = []
        for t in times:
            c, s = math.cos(rate * t), math.sin(rate * t)
            collected.append(flat.points @ np.array([[c, 0, -s], [0, 1, 0], [s, 0, c]]).T * (1 + 0.25 * t))
        return Mesh(
            flat.points,
            flat.faces,
            flat.uv,
            flat.material,
            flat.colours,
            frames=np.array(collected, np.float32),
            times=times,
        )

    def test_between_frames_and_velocity_against_closed_forms(self):
        rate, mesh = 0.5, self.turning(0.5)
        places = mesh.on_surface(*RNG.random((3, 500)))
        rest = mesh.point(places)
        for t in (0.0, 0.31, 1.0, 1.777, 2.0):
            c, s, grown = math.cos(rate * t), math.sin(rate * t), 1 + 0.25 * t
            turn = np.array([[c, 0, -s], [0, 1, 0], [s, 0, c]])
            there = rest @ turn.T * grown
            np.testing.assert_allclose(mesh.moved_point(places, t), there, atol=2e-4)
            wanted = np.cross([0, -rate, 0], there) + there * 0.25 / grown  # turning, and stretching
            np.testing.assert_allclose(mesh.velocity(places, t), wanted, atol=0.012)
        self.assertTrue((mesh.velocities_at(2.5) == 0).all())
        np.testing.assert_array_equal(mesh.points_at(9.0), mesh.points_at(2.0))

    def test_a_place_stays_on_its_triangle(self):
        mesh = self.turning()
        places = Places(np.array([5, 9], np.int32), np.array([[0.2, 0.3, 0.5], [1.0, 0, 0]]))
        at = mesh.at(1.234)
        np.testing.assert_allclose(at.point(places), mesh.moved_point(places, 1.234), atol=1e-6)
        np.testing.assert_array_equal(mesh.uv_at(places), at.uv_at(places))
