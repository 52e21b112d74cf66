"""What moves stored particles, against the published deformations, worked by numpy and scipy; and that nothing is
simulated for it."""

from __future__ import annotations

import itertools
import math
import tempfile
import unittest
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import BSpline
from scipy.spatial.transform import Rotation

from kagero.core.document import read_effect
from kagero.core.engine import Faults, prepare_for_engine
from kagero.core.errors import LinkProblem, RequestError
from kagero.core.parts.shapings import SHAPINGS
from kagero.core.rows.turn import ROTATION_STATE
from kagero.core.shaping.turning import rotation_parts
from kagero.core.simulation import CARRIED, POSITION, VELOCITY, FrameStore, Population, frame_inputs
from kagero.core.workflows import Playing, bake, bounds
from tests.making import document, emitter, response, row
from tests.soak import examples

BOX = {"middle": row([0.2, 1.0, -0.1]), "size": row([2.0, 4.0, 1.0]), "turn": row([0.0, 0.0, 0.0])}
MIDDLE, SIZE = np.array([0.2, 1.0, -0.1]), np.array([2.0, 4.0, 1.0])
BALL_MASK = {
    "kind": "mask",
    "shape": "sphere",
    "uid": "veil",
    "name": "veil",
    "position": row([0.0, 1.0, 0.0]),
    "radius": row(0.5),
    "falloff": row(0.5),
}
LINE = {"kind": "path", "uid": "line", "name": "line", "points": [[1.0, 0.0, 0.0], [1.0, 0.0, 3.0]], "smooth": False}
GROUND = {"kind": "shape", "uid": "ground", "name": "ground", "shape": "plane", "width": 40.0, "depth": 40.0}
PROPS = [BALL_MASK, LINE, GROUND]
NEEDS = {"by_mask": {"mask": "veil"}, "path": {"prop": "line"}}


def shaping(kind: str, **more: Any) -> dict[str, Any]:
    template = next(each.template() for each in SHAPINGS.classes() if each.template()["kind"] == kind)
    boxed = BOX if "middle" in template else {}
    plain = {
        name: row(value)
        if isinstance(value, (int, float)) and not isinstance(value, bool) and isinstance(template.get(name), dict)
        else value
        for name, value in more.items()
    }
    return {**template, "uid": f"{kind.replace('_', '-')}-1", **boxed, **NEEDS.get(kind, {}), **plain}


def played(
    *shapings: dict[str, Any], store: FrameStore | None = None, props: list[dict[str, Any]] = PROPS, **more: Any
) -> Playing:
    return Playing(read_effect({**document(emitter(shaping=list(shapings), **more)), "props": props}), store)


def crowd(n: int = 200, spread: float = 2.0, seed: int = 1) -> np.ndarray:
    return np.random.default_rng(seed).uniform(-spread, spread, (n, 3)) + MIDDLE


def moved(
    points: np.ndarray, *shapings: dict[str, Any], velocity: np.ndarray | None = None, seconds: float = 0.4
) -> tuple[np.ndarray, np.ndarray]:
    """Return where particles at points are shown, and how they move there."""
    result = played(*shapings)
    run, n = result.shaped[0], len(points)
    speed = np.zeros((n, 3)) if velocity is None else velocity
    carried = {name: np.zeros(n) for name in result.plan.emitters[0].carried}
    values = Population.from_columns(
        np.arange(n, dtype=np.uint64), np.zeros(n), np.full(n, seconds), np.ones(n), points.T, speed.T, carried
    )
    shown = run.shaper.shaped(values, seconds)
    return np.stack(shown.position, 1).astype(float), np.stack(shown.velocity, 1).astype(float)


def share(points: np.ndarray, axis: int = 1) -> np.ndarray:
    return np.clip((points - MIDDLE)[:, axis] / SIZE[axis] + 0.5, 0, 1)


