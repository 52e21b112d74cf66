"""Which push does what, rails, pieces of motion and endings: what the stage and the sheet ask of the core."""

from __future__ import annotations

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from kagero.core.catalog import copy_mover, layout, paste_mover
from kagero.core.document import read_effect
from kagero.core.errors import LinkProblem, RequestError
from kagero.core.geometry.streamlines import STEP, streamlines
from kagero.core.workflows import Particles, Playing, rails
from tests.making import STRAIGHT, document, emitter, response, row
from tests.making.props import prop

FALL, RISE = (
    {"kind": "gravity", "uid": "fall", "strength": row(3.0)},
    {"kind": "buoyancy", "uid": "rise", "strength": row(1.0)},
)


class ReportedPushes(unittest.TestCase):
    def test_each_push_alone_on_one_particle_and_over_a_plane(self):
        """A constant push is the same everywhere; a pull to a point goes towards it, by its strength beyond the
        core."""
        pull = {"kind": "pull", "uid": "pull", "strength": row(2.0), "core": row(0.0), "point": row([0.0, 0.0, 0.0])}
        clip = Playing(read_effect(document(emitter(forces=[FALL, {**RISE, "muted": True}, pull]))))
        particles = Particles(clip, "one")
        key = particles.key_at(20, 0)
        across, up = (1.0, 0.0, 0.0), (0.0, 0.0, 1.0)
        fall = particles.slice(20, key, "fall", across, up, 1.0, 5)
        np.testing.assert_allclose(fall["pushes"], [[0, -3, 0]] * 25, atol=1e-6)
        drawn = particles.slice(20, key, "pull", across, up, 1.0, 5)
        points = np.array(drawn["points"])
        np.testing.assert_allclose(
            drawn["pushes"], -2 * points / np.linalg.norm(points, axis=1, keepdims=True), atol=1e-4
        )
        every = particles.slice(20, key, "", across, up, 1.0, 5)
        np.testing.assert_allclose(
            every["pushes"], np.array(fall["pushes"]) + drawn["pushes"], atol=1e-4
        )  # the muted one is none of them
        lines = np.array([point for line in drawn["lines"] for point in line])
        np.testing.assert_allclose(
            lines[:, 1], points[0, 1], rtol=1e-4, atol=1e-6
        )  # in the plane, and no further than it reaches
        self.assertTrue(
            np.all((lines[:, :3] >= points.min(axis=0) - 1e-4) & (lines[:, :3] <= points.max(axis=0) + 1e-4))
        )
        self.assertAlmostEqual(lines[:, 3].max(), 1, places=3)
        with self.assertRaisesRegex(RequestError, "does not live"):
            particles.slice(20, 12345, "", across, up, 1.0, 5)

    @settings(max_examples=12, deadline=None)
    @given(st.floats(-1, 1), st.floats(-1, 1), st.floats(1.5, 4), st.booleans())
    def test_streamlines_of_a_turning_field_are_circles_and_of_a_pull_rays_evenly_spaced(self, x, y, apart, turning):
        """About any middle; in the field's direction; none nearer to another than half of what was asked for, and no
        gap of twice that."""
        side = 41
        at = np.stack(np.meshgrid(np.arange(side), np.arange(side)), axis=2) - [20 + 8 * x, 20 + 8 * y]
        field = np.stack([-at[:, :, 1], at[:, :, 0]], axis=2) if turning else -at
        lines = streamlines(field, apart)
        for line in lines:
            away = line - [20 + 8 * x, 20 + 8 * y]
            radius, angle = np.linalg.norm(away, axis=1), np.unwrap(np.arctan2(away[:, 1], away[:, 0]))
            if turning:
                # |R(iθ)| = 1 - θ⁶ / 144 + ... a step of the classical Runge-Kutta method (Hairer and Wanner, "Solving
                # ordinary differential equations II", IV.2: its stability function); θ: the angle of a step
                drift = len(line) * (STEP / radius.min()) ** 6 / 144
                self.assertLess(np.ptp(radius), radius.max() * (drift + 1e-5))
                self.assertGreater(np.diff(angle).min(), 0)
            else:
                self.assertLess(np.abs(np.sin(angle - angle[0])).max() * radius.max(), 0.02 * max(radius.max(), 1))
                self.assertLess(np.diff(radius).max(), 0)
        tree, whose = cKDTree(np.concatenate(lines)), np.repeat(np.arange(len(lines)), [len(line) for line in lines])
        near = tree.query_pairs(apart * 0.499, output_type="ndarray")
        self.assertTrue(np.all(whose[near[:, 0]] == whose[near[:, 1]]))
        nearest = tree.query(np.stack(np.mgrid[4:37:2, 4:37:2], axis=-1).reshape(-1, 2))[0]
        self.assertLess(nearest.max(), 2 * apart)

    def test_where_nothing_pushes_there_are_no_streamlines(self):
        self.assertEqual(streamlines(np.zeros((9, 9, 2)), 1.0), [])
        one_spot = np.zeros((9, 9, 2))
        one_spot[4, 4] = [1, 0]
        self.assertTrue(all(np.abs(line - 4).max() < 1.5 for line in streamlines(one_spot, 1.0)))

    def test_the_rails_of_a_path_and_a_surface_lie_on_them(self):
        props = [
            prop("line", kind="path", points=[[0, 0, 0], [2.0, 0, 0]], smooth=False, position=row([0, 1, 0])),
            prop("post", shape="cylinder", radius=0.5),
        ]
        one = emitter(
            rides=[
                {"kind": "path", "uid": "a", "prop": "line"},
                {"kind": "surface", "uid": "b", "prop": "post"},
                {"kind": "crawl", "uid": "c", "prop": "post"},
                {"kind": "path", "uid": "d", "prop": "line", "muted": True},
            ]
        )
        clip = Playing(read_effect({**document(one), "props": props}))
        found = {each["ride"]: each["lines"] for each in rails(clip.stage, clip.effect.emitters[0], 0.0)}
        self.assertEqual({"a", "b"} - set(found), set())
        self.assertNotIn("d", found)
        line = np.array(found["a"][0])
        np.testing.assert_allclose([line[0], line[-1]], [[0, 1, 0], [2, 1, 0]], atol=1e-5)
        round_it = np.concatenate([np.array(each) for each in found["b"]])
        self.assertLess(np.abs(np.hypot(round_it[:, 0], round_it[:, 2]) - 0.5).max(), 0.01)


