"""Cues: they happen at the exact step in which their condition becomes true, in order, as an interpreter in plain
Python says."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.catalog import rename
from kagero.core.document import read_effect, upgrade
from kagero.core.errors import BudgetError, CircleProblem
from kagero.core.simulation import Frame, FrameStore
from kagero.core.workflows import Playing
from kagero.core.workflows.why_invisible import explain_invisible
from tests.making import document, emitter, row
from tests.making.cues import formula
from tests.soak import examples


def test(text: str, value: float = 0.5, **more: Any) -> dict[str, Any]:
    return {"kind": "test", "of": formula(text), "value": row(value), **more}


def cued(
    *cues: dict[str, Any],
    count: int = 1,
    clip: dict[str, Any] | None = None,
    props: list[dict[str, Any]] | None = None,
    **more: Any,
) -> Playing:
    one = emitter(
        births__rate=row(0.0),
        births__bursts=[{"uid": "b", "frame": 0, "count": count}],
        births__lifespan=row(100.0),
        births__launch__speed=row(1.0),
        births__launch__cone=row(0.0),
        births__launch__direction=row([0.0, 1.0, 0.0]),
        births__place={"kind": "point", "centre": row([0.0, 0.0, 0.0])},
        cues=[{"uid": f"c{i}", "name": f"cue {i}", **cue} for i, cue in enumerate(cues)],
        **more,
    )
    body = document(one)
    body["clip"] |= {"frame_rate": [24, 1], "last_frame": 96, **(clip or {})}
    body["props"] = props or []
    return Playing(read_effect(upgrade(body)))


COUNTER = [{"kind": "number", "uid": "n", "name": "n", "memory": True, "start": row(0.0), "change": row(0.0)}]


class When(unittest.TestCase):
    def test_at_the_exact_step_once_or_each_time(self):
        """A square wave of age: up at 0.5, 1.5, 2.5 s."""
        for substeps in (1, 4):
            for times, wanted in (("once", 1), ("each", 3)):
                playing = cued(
                    test("1.0 if (age - 0.5) % 1.0 < 0.5 and age > 0.4 else 0.0", times=times),
                    clip={"substeps": substeps},
                )
                population = [playing.frames(frame)[0].population.carried for frame in range(73)]
                counts = np.array([each["cue.c0.count"][0] for each in population])
                self.assertEqual(counts[-1], wanted)
                ups = np.flatnonzero(np.diff(counts)) + 1
                np.testing.assert_array_equal(ups, np.array([12, 36, 60][:wanted]))
                # of a jump nobody knows when within the step it is: as if it were even, in its middle
                middle = np.array([0.5, 1.5, 2.5][:wanted]) - 1 / 48 / substeps
                np.testing.assert_allclose([population[frame]["cue.c0.when"][0] for frame in ups], middle, rtol=1e-5)

    def test_held_for_so_long_and_after_a_delay(self):
        playing = cued(
            test("age", 0.5, held=row(0.25)),
            test("age", 0.5, delay=row(0.75)),
            {"kind": "clock", "after": "c0", "length": row(0.5)},
        )
        population = playing.frames(90)[0].population.carried
        np.testing.assert_allclose([population[f"cue.c{i}.when"][0] for i in range(3)], [0.75, 1.25, 1.25], atol=1e-5)

    def test_the_moment_is_found_within_the_step_whatever_the_frames_are(self):
        """Of what goes evenly: held, after a delay, by a clock, of several; those born then are where it was, and as
        old."""
        for rate in (12, 24, 60):
            late = test("age - 0.51", 0.0, held=row(0.25))
            playing = cued(
                late,
                test("age - 0.51", 0.0, delay=row(0.75)),
                {"kind": "clock", "after": "c0", "length": row(0.5)},
                test("0.33 - age", 0.0, side="below"),
                {"kind": "joined", "how": "all", "of": ["c3", "c0"], "held": row(0.1)},
                test("age", 0.4, second="and", of_two=formula("age"), value_two=row(0.61)),
                test("age", 0.4, second="or", of_two=formula("age"), value_two=row(0.61)),
                clip={"frame_rate": [rate, 1], "last_frame": 3 * rate},
            )
            population = playing.frames(2 * rate)[0].population.carried
            when = [float(population[f"cue.c{i}.when"][0]) for i in range(7)]
            np.testing.assert_allclose(when, [0.76, 1.26, 1.26, 0.33, 0.86, 0.61, 0.4], atol=1e-5)

    def test_chance_takes_its_share_and_adding_a_cue_reshuffles_nobody(self):
        one = test("age", 0.5, chance=row(0.3), ends=True)
        alone, beside = (
            cued(*cues, count=4000).frames(24)[0].population for cues in ((one,), (one, test("age", 90.0)))
        )
        self.assertAlmostEqual(len(alone) / 4000, 0.7, delta=0.03)
        np.testing.assert_array_equal(alone.key, beside.key)

    def test_a_chance_drawn_anew_comes_to_everybody_in_the_end(self):
        """One in four at each of eight turns: 1 - 0.75^8 of all had it at least once, and a quarter each time."""
        wave = "1.0 if (age * 4) % 1.0 < 0.5 and age > 0.1 else 0.0"
        for repeated, wanted in ((True, 1 - 0.75**8), (False, 0.25)):
            playing = cued(test(wave, times="each", chance=row(0.25), again=repeated), count=4000)
            counts = playing.frames(50)[0].population.carried["cue.c0.count"]
            self.assertAlmostEqual(float((counts > 0).mean()), wanted, delta=0.03)
            self.assertAlmostEqual(float(counts.mean()), 2.0, delta=0.12)

    def test_all_of_and_any_of_the_conditions_of_others(self):
        """Of three waves over an age; the last that comes true decides all of, the first any of."""
        waves = [test(f"age - {after}", 0.0) for after in (0.25, 0.75, 0.5)]
        playing = cued(
            *waves,
            {"kind": "joined", "how": "all", "of": ["c0", "c1", "c2"]},
            {"kind": "joined", "how": "any", "of": ["c1", "c2"]},
            {"kind": "joined", "how": "all", "of": ["c0"], "held": row(1.0)},
        )
        population = playing.frames(60)[0].population.carried
        np.testing.assert_allclose([population[f"cue.c{i}.when"][0] for i in (3, 4, 5)], [0.75, 0.5, 1.25], atol=1e-5)

    def test_formulas_know_cues_by_their_names_and_follow_when_they_are_renamed(self):
        playing = cued(
            test("age", 0.5, name="the pop"),
            {"kind": "clock", "after": "c0", "length": row(1.0), "name": "fuse"},
            look__opacity=formula("cues.the_pop * (clocks.fuse + after.the_pop + times.the_pop) / 4"),
        )
        self.assertAlmostEqual(float(playing.show(24)[0].column("opacity")[0]), 0.5, places=5)
        effect = rename(playing.effect, "cue", "c0", "bang", playing.effect.emitters[0].uid)
        self.assertIn("cues.bang * (clocks.fuse + after.bang + times.bang)", effect.model_dump_json())
        self.assertAlmostEqual(float(Playing(effect).show(24)[0].column("opacity")[0]), 0.5, places=5)


class Does(unittest.TestCase):
    def test_in_listed_order_each_sees_what_those_before_it_did_and_the_first_ending_wins(self):
        adds = test("age", 0.5, own="n", own_by="add", own_value=row(2.0))
        sees = test("own.n", 1.5, own="n", own_by="set", own_value=formula("own.n * 10"))
        population = cued(adds, sees, own=COUNTER).frames(12)[0].population
        self.assertEqual(population.carried["own.n.0"][0], 20.0)
        other = cued(sees, adds, own=COUNTER)
        self.assertEqual(other.frames(12)[0].population.carried["own.n.0"][0], 2.0)
        self.assertEqual(other.frames(13)[0].population.carried["own.n.0"][0], 20.0)
        self.assertEqual(
            len(cued(test("age", 0.5, ends=True), test("age", 1.0, ends=True)).frames(12)[0].population), 0
        )

    def test_velocity_is_turned_stopped_and_kicked(self):
        playing = cued(test("age", 0.5, speeds=row(-0.5)), test("age", 1.0, speeds=row(0.0), kick=row([3.0, 0.0, 0.0])))
        np.testing.assert_allclose(playing.frames(12)[0].population.floats[5:8, 0], [0, -0.5, 0], atol=1e-6)
        np.testing.assert_allclose(playing.frames(48)[0].population.floats[2:8, 0], [3.0, 0.25, 0, 3, 0, 0], atol=1e-5)

    def test_size_and_colour_are_changed_from_then_on_and_the_last_one_stays(self):
        one = test("age", 0.5, sizes=row(0.5), grows=row(0.3), tints=row(1.0), tint=row([0.0, 1.0, 0.0]))
        two = test("age", 1.0, sizes=row(0.0), grows=row(0.2), tints=row(0.5), tint=row([1.0, 0.0, 0.0]))
        playing = cued(one, two, look__size=row(0.4), look__colour=row([0.0, 0.0, 1.0]))
        for frame, size, tint in ((6, 0.4, (0, 0, 1)), (12, 0.5, (0, 1, 0)), (30, 0.2, (0.5, 0.5, 0))):
            shown = playing.show(frame)[0]
            np.testing.assert_allclose(shown.column("size"), [size], atol=1e-6)
            np.testing.assert_allclose(shown.column("colour"), [tint], atol=1e-6)

    def test_vectors_and_colours_are_set_and_masks_count_as_touched(self):
        own = [
            {
                "kind": "vector",
                "uid": "v",
                "name": "v",
                "memory": True,
                "start": row([1.0, 2.0, 3.0]),
                "change": row([0.0, 0.0, 0.0]),
            }
        ]
        mask = {
            "kind": "mask",
            "shape": "sphere",
            "uid": "m",
            "name": "m",
            "radius": row(0.1),
            "position": row([90.0, 0, 0]),
        }
        reads = {"base": {"source": {"kind": "mask", "mask": "m", "part": "latched"}, "read": "live"}, "responses": []}
        playing = cued(
            test("age", 0.5, own="v", own_by="add", own_vector=row([0.0, 1.0, 2.0]), latch="m"),
            own=own,
            look__opacity=reads,
            props=[mask],
        )
        np.testing.assert_allclose(
            [playing.frames(12)[0].population.carried[f"own.v.{i}"][0] for i in range(3)], [1, 3, 5]
        )
        self.assertEqual([float(playing.show(frame)[0].column("opacity")[0]) for frame in (11, 12, 40)], [0, 1, 1])

    def test_it_stays_where_it_is_and_is_let_go_again(self):
        falls = [{"kind": "gravity", "uid": "g", "strength": row(9.81)}]
        playing = cued(test("age", 0.5, holds="stays"), test("age", 1.0, holds="lets go"), forces=falls)
        y = [float(playing.frames(frame)[0].population.position[1][0]) for frame in range(49)]
        self.assertTrue(all(abs(each - y[12]) < 1e-6 for each in y[12:24]))
        np.testing.assert_allclose(y[36], y[24] - 9.81 * 0.25 / 2, atol=1e-3)

    def test_who_stays_by_a_touch_goes_along_with_what_it_touched(self):
        """Upward onto a deck that turns about z, half a turn a second, from above: it stays at its place of the deck,
        flat or of triangles."""
        turns = {
            "base": [0, 0, 0],
            "responses": [
                {
                    "kind": "curve",
                    "uid": "t",
                    "source": {"kind": "clip_time"},
                    "read": "live",
                    "operation": "set",
                    "component": "z",
                    "input": [0, 4],
                    "output": [0, 0.8],
                    "curve": {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1, "shape": "linear"}]},
                }
            ],
        }
        deck = {
            "kind": "shape",
            "uid": "deck",
            "name": "deck",
            "shape": "box",
            "position": row([0.3, 1.5, 0.0]),
            "rotation": turns,
        }
        for contact in (
            {"kind": "box", "size": row([2.0, 0.5, 2.0]), "centre": row([0.0, 0.0, 0.0]), "space": "deck"},
            {"kind": "prop", "prop": "deck"},
        ):
            playing = cued(
                {"kind": "touch", "holds": "stays"},
                contacts=[{"uid": "c", "bounce": row(0.5), **contact}],
                props=[deck],
                look__size=row(0.1),
            )
            local = []
            for frame in (40, 60, 90):
                population, angle = playing.frames(frame)[0].population, 0.8 * frame / 24 / 4
                x, y = float(population.position[0][0]) - 0.3, float(population.position[1][0]) - 1.5
                local.append([x * np.cos(angle) + y * np.sin(angle), -x * np.sin(angle) + y * np.cos(angle)])
            np.testing.assert_allclose(local[0], local[1], atol=2e-3)
            np.testing.assert_allclose(local[1], local[2], atol=1e-5)
            self.assertLess(local[0][1], -0.2)

    def test_a_bubble_pops_where_it_lands(self):
        """A touch: at the contact's moment or the end of its step; and a slow one does not count."""
        playing = cued(
            {"kind": "touch", "ends": True, "faster": row(2.0)},
            forces=[{"kind": "gravity", "uid": "g", "strength": row(9.81)}],
            contacts=[{"kind": "plane", "uid": "p", "point": row([0.0, -1.0, 0.0]), "bounce": row(0.5)}],
        )
        lands = (1 + np.sqrt(1 + 2 * 9.81 * (1 - 0.05))) / 9.81
        alive = [len(playing.frames(frame)[0].population) for frame in range(40)]
        self.assertLess(abs(alive.index(0) / 24 - lands), 0.05)
        slow = cued(
            {"kind": "touch", "ends": True, "faster": row(20.0)},
            forces=[{"kind": "gravity", "uid": "g", "strength": row(9.81)}],
            contacts=[{"kind": "plane", "uid": "p", "point": row([0.0, -1.0, 0.0]), "bounce": row(0.5)}],
        )
        self.assertEqual(len(slow.frames(90)[0].population), 1)

    def test_every_touch_counts_also_at_a_steps_beginning_and_step_after_step(self):
        """Born resting on a floor it has touched at once; between two walls it touches one in each step."""
        floor = {"kind": "plane", "uid": "p", "point": row([0.0, -0.05, 0.0]), "bounce": row(0.0)}
        rests = cued(
            {"kind": "touch"},
            forces=[{"kind": "gravity", "uid": "g", "strength": row(9.81)}],
            contacts=[floor],
            look__size=row(0.1),
        )
        still = rests.effect.model_dump(mode="json")
        still["emitters"][0]["births"]["launch"]["speed"] = row(0.0)
        self.assertEqual(Playing(read_effect(still)).frames(2)[0].population.carried["cue.c0.count"][0], 1)
        walls = [
            {
                "kind": "plane",
                "uid": f"w{side}",
                "point": row([0.0, side * 0.07, 0.0]),
                "normal": row([0.0, -side * 1.0, 0.0]),
                "bounce": row(1.0),
            }
            for side in (-1, 1)
        ]
        playing = cued({"kind": "touch", "times": "each"}, contacts=walls, look__size=row(0.1))
        population = [playing.frames(frame)[0].population.carried for frame in range(1, 60)]
        touches, happened = (
            np.diff([float(each[name][0]) for each in population]) for name in ("touch.count", "cue.c0.count")
        )
        self.assertTrue((touches > 0).all())
        np.testing.assert_array_equal(happened, touches)
        self.assertGreater(touches.max(), 1)

    def test_each_touch_of_a_step_is_counted_and_the_first_that_is_fast_enough_at_its_own_time(self):
        """A ball that comes down onto a floor and up by 0.36 of that each time (Newton's rule): ten touches, of which
        some fall into one step. Kicks add up, attributes count, the third touch is the third, one ends it and none
        comes after that; whatever the frames are."""
        bounce, speed = 0.6, float(np.sqrt(1 + 2 * 9.81))
        lands = (1 + speed) / 9.81 + np.array(
            [2 * speed / 9.81 * sum(bounce**k for k in range(1, n + 1)) for n in range(10)]
        )
        at_most = {"times": "each", "faster": row(speed * bounce**9.5)}
        floor = {
            "kind": "plane",
            "uid": "p",
            "point": row([0.0, -1.0, 0.0]),
            "bounce": row(bounce),
            "friction": row(0.0),
            "thickness": row(0.0),
        }
        for rate, substeps in ((6, 1), (24, 1), (24, 3), (120, 1)):
            playing = cued(
                {
                    "kind": "touch",
                    **at_most,
                    "bears": row(1.0),
                    "own": "n",
                    "own_by": "add",
                    "own_value": row(1.0),
                    "kick": row([1.0, 0.0, 0.0]),
                },
                {"kind": "touch", "touches": row(3.0)},
                {"kind": "touch", **at_most, "touches": row(8.0), "ends": True},
                {"kind": "touch", **at_most, "touches": row(4.0), "delay": row(1e-4)},
                contacts=[floor],
                forces=[{"kind": "gravity", "uid": "g", "strength": row(9.81)}],
                own=COUNTER,
                clip={"frame_rate": [rate, 1], "substeps": substeps, "last_frame": 3 * rate},
            )
            collected: dict[str, list[float]] = {cue: [] for cue in ("c0", "c1", "c2", "c3")}
            carried: dict[str, float] = {}
            states = []
            for frame in range(1, 3 * rate):
                for cue, times in collected.items():
                    times += (happened := playing.runs[0].cue_times(frame, cue)).time.tolist()
                    states += [*happened.state] if cue == "c0" else []
                if len(population := playing.frames(frame)[0].population):
                    carried = {name: float(values[0]) for name, values in population.carried.items()} | {
                        "vx": float(population.floats[5, 0])
                    }
            with self.subTest(rate=rate, substeps=substeps):
                for cue, times in (
                    ("c0", lands[:8]),
                    ("c1", lands[2:3]),
                    ("c2", lands[7:8]),
                    ("c3", lands[3:8] + 1e-4),
                ):
                    np.testing.assert_allclose(collected[cue], times, atol=5e-6)
                places, leaves = np.array(states)[:, 1], np.array(states)[:, 4]
                np.testing.assert_allclose(places, -1, atol=1e-5)
                np.testing.assert_allclose(leaves, speed * bounce ** np.arange(1, 9), atol=1e-4)
                self.assertEqual(np.array(states)[:, 9:].tolist(), [[1.0, k] for k in range(8)])
                self.assertEqual(carried["own.n.0"], carried["vx"])
                self.assertLess(carried["own.n.0"], 8)

    def test_grown_and_gone_again(self):
        """Common practice, no source: growth to a ceiling that falls to nought between frames 100 and 150; ended when
        it is nought again and older than 5 frames: nobody lives past frame 151, nobody ends within its first 5."""
        grows = [
            {
                "kind": "number",
                "uid": "n",
                "name": "n",
                "memory": True,
                "held": True,
                "start": row(0.0),
                "change": row(0.4),
                "lowest": row(0.0),
                "highest": formula("clamp((150 - age * 24) / 50, 0, 1)"),
            }
        ]
        playing = cued(
            test("own.n", 0.0, side="below", second="and", of_two=formula("age"), value_two=row(5.5 / 24), ends=True),
            count=5,
            own=grows,
            clip={"last_frame": 200},
        )
        alive = np.array([len(playing.frames(frame)[0].population) for frame in range(160)])
        self.assertTrue((alive[:149] == 5).all())
        self.assertEqual(alive[151], 0)


