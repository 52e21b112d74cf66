"""DESIGN.md, the engine's rules 2, 4, 6, 7, 9, 10, 15: same effect, same bytes; no edit reshuffles anything else."""

from __future__ import annotations

import unittest
from dataclasses import replace
from typing import Any
from unittest.mock import patch

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from demo.files import content
from demo.lantern_ferry import effects
from kagero.core.document import read_effect
from kagero.core.engine import Faults, prepare_reference
from kagero.core.errors import CircleProblem
from kagero.core.simulation import EmitterRun, Frame, FrameStore, frame_inputs, step
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, gradient, playing, response, row, with_
from tests.making.runs import frame_bytes, rich
from tests.soak import examples


def by_key(result: Playing, number: int = 30, index: int = 0) -> dict[int, tuple]:
    """Return everything about each particle at a frame, by its permanent key."""
    p = result.particles(number)
    mine = p.arrays["emitter"] == index
    columns = [p.arrays[name][mine] for name in ("position", "velocity", "age", "lifespan", "size", "color", "opacity")]
    return {int(key): tuple(c[i].tobytes() for c in columns) for i, key in enumerate(p.arrays["key"][mine])}


class SameBytes(unittest.TestCase):
    def test_whatever_the_order_of_frames_and_the_cache(self):
        onward, backward = playing(rich()), playing(rich())
        wanted = [0, 5, 17, 30, 50]
        first = {n: frame_bytes(onward, n) for n in wanted}
        second = {n: frame_bytes(backward, n) for n in reversed(wanted)}
        self.assertEqual(first, second)
        tiny = playing(rich(), store=FrameStore(limit=1))  # keeps one frame only
        self.assertEqual(first, {n: frame_bytes(tiny, n) for n in (50, 0, 30, 5, 17)} | {})

    def test_whatever_the_block_size(self):
        clip = playing(rich())
        frame = clip.frames(40)[0]
        plan = clip.plan.emitters[0]
        inputs = frame_inputs(frame.population, 1.6)
        step_inputs = {**inputs, "middle": 1.58, "dt": np.full(len(frame.population), 0.04, np.float32)}
        for program, given_ in (
            (plan.step, step_inputs),
            (plan.looks[0].program, inputs),
            (plan.probe.program, inputs),
        ):
            whole = prepare_reference(program).run(plan.values, given_, len(frame.population))
            for block in (1, 7, 64, 100):
                parts = prepare_reference(program).run(plan.values, given_, len(frame.population), block=block)
                for name, values in whole.items():
                    self.assertEqual(values.tobytes(), parts[name].tobytes(), name)

    def test_a_checkpoint_goes_on_to_the_same_bytes(self):
        for substeps in (1, 3):
            clip = playing(rich(), substeps=substeps)
            run = clip.runs[0]
            straight = run.frame(45)
            taken = Frame.from_bytes(run.frame(20).to_bytes())
            while taken.number < 45:
                taken = run.next(taken)
            self.assertEqual(straight.to_bytes(), taken.to_bytes())

    @settings(max_examples=examples(25))
    @given(st.integers(1, 5), st.integers(1, 3), st.integers(5, 60), st.booleans(), st.booleans())
    def test_threads_and_blocks_change_no_byte(self, threads, substeps, block, faulty, ending):
        """Bursts, endings and births; also where a row ends particles, and where results are not finite and are counted
        (spin by a size of nought)."""
        one = with_(rich(), **({} if faulty else {"motion__spin": row(1.0)}))
        if ending:
            one["ending"] = {
                "where": row(0.0, response("low", "height", [(0, 1), (1, 0)], input=(0.9, 1.1), operation="add"))
            }
        clip = playing(one, substeps=substeps)
        alone, shared = (
            EmitterRun(clip.plan, clip.plan.emitters[0], FrameStore(), replace(clip.engine, threads=n))
            for n in (1, threads)
        )
        for number in (11, 12, 30, 50):
            other = alone.frame(number)
            with patch.multiple(step, WORTH_IT=20, APIECE=20, BLOCK=block):
                mine = shared.frame(number)
                self.assertEqual(mine.to_bytes(), other.to_bytes(), number)
                self.assertEqual(
                    (mine.faults.counts, mine.faults.first_key), (other.faults.counts, other.faults.first_key)
                )
        self.assertEqual(faulty, bool(other.faults.counts))


