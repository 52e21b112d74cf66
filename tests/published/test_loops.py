"""Loops: the beginning comes after the end, byte for byte; nobody appears or is gone at the seam; closed forms; what
they cannot do is said."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.document import read_effect
from kagero.core.errors import RequestError, SchemaProblem
from kagero.core.formats.exporters.flipbook import difference
from kagero.core.simulation import FrameStore, Population
from kagero.core.workflows import Playing, seam
from tests.making import document, emitter, response, row
from tests.soak import examples

WIDE = {"births__launch__cone": row(math.pi / 2)}
BURST = {
    "births__rate": row(0.0),
    "births__bursts": [{"uid": "b", "frame": 0, "count": 40}],
    "births__lifespan": row(100.0),
    **WIDE,
}


def played(
    loop: dict[str, Any] | None, store: FrameStore | None = None, clip: dict[str, Any] | None = None, **more: Any
) -> Playing:
    """Return an effect with a loop of its emitter's; a whole clip of 51 frames where nothing else is said."""
    loop = None if loop is None else {"first": 0, "last": 50, "over": 0.4, **loop}
    return Playing(read_effect(document(emitter(loop=loop, **more), **(clip or {}))), store)


def never() -> None:
    """Nobody asks for a stop."""


def places(population: Population) -> np.ndarray:
    return np.stack(population.position, 1).astype(float)


def shares(population: Population) -> np.ndarray:
    return np.ones(len(population)) if population.repeats is None else population.repeats.share


