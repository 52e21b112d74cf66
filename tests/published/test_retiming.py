"""Stored frames at other times: closed forms, the orders of errors, and what does not change."""

from __future__ import annotations

import math
import unittest
from itertools import pairwise
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from kagero.core.document import read_effect
from kagero.core.document.retiming import TimeKey
from kagero.core.errors import SchemaProblem
from kagero.core.plan.retimed import TimeMap
from kagero.core.simulation import FrameStore, between
from kagero.core.workflows import Playing, RenderRequest, render_frame
from tests.making import document, emitter, response, row

STRAIGHT = [(0.0, 0.0), (1.0, 1.0)]


def keys(*ways: tuple[float, float], shape: str = "linear") -> dict[str, Any]:
    return {"keys": [{"at": at, "shows": shows, "shape": shape} for at, shows in ways]}


def played(
    retiming: dict[str, Any] | None = None,
    store: FrameStore | None = None,
    clip: dict[str, Any] | None = None,
    **more: Any,
) -> Playing:
    return Playing(read_effect(document(emitter(retiming=retiming, **more), **(clip or {}))), store)


def places(population: Any) -> np.ndarray:
    return np.stack(population.position, 1).astype(float)


class Times(unittest.TestCase):
    @given(st.lists(st.tuples(st.floats(0.05, 2), st.floats(-2, 2)), min_size=2, max_size=8), st.floats(-1, 15))
    def test_smooth_keys_are_scipys_monotone_cubics_and_the_pace_is_their_slope(self, steps, when):
        at, shows = np.cumsum([step[0] for step in steps]), np.cumsum([step[1] for step in steps])
        curve = TimeMap.of([TimeKey(at=float(a), shows=float(b)) for a, b in zip(at, shows, strict=True)], -1e9, 1e9)
        time, pace = curve(when)
        if at[0] <= when <= at[-1]:
            known = PchipInterpolator(at, shows)
            self.assertAlmostEqual(time, float(known(when)), places=9)
            self.assertAlmostEqual(pace, float(known.derivative()(when)), places=7)
        else:
            end = 0 if when < at[0] else -1
            self.assertEqual((time, pace), (float(shows[end]), 0.0))

    def test_holds_stand_still_and_what_leaves_the_clip_stands_at_its_edge(self):
        ways = ((0, 0, "linear"), (1, 1, "hold"), (2, 1, "linear"), (5, 7, "smooth"))
        hold = TimeMap.of([TimeKey(at=at, shows=shows, shape=shape) for at, shows, shape in ways], 0, 3)
        there = [(0.5, 1.0), (1.0, 0.0), (2.0, 2.0), (0.0, 0.0), (3.0, 0.0), (3.0, 0.0)]
        self.assertEqual([hold(t) for t in (0.5, 1.5, 2.5, -1.0, 4.0, 9.0)], there)
        effect = read_effect(document(emitter(retiming=keys((0, 0), (1, 50)))))
        self.assertIn("not in the clip", effect.emitters[0].retiming.unmet_need(effect)[1])
        self.assertIsNone(
            read_effect(document(emitter(retiming=keys((0, 0), (2, 1))))).emitters[0].retiming.unmet_need(effect)
        )
        (clip,) = Playing(effect).lacking()
        self.assertEqual((clip.code, clip.where), ("outside_clip", "emitters.0.retiming.keys"))
        self.assertEqual(
            len(Playing(effect).show(40)[0]), len(Playing(effect).show(50)[0])
        )  # it plays on, at the clip's end
        with self.assertRaises(SchemaProblem):
            read_effect(document(emitter(retiming=keys((1, 0), (0, 1)))))


