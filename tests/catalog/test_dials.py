"""Dials: made from any number, renamed with their formulas, taken away, and tried at their ends."""

from __future__ import annotations

import contextlib
import itertools
import json
import unittest

import numpy as np

from kagero.core.catalog import Scope, all_rows, check_effect, copy_axis, delete_dial, dial_uses, make_dial, rename
from kagero.core.catalog.axes import swapped_axes
from kagero.core.document import read_effect
from kagero.core.engine import REFERENCE, use_engine
from kagero.core.errors import LinkProblem, RequestError, SchemaProblem
from kagero.core.plan.keys import structure_key
from kagero.core.rows.responses import SourcedBase
from kagero.core.staging import PropPlaces
from kagero.core.workflows import Particles, Playing, try_dial, with_dials
from tests.making import STRAIGHT, document, emitter, response, row
from tests.making.dials import dial
from tests.making.formulas import formula
from tests.making.runs import rich
from tests.soak import SOAK


def counter():
    numbers = itertools.count(1)
    return lambda: f"new-{next(numbers)}"


def effect_with(one, *dials):
    return read_effect({**document(one), "dials": list(dials)})


def picture(effect, number=25):
    shown = Playing(effect).show(number)[0]
    return np.concatenate(
        [shown.positions().ravel(), shown.column("size"), shown.column("opacity"), shown.column("colour").ravel()]
    )


class Making(unittest.TestCase):
    @use_engine(REFERENCE)
    def test_from_every_number_in_every_way_without_changing_the_picture(self):
        with use_engine(REFERENCE):  # that engines agree is tested elsewhere
            self.every_number()

    def every_number(self):
        effect = read_effect(document(rich()))
        before = picture(effect, 4)
        made_any = 0
        for index, placed in enumerate(all_rows(Scope(effect.emitters[0], effect))):
            if isinstance(placed.row.base, SourcedBase):
                continue
            if not SOAK and index // 3 % 4:
                continue
            for how in (("sets", "multiplies", "limits")[index % 3],):
                component = 1 if placed.spec.kind == "vector" else None
                if placed.spec.kind == "colour" and how != "multiplies":
                    with self.assertRaises(RequestError):
                        make_dial(effect, effect.emitters[0].uid, placed.address, how, counter())
                    continue
                changed, uid = make_dial(effect, effect.emitters[0].uid, placed.address, how, counter(), component)
                self.assertEqual(check_effect(changed), [])
                uses = dial_uses(changed, uid)
                self.assertEqual([(use.address, use.how) for use in uses], [(placed.address, how)])
                limited = how == "limits" and (placed.row.responses or placed.spec.kind == "vector")
                if not limited:  # a limit at the base may well hold down what responses make of it
                    np.testing.assert_allclose(
                        picture(changed, 4), before, rtol=1e-5, atol=1e-6, err_msg=f"{placed.address} {how}"
                    )
                made_any += 1
        self.assertGreater(made_any, 60 if SOAK else 12)

    def test_from_a_props_number(self):
        effect = read_effect(
            {**document(emitter()), "props": [{"kind": "shape", "uid": "bell", "name": "Bell", "shape": "sphere"}]}
        )
        changed, uid = make_dial(effect, "bell", "place.position", "sets", counter(), 1)
        self.assertEqual(
            [(u.emitter_name, u.label, u.how) for u in dial_uses(changed, uid)], [("Bell", "Position", "sets")]
        )
        self.assertAlmostEqual(
            PropPlaces(with_dials(changed, {uid: 2}), Playing(with_dials(changed, {uid: 2})).plan).places(0)["bell"][
                1, 3
            ],
            2,
        )
        self.assertEqual(delete_dial(changed, uid).props[0].position.responses, [])

    def test_a_mask_by_a_formula_reads_a_dial_that_is_renamed_and_taken_away(self):
        field = {"kind": "mask", "uid": "m", "name": "Field", "shape": "formula", "formula": "position.x * dials.reach"}
        dial = {"uid": "r", "name": "Reach", "value": 2, "low": 0, "high": 4, "default": 1}
        effect = read_effect({**document(emitter()), "props": [field], "dials": [dial]})
        self.assertEqual(
            [(u.emitter_name, u.how) for u in dial_uses(effect, "r")], [("Field", "is read by the formula of")]
        )
        renamed = rename(effect, "dial", "r", "Far reach")
        self.assertEqual(renamed.props[0].formula, "position.x * dials.far_reach")
        Playing(renamed).frames(3)
        self.assertEqual(delete_dial(renamed, "r").props[0].formula, "position.x * 2.0")

    def test_a_multiplier_multiplies_and_a_limit_limits(self):
        effect = effect_with(emitter(look__size=row(0.2)))
        twice, uid = make_dial(effect, "one", "look.size", "multiplies", counter())
        np.testing.assert_allclose(Playing(with_dials(twice, {uid: 1.5})).show(20)[0].column("size"), 0.3, rtol=1e-6)
        self.assertEqual([(d.unit, d.low, d.high) for d in twice.dials], [("×", 0, 2)])
        held, uid = make_dial(effect, "one", "look.size", "limits", counter())
        for value, wanted in ((0.05, 0.05), (0.4, 0.2)):
            np.testing.assert_allclose(
                Playing(with_dials(held, {uid: value})).show(20)[0].column("size"), wanted, rtol=1e-6
            )
        self.assertEqual([(d.name, d.unit, d.value, d.low, d.high) for d in held.dials], [("Size", "m", 0.2, 0, 0.4)])

    def test_the_list_of_sources_shows_dials_and_props_that_nothing_reads_and_disturbs_no_plan(self):
        for value in (1.0, 1.5):  # the same structure, filled in anew after somebody looked at its columns
            bell = {"kind": "shape", "uid": "bell", "name": "Bell", "shape": "sphere", "position": row([1, 2, 3])}
            effect = read_effect({**document(emitter()), "dials": [dial(value=value)], "props": [bell]})
            listed = {c["key"]: c["now"] for c in Particles(Playing(effect), "one").sources(20, "look.size")}
            self.assertEqual(listed["dial.h"], [value] * 3)
            self.assertEqual(listed["prop.bell.y"], [2, 2, 2])

    def test_turning_is_held_between_the_ends_and_changes_nothing_else(self):
        effect = effect_with(emitter(), dial(), dial("w", "Width"))
        turned_one = with_dials(effect, {"h": 99, "gone": 1})
        self.assertEqual([d.value for d in turned_one.dials], [2, 1])
        self.assertEqual([d.value for d in effect.dials], [1, 1])

    def test_bad_dials_are_refused_with_their_place(self):
        for wrong in (dial(low=2, high=1), dial(value=5), dial(unit="parsec"), {**dial(), "colour": 1}):
            with self.assertRaises(SchemaProblem) as caught:
                effect_with(emitter(), wrong)
            self.assertTrue(caught.exception.findings[0].where.startswith("dials.0"), caught.exception.findings[0])
        with self.assertRaises(LinkProblem):
            make_dial(effect_with(emitter()), "one", "look.weight", "sets", counter())
        self.assertEqual([f.where for f in check_effect(effect_with(emitter(), dial(), dial()))], ["dials"])
        gone = {"kind": "dial", "dial": "gone"}
        findings = check_effect(
            read_effect(document(emitter(look__size={"base": {"source": gone, "read": "live"}, "responses": []})))
        )
        self.assertIn("a dial that is not there", findings[0].message)