class Moved(unittest.TestCase):
    def test_a_push_and_a_ride_go_to_another_emitter_with_what_they_read(self):
        source = {"kind": "draw", "draw": "d1"}
        swirl = {"kind": "swirl", "uid": "s", "strength": row(2.0, response("r", source, STRAIGHT, read="once"))}
        one = emitter(forces=[FALL, swirl], rides=[{"kind": "path", "uid": "p", "prop": "line"}])
        other = emitter("other", draws=[], forces=[RISE])
        effect = read_effect(
            {**document(one, other), "props": [prop("line", kind="path", points=[[0, 0, 0], [1.0, 0, 0]])]}
        )
        numbers = itertools.count()
        changed, uid = paste_mover(
            effect, "other", copy_mover(effect, effect.emitters[0], "push", "s"), lambda: f"new{next(numbers)}", 0
        )
        self.assertEqual([push.kind for push in changed.emitters[1].forces], ["swirl", "buoyancy"])
        self.assertEqual(changed.emitters[1].forces[0].uid, uid)
        self.assertEqual(
            changed.emitters[1].forces[0].strength.responses[0].source.draw, changed.emitters[1].draws[0].uid
        )
        self.assertNotIn(uid, {push.uid for push in changed.emitters[0].forces})
        changed, uid = paste_mover(
            changed, "other", copy_mover(effect, effect.emitters[0], "ride", "p"), lambda: f"new{next(numbers)}"
        )
        self.assertEqual(
            (changed.emitters[1].rides[0].prop, len(changed.props)), ("line", 1)
        )  # the same prop, not another
        with self.assertRaisesRegex(LinkProblem, "no push 'gone'"):
            copy_mover(effect, effect.emitters[0], "push", "gone")

    def test_what_a_part_cannot_do_without_is_told_until_it_is_there(self):
        def lacks(**more):
            effect = read_effect(
                {
                    **document(emitter(forces=[{"kind": "toward_target", "uid": "t", "strength": row(1.0)}], **more)),
                    "props": [prop("a")],
                }
            )
            return layout(effect)["emitters"]["one"]["parts"]["forces.#t"]["lacks"]

        self.assertEqual(lacks(), "This emitter has no targets yet: add them.")
        self.assertEqual(lacks(target={"prop": "a"}), "")


class Ended(unittest.TestCase):
    def test_as_soon_as_its_row_is_half_and_no_sooner(self):
        high = response(
            "h", "height", STRAIGHT, operation="set", shape="linear", input=(0, 1)
        )  # half at 0.5 m, which a second a metre takes half a second to
        clip = Playing(read_effect(document(emitter(ending={"where": row(0.0, high)}, births__lifespan=row(9.0)))))
        for frame in (10, 12, 25, 50):
            now = clip.frames(frame)[0].population
            self.assertLess(now.position[1].max(), 0.5 + 2 / 25)
            self.assertEqual(len(now) > 0, True)
        self.assertGreater(clip.frames(12)[0].population.position[1].max(), 0.4)
        self.assertLess(
            len(clip.frames(50)[0].population), 0.62 * 50
        )  # half a second of fifty births a second, and the step it takes


if __name__ == "__main__":
    unittest.main()