def spray(generations: int = 1, bears: float = 6.0, **more: Any) -> Playing:
    """Return drops that fall onto a slope from different heights and burst there, and what they burst into, and so
    on."""
    slope = {
        "kind": "plane",
        "uid": "p",
        "point": row([0.0, -1.0, 0.0]),
        "normal": row([0.3, 1.0, 0.0]),
        "bounce": row(0.6),
        "friction": row(0.0),
    }
    collected = []
    for k in range(generations + 1):
        place = (
            {"kind": "box", "centre": row([0.0, 0.5, 0.0]), "size": row([1.0, 1.0, 1.0])}
            if k == 0
            else {"kind": "particles", "emitter": f"e{k - 1}", "cue": "hit"}
        )
        one = emitter(
            births__rate=row(0.0),
            births__bursts=[{"uid": f"b{k}", "frame": 0, "count": 50}] if k == 0 else [],
            births__lifespan=row(100.0 if k < generations else 0.3),
            births__launch__speed=row(0.0 if k == 0 else 1.5),
            births__launch__cone=row(0.0),
            births__place=place,
            look__size=row(0.06 / (k + 1)),
            forces=[{"kind": "gravity", "uid": f"g{k}", "strength": row(9.81)}],
            contacts=[{**slope, "uid": f"p{k}"}],
            cues=[{"kind": "touch", "uid": "hit", "name": "hit", "ends": True, "bears": row(bears)}],
        )
        one |= {"uid": f"e{k}", "name": f"Drops {k}"}
        if k:
            one["births"]["launch"] = {"aim": "normal", "speed": row(1.5), "cone": row(0.4)}
        collected.append(one)
    body = document(*collected)
    body["clip"] |= {"frame_rate": [24, 1], "last_frame": 48, **more}
    return Playing(read_effect(upgrade(body)))


