"""Bad input gets an error that names the place and the way out; the document is left as it was."""

from __future__ import annotations

import io
import json
import unittest

import trimesh
from hypothesis import given
from hypothesis import strategies as st

from kagero.core.document import SCHEMA_VERSION, read_effect
from kagero.core.errors import BudgetError, EffectError, KageroError, RequestError, SchemaProblem, SyntaxProblem
from kagero.core.picture import Viewpoint, render
from kagero.core.plan import compile_effect
from tests.making import STRAIGHT, document, emitter, playing, response, row, with_

LIFE = response("r", "life", STRAIGHT)
PATHS = [  # change, where the finding points, a word of the message
    ({"emitters__0__births__rate__base": 1e9 - 1}, "emitters.0.births.rate.base", "1,000,000 /s"),
    ({"emitters__0__births__rate__base": -1}, "emitters.0.births.rate.base", "0 /s"),
    ({"emitters__0__births__lifespan__base": 0}, "emitters.0.births.lifespan.base", "0.001 s"),
    ({"emitters__0__births__lifespan__base": -2.0}, "emitters.0.births.lifespan.base", "Lifespan is -2 s"),
    ({"emitters__0__births__rate__base": float("nan")}, "emitters.0.births.rate.base", "finite"),
    ({"emitters__0__births__rate__base": float("inf")}, "emitters.0.births.rate.base", "finite"),
    ({"emitters__0__births__rate__base": "many"}, "emitters.0.births.rate.base", "number"),
    ({"clip__frame_rate": 0}, "clip.frame_rate", "fraction"),
    ({"clip__last_frame": -1}, "clip", "last frame"),
    ({"clip__last_frame": 10**6}, "clip", "20,000"),
    ({"camera__target": [0.0, 1.0, 4.0]}, "camera", "target"),
    ({"colour": "red"}, "colour", "unknown"),
    ({"emitters__0__look__size__bass": 3}, "emitters.0.look.size.bass", "unknown"),
    ({"emitters": []}, "emitters", "at least 1"),
    ({"name": ""}, "name", "at least 1"),
    ({"emitters__0__uid": "No Spaces"}, "emitters.0.uid", "pattern"),
    ({"emitters__0__births__place": {"kind": "torus"}}, "emitters.0.births.place", "torus"),
    (
        {"emitters__0__look__size": row(1.0, with_(LIFE, curve={"keys": []}))},
        "emitters.0.look.size.responses.0.curve.keys",
        "at least 1",
    ),
    (
        {"emitters__0__look__size": row(1.0, with_(LIFE, curve={"keys": [{"x": 0.5, "y": 0}, {"x": 0.5, "y": 1}]}))},
        "emitters.0.look.size.responses.0.curve",
        "order",
    ),
    (
        {
            "emitters__0__look__colour": row(
                [1, 1, 1],
                {
                    "kind": "gradient",
                    "uid": "g",
                    "source": {"kind": "life"},
                    "read": "live",
                    "input": [0, 1],
                    "gradient": {"stops": []},
                },
            )
        },
        "emitters.0.look.colour.responses.0.gradient.stops",
        "at least 1",
    ),
    (
        {"emitters__0__look__size": row(1.0, response("r", "draw:nobody", STRAIGHT, read="once"))},
        "emitters.0.look.size.responses.0.source.draw",
        "nobody",
    ),
    ({"emitters__0__births__rate": row(5, LIFE)}, "emitters.0.births.rate.responses.0.source", "whole emitter"),
    (
        {"emitters__0__births__lifespan": row(5, {**LIFE, "read": "once"})},
        "emitters.0.births.lifespan.responses.0.source",
        "settled at birth",
    ),
    (
        {"emitters__0__births__lifespan": row(5, response("r", "draw:d1", STRAIGHT, read="live"))},
        "emitters.0.births.lifespan.responses.0.read",
        "once",
    ),
    ({"emitters__0__look__size": row(1, LIFE, LIFE)}, "emitters.0", "more than once"),
]