class Renaming(unittest.TestCase):
    def effect(self):
        one = emitter(
            look__size=formula("dials.height * draws.flicker + own.place_at.x # dials.height", uid="a"),
            births__rate=formula("40 * dials . height", uid="b"),
            own=[{"uid": "o", "name": "Place at", "kind": "vector"}],
        )
        return effect_with(one, dial(), dial("w", "Width"))

    def test_formulas_follow_a_dial_a_draw_and_an_attribute(self):
        effect = self.effect()
        before = picture(effect)
        effect = rename(effect, "dial", "h", "How high?")
        effect = rename(effect, "draw", "d1", "Wind 2", "one")
        effect = rename(effect, "own", "o", "Äußeres", "one")
        self.assertEqual(
            effect.emitters[0].look.size.base.source.text, "dials.how_high * draws.wind_2 + own.u_eres.x # dials.height"
        )
        self.assertEqual(effect.emitters[0].births.rate.base.source.text, "40 * dials.how_high")
        np.testing.assert_array_equal(picture(effect), before)

    def test_two_things_of_one_name_are_refused_where_formulas_read_them(self):
        with self.assertRaises(LinkProblem):
            rename(self.effect(), "dial", "h", "width")
        self.assertEqual(rename(self.effect(), "dial", "w", "Wide").dials[1].name, "Wide")
        doubled = effect_with(emitter(look__size=formula("dials.height")), dial(), dial("k", "HEIGHT"))
        self.assertIn("Two things are called dials.height", check_effect(doubled)[0].message)

    def test_taking_away_leaves_the_picture_where_bases_and_formulas_read_it(self):
        effect = self.effect()
        effect = with_dials(effect, {"h": 0.5})
        without = delete_dial(effect, "h")
        self.assertEqual([d.uid for d in without.dials], ["w"])
        np.testing.assert_array_equal(picture(without), picture(effect))
        nested, uid = make_dial(
            effect_with(emitter(look__size=row(0.2, response("r", "life", [(0, 0.5), (1, 1)])))),
            "one",
            "responses.r.high",
            "sets",
            counter(),
        )
        np.testing.assert_array_equal(picture(delete_dial(nested, uid)), picture(nested))
        self.assertNotIn(uid, json.dumps(delete_dial(nested, uid).model_dump()))


