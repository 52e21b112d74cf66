"""Rays: exact against built-in shapes, watertight against meshes."""

from __future__ import annotations

import unittest

import numpy as np
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.geometry import Mesh, shape
from kagero.core.geometry.shapes import reach
from kagero.core.workflows import Playing
from tests.making import emitter, row
from tests.making.props import bumpy, prop, with_props
from tests.soak import examples

SIZES = {
    "disc": {"radius": 0.7},
    "ring": {"inner": 0.3, "outer": 0.8},
    "sphere": {"radius": 0.6},
    "plane": {"width": 1.2, "depth": 0.8},
    "box": {"width": 1.0, "height": 0.6, "depth": 1.4},
    "cylinder": {"radius": 0.5, "height": 1.1},
    "funnel": {"profile": [(0.2, 0.0), (0.5, 0.3), (0.5, 0.6), (0.9, 0.6), (0.0, 1.0)]},
}


class ClosedForms(unittest.TestCase):
    def test_they_are_what_the_meshes_come_near_to(self):
        rng = np.random.default_rng(4)
        for kind, sizes in SIZES.items():
            origins, aims = rng.uniform(-1.5, 1.5, (4000, 3)), rng.uniform(-0.6, 0.6, (4000, 3))
            directions = aims - origins
            exact, near = reach(kind, origins, directions, **sizes), shape(kind, **sizes).hits(origins, directions)[1]
            both = np.isfinite(exact) & np.isfinite(near)
            self.assertGreater(both.sum(), 400, kind)
            self.assertLess((np.isfinite(exact) != np.isfinite(near)).mean(), 0.02, kind)  # rims of 64 sides
            self.assertLess(np.quantile(np.abs(exact[both] - near[both]), 0.97), 8e-3, kind)

    def test_what_is_met_lies_on_the_shape(self):
        """The implicit equations of the quadrics and planes, any handbook of geometry."""
        rng = np.random.default_rng(5)
        origins, directions = rng.uniform(-2, 2, (20_000, 3)), rng.normal(size=(20_000, 3))
        on = {
            "sphere": lambda p: np.linalg.norm(p, axis=1) - 0.6,
            "cylinder": lambda p: np.hypot(p[:, 0], p[:, 2]) - 0.5,
            "disc": lambda p: p[:, 1],
            "box": lambda p: (np.abs(p) / [0.5, 0.3, 0.7]).max(1) - 1,
        }
        for kind, zero in on.items():
            t = reach(kind, origins, directions, **SIZES[kind])
            hit = np.isfinite(t)
            self.assertLess(np.abs(zero((origins + t[:, None] * directions)[hit])).max(), 1e-12, kind)

    def test_a_guided_burst_along_the_axis_of_a_sphere_meets_its_pole(self):
        """A sphere of 0.5 m about the origin, a particle at its middle sent straight up: 0.5 m; times 3, plus 0.2, is
        1.7 m/s."""
        for tilt in (0.0, 1e-17, 1e-12, 1e-7):
            one = emitter(
                births__place={"kind": "point", "centre": row([0.0, 0.0, 0.0])},
                births__launch__aim="guided",
                births__launch__guide="g",
                births__launch__origin=row([tilt, -0.25, 0.0]),
                births__launch__multiplier=row(3.0),
                births__launch__offset=row(0.2),
            )
            clip = Playing(with_props(prop("g", shape="sphere", radius=0.5), one=one))
            velocity = clip.runs[0].newborns(0).velocity
            self.assertAlmostEqual(float(np.linalg.norm([c[0] for c in velocity])), 1.7, places=6)


class Watertight(unittest.TestCase):
    @settings(max_examples=examples(30))
    @given(st.integers(0, 2**31), st.sampled_from(["sphere", "bumpy", "turned"]))
    def test_no_ray_from_within_leaves_a_closed_mesh(self, seed, kind):
        """Aimed at corners, edges and places just beside them, from within: each meets a triangle."""
        rng = np.random.default_rng(seed)
        mesh = {
            "sphere": lambda: shape("sphere", radius=0.5),
            "bumpy": bumpy,
            "turned": lambda: Mesh.of(
                bumpy().points @ trimesh.transformations.random_rotation_matrix(rng.random(3))[:3, :3].T, bumpy().faces
            ),
        }[kind]()
        corners = mesh.points[rng.choice(len(mesh.points), 200)].astype(float)
        ends = mesh.edges[rng.choice(len(mesh.edges), 200)]
        a, b = mesh.points[ends[:, 0]].astype(float), mesh.points[ends[:, 1]].astype(float)
        share = rng.random((200, 1))
        aims = np.concatenate([corners, a * share + b * (1 - share), (a + b) / 2])
        for origin in (np.zeros(3), rng.uniform(-0.1, 0.1, 3)):
            got = mesh.hits(np.broadcast_to(origin, aims.shape).copy(), aims - origin)[1]
            self.assertTrue(np.isfinite(got).all(), np.flatnonzero(~np.isfinite(got)))

    def test_straight_up_the_axis_through_the_poles(self):
        for kind, sizes in (
            ("sphere", {"radius": 0.5}),
            ("funnel", {"profile": [(0.0, -0.5), (0.5, 0.0), (0.0, 0.5)]}),
        ):
            mesh = shape(kind, **sizes)
            got = mesh.hits(np.zeros((2, 3)), np.array([[0.0, 1.0, 0.0], [0.0, -1.0, 0.0]]))[1]
            np.testing.assert_allclose(got, 0.5, atol=1e-7)


class FromTheVeryOrigin(unittest.TestCase):
    def test_along_the_surfaces_normal_or_wherever_the_draw_says(self):
        away = {"births__launch__aim": "away", "births__rate": row(400.0)}
        p = Playing(with_props(prop("a", shape="disc"), one=emitter(**away))).frames(40)[0].population
        directions = np.stack(p.velocity, 1)
        np.testing.assert_allclose(np.linalg.norm(directions, axis=1), 1, atol=1e-5)
        self.assertLess(np.abs(directions.mean(0)).max(), 0.12)  # evenly all round, and not straight up
        face = prop("a", shape="plane", width=1e-9, depth=1e-9, rotation=row([1.5707963267948966, 0.0, 0.0]))
        p = (
            Playing(with_props(face, one=emitter(births__place={"kind": "prop", "prop": "a"}, **away)))
            .frames(40)[0]
            .population
        )
        np.testing.assert_allclose(np.stack(p.velocity, 1), np.tile([0, 0, 1], (len(p), 1)), atol=1e-5)
