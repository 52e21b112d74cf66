"""Machine code against NumPy: every operation from identical inputs, generated programs, whole runs, threads, blocks,
tiers."""

from __future__ import annotations

import unittest
from dataclasses import dataclass
from types import SimpleNamespace
from typing import Any, ClassVar

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from demo.files import content
from demo.lantern_ferry import effects
from demo.motion import ALL as MOTION
from kagero.core.document import read_effect
from kagero.core.engine import (
    REFERENCE,
    EngineChoice,
    Faults,
    Prepared,
    current_engine,
    native_choice,
    prepare_for_engine,
    use_engine,
)
from kagero.core.engine.native import machine
from kagero.core.engine.native.run import NativePrepared
from kagero.core.engine.operations import LEAF, OPERATIONS
from kagero.core.kernels import contact_columns
from kagero.core.kernels.curves import FREE, HOLD, LINEAR, SMOOTH, curve_table, gradient_table
from kagero.core.parts.contacts.base import Standing
from kagero.core.parts.places import PLACES
from kagero.core.plan import compile_effect
from kagero.core.program import SIGNATURES, Builder, Fixed, FixedSeed, Program, ProgramValues, PropQuery, Slot
from kagero.core.workflows import Playing
from tests.making import document, emitter, playing, row, with_
from tests.making.formulas import formula
from tests.making.props import prop, with_props
from tests.making.runs import rich
from tests.soak import SOAK, examples, share

WIDTHS = machine.widths()
ODD = [0.0, -0.0, 1.0, -1.0, 0.5, 1e-38, -1e-45, 3e38, -3e38, 16777217.0, np.inf, -np.inf, np.nan]

# what an operation is ever given, where its definition needs it
RANGES = {
    "normal": (0, 1 - 2**-24),
    "cbrt": (0, 1),
    "cone_direction": (-1, 1),
    "box_surface": (0, 3),
    "sin": (-1e4, 1e4),
    "cos": (-1e4, 1e4),
}

numbers = st.floats(-1e4, 1e4, width=32) | st.sampled_from(ODD)


def standing() -> Playing:
    """A sphere that moves and turns, for operations that ask the stage."""
    one = emitter(births__place={"kind": "prop", "prop": "ball", "on": "surface"})
    ball = prop(
        "ball", position=formula("vec3(clip_time, 1, 0)"), rotation=row([0.2, 0.4, 0.1]), scale=row([1.0, 2.0, 1.0])
    )
    return Playing(with_props(ball, one=one))


ON_STAGE = standing()


@dataclass(frozen=True)
class Table(Slot[None]):
    """A table by its name."""

    group: Any

    def read(self, document: None) -> np.ndarray:
        if self.group == "gradients":
            return gradient_table([0.0, 0.4, 0.9], [(0, 1, 2), (3, 0.5, 0), (1, 1, 1)], [SMOOTH, LINEAR, HOLD])
        return curve_table([0.1, 0.3, 0.45, 0.8, 1.0], [0.2, 1.0, -0.5, 2.0, 0.1], [SMOOTH, LINEAR, HOLD, FREE, HOLD])


@dataclass(frozen=True)
class Ball(Slot[None]):
    group: ClassVar[Any] = "queries"

    def read(self, document: None) -> PropQuery:
        return PropQuery("ball", "", ON_STAGE.effect.emitters[0].births.place)


@dataclass(frozen=True)
class BallRidden(Ball):
    def read(self, document: None) -> PropQuery:
        return PropQuery("ball", "", SimpleNamespace(edge="hold", outside="edge"))


@dataclass(frozen=True)
class BallInParts(Ball):
    def read(self, document: None) -> PropQuery:
        return PropQuery(
            "ball",
            "",
            PLACES.kinds["parts"].model_validate({"kind": "parts", "prop": "ball", "into": "scraps", "count": 12}),
        )


@dataclass(frozen=True)
class Floor(Ball):
    def read(self, document: None) -> PropQuery:
        return PropQuery("", "", (Standing("plane", None, 1.0),))