class NothingElseIsReshuffled(unittest.TestCase):
    def setUp(self):
        self.other = emitter(
            "other", births__place={"kind": "box", "centre": row([0.0, 0.0, 0.0]), "size": row([1.0, 1.0, 1.0])}
        )
        self.before = playing(rich(), self.other)

    def test_a_higher_rate_keeps_everybodys_draws_and_other_emitters(self):
        after = playing(rich(births__rate=row(700)), self.other)
        self.assertEqual(by_key(self.before, index=1), by_key(after, index=1))

        def choices(result: Playing) -> dict[int, tuple]:
            births = result.frames(30)[0].population
            colours = result.show(30)[0].column("colour")
            return {int(k): c.tobytes() for k, c in zip(births.key, colours, strict=True)}

        old, new = choices(self.before), choices(after)
        shared = old.keys() & new.keys()
        self.assertGreater(len(shared), 30)  # bursts keep their keys, counted births share theirs
        self.assertEqual({k: old[k] for k in shared}, {k: new[k] for k in shared})

    def test_muting_a_look_response_changes_only_that_row(self):
        muted = with_(rich(), look__opacity__responses__0__muted=True)
        after = playing(muted, self.other)
        old, new = self.before.particles(30).arrays, after.particles(30).arrays
        for name in old:
            if name != "opacity":
                self.assertEqual(old[name].tobytes(), new[name].tobytes(), name)
        self.assertNotEqual(old["opacity"].tobytes(), new["opacity"].tobytes())

    def test_renaming_or_adding_a_draw_changes_nothing(self):
        draws = rich()["draws"]
        changed = rich(
            draws=[{"uid": "d0", "name": "new", "kind": "uniform"}, {**draws[0], "name": "renamed"}, *draws[1:]]
        )
        self.assertEqual(frame_bytes(self.before, 30), frame_bytes(playing(changed, self.other), 30))

    def test_names_order_of_emitters_and_length_change_nothing(self):
        renamed = rich(name="Something else")
        self.assertEqual(by_key(self.before), by_key(playing(self.other, renamed, last_frame=80), index=1))

    def test_muting_a_force_keeps_births(self):
        muted = with_(rich(), forces__4__muted=True)
        a, b = self.before.frames(30)[0].population, playing(muted, self.other).frames(30)[0].population
        self.assertEqual(a.key.tobytes(), b.key.tobytes())
        self.assertEqual(a.lifespan.tobytes(), b.lifespan.tobytes())
        self.assertNotEqual(a.position[0].tobytes(), b.position[0].tobytes())

    def test_another_seed_is_another_choice(self):
        self.assertNotEqual(by_key(self.before), by_key(playing(rich(), self.other, seed=2)))


class Births(unittest.TestCase):
    def test_do_not_depend_on_substeps(self):
        births = []
        for substeps in (1, 2, 5):
            run = playing(rich(), substeps=substeps).runs[0]
            births.append(
                [
                    run.frame(n).population.birth_time.tobytes() + run.frame(n).population.key.tobytes()
                    for n in range(0, 51, 5)
                ]
            )
        self.assertEqual(births[0], births[1])
        self.assertEqual(births[0], births[2])

    @settings(max_examples=examples(40))
    @given(st.floats(0.5, 400), st.floats(0, 0.9), st.floats(0.05, 1.1), st.floats(0, 1), st.floats(0, 1))
    def test_birth_n_is_where_the_integral_of_the_rate_crosses_n(self, rate, start, duration, left, right):
        """The rate runs straight from rate x left at 0 s to rate x right at 2 s: its integral is known in closed
        form."""
        line = response("r", "clip_time", STRAIGHT, input=(0, 2), output=(left, right), shape="linear")
        one = emitter(births__rate=row(rate, line), births__start=start, births__duration=duration)
        times = playing(one).runs[0].schedule.times
        integral = lambda t: rate * (left * (t - start) + (right - left) / 4 * (t**2 - start**2))
        np.testing.assert_allclose(integral(times), np.arange(len(times)), atol=2e-3)
        self.assertAlmostEqual(len(times), integral(start + duration), delta=1.002)

    def test_newborns_are_placed_at_their_exact_time_and_moved_by_the_rest_of_the_step(self):
        population = playing(emitter(births__rate=row(333), births__lifespan=row(10))).frames(20)[0].population
        np.testing.assert_allclose(
            population.position[1], 20 / 25 - population.birth_time, atol=1e-5
        )  # 1 m/s, straight up
        np.testing.assert_allclose(population.age, 20 / 25 - population.birth_time, atol=1e-6)
        within = np.mod(population.birth_time * 25, 1)  # of the frame: births fall anywhere, a third of a frame apart
        self.assertGreater(len(np.unique(np.round(within, 4))), 20)
        np.testing.assert_allclose(np.diff(population.birth_time), 1 / 333, atol=1e-9)


