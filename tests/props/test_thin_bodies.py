"""Births inside thin bodies: as many as are asked for, spread evenly; where there is no inside, it is said."""

from __future__ import annotations

import unittest

import numpy as np
import trimesh

from kagero.core.document import read_effect
from kagero.core.geometry import Mesh
from kagero.core.geometry.emission import EmissionSurface
from kagero.core.workflows import Playing
from kagero.core.workflows.why_invisible import explain_invisible
from tests.making import document, emitter, row

COUNT = 4000


def mesh(body: trimesh.Trimesh) -> Mesh:
    corners, faces = body.vertices.astype(np.float32), body.faces.astype(np.int32)
    return Mesh(
        corners,
        faces,
        np.zeros((len(corners), 2), np.float32),
        np.zeros(len(faces), np.int16),
        np.ones((1, 4), np.float32),
    )


def born(body: trimesh.Trimesh) -> tuple[np.ndarray, np.ndarray]:
    """Return where births inside a body are, (n, 3), and of which there is a place."""
    ground = EmissionSurface(mesh(body))
    binding, offset, found = ground.bind("inside", np.random.default_rng(34).random((COUNT, 3)), np.zeros(COUNT))
    return ground.stand(binding, offset, np.zeros(1)), found


class Thin(unittest.TestCase):
    def test_all_come_to_be_and_are_even_in_a_tilted_plate(self):
        """A plate of 1 x 0.002 x 1 m: each coordinate in its own frame is uniform (Kolmogorov and Smirnov, at 1 in
        10,000)."""
        turn = trimesh.transformations.rotation_matrix(0.7, [1, 2, 3])
        plate = trimesh.creation.box((1, 0.002, 1)).apply_transform(turn)
        places, found = born(plate)
        self.assertTrue(found.all())
        own = places @ turn[:3, :3] / [1, 0.002, 1] + 0.5
        for axis in own.T:
            steps = np.sort(axis)
            self.assertLess(np.abs(steps - np.arange(COUNT) / COUNT).max(), 2.23 / np.sqrt(COUNT) + 2e-4)

    def test_all_come_to_be_within_a_thin_shell(self):
        """Between a ball of 1 m and one of 0.995 m within it; evenly by volume: the mean cube of the distance lies
        halfway."""
        inner = trimesh.creation.icosphere(4, radius=0.995)
        inner.invert()
        places, found = born(trimesh.util.concatenate([trimesh.creation.icosphere(4), inner]))
        self.assertTrue(found.all())
        cubes = np.linalg.norm(places, axis=1) ** 3
        self.assertAlmostEqual(
            float(cubes.mean()), (1 + 0.995**3) / 2, delta=0.003
        )  # the facets lie up to 0.0012 m below the ball
        self.assertLess(np.abs(places.mean(axis=0)).max(), 4 / np.sqrt(3 * COUNT))

    def test_where_there_is_no_inside_it_is_said(self):
        flat = {"kind": "shape", "uid": "flat", "name": "flat", "shape": "plane"}
        one = emitter(births__place={"kind": "prop", "prop": "flat", "on": "inside"}, births__keep=row(1.0))
        playing = Playing(read_effect({**document(one), "props": [flat]}))
        words, address = explain_invisible(
            playing.effect.emitters[0], None, playing.runs[0], playing.plan, 20, playing.frames(20)[0].population, None
        ) or (
            "",
            "",
        )
        self.assertIn("no inside", words)
        self.assertEqual(address, "births.place")
