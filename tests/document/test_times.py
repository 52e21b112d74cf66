"""When things happen: exact frame rates, births on frames, and clip time far from its beginning."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from kagero.core.document import exact_rate, read_effect
from kagero.core.errors import SchemaProblem
from kagero.core.plan.view import EffectView
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, playing, response, row, with_

RATES = [(24, 1), (25, 1), (30, 1), (60, 1), (24000, 1001), (30000, 1001), (60000, 1001), (25, 2)]


def counts(result: Any) -> list[int]:
    return [len(result.frames(n)[0].population) for n in range(result.plan.first_frame, result.plan.last_frame + 1)]


class Lengths(SimpleTestCase):
    @given(rate=st.sampled_from(RATES), first=st.integers(-30, 30), frames=st.integers(1, 40), run_up=st.integers(0, 5))
    def test_a_lifespan_to_the_clips_end_ends_nobody_while_the_clip_lasts(self, rate, first, frames, run_up):
        """Nobody is lost to the last frame; and a clip that is made longer keeps them longer."""
        clip = {"frame_rate": list(rate), "first_frame": first, "last_frame": first + frames, "run_up": run_up}
        lasting = row({"source": {"kind": "clip_left"}, "read": "once"})
        one = emitter(births__rate=row(20), births__lifespan=lasting)
        for last in (first + frames, first + 2 * frames):
            numbers = counts(playing(one, **{**clip, "last_frame": last}))
            self.assertEqual(numbers, sorted(numbers))
            born = (last - first + run_up) * Fraction(rate[1], rate[0]) * 20
            self.assertLess(abs(numbers[-1] - born), 2)

    def test_the_clips_length_is_known_to_rows_formulas_and_props(self):
        fields = {
            "source": {"kind": "formula", "uid": "f", "text": "clip_length + 0 * clip_left", "draft": ""},
            "read": "live",
        }
        for base in ({"source": {"kind": "clip_length"}, "read": "live"}, fields):
            for last in (25, 75):
                one = emitter(look__size=row(base))
                self.assertAlmostEqual(
                    float(playing(one, last_frame=last).show(10)[0].column("size")[0]), last / 25, places=5
                )

    def test_a_prop_that_reads_the_clips_length_is_placed_anew_when_it_changes(self):
        still = {"kind": "shape", "uid": "still", "name": "still", "shape": "box"}
        leaves = response("r", "clip_left", STRAIGHT, input=(0, 4), operation="set") | {"component": "y"}
        views = [
            EffectView(
                read_effect(
                    {
                        **document(last_frame=last),
                        "props": [still, {**still, "uid": "leaves", "position": row([0.0, 0.0, 0.0], leaves)}],
                    }
                )
            )
            for last in (50, 100)
        ]
        self.assertEqual(*(view.digest("still") for view in views))
        self.assertNotEqual(*(view.digest("leaves") for view in views))


class Rates(SimpleTestCase):
    def test_decimal_rates_of_older_documents_become_the_fractions_they_meant(self):
        """SMPTE ST 12-1 defines the rates of 23.976 and its like as 24, 30 and 60 over 1.001: a definition, which
        nothing here could compute."""
        for decimal, exact in (
            (23.976, (24000, 1001)),
            (23.98, (24000, 1001)),
            (29.97, (30000, 1001)),
            (59.94, (60000, 1001)),
            (24, (24, 1)),
            (12.5, (25, 2)),
            (47.952, (48000, 1001)),
        ):
            self.assertEqual(exact_rate(decimal), exact, decimal)
            self.assertEqual(
                read_effect({**with_(document(), clip__frame_rate=decimal), "schema_version": 3}).clip.frame_rate, exact
            )

    def test_rates_are_refused_in_words_and_reduced(self):
        new = {**document(), "schema_version": 4}
        self.assertEqual(read_effect(with_(new, clip__frame_rate=[50, 2])).clip.frame_rate, (25, 1))
        for bad in ([0, 1], [1, 2], [241, 1], [25], 25, [25, 0]):
            with self.assertRaises(SchemaProblem) as caught:
                read_effect(with_(new, clip__frame_rate=bad))
            self.assertIn("clip.frame_rate", caught.exception.findings[0].where)


class BirthsOnFrames(SimpleTestCase):
    @given(st.sampled_from(RATES), st.integers(1, 7), st.integers(1, 4), st.integers(1, 30))
    def test_so_many_a_frame_are_so_many_in_every_frame(self, rate, per_frame, substeps, life):
        """A births a frame that live L frames are A x L from frame L - 1 on, at every rate: a birth at a frame is in
        it."""
        fps = Fraction(*rate)
        one = emitter(births__rate=row(per_frame), births__per="frame", births__lifespan=row(float(life / fps)))
        clip = playing(one, frame_rate=float(fps), last_frame=45, substeps=substeps)
        found = counts(clip)
        # each frame sees those born in (frame - L, frame], and per_frame births lie in each such step of a frame
        self.assertEqual(found[life:], [per_frame * life] * (46 - life), found)
        self.assertEqual(found[0], 1)

    @given(st.sampled_from(RATES), st.sampled_from([0.0, 0.4, 1.0]), st.integers(1, 3))
    def test_as_many_a_second_as_frames_leave_one_in_each_frame_to_the_last(self, rate, start, substeps):
        fps = Fraction(*rate)
        one = emitter(births__rate=row(float(fps)), births__lifespan=row(100.0), births__start=start)
        found = counts(playing(one, frame_rate=float(fps), last_frame=60, substeps=substeps))
        first = -(-Fraction(start).limit_denominator(10) * fps // 1)
        self.assertEqual(found, [max(0, n - first + 1) for n in range(61)])

    def test_at_a_durations_end_none_is_born_and_at_the_next_beginning_one(self):
        one = emitter(births__rate=row(25), births__lifespan=row(100.0), births__duration=1.0)
        self.assertEqual(counts(playing(one))[24:28], [25, 25, 25, 25])
        repeated = with_(one, births__every=1.0)
        self.assertEqual(counts(playing(repeated))[24:28], [25, 26, 27, 28])

    def test_bursts_and_children_fall_on_their_frames(self):
        one = emitter(births__rate=row(0), births__bursts=[{"uid": "b", "frame": 50, "count": 7}])
        child = emitter(
            "two",
            births__rate=row(24000 / 1001),
            births__lifespan=row(100.0),
            births__place={"kind": "particles", "emitter": "one"},
        )
        clip = playing(with_(one, births__bursts__0__frame=10), child, frame_rate=23.976)
        self.assertEqual([len(clip.frames(n)[1].population) for n in range(8, 14)], [0, 0, 7, 14, 21, 28])
        self.assertEqual(counts(playing(one))[-1], 7)


class FarFromTheBeginning(SimpleTestCase):
    def test_births_on_a_moving_prop_are_where_it_is_after_fourteen_minutes(self):
        """At 1 m/s and 833 s, float32 times would put births 3e-5 m off; a place of 10 m is good to 1e-6 m."""
        prop = {
            "uid": "boat",
            "name": "Boat",
            "kind": "shape",
            "shape": "box",
            "width": 1e-6,
            "height": 1e-6,
            "depth": 1e-6,
            "position": {
                "base": {
                    "source": {"kind": "formula", "uid": "f", "text": "vec3(clip_time - 830, 0, 0)"},
                    "read": "live",
                }
            },
        }
        one = emitter(
            births__rate=row(977.3),
            births__lifespan=row(0.04),
            births__start=833.0,
            births__launch__speed=row(0),
            births__place={"kind": "prop", "prop": "boat", "on": "inside"},
        )
        by_source = emitter(
            "two",
            births__rate=row(977.3),
            births__lifespan=row(0.04),
            births__start=833.0,
            births__launch__speed=row(0),
        )
        by_source["births"]["place"]["centre"] = {
            "base": {"source": {"kind": "prop", "prop": "boat", "part": "whole"}, "read": "once"}
        }
        clip = Playing(read_effect({**document(one, by_source, frame_rate=24, last_frame=20_000), "props": [prop]}))
        for run in clip.runs:
            born = run.newborns(833 * 24 + 3)
            self.assertGreater(len(born), 30)
            expected = born.birth_time - 830
            self.assertLess(np.abs(born.position[0] - expected).max(), 2e-6, run.emitter.uid)


class Remembered(SimpleTestCase):
    def test_previous_is_what_it_was_a_step_before_from_the_birth_frame_on(self):
        """docs/FORMULAS.md: at birth it is what it starts from; each step, the birth's own among them, goes on by
        one."""
        one = emitter(
            births__rate=row(0),
            births__bursts=[{"uid": "b", "frame": 0, "count": 1}, {"uid": "c", "frame": 3, "count": 1}],
        )
        one["look"]["size"] = {
            "base": 1.0,
            "responses": [
                {
                    "uid": "r",
                    "kind": "curve",
                    "source": {"kind": "formula", "uid": "f", "text": "previous(size) * 0.9"},
                    "read": "live",
                    "operation": "set",
                    "input": [0, 1],
                    "output": [0, 1],
                    "curve": {"keys": [{"x": 0, "y": 0}, {"x": 1, "y": 1}]},
                }
            ],
        }
        clip = playing(one)
        seen = [[round(float(s), 4) for s in clip.show(n)[0].column("size")] for n in range(6)]
        self.assertEqual(seen, [[0.9], [0.81], [0.729], [0.6561, 0.9], [0.5905, 0.81], [0.5314, 0.729]])