class Trying(unittest.TestCase):
    def try_one(self, one, **more):
        return try_dial(effect_with(one, dial(**more)), "h", 32, 18)

    def test_ends_and_middle_are_played_and_drawn(self):
        trial = self.try_one(emitter(look__size=formula("0.1 * dials.height + 0.05")))
        self.assertEqual([t.value for t in trial.tried], [0, 1, 2])
        self.assertTrue(all(t.picture.startswith(b"\x89PNG") and t.count == 50 for t in trial.tried))
        self.assertEqual(([t.words for t in trial.tried], trial.words), ([""] * 3, ""))

    def test_words_when_nothing_changes_or_something_breaks(self):
        self.assertIn("Nothing changes", self.try_one(emitter()).words)
        self.assertIn(
            "from the middle", self.try_one(emitter(look__size=formula("min(dials.height, 1) * 0.1 + 0.1"))).words
        )
        gone = self.try_one(emitter(births__rate=formula("50 * dials.height")))
        self.assertEqual([t.words for t in gone.tried], ["Nobody is alive.", "", ""])
        hidden = self.try_one(emitter(look__opacity=formula("dials.height / 2")))
        self.assertEqual(hidden.tried[0].words, "Nobody can be seen.")
        broken = self.try_one(emitter(look__size=formula("0.1 / dials.height")))
        self.assertIn("not finite", broken.tried[0].words)
        many = document(emitter(births__rate=formula("dials.height * 400000")), last_frame=400)
        heavy = try_dial(read_effect({**many, "dials": [dial()]}), "h", 32, 18)
        self.assertIn("Cannot be played", heavy.tried[2].words)
        self.assertEqual((heavy.tried[2].picture, heavy.words), (None, "Something breaks within its range."))


