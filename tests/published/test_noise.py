"""Noise and curl noise against their sources."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from kagero.core.kernels.noise import PERMUTATION, _noise_with_gradient, curl_noise_into, lattice_offsets
from tests.oracles import perlin

coordinate = st.floats(-300, 300, allow_nan=False)


class ImprovedNoise(unittest.TestCase):
    """K. Perlin, "Improving noise", SIGGRAPH 2002."""

    def test_published_value(self):
        # what ports of his reference code quote for (3.14, 42, 7). It stands here from memory: no library of the
        # registry computes his table of
        # 2002. `perlin.noise`, written out from the paper, gives it too, which holds the table and the code against
        # each other
        self.assertAlmostEqual(_noise_with_gradient(3.14, 42.0, 7.0)[0], 0.13691995878400012, places=14)
        self.assertAlmostEqual(perlin.noise(3.14, 42.0, 7.0), 0.13691995878400012, places=14)

    def test_table_is_a_permutation_twice(self):
        self.assertEqual(sorted(PERMUTATION[:256]), list(range(256)))
        np.testing.assert_array_equal(PERMUTATION[:256], PERMUTATION[256:])

    @given(coordinate, coordinate, coordinate)
    def test_equals_the_reference_code(self, x, y, z):
        self.assertAlmostEqual(_noise_with_gradient(x, y, z)[0], perlin.noise(x, y, z), places=11)

    @given(st.integers(-500, 500), st.integers(-500, 500), st.integers(-500, 500))
    def test_nought_on_the_lattice(self, x, y, z):
        self.assertEqual(_noise_with_gradient(float(x), float(y), float(z))[0], 0)

    @given(coordinate, coordinate, coordinate)
    def test_derivatives_are_those_of_the_noise(self, x, y, z):
        h = 1e-5
        _, *slopes = _noise_with_gradient(x, y, z)
        for axis, slope in enumerate(slopes):
            step = np.eye(3)[axis] * h
            numeric = (
                perlin.noise(x + step[0], y + step[1], z + step[2])
                - perlin.noise(x - step[0], y - step[1], z - step[2])
            ) / (2 * h)
            self.assertAlmostEqual(slope, numeric, places=5)


def curl_at(points: np.ndarray, *, scale: float = 1.0, octaves: int = 2) -> np.ndarray:
    columns = [np.ascontiguousarray(points[:, i], np.float32) for i in range(3)]
    out = [np.empty(len(points), np.float32) for _ in range(3)]
    one = lambda v: np.full(1, v, np.float32)
    curl_noise_into(*columns, one(0.3), one(scale), one(0.2), one(0.5), lattice_offsets(99), octaves, *out)
    return np.stack(out, axis=1).astype(np.float64)


class CurlNoise(unittest.TestCase):
    """Bridson, Hourihan and Nordenstam, SIGGRAPH 2007: the curl of a potential has no divergence."""

    def test_divergence_is_nought_beside_the_field(self):
        points = np.random.default_rng(1).uniform(-20, 20, (4000, 3))
        h = 1 / 64  # exact in float32, so that the differences are those of the points asked for
        divergence = 0
        slopes = []
        for axis in range(3):
            step = np.eye(3)[axis] * h
            slope = (curl_at(points + step) - curl_at(points - step)) / (2 * h)
            slopes.append(np.abs(slope))
            divergence = divergence + slope[:, axis]
        typical = np.mean(slopes)
        self.assertGreater(typical, 0.3)  # the field does change
        # the rest is the central difference's own error, of order h^2 times the third derivatives
        self.assertLess(np.percentile(np.abs(divergence), 99), 0.05 * typical)

    def test_divergence_vanishes_with_the_difference_step(self):
        points = np.round(np.random.default_rng(2).uniform(-4, 4, (2000, 3)) * 256) / 256
        residues = []
        for h in (1 / 8, 1 / 16, 1 / 32):
            total = 0
            for axis in range(3):
                step = np.eye(3)[axis] * h
                total = total + (
                    curl_at(points + step, octaves=1)[:, axis] - curl_at(points - step, octaves=1)[:, axis]
                ) / (2 * h)
            residues.append(np.sqrt(np.mean(total**2)))
        self.assertLess(residues[1], residues[0] / 3)
        self.assertLess(residues[2], residues[1] / 3)

    def test_scale_stretches_the_field(self):
        points = np.random.default_rng(3).uniform(-3, 3, (200, 3)).astype(np.float32)
        still, offsets = np.zeros(1, np.float32), lattice_offsets(99)
        results = []
        for scale in (1, 2):
            out = [np.empty(200, np.float32) for _ in range(3)]
            columns = [np.ascontiguousarray(points[:, i] * scale) for i in range(3)]
            curl_noise_into(*columns, still, np.full(1, scale, np.float32), still, still, offsets, 1, *out)
            results.append(out)
        np.testing.assert_array_equal(results[0], results[1])
