"""Births on props: even by area, volume and length, by a picture, bound to the mesh however it moves."""

from __future__ import annotations

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from kagero.core.geometry import Mesh, Path, Picture, shape
from kagero.core.geometry.brush import apply_stroke
from kagero.core.geometry.emission import EmissionSurface
from tests.making.props import swinging

N = 20_000
NOW = np.zeros(1)


def uniform(n: int = N, seed: int = 1) -> np.ndarray:
    return np.random.default_rng(seed).integers(0, 2**24, (n, 3)) / 2**24


def uneven(seed: int = 3) -> Mesh:
    """A square of 1 m, u and v as x and y, in triangles of very different sizes."""
    cuts = np.sort(np.concatenate([[0, 1], np.random.default_rng(seed).random(11) ** 3]))
    x, y = (g.ravel() for g in np.meshgrid(cuts, np.sort(1 - cuts)))
    n = len(cuts)
    quads = [
        (j * n + i, j * n + i + 1, (j + 1) * n + i + 1, (j + 1) * n + i)
        for j, i in itertools.product(range(n - 1), range(n - 1))
    ]
    triangles = [t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))]
    return Mesh.of(np.stack([x, y, np.zeros(n * n)], 1), np.array(triangles), np.stack([x, y], 1))


class Even(unittest.TestCase):
    def test_by_area_on_an_uneven_mesh(self):
        ground = EmissionSurface(uneven())
        binding, offset, found = ground.bind("surface", uniform(), np.zeros(N))
        self.assertTrue(found.all())
        where = ground.stand(binding, offset, NOW)
        cells = np.histogram2d(where[:, 0], where[:, 1], 8, [[0, 1], [0, 1]])[0]
        self.assertGreater(stats.chisquare(cells.ravel()).pvalue, 1e-4)

    def test_by_volume_inside_a_shape_and_none_outside(self):
        for kind, share in (("sphere", np.pi / 6), ("box", 1.0), ("cylinder", np.pi / 4)):
            with self.subTest(kind):
                ground = EmissionSurface(shape(kind))
                binding, offset, found = ground.bind("inside", uniform(4000), np.zeros(4000))
                self.assertTrue(found.all())
                where = ground.stand(binding, offset, NOW)
                self.assertTrue(
                    shape(kind).inside(where).mean() > 0.9995
                )  # a rounding of a place on the surface may fall out
                middle = shape(kind).bounds.mean(axis=0)
                octants = np.bincount(((where > middle) @ [1, 2, 4]), minlength=8)
                self.assertGreater(stats.chisquare(octants).pvalue, 1e-4)
                within = (
                    np.abs(where - middle).max(axis=1) < 0.25
                )  # a cube of an eighth of a cubic metre, wholly inside
                self.assertGreater(stats.binomtest(int(within.sum()), 4000, 0.125 / share).pvalue, 1e-4)

    def test_by_length_along_edges_that_are_seen_and_at_points_that_lie_together_once(self):
        ground = EmissionSurface(shape("box"))
        binding, offset, _ = ground.bind("edges", uniform(), np.zeros(N))
        where = np.abs(ground.stand(binding, offset, NOW))
        on_two_sides = np.isclose(where, 0.5, atol=1e-6).sum(axis=1)
        self.assertTrue((on_two_sides >= 2).all(), "a box has no diagonals")
        along = np.argmin(np.isclose(where, 0.5, atol=1e-6), axis=1)
        self.assertGreater(stats.chisquare(np.bincount(along, minlength=3)).pvalue, 1e-4)
        binding, offset, _ = ground.bind("points", uniform(), np.zeros(N))
        corners, counts = np.unique(ground.stand(binding, offset, NOW).round(5), axis=0, return_counts=True)
        self.assertEqual(len(corners), len(np.unique(shape("box").points.round(5), axis=0)))
        self.assertGreater(stats.chisquare(counts).pvalue, 1e-4)

    def test_along_a_path_and_at_the_points_somebody_drew(self):
        drawn = np.array([[0, 0, 0], [3, 0, 0], [3, 1, 0]], float)
        ground = EmissionSurface(Path(drawn), drawn)
        binding, offset, _ = ground.bind("edges", uniform(), np.zeros(N))
        where = ground.stand(binding, offset, NOW)
        self.assertGreater(stats.binomtest(int((where[:, 1] > 1e-9).sum()), N, 0.25).pvalue, 1e-4)
        binding, offset, _ = ground.bind("points", uniform(), np.zeros(N))
        self.assertEqual(len(np.unique(ground.stand(binding, offset, NOW).round(4), axis=0)), 3)


