"""Neighbours against brute force (`scipy.spatial.cKDTree`), and the three rules of flocks by their laws."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from kagero.core.simulation.neighbours import neighbour_values
from tests.making import STRAIGHT, emitter, playing, response, row
from tests.soak import examples


class WhoIsNear(unittest.TestCase):
    @given(
        st.integers(1, 400),
        st.floats(0.01, 3),
        st.floats(0, 6),
        st.booleans(),
        st.integers(0, 2**32 - 1),
        st.sampled_from([1, 2, 3]),
    )
    @settings(max_examples=examples(60), deadline=None)
    def test_as_a_tree_of_points_finds_them(self, count, radius, spread, alike, seed, threads):
        """Spread wide, in heaps and in one place; each with a radius of its own or all with the same."""
        chance = np.random.default_rng(seed)
        place = (chance.normal(size=(count, 3)) * 10.0 ** (spread - 3)).astype(np.float32).astype(float)
        place[: count // 3] = place[0] + chance.normal(size=(count // 3, 3)) * radius
        velocity = chance.normal(size=(count, 3))
        radii = np.full(count, radius) if alike else radius * chance.uniform(0, 1, count)
        place, velocity, radii = (each.astype(np.float32).astype(float) for each in (place, velocity, radii))
        values = neighbour_values(
            *(np.ascontiguousarray(c.T, np.float32) for c in (place, velocity)), radii.astype(np.float32), threads
        )
        found, wider, narrower = (cKDTree(place).query_ball_point(place, radii * (1 + by)) for by in (0.0, 1e-5, -1e-5))
        for i, there in enumerate(found):
            others = [j for j in there if j != i]
            if len(others) >= 256 or len(wider[i]) != len(narrower[i]):  # one at the very edge, which rounding decides
                continue
            gap = place[others] - place[i]
            distance = np.linalg.norm(gap, axis=1)
            self.assertEqual(values[i, 0], len(others))
            np.testing.assert_allclose(values[i, 1], distance.min(initial=radii[i]), rtol=1e-5, atol=1e-12)
            if others:
                some = np.maximum(distance, 1e-12)[:, None]
                away = np.where(some > 1e-9, -gap / some * (1 - some / radii[i]), 0)
                np.testing.assert_allclose(values[i, 2:5], away.sum(axis=0), atol=1e-5 * len(others))
                np.testing.assert_allclose(values[i, 5:8], velocity[others].mean(axis=0), atol=1e-5)
                np.testing.assert_allclose(values[i, 8:11], gap.mean(axis=0), atol=1e-5 * max(radii[i], 1e-9))

    def test_any_number_of_threads_gives_the_same_bytes(self):
        chance = np.random.default_rng(1)
        result = (chance.uniform(0, 4, (3, 9000)), chance.normal(size=(3, 9000)), chance.uniform(0.1, 0.3, 9000))
        particles = [each.astype(np.float32) for each in result]
        one = neighbour_values(*particles, 1)
        self.assertGreater(one[:, 0].mean(), 2)
        for threads in (2, 5):
            self.assertEqual(neighbour_values(*particles, threads).tobytes(), one.tobytes())


def flock(**rules: float):
    """Return an emitter of 300 particles in a ball that see each other within 0.5 m."""
    push = {
        "kind": "neighbours",
        "uid": "n",
        **{"strength": row(0.0)},
        **{name: row(value) for name, value in rules.items()},
    }
    size = response(
        "s",
        {"kind": "neighbours", "part": "count"},
        STRAIGHT,
        operation="set",
        shape="linear",
        input=(0, 1000),
        output=(0, 1000),
    )
    return emitter(
        births__rate=row(0),
        births__bursts=[{"uid": "b", "frame": 0, "count": 300}],
        births__lifespan=row(90.0),
        look__size=row(0.0, size),
        births__place={"kind": "sphere", "centre": row([0.0, 0.0, 0.0]), "radius": row(1.0)},
        births__launch__speed=row(1.0),
        births__launch__cone=row(2.5),
        forces=[push],
        motion={"near": {"within": row(0.5)}},
    )


class Flocks(unittest.TestCase):
    def at(self, one, frame: int):
        clip = playing(one)
        population = clip.frames(frame)[0].population
        place, direction = (
            np.stack([np.asarray(c, float) for c in each], axis=1)
            for each in (population.position, population.velocity)
        )
        return clip, place, direction

    def test_apart_following_and_together(self):
        """Keeping apart spreads and adds no momentum (action and reaction: Newton's third law); following evens out
        ways; together draws in."""
        _, free, flies = self.at(flock(), 12)
        _, apart, ways = self.at(flock(strength=1.0), 12)
        nearest = [cKDTree(p).query(p, k=2)[0][:, 1].mean() for p in (free, apart)]
        self.assertGreater(nearest[1], 1.05 * nearest[0])
        np.testing.assert_allclose(ways.mean(axis=0), flies.mean(axis=0), atol=1e-4)
        _, place, ways = self.at(flock(follow=8.0), 12)

        def unlike(place, ways):
            pairs = cKDTree(place).query_pairs(0.3, output_type="ndarray")
            return np.linalg.norm(ways[pairs[:, 0]] - ways[pairs[:, 1]], axis=1).mean()

        self.assertLess(unlike(place, ways), 0.6 * unlike(free, flies))
        _, place, _ = self.at(flock(together=6.0), 12)
        self.assertLess(
            cKDTree(place).query(place, k=6)[0][:, 1:].mean(), 0.95 * cKDTree(free).query(free, k=6)[0][:, 1:].mean()
        )

    def test_how_many_is_a_source(self):
        result, place, _ = self.at(flock(), 12)
        counts = result.show(12)[0].column("size")
        wanted = np.array([len(each) - 1 for each in cKDTree(place).query_ball_point(place, 0.5 - 1e-7)])
        self.assertGreater((counts == wanted).mean(), 0.98)  # places of float32, at the very edge
        self.assertGreater(wanted.mean(), 5)

    def test_from_a_checkpoint_as_from_the_start(self):
        one = flock(strength=1.0, follow=1.0)
        straight = playing(one).frames(30)[0].population
        broken = playing(one)
        for frame in (7, 19, 30):
            last = broken.frames(frame)[0].population
        for a, b in zip(straight.columns(), last.columns(), strict=True):
            self.assertEqual(a.tobytes(), b.tobytes())


if __name__ == "__main__":
    unittest.main()
