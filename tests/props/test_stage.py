"""Props where they stand: by rows, by what they follow, read by births at their own moments."""

from __future__ import annotations

import math
import unittest

import numpy as np

from kagero.core.catalog import check_effect
from kagero.core.document import read_effect
from kagero.core.errors import EffectError, GeometryProblem, KageroError
from kagero.core.formats.importing import mesh_sequence
from kagero.core.geometry import Mesh
from kagero.core.geometry.text import missing_characters, text_mesh
from kagero.core.staging import PropPlaces, geometry
from kagero.core.workflows import Playing
from tests.making import document, emitter, row, with_
from tests.making.formulas import formula
from tests.making.props import prop, stage, with_props

ROUND = formula("vec3(2 * cos(clip_time), dials.high, 2 * sin(clip_time))")
HIGH = {"uid": "h", "name": "High", "value": 1.5, "low": 0, "high": 4, "default": 1}


class Standing(unittest.TestCase):
    def test_position_rotation_and_scale_about_y_then_x_then_z(self):
        placed = stage(
            with_props(prop("a", position=row([1, 2, 3]), rotation=row([0.3, 0.5, 0.7]), scale=row([1, 2, 3])))
        ).places(0)["a"]
        c, s = math.cos, math.sin
        turn = np.array([[c(0.5), 0, s(0.5)], [0, 1, 0], [-s(0.5), 0, c(0.5)]])
        tilt = np.array([[1, 0, 0], [0, c(0.3), -s(0.3)], [0, s(0.3), c(0.3)]])
        roll = np.array([[c(0.7), -s(0.7), 0], [s(0.7), c(0.7), 0], [0, 0, 1]])
        np.testing.assert_allclose(placed[:3, :3], turn @ tilt @ roll @ np.diag([1, 2, 3]), atol=1e-6)
        np.testing.assert_allclose(placed[:3, 3], [1, 2, 3])

    def test_rows_are_driven_by_clip_time_formulas_and_dials(self):
        stage_of_props = stage(with_props(prop("a", position=ROUND), dials=[HIGH]))
        for t in (0, 0.7, 1.9):
            np.testing.assert_allclose(
                stage_of_props.places(t)["a"][:3, 3], [2 * math.cos(t), 1.5, 2 * math.sin(t)], atol=1e-6
            )

    def test_births_read_where_a_prop_is_at_their_own_moment_with_all_that_it_follows(self):
        post = prop(
            "post", "Post", position=ROUND, rotation=formula("vec3(0.4, clip_time, 0.2)", uid="r"), scale=row([2, 1, 1])
        )
        hook = prop("hook", "Hook", position=row([0.5, 1.0, 0.25]), follow={"prop": "post"})
        lamp = prop("lamp", "Lamp", position=row([0, -0.3, 0]), follow={"prop": "hook", "turns": False})
        one = emitter(
            births__place__centre=formula("props.lamp", "once", "g"),
            births__launch__speed=row(0.0),
            births__rate=row(200),
        )
        effect = with_props(post, hook, lamp, one=one, dials=[HIGH])
        clip = Playing(effect)
        population = clip.frames(12)[0].population
        places = PropPlaces(effect, clip.plan)
        where = np.stack(population.position, 1)
        for k in range(0, len(population), 17):
            np.testing.assert_allclose(where[k], places.places(population.birth_time[k])["lamp"][:3, 3], atol=2e-5)

    def test_rows_read_how_fast_props_move_and_props_read_each_other(self):
        """y = g t²/2: central differences are exact for it; a prop that reads another's speed, and particles that read
        that one's."""
        falls = prop(
            "a",
            position={
                "base": {
                    "source": {
                        "kind": "formula",
                        "uid": "f",
                        "text": "vec3(2 * clip_time, 2 * clip_time * clip_time, 0)",
                    },
                    "read": "live",
                },
                "responses": [],
            },
        )
        reads = prop(
            "b",
            position={
                "base": {"source": {"kind": "prop_velocity", "prop": "a", "part": "whole"}, "read": "live"},
                "responses": [],
            },
        )
        size = {
            "base": {"source": {"kind": "prop_velocity", "prop": "a", "part": "length"}, "read": "live"},
            "responses": [],
        }
        named = {
            "base": {
                "source": {"kind": "formula", "uid": "n", "text": "velocities.a.y / 1 + velocities.b.y"},
                "read": "live",
            },
            "responses": [],
        }
        effect = with_props(falls, reads, one=emitter(look__size=size, look__stretch=named))
        clip = Playing(effect)
        for frame in (0, 13, 40):
            t = frame / 25
            np.testing.assert_allclose(clip.stage.places(t)["b"][:3, 3], [2, 4 * t, 0], atol=1e-6)
            shown = clip.show(frame)[0]
            np.testing.assert_allclose(shown.column("size"), np.hypot(2, 4 * t), rtol=1e-5)
            np.testing.assert_allclose(shown.column("stretch"), max(4 * t + 4, 1), rtol=1e-4)
        around = (
            prop("a", position=reads["position"]),
            prop("b", position=with_(reads["position"], base__source__prop="a")),
        )
        around[0]["position"] = with_(reads["position"], base__source__prop="b")
        found = check_effect(read_effect({**document(emitter()), "props": list(around)}))
        self.assertTrue(any("circle" in f.message for f in found), found)

    def test_following_a_surface_and_points(self):
        ball = prop("ball", position=row([0, 1, 0]), rotation=formula("vec3(0, clip_time, 0)", uid="r"))
        fly = prop("fly", follow={"prop": "ball", "at": "surface", "face": 400, "bary": [0.2, 0.3, 0.5]})
        mid = prop("mid", follow={"prop": "ball", "at": "points", "points": [0, 100, 200]})
        effect = with_props(ball, fly, mid)
        stage_of_props = stage(effect)
        mesh = stage_of_props.geometry("ball")
        for t in (0.0, 1.3):
            places = stage_of_props.places(t)
            self.assertAlmostEqual(np.linalg.norm(places["fly"][:3, 3] - [0, 1, 0]), 0.5, places=2)
            np.testing.assert_allclose(places["fly"][:3, :3] @ places["fly"][:3, :3].T, np.eye(3), atol=1e-9)
            outward = places["fly"][:3, 3] - [0, 1, 0]
            self.assertGreater(places["fly"][:3, 1] @ outward / 0.5, 0.99)  # its y looks away from the surface
            wanted = places["ball"] @ [*mesh.points[[0, 100, 200]].mean(axis=0), 1]
            np.testing.assert_allclose(places["mid"][:3, 3], wanted[:3], atol=1e-6)

    def test_what_cannot_be_is_refused_in_words(self):
        for props, message in [
            ([prop("a", follow={"prop": "b"}), prop("b", follow={"prop": "a"})], "in a circle"),
            ([prop("a", follow={"prop": "gone"})], "not there"),
            ([prop("a"), prop("a")], "more than once"),
            ([prop("a", position=formula("vec3(life, 0, 0)"))], "belongs to a prop"),
            ([prop("a", position=formula("1"))], "needs a vector"),
            ([prop("c", kind="camera"), prop("a", follow={"prop": "c", "at": "surface"})], "no surface"),
        ]:
            with self.assertRaises(EffectError) as caught:
                Playing(with_props(*props))
            self.assertIn(message, str(caught.exception))
            self.assertTrue(caught.exception.findings[0].where.startswith("props"))