class SimulatedAndLook(unittest.TestCase):
    LOOKS = [
        {"look__size": row(0.3)},
        {"look__opacity": row(0.5, response("new", "height", STRAIGHT, read="once"))},
        {"look__colour": row([0.1, 0.2, 0.3], gradient("g2", "age", [(0, (1, 1, 1)), (1, (0, 0, 0))]))},
        {"look__blend": "add"},
        {
            "draws": [
                {"uid": "d1", "name": "flicker", "kind": "uniform"},
                {"uid": "d2", "name": "x", "kind": "uniform"},
                {"uid": "d9", "name": "y", "kind": "uniform"},
            ],
            "look__opacity": row(0.5, response("new", "draw:d9", STRAIGHT, read="once")),
        },
    ]

    def test_a_look_edit_steps_the_simulation_zero_times(self):
        store = FrameStore()
        plain = emitter("p", births__rate=row(200), forces=[{"kind": "gravity", "uid": "g", "strength": row(1.0)}])
        playing(plain, store=store).show(50)
        stepped = store.frames_simulated
        for change in self.LOOKS:
            playing(with_(plain, **change), store=store).show(50)
            self.assertEqual(store.frames_simulated, stepped, change)
        playing(with_(plain, forces__0__strength=row(1.1)), store=store).show(50)
        self.assertGreater(store.frames_simulated, stepped)

    def test_size_is_simulated_where_a_force_reads_it(self):
        store = FrameStore()
        playing(rich(), store=store).show(20)
        stepped = store.frames_simulated
        playing(with_(rich(), look__size__base=0.2), store=store).show(20)
        self.assertGreater(store.frames_simulated, stepped)

    def test_a_once_source_is_the_same_in_the_simulation_and_in_the_look(self):
        """Gravity keeps the birth height in the state; the look computes it from the birth again."""
        rows = response(
            "keep", "height", STRAIGHT, input=(-1, 1), output=(-1, 1), read="once", shape="linear", operation="set"
        )
        box = {"kind": "box", "centre": row([0.0, 0.0, 0.0]), "size": row([1.0, 2.0, 1.0])}
        one = emitter(
            births__place=box,
            forces=[{"kind": "gravity", "uid": "g", "strength": row(1.0, rows)}],
            look__opacity=row(1.0, {**rows, "uid": "look"}),
        )
        clip = playing(one)
        population, shown = clip.frames(30)[0].population, clip.show(30)[0]
        np.testing.assert_array_equal(
            np.clip(population.carried["kept.keep.0"], 0, 1), np.maximum(shown.column("opacity"), 0)
        )

    def test_a_once_response_keeps_its_source_and_a_live_one_follows(self):
        def sized(read: str):
            return playing(
                emitter(
                    look__size=row(
                        1.0, response("h", "height", STRAIGHT, input=(0, 1), read=read, shape="linear", operation="set")
                    )
                )
            )

        result = sized("once")
        np.testing.assert_array_equal(result.show(30)[0].column("size"), 0)  # all were born at height 0
        live = sized("live")
        np.testing.assert_allclose(
            live.show(30)[0].column("size"), np.clip(live.frames(30)[0].population.position[1], 0, 1), atol=1e-6
        )