class Births(unittest.TestCase):
    def test_at_the_contacts_own_time_and_place_in_the_same_frame(self):
        """Drops that fall straight: the moment and the place in closed form; six of each, off the surface; whatever the
        substeps."""
        n = np.array([0.3, 1.0, 0.0]) / np.linalg.norm([0.3, 1.0, 0.0])
        for substeps in (1, 3):
            playing = spray(substeps=substeps)
            start = playing.frames(0)[0].population
            places = {int(key): start.floats[2:5, i].astype(float) for i, key in enumerate(start.key)}
            reported = 0
            for frame in range(1, 25):
                events = playing.runs[0].cue_times(frame, "hit")
                born = playing.runs[1].newborns(frame)
                self.assertEqual(len(born), 6 * len(events))
                self.assertTrue(set(born.key.tolist()) <= set(playing.frames(frame)[1].population.key.tolist()))
                for key, time, state in zip(events.key, events.time, events.state, strict=True):
                    p = places[int(key)]
                    falls = ((p - [0, -1, 0]) @ n - 0.03) / n[1]
                    self.assertAlmostEqual(time, float(np.sqrt(2 * falls / 9.81)), delta=2e-6)
                    np.testing.assert_allclose(state[:3], p - [0, falls, 0], atol=3e-6)
                    mine = np.abs(born.birth_time - time) < 1e-9
                    self.assertEqual(int(mine.sum()), 6)
                    np.testing.assert_allclose(
                        np.stack(born.position, 1)[mine], np.broadcast_to(state[:3], (6, 3)), atol=1e-6
                    )
                    self.assertTrue((np.stack(born.velocity, 1)[mine] @ n > 1.5 * np.cos(0.41)).all())
                    reported += 1
            self.assertGreater(reported, 40)

    def test_generations_are_counted_to_the_particle_and_go_on_from_a_checkpoint(self):
        playing = spray(2, 3.0)
        hit = [sum(len(playing.runs[k].cue_times(frame, "hit")) for frame in range(1, 49)) for k in range(3)]
        born = [sum(len(playing.runs[k].newborns(frame)) for frame in range(1, 49)) for k in (1, 2)]
        self.assertEqual(born, [3 * hit[0], 3 * hit[1]])
        self.assertGreater(hit[1], 50)
        run = playing.runs[0]
        frame = run.frame(10)
        for number in range(11, 30):
            frame = run.next(Frame.from_bytes(frame.to_bytes()))
            self.assertEqual(frame.to_bytes(), run.frame(number).to_bytes())

    def test_where_nobody_is_born_it_is_said_why(self):
        playing = spray(1, 0.0)
        effect, run = playing.effect, playing.runs[1]
        words, row_of = explain_invisible(
            effect.emitters[1], effect.emitters[0], run, playing.plan, 30, playing.frames(30)[1].population, None
        ) or (
            "",
            "",
        )
        self.assertIn("gives birth to none", words)
        self.assertEqual(row_of, "births.place")

    def test_a_budget_is_named_before_it_is_passed(self):
        with self.assertRaisesRegex(BudgetError, "born from others in one frame"):
            spray(1, 10_000.0, last_frame=60).frames(20)
            spray(3, 10_000.0, last_frame=60).frames(40)


