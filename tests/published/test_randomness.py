"""Draws and places against scipy.stats. Seeds are fixed, so that a test fails for a reason, not by chance."""

from __future__ import annotations

import unittest

import numpy as np
from scipy import stats

from kagero.core.kernels.random import burst_keys, normal_into, seed_of, uniform_into
from tests.making import emitter, playing, row

COUNT = 40_000
ENOUGH = 0.001  # a p-value below it would be a defect, not chance: the seeds are fixed


def born(**changes) -> np.ndarray:
    """Return the birth positions of COUNT particles, (n, 3)."""
    one = emitter(births__rate=row(0), births__bursts=[{"uid": "b", "frame": 0, "count": COUNT}], **changes)
    return np.stack(playing(one, seed=11).frames(0)[0].population.position, axis=1).astype(float)


def uniform(test: unittest.TestCase, values: np.ndarray, low: float = 0, high: float = 1) -> None:
    test.assertGreater(stats.kstest(values, "uniform", args=(low, high - low)).pvalue, ENOUGH)


class Draws(unittest.TestCase):
    def draw(self, seed: int, count: int = COUNT) -> np.ndarray:
        out = np.empty(count, np.float32)
        uniform_into(np.arange(count, dtype=np.uint64), np.uint64(seed), out)
        return out.astype(float)

    def test_even_in_0_to_1(self):
        for name in ("a", "b", "c"):
            values = self.draw(seed_of(1, "one", name))
            uniform(self, values)
            self.assertTrue((values >= 0).all() and (values < 1).all())

    def test_neighbours_and_other_draws_are_independent(self):
        a, b = self.draw(seed_of(1, "one", "a")), self.draw(seed_of(1, "one", "b"))
        self.assertLess(abs(stats.spearmanr(a[:-1], a[1:]).statistic), 0.02)
        self.assertLess(abs(stats.spearmanr(a, b).statistic), 0.02)
        cells, *_ = np.histogram2d(a, b, bins=16)
        self.assertGreater(stats.chisquare(cells.ravel()).pvalue, ENOUGH)

    def test_keys_of_bursts_are_all_different_and_never_counted_ones(self):
        keys = np.concatenate([burst_keys(seed_of("burst", uid), 100_000) for uid in "xy"])
        self.assertEqual(len(np.unique(keys)), len(keys))
        self.assertTrue((keys >> np.uint64(63) == 1).all())


