"""Masks against their definitions: shapes, falloff in world units, algebra, latches."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from kagero.core.document import read_effect
from kagero.core.engine import REFERENCE, native_choice, prepare_reference, use_engine
from kagero.core.engine.native import machine
from kagero.core.errors import CircleProblem, EffectError
from kagero.core.geometry import Mesh
from kagero.core.plan import compile_mask
from kagero.core.staging import transform_points
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, response, row
from tests.making.births import mask
from tests.making.formulas import formula
from tests.making.props import prop, swinging, with_props
from tests.soak import examples

POINTS = np.random.default_rng(4).uniform(-2, 2, (400, 3)).astype(np.float32)


def value(*props, of="m", points=POINTS, time=0.0, content=None):
    """Return a mask's value at points."""
    effect = read_effect({**document(emitter()), "props": list(props)})
    clip = Playing(effect, content=content) if content else Playing(effect)
    program, values = compile_mask(effect, of)
    values.stage = clip.stage
    given_ = {f"position.{axis}": np.ascontiguousarray(points[:, i], np.float32) for i, axis in enumerate("xyz")} | {
        "time": time
    }
    return (
        prepare_reference(program)
        .run(values, {n: given_[n] for n in program.inputs}, len(points))["value"]
        .astype(float)
    )


def fallen(distance, falloff):
    return np.clip(1 - distance / falloff, 0, 1) if falloff > 0 else (distance <= 0).astype(float)


class Shapes(unittest.TestCase):
    @given(
        st.floats(0.1, 2),
        st.floats(0, 1.5),
        st.floats(0.3, 3),
        st.lists(st.floats(-3, 3), min_size=3, max_size=3),
        st.lists(st.floats(-1, 1), min_size=3, max_size=3),
        st.sampled_from(["sphere", "box", "slab", "plane", "cylinder"]),
    )
    @settings(max_examples=examples(60))
    def test_falloff_is_in_metres_of_the_world_however_it_is_scaled_and_turned(
        self, size, falloff, scale, turn, move, shape
    ):
        falloff = 0.0 if falloff < 1e-3 else falloff
        placed = {
            "position": row(move),
            "rotation": row(turn),
            "scale": row([scale] * 3),
            "radius": row(size),
            "size": row([size, 2 * size, 0.5 * size]),
        }
        got = value(mask(shape=shape, falloff=row(falloff), **placed))
        x, y, z = turn
        matrix = (Rotation.from_euler("y", y) * Rotation.from_euler("x", x) * Rotation.from_euler("z", z)).as_matrix()
        p = (POINTS - np.float32(move)).astype(float) @ matrix
        half = np.array([size, 2 * size, 0.5 * size]) / 2 * scale
        if shape == "sphere":
            distance = np.linalg.norm(p, axis=1) - size * scale
        elif shape == "plane":
            distance = p[:, 1]
        elif shape == "slab":
            distance = np.abs(p[:, 1]) - half[1]
        else:
            gap = (
                np.abs(p) - half
                if shape == "box"
                else np.stack([np.hypot(p[:, 0], p[:, 2]) - size * scale, np.abs(p[:, 1]) - half[1]], 1)
            )
            distance = np.linalg.norm(np.maximum(gap, 0), axis=1) + np.minimum(gap.max(axis=1), 0)
        sure = np.abs(distance) > 1e-4 if falloff == 0 else np.ones(len(p), bool)
        np.testing.assert_allclose(got[sure], fallen(distance, falloff)[sure], atol=2e-5 + 1e-5 / max(falloff, 1e-3))

    def test_inside_a_mesh_grown_and_distance_to_a_prop(self):
        ball = prop("a", shape="sphere", radius=1.0)
        got = value(ball, mask(shape="mesh", of="a", radius=row(0.25), falloff=row(0.5)))
        np.testing.assert_allclose(got, fallen(np.linalg.norm(POINTS, axis=1) - 1.25, 0.5), atol=0.01)
        eye = {"uid": "c", "name": "Eye", "kind": "camera", "position": row([0.5, 0.0, 0.0])}
        got = value(eye, mask(shape="distance", of="c", radius=row(1.0), falloff=row(1.0)))
        np.testing.assert_allclose(got, fallen(np.linalg.norm(POINTS - [0.5, 0, 0], axis=1) - 1, 1.0), atol=1e-5)

    def test_it_moves_and_grows_like_any_prop_and_follows_others(self):
        post = prop("post", position=formula("vec3(clip_time, 0, 0)"))
        grown = mask(radius=formula("0.5 + clip_time", uid="g"), position=row([0.0, 0.5, 0.0]), follow={"prop": "post"})
        got = value(post, grown, time=1.0)
        np.testing.assert_allclose(got, (np.linalg.norm(POINTS - [1, 0.5, 0], axis=1) <= 1.5).astype(float), atol=1e-6)

    def test_a_curve_bends_the_falloff_and_invert_turns_it_round(self):
        keys = [
            {"x": 0.0, "y": 0.0, "shape": "linear"},
            {"x": 0.5, "y": 0.2, "shape": "linear"},
            {"x": 1.0, "y": 1.0, "shape": "linear"},
        ]
        plain = value(mask(falloff=row(1.0)))
        bent = value(mask(falloff=row(1.0), curve={"keys": keys}))
        np.testing.assert_allclose(bent, np.interp(plain, [0, 0.5, 1], [0, 0.2, 1]), atol=1e-5)
        np.testing.assert_allclose(value(mask(falloff=row(1.0), invert=True)), 1 - plain, atol=1e-6)

    def test_centred_it_is_one_half_at_its_edge(self):
        away = np.linalg.norm(POINTS, axis=1) - 1.0
        got = value(mask(radius=row(1.0), falloff=row(0.6), centred=True))
        np.testing.assert_allclose(got, np.clip(0.5 - away / 0.6, 0, 1), atol=2e-5)
        effect = read_effect({**document(emitter()), "props": [mask(radius=row(1.0), falloff=row(0.6), centred=True)]})
        self.assertEqual(Playing(effect).stage.extent(effect.props[0], 0.0)["within"], 0.3)

    def test_noise_breaks_the_edge_by_its_metres_and_no_more(self):
        broken = value(mask(radius=row(1.0), edge=row(0.2), noise_scale=row(0.3)))
        away = np.linalg.norm(POINTS, axis=1)
        self.assertTrue((broken[away < 0.79] == 1).all() and (broken[away > 1.21] == 0).all())
        self.assertTrue((broken != value(mask(radius=row(1.0)))).any())

    def test_a_formula(self):
        got = value(mask(shape="formula", formula="position.x + 0 * clip_time", level=row(0.5), softness=row(1.0)))
        np.testing.assert_allclose(got, np.clip(POINTS[:, 0], 0, 1), atol=1e-6)