class AnInterpreter(unittest.TestCase):
    @given(
        st.lists(
            st.tuples(
                st.sampled_from(["once", "each"]),
                st.sampled_from(["above", "below"]),
                st.floats(-0.9, 0.9),
                st.floats(2, 9),
                st.sampled_from([0.0, 0.13, 0.31]),
                st.sampled_from([0.0, 0.2, 0.55]),
                st.sampled_from(["set", "add", "end", "none"]),
                st.booleans(),
            ),
            min_size=1,
            max_size=4,
        ),
        st.sampled_from([1, 2, 3]),
    )
    @settings(max_examples=examples(30), deadline=None)
    def test_in_plain_python_agrees_over_generated_cues(self, drawn, substeps):
        """Flags, counts, times, an attribute that cues set and read, and the end; through a checkpoint in the
        middle."""
        cues = []
        for i, (times, side, value, pace, held, delay, does, reads) in enumerate(drawn):
            text = f"sin(age * {pace:.3f}) + {'0.05 * own.n' if reads else '0'}"
            more: dict[str, Any] = (
                {"own": "n", "own_by": does, "own_value": row(float(i + 1))} if does in ("set", "add") else {}
            )
            cues.append(
                test(
                    text,
                    round(value, 3),
                    times=times,
                    side=side,
                    held=row(held),
                    delay=row(delay),
                    ends=does == "end",
                    **more,
                )
            )
        playing = cued(*cues, own=COUNTER, clip={"substeps": substeps, "last_frame": 60})
        run = playing.runs[0]
        n, state, dead = (
            0.0,
            [{"was": False, "count": 0, "when": 0.0, "due": 0.0, "since": 0.0, "passed": None} for _ in cues],
            False,
        )
        frame = playing.frames(0)[0]
        for number in range(61):  # the step in which it is born has no length
            frame = frame if number == 0 else run.next(Frame.from_bytes(frame.to_bytes()) if number % 7 == 0 else frame)
            for k in range(substeps if number else 1):
                if dead:
                    break
                now, dt = (
                    (((number - 1) * substeps + k + 1) / (24 * substeps), 1 / (24 * substeps)) if number else (0.0, 0.0)
                )
                for i, (times, side, value, pace, held, delay, does, reads) in enumerate(drawn):
                    s = state[i]
                    x = np.sin(now * round(pace, 3)) + (0.05 * n if reads else 0.0)
                    if abs(x - round(value, 3)) < 1e-4:
                        return  # the last bit decides
                    true = x >= round(value, 3) if side == "above" else x <= round(value, 3)
                    by = x - round(value, 3) if side == "above" else round(value, 3) - x
                    before, s["passed"] = (by if s["passed"] is None else s["passed"]), by
                    share = by / (by - before) if before < 0 < by else 1.0
                    s["since"] = 0.0 if not true else share * dt if share < 1 else s["since"] + dt
                    ago = min(max(s["since"] - held, 0.0), dt)
                    if held and abs(s["since"] - held) < 1e-4:
                        return
                    holds = true and (not held or s["since"] >= held)
                    fires = holds and not s["was"] and (times == "each" or (s["count"] == 0 and s["due"] == 0.0))
                    if delay:
                        s["due"] = now - ago + delay if fires else s["due"]
                        if s["due"] and abs(s["due"] - now) < 1e-4:
                            return
                        fires, ago = s["due"] > 0 and s["due"] <= now, min(max(now - s["due"], 0.0), dt)
                        s["due"] = 0.0 if fires else s["due"]
                    s["was"] = holds
                    if fires:
                        s["count"], s["when"] = s["count"] + 1, now - ago
                        n = float(i + 1) if does == "set" else n + i + 1 if does == "add" else n
                        dead = dead or does == "end"
            if dead:
                self.assertEqual(len(frame.population), 0)
                return
            self.assertEqual(len(frame.population), 1, (number, state))
            carried = frame.population.carried
            self.assertAlmostEqual(float(carried["own.n.0"][0]), n, places=4)
            for i, s in enumerate(state):
                self.assertEqual(float(carried[f"cue.c{i}.count"][0]), s["count"], (number, i))
                self.assertAlmostEqual(float(carried[f"cue.c{i}.when"][0]), s["when"], places=4)


