"""What does not fit is refused before it plays, with its place and what to do; every kind of mask and aim as offered
plays."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from kagero.core.catalog import catalog_as_dict, check_effect
from kagero.core.document import read_effect
from kagero.core.errors import BudgetError, GeometryProblem
from kagero.core.geometry import Picture, shape
from kagero.core.parts.launches import LAUNCHES
from kagero.core.parts.masks import MASKS
from kagero.core.rows.model import new_rows
from kagero.core.simulation import FrameStore
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, playing, response, row, with_
from tests.making.births import STILL, from_particles, mask, on, picture_prop
from tests.making.props import prop, with_props

BALL, PATH, EYE = prop("ball"), prop("path", kind="path", points=[[0, 0, 0], [1, 0, 0]]), prop("eye", kind="camera")
PROPS = [BALL, PATH, EYE, picture_prop("map"), mask("m")]
# what is wrong, in the emitter or as one more prop; and the end of the place that is named
WRONG: list[tuple[str, dict[str, Any], dict[str, Any] | None, str]] = [
    ("births on a prop that is not there", {"births__place": on("gone")}, None, "births.place.prop"),
    ("births inside a path", {"births__place": on("path", "inside")}, None, "births.place.on"),
    ("births on a camera", {"births__place": on("eye")}, None, "births.place.on"),
    ("births on a mask", {"births__place": on("m")}, None, "births.place.on"),
    ("a density by no picture", {"births__place": on("ball", density={"picture": "ball"})}, None, "density.picture"),
    ("a density inside", {"births__place": on("ball", "inside", density={"picture": "map"})}, None, "place.density"),
    ("a density on lines", {"births__place": on("ball", "edges", density={"picture": "map"})}, None, "place.density"),
    (
        "a density along a path",
        {"births__place": on("path", "points", density={"picture": "map"})},
        None,
        "place.density",
    ),
    ("births from nobody", {"births__place": {"kind": "particles", "emitter": "gone"}}, None, "place.emitter"),
    ("births from itself", {"births__place": {"kind": "particles", "emitter": "one"}}, None, "place.emitter"),
    ("a guide that is none", {"births__launch__aim": "guided", "births__launch__guide": "eye"}, None, "launch.guide"),
    ("no guide at all", {"births__launch__aim": "guided"}, None, "launch.guide"),
    ("thinning by what is not there", {"thinning": {"prop": "gone"}}, None, "thinning.prop"),
    ("a mask of nothing", {}, mask("n", "mesh"), "of"),
    ("a mask inside a camera", {}, mask("n", "mesh", of="eye"), "of"),
    ("a mask by no picture", {}, mask("n", "picture", of="ball"), "of"),
    ("a union of nothing", {}, mask("n", "union"), "masks"),
    ("a union with a prop", {}, mask("n", "union", masks=["ball"]), "masks"),
    ("a formula with a mistake", {}, mask("n", "formula", formula="position.x +"), "formula"),
    ("a formula of three", {}, mask("n", "formula", formula="position"), "formula"),
    ("a formula that reads a particle", {}, mask("n", "formula", formula="age"), "formula"),
    ("dissolving by no mask", {}, prop("n", dissolve={"mask": "ball"}), "dissolve.mask"),
]


class Refused(unittest.TestCase):
    def test_each_with_its_place_and_what_to_do(self):
        for name, change, more, place in WRONG:
            with self.subTest(name):
                effect = with_props(*PROPS, *([more] if more else []), one=emitter(**change))
                findings = [f for f in check_effect(effect) if f.where.endswith(place)]
                self.assertTrue(findings, check_effect(effect))
                self.assertTrue(findings[0].message and findings[0].remedy)

    def test_a_mask_that_a_source_names_and_is_not_there(self):
        gone = row(1.0, response("r", {"kind": "mask", "mask": "gone"}, STRAIGHT))
        self.assertTrue(
            [f for f in check_effect(with_props(*PROPS, one=emitter(look__size=gone))) if "look.size" in f.where]
        )

    def test_budgets_are_said_and_not_run_into(self):
        often = emitter(births__every=1e-4, births__duration=1e-4, **STILL)
        with self.assertRaises(BudgetError) as caught:
            playing(often).frames(0)
        self.assertTrue(caught.exception.findings[0].where.endswith("births.every"))
        crowd = emitter(
            "p",
            births__rate=row(0.0),
            births__bursts=[{"uid": "b", "frame": 0, "count": 20_000}],
            births__lifespan=row(9.0),
        )
        with self.assertRaises(BudgetError) as caught:
            playing(crowd, from_particles("c", "p", row(1000.0))).frames(2)
        self.assertTrue(caught.exception.findings[0].where.endswith("births.rate"))


class Offered(unittest.TestCase):
    def test_every_kind_of_mask_as_offered_is_valid_and_has_a_value_between_0_and_1(self):
        self.assertEqual(len(MASKS.kinds), 14)
        pixels = Picture(np.full((4, 4, 4), 0.5, np.float32))
        for shape_, kind in MASKS.kinds.items():
            with self.subTest(shape_):
                of = {"solid": "ball", "placed": "eye", "picture": "map"}.get(kind.needs)
                refers = {"of": of, "masks": ["m"]}
                fields = {
                    **kind.template(),
                    **{name: uid for name, uid in refers.items() if name in kind.model_fields},
                    "uid": "n",
                    "name": "N",
                }
                one = emitter(
                    births__place={
                        "kind": "sphere",
                        "centre": row([0.0, 0.0, 0.0]),
                        "radius": row(1.0),
                        "on": "inside",
                    },
                    births__rate=row(200.0),
                    look__size=row(1.0, response("r", {"kind": "mask", "mask": "n"}, STRAIGHT, shape="linear")),
                )
                size = (
                    Playing(with_props(*PROPS, fields, one=one), content=lambda content: pixels)
                    .show(20)[0]
                    .column("size")
                )
                self.assertGreater(len(size), 10)
                self.assertTrue((size >= 0).all() and (size <= 1).all())

    def test_every_aim_as_offered_is_a_launch_and_plays_when_it_has_its_guide(self):
        for aim, kind in LAUNCHES.kinds.items():
            launch = {**kind.template(), **({"guide": "p"} if aim == "guided" else {})}
            one = emitter(
                births__launch=launch,
                births__place={"kind": "sphere", "centre": row([0.0, 0.0, 0.0]), "radius": row(0.2)},
            )
            clip = Playing(with_props(prop("p", radius=2.0), one=one))
            self.assertLessEqual({f"births.launch.{name}" for name in new_rows(kind)}, set(clip.plan.emitters[0].rows))
            self.assertGreater(len(clip.frames(10)[0].population), 5, aim)

    def test_a_new_emitter_as_offered_plays(self):
        fields = {**catalog_as_dict()["emitter"], "uid": "n", "name": "New"}
        self.assertGreater(len(Playing(read_effect(document(fields))).frames(20)[0].population), 10)


class Due(unittest.TestCase):
    def test_a_longer_clip_moves_no_birth_that_has_its_own_time(self):
        by = response("b", "draw:d1", STRAIGHT, shape="linear", operation="set", read="once")
        one = emitter(
            births__rate=row(100.0), births__when="each", births__begins=row(0.0, by), births__duration=3.0, **STILL
        )
        short, long = (
            dict(zip(s.keys.tolist(), s.times.tolist(), strict=True))
            for s in (playing(one).runs[0].schedule, playing(one, last_frame=100).runs[0].schedule)
        )
        self.assertEqual(len(long), 300)
        self.assertEqual(short, {key: time for key, time in long.items() if time <= 2.0})
        self.assertAlmostEqual(len(short), 200, delta=40)

    def test_frames_made_without_a_file_are_not_taken_for_those_with_it(self):
        body = prop("body", kind="mesh", file={"content": "7" * 32, "name": "late.glb"})
        effect, store = with_props(body, one=emitter(births__place=on("body"), **STILL)), FrameStore()

        def nothing(content: str) -> Any:
            raise GeometryProblem("not here")

        self.assertEqual(len(Playing(effect, store, nothing).frames(10)[0].population), 0)
        self.assertGreater(len(Playing(effect, store, lambda content: shape("sphere")).frames(10)[0].population), 5)

    def test_a_sequence_of_pictures_gives_each_birth_the_picture_of_its_moment(self):
        left, right = np.zeros((8, 8)), np.zeros((8, 8))
        left[:, :4], right[:, 4:] = 1, 1
        pictures = {"a" * 32: left, "b" * 32: right}
        files = [{"content": key, "name": "n.png"} for key in pictures]
        plate = prop("plate", kind="picture", files=[files[0]])
        by = prop("by", kind="picture", files=files, loops=False)

        def content(key: str) -> Picture:
            return Picture(np.repeat(pictures[key][:, :, None], 4, 2).astype(np.float32))

        one = emitter(births__rate=row(2000.0), births__place=on("plate", density={"picture": "by"}), **STILL)
        population = Playing(with_props(plate, by, one=one), content=content).frames(4)[0].population
        first = population.birth_time < 1 / 25 - 1e-6
        x = population.position[0]
        self.assertTrue((x[first] < 0.2).all() and (x[~first] > -0.2).all())
        self.assertGreater(min(first.sum(), (~first).sum()), 30)


class Pasted(unittest.TestCase):
    def test_copies_of_an_effect_with_masks_read_back_as_they_were(self):
        from kagero.core.document import write_effect

        one = with_(
            emitter(births__place=on("ball", density={"picture": "map"})),
            births__keep=row(0.5, response("k", {"kind": "mask", "mask": "m"}, STRAIGHT, read="once")),
        )
        effect = with_props(*PROPS, one=one)
        self.assertEqual(read_effect(write_effect(effect).encode()), effect)