def attrs_of(name: str) -> tuple[Any, ...]:
    beside: dict[Any, Any] = {
        "queries": BallInParts()
        if name == "prop_part"
        else Floor()
        if name in ("met", "met_cued", "met_often", "met_colour")
        else BallRidden()
        if name in ("prop_ridden", "prop_along", "prop_walked", "prop_field")
        else Ball(),
        "curves": Table("curves"),
        "gradients": Table("gradients"),
        "seeds": FixedSeed(987654321987654321),
        "count": 3,
    }
    return tuple(beside[kind] for kind in SIGNATURES[name].beside)


def one_operation(name: str) -> tuple[Program, ProgramValues]:
    b = Builder()
    b.row = "row"
    args = (
        [b.input("key")]
        if name in ("draw", "number")
        else [b.input("key"), b.input("x1")]
        if name == "redraw"
        else [b.input(f"x{i}") for i in range(SIGNATURES[name].arguments)]
    )
    outs = b.multi(name, *args, attrs=attrs_of(name))
    return b.finish({f"out{i}": o for i, o in enumerate(outs)}), b.slots.values(None, ON_STAGE.stage)


def columns(name: str, data: list[list[float]], count: int) -> dict[str, np.ndarray]:
    collected: dict[str, np.ndarray] = {
        "key": (np.arange(count, dtype=np.uint64) * np.uint64(0x9E3779B97F4A7C15)) | np.uint64(1)
    }
    for i in range(SIGNATURES[name].arguments):
        x = np.array([data[k % len(data)][i % 6] for k in range(count)], np.float32)
        if name.startswith("prop_"):
            x = np.mod(
                np.abs(np.nan_to_num(x, posinf=3, neginf=5)),
                np.float32(3 if i == SIGNATURES[name].arguments - 1 else 1),
            )
        if name in RANGES:
            low, high = RANGES[name]
            x = np.float32(low) + np.mod(np.abs(np.nan_to_num(x, posinf=3, neginf=5)), np.float32(1)) * np.float32(
                high - low
            )
        if name in ("noise", "curl_noise", "turbulence"):
            x = np.clip(np.nan_to_num(x), -1e4, 1e4)
            x = (
                np.abs(x) + np.float32(0.01) if i == 4 else np.abs(x) % np.float32(50) if i in (3, 5) else x
            )  # scale, time, drift
        if name in ("decay", "relax", "creep", "flight"):
            last = SIGNATURES[name].arguments - 1
            x = np.abs(np.nan_to_num(x, posinf=1e4, neginf=0)) % np.float32(1 if i == last else (30, 400)[i])
        if name == "redraw":
            x = np.floor(np.abs(np.nan_to_num(x, posinf=3, neginf=5)) % np.float32(2**24))
        if name == "normal":
            x = np.floor(x * np.float32(2**24)) * np.float32(2.0**-24)  # as draws are
        collected[f"x{i}"] = x.astype(np.float32)
    return collected


