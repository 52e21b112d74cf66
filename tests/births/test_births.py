"""When and where births happen: windows, limits, run-up, pictures, noise, other particles, the guided burst,
thinning."""

from __future__ import annotations

import json
import math
import tempfile
import unittest
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.__main__ import main
from kagero.core.catalog import make_guide
from kagero.core.document import read_effect
from kagero.core.errors import EffectError, LinkProblem
from kagero.core.geometry import Picture
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, playing, response, row, with_
from tests.making.births import STILL, from_particles, on, picture_prop
from tests.making.formulas import formula
from tests.making.props import prop, with_props
from tests.soak import examples


def places(population) -> np.ndarray:
    return np.stack(population.position, 1).astype(float)


def showing(pixels: np.ndarray):
    """Give every file this picture: (H, W) of linear light."""
    values = Picture(np.stack([pixels, pixels, pixels, np.ones_like(pixels)], 2).astype(np.float32))
    return lambda content: values


class Guides(unittest.TestCase):
    def test_a_guide_made_in_one_move_plays_for_every_place_and_sends_away_from_its_middle(self):
        ball = {"uid": "p", "name": "p", "kind": "shape", "shape": "sphere", "position": row([2.0, 1.0, 0.0])}
        for place in (
            {"kind": "point", "centre": row([2.0, 1.0, 0.0])},
            {"kind": "sphere", "centre": row([2.0, 1.0, 0.0]), "radius": row(0.4)},
            {"kind": "box", "centre": row([2.0, 1.0, 0.0]), "size": row([1.0, 0.5, 0.5])},
            {"kind": "prop", "prop": "p", "on": "surface"},
        ):
            effect = read_effect({**document(emitter(births__place=place)), "props": [ball]})
            changed, uid = make_guide(effect, "one", lambda: "made")
            self.assertEqual(
                (changed.props[-1].uid, changed.props[-1].shown, changed.emitters[0].births.launch.guide),
                (uid, "ghost", uid),
            )
            shown = Playing(changed).frames(20)[0].population
            self.assertGreater(len(shown), 20)
            away = np.stack(shown.position, 1) - [2.0, 1.0, 0.0]
            self.assertGreater((away * np.stack(shown.velocity, 1)).sum(axis=1).min(), -1e-6, place)
        with self.assertRaises(LinkProblem):
            make_guide(effect, "nobody", str)