class ByPicture(unittest.TestCase):
    def test_density_is_proportional_to_luminance_on_an_uneven_mesh(self):
        blocks = np.random.default_rng(5).random((4, 4)).astype(np.float32) ** 2
        blocks[1, 2] = 0
        pixels = np.repeat(np.repeat(blocks, 24, 0), 24, 1)
        picture = Picture(np.stack([pixels, pixels, pixels, np.ones_like(pixels)], 2))
        ground = EmissionSurface(uneven())
        small = ground.divided(lambda uv: picture.channel(uv, wrap="hold"), picture.size)
        binding, offset, _ = ground.bind("surface", uniform(), np.zeros(N), small)
        where = ground.stand(binding, offset, NOW)
        # edges between blocks are two pixels of 24 wide and mix; judge by the inner part of each block
        u, v = where[:, 0] * 4, (1 - where[:, 1]) * 4
        inner = (np.abs(u % 1 - 0.5) < 0.4) & (np.abs(v % 1 - 0.5) < 0.4)
        cells = np.histogram2d(v[inner], u[inner], 4, [[0, 4], [0, 4]])[0]
        self.assertEqual(cells[1, 2], 0)
        wanted = blocks / blocks.sum() * inner.sum()
        keep = wanted > 5
        self.assertGreater(
            stats.chisquare(cells[keep], wanted[keep] / wanted[keep].sum() * cells[keep].sum()).pvalue, 1e-4
        )

    def test_a_black_picture_gives_no_births(self):
        ground = EmissionSurface(uneven())
        small = ground.divided(lambda uv: np.zeros(len(uv)), (8, 8))
        self.assertFalse(ground.bind("surface", uniform(50), np.zeros(50), small)[2].any())

    def test_points_by_a_picture(self):
        ground = EmissionSurface(shape("plane"))
        shares = ground.weighed_points(lambda uv: (uv[:, 0] > 0.5).astype(float))
        binding, offset, _ = ground.bind("points", uniform(2000), np.zeros(2000), None, shares)
        self.assertTrue((ground.stand(binding, offset, NOW)[:, 0] > 0).all())


class Bound(unittest.TestCase):
    def test_places_go_with_a_mesh_that_bends_and_return_to_the_rest_pose_exactly(self):
        mesh = swinging()
        ground = EmissionSurface(mesh)
        for on in ("surface", "inside", "points", "edges"):
            binding, offset, _ = ground.bind(on, uniform(3000), np.full(3000, 0.01))
            rest = ground.stand(binding, offset, NOW)
            back = ground.stand(binding, offset, np.ones(1))
            self.assertEqual(rest.tobytes(), back.tobytes(), on)
            bent = ground.stand(binding, offset, np.full(1, 0.5))
            self.assertGreater(np.linalg.norm(bent - rest, axis=1).mean(), 0.02)
        binding, offset, _ = ground.bind("surface", uniform(3000), np.zeros(3000))
        standing = mesh.at(0.3)
        _, away = standing.nearest(ground.stand(binding, offset, np.full(1, 0.3)))
        self.assertLess(away.max(), 1e-6)

    def test_each_at_a_moment_of_its_own_is_as_all_at_that_moment(self):
        ground = EmissionSurface(swinging())
        binding, offset, _ = ground.bind("inside", uniform(50), np.zeros(50))
        times = np.linspace(0, 1, 50)
        together = ground.stand(binding, offset, times)
        alone = [ground.stand(binding[i : i + 1], offset[i : i + 1], times[i : i + 1])[0] for i in range(50)]
        np.testing.assert_array_equal(together, np.array(alone))

    @given(st.floats(-0.5, 0.5), st.integers(0, 2**31))
    @settings(max_examples=20)
    def test_an_offset_stands_off_along_the_normal(self, away, seed):
        ground = EmissionSurface(shape("sphere"))
        binding, offset, _ = ground.bind("surface", uniform(100, seed), np.full(100, away))
        far = np.linalg.norm(ground.stand(binding, offset, NOW), axis=1)
        np.testing.assert_allclose(far, 0.5 + away, atol=3e-3)  # triangles cut corners of the sphere


class Brush(unittest.TestCase):
    def test_pull_moves_the_middle_by_its_strength_along_the_normal_and_nothing_beyond_the_radius(self):
        ball = shape("sphere")
        pulled = apply_stroke(ball, "pull", 0.3, 0.1, np.array([[0.5, 0.0, 0.0]]))
        moved = pulled.points - ball.points
        beyond = np.linalg.norm(ball.points - [0.5, 0, 0], axis=1) >= 0.3
        self.assertEqual(np.abs(moved[beyond]).max(), 0)
        at = np.argmin(np.linalg.norm(ball.points - [0.5, 0, 0], axis=1))
        np.testing.assert_allclose(moved[at], [0.1, 0, 0], atol=1e-3)
        pushed = apply_stroke(ball, "push", 0.3, 0.1, np.array([[0.5, 0.0, 0.0]]))
        np.testing.assert_allclose(pushed.points - ball.points, -moved, atol=1e-7)

    def test_smooth_makes_a_bump_flatter_and_keeps_seams_together(self):
        ball = apply_stroke(shape("sphere"), "pull", 0.2, 0.2, np.array([[0.5, 0.0, 0.0]]))
        smooth = apply_stroke(ball, "smooth", 0.4, 1.0, np.array([[0.6, 0.0, 0.0]]))
        self.assertLess(np.linalg.norm(smooth.points, axis=1).max(), np.linalg.norm(ball.points, axis=1).max() - 0.01)
        _, same = np.unique(shape("sphere").points.round(6), axis=0, return_inverse=True)
        for mesh in (ball, smooth):
            spread = [np.ptp(mesh.points[same.reshape(-1) == k], axis=0).max() for k in np.unique(same)]
            self.assertLess(max(spread), 1e-6)

    def test_scale_grows_from_the_middle_of_what_is_under_it(self):
        plane = shape("plane")
        grown = apply_stroke(plane, "scale", 10.0, 0.5, np.array([[0.0, 0.0, 0.0]]))
        np.testing.assert_allclose(
            grown.points, plane.points * 1.5, atol=0.02
        )  # 10 m of brush: nearly all of its strength everywhere