def distance(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Return how many float32 numbers lie between each pair; nought where both are NaN."""

    def ordered(x: np.ndarray) -> np.ndarray:
        bits = x.astype(np.float32).view(np.int32).astype(np.int64)
        return np.where(bits < 0, -(bits & 0x7FFFFFFF), bits)

    return np.where(np.isnan(a) & np.isnan(b), 0, np.abs(ordered(a) - ordered(b)))


class Registry(unittest.TestCase):
    def test_the_native_engine_runs_here_and_no_fallback_hides_it(self):
        self.assertEqual((current_engine().name, current_engine().reason), ("native", ""))
        self.assertIn(4, WIDTHS)


class EveryOperation(unittest.TestCase):
    @given(
        st.sampled_from(sorted(OPERATIONS)),
        st.lists(st.lists(numbers, min_size=6, max_size=6), min_size=1, max_size=20),
        st.integers(1, 40),
        st.sampled_from(WIDTHS),
        st.sets(st.integers(0, 5), max_size=2),
    )
    @settings(max_examples=examples(700))
    def test_from_identical_inputs(self, name, data, count, width, shared):
        """shared: arguments that all particles have in common, where at least one differs."""
        program, values = one_operation(name)
        inputs: dict[str, Any] = {k: v for k, v in columns(name, data, count).items() if k in program.inputs}
        for i in shared:
            if f"x{i}" in inputs and sum(isinstance(v, np.ndarray) for v in inputs.values()) > 1:
                inputs[f"x{i}"] = float(inputs[f"x{i}"][0])
        faults, other = Faults(), Faults()
        native = NativePrepared(program, width, 1).run(values, inputs, count, faults)
        wanted = Prepared(program).run(values, inputs, count, other)
        for out, expected in wanted.items():
            far = distance(native[out], expected)
            with np.errstate(invalid="ignore"):
                near = np.abs(native[out].astype(float) - expected.astype(float)) <= OPERATIONS[name].near
            self.assertTrue(((far <= OPERATIONS[name].ulp) | near).all(), (name, out, inputs, native[out], expected))
        self.assertEqual((faults.counts, faults.first_key), (other.counts, other.first_key))

    def test_whom_nothing_holds_that_is_there_is_free_whatever_it_carries(self):
        """Numbers by which particles stick to things, of any size and none at all: a step with them ends, and with the
        same answer in both engines."""
        odd = [0.5, -0.5, 999.0, 1000.2, 1e9, -1e30, np.inf, np.nan]
        program, values = one_operation("met")
        count = len(odd) ** 2
        inputs = columns("met", [[0.3, 0.4, 0.1, 0.2, 0.5, 1.0]], count)
        inputs[f"x{contact_columns.DT}"] = np.full(count, 0.04, np.float32)
        inputs[f"x{contact_columns.STUCK}"] = np.repeat(np.array(odd, np.float32), len(odd))
        inputs[f"x{contact_columns.HELD}"] = np.tile(np.array(odd, np.float32), len(odd))
        inputs = {name: value for name, value in inputs.items() if name in program.inputs}
        wanted = Prepared(program).run(values, inputs, count, Faults())
        for out, result in NativePrepared(program, WIDTHS[-1], 1).run(values, inputs, count, Faults()).items():
            np.testing.assert_array_equal(result, wanted[out])


class Functions(unittest.TestCase):
    def test_waves_and_decays_against_double_precision(self):
        """Over a fine grid of what the short ways take, and beyond it."""
        rng = np.random.default_rng(5)
        near = np.concatenate(
            [
                np.linspace(-8200, 8200, 60_001),
                rng.normal(0, 3, 40_000),
                rng.uniform(-1e6, 1e6, 999),
                [0.0, -0.0, 1e-30],
            ]
        ).astype(np.float32)
        exact = near.astype(np.float64)
        for name, wanted in (("sin", np.sin(exact)), ("cos", np.cos(exact))):
            program, values = one_operation(name)
            for width in WIDTHS:
                result = NativePrepared(program, width, 1).run(values, {"x0": near}, len(near))["out0"]
                self.assertLess(np.abs(result - wanted).max(), 1.2e-7, (name, width))
        program, values = one_operation("decay")
        x = np.concatenate([np.linspace(-88, 103, 50_001), [0, 87.5, 120, 1e30]]).astype(np.float32)
        result = NativePrepared(program, WIDTHS[-1], 1).run(values, {"x0": x, "x1": np.ones_like(x)}, len(x))["out0"]
        wanted = np.exp(-x.astype(np.float64))
        fine = np.abs(x) < 87
        self.assertLess((np.abs(result - wanted)[fine] / wanted[fine]).max(), 1.5e-7)
        np.testing.assert_allclose(result[~fine], wanted.astype(np.float32)[~fine], rtol=3e-7, atol=2e-45)


TOGETHER = 10  # plans that are compiled as one, which is faster


@st.composite
def programs(draw):
    """Return a program that holds TOGETHER plans of up to 30 operations that feed each other, and its values."""
    exact = [
        n
        for n, entry in OPERATIONS.items()
        if not entry.ulp
        and entry.ir is not LEAF
        and n not in ("draw", "redraw", "number", "box_surface", "noise", "curl_noise", "turbulence")
    ]
    rng = draw(st.randoms(use_true_random=False))
    b = Builder()
    given = [
        b.input("x0"),
        b.input("x1"),
        b.input("time"),
        *(b.param(Fixed(draw(st.floats(-3, 3, width=32)))) for _ in range(3)),
        b.op("draw", b.input("key"), attrs=(FixedSeed(5),)),
    ]
    ends = {}
    for plan in range(TOGETHER):
        known = list(given)
        for i in range(rng.randint(3, 30)):
            name = rng.choice(exact)
            b.row = f"row {plan}.{i}"
            args = [rng.choice(known) for _ in range(SIGNATURES[name].arguments)]
            known += b.multi(name, *args, attrs=attrs_of(name))
        ends |= {f"out{plan}.{i}": b.op("guard", value, known[0]) for i, value in enumerate(known[-4:])}
    return b.finish(ends), b.slots.values(None)


class WholePrograms(unittest.TestCase):
    @given(programs(), st.lists(numbers, min_size=2, max_size=30), st.integers(1, 70), st.sampled_from(WIDTHS))
    @settings(max_examples=examples(120))
    def test_exact_operations_are_exact_together_and_faults_agree(self, result, data, count, width):
        program, values = result
        x = np.resize(np.array(data, np.float32), count)
        inputs: dict[str, Any] = {
            "x0": x,
            "x1": x[::-1].copy(),
            "time": 0.7,
            "key": np.arange(7, 7 + count, dtype=np.uint64),
        }
        faults, other = Faults(), Faults()
        native = NativePrepared(program, width, 1).run(values, inputs, count, faults)
        wanted = Prepared(program).run(values, inputs, count, other)
        for out, expected in wanted.items():
            self.assertTrue((distance(native[out], expected) == 0).all(), (out, native[out], expected))
        self.assertEqual((faults.counts, faults.first_key), (other.counts, other.first_key))

    def test_threads_blocks_and_better_code_change_no_bit(self):
        clip = playing(rich(births__rate=row(40_000)), last_frame=12)
        plan, state = clip.plan.emitters[0], clip.frames(10)[0].population
        inputs = {**state.inputs(), "dt": 0.04, "time": 0.44, "middle": 0.42}
        self.assertGreater(len(state), 2 * 16_384 // 3)
        prepared = NativePrepared(plan.step, WIDTHS[-1], 1)
        quick = prepared.run(plan.values, inputs, len(state))
        for threads, block in ((2, 0), (5, 0), (1, 64), (1, 1000), (1, 4096)):
            repeated = NativePrepared(plan.step, WIDTHS[-1], threads).run(plan.values, inputs, len(state), block=block)
            for name, expected in quick.items():
                self.assertEqual(expected.tobytes(), repeated[name].tobytes(), (threads, block, name))
        compiled = [layout.function for layout in prepared._layouts_built.values() if layout.function]
        self.assertTrue(compiled)
        for each in compiled:
            each.optimise()
        better = prepared.run(plan.values, inputs, len(state))
        for name, expected in quick.items():
            self.assertEqual(expected.tobytes(), better[name].tobytes(), name)

    def test_value_edits_compile_nothing_and_structural_ones_do(self):
        base = document(rich())
        Playing(read_effect(base)).show(5)
        before = machine.compiled_count
        for change in (
            {"look__size__base": 0.2},
            {"forces__0__strength__base": 3.0},
            {"look__size__responses__0__curve__keys__1__x": 0.35},
            {"look__size__responses__0__amount": 0.5},
            {"forces__0__strength__responses__0__output": [0.1, 3.0]},
            {"look__colour__responses__0__gradient__stops__0__colour": [0.1, 0.2, 0.3]},
            {"births__lifespan__base": 1.3},
        ):
            effect = with_(base, **{f"emitters__0__{path}": value for path, value in change.items()})
            Playing(read_effect(effect)).show(5)
            self.assertEqual(machine.compiled_count, before, change)
        Playing(read_effect(with_(base, emitters__0__look__size__responses__0__muted=True))).show(5)
        self.assertGreater(machine.compiled_count, before)

    def test_filled_in_plans_are_those_compiled_anew(self):
        """A plan of known structure gets the new values: its hashes are those of an effect never seen before."""
        from kagero.core.plan import compile as compiler

        first, second = (
            read_effect(document(rich(look__size__base=size, births__place__radius__base=radius)))
            for size, radius in ((0.1, 0.5), (0.3, 0.7))
        )
        compile_effect(first)
        filled = compile_effect(second).emitters[0]
        compiler._structures.clear()
        anew = compile_effect(second).emitters[0]
        self.assertEqual((filled.simulated, filled.looked), (anew.simulated, anew.looked))
        self.assertNotEqual(filled.simulated, compile_effect(first).emitters[0].simulated)


class WholeRuns(unittest.TestCase):
    """Bounds of whole runs: chaotic motion lets the last bits grow, so that they are wider than those of one
    operation."""

    def setUp(self) -> None:
        self.wanted: dict[str, Any] = {}  # by the reference, of each effect once

    def compare(self, effect: Any, frame: int, choice: EngineChoice, tolerance: float) -> None:
        if effect.name not in self.wanted:
            with use_engine(REFERENCE):
                self.wanted[effect.name] = Playing(effect, content=content).particles(frame)
        wanted = self.wanted[effect.name]
        with use_engine(choice):
            clip = Playing(effect, content=content)
            self.assertEqual(clip.engine, choice)
            native = clip.particles(frame)
        self.assertEqual(native.arrays["key"].tobytes(), wanted.arrays["key"].tobytes())
        for name in ("position", "velocity", "size", "color", "opacity", "rotation"):
            near = np.isclose(native.arrays[name], wanted.arrays[name], rtol=tolerance, atol=tolerance).reshape(
                len(wanted.arrays["key"]), -1
            )
            # close by a pull's core or a corner of a mesh the last bit decides which way one goes
            self.assertGreater(
                near.all(axis=1).mean(),
                0.95 if effect.emitters[0].rides or len(effect.emitters[0].forces) > 3 else 1 - 1e-9,
                f"{effect.name}: {name}, {choice.lanes} lanes",
            )

    def test_the_demo_and_a_rich_effect_on_every_width(self):
        for width in WIDTHS:
            choice = native_choice(width, 2)
            for name, effect in share(effects().items(), 2 if width == WIDTHS[-1] else 4):
                if (
                    width == WIDTHS[0] or name not in MOTION
                ):  # those are the same operations, and take long by the reference
                    self.compare(effect, (30 if name in MOTION else 60) if SOAK else 24, choice, 2e-3)
            self.compare(read_effect(document(rich())), 45, choice, 2e-3)

    def test_the_engine_is_part_of_every_key(self):
        effect = read_effect(document(emitter()))
        addresses = set()
        for choice in (REFERENCE, *(native_choice(width) for width in WIDTHS)):
            with use_engine(choice):
                addresses.add(Playing(effect).runs[0].address)
        self.assertEqual(len(addresses), 1 + len(WIDTHS))

    def test_a_width_the_host_has_not_is_refused_in_words(self):
        with self.assertRaisesRegex(ValueError, "lanes, not 7"):
            native_choice(7)

    def test_the_reference_engine_takes_over_with_a_reason(self):
        from unittest.mock import patch

        from kagero.core.engine import choice as choices

        choices._default_engine.cache_clear()
        try:
            with patch.object(machine, "widths", side_effect=RuntimeError("no machine code today")):
                fallen = current_engine()
                self.assertEqual((fallen.name, fallen.lanes), ("reference", 0))
                self.assertIn("no machine code today", fallen.reason)
                clip = Playing(read_effect(document(rich())))
                self.assertGreater(len(clip.show(20)[0]), 0)
        finally:
            choices._default_engine.cache_clear()
        self.assertEqual(prepare_for_engine(clip.plan.emitters[0].looks[0].program, fallen).__class__, Prepared)