class When(unittest.TestCase):
    def test_per_frame_is_the_frame_rate_times_per_second_and_a_limit_ends_it(self):
        # common practice: a births a frame while frame < b, from frame 0, makes a x b
        clip = playing(emitter(births__rate=formula("5 if frame < 30 else 0"), births__per="frame", **STILL))
        self.assertEqual(len(clip.frames(50)[0].population), 150)
        self.assertEqual(len(clip.frames(9)[0].population), 46)
        limited = playing(emitter(births__rate=row(5.0), births__per="frame", births__limit=33, **STILL))
        self.assertEqual(len(limited.frames(50)[0].population), 33)
        self.assertEqual(limited.frames(50)[0].population.key.tolist(), list(range(33)))

    def test_a_limit_counts_those_who_come_to_be(self):
        for more in ({}, {"births__when": "each", "births__begins": row(0.5), "births__duration": 1.0}):
            clip = playing(emitter(births__rate=row(400.0), births__keep=row(0.5), births__limit=100, **STILL, **more))
            self.assertEqual(len(clip.frames(50)[0].population), 100)
        every = playing(emitter(births__rate=row(400.0), births__keep=row(0.5), **STILL)).frames(50)[0].population.key
        self.assertEqual(
            clip.frames(50)[0].population.key.tolist(), every[:100].tolist()
        )  # the first of those there would be

    @given(st.floats(0.1, 0.9), st.floats(0.05, 1.2), st.floats(1, 80), st.booleans())
    @settings(max_examples=examples(25))
    def test_every_so_often_the_same_again(self, every, duration, rate, by_formula):
        kinds = formula(f"{rate!r} + 0 * clip_time") if by_formula else row(rate)
        clip = playing(
            emitter(births__rate=kinds, births__every=every, births__duration=duration, births__start=0.1, **STILL)
        )
        times = clip.runs[0].schedule.times
        length = min(duration, every)
        wanted = [
            0.1 + k * every + n / rate
            for k in range(40)
            for n in range(math.ceil(rate * length - 1e-6))
            if 0.1 + k * every + n / rate <= 2.0
        ]
        wanted = [t for t in sorted(wanted) if t < 2.0 - 1e-6]
        np.testing.assert_allclose([t for t in times if t < 2.0 - 1e-6], wanted, atol=1e-5)

    def test_a_run_up_is_the_clip_begun_earlier(self):
        early = playing(emitter(births__rate=row(40.0), births__launch__cone=row(1.0)), run_up=20)
        plain = playing(emitter(births__rate=row(40.0), births__launch__cone=row(1.0)), last_frame=70)
        for frame in (0, 7, 50):
            a, b = early.frames(frame)[0].population, plain.frames(frame + 20)[0].population
            self.assertEqual(a.key.tolist(), b.key.tolist())
            np.testing.assert_allclose(places(a), places(b), atol=1e-5)
        self.assertGreater(len(early.frames(0)[0].population), 15)

    def test_bursts_in_the_run_up_play(self):
        burst = [{"uid": "b", "frame": -10, "count": 7}]
        clip = playing(emitter(births__rate=row(0.0), births__bursts=burst, **STILL), run_up=10)
        self.assertEqual(len(clip.frames(0)[0].population), 7)
        self.assertEqual(
            len(playing(emitter(births__rate=row(0.0), births__bursts=burst, **STILL)).frames(0)[0].population), 0
        )

    def test_by_brightness_darkest_first_each_within_a_step(self):
        ramp = np.tile(np.linspace(0, 1, 64), (64, 1)) ** 2
        by = response(
            "r",
            {"kind": "picture", "prop": "p", "at": "near", "part": "luminance"},
            STRAIGHT,
            shape="linear",
            operation="set",
            read="once",
        )
        one = emitter(
            births__rate=row(400.0),
            births__place=on("p"),
            births__when="each",
            births__begins=row(0.0, by),
            births__start=0.4,
            births__duration=1.2,
            **STILL,
        )
        clip = Playing(with_props(picture_prop(), one=one), content=showing(ramp))
        seen: dict[int, int] = {}
        for frame in range(51):
            for key in clip.frames(frame)[0].population.key.tolist():
                seen.setdefault(key, frame)
        last = clip.frames(50)[0].population
        self.assertEqual(len(last), 480)
        u = places(last)[:, 0] + 0.5
        brightness = Picture.at(showing(ramp)(""), np.stack([u, np.full(len(u), 0.5)], 1), "hold")[:, 0]
        due = 0.4 + 1.2 * brightness
        got = np.array([seen[key] for key in last.key.tolist()]) / 25
        np.testing.assert_array_less(due - 1e-4, got)
        np.testing.assert_array_less(got, due + 1 / 25 + 1e-4)
        order = np.argsort(got, kind="stable")
        self.assertTrue((np.diff(due[order]) > -1 / 25 - 1e-4).all())