def barr_bend(points: np.ndarray, angle: float, still: float) -> np.ndarray:
    """Barr 1984, section 3.5, with y along and z across: a centre of bend, a rate, and a bend that ends where the box
    does."""
    p = points - MIDDLE
    low, high = -SIZE[1] / 2, SIZE[1] / 2
    k, y0 = angle / SIZE[1], low + still * SIZE[1]
    held = np.clip(p[:, 1], low, high)
    theta = k * (held - y0)
    sine, cosine = np.sin(theta), np.cos(theta)
    y = -sine * (p[:, 2] - 1 / k) + y0 + cosine * (p[:, 1] - held)
    z = cosine * (p[:, 2] - 1 / k) + 1 / k + sine * (p[:, 1] - held)
    return np.stack([p[:, 0], y, z], 1) + MIDDLE


class Deformations(unittest.TestCase):
    def test_a_twist_turns_by_rodrigues_formula(self):
        points = crowd()
        for axis, still, angle in (("y", 0.0, 1.7), ("x", 0.5, -4.0), ("z", 1.0, 9.0)):
            k = "xyz".index(axis)
            theta = angle * (share(points, k) - still)
            there = Rotation.from_rotvec(theta[:, None] * np.eye(3)[k]).apply(points - MIDDLE) + MIDDLE
            np.testing.assert_allclose(
                moved(points, shaping("twist", axis=axis, amount=angle, still=still))[0], there, atol=3e-6
            )

    def test_a_bend_is_barrs(self):
        points = crowd()
        for angle, still in ((1.2, 0.0), (-2.5, 0.5), (0.01, 1.0)):
            np.testing.assert_allclose(
                moved(points, shaping("bend", amount=angle, still=still))[0], barr_bend(points, angle, still), atol=2e-5
            )
        about = Rotation.from_rotvec([0, 0.8, 0])  # toward 0.8 rad about y is the same bend turned
        turned = about.apply(barr_bend(about.inv().apply(points - MIDDLE) + MIDDLE, 1.2, 0.0) - MIDDLE) + MIDDLE
        np.testing.assert_allclose(moved(points, shaping("bend", amount=1.2, toward=0.8))[0], turned, atol=2e-5)

    def test_taper_stretch_and_shear(self):
        points = crowd()
        p, s = points - MIDDLE, share(points)[:, None]
        across, along = np.array([1.0, 0.0, 1.0]), np.array([0.0, 1.0, 0.0])
        np.testing.assert_allclose(
            moved(points, shaping("taper", amount=0.6))[0], points - 0.6 * s * p * across, atol=3e-6
        )
        np.testing.assert_allclose(
            moved(points, shaping("stretch", amount=0.5, still=0.25))[0],
            points + 0.5 * 4 * (s - 0.25) * along,
            atol=3e-6,
        )
        thin = points + 0.5 * 4 * s * along + (1.5**-0.5 - 1) * p * across
        np.testing.assert_allclose(moved(points, shaping("stretch", amount=0.5, volume=1.0))[0], thin, atol=3e-6)
        direction = np.array([math.sin(0.3), 0, math.cos(0.3)])
        np.testing.assert_allclose(
            moved(points, shaping("shear", amount=0.5, toward=0.3))[0], points + 0.5 * 4 * s * direction, atol=3e-6
        )

    def test_shifts_go_along_a_direction_away_from_a_point_and_along_a_surface(self):
        points = crowd()
        direction = np.array([1.0, 2.0, -2.0]) / 3
        np.testing.assert_allclose(
            moved(points, shaping("shift", direction=row([2.0, 4.0, -4.0])))[0], points + 0.5 * direction, atol=2e-6
        )
        out = points - [1.0, 0.0, 0.0]
        there = points + 0.5 * out / np.linalg.norm(out, axis=1, keepdims=True)
        np.testing.assert_allclose(
            moved(points, shaping("shift", along="point", point=row([1.0, 0.0, 0.0])))[0], there, atol=2e-6
        )
        above = points[points[:, 1] > 0.1]
        np.testing.assert_allclose(
            moved(above, shaping("shift", along="surface", prop="ground"))[0], above + np.array([0, 0.5, 0]), atol=2e-6
        )

    @settings(max_examples=examples(25))
    @given(st.lists(st.floats(-0.6, 0.6), min_size=81, max_size=81), st.sampled_from(["x", "y", "z"]))
    def test_a_lattice_is_the_tensor_of_bernstein_polynomials(self, numbers, axis):
        """Each Bernstein polynomial as scipy's Bezier piece: a B-spline with no inner knot."""
        offsets, points = np.asarray(numbers).reshape(3, 3, 3, 3), crowd(60, 0.9)
        s = np.clip((points - MIDDLE) / SIZE + 0.5, 0, 1)
        knots, eye = np.repeat([0.0, 1.0], 3), np.eye(3)
        basis = [np.stack([BSpline(knots, eye[i], 2)(s[:, k]) for i in range(3)], 1) for k in range(3)]
        by = np.einsum("ni,nj,nk,ijkd->nd", *basis, offsets) * SIZE
        result, _ = moved(
            points, shaping("lattice", counts=(3, 3, 3), offsets=offsets.reshape(-1, 3).tolist(), axis=axis)
        )
        np.testing.assert_allclose(result, points + by, atol=5e-6)

    def test_a_lattice_that_is_folded_over_itself_is_told_from_one_that_is_not(self):
        from kagero.core.parts.shapings.lattice import Lattice

        def lattice(reach: float) -> Lattice:  # its high x side is moved in by so many sizes
            offsets = [(-reach if i else 0.0, 0.0, 0.0) for i, _, _ in itertools.product(range(2), repeat=3)]
            return Lattice.model_validate({**shaping("lattice"), "offsets": offsets})

        self.assertFalse(lattice(0.9).folded())
        self.assertTrue(lattice(1.1).folded())

    def test_a_path_carries_the_box_along_it(self):
        points = crowd()
        p = points - MIDDLE
        result, _ = moved(points, shaping("path"))
        far = np.clip(p[:, 1] / 4 + 0.5, 0, 1) * 3 + (
            p[:, 1] - np.clip(p[:, 1], -2, 2)
        )  # on a straight line of 3 m along z
        np.testing.assert_allclose(result[:, 2], far, atol=1e-5)
        np.testing.assert_allclose(
            np.linalg.norm(result[:, :2] - [1, 0], axis=1), np.hypot(p[:, 0], p[:, 2]), atol=1e-5
        )
        half, _ = moved(points, shaping("path", amount=0.5))
        np.testing.assert_allclose(half, (points + result) / 2, atol=1e-5)

    @settings(max_examples=20)
    @given(st.floats(-6, 6), st.sampled_from(["x", "y", "z"]), st.tuples(*[st.floats(-3, 3)] * 3))
    def test_the_other_way_round_returns_to_rest_however_the_box_is_turned(self, angle, axis, turn):
        """A twist leaves shares along its axis as they are: the opposite twist undoes it; so do shears, and stretches
        by 1 / (1 + a) - 1."""
        points, box = crowd(), {"turn": row(list(turn)), "axis": axis}
        for one, other in (
            (shaping("twist", amount=angle, **box), shaping("twist", amount=-angle, **box)),
            (shaping("shear", amount=angle, **box), shaping("shear", amount=-angle, **box)),
        ):
            np.testing.assert_allclose(
                moved(points, one, {**other, "uid": "back"})[0], points, atol=2e-5 * (1 + abs(angle))
            )

    def test_a_box_that_is_turned_is_the_same_shaping_turned_as_props_are(self):
        from kagero.core.staging import rotation_matrices

        angles, points = np.array([0.4, -1.1, 0.7]), crowd()
        about = rotation_matrices(angles[None])[0]
        there, _ = moved((points - MIDDLE) @ about + MIDDLE, shaping("bend", amount=1.5, toward=0.3))
        result, _ = moved(points, shaping("bend", amount=1.5, toward=0.3, turn=row(angles.tolist())))
        np.testing.assert_allclose(result, (there - MIDDLE) @ about.T + MIDDLE, atol=5e-6)