class Keyed(unittest.TestCase):
    """A dial that is keyed over the clip is what its keys say, read by rows, formulas, props and masks alike."""

    KEYS = [
        {"time": 0.4, "value": 0.5, "shape": "linear"},
        {"time": 1.2, "value": 2.0, "shape": "hold"},
        {"time": 1.6, "value": 1.0},
    ]

    def expected(self, time):
        return 2.0 if 1.2 <= time < 1.6 else float(np.interp(time, [0.4, 1.2, 1.6], [0.5, 2.0, 1.0]))

    def test_rows_and_formulas_read_it_at_every_frame_on_both_engines(self):
        read = row({"source": {"kind": "dial", "dial": "h"}, "read": "live"})
        one = emitter(
            look__size=read,
            look__opacity=row({"source": {"kind": "formula", "uid": "f", "text": "dials.height / 4"}, "read": "live"}),
        )
        for engine in (None, REFERENCE):
            with use_engine(engine) if engine else contextlib.nullcontext():
                clip = Playing(effect_with(one, dial(keys=self.KEYS)))
                for number in (0, 10, 20, 29, 30, 39, 40, 50):
                    shown = clip.show(number)[0]
                    if len(shown.column("size")):
                        np.testing.assert_allclose(shown.column("size"), self.expected(number / 25), atol=1e-5)
                        np.testing.assert_allclose(shown.column("opacity"), self.expected(number / 25) / 4, atol=1e-5)

    def test_a_prop_is_where_its_dial_is_at_that_time(self):
        rise = response(
            "r", {"kind": "dial", "dial": "h"}, STRAIGHT, input=(0, 2), output=(0, 2), operation="set", shape="linear"
        ) | {"component": "y"}
        prop = {"kind": "shape", "uid": "p", "name": "p", "shape": "box", "position": row([0.0, 0.0, 0.0], rise)}
        for keys, heights in ((self.KEYS, [self.expected(t) for t in (0.0, 0.8, 1.3, 2.0)]), ([], [1.0] * 4)):
            effect = read_effect({**document(emitter()), "dials": [dial(keys=keys)], "props": [prop]})
            places = PropPlaces(effect, Playing(effect).plan).matrices("p", np.array([0.0, 0.8, 1.3, 2.0]))
            np.testing.assert_allclose(np.broadcast_to(places[:, 1, 3], 4), heights, atol=1e-5)

    def test_keys_are_values_and_being_keyed_is_structure(self):
        one = emitter(look__size=row({"source": {"kind": "dial", "dial": "h"}, "read": "live"}))
        still, keyed = effect_with(one, dial()), effect_with(one, dial(keys=self.KEYS))
        other = effect_with(one, dial(keys=self.KEYS[:2]))
        self.assertNotEqual(structure_key(still, still.emitters[0]), structure_key(keyed, keyed.emitters[0]))
        self.assertEqual(structure_key(keyed, keyed.emitters[0]), structure_key(other, other.emitters[0]))

    def test_turning_it_for_a_trial_holds_it_all_through_the_clip(self):
        effect = with_dials(
            effect_with(emitter(), dial(keys=self.KEYS), dial("k", "Kept", keys=self.KEYS)), {"h": 0.25}
        )
        self.assertEqual([(d.value, len(d.keys)) for d in effect.dials], [(0.25, 0), (1.0, 3)])

    def test_bad_keys_are_refused_with_their_place(self):
        for keys, words in (
            ([{"time": 1, "value": 1}, {"time": 1, "value": 0.5}], "in order of time"),
            ([{"time": 0, "value": 3}], "between its ends"),
        ):
            with self.assertRaises(SchemaProblem) as caught:
                effect_with(emitter(), dial(keys=keys))
            self.assertIn(words, caught.exception.findings[0].message)
            self.assertEqual(caught.exception.findings[0].where, "dials.0")

    def test_settings_forget_a_dial_that_is_taken_away(self):
        effect = read_effect(
            {
                **document(emitter()),
                "dials": [dial(), dial("k", "Kept")],
                "settings": [{"uid": "s", "name": "Dusk", "values": {"h": 0.2, "k": 0.3}}],
            }
        )
        self.assertEqual(delete_dial(effect, "h").settings[0].values, {"k": 0.3})


class Axes(unittest.TestCase):
    """What drives x is given to y: the same motion, turned."""

    def test_the_wave_along_x_runs_along_y(self):
        wave = {"uid": "w", "text": "sin(position.x * 3) # not position.x\n", "kind": "formula", "draft": ""}
        along = response("r", wave, STRAIGHT, input=(-1, 1), output=(-0.5, 0.5), operation="add", shape="linear") | {
            "component": "x"
        }
        pushed = {"kind": "wind", "uid": "w1", "velocity": row([0.25, 7.0, 0.0], along), "coupling": row(0.5)}
        one = emitter(forces=[pushed], births__launch__direction=row([1.0, 0.0, 0.0]))
        effect, new_uid = read_effect(document(one)), counter()
        changed = copy_axis(effect, "one", "forces.w1.velocity", "x", "y", new_uid)
        velocity = changed.emitters[0].forces[0].velocity
        self.assertEqual((velocity.base, [r.component for r in velocity.responses]), ((0.25, 0.25, 0.0), ["x", "y"]))
        self.assertEqual(velocity.responses[1].source.text, "sin(position.y * 3) # not position.x\n")
        self.assertEqual(len({r.uid for r in velocity.responses} | {r.source.uid for r in velocity.responses}), 4)
        # once more: in place of its own, not beside them; and there and back is what it was
        repeated = copy_axis(changed, "one", "forces.w1.velocity", "x", "y", new_uid)
        self.assertEqual(len(repeated.emitters[0].forces[0].velocity.responses), 2)
        back = copy_axis(repeated, "one", "forces.w1.velocity", "y", "x", new_uid).emitters[0].forces[0].velocity
        self.assertEqual({r.component: r.source.text for r in back.responses}["x"], wave["text"])

    def test_what_has_no_axes_is_refused(self):
        effect = read_effect(document(emitter()))
        for address in ("look.size", "nowhere"):
            with self.assertRaises(RequestError):
                copy_axis(effect, "one", address, "x", "y", counter())
        self.assertEqual(
            swapped_axes("vec3(a.x, a.y, b.xy) - position.x", "x", "y"), "vec3(a.y, a.x, b.xy) - position.y"
        )