class Where(unittest.TestCase):
    def test_a_condition_makes_a_ring_of_a_disc(self):
        keep = formula("birth_v > 0.3", "once", "k")
        clip = Playing(
            with_props(
                prop("a", shape="disc"),
                one=emitter(births__rate=row(900.0), births__place=on(), births__keep=keep, **STILL),
            )
        )
        radius = np.linalg.norm(places(clip.frames(50)[0].population), axis=1)
        self.assertGreater(radius.min(), 0.3 * 0.5 - 2e-3)
        self.assertAlmostEqual(len(radius), 1800 * (1 - 0.09), delta=60)

    def test_keeping_a_share_keeps_the_same_ones_and_reshuffles_nothing(self):
        def keys(share):
            return set(
                playing(emitter(births__rate=row(500.0), births__keep=row(share), **STILL))
                .frames(50)[0]
                .population.key.tolist()
            )

        few, many, all_of_them = keys(0.3), keys(0.6), keys(1.0)
        self.assertTrue(few < many < all_of_them)
        self.assertAlmostEqual(len(few), 300, delta=60)

    def test_noise_gives_births_nowhere_outside_its_level_set(self):
        mask = {
            "uid": "n",
            "name": "Cells",
            "kind": "mask",
            "shape": "noise",
            "level": row(0.1),
            "softness": row(0.0),
            "noise_scale": row(0.3),
            "noise_drift": row(0.4),
            "amplitude": row(1.0),
        }
        by = response("r", {"kind": "mask", "mask": "n"}, STRAIGHT, shape="linear", read="once")
        same = response("q", {"kind": "mask", "mask": "n"}, STRAIGHT, shape="linear")
        one = emitter(
            births__rate=row(2000.0),
            births__place=on(),
            births__keep=row(1.0, by),
            look__size=row(1.0, {**same, "read": "once"}),
            **STILL,
        )
        shown = Playing(with_props(prop("a", shape="sphere"), mask, one=one)).show(40)[0]
        self.assertGreater(len(shown), 300)
        self.assertLess(len(shown), 2600)
        self.assertEqual(shown.column("size").min(), 1.0)  # the mask where each was born, at its moment

    def test_moving_emitters_leave_births_spread_along_the_way(self):
        moving = prop("a", position=formula("vec3(10 * clip_time, 0, 0)"), scale=row([0.001, 0.001, 0.001]))
        clip = Playing(with_props(moving, one=emitter(births__rate=row(200.0), births__place=on(), **STILL)))
        x = np.sort(places(clip.frames(50)[0].population)[:, 0])
        np.testing.assert_allclose(np.diff(x), 0.05, atol=2e-3)

    def test_launched_along_the_normal_and_with_or_against_the_props_motion(self):
        moving = prop("a", position=formula("vec3(3 * clip_time, 0, 0)"), shape="sphere")
        for share in (0.0, 1.0, -0.5):
            one = emitter(
                births__rate=row(300.0),
                births__place=on(),
                births__launch__aim="normal",
                births__launch__inherit=row(share),
                births__launch__speed=row(2.0),
                births__lifespan=row(100.0),
            )
            population = Playing(with_props(moving, one=one)).frames(50)[0].population
            velocity = np.stack(population.velocity, 1) - [3 * share, 0, 0]
            np.testing.assert_allclose(np.linalg.norm(velocity, axis=1), 2, atol=2e-2)
            start = (
                places(population)
                - np.stack(population.velocity, 1) * population.age[:, None]
                - np.outer(population.birth_time, [3, 0, 0])
            )
            np.testing.assert_allclose(velocity / 2, start / np.linalg.norm(start, axis=1, keepdims=True), atol=3e-2)

    def test_a_direction_of_the_props_own_turns_with_it(self):
        turned = prop("a", rotation=row([0.0, 0.0, -math.pi / 2]))
        for space, wanted in (("world", [0, 1, 0]), ("own", [1, 0, 0])):
            one = emitter(births__place=on(), births__launch__space=space)
            velocity = np.stack(Playing(with_props(turned, one=one)).frames(10)[0].population.velocity, 1)
            np.testing.assert_allclose(velocity, np.broadcast_to(wanted, velocity.shape), atol=1e-5)

    def test_away_from_a_point(self):
        place = {"kind": "sphere", "centre": row([0.0, 0.0, 0.0]), "radius": row(1.0), "on": "surface"}
        one = emitter(births__place=place, births__launch__aim="away", births__launch__origin=row([0.0, 3.0, 0.0]))
        population = playing(one).frames(5)[0].population
        start = places(population) - np.stack(population.velocity, 1) * population.age[:, None]
        direction = start - [0, 3, 0]
        np.testing.assert_allclose(
            np.stack(population.velocity, 1), direction / np.linalg.norm(direction, axis=1, keepdims=True), atol=1e-5
        )

    def test_what_is_not_there_is_said_with_its_place(self):
        for change, where in (
            (on("gone"), "place.prop"),
            (on("a", "inside"), "place.on"),
            ({"kind": "particles", "emitter": "one"}, "place.emitter"),
        ):
            with self.assertRaises(EffectError) as caught:
                Playing(
                    with_props(prop("a", kind="path", points=[[0, 0, 0], [1, 0, 0]]), one=emitter(births__place=change))
                )
            self.assertTrue(
                any(where in finding.where for finding in caught.exception.findings), caught.exception.findings
            )


