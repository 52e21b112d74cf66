"""Ways to end: coming and going in closed form, leaving a region, seen by nobody; and the two checks that find who pops
and who lives on unseen."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.document import read_effect, upgrade
from kagero.core.errors import EffectError
from kagero.core.simulation import LookEvaluator
from kagero.core.workflows import Playing
from kagero.core.workflows.visible_pops import find_visible_pops
from tests.making import document, emitter, row
from tests.making.cues import formula


def one(
    life: float = 2.0, count: int = 1, clip: dict | None = None, props: list | None = None, **more: object
) -> Playing:
    fields = {
        "births__rate": row(0.0),
        "births__bursts": [{"uid": "b", "frame": 0, "count": count}],
        "births__lifespan": row(life),
        "births__launch__speed": row(1.0),
        "births__launch__cone": row(0.0),
        "births__launch__direction": row([1.0, 0.0, 0.0]),
        "births__place": {"kind": "point", "centre": row([0.0, 0.0, 0.0])},
    }
    body = document(emitter(**(fields | more)))
    body["clip"] |= {"frame_rate": [24, 1], "last_frame": 96, **(clip or {})}
    body["props"] = props or []
    return Playing(read_effect(upgrade(body)))


def left(life: float, first: float, last: float) -> float:
    return min(life / first if first else 1.0, (1 - life) / last if last else 1.0, 1.0)


class InAndOut(unittest.TestCase):
    @settings(max_examples=6)
    @given(st.floats(0, 0.6), st.floats(0.05, 1), st.floats(0, 1), st.floats(0, 1))
    def test_opacity_and_size_are_what_is_left_of_them(self, first: float, last: float, fades: float, shrinks: float):
        passing = {"first": row(first), "last": row(last), "fades": row(fades), "shrinks": row(shrinks)}
        playing = one(passing=passing, look__size=row(0.5), look__opacity=row(0.8))
        for frame in (3, 12, 30, 45):
            shown = playing.show(frame)[0]
            there = left(frame / 48, first, last)
            np.testing.assert_allclose(shown.column("size"), 0.5 * (1 - shrinks * (1 - there)), atol=1e-5)
            np.testing.assert_allclose(shown.column("opacity"), 0.8 * (1 - fades * (1 - there)), atol=1e-5)

    def test_who_slows_comes_to_rest_at_the_end_however_many_steps_there_are(self):
        """Speed is v (1 - l) / last over the last share: the way is v x (1 - last) x life before and half of v x last x
        life then."""
        for substeps in (1, 4):
            playing = one(passing={"last": row(0.5), "slows": row(1.0)}, clip={"substeps": substeps})
            population = playing.frames(36)[0].population
            np.testing.assert_allclose(population.velocity[0][0], 0.5, atol=1e-5)
            np.testing.assert_allclose(population.position[0][0], 1.0 + 0.375, atol=2e-3 if substeps == 1 else 2e-4)
            np.testing.assert_allclose(playing.frames(47)[0].population.velocity[0][0], 1 / 24, atol=1e-4)

    def test_a_row_that_goes_by_what_it_alters_is_refused(self):
        with self.assertRaisesRegex(EffectError, "circle"):
            one(passing={"last": formula("size"), "shrinks": row(1.0)}, look__size=row(0.5)).frames(3)


class Leaving(unittest.TestCase):
    def test_who_comes_out_of_a_region_ends_and_who_never_was_in_it_lives_on(self):
        mask = {
            "kind": "mask",
            "shape": "sphere",
            "uid": "m",
            "name": "pond",
            "radius": row(0.5),
            "falloff": row(0.0),
            "position": row([1.0, 0, 0]),
        }
        playing = one(life=10.0, props=[mask], leaving={"mask": "m"})
        self.assertEqual([len(playing.frames(frame)[0].population) for frame in (2, 12, 35, 36, 37)], [1, 1, 1, 1, 0])
        beside = one(life=10.0, props=[{**mask, "position": row([0, 3.0, 0])}], leaving={"mask": "m"})
        self.assertEqual(len(beside.frames(96)[0].population), 1)


class SeenByNobody(unittest.TestCase):
    def test_after_so_many_frames_but_not_before_it_was_seen(self):
        """Opacity is nought up to a second and from two seconds on."""
        for substeps in (1, 3):
            playing = one(
                life=10.0,
                look__opacity=formula("1.0 if age > 0.99 and age < 1.99 else 0.0"),
                unseen={"frames": row(4.0)},
                clip={"substeps": substeps},
            )
            alive = [len(playing.frames(frame)[0].population) for frame in (10, 24, 47, 50, 52)]
            self.assertEqual(alive, [1, 1, 1, 1, 0], substeps)


class WhoPopsAndWhoIsUnseen(unittest.TestCase):
    def report(self, playing: Playing) -> dict:
        known = [(n, playing.plan.seconds(n), playing.frames(n)[0].population) for n in range(0, 97)]
        plan = playing.plan.emitters[0]
        result = find_visible_pops([LookEvaluator(plan, playing.engine, look) for look in plan.looks], known, 1 / 24)
        assert result is not None
        return result

    def test_whoever_is_seen_from_one_frame_to_the_next_and_no_more_after_the_fix(self):
        """40 are born at frame 12 and end before frame 60; 40 more at frame 90 are still there when the clip ends."""
        births = {"births__bursts": [{"uid": "b", "frame": 12, "count": 40}, {"uid": "c", "frame": 90, "count": 40}]}
        plain = self.report(one(**births))
        self.assertEqual(plain["appears"], {"count": 80, "of": 80, "frame": 12})
        self.assertEqual(plain["goes"], {"count": 40, "of": 40, "frame": 59})
        self.assertEqual(plain["cut"]["count"], 0)
        mended = self.report(one(passing={"first": row(plain["share"]), "last": row(plain["share"])}, **births))
        self.assertEqual([mended[name]["count"] for name in ("appears", "goes")], [0, 0])
        self.assertEqual(mended["goes"]["of"], 40)
        shrinking = self.report(one(passing={"last": row(0.3), "fades": row(0.0), "shrinks": row(1.0)}, **births))
        self.assertEqual([shrinking[name]["count"] for name in ("appears", "goes")], [80, 0])
        cut = self.report(one(ending={"where": formula("1.0 if age > 1 else 0.0")}, **births))
        self.assertEqual((cut["cut"]["count"], cut["goes"]["of"]), (40, 0))

    def test_the_share_that_lives_on_unseen_is_gone_with_the_ending(self):
        """Seen for a second of four: three quarters of their frames are unseen, all of them after."""
        fades = {"look__opacity": formula("1.0 if age < 1 else 0.0")}
        without = self.report(one(life=4.0, **fades))
        self.assertAlmostEqual(without["unseen"], 0.75, delta=0.02)
        self.assertEqual(without["unseen"], without["after"])
        self.assertLess(self.report(one(life=4.0, unseen={"frames": row(1.0)}, **fades))["unseen"], 0.05)
        waits = self.report(one(life=4.0, look__opacity=formula("0.0 if age < 1 else 1.0")))
        self.assertEqual(waits["after"], 0.0)
        self.assertGreater(waits["unseen"], 0.2)