class Shown(unittest.TestCase):
    def test_half_speed_shows_the_stored_frames_at_even_times(self):
        plain, slow = played(), played(keys((0, 0), (2, 1)))
        for number in range(0, 51, 2):
            shown, stored = slow.shaped[0].at(number), plain.runs[0].frame(number // 2).population
            np.testing.assert_array_equal(places(shown), places(stored))
            np.testing.assert_array_equal(shown.key, stored.key)
            np.testing.assert_array_equal(shown.age, stored.age)
            np.testing.assert_array_equal(np.stack(shown.velocity), np.stack(stored.velocity) * np.float32(0.5))
        for number in (11, 25):  # births come one by one between them, at their exact moments
            at = slow.shaped[0].seconds(number)
            born = np.floor(at * 50 + 1e-9) - np.ceil(max(at - 1, 0) * 50 - 1e-9)
            self.assertAlmostEqual(len(slow.shaped[0].at(number)), born + 1, delta=1)
            np.testing.assert_allclose(
                slow.shaped[0].at(number).age, at - slow.shaped[0].at(number).birth_time, atol=1e-6
            )

    def test_between_frames_the_error_on_a_circle_falls_with_the_fourth_power_of_the_interval(self):
        """A particle on a circle, at 3, 6 and 12 frames a second: Hermite's cubic between its stored places and
        velocities."""
        still = {
            "kind": "spring",
            "uid": "round",
            "strength": row(4.0),
            "damping": row(0.0),
            "point": row([0.0, 0.0, 0.0]),
        }
        errors = []
        for rate in (3, 6, 12):  # 2 rad a second about the middle: exact at every stored frame, whatever the step
            result = played(
                keys((0, 0), (2 * rate, 2)),
                clip={"frame_rate": [rate, 1], "last_frame": 2 * rate},
                forces=[still],
                births={
                    "rate": row(0.0),
                    "bursts": [{"uid": "one", "frame": 0, "count": 1}],
                    "lifespan": row(9.0),
                    "place": {"kind": "point", "centre": row([1.0, 0.0, 0.0])},
                    "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(2.0)},
                },
            )
            run, worst = result.shaped[0], 0.0
            for late in np.arange(0.0, 1.0, 0.0625):
                for number in range(rate, 2 * rate - 1):
                    particles = between(run.run, number, float(late))
                    angle = 2 * (number + late) / rate
                    worst = max(
                        worst, float(np.abs(places(particles)[0, :2] - [math.cos(angle), math.sin(angle)]).max())
                    )
            errors.append(worst)
            shown = run.at(2 * rate - 1)  # slowed as many times as there are frames a second: the same curve
            first, after = run.behind(2 * rate - 1)
            np.testing.assert_array_equal(places(shown), places(between(run.run, first, after)))
        for a, b in pairwise(errors):
            self.assertAlmostEqual(math.log2(a / b), 4.0, delta=0.25)

    def test_reversing_twice_is_the_identity_and_backwards_is_the_same_frames_the_other_way(self):
        store = FrameStore()
        plain, back = played(store=store), played(keys((0, 2), (2, 0)), store=store)
        for number in range(51):
            np.testing.assert_array_equal(
                places(back.shaped[0].at(number)), places(plain.runs[0].frame(50 - number).population)
            )
            twice = back.shaped[0].at(50 - number)
            np.testing.assert_array_equal(twice.floats[:5], plain.runs[0].frame(number).population.floats[:5])
        self.assertEqual(np.sign(back.shaped[0].at(10).velocity[1]).tolist(), [-1.0] * len(back.shaped[0].at(10)))

    def test_no_step_is_simulated_and_what_is_muted_changes_nothing(self):
        store = FrameStore()
        plain = played(store=store)
        stored = [plain.runs[0].frame(n).population for n in range(51)]
        stepped = store.frames_simulated
        for direction in (
            keys((0, 0), (2, 1)),
            keys((0, 2), (2, 0)),
            keys((0, 0), (0.5, 0.5), (1.5, 0.5), (2, 1), shape="smooth"),
            keys((1, 1), shape="hold"),
        ):
            result = played(direction, store=store)
            for number in range(0, 51, 5):
                result.particles(number)
            self.assertEqual((store.frames_simulated, result.frames_simulated), (stepped, 0))
        muted = played({**keys((0, 2), (2, 0)), "muted": True}, store=store)
        for number in (7, 30):
            self.assertEqual(muted.shaped[0].at(number).floats.tobytes(), stored[number].floats.tobytes())

    def test_looks_follow_the_time_that_is_seen_and_shapings_the_clips(self):
        grows = {
            **row(0.0),
            "responses": [
                response("grows", "clip_time", STRAIGHT, input=(0, 2), output=(0, 2), operation="set", shape="linear")
            ],
        }
        slow = played(
            keys((0, 0), (2, 1)),
            look__size=grows,
            shaping=[{"kind": "shift", "uid": "up", "amount": _other(grows, "ups")}],
        )
        shown = slow.show(40)[0]
        np.testing.assert_allclose(shown.column("size"), 0.8, atol=1e-6)
        rest = places(slow.shaped[0].simulated(40))
        np.testing.assert_allclose(places(slow.shaped[0].at(40)) - rest, [[0, 1.6, 0]] * len(rest), atol=1e-5)

    def test_trails_go_back_through_shown_time_to_the_shown_birth(self):
        tail = {
            "sprite": "trail",
            "uid": "tail",
            "seconds": row(3.0),
            "size": row(0.02),
            "opacity": row(1.0),
            "colour": row([1.0, 1.0, 1.0]),
        }
        slow = played(keys((0, 0), (2, 1)), births__lifespan=row(5.0), also=[tail])
        _, trail = slow.layers(50)
        lines = trail.shown.strands
        ends = np.flatnonzero(~np.append(lines.joined[:-1], False))
        ages = slow.shaped[0].at(50).age
        np.testing.assert_allclose(slow.shaped[0].since(slow.shaped[0].at(50), 50), 2 * ages, atol=1e-6)
        np.testing.assert_allclose(lines.points[ends][:, 1], 0.0, atol=1e-3)  # each goes down to where it was born

    def test_a_picture_of_half_speed_is_the_picture_of_the_frame_that_it_shows(self):
        plain, slow = played(), played(keys((0, 0), (2, 1)))
        wish = RenderRequest(96, 72, alone=True)
        np.testing.assert_array_equal(render_frame(slow, 40, wish).light, render_frame(plain, 20, wish).light)

    def test_the_whole_effect_at_half_speed_is_every_frame_of_it_and_goes_through_an_emitters_own_curve_after(self):
        """A ball that moves, a lamp that follows, particles born on the ball and moved by a mask that goes by: all go
        together, the camera too."""
        slides = {
            **row([0.0, 1.0, 0.0]),
            "responses": [
                {
                    **response(
                        "slides", "clip_time", STRAIGHT, input=(0, 2), output=(-1, 1), operation="set", shape="linear"
                    ),
                    "component": "x",
                }
            ],
        }
        ball = {"kind": "shape", "uid": "ball", "name": "ball", "shape": "sphere", "radius": 0.3, "position": slides}
        lamp = {
            "kind": "light",
            "uid": "lamp",
            "name": "lamp",
            "shines": "point",
            "follow": {"prop": "ball"},
            "position": row([0.0, 0.8, 0.5]),
        }
        veil = {
            "kind": "mask",
            "shape": "sphere",
            "uid": "veil",
            "name": "veil",
            "follow": {"prop": "ball"},
            "radius": row(0.4),
            "falloff": row(0.4),
        }
        camera = {
            "kind": "camera",
            "uid": "eye",
            "name": "eye",
            "follow": {"prop": "ball", "turns": False},
            "position": row([0.0, 0.2, 4.0]),
        }
        aside = {"kind": "by_mask", "uid": "aside", "mask": "veil", "amount": row(0.5)}

        def whole(retiming: dict[str, Any] | None, own: dict[str, Any] | None = None) -> Playing:
            body = document(
                emitter(births__place={"kind": "prop", "prop": "ball", "on": "surface"}, shaping=[aside], retiming=own)
            )
            return Playing(
                read_effect(
                    {**body, "props": [ball, lamp, veil, camera], "retiming": retiming, "frame": {"camera": "eye"}}
                )
            )

        plain, slow = whole(None), whole(keys((0, 0), (2, 1)))
        wish = RenderRequest(96, 72, alone=True)
        for number in (20, 44):
            np.testing.assert_array_equal(
                render_frame(slow, number, wish).light, render_frame(plain, number // 2, wish).light
            )
            np.testing.assert_array_equal(places(slow.shaped[0].at(number)), places(plain.shaped[0].at(number // 2)))
            gaps = np.abs(
                np.stack(slow.shaped[0].at(number).velocity) * 2 - np.stack(plain.shaped[0].at(number // 2).velocity)
            )
            self.assertLess(
                float(np.quantile(gaps, 0.97)), 0.02
            )  # all but who stands just at the edge of the mask, where that bends
        self.assertGreater(
            float(np.abs(render_frame(slow, 44, wish).light - render_frame(plain, 44, wish).light).max()), 0.05
        )
        twice = whole(keys((0, 0), (2, 1)), keys((0, 0), (2, 1)))
        self.assertEqual(
            (twice.shaped[0].behind(40), twice.shaped[0].pace(40), twice.plan.scene(40)), ((10, 0.0), 0.25, 0.8)
        )


def _other(grows: dict[str, Any], uid: str) -> dict[str, Any]:
    return {**grows, "responses": [{**grows["responses"][0], "uid": uid}]}