class FromParticles(unittest.TestCase):
    @given(
        st.floats(2, 20), st.floats(3, 70), st.floats(0.11, 0.9), st.integers(1, 3), st.integers(0, 20), st.booleans()
    )
    @settings(max_examples=20)
    def test_to_the_particle(self, parents, rate, lifespan, substeps, run_up, by_formula):
        made_rate = formula(f"{rate!r} + 0 * clip_time") if by_formula else row(rate)
        parent = emitter("p", births__rate=row(parents), births__lifespan=row(lifespan))
        child = from_particles("c", "p", made_rate, births__lifespan=row(1000.0))
        clip = playing(child, parent, substeps=substeps, run_up=run_up)
        start, end = -run_up / 25, 37 / 25
        lifespan, rate, parents = (float(np.float32(x)) for x in (lifespan, rate, parents))
        wanted = sorted(
            b + n / rate
            for b in (start + k / parents for k in range(int((end - start) * parents) + 1))
            for n in range(math.ceil(lifespan * rate - 1e-9))
        )
        near = [t for t in wanted if abs(t - end) < 1e-6]
        population = clip.frames(37)[0].population
        inside = [t for t in wanted if t <= end - 1e-6]
        self.assertTrue(
            len(inside) <= len(population) <= len(inside) + len(near), (len(population), len(inside), len(near))
        )
        if not near:
            np.testing.assert_allclose(np.sort(population.birth_time), inside, atol=2e-6)
        self.assertEqual(len(set(population.key.tolist())), len(population))

    def test_a_jumping_rate_and_a_limit_for_each_parent(self):
        parent = emitter(
            "p", births__rate=row(0.0), births__bursts=[{"uid": "b", "frame": 5, "count": 3}], births__lifespan=row(1.0)
        )
        stopped = playing(
            parent, from_particles("c", "p", formula("100 if clip_time < 0.5 else 0"), births__lifespan=row(50.0))
        )
        self.assertEqual(len(stopped.frames(50)[1].population), 3 * 30)
        limited = playing(parent, from_particles("c", "p", row(100.0), births__lifespan=row(50.0), births__limit=7))
        self.assertEqual(len(limited.frames(50)[1].population), 21)

    def test_born_where_the_parent_is_with_its_velocity_colour_and_size(self):
        parent = emitter(
            "p",
            births__rate=row(4.0),
            births__launch__speed=row(3.0),
            births__lifespan=row(0.24),
            look__size=row(0.4),
            look__colour=row([0.0, 1.0, 0.0]),
        )
        place = {"kind": "particles", "emitter": "p", "inherit_size": row(0.5), "inherit_colour": row(0.25)}
        child = with_(
            from_particles("c", "p", row(60.0), births__lifespan=row(50.0), births__launch__inherit=row(0.5)),
            births__place=place,
            look__size=row(0.1),
            look__colour=row([1.0, 0.0, 0.0]),
        )
        clip = playing(parent, child)
        population, shown = clip.frames(50)[1].population, clip.show(50)[1]
        np.testing.assert_allclose(
            np.stack(population.velocity, 1), np.broadcast_to([0, 1.5, 0], (len(population), 3)), atol=1e-5
        )
        start = places(population)[:, 1] - 1.5 * population.age
        born_of = np.floor(population.birth_time * 4 + 1e-9) / 4
        np.testing.assert_allclose(start, 3 * (population.birth_time - born_of), atol=2e-4)
        np.testing.assert_allclose(shown.column("size"), 0.25, rtol=1e-5)
        np.testing.assert_allclose(
            shown.column("colour"), np.broadcast_to([0.75, 0.25, 0], shown.column("colour").shape), atol=1e-6
        )

    def test_generations_follow_each_other_and_their_number_is_limited(self):
        chain = [
            emitter("e0", births__rate=row(3.0)),
            *(from_particles(f"e{k}", f"e{k - 1}", row(9.0), births__lifespan=row(0.3)) for k in (1, 2, 3)),
        ]
        for order in (chain, chain[::-1]):
            clip = playing(*order)
            counts = {e.uid: len(f.population) for e, f in zip(clip.effect.emitters, clip.frames(40), strict=True)}
            self.assertEqual(counts, {"e0": 3, "e1": 9, "e2": 27, "e3": 81} | counts)
            self.assertTrue(counts["e0"] < counts["e1"] < counts["e2"] < counts["e3"])
        longer = [*chain, *(from_particles(f"e{k}", f"e{k - 1}", row(9.0)) for k in range(4, 8))]
        with self.assertRaises(EffectError):
            playing(*longer)

    def test_the_same_whatever_is_asked_first(self):
        def result():
            return playing(
                emitter("p", births__launch__cone=row(0.5)),
                from_particles("c", "p", row(40.0), births__lifespan=row(0.4)),
            )

        forward, at_once = result(), result()
        for frame in range(31):
            last = forward.frames(frame)[1]
        self.assertEqual(last.to_bytes(), at_once.frames(30)[1].to_bytes())