class Rounds(unittest.TestCase):
    @settings(max_examples=examples(25))
    @given(
        kind=st.sampled_from(["matched", "blended"]),
        first=st.integers(0, 20),
        length=st.integers(4, 30),
        run_up=st.integers(0, 40),
        lifespan=st.sampled_from([0.2, 0.7, 1.0, 5.0]),
        over=st.sampled_from([0.0, 0.1, 0.4, 9.0]),
        spin=st.sampled_from([0.0, 40.0]),
    )
    def test_what_is_shown_comes_again_after_its_length_to_the_byte(
        self, kind, first, length, run_up, lifespan, over, spin
    ):
        """All but the keys, which tell from frame to frame who is who."""
        result = played(
            {"way": kind, "first": first, "last": first + length - 1, "over": over},
            clip={"run_up": run_up},
            births__lifespan=row(lifespan),
            motion={"spin": row(spin)},
            **WIDE,
        ).shaped[0]
        for k in (first, first + length // 2, first + length - 1):
            for later in (length, -length, 3 * length):
                now, then = result.at(k, 0.25, never), result.at(k + later, 0.25, never)
                self.assertEqual(now.floats.tobytes(), then.floats.tobytes())
                self.assertEqual(shares(now).tobytes(), shares(then).tobytes())
                self.assertEqual(len(np.unique(then.key)), len(then))

    def test_every_life_is_shown_once_a_round_and_whole(self):
        """50 births a second of 1 s, straight on: at each frame exactly who is as old as the births of a steady stream
        are, where that age brings it."""
        for clip, loop in (
            ({"run_up": 30}, {}),
            ({"last_frame": 90}, {"first": 10, "last": 50}),
            ({"run_up": 200}, {"first": 3, "last": 12}),
        ):
            result = played({"way": "matched", **loop}, clip=clip).shaped[0]
            window = result.loop.window
            for k in range(window.first, window.last + 2):
                living = result.at(k, 0.0, never)
                self.assertTrue((shares(living) == 1).all())
                ages = np.sort(living.age.astype(float))
                np.testing.assert_allclose(ages, np.sort(np.mod(ages[0], 0.02) + 0.02 * np.arange(50)), atol=2e-6)
                np.testing.assert_allclose(places(living)[:, 1], living.age, atol=2e-6)

    def test_at_the_seam_nobody_comes_but_by_birth_or_goes_but_by_an_end(self):
        result = played({"way": "matched"}, clip={"run_up": 30}, **WIDE).shaped[0]
        for k in (20, 50, 101):
            now, then = result.at(k, 0.0, never), result.at(k + 1, 0.0, never)
            gone, new = ~np.isin(now.key, then.key), ~np.isin(then.key, now.key)
            self.assertTrue((now.age[gone] + 0.0401 >= now.lifespan[gone]).all())
            self.assertTrue((then.age[new] < 0.0401).all())
            self.assertEqual((gone.sum(), new.sum()), (2, 2))

    def test_what_is_blended_is_one_together_at_every_moment(self):
        result = played({"way": "blended"}, clip={"run_up": 30}).shaped[0]
        for k, after in ((0, 0.0), (39, 0.0), (45, 0.5), (50, 0.0), (50, 0.9), (51, 0.0)):
            self.assertAlmostEqual(shares(result.at(k, after, never)).sum() / 50, 1, delta=0.021, msg=(k, after))
        over = result.at(46, 0.0, never)
        self.assertEqual(set(np.round(np.unique(shares(over)), 6)), {0.5})  # half of the end, half of the beginning

    def test_opacity_and_lamps_are_as_much_there_as_they_are(self):
        result = played({"way": "blended"}, clip={"run_up": 30}, light={"strength": row(3.0)}, look__opacity=row(0.8))
        shown = result.show(46)[0]
        np.testing.assert_allclose(shown.column("opacity"), 0.4, atol=1e-6)
        np.testing.assert_allclose(shown.lamps[:, :3].max(axis=1), result.show(20)[0].lamps[:, :3].max() / 2, rtol=1e-5)

    def test_who_lives_all_through_glides_back_in_place_way_and_age(self):
        """At the end where it was at the beginning, and as fast; on the way its velocity is that of its places."""
        result = played({"way": "matched", "over": 0.8}, **BURST).shaped[0]
        (first, last), (then,) = (result.at(k, 0.0, never) for k in (0, 50)), (result.at(50, 0.999, never),)
        self.assertEqual(first.key.tolist(), last.key.tolist())
        self.assertEqual(result.at(51, 0.0, never).floats.tobytes(), first.floats.tobytes())
        np.testing.assert_allclose(places(then), places(first), atol=1e-3)
        np.testing.assert_allclose(then.age, first.age, atol=1e-3)
        step = np.array([places(result.at(50, s, never)) for s in (0.4, 0.5, 0.6)])
        np.testing.assert_allclose(
            (step[2] - step[0]) / (0.2 / 25), np.stack(result.at(50, 0.5, never).velocity, 1), atol=2e-3
        )  # its own derivative
        untouched = played(None, **BURST).shaped[0]
        self.assertEqual(result.at(30, 0.0, never).floats.tobytes(), untouched.at(30, 0.0, never).floats.tobytes())

    def test_draws_and_what_is_read_at_birth_are_those_of_the_first_time_round(self):
        drawn = row(0.1, response("r", "draw:d1", [(0, 0), (1, 1)], read="once"))
        result = played({"way": "matched"}, clip={"run_up": 30}, look__size=drawn)
        before, after = (
            result.show(10)[0],
            Playing(result.effect).looks[0].show(result.shaped[0].at(61, 0.0, never), 0.4),
        )
        self.assertEqual(before.column("size").tobytes(), after.column("size").tobytes())
        self.assertFalse(np.isin(after.population.key, before.population.key).any())

    def test_nothing_is_simulated_and_none_is_as_it_was(self):
        store = FrameStore()
        plain = played(None, store, clip={"run_up": 30})
        for k in range(51):
            plain.show(k)
        stepped = store.frames_simulated
        for kind in ("matched", "blended"):
            result = played({"way": kind}, store, clip={"run_up": 30})
            for k in range(51):
                result.show(k)
            self.assertEqual(store.frames_simulated, stepped, kind)
        muted = played({"muted": True}, store, clip={"run_up": 30})
        self.assertEqual(muted.shaped[0].at(20).floats.tobytes(), plain.shaped[0].at(20).floats.tobytes())
        self.assertIsNone(muted.shaped[0].loop)

    def test_trails_go_on_over_the_seam(self):
        long = {**emitter()["look"], "sprite": "trail", "seconds": row(0.5)}
        result = played({"way": "matched"}, clip={"run_up": 80}, births__lifespan=row(2.0), also=[{"uid": "t", **long}])
        lengths = []
        for k in (0, 25, 50):
            population = result.shaped[0].at(k, 0.0, never)
            strands = result.drawn_in_looks(0, k, population)[1].strands
            gone = np.linalg.norm(np.diff(strands.points, axis=0), axis=1) * strands.joined[:-1]
            lengths.append(np.sort(np.bincount(strands.owner[:-1], gone, minlength=len(population))))
            np.testing.assert_allclose(lengths[-1], np.sort(np.minimum(population.age, 0.5)), atol=2e-3)

    def test_the_whole_effects_loop_is_that_of_those_without_their_own_and_takes_the_scene_round(self):
        own = {"first": 5, "last": 20, "way": "matched"}
        ball = {
            "kind": "shape",
            "uid": "ball",
            "name": "Ball",
            "shape": "sphere",
            "radius": 0.1,
            "position": row(
                [0.0, 0.0, 0.0], response("p", "clip_time", [(0, 0), (1, 1)], input=[0, 2], operation="add")
            ),
        }
        clip = Playing(
            read_effect(
                {
                    **document(emitter(), emitter("two", loop=own), run_up=30),
                    "props": [ball],
                    "loop": {"first": 0, "last": 24},
                }
            )
        )
        self.assertEqual([each.loop.last for each in clip.plan.emitters], [24, 20])
        for k in (3, 24):
            self.assertEqual(clip.shaped[0].at(k).floats.tobytes(), clip.shaped[0].at(k + 25).floats.tobytes())
            self.assertAlmostEqual(clip.plan.scene(k + 25), clip.plan.scene(k), places=12)

    def test_retimed_it_goes_round_at_that_pace_without_an_edge(self):
        keys = {
            "keys": [{"at": 0.0, "shows": 0.0, "shape": "linear"}, {"at": 2.0, "shows": 8.16, "shape": "linear"}]
        }  # four rounds
        slow, plain = (
            played({"way": "matched"}, clip={"run_up": 30}, retiming=each).shaped[0] for each in (keys, None)
        )
        for k in (1, 7, 20):
            shown = slow.at(k, 0.0, never)
            np.testing.assert_allclose(
                np.sort(places(shown), 0), np.sort(places(plain.at(0, k * 4.08, never)), 0), atol=1e-5
            )
            np.testing.assert_allclose(np.stack(shown.velocity, 1)[:, 1], 4.08, rtol=1e-5)

    def test_one_life_goes_over_the_seam_as_one(self):
        from kagero.core.workflows import Particles

        result = played({"first": 0, "last": 20, "way": "matched"}, clip={"run_up": 30})
        key = int(result.shaped[0].at(20, 0.0, never).key[-1])
        reported = Particles(result, "one").one_life(20, key)
        self.assertEqual(len(reported["frames"]), 25)
        self.assertEqual(np.diff(reported["frames"]).tolist(), [1] * 24)
        np.testing.assert_allclose(np.diff([y for _, y, _ in reported["path"]]), 0.04, atol=1e-5)


class Seams(unittest.TestCase):
    def test_it_tells_a_seam_from_none(self):
        """With a run-up that fills nobody appears or is gone and the picture goes on as ever; the check fails where
        particles are cut."""
        filled = seam(played({"way": "matched"}, clip={"run_up": 30}, **WIDE), "one", 160, 90)
        self.assertEqual((filled.appear, filled.vanish, filled.shown), (0, 0, 50))
        self.assertLess(filled.gap, 1e-5)
        self.assertLess(filled.jump, 1.3)
        cut = seam(played({"way": "blended", "over": 0.0}, clip={"run_up": 30}, **WIDE), "one", 160, 90)
        self.assertGreater(cut.vanish, 40)
        self.assertGreater(cut.appear, 40)
        steps = seam(played({"way": "matched", "over": 0.04}, **BURST), "one", 160, 90)  # it comes back within a frame
        self.assertGreater(steps.gap, 1.0)

    def test_the_jump_is_that_of_the_pictures(self):
        result = played({"way": "blended", "over": 0.0}, **WIDE)
        from kagero.core.formats.encoding import to_bytes
        from kagero.core.workflows import frame_over_backplate

        reported = seam(result, "one", 160, 90)
        page = {k: to_bytes(frame_over_backplate(result, k, 160, 90)) for k in (0, 1, 24, 25, 49, 50)}
        ordinary = np.mean([difference(page[k], page[k + 1]) for k in (0, 24, 49)])
        self.assertAlmostEqual(reported.jump, difference(page[50], page[0]) / ordinary, places=6)
        self.assertAlmostEqual(reported.jump, reported.without, places=6)

    def test_what_cannot_go_round_is_said_with_the_frames_that_would_let_it(self):
        for kind, lifespan in (("matched", 1.0), ("matched", 0.5), ("blended", 1.0)):
            short = played({"way": kind}, births__lifespan=row(lifespan)).shaped[0].loop
            particles, frames = short.lacks(never)
            self.assertGreater(particles, 0)
            self.assertEqual(
                played({"way": kind}, clip={"run_up": frames}, births__lifespan=row(lifespan))
                .shaped[0]
                .loop.lacks(never),
                (0, 0),
            )
            self.assertGreater(
                played({"way": kind}, clip={"run_up": frames - 2}, births__lifespan=row(lifespan))
                .shaped[0]
                .loop.lacks(never)[0],
                0,
            )

    def test_no_loop_no_frames_and_frames_outside_the_clip_are_said(self):
        with self.assertRaises(RequestError):
            seam(played(None), "one", 160, 90)
        with self.assertRaises(SchemaProblem):
            played({"first": 9, "last": 9})
        result = played({"first": -40, "last": 4000})
        self.assertEqual((result.plan.emitters[0].loop.first, result.plan.emitters[0].loop.last), (0, 50))
        (reported,) = result.lacking()
        self.assertEqual((reported.code, reported.where), ("outside_clip", "emitters.0.loop.last"))
        self.assertIsNone(played({"first": 60, "last": 90}).plan.emitters[0].loop)