class Distributions(unittest.TestCase):
    """Draws of every kind, against scipy.stats."""

    def values(self, **draw) -> np.ndarray:
        one = emitter(
            births__rate=row(0),
            births__bursts=[{"uid": "b", "frame": 0, "count": COUNT}],
            draws=[{"uid": "d", "name": "d", **draw}],
            look__size=row(1.0),
            births__rotation={"base": {"source": {"kind": "draw", "draw": "d"}, "read": "once"}},
        )
        return playing(one, seed=5).frames(0)[0].population.carried["rotation"].astype(float)

    def test_between_and_around(self):
        uniform(self, self.values(kind="uniform", low=row(-2), high=row(5)), -2, 5)
        values = self.values(kind="spread", centre=row(12), spread=row(9))
        uniform(self, values, 3, 21)  # 12 +- 9 spans 3 to 21: common practice, no source

    def test_normal_is_the_quantile_of_the_hash(self):
        """Wichura's AS 241 (PPND7: about seven digits) against scipy.stats.norm.ppf; then the distribution itself."""
        u = (np.arange(4096, dtype=np.float64) / 4096).astype(np.float32)
        u = np.concatenate([u, np.float32([0, 1 - 2.0**-24, 2.0**-24])])
        out = np.empty(len(u), np.float32)
        normal_into(u, out)
        np.testing.assert_allclose(out, stats.norm.ppf(u.astype(float) + 2.0**-25), rtol=3e-6, atol=1e-6)
        self.assertTrue(np.isfinite(out).all())
        values = self.values(kind="normal", mean=row(2), deviation=row(0.5))
        self.assertGreater(stats.kstest(values, "norm", args=(2, 0.5)).pvalue, ENOUGH)

    def test_normal_without_sign_and_held(self):
        values = self.values(kind="normal", mean=row(0), deviation=row(3), absolute=True)
        self.assertGreater(stats.kstest(values, "halfnorm", args=(0, 3)).pvalue, ENOUGH)
        held = self.values(kind="normal", mean=row(0), deviation=row(1), clamped=True, lowest=row(-0.5), highest=row(1))
        self.assertEqual((held.min(), held.max()), (-0.5, 1))
        self.assertAlmostEqual(np.mean(held == 1), stats.norm.sf(1), delta=0.006)

    def test_choices_signs_and_whole_numbers(self):
        weights = np.array([1, 3, 0, 4])
        values = self.values(
            kind="choice",
            options=[{"value": v, "weight": float(w)} for v, w in zip((5, -1, 9, 2), weights, strict=True)],
        )
        self.assertEqual(set(values), {5, -1, 2})
        seen = [np.sum(values == v) for v in (5, -1, 2)]
        self.assertGreater(stats.chisquare(seen, np.array([1, 3, 4]) / 8 * COUNT).pvalue, ENOUGH)
        signs = self.values(kind="sign", chance=row(0.3))
        self.assertEqual(set(signs), {-1, 1})
        self.assertGreater(stats.binomtest(int((signs > 0).sum()), COUNT, 0.3).pvalue, ENOUGH)
        whole = self.values(kind="integer", low=row(-2), high=row(3))
        self.assertEqual(sorted(set(whole)), [-2, -1, 0, 1, 2, 3])
        self.assertGreater(stats.chisquare([np.sum(whole == v) for v in range(-2, 4)]).pvalue, ENOUGH)

    def test_bounds_only_scale_and_never_redraw(self):
        one = self.values(kind="uniform")
        np.testing.assert_allclose(self.values(kind="uniform", low=row(10), high=row(14)), 10 + 4 * one, rtol=1e-6)

    def test_bounds_may_be_driven(self):
        """The upper bound rises with birth height from 1 to 3: the largest values are those of the highest."""
        bound = row(
            1.0,
            {
                "kind": "curve",
                "uid": "up",
                "source": {"kind": "height"},
                "read": "once",
                "input": [0, 2],
                "output": [1, 3],
                "operation": "set",
                "curve": {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1}]},
            },
        )
        one = emitter(
            births__rate=row(0),
            births__bursts=[{"uid": "b", "frame": 0, "count": COUNT}],
            draws=[{"uid": "d", "name": "d", "kind": "uniform", "high": bound}],
            births__place={"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([1.0, 2.0, 1.0])},
            births__rotation={"base": {"source": {"kind": "draw", "draw": "d"}, "read": "once"}},
        )
        p = playing(one).frames(0)[0].population
        uniform(self, p.carried["rotation"] / (1 + p.position[1]), 0, 1)


class Places(unittest.TestCase):
    centre = row([1.0, 2.0, 3.0])

    def place(self, kind: str, on: str, **more) -> np.ndarray:
        return born(births__place={"kind": kind, "centre": self.centre, "on": on, **more}) - [1, 2, 3]

    def test_disc_is_even_by_area(self):
        p = self.place("disc", "inside", radius=row(2.0))
        np.testing.assert_allclose(p[:, 1], 0, atol=1e-6)
        uniform(self, (p[:, 0] ** 2 + p[:, 2] ** 2) / 4)
        uniform(self, np.arctan2(p[:, 2], p[:, 0]), -np.pi, np.pi)

    def test_disc_rim(self):
        p = self.place("disc", "surface", radius=row(2.0))
        np.testing.assert_allclose(np.hypot(p[:, 0], p[:, 2]), 2, rtol=1e-5)
        uniform(self, np.arctan2(p[:, 2], p[:, 0]), -np.pi, np.pi)

    def test_sphere_surface_is_even_by_area(self):
        """Archimedes: on a sphere each coordinate is uniform."""
        p = self.place("sphere", "surface", radius=row(2.0))
        np.testing.assert_allclose(np.linalg.norm(p, axis=1), 2, rtol=1e-5)
        for axis in range(3):
            uniform(self, p[:, axis], -2, 2)

    def test_sphere_is_even_by_volume(self):
        p = self.place("sphere", "inside", radius=row(2.0))
        uniform(self, (np.linalg.norm(p, axis=1) / 2) ** 3)
        uniform(self, p[:, 1] / np.linalg.norm(p, axis=1), -1, 1)

    def test_box_is_even_by_volume(self):
        p = self.place("box", "inside", size=row([4.0, 2.0, 1.0]))
        for axis, reach in enumerate((2, 1, 0.5)):
            uniform(self, p[:, axis], -reach, reach)

    def test_box_surface_is_even_by_area(self):
        size = np.array([4.0, 2.0, 1.0])
        p = self.place("box", "surface", size=row(list(size)))
        on = np.isclose(np.abs(p), size / 2, atol=1e-5)
        self.assertTrue(on.any(axis=1).all() and (np.abs(p) <= size / 2 + 1e-5).all())
        axis = on.argmax(axis=1)
        area = np.array([size[1] * size[2], size[2] * size[0], size[0] * size[1]])
        expected = np.repeat(area / area.sum() / 2, 2) * COUNT
        seen = [np.sum((axis == a) & (np.sign(p[:, a]) == s)) for a in range(3) for s in (-1, 1)]
        self.assertGreater(stats.chisquare(seen, expected).pvalue, ENOUGH)
        top = p[(axis == 1) & (p[:, 1] > 0)]
        uniform(self, top[:, 0], -2, 2)
        uniform(self, top[:, 2], -0.5, 0.5)


class Directions(unittest.TestCase):
    def velocities(self, cone: float, direction=(0.3, -1.0, 0.4)) -> np.ndarray:
        one = emitter(
            births__rate=row(0),
            births__bursts=[{"uid": "b", "frame": 0, "count": COUNT}],
            births__launch__cone=row(cone),
            births__launch__direction=row(list(direction)),
            births__launch__speed=row(3.0),
        )
        return np.stack(playing(one).frames(0)[0].population.velocity, axis=1).astype(float)

    def test_even_over_the_cap(self):
        """A cap's area is proportional to its height: the cosine to the axis is uniform from cos(cone) to 1."""
        axis = np.array([0.3, -1.0, 0.4]) / np.linalg.norm([0.3, -1.0, 0.4])
        for cone in (0.2, 1.2, np.pi):
            v = self.velocities(cone)
            np.testing.assert_allclose(np.linalg.norm(v, axis=1), 3, rtol=1e-5)
            uniform(self, v @ axis / 3, np.cos(cone), 1)

    def test_no_cone_is_straight_and_no_direction_is_up(self):
        np.testing.assert_allclose(self.velocities(0.0, (0.0, 0.0, -2.0)), [[0, 0, -3]] * COUNT, atol=1e-5)
        np.testing.assert_allclose(self.velocities(0.0, (0.0, 0.0, 0.0)), [[0, 3, 0]] * COUNT, atol=1e-5)