class Guided(unittest.TestCase):
    """Speed = multiplier x distance to the guide + offset, never below nought, against closed forms."""

    def speeds(self, guide, place, origin, multiplier=2.0, offset=-0.3):
        launch = {
            "direction": row([0.0, 1.0, 0.0]),
            "cone": row(0.0),
            "speed": row(9.0),
            "aim": "guided",
            "guide": "g",
            "origin": row(origin),
            "multiplier": row(multiplier),
            "offset": row(offset),
        }
        one = emitter(births__rate=row(300.0), births__place=place, births__launch=launch, births__lifespan=row(100.0))
        population = Playing(with_props(guide, one=one)).frames(25)[0].population
        velocity = np.stack(population.velocity, 1).astype(float)
        start = places(population) - velocity * population.age[:, None]
        return start, velocity

    def test_to_a_sphere_from_inside_and_outside(self):
        ball = prop("g", shape="sphere", radius=2.0, position=row([0.2, 0.0, 0.0]))
        for radius in (0.5, 3.5):
            place = {"kind": "sphere", "centre": row([0.0, 0.0, 0.0]), "radius": row(radius), "on": "surface"}
            start, velocity = self.speeds(ball, place, [0.0, 0.0, 0.0])
            unit = start / np.linalg.norm(start, axis=1, keepdims=True)
            gap = start - [0.2, 0, 0]
            b = np.einsum("ij,ij->i", gap, unit)
            root = b * b - (np.einsum("ij,ij->i", gap, gap) - 4)
            far = (
                np.where(root > 0, -b + np.sqrt(np.maximum(root, 0)), 0) if radius < 1 else np.zeros(len(b))
            )  # outward, and beyond it: none
            wanted = np.maximum(2 * far - 0.3, 0)
            np.testing.assert_allclose(
                np.linalg.norm(velocity, axis=1), wanted, atol=0.03
            )  # 64 x 32 flat pieces for a sphere
        # towards it from outside: the ray starts at the far side of the origin
        place = {"kind": "point", "centre": row([-4.0, 0.0, 0.0])}
        _, velocity = self.speeds(ball, place, [-5.0, 0.0, 0.0])
        np.testing.assert_allclose(velocity[:, 0], 2 * (4 + 0.2 - 2) - 0.3, atol=0.01)

    def test_to_a_box_exactly(self):
        box = prop("g", shape="box", width=4.0, height=3.0, depth=5.0)
        place = {"kind": "sphere", "centre": row([0.0, 0.0, 0.0]), "radius": row(0.25), "on": "surface"}
        start, velocity = self.speeds(box, place, [0.0, 0.0, 0.0], 1.5, 0.1)
        unit = start / np.linalg.norm(start, axis=1, keepdims=True)
        reach = np.min(np.array([2.0, 1.5, 2.5]) / np.maximum(np.abs(unit), 1e-12), axis=1) - 0.25
        np.testing.assert_allclose(np.linalg.norm(velocity, axis=1), 1.5 * reach + 0.1, rtol=1e-4)

    def test_a_lower_offset_leaves_only_where_the_guide_bulges_and_nothing_is_negative(self):
        # common practice, no source
        bulging = prop(
            "g",
            shape="sphere",
            radius=1.0,
            strokes=[{"kind": "pull", "radius": 0.6, "strength": 1.0, "points": [[1.0, 0.0, 0.0]]}],
        )
        place = {"kind": "sphere", "centre": row([0.0, 0.0, 0.0]), "radius": row(0.1), "on": "surface"}
        start, velocity = self.speeds(bulging, place, [0.0, 0.0, 0.0], 1.0, -0.95)
        speed = np.linalg.norm(velocity, axis=1)
        flying = speed > 0
        self.assertTrue(0 < flying.mean() < 0.3)
        self.assertTrue((start[flying][:, 0] > 0.05).all())