class RowsByRows(unittest.TestCase):
    def test_a_circle_is_refused_with_its_path(self):
        one = emitter(
            births__launch__speed=row(1.0, response("a", "size", STRAIGHT, read="once")),
            look__size=row(0.1, response("b", "speed", STRAIGHT)),
        )
        with self.assertRaises(CircleProblem) as caught:
            playing(one)
        self.assertIn("Launch speed <- Size <- Launch speed", str(caught.exception))
        playing(with_(one, look__size__responses__0__muted=True))  # muted, it is none

    def test_responses_apply_in_their_order(self):
        times_two, plus_one = (
            response("x", "draw:d1", STRAIGHT, output=(2, 2), read="once"),
            response("y", "draw:d1", STRAIGHT, output=(1, 1), read="once", operation="add"),
        )
        for order, expected in (([times_two, plus_one], 7), ([plus_one, times_two], 8)):
            np.testing.assert_allclose(
                playing(emitter(look__size=row(3.0, *order))).show(20)[0].column("size"), expected
            )

    @given(
        st.sampled_from(["set", "multiply", "add", "at_most", "at_least"]),
        st.floats(0.1, 5),
        st.floats(0.1, 5),
        st.floats(0, 1),
    )
    @settings(max_examples=examples(60))
    def test_operations_and_amount(self, operation, base, value, amount):
        fields = {
            **response("x", "draw:d1", STRAIGHT, output=(value, value), read="once", operation=operation),
            "amount": amount,
        }
        whole = {
            "set": value,
            "multiply": base * value,
            "add": base + value,
            "at_most": min(base, value),
            "at_least": max(base, value),
        }[operation]
        size = playing(emitter(look__size=row(base, fields))).show(10)[0].column("size")
        np.testing.assert_allclose(size, base + (whole - base) * amount, rtol=1e-5)


class NotFinite(unittest.TestCase):
    def test_is_replaced_by_the_value_before_and_reported_with_row_and_particle(self):
        """1e9 x 1e9 five times over is beyond float32."""
        huge = [
            [response(f"{force}{i}", "draw:d1", STRAIGHT, output=(1e9, 1e9), read="once") for i in range(6)]
            for force in "gk"
        ]
        one = emitter(
            forces=[
                {"kind": "gravity", "uid": "g", "strength": row(10_000.0, *huge[0])},
                {"kind": "drag", "uid": "k", "rate": row(1.0, *huge[1])},
            ]
        )
        clip = playing(one)
        frame = clip.frames(30)[0]
        self.assertTrue(all(np.isfinite(c.astype(float)).all() for c in frame.population.columns()))
        self.assertIn("forces.g.strength", frame.faults.counts)
        self.assertIn(frame.faults.first_key["forces.g.strength"], [int(k) for k in clip.frames(29)[0].population.key])

    @given(
        st.lists(
            st.sampled_from([0.0, -0.0, 1.0, -1.0, 1e-38, 3e38, -3e38, np.inf, -np.inf, np.nan]),
            min_size=6,
            max_size=40,
        )
    )
    def test_no_input_gets_past_a_guard(self, odd):
        clip = playing(rich())
        plan = clip.plan.emitters[0]
        values = np.array(odd, np.float32)
        n = len(values)
        inputs: dict[str, Any] = dict.fromkeys(plan.step.inputs, values)
        inputs |= {
            "key": np.arange(n, dtype=np.uint64),
            "time": 1.0,
            "middle": 0.98,
            "dt": np.full(n, 0.04, np.float32),
        }
        # positions, velocities, rotations and own attributes of a state are finite; everything the step reads besides
        # may be anything
        for axis in "xyz":
            inputs[f"position.{axis}"] = inputs[f"velocity.{axis}"] = np.clip(np.nan_to_num(values), -1e6, 1e6)
        inputs |= {name: inputs["position.x"] for name in inputs if name == "rotation" or name.startswith("own.")}
        faults = Faults()
        out = prepare_reference(plan.step).run(plan.values, inputs, n, faults)
        self.assertTrue(all(np.isfinite(v).all() for v in out.values()))


class Demo(unittest.TestCase):
    def test_large_petals_fall_slower_than_small_ones(self):
        petals = Playing(effects()["petal-rain"])
        shown = petals.show(90)[0]
        old = shown.population.age > 1
        fall, size = -shown.population.velocity[1][old], shown.column("size")[old]
        self.assertLess(np.median(fall[size > 0.1]), 0.75 * np.median(fall[size < 0.06]))

    def test_the_files_are_what_the_code_makes(self):
        from demo.lantern_ferry import EFFECTS

        for name, effect in effects().items():
            self.assertEqual(read_effect((EFFECTS / f"{name}.json").read_bytes()), effect)

    def test_state_of_a_particle_stays_under_160_bytes(self):
        for effect in effects().values():
            population = Playing(effect, content=content).frames(24)[0].population
            self.assertLess(population.nbytes / max(len(population), 1), 160)


class Documents(unittest.TestCase):
    def test_reading_never_changes_its_argument(self):
        one = document(rich())
        before = repr(one)
        read_effect(one)
        self.assertEqual(repr(one), before)