class OfTheWhole(unittest.TestCase):
    def fountain(
        self, *cues: dict[str, Any], rate: float = 240.0, lifespan: float = 1.0, uid: str = "e", **more: Any
    ) -> dict[str, Any]:
        one = emitter(
            births__rate=row(rate),
            births__bursts=[],
            births__lifespan=row(lifespan),
            cues=[{"uid": f"c{i}", "name": f"cue {i}", **cue} for i, cue in enumerate(cues)],
            **more,
        )
        return {**one, "uid": uid, "name": uid}

    def plays(self, *emitters: dict[str, Any], **clip: Any) -> Playing:
        body = document(*emitters)
        body["clip"] |= {"frame_rate": [24, 1], "last_frame": 96, **clip}
        return Playing(read_effect(upgrade(body)))

    def test_births_stop_when_so_many_live_for_good_or_as_long_as_they_do(self):
        """One at once and ten births a frame: 101 live at frame 10. For good: nobody is born after; else never more
        than ten above a hundred."""
        counts, stopped = [], None
        for times in ("once", "each"):
            playing = self.plays(
                self.fountain({"kind": "crowd", "count": row(100.0), "births": "stop", "times": times})
            )
            counts.append([len(playing.frames(frame)[0].population) for frame in range(60)])
            stopped = stopped or playing
        once, each = counts
        self.assertEqual(max(once), 101)
        self.assertEqual(once[59], 0)
        assert stopped is not None
        message = explain_invisible(
            stopped.effect.emitters[0], None, stopped.runs[0], stopped.plan, 59, stopped.frames(59)[0].population, None
        )
        self.assertEqual(message, ("Its births are stopped at its cue cue 0.", "cues.c0.count"))
        self.assertEqual((once[9], once[10], each[10], each[11]), (91, 101, 101, 101))
        self.assertTrue(all(100 - 10 <= count <= 110 for count in each[11:]))

    def test_births_begin_at_a_frame_and_all_are_thrown_then(self):
        playing = self.plays(self.fountain({"kind": "frame", "frame": row(24.0), "births": "begin"}))
        self.assertEqual([len(playing.frames(frame)[0].population) for frame in (24, 25, 34)], [0, 10, 100])
        thrown = self.plays(
            self.fountain({"kind": "frame", "frame": row(12.0), "speeds": row(0.0), "kick": row([5.0, 0.0, 0.0])}),
            substeps=3,
        )
        fired = [len(thrown.runs[0].cue_times(frame, "c0")) for frame in range(20)]
        self.assertEqual(fired[11:13], [0, 121])
        np.testing.assert_allclose(thrown.frames(12)[0].population.velocity[0], 5.0, atol=1e-5)

    def test_another_emitters_cue_is_counted_and_lets_births_begin(self):
        """Each reaches half of its life half a second after its birth: by frame 17 there are 50."""
        first = self.fountain(test("age", 0.5), uid="a")
        second = self.fountain(
            {"kind": "elsewhere", "emitter": "a", "cue": "c0", "count": row(50.0), "births": "begin"}, uid="b"
        )
        playing = self.plays(second, first)
        often = np.cumsum([len(playing.runs[1].cue_times(frame, "c0")) for frame in range(40)])
        begins = int(np.flatnonzero(often >= 50)[0])
        counts = [len(playing.frames(frame)[0].population) for frame in range(40)]
        self.assertEqual(counts.index(10), begins + 1)
        self.assertTrue(all(count == 0 for count in counts[: begins + 1]))
        self.assertEqual(playing.frames(39)[1].cue_counts.tolist(), [often[39]])

    def test_it_goes_on_from_a_checkpoint_and_who_is_born_from_them_follows(self):
        first = self.fountain({"kind": "crowd", "count": row(100.0), "births": "stop"}, uid="a")
        child = self.fountain(rate=24.0, uid="b", births__place={"kind": "particles", "emitter": "a"})
        playing = self.plays(first, child)
        run = playing.runs[0]
        frame = run.frame(5)
        for number in range(6, 30):
            frame = run.next(Frame.from_bytes(frame.to_bytes()))
            self.assertEqual(frame.to_bytes(), run.frame(number).to_bytes())
        self.assertEqual(sum(len(run.newborns(number)) for number in range(0, 60)), 101)
        born = sum(len(playing.runs[1].newborns(number)) for number in range(0, 97))
        self.assertAlmostEqual(born, 101 * 24, delta=101)

    def test_whoever_waits_for_another_can_be_stopped_while_that_is_stepped(self):
        """The other's frames are gone from the store: it is stepped anew, and asks each time whether it is still
        wanted."""
        first = self.fountain(test("age", 0.5), uid="a")
        playing = self.plays(
            self.fountain({"kind": "elsewhere", "emitter": "a", "cue": "c0", "count": row(50.0)}, uid="b"), first
        )
        frame, asked = playing.runs[0].frame(30), []
        playing.runs[1].store = FrameStore()
        playing.runs[0].next(frame, lambda: asked.append(1))
        self.assertGreater(len(asked), 20)

    def test_two_that_wait_for_each_other_are_refused(self):
        ways = [{"kind": "elsewhere", "emitter": other, "cue": "c1", "count": row(1.0)} for other in ("b", "a")]
        with self.assertRaisesRegex(CircleProblem, "waits for"):
            self.plays(
                *(
                    self.fountain(direction, test("age", 0.5), uid=uid)
                    for direction, uid in zip(ways, ("a", "b"), strict=True)
                )
            )