class Painted(unittest.TestCase):
    """What the brush painted is a mask: at the nearest place of the prop, wherever it stands."""

    STROKES = [
        {"kind": "paint", "radius": 0.5, "strength": 0.8, "points": [[0.5, 0.0, 0.0], [0.35, 0.35, 0.0]]},
        {"kind": "paint", "radius": 0.3, "strength": 1.0, "points": [[0.0, 0.5, 0.0]]},
        {"kind": "erase", "radius": 0.25, "strength": 0.5, "points": [[0.5, 0.0, 0.0]]},
        {"kind": "paint", "radius": 2.0, "strength": 1.0, "points": [[0.0, 0.0, 0.0]], "on": False},
    ]

    def expected(self, points):
        """The share after one stroke after the other, by hand: the part is (1 - q²)²."""
        share = np.zeros(len(points))
        for stroke in self.STROKES[:3]:
            line = np.array(stroke["points"])
            along = np.linspace(0, 1, 400)[:, None] * (line[-1] - line[0]) + line[0]
            q = np.minimum(np.linalg.norm(points[:, None] - along[None], axis=2).min(axis=1) / stroke["radius"], 1)
            part = stroke["strength"] * (1 - q**2) ** 2
            share += ((stroke["kind"] == "paint") - share) * part
        return share

    def test_on_a_sphere_that_is_moved_turned_and_scaled(self):
        painted = mask(shape="painted", of="ball", level=row(0.5), softness=row(1.0))
        onto = POINTS / np.linalg.norm(POINTS, axis=1, keepdims=True) * 0.5
        for scale in ([1.0, 1.0, 1.0], [2.0, 2.0, 2.0], [2.0, 1.0, 0.5]):
            turn = Rotation.from_euler("y", 0.7)
            ball = prop(
                "ball",
                shape="sphere",
                paint=self.STROKES,
                scale=row(scale),
                rotation=row([0.0, 0.7, 0.0]),
                position=row([1.0, 2.0, 3.0]),
            )
            there = (turn.apply(onto * scale) + np.array([1.0, 2.0, 3.0])).astype(np.float32)
            off = np.abs(value(ball, painted, points=there) - self.expected(onto))  # the sphere has facets
            self.assertLess(off.mean(), 0.006, scale)
            self.assertLess(off.max(), 0.1, scale)

    def test_nothing_is_painted_where_nobody_painted(self):
        painted = mask(shape="painted", of="ball")
        self.assertEqual(value(prop("ball", shape="box"), painted).max(), 0)
        with self.assertRaises(EffectError):
            Playing(
                read_effect(
                    {
                        **document(emitter()),
                        "props": [mask(shape="painted", of="eye"), {"uid": "eye", "name": "eye", "kind": "camera"}],
                    }
                )
            )