class Findings(unittest.TestCase):
    def test_every_kind_names_its_place_and_a_remedy(self):
        for change, where, word in PATHS:
            bad = with_(document(), **change)
            with self.subTest(where=where, word=word):
                with self.assertRaises(EffectError) as caught:
                    compile_effect(read_effect(bad))
                places = {f.where: f for f in caught.exception.findings}
                self.assertIn(where, places)
                self.assertIn(word, places[where].message + places[where].remedy)
                self.assertTrue(places[where].remedy)

    def test_broken_json_names_line_and_column(self):
        with self.assertRaises(SyntaxProblem) as caught:
            read_effect(b'{"format": "kagero-effect",\n "name": }')
        self.assertEqual(caught.exception.findings[0].where, "line 2, column 10")

    def test_json_that_is_no_effect(self):
        for text in (
            b"[]",
            b'"x"',
            b"3",
            b"null",
            b"{}",
            b'{"format": "other"}',
            b"\xff\xfe",
            b"[" * 100_000,
            b'{"a": NaN}',
            b"",
        ):
            with self.subTest(text=text[:20]), self.assertRaises(EffectError):
                read_effect(text)

    def test_numbers_beyond_double_precision(self):
        text = json.dumps(document()).replace('"base": 50', '"base": 1e400')
        with self.assertRaises(SchemaProblem):
            read_effect(text)

    def test_a_file_of_another_kind_is_called_what_it_is(self):
        mesh = io.BytesIO()
        trimesh.creation.box().export(mesh, "glb")
        for data, what in (
            (mesh.getvalue(), "a mesh (GLB)"),
            (b"solid crate\nfacet normal 0 0 1\n", "a mesh (STL)"),
            (b"\x89PNG\r\n\x1a\n", "a picture (PNG)"),
        ):
            with self.assertRaises(SyntaxProblem) as caught:
                read_effect(data)
            finding = caught.exception.findings[0]
            self.assertEqual(finding.message, f"This is {what}, not an effect.")
            self.assertIn("Props", finding.remedy)

    def test_unknown_schema_versions(self):
        for version in (0, SCHEMA_VERSION + 1, 99, "1", None, True):
            with self.assertRaises(SchemaProblem) as caught:
                read_effect({**document(), "schema_version": version})
            self.assertEqual(caught.exception.findings[0].where, "schema_version")

    def test_a_file_of_30_megabytes_is_refused_before_it_is_parsed(self):
        with self.assertRaises(SyntaxProblem) as caught:
            read_effect(b'{"x": "' + b"a" * 30_000_000 + b'"}')
        self.assertIn("30,000,009", str(caught.exception))

    @given(
        st.recursive(
            st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
            lambda c: (
                st.lists(c, max_size=4)
                | st.dictionaries(
                    st.sampled_from(["emitters", "clip", "name", "births", "rate", "base", "kind", "x"]), c, max_size=5
                )
            ),
            max_leaves=20,
        )
    )
    def test_nothing_but_an_effect_error_comes_of_any_json(self, data):
        for candidate in (data, {**document(), "clip": data}, {**document(), "emitters": [data]}):
            try:
                read_effect(json.dumps(candidate))
            except EffectError as problem:
                self.assertTrue(problem.findings)


class Budgets(unittest.TestCase):
    def test_too_many_births_are_refused_before_the_work(self):
        for one in (
            emitter(births__rate=row(1_000_000), births__duration=60.0),
            emitter(births__bursts=[{"uid": f"b{i}", "frame": 0, "count": 3_000_000} for i in range(2)]),
            emitter(births__rate=row(1_000_000, response("r", "clip_time", STRAIGHT, input=(0, 2), output=(1, 1)))),
        ):
            clip = playing(one, last_frame=1000)
            with self.assertRaises(BudgetError) as caught:
                clip.frames(10)
            self.assertEqual("emitters.0.births.rate", caught.exception.findings[0].where)

    def test_pictures_have_a_size(self):
        view = Viewpoint((0, 0, 1), (0, 0, 0), 0.7)
        for size in ((0, 10), (10, -1), (100_000, 100_000)):
            with self.assertRaises(BudgetError):
                render([], view, *size)

    def test_frames_outside_the_clip(self):
        clip = playing(last_frame=10)
        for number in (-1, 11):
            with self.assertRaises(RequestError):
                clip.frames(number)

    def test_odd_but_valid_effects_play(self):
        odd = [
            {"births__rate": row(0)},
            {"births__start": 50_000.0},
            {"births__place": {"kind": "disc", "centre": row([0, 0, 0]), "radius": row(0)}},
            {"births__place": {"kind": "box", "centre": row([0, 0, 0]), "size": row([0, 0, 0]), "on": "surface"}},
            {"look__size": row(1, {**LIFE, "input": (1, 1)})},
            {"look__size": row(1, {**LIFE, "input": (1, 0)})},
            {"look__size": row(1, {**LIFE, "curve": {"keys": [{"x": 0.3, "y": 1}]}})},
            {"births__lifespan": row(1, response("r", "draw:d1", STRAIGHT, output=(-1, 0), read="once"))},
            {"births__lifespan": row(0.001)},
            {"forces": [{"kind": "drag", "uid": "k", "rate": row(0)}]},
        ]
        for change in odd:
            with self.subTest(change=change):
                try:
                    playing(emitter(**change)).particles(20)
                except KageroError as problem:
                    self.fail(str(problem))