class Thinning(unittest.TestCase):
    def shown(self, frame=50, camera=None, **thinning):
        place = {"kind": "box", "centre": row([0.0, 0.0, 0.0]), "size": row([20.0, 0.0, 20.0])}
        one = emitter(births__rate=row(1000.0), births__place=place, thinning=thinning, **STILL)
        eye = camera or {
            "uid": "c",
            "name": "Eye",
            "kind": "camera",
            "position": row([0.0, 0.0, 0.0]),
            "field_of_view": row(0.9),
        }
        clip = Playing(with_props(eye, one=one))
        shown = clip.show(frame)[0]
        return np.linalg.norm(shown.positions(), axis=1), shown.column("size") > 0, shown

    def test_at_inside_between_and_outside_the_two_distances(self):
        away, seen, shown = self.shown(prop="c", outer=row(8.0), inner=row(0.5))
        self.assertEqual(len(shown), 2001)  # hidden, never removed
        self.assertTrue(seen[away <= 4.0].all())
        self.assertFalse(seen[away >= 8.0].any())
        between = (away > 5.5) & (away < 6.5)
        self.assertAlmostEqual(seen[between].mean(), 0.5, delta=0.12)
        self.assertEqual(shown.column("opacity")[~seen].max(initial=0), 0)

    def test_equal_distances_are_a_hard_edge_that_neither_flips_nor_vanishes(self):
        away, seen, _ = self.shown(prop="c", outer=row(6.0), inner=row(1.0))
        np.testing.assert_array_equal(seen, away < 6.0)

    def test_the_kept_at_a_lower_density_are_among_those_at_a_higher_one_along_any_path(self):
        rng = np.random.default_rng(2)
        before = None
        for _ in range(12):
            eye = {"uid": "c", "name": "Eye", "kind": "camera", "position": row([*rng.uniform(-6, 6, 2).tolist(), 3.0])}
            _, seen, shown = self.shown(camera=eye, prop="c", outer=row(9.0), inner=row(0.2))
            near = np.linalg.norm(shown.positions() - np.array(eye["position"]["base"], np.float32), axis=1)
            density = np.clip((9 - near) / (9 - 1.8), 0, 1)
            if before is not None:
                lower = density < before[0] - 1e-4
                self.assertTrue(before[1][lower & seen].all())
                self.assertTrue(seen[(density > before[0] + 1e-4) & before[1]].all())
            before = density, seen

    def test_outside_the_cameras_view_nobody_is_shown_with_a_margin(self):
        for margin in (0.0, 0.3):
            _, seen, shown = self.shown(
                prop="c", outer=row(100.0), inner=row(1.0), view=True, margin=row(margin), aspect=1.0
            )
            x, y, z = shown.positions().T
            reach = math.tan(0.45) * (1 + 2 * margin)
            inside = (-z > 0) & (np.abs(x) < -z * reach) & (np.abs(y) < -z * reach)
            self.assertGreater((seen == inside).mean(), 0.999)