class Fitted(unittest.TestCase):
    """What follows another's bounds holds it, and goes on doing so when it changes."""

    def test_a_box_holds_the_words_and_other_words_and_a_mesh_that_moves(self):
        held = {"prop": "p", "at": "bounds"}
        files = {"a" * 32: swinging()}
        moving = {"kind": "mesh", "file": {"content": "a" * 32, "name": "s"}}
        stands = {"rotation": row([0.3, 0.5, 0.2]), "position": row([1.0, -2.0, 0.5]), "scale": row([1.5, 1.0, 0.7])}
        for fields in (
            {"kind": "text", "text": "Kagero"},
            {"kind": "text", "text": "a lantern ferry", "height": 2.0},
            moving,
        ):
            it = {"uid": "p", "name": "p", **fields, **stands}
            for time in (0.0, 0.37, 1.0):
                for grown, all_in in ((1.002, True), (0.97, False)):
                    box = mask(shape="box", follow=held, size=row([1.0, 1.0, 1.0]), scale=row([grown] * 3))
                    effect = read_effect({**document(emitter()), "props": [it, box]})
                    stage = Playing(effect, content=files.__getitem__).stage
                    mesh = stage.geometry("p")
                    local = mesh.points_at(stage.clock("p", time)) if fields is moving else mesh.points
                    points = transform_points(stage.matrices("p", np.full(1, time)), local.astype(np.float64)).astype(
                        np.float32
                    )
                    got = value(it, box, points=points, time=time, content=files.__getitem__)
                    self.assertEqual(bool((got == 1).all()), all_in, (fields, time, grown))


class Algebra(unittest.TestCase):
    """Zadeh, "Fuzzy sets", 1965."""

    def test_union_intersection_and_difference(self):
        a, b, c = (
            mask("a", falloff=row(1.0)),
            mask("b", "box", falloff=row(0.7), position=row([0.5, 0.0, 0.0])),
            mask("c", "plane", falloff=row(0.4)),
        )
        of = {uid: value(a, b, c, of=uid) for uid in "abc"}
        for shape, wanted in (
            ("union", np.maximum(np.maximum(of["a"], of["b"]), of["c"])),
            ("intersection", np.minimum(np.minimum(of["a"], of["b"]), of["c"])),
            ("difference", np.minimum(np.minimum(of["a"], 1 - of["b"]), 1 - of["c"])),
        ):
            got = value(a, b, c, mask(shape=shape, masks=["a", "b", "c"]))
            np.testing.assert_allclose(got, wanted, atol=1e-6)
            nested = value(
                a,
                b,
                c,
                mask("n", shape, masks=["b", "c"] if shape != "difference" else ["c"]),
                mask(shape=shape, masks=["a", "n"]),
            )
            if shape != "difference":
                np.testing.assert_allclose(nested, wanted, atol=1e-6)
            np.testing.assert_allclose(
                value(a, b, c, mask(shape=shape, masks=["a", "b", "c"], invert=True)), 1 - wanted, atol=1e-6
            )

    def test_a_circle_of_masks_is_refused(self):
        with self.assertRaises((EffectError, CircleProblem)) as caught:
            Playing(with_props(mask("a", "union", masks=["b"]), mask("b", "union", masks=["a"])))
        self.assertIn("itself", str(caught.exception) + str(getattr(caught.exception, "findings", "")))


def sweeping(**more):
    return mask(shape="sphere", radius=row(0.3), position=formula("vec3(3 * clip_time - 1, 0, 0)", uid="s"), **more)


