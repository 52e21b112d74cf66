"""Formulas at work: births by the integral, what is not finite, the step before, names that move, and where they may
stand."""

from __future__ import annotations

import copy
import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from demo.parts import written
from kagero.core.catalog import check_effect
from kagero.core.document import read_effect, write_effect
from kagero.core.engine import native_choice
from kagero.core.engine.native import machine
from kagero.core.errors import EffectError, FormulaProblem
from kagero.core.simulation import FrameStore
from kagero.core.workflows import Playing, measure
from tests.making import document, emitter, playing, response, row, with_
from tests.making.formulas import formula
from tests.soak import examples


def driven(text, uid="r", **more):
    """A response that adds what a formula gives: range and curve are the identity from -1000 to 1000."""
    result = response(
        uid, "life", [(0.0, 0.0), (1.0, 1.0)], output=(-1000.0, 1000.0), input=(-1000.0, 1000.0), shape="linear", **more
    )
    return {**result, "operation": "add", "source": {"kind": "formula", "uid": f"{uid}-f", "text": text}}


def times_of(rate, last=100, **clip):
    playing_clip = playing(emitter(births__rate=formula(rate), births__lifespan=row(1000)), last_frame=last, **clip)
    return playing_clip.runs[0].schedule.times


class Births(unittest.TestCase):
    def test_a_rate_that_stops(self):
        # common practice, no source: a births a frame while frame < b, from frame 0, makes a x b
        for fps in (24, 25, 30, 60, 29.97):
            for stop in (7, 40, 90):
                times = times_of(f"5 * frame_rate if frame < {stop} else 0", frame_rate=fps)
                self.assertEqual(len(times), 5 * stop, (fps, stop))
                self.assertLess(times[-1], stop / fps)

    def test_the_particle_at_a_jump_is_neither_lost_nor_doubled(self):
        self.assertEqual(
            len(times_of("100 if clip_time < 0.5 or clip_time >= 1.5 else 0", 50)), 101
        )  # one of them at the last frame itself
        self.assertEqual(len(times_of("100 if fract(clip_time) <= 0.25 else 0", 100)), 101)
        self.assertEqual(len(times_of("250 * (frame % 10 < 3)", 99)), 300)

    @given(
        st.sampled_from(
            [
                "a + b * sin(clip_time * 7)",
                "a * clip_time ** 2",
                "a * smoothstep(0.3, 1.7, clip_time)",
                "a * exp(-clip_time)",
                "b * abs(sin(3 * clip_time))",
                "a / (1 + clip_time)",
            ]
        ),
        st.floats(20, 400),
        st.floats(0.1, 1),
    )
    @settings(max_examples=examples(40), deadline=None)
    def test_births_are_what_the_integral_says(self, shape, a, share):
        b = a * share
        rate = {
            "sin": math.sin,
            "exp": math.exp,
            "abs": abs,
            "smoothstep": lambda low, high, x: (t := min(max((x - low) / (high - low), 0), 1)) * t * (3 - 2 * t),
        }

        def exact(t):
            return eval(shape, {**rate, "a": a, "b": b, "clip_time": t})  # the test's own text

        times = times_of(
            shape.replace("a *", f"{a!r} *")
            .replace("a /", f"{a!r} /")
            .replace("a +", f"{a!r} +")
            .replace("b *", f"{b!r} *"),
            100,
        )
        total = quad(exact, 0, 4, limit=400, epsabs=1e-10)[0]
        if abs(total - round(total)) > 2e-3:
            self.assertEqual(len(times), math.ceil(total))
        for n in (1, len(times) // 2, len(times) - 1):
            self.assertAlmostEqual(quad(exact, 0, times[n], limit=400)[0], n, delta=2e-3)

    def test_births_are_spread_along_the_way_of_a_moving_emitter(self):
        clip = playing(
            emitter(
                births__rate=row(1000),
                births__place__centre=formula("vec3(cos(clip_time * tau), 0, sin(clip_time * tau))", "once"),
                births__launch__speed=row(0.0),
            ),
            frame_rate=5,
        )
        frame = clip.frames(10)[0].population
        x, _, z = (c.astype(float) for c in frame.position)
        np.testing.assert_allclose(np.hypot(x, z), 1, atol=1e-6)
        turned = np.unwrap(np.arctan2(z, x))
        np.testing.assert_allclose(np.diff(turned), 2 * math.pi / 1000, atol=1e-5)  # evenly, not in clumps of a frame

    def test_a_rate_that_is_not_finite_is_replaced_and_reported_without_a_particle(self):
        clip = playing(emitter(births__rate=formula("1 / (clip_time - clip_time)")))
        self.assertGreater(len(clip.frames(20)[0].population), 0)
        self.assertEqual(
            (list(clip.runs[0].rate_faults.counts), clip.runs[0].rate_faults.first_key),
            (["births.rate"], {"births.rate": -1}),
        )


class Guards(unittest.TestCase):
    def test_divisions_and_domain_errors_are_counted_with_row_and_particle_and_the_clip_runs_on(self):
        for text in ("1 / (age - age)", "sqrt(0 - life - 1)", "log(life * 0)", "normalize(position * 0).x"):
            shown = playing(emitter(look__size=row(0.1, driven(text)))).show(20)[0]
            np.testing.assert_array_equal(shown.column("size"), np.float32(0.1))  # the value before it
            self.assertEqual(shown.faults.counts, {"look.size": len(shown)}, text)
            self.assertEqual(shown.faults.first_key["look.size"], int(shown.population.key[0]))
        shown = playing(emitter(look__size=formula("1 / (age - age)"))).show(20)[0]
        np.testing.assert_array_equal(shown.column("size"), np.float32(0.1))  # the row's default
        frame = playing(emitter(motion={"spin": row(1.0, driven("1 / (age - age)"))})).frames(20)[0]
        self.assertEqual(frame.faults.counts, {"motion.spin": len(frame.population)})
        self.assertTrue(all(np.isfinite(c).all() for c in frame.population.position))

    def test_the_branch_not_taken_may_divide_by_nought(self):
        shown = playing(emitter(look__size=formula("1 / (life - life) if life < 0 else 0.25"))).show(20)[0]
        np.testing.assert_array_equal(shown.column("size"), np.float32(0.25))
        self.assertEqual(shown.faults.counts, {})


class StepBefore(unittest.TestCase):
    def test_growth_by_the_step(self):
        clip = playing(emitter(look__size=formula("previous(rows.size) + 0.5 * dt")), substeps=3)
        shown = clip.show(30)[0]
        np.testing.assert_allclose(shown.column("size"), 0.1 + 0.5 * shown.population.age, rtol=2e-5)

    def test_a_remembered_condition_stays(self):
        # latched once above 0.4 m, though particles come down again
        from tests.making import with_

        falls = with_(
            emitter(look__opacity=formula("max(previous(rows.opacity) if age > 0 else 0, step(0.4, height))")),
            births__launch__speed=row(3.0),
            forces=[{"kind": "gravity", "uid": "g", "strength": row(9.81)}],
        )
        clip = playing(falls)
        seen: dict[int, float] = {}
        for number in range(51):
            shown = clip.show(number)[0]
            for key, opacity in zip(shown.population.key.tolist(), shown.column("opacity").tolist(), strict=True):
                self.assertGreaterEqual(opacity, seen.get(key, 0))
                seen[key] = opacity
        self.assertGreater(sum(v == 1 for v in seen.values()), 30)

    def test_it_closes_no_circle_and_a_circle_without_it_is_refused(self):
        two = emitter(
            look__size=formula("previous(rows.opacity) * 0.1 + 0.1", uid="a"),
            look__opacity=formula("clamp(rows.size * 2, 0, 1)", uid="b"),
        )
        # opacity' = 0.2 opacity + 0.2 a step, from whatever it began at: after ten steps within 0.2^10 of 0.25
        shown = playing(two).show(20)[0]
        old = shown.population.age > 0.39
        self.assertGreater(int(old.sum()), 10)
        np.testing.assert_allclose(shown.column("opacity")[old], 0.25, atol=1e-5)
        np.testing.assert_allclose(shown.column("size")[old], 0.125, atol=1e-5)
        with self.assertRaises(EffectError) as caught:
            playing(emitter(look__size=formula("rows.opacity", uid="a"), look__opacity=formula("rows.size", uid="b")))
        self.assertIn("circle", str(caught.exception))

    def test_going_on_from_a_stored_frame_gives_the_same_bytes(self):
        one = emitter(look__size=formula("previous(rows.size) * 0.9 + noise(position, 0.3) * 0.01 + 0.02"))
        straight = playing(one).frames(40)[0].to_bytes()
        store = FrameStore()
        for number in (10, 25, 40):
            repeated = playing(one, store=store).frames(number)[0].to_bytes()
        self.assertEqual(straight, repeated)


class Standing(unittest.TestCase):
    def refused(self, **rows):
        with self.assertRaises(FormulaProblem) as caught:
            playing(emitter(**rows))
        return caught.exception.findings[0]

    def test_a_row_says_why_it_cannot_have_a_formula(self):
        for rows, message in [
            ({"births__rate": formula("life * 10")}, "whole emitter"),
            ({"births__lifespan": formula("age + 1", "once")}, "settled at birth"),
            ({"births__lifespan": formula("previous(rows.size)", "once")}, "no step before"),
            ({"births__rate": formula("previous(clip_time)")}, "no step before"),
            ({"births__launch__speed": formula("speed", "once")}, "comes out of"),
            ({"births__rate": formula("dt")}, "no dt"),
            ({"births__launch__direction": formula("life * 0", "once")}, "settled at birth"),
            ({"births__place__centre": formula("1", "once")}, "needs a vector"),
            ({"look__size": formula("position")}, "needs a number"),
            ({"look__size": formula("lief")}, "Line 1, column 1: Nothing is called lief"),
        ]:
            with self.subTest(message):
                finding = self.refused(**rows)
                self.assertIn(message, finding.message)
                self.assertTrue(finding.where.endswith("source.text") and finding.remedy)

    def test_every_name_can_be_read_where_its_source_can(self):
        from kagero.core.catalog import Links, Scope, offers

        effect = read_effect(
            document(
                emitter(
                    forces=[
                        {"kind": "gravity", "uid": "g1", "strength": row(1)},
                        {"kind": "gravity", "uid": "g-2", "strength": row(2)},
                    ]
                )
            )
        )
        links = Links(Scope(effect.emitters[0], effect))
        names = offers(links, links.rows["look.opacity"], "live")
        self.assertIn("rows.gravity_g_2", {offer.name for offer in names})
        usable = [offer for offer in names if not offer.refused and offer.kind != "vector" and offer.kind != "colour"]
        self.assertGreater(len(usable), 25)
        text = " + ".join(f"0 * {offer.name}" for offer in usable)
        forces = [
            {"kind": "gravity", "uid": "g1", "strength": row(1)},
            {"kind": "gravity", "uid": "g-2", "strength": row(2)},
        ]
        shown = playing(emitter(look__opacity=formula(f"0.5 + {text}"), forces=forces)).show(10)[0]
        np.testing.assert_array_equal(shown.column("opacity"), np.float32(0.5))
        self.assertIn(
            "look.opacity", "".join(f"{o.name}look.opacity" for o in names if o.name == "opacity" and o.refused)
        )

    def test_named_steps_and_results_are_measured(self):
        clip = playing(emitter(look__size=formula("half = life / 2\nhalf + 0.1")))
        plan, population = clip.plan.emitters[0], clip.frames(20)[0].population
        got = measure(clip.effect.emitters[0], plan, population, 0.8)["formulas"]["f"]
        life = population.age / population.lifespan
        np.testing.assert_allclose(got["half"][0], [life.min() / 2, life.mean() / 2, life.max() / 2], rtol=1e-4)
        np.testing.assert_allclose(got[""][0][2], life.max() / 2 + 0.1, rtol=1e-4)

    def test_another_number_in_a_formula_compiles_no_machine_code_nor_does_a_dial(self):
        if native_choice().reason:
            self.skipTest("no native engine here")

        def document_with(number, dial):
            body = document(emitter(look__size=formula(f"{number} * (1 + sin(age * 3.5)) * dials.height")))
            return {**body, "dials": [{"uid": "h", "name": "Height", "value": dial, "low": 0, "high": 9, "default": 1}]}

        sizes = []
        Playing(read_effect(document_with(0.125, 1))).show(20)
        before = machine.compiled_count
        for number, dial in ((0.125, 2), (0.25, 1), (0.125, 3.5)):
            sizes.append(Playing(read_effect(document_with(number, dial))).show(20)[0].column("size"))
        self.assertEqual(machine.compiled_count, before)
        np.testing.assert_allclose(sizes[0], sizes[1], rtol=1e-6)
        np.testing.assert_allclose(sizes[2], sizes[0] * 1.75, rtol=1e-6)


class Examples(unittest.TestCase):
    def test_each_plays_where_it_is_made_for_without_a_fault(self):
        from kagero.core.catalog.examples import EXAMPLES

        own = [{"kind": "vector", "uid": "place", "name": "place", "memory": True}]
        for example in EXAMPLES:
            with self.subTest(example.title):
                one = emitter(own=copy.deepcopy(own))
                path = {"own.place.change": ("own", 0, "change")}.get(example.address) or tuple(
                    example.address.split(".")
                )
                holder = one
                for step in path[:-1]:
                    holder = holder[step]
                holder[path[-1]] = formula(example.text, "once" if example.stages == ("birth",) else "live")
                clip = playing(one)
                for number in (10, 40):
                    self.assertEqual(clip.show(number)[0].faults.counts, {})
                    self.assertEqual(clip.frames(number)[0].faults.counts, {})
                self.assertGreater(clip.runs[0].schedule.times.size, 0)


class SharedNoise(unittest.TestCase):
    """Noise of one row differs from the next's by design; under a name it is the same for the whole effect."""

    def values(self, *emitters, frame: int = 12) -> list[np.ndarray]:
        clip = playing(*emitters)
        return [shown.column("size") for shown in clip.show(frame)]

    def noisy(self, uid: str, **source) -> dict:
        driven = response(
            "r" + uid,
            {"kind": "noise", "uid": "n" + uid, "scale": 0.5, "drift": 0.2, **source},
            [(0, 0), (1, 1)],
            input=(-1, 1),
            output=(0, 1),
            shape="linear",
        )
        return emitter(uid, births__launch__cone=row(1.0), look__size=row(1.0, driven))

    def written(self, uid: str, which: str) -> dict:
        return emitter(
            uid,
            births__launch__cone=row(1.0),
            look__size=written("f" + uid, f"(1 + noise(position, 0.5, 0.2{which})) / 2"),
        )

    def test_under_a_name_sources_and_formulas_of_all_emitters_read_the_same(self):
        place = {
            "births__place__centre": row([0.3, 0.2, 0.1]),
            "births__launch__speed": row(0.0),
            "births__launch__cone": row(0.0),
        }
        both = [
            with_(one, **place)
            for one in (
                self.noisy("a", shared="fog"),
                self.noisy("b", shared="fog"),
                self.written("c", ", noises.fog"),
                self.noisy("d"),
                self.noisy("e"),
                self.written("f", ""),
                self.written("g", ""),
                self.written("h", ", noises.mist"),
            )
        ]
        fog, other, formula, alone, another, plain, unlike, mist = (value.mean() for value in self.values(*both))
        self.assertAlmostEqual(fog, other, places=6)
        self.assertAlmostEqual(fog, formula, places=5)
        different = [fog, alone, another, plain, unlike, mist]
        self.assertEqual(len({round(float(value), 4) for value in different}), len(different))

    def test_a_name_is_structure_so_that_another_is_other_noise_and_a_wrong_one_is_refused(self):
        fog, mist = (self.values(self.noisy("a", shared=name))[0] for name in ("fog", "mist"))
        self.assertFalse(np.array_equal(fog, mist))
        with self.assertRaises(FormulaProblem) as caught:
            self.values(self.written("a", ", age"))
        self.assertIn("noises.fog", str(caught.exception))
        with self.assertRaises(FormulaProblem):
            self.values(emitter("a", look__size=written("x", "noises.fog + 1")))


class Defaults(unittest.TestCase):
    def test_a_response_that_does_not_say_when_it_is_read_is_read_as_its_row_can(self):
        def bare(uid: str, source) -> dict:
            result = response(uid, source, [(0, 0), (1, 1)])
            del result["read"]
            return result

        one = emitter(
            draws=[{"kind": "uniform", "uid": "d", "name": "luck", "high": row(1.0, bare("h", "clip_time"))}],
            births__lifespan=row(2.0, bare("a", "draw:d")),
            births__launch__speed={"base": {"source": {"kind": "clip_time"}}, "responses": []},
            births__rate=row(40.0, bare("b", "clip_time")),
            look__size=row(0.1, bare("c", "age")),
        )
        effect = read_effect(document(one))
        body = effect.emitters[0]
        reads = [
            body.draws[0].high.responses[0].read,
            body.births.lifespan.responses[0].read,
            body.births.launch.speed.base.read,
            body.births.rate.responses[0].read,
            body.look.size.responses[0].read,
        ]
        self.assertEqual(reads, ["once", "once", "once", "live", "live"])
        self.assertEqual(check_effect(effect), [])
        self.assertEqual(read_effect(write_effect(effect)), effect)
