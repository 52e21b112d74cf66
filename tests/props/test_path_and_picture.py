"""Paths by length, frames without twist, pictures between their pixels: against closed forms."""

from __future__ import annotations

import math
import unittest

import colour
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.geometry import Path, Picture
from tests.soak import examples

coordinates = st.tuples(*[st.floats(-5, 5)] * 3)


def helix(turns: float = 3.0, radius: float = 1.0, pitch: float = 0.5, count: int = 2000) -> Path:
    t = np.linspace(0, 2 * math.pi * turns, count)
    return Path(np.stack([radius * np.cos(t), pitch * t / (2 * math.pi), radius * np.sin(t)], 1))


class Paths(unittest.TestCase):
    def test_places_are_even_by_length(self):
        path = helix()
        self.assertAlmostEqual(path.length, 3 * math.hypot(2 * math.pi, 0.5), places=3)
        gaps = np.linalg.norm(np.diff(path.point(np.linspace(0, 1, 500)), axis=0), axis=1)
        self.assertLess(gaps.std() / gaps.mean(), 1e-3)
        uneven = Path(np.array([[0, 0, 0], [0.01, 0, 0], [0.02, 0, 0], [5, 0, 0]], float))
        np.testing.assert_allclose(uneven.point(np.linspace(0, 1, 11))[:, 0], np.linspace(0, 5, 11), atol=1e-12)

    def test_frames_are_orthonormal_continuous_and_turn_no_more_than_the_path(self):
        for path in (helix(), Path.through(np.random.default_rng(2).normal(size=(12, 3)), closed=True)):
            share = np.linspace(0, 1, 4000)
            tangent, up, side = path.frame(share)
            for a, b, wanted in [(tangent, tangent, 1), (up, up, 1), (side, side, 1), (tangent, up, 0), (up, side, 0)]:
                np.testing.assert_allclose(np.einsum("ij,ij->i", a, b), wanted, atol=1e-9)
            turn, bend = (np.linalg.norm(np.diff(v, axis=0), axis=1) for v in (up, tangent))
            self.assertLess((turn - bend).max(), 5e-3)  # it turns with the path, and no more
        tangent, up, _ = helix().frame(np.linspace(0, 1, 3000))
        spin = np.einsum("ij,ij->i", np.diff(up, axis=0), np.cross(tangent, up)[:-1])
        self.assertLess(np.abs(spin).max(), 1e-4)  # no turning about the tangent

    @given(
        st.lists(coordinates, min_size=1, max_size=8),
        st.booleans(),
        st.lists(st.floats(-2, 2), min_size=1, max_size=12),
        st.integers(0, 9),
    )
    @settings(max_examples=examples(60), deadline=None)
    def test_what_stands_on_a_path_that_is_moved_turned_and_stretched_is_its_place_and_frame_brought_there(
        self, points, closed, shares, seed
    ):
        """One matrix for all or one each, against numpy, in whatever order shares come."""
        path, share, rng = Path.through(points, closed), np.array(shares), np.random.default_rng(seed)
        for count in (1, len(shares)):
            matrices = np.tile(np.eye(4), (count, 1, 1))
            matrices[:, :3] += rng.normal(0, 0.2, (count, 3, 4))
            turn = np.broadcast_to(matrices[:, :3, :3], (len(shares), 3, 3))
            tangent, up = (np.einsum("nij,nj->ni", turn, each) for each in path.frame(share)[:2])
            tangent /= np.linalg.norm(tangent, axis=1, keepdims=True)
            up -= tangent * np.einsum("ij,ij->i", up, tangent)[:, None]
            up /= np.linalg.norm(up, axis=1, keepdims=True)
            wanted = [
                np.einsum("nij,nj->ni", turn, path.point(share)) + matrices[:, :3, 3],
                tangent,
                up,
                np.cross(tangent, up),
            ]
            np.testing.assert_allclose(path.standing(share, matrices), np.concatenate(wanted, axis=1).T, atol=1e-9)

    def test_a_closed_path_meets_itself(self):
        path = Path.through([[0, 0, 0], [2, 0, 0], [2, 1, 1], [0, 0, 2]], closed=True)
        for values in (
            path.point(np.array([0.0, 1.0, 2.0])),
            *(f[:2] for f in [path.frame(np.array([1e-9, 1 - 1e-9]))[1]]),
        ):
            np.testing.assert_allclose(values[0], values[1], atol=1e-3)

    @given(st.lists(coordinates, min_size=1, max_size=8), st.booleans())
    @settings(max_examples=examples(60), deadline=None)
    def test_a_drawn_path_goes_through_its_points_and_is_finite(self, points, closed):
        path = Path.through(points, closed)
        _, away = path.nearest(np.asarray(points, float))
        self.assertLess(away.max(), 1e-6)
        for values in (path.point(np.linspace(0, 1, 17)), *path.frame(np.linspace(0, 1, 17))):
            self.assertTrue(np.isfinite(values).all())

    def test_points_that_nearly_meet_leave_no_tangent_of_their_rounding(self):
        """A circle whose last point misses the first by 1e-7 m, and one with a point twice along it: the tangent is the
        circle's own all along."""
        turn = np.linspace(0, 2 * np.pi, 401)
        circle = np.column_stack([np.cos(turn), np.zeros(401), np.sin(turn)])
        circle[-1] = circle[0] + (0, 1e-7, 0)
        twice = np.insert(circle, 200, circle[200] + (0, 3e-8, -3e-8), axis=0)
        for points in (circle, twice, circle[:-1]):
            for path in (Path.of(points, True), Path.through(points, True)):
                share = np.linspace(0, 1, 5000)
                tangent, _, _ = path.frame(share)
                own = np.column_stack([-np.sin(2 * np.pi * share), np.zeros(5000), np.cos(2 * np.pi * share)])
                self.assertLess(float(np.abs(tangent - own).max()), 0.02)
        open_one = Path.of(np.array([[0.0, 0, 0], [1, 0, 0], [1 + 1e-9, 0, 0]]))
        self.assertEqual((open_one.length, len(open_one.points)), (1 + 1e-9, 2))
        self.assertEqual(len(Path.of(np.zeros((5, 3)), True).points), 1)

    def test_nearest_share(self):
        path = Path(np.array([[0, 0, 0], [4, 0, 0], [4, 0, 4]], float))
        share, away = path.nearest(np.array([[1, 2, 0], [5, 0, 3], [-1, 0, 0]], float))
        np.testing.assert_allclose(share, [1 / 8, 7 / 8, 0])
        np.testing.assert_allclose(away, [2, 1, 1])