class Latched(unittest.TestCase):
    def test_membership_never_shrinks_and_ages_count_from_the_touch(self):
        place = {"kind": "box", "centre": row([0.0, 0.0, 0.0]), "size": row([2.0, 0.2, 0.2])}
        ends = row(
            0.4, response("e", {"kind": "draw", "draw": "d1"}, [(0, 1), (0.3, 1), (0.301, 1), (1, 1)], shape="hold")
        )
        ends = formula("0.6 if draws.flicker < 0.3 else 9", "once", "l")  # 30 % end in mid-clip
        latched = response("a", {"kind": "mask", "mask": "m", "part": "latched"}, STRAIGHT, shape="linear")
        since = response(
            "b", {"kind": "mask", "mask": "m", "part": "since"}, STRAIGHT, shape="linear", input=(0, 10), output=(0, 10)
        )
        one = emitter(
            births__rate=row(0.0),
            births__bursts=[{"uid": "b", "frame": 0, "count": 600}],
            births__place=place,
            births__lifespan=ends,
            births__launch__speed=row(0.0),
            look__size=row(1.0, latched),
            look__opacity=row(1.0),
            look__stretch=row(1.0, {**since, "operation": "add"}),
        )
        clip = Playing(with_props(sweeping(falloff=row(0.1)), one=one))
        before: dict[int, float] = {}
        touched: dict[int, float] = {}
        for frame in range(51):
            shown = clip.show(frame)[0]
            x = shown.positions()[:, 0].astype(float)
            clock = shown.column("stretch") - 1
            for key, size, age, at in zip(
                shown.population.key.tolist(), shown.column("size").tolist(), clock.tolist(), x.tolist(), strict=True
            ):
                self.assertGreaterEqual(size, before.get(key, 0) - 1e-7)
                before[key] = size
                if size >= 0.5:
                    touched.setdefault(key, frame / 25)
                    self.assertAlmostEqual(age, frame / 25 - touched[key], delta=1e-4)
                else:
                    self.assertEqual(age, 0)
                # on the axis, with the mask at 3t - 1: it has passed by its edge and half of the falloff
                if frame / 25 * 3 - 1 - at > 0.36 and abs(at) < 1:
                    self.assertGreater(size, 0.3)
        self.assertEqual(len(shown), 600 - 600 + sum(1 for _ in shown.population.key))
        self.assertAlmostEqual(len(shown) / 600, 0.7, delta=0.06)

    def test_points_held_to_a_bending_mesh_keep_ids_and_bindings_and_come_back_exactly_while_others_end(self):
        file = {"content": "0" * 32, "name": "made.glb"}
        body = prop("body", kind="mesh", file=file)
        ends = formula("0.5 if draws.flicker < 0.3 else 9", "once", "l")
        for on in ("surface", "inside"):
            one = emitter(
                births__rate=row(0.0),
                births__bursts=[{"uid": "b", "frame": 0, "count": 500}],
                births__lifespan=ends,
                births__place={"kind": "prop", "prop": "body", "on": on},
                births__launch__speed=row(0.0),
                motion={"grip": row(1000.0)},
            )
            clip = Playing(with_props(body, one=one), content=lambda content: swinging())
            start, half, end = (clip.frames(frame)[0].population for frame in (0, 13, 30))
            self.assertAlmostEqual(len(end) / 500, 0.7, delta=0.06)
            kept = np.isin(start.key, end.key)
            self.assertEqual(start.key[kept].tolist(), end.key.tolist())
            for axis in range(3):
                np.testing.assert_array_equal(start.position[axis][kept], end.position[axis])
            for name in ("bind.face", "bind.b1", "bind.b2", "bind.ox"):
                np.testing.assert_array_equal(start.carried[name][kept], end.carried[name])
            self.assertGreater(np.abs(half.position[0] - start.position[0][np.isin(start.key, half.key)]).max(), 0.01)

    def test_a_partial_grip_is_a_critically_damped_spring_whatever_the_substeps(self):
        """d = (d0 + (d0' + g d0) t) exp(-g t) about a place at rest (any textbook of mechanics); the same about one
        that moves evenly."""
        for moves in ("vec3(0, 0, 0)", "vec3(2 * clip_time, clip_time, 0)"):
            moved = prop("a", position=formula(moves), scale=row([0.0001] * 3))
            for substeps in (1, 8):
                one = emitter(
                    births__rate=row(0.0),
                    births__bursts=[{"uid": "b", "frame": 0, "count": 5}],
                    births__lifespan=row(9.0),
                    births__place={"kind": "prop", "prop": "a", "on": "surface"},
                    births__launch__speed=row(1.5),
                    motion={"grip": row(3.0)},
                )
                now = (
                    Playing(read_effect({**document(one, substeps=substeps), "props": [moved]}))
                    .frames(15)[0]
                    .population
                )
                t = 15 / 25
                at = np.array([2 * t, t, 0]) if "clip_time" in moves else np.zeros(3)
                starts = np.array([0, 1.5, 0]) - (np.array([2.0, 1.0, 0]) if "clip_time" in moves else 0)
                np.testing.assert_allclose(
                    [c.mean() for c in now.position], at + starts * t * np.exp(-3 * t), atol=2e-4
                )

    def test_whoever_is_let_go_keeps_the_velocity_it_had(self):
        moved = prop("a", position=formula("vec3(3 * clip_time, 0, 0)"), scale=row([0.0001] * 3))
        grip = row(1000.0, response("g", "life", STRAIGHT, output=(1, 0), input=(0.199, 0.2), shape="linear"))
        one = emitter(
            births__rate=row(0.0),
            births__bursts=[{"uid": "b", "frame": 0, "count": 5}],
            births__lifespan=row(2.0),
            births__place={"kind": "prop", "prop": "a", "on": "surface"},
            births__launch__speed=row(0.0),
            motion={"grip": grip},
        )
        now = Playing(with_props(moved, one=one)).frames(40)[0].population
        np.testing.assert_allclose([c.mean() for c in now.velocity], [3, 0, 0], rtol=2e-5, atol=1e-6)