class Shapes(unittest.TestCase):
    def test_sizes_of_every_shape(self):
        kinds = {
            "disc": {"radius": 2},
            "ring": {"radius": 2, "inner": 1},
            "sphere": {"radius": 2},
            "box": {"width": 1, "height": 2, "depth": 3},
            "plane": {"width": 2, "depth": 3},
            "cylinder": {"radius": 0.5, "height": 2},
            "funnel": {"profile": [[0.5, 0], [1, 2]]},
        }
        area = {
            "disc": 4 * math.pi,
            "ring": 3 * math.pi,
            "sphere": 16 * math.pi,
            "box": 22,
            "plane": 6,
            "cylinder": 2 * math.pi,
            "funnel": math.pi * 1.5 * math.hypot(0.5, 2),
        }
        for kind, sizes in kinds.items():
            mesh = geometry(with_props(prop("a", shape=kind, **sizes)).props[0])
            self.assertAlmostEqual(float(mesh.areas.sum()) / area[kind], 1, delta=0.005, msg=kind)
            uv = mesh.uv
            self.assertEqual((uv.min(), uv.max()), (0, 1))

    def test_a_path_by_a_formula(self):
        figure = "turn = t * tau\nvec3(cos(turn) * 2, turn / tau, sin(turn) * 2)"
        path = geometry(with_props(prop("p", kind="path", points=[[0, 0, 0]], formula=figure)).props[0])
        self.assertAlmostEqual(path.length, math.hypot(4 * math.pi, 1), delta=0.001)
        np.testing.assert_allclose(
            path.point(np.array([0.0, 0.25, 1.0])), [[2, 0, 0], [0, 0.25, 2], [2, 1, 0]], atol=1e-4
        )
        for text, message in [
            ("t", "needs a vector"),
            ("vec3(u, 0, 0)", "Nothing is called u"),
            ("vec3(1 / t, 0, 0)", "leaves the world"),
        ]:
            with self.assertRaises(KageroError) as caught:
                geometry(with_props(prop("p", kind="path", points=[[0, 0, 0]], formula=text)).props[0])
            self.assertIn(message, str(caught.exception))

    def test_a_sequence_of_meshes_moves_and_one_that_does_not_fit_is_named(self):
        ball = geometry(with_props(prop("a")).props[0])
        grown = [Mesh.of(ball.points * s, ball.faces, ball.uv) for s in (1.0, 1.5, 2.0)]
        moving = mesh_sequence(grown, 10)
        np.testing.assert_allclose(np.linalg.norm(moving.points_at(0.05)[0]), 0.5 * 1.25, rtol=1e-5)
        with self.assertRaises(GeometryProblem) as caught:
            mesh_sequence([*grown, geometry(with_props(prop("b", shape="box")).props[0])], 10)
        self.assertIn("File 4 of the sequence", str(caught.exception))

    def test_words_are_closed_solids_of_the_asked_height(self):
        flat, thick = text_mesh("HOTARU", 0.5), text_mesh("HOTARU", 0.5, 0.1)
        self.assertAlmostEqual(float(flat.bounds[1, 1]), 0.5, delta=0.02)  # round letters reach a little over
        self.assertTrue(thick.is_closed)
        volume = (
            np.einsum("ij,ij->i", thick.corners[:, 0], np.cross(thick.corners[:, 1], thick.corners[:, 2])).sum() / 6
        )
        self.assertAlmostEqual(volume, float(flat.areas.sum()) * 0.1, places=6)
        self.assertAlmostEqual(float(flat.bounds[0, 0] + flat.bounds[1, 0]), 0, delta=0.03)
        two = text_mesh("Boat\nhouse", 0.5)
        self.assertLess(float(two.bounds[0, 1]), -0.5)
        self.assertEqual((missing_characters("Aé\u706f"), len(text_mesh(" \n ", 1).faces)), ("\u706f", 0))

    def test_words_without_an_outline_play_and_say_which_letters_are_missing(self):
        for on in ("surface", "inside", "points", "edges"):
            clip = Playing(
                with_props(
                    prop("t", kind="text", text="\u706f"),
                    one=emitter(births__place={"kind": "prop", "prop": "t", "on": on}),
                )
            )
            self.assertEqual(len(clip.frames(10)[0].population), 0)  # there is nothing to be born on
        self.assertEqual([f.code for f in clip.lacking()], ["missing_letters"])
        self.assertIn("\u706f", clip.lacking()[0].message)