class WhatFollows(unittest.TestCase):
    def test_velocities_are_those_of_the_shaped_places(self):
        """Against the difference of places a thousandth of a second apart, in float64: amounts that change with age are
        in it."""
        points, velocity = crowd(100, 0.8), np.random.default_rng(5).normal(0, 2, (100, 3))
        grown = shaping(
            "twist",
            amount={
                **row(0.0),
                "responses": [
                    response(
                        "ages",
                        "age",
                        [(0.0, 0.0), (1.0, 1.0)],
                        input=(0.0, 2.0),
                        output=(0.0, 6.0),
                        shape="linear",
                        operation="set",
                    )
                ],
            },
        )
        _, result = moved(points, grown, shaping("bend", amount=0.8), velocity=velocity)

        def exact(t: float) -> np.ndarray:
            p = points + velocity * (t - 0.4)
            theta = 3 * t * share(p)
            return barr_bend(
                Rotation.from_rotvec(theta[:, None] * np.array([0.0, 1.0, 0.0])).apply(p - MIDDLE) + MIDDLE, 0.8, 0.0
            )

        true = (exact(0.4005) - exact(0.3995)) / 0.001
        np.testing.assert_allclose(result, true, atol=0.02 * np.abs(true).max())
        self.assertGreater(float(np.abs(velocity - true).max()), 0.5)  # it is no small thing

    def test_all_that_is_shown_is_what_three_readings_of_the_displacement_give(self):
        """Differential: here, and an eighth of a frame later and sooner along the way; byte for byte, any pace, one
        time or one each."""
        rng = np.random.default_rng(3)
        n, eighth = 301, np.float32(1 / 25 / 8)
        for kind in SHAPINGS.kinds:
            grows = response(
                "grows", "life", [(0.0, 0.0), (1.0, 1.0)], output=(0.1, 2.0), shape="linear", operation="set"
            )
            swift = response(
                "swift", "speed", [(0.0, 0.0), (1.0, 1.0)], input=(0.0, 4.0), output=(0.5, 1.5), operation="multiply"
            )
            amount = {**row(0.3), "responses": [grows, swift]}
            fields = played(
                shaping(kind) | {SHAPINGS.kinds[kind].amount_row: amount}, {**shaping("twist"), "uid": "second"}
            )
            plan, run = fields.plan.emitters[0], fields.shaped[0]
            carried = {name: np.zeros(n) for name in plan.carried}
            values = Population.from_columns(
                np.arange(n, dtype=np.uint64),
                np.zeros(n),
                rng.uniform(0, 1, n),
                np.ones(n),
                crowd(n).T,
                rng.normal(0, 2, (3, n)),
                carried,
            )
            place, direction = values.floats[POSITION:VELOCITY], values.floats[VELOCITY:CARRIED]
            for pace, going, seconds in ((1.0, 1.0, 0.4), (0.5, -0.7, np.linspace(0, 2, n))):
                read = prepare_for_engine(plan.shaping, fields.engine)

                def by(
                    late,
                    seconds=seconds,
                    pace=pace,
                    going=going,
                    particles=values,
                    read=read,
                    plan=plan,
                    place=place,
                    path=direction,
                ):
                    near = dict(zip((f"position.{a}" for a in "xyz"), place + path * late, strict=True))
                    age = np.maximum(particles.age + late * np.float32(pace), np.float32(0))
                    given = {
                        **frame_inputs(particles, seconds),
                        **near,
                        "age": age,
                        "time": seconds + float(late) * going,
                    }
                    return np.stack([*read.run(plan.values, given, n).values()])

                here, later, sooner = by(np.float32(0)), by(eighth), by(-eighth)
                shown = run.shaper.shaped(values, seconds, None, pace, going).floats
                self.assertEqual(run.shaper.frame, 1 / 25)
                self.assertEqual(shown[POSITION:VELOCITY].tobytes(), (place - (np.float32(0) - here)).tobytes(), kind)
                self.assertEqual(
                    shown[VELOCITY:CARRIED].tobytes(),
                    (direction - (sooner - later) * (np.float32(0.5) / eighth)).tobytes(),
                    kind,
                )
                self.assertTrue((shown[POSITION:VELOCITY] != place).any(), kind)

    def test_bodies_turn_as_space_does(self):
        block = {
            "sprite": "piece",
            "form": "block",
            "deep": row(0.1),
            "size": row(0.1),
            "opacity": row(1.0),
            "colour": row([1.0, 1.0, 1.0]),
        }
        result = played(shaping("twist", amount=2.0), motion={"turning": {}}, look=block)
        self.assertIn(ROTATION_STATE[0], result.plan.emitters[0].carried)
        shown, rest = result.shaped[0].at(40), result.shaped[0].simulated(40)
        before = Rotation.from_quat(np.stack([rest.carried[name] for name in ROTATION_STATE], 1))
        after = Rotation.from_quat(np.stack([shown.carried[name] for name in ROTATION_STATE], 1))
        theta = 2.0 * share(np.stack(rest.position, 1).astype(float))
        np.testing.assert_allclose((after * before.inv()).as_rotvec()[:, 1], theta, atol=0.02)

    def test_what_is_handed_over_has_the_simulated_places_beside_where_it_is_asked_for(self):
        result = played(shaping("twist", amount=2.0))
        for asked in (False, True):
            held = result.particles(40, simulated=asked).arrays
            np.testing.assert_array_equal(held["position"], np.stack(result.shaped[0].at(40).position, 1))
            self.assertEqual("simulated" in held, asked)
            self.assertEqual("simulated" in [column.name for column in result.stored_columns(asked)], asked)
        np.testing.assert_array_equal(held["simulated"], np.stack(result.shaped[0].simulated(40).position, 1))
        self.assertGreater(float(np.abs(held["simulated"] - held["position"]).max()), 0.1)
        with tempfile.TemporaryDirectory() as folder:
            for kind in ("csv", "npz", "ply"):
                bake(result, kind, 40, 40, Path(folder) / kind, options={"simulated": True})
            np.testing.assert_array_equal(np.load(Path(folder) / "npz")["simulated"], held["simulated"])
            head, line = (Path(folder) / "csv").read_text().splitlines()[:2]
            reported = dict(zip(head.split(","), line.split(","), strict=True))
            self.assertEqual(
                [np.float32(reported[f"simulated_{axis}"]) for axis in "xyz"], held["simulated"][0].tolist()
            )
            with zipfile.ZipFile(Path(folder) / "ply") as sequence:
                self.assertIn(b"simulated_x", sequence.read("000040.ply")[:800])

    def test_the_rotation_in_a_gradient_is_the_polar_one(self):
        rng = np.random.default_rng(3)
        turns = Rotation.random(50, random_state=3).as_matrix()
        stretches = rng.normal(0, 0.3, (50, 3, 3))
        stretches = np.eye(3) + stretches @ stretches.transpose(0, 2, 1)  # symmetric and positive
        np.testing.assert_allclose(rotation_parts(turns @ stretches), turns, atol=1e-9)
        inside_out = np.diag([1.0, 1.0, -1.0])[None]
        np.testing.assert_array_equal(rotation_parts(inside_out), np.eye(3)[None])

    def test_what_is_shown_is_what_is_handed_over_everywhere(self):
        result = played(
            shaping("twist", amount=2.0),
            shaping("shift"),
            births__launch__cone=row(1.0),
            also=[
                {
                    "sprite": "trail",
                    "uid": "tail",
                    "size": row(0.02),
                    "opacity": row(1.0),
                    "colour": row([1.0, 1.0, 1.0]),
                }
            ],
        )
        there = np.stack(result.shaped[0].at(30).position, 1)
        self.assertGreater(float(np.abs(there - np.stack(result.runs[0].frame(30).population.position, 1)).max()), 0.4)
        np.testing.assert_array_equal(result.particles(30).arrays["position"], there)
        np.testing.assert_array_equal(result.show(30)[0].positions(), there)
        disc, trail = result.layers(30)
        np.testing.assert_array_equal(disc.shown.positions(), there)
        heads = trail.shown.strands.points[np.concatenate([[True], ~trail.shown.strands.joined[:-1].astype(bool)])]
        np.testing.assert_allclose(heads, there, atol=1e-6)
        before = np.stack(result.shaped[0].at(27).position, 1)
        gaps = np.linalg.norm(trail.shown.strands.points[:, None] - before[None], axis=2).min(axis=0)
        self.assertLess(
            float(np.sort(gaps)[: len(gaps) * 3 // 4].max()), 0.02
        )  # trails go through where they were shown


class Laws(unittest.TestCase):
    def amounts(self, kind: str, amount: float) -> dict[str, Any]:
        more = {"offsets": [(0.3, -0.2, 0.1)] * 8} if kind == "lattice" else {}
        return {**shaping(kind, **more), "amount": row(amount)}

    def test_no_kind_simulates_a_step_and_an_amount_of_nought_moves_nobody_by_a_bit(self):
        store = FrameStore()
        plain = played(store=store, births__launch__cone=row(2.0))
        at_rest = [plain.runs[0].frame(n).population for n in range(51)]
        stepped = store.frames_simulated
        for kind in (each.template()["kind"] for each in SHAPINGS.classes()):
            for amount in (0.0, 0.5):
                result = played(self.amounts(kind, amount), store=store, births__launch__cone=row(2.0))
                for number in (0, 25, 50):
                    shown, rest = result.shaped[0].at(number), at_rest[number]
                    same = shown.floats.tobytes() == rest.floats.tobytes()
                    self.assertEqual(same, amount == 0 or not len(rest), (kind, amount, number))
                self.assertEqual((store.frames_simulated, result.frames_simulated), (stepped, 0), kind)

    def test_who_leaves_a_mask_is_exactly_where_it_was(self):
        far = crowd(300, 3.0)
        result, _ = moved(far, shaping("by_mask"))
        away = np.linalg.norm(far - [0, 1, 0], axis=1)
        out = away > 1.0 + 1e-5
        np.testing.assert_array_equal(result[out], far[out].astype(np.float32).astype(float))
        held = np.clip((1.0 - away) / 0.5, 0, 1)
        np.testing.assert_allclose(result, far + 0.5 * held[:, None] * [0, 1, 0], atol=3e-6)

    def test_shapings_act_in_their_order_and_closed_eyes_do_not(self):
        points = crowd()
        twist, shift = shaping("twist", amount=2.0), shaping("shift", direction=row([1.0, 0.0, 0.0]))
        one, other = moved(points, twist, shift)[0], moved(points, shift, twist)[0]
        np.testing.assert_allclose(one, moved(points, twist)[0] + np.array([0.5, 0, 0]), atol=2e-6)
        np.testing.assert_allclose(other, moved(points + np.array([0.5, 0, 0]), twist)[0], atol=5e-6)
        self.assertGreater(float(np.abs(one - other).max()), 0.3)
        np.testing.assert_array_equal(moved(points, {**twist, "muted": True}, shift)[0], moved(points, shift)[0])

    def test_one_that_moves_all_is_as_if_each_emitter_had_it_last(self):
        """Byte for byte, with rows that respond; nothing is simulated for it, and its box is that of all of them."""
        response_of = response("late", "life", [(0, 0), (1, 1)])
        twist = {**shaping("twist"), "amount": row(2.0, response_of)}
        own = shaping("shear", amount=0.5) | {"uid": "sheared"}
        wide = {"births__launch__cone": row(1.0), "births__launch__speed": row(2.0)}

        def two(one: list[Any], other: list[Any], store: FrameStore) -> Playing:
            body = document(emitter("one", shaping=one), emitter("two", shaping=other, **wide))
            return Playing(read_effect({**body, "props": PROPS}), store)

        store = FrameStore()
        alone = two([twist], [own], store)
        for k in (10, 40):
            alone.show(k)
        stepped = store.frames_simulated
        together = two([{**twist, "everyone": True}], [own], store)
        apart = two([twist], [own, {**twist, "amount": row(2.0, {**response_of, "uid": "late-too"})}], FrameStore())
        for k in (10, 40):
            for one, other in zip(together.show(k), apart.show(k), strict=True):
                self.assertEqual(one.population.floats.tobytes(), other.population.floats.tobytes())
        self.assertNotEqual(
            together.show(40)[1].population.floats.tobytes(), alone.show(40)[1].population.floats.tobytes()
        )
        self.assertEqual(store.frames_simulated, stepped)
        middle, size = bounds(together, "one", twist["uid"], 40)
        rest = [alone.shaped[0].simulated(40), alone.shaped[1].at(40)]  # what comes to it
        seen = np.concatenate([np.stack(each.position, 1).astype(float) for each in rest])
        np.testing.assert_allclose(
            [middle - size / 2, middle + size / 2], [seen.min(axis=0), seen.max(axis=0)], atol=0.011
        )

    def test_one_that_moves_all_by_what_others_have_not_says_whom_it_cannot_move(self):
        by_draw = {
            **shaping("twist"),
            "everyone": True,
            "amount": row(2.0, response("d", "draw:d1", [(0, 0), (1, 1)], read="once")),
        }
        body = document(emitter("one", shaping=[by_draw]), emitter("two", draws=[]))
        with self.assertRaises(LinkProblem) as refused:
            Playing(read_effect(body))
        (finding,) = refused.exception.findings
        self.assertTrue(finding.where.startswith("emitters.0.shaping.0.amount"), finding.where)
        self.assertIn("particles of Two", finding.message)
        self.assertIn("alone", finding.remedy)
        Playing(
            read_effect(document(emitter("one", shaping=[by_draw]), emitter("two")))
        )  # its own draw of that uid does

    def test_bounds_hold_everybody_of_the_whole_clip_to_the_last_bit_and_no_more(self):
        spread = {"births__launch__cone": row(2.5), "births__launch__speed": row(3.0)}
        result = played(shaping("shift", amount=3.0, uid="first"), shaping("twist", uid="second"), **spread)
        for uid, before in (("first", 0.0), ("second", 3.0)):
            middle, size = bounds(result, "one", uid)
            every = np.concatenate(
                [np.stack(result.runs[0].frame(n).population.position, 1) for n in range(51)]
            ).astype(float) + np.array([0, before, 0])
            np.testing.assert_allclose(
                [middle - size / 2, middle + size / 2],
                [every.min(0), every.max(0)],
                rtol=0,
                atol=1e-12 if not before else 3e-7,
            )
        middle, size = bounds(result, "one", "first", frame=10)
        here = np.stack(result.runs[0].frame(10).population.position, 1).astype(float)
        np.testing.assert_allclose(
            [middle - size / 2, middle + size / 2], [here.min(0), here.max(0)], rtol=0, atol=1e-12
        )
        self.assertIsNone(bounds(played(shaping("twist", uid="x"), births__rate=row(0.0)), "one", "x"))
        with self.assertRaises(RequestError):
            bounds(result, "one", "third")

    def test_a_box_of_no_size_and_a_row_that_is_not_finite_move_nobody_away(self):
        points = crowd()
        for kind in ("twist", "bend", "taper", "stretch", "shear", "lattice", "path"):
            fields, velocity = moved(points, {**shaping(kind), "size": row([0.0, 0.0, 0.0])})
            self.assertTrue(np.isfinite(fields).all() and np.isfinite(velocity).all(), kind)
        bad = shaping(
            "shift",
            amount={
                "base": {"source": {"kind": "formula", "uid": "f1", "text": "1 / (age - age)"}, "read": "live"},
                "responses": [],
            },
        )
        fields, _ = moved(points, shaping("twist"), bad)
        self.assertTrue(np.isfinite(fields).all())
        run, n, noted = played(bad).shaped[0], len(points), Faults()
        carried = {name: np.zeros(n) for name in run.shaper.plan.carried}
        values = Population.from_columns(
            np.arange(n, dtype=np.uint64), np.zeros(n), np.full(n, 0.4), np.ones(n), points.T, points.T, carried
        )
        run.shaper.shaped(values, 0.4, noted)
        self.assertEqual(
            noted.counts, {"shaping.shift-1.amount": n}
        )  # where it is looked how it moves is not counted beside