class OnTheStage(unittest.TestCase):
    def test_a_prop_dissolves_and_what_was_touched_stays_gone(self):

        plane = prop("a", shape="plane", width=2.0, depth=0.5)
        for latched in (True, False):
            effect = with_props({**plane, "dissolve": {"mask": "m", "latched": latched}}, sweeping())
            clip = Playing(effect)
            fields = clip.fields()
            body = effect.props[0]
            gone = {frame: fields.gone(body, frame) for frame in (0, 12, 24)}
            mesh = fields._mesh(body)
            assert isinstance(mesh, Mesh)
            x = mesh.points[np.abs(mesh.points[:, 2]) < 0.02][:, 0]
            line = gone[24][np.abs(mesh.points[:, 2]) < 0.02]
            here = np.abs(x - (3 * 24 / 25 - 1)) < 0.25
            self.assertEqual(line[(x < 0.9) & (x > -0.9) & ~here].max(), 1 if latched else 0)
            repeated = clip.fields().gone(body, 12)
            np.testing.assert_array_equal(repeated, gone[12])
            if latched:
                self.assertTrue((gone[24] >= gone[12]).all() and (gone[12] >= gone[0]).all())


class BothEngines(unittest.TestCase):
    """Programs that ask the stage, cut into lanes and whole arrays."""

    def effect(self, count):
        ball = prop(
            "a", shape="sphere", position=formula("vec3(0.3 * sin(6 * clip_time), 0, 0)"), scale=row([1.0, 2.0, 1.0])
        )
        latched = response("l", {"kind": "mask", "mask": "m", "part": "latched"}, STRAIGHT, shape="linear")
        near = response(
            "n",
            {"kind": "surface", "prop": "a"},
            STRAIGHT,
            input=(-1, 1),
            output=(0, 2),
            shape="linear",
            operation="add",
        )
        one = emitter(
            births__rate=row(100.0),
            births__bursts=[{"uid": "b", "frame": 0, "count": count}],
            births__lifespan=row(9.0),
            births__place={"kind": "prop", "prop": "a", "on": "surface"},
            motion={"grip": row(900.0, latched)},
            forces=[
                {"uid": "d", "kind": "drag", "rate": row(0.5, near)},
                {"uid": "c", "kind": "curl_noise", "strength": row(2.0), "scale": row(0.5), "evolution": row(0.2)},
            ],
            look__size=row(1.0, {**latched, "uid": "q"}),
        )
        return read_effect({**document(one, substeps=2), "props": [ball, sweeping(falloff=row(0.4), edge=row(0.1))]})

    def test_native_stays_near_the_reference_on_every_width(self):
        effect = self.effect(400)
        with use_engine(REFERENCE):
            wanted = Playing(effect).show(12)[0]
        for width in machine.widths():
            with use_engine(native_choice(width, 1)):
                clip = Playing(effect).show(12)[0]
            self.assertEqual(clip.population.key.tolist(), wanted.population.key.tolist())
            np.testing.assert_allclose(clip.positions(), wanted.positions(), atol=2e-4)
            np.testing.assert_allclose(clip.column("size"), wanted.column("size"), atol=2e-4)

    def test_any_number_of_threads_gives_the_same_bytes(self):
        effect, bytes_of = self.effect(45_000), {}
        for threads in (1, 2, 3):
            with use_engine(native_choice(machine.widths()[-1], threads)):
                clip = Playing(effect)
                bytes_of[threads] = clip.frames(4)[0].to_bytes()
        self.assertEqual(len(set(bytes_of.values())), 1)