class Pictures(unittest.TestCase):
    def test_pixels_stand_at_their_centres_and_the_first_row_is_the_top(self):
        picture = Picture(np.arange(2 * 4 * 4, dtype=np.float32).reshape(2, 4, 4))
        for row in range(2):
            for column in range(4):
                uv = np.array([[(column + 0.5) / 4, 1 - (row + 0.5) / 2]])
                np.testing.assert_allclose(picture.at(uv)[0], picture.pixels[row, column])
        between = picture.at(np.array([[0.25, 0.5]]), "hold")[0]
        np.testing.assert_allclose(between, picture.pixels[:, :2].mean(axis=(0, 1)))

    def test_outside_it_repeats_or_holds(self):
        picture = Picture(np.random.default_rng(1).random((3, 5, 4)).astype(np.float32))
        uv = np.random.default_rng(2).random((50, 2))
        np.testing.assert_allclose(picture.at(uv + np.array([2, -3])), picture.at(uv), atol=1e-5)
        np.testing.assert_allclose(
            picture.at(np.array([[-4.0, 0.5]]), "hold"), picture.at(np.array([[0.0, 0.5]]), "hold")
        )

    def test_srgb_is_decoded_by_iec_61966_2_1(self):
        values = np.linspace(0, 1, 256, dtype=np.float32).reshape(16, 16)
        picture = Picture.from_srgb(np.stack([values] * 3, 2))
        np.testing.assert_allclose(picture.pixels[:, :, 0], colour.models.eotf_sRGB(values.astype(float)), atol=2e-6)
        self.assertTrue((picture.pixels[:, :, 3] == 1).all())

    def test_small_levels_keep_the_mean(self):
        picture = Picture(np.random.default_rng(3).random((64, 32, 4)).astype(np.float32))
        for level in picture.levels:
            np.testing.assert_allclose(level.mean(axis=(0, 1)), picture.pixels.mean(axis=(0, 1)), atol=1e-4)
        np.testing.assert_allclose(
            picture.at(np.array([[0.3, 0.3]]), footprint=1.0)[0], picture.pixels.mean(axis=(0, 1)), atol=1e-4
        )
        self.assertAlmostEqual(
            picture.channel(np.array([[0.5, 0.5]]), "luminance")[0],
            picture.at(np.array([[0.5, 0.5]]))[0, :3] @ [0.2126, 0.7152, 0.0722],
        )