class Reading(unittest.TestCase):
    def test_colours_from_a_props_picture_at_birth_and_at_the_nearest_place(self):
        ramp = np.tile(np.linspace(0, 1, 128), (16, 1))
        look = {
            f"look__{name}": value
            for name, value in {
                "opacity": row(
                    1.0,
                    response(
                        "o", {"kind": "picture", "prop": "p", "at": "birth", "part": "red"}, STRAIGHT, shape="linear"
                    ),
                ),
                "size": row(
                    1.0,
                    response(
                        "s",
                        {"kind": "picture", "prop": "p", "at": "near", "part": "luminance"},
                        STRAIGHT,
                        shape="linear",
                    ),
                ),
            }.items()
        }
        one = emitter(
            births__rate=row(300.0),
            births__place=on("p"),
            births__launch__direction=row([1.0, 0.0, 0.0]),
            births__lifespan=row(100.0),
            births__launch__speed=row(0.2),
            **look,
        )
        clip = Playing(with_props(picture_prop(content="1" * 32), one=one), content=showing(ramp))
        shown = clip.show(40)[0]
        # the picture is as wide as it is: 128 x 16 pixels, a metre high
        x, age = shown.positions()[:, 0], shown.population.age
        np.testing.assert_allclose(
            shown.column("opacity"), np.clip(((x - 0.2 * age) / 8 + 0.5) * 128 - 0.5, 0, 127) / 127, atol=3e-3
        )
        inside = np.abs(x) < 3.9
        np.testing.assert_allclose(
            shown.column("size")[inside], np.clip((x[inside] / 8 + 0.5) * 128 - 0.5, 0, 127) / 127, atol=3e-3
        )

    def test_distance_to_a_props_surface_is_negative_inside(self):
        ball = prop("a", shape="sphere", radius=1.0, position=row([1.0, 0.0, 0.0]), scale=row([2.0, 2.0, 2.0]))
        place = {"kind": "box", "centre": row([1.0, 0.0, 0.0]), "size": row([6.0, 6.0, 6.0])}
        away = response(
            "r",
            {"kind": "surface", "prop": "a"},
            STRAIGHT,
            input=(-10, 10),
            output=(-10, 10),
            shape="linear",
            operation="set",
        )
        one = emitter(
            births__rate=row(600.0), births__place=place, births__rotation=row(0.0, {**away, "read": "once"}), **STILL
        )
        population = Playing(with_props(ball, one=one)).frames(40)[0].population
        wanted = np.linalg.norm(places(population) - [1, 0, 0], axis=1) - 2
        np.testing.assert_allclose(population.carried["rotation"], wanted, atol=8e-3)


class Preview(unittest.TestCase):
    def test_a_share_of_births_is_simulated_each_where_it_is_among_all_and_what_is_handed_over_has_all(self):
        sparks = emitter("sparks", births__rate=row(200.0), births__launch__cone=row(0.8))
        smoke = emitter("smoke", births__place={"kind": "particles", "emitter": "sparks"}, births__rate=row(10.0))
        whole, some, few = (
            Playing(read_effect(document(sparks, smoke, preview=share))).show(40) for share in (1.0, 0.5, 0.1)
        )
        for i in (0, 1):
            every = dict(zip(whole[i].population.key.tolist(), whole[i].positions().tolist(), strict=True))
            for part, share in ((some[i], 0.5), (few[i], 0.1)):
                self.assertAlmostEqual(len(part) / len(every), share, delta=0.12)
                for key, place in zip(part.population.key.tolist(), part.positions().tolist(), strict=True):
                    self.assertEqual(every[key], place)
            self.assertLessEqual(set(few[i].population.key.tolist()), set(some[i].population.key.tolist()))
        thin = read_effect(document(sparks, smoke, preview=0.1))
        self.assertEqual(len(Playing(thin.whole()).show(40)[0]), len(whole[0]))
        with tempfile.TemporaryDirectory() as folder:
            source, target = Path(folder) / "thin.json", Path(folder) / "thin.npz"
            source.write_bytes(json.dumps(document(sparks, smoke, preview=0.1)).encode())
            self.assertEqual(main(["simulate", str(source), "--frames", "40", "--out", str(target)]), 0)
            with np.load(target) as values:
                self.assertEqual(len(values["key"]), len(whole[0]) + len(whole[1]))
