"""Copying never shares or loses a uid; older documents open; the table and one life say what the particles have."""

from __future__ import annotations

import itertools
import json
import re
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from demo.lantern_ferry import effects
from kagero.core.catalog import (
    Scope,
    all_rows,
    check_effect,
    copy_emitter,
    copy_prop,
    copy_responses,
    copy_row,
    paste,
    paste_emitter,
    paste_prop,
)
from kagero.core.document import SCHEMA_VERSION, read_effect
from kagero.core.errors import EffectError, KageroError, LinkProblem, RequestError
from kagero.core.workflows import Filter, Particles, Playing, TableRequest
from tests.making import document, emitter, playing, response, row
from tests.making.formulas import formula
from tests.making.runs import rich

SAMPLES = Path(__file__).parents[1] / "samples"


numbers = itertools.count()


def counter() -> Any:
    return lambda: f"fresh-{next(numbers)}"


def uids(data: Any) -> list[str]:
    if isinstance(data, dict):
        mine = [data["uid"]] if isinstance(data.get("uid"), str) else []
        return mine + [uid for value in data.values() for uid in uids(value)]
    return [uid for value in data for uid in uids(value)] if isinstance(data, list) else []


def told_by_names(effect: Any, prop: Any) -> str:
    """Return all that a prop says but its uid and name, each other prop by its name instead of its uid."""
    names = {each.uid: each.name for each in effect.props}
    data = json.dumps(prop.model_dump(mode="json", exclude={"uid", "name"}), sort_keys=True)
    return re.sub(r'"([^"]*)"', lambda found: f'"{names.get(found[1], found[1])}"', data)


class Pieces(unittest.TestCase):
    def setUp(self):
        self.effect = read_effect(
            document(rich(), emitter("two", draws=[{"uid": "t1", "name": "flicker", "kind": "uniform"}]))
        )
        self.other = read_effect(document(emitter("one")))

    def all_sound(self, effect: Any) -> None:
        found = uids(effect.model_dump(mode="json"))
        self.assertEqual(len(found), len(set(found)), "a uid is shared")
        self.assertEqual(check_effect(effect), [])
        Playing(effect).show(10)

    def test_every_row_of_a_rich_emitter_goes_to_another_effect(self):
        for placed in all_rows(Scope(self.effect.emitters[0])):
            for target in ("look.size", "births.launch.speed"):
                piece = copy_row(self.effect, self.effect.emitters[0], placed.address)
                try:
                    changed, new = paste(self.other, "one", target, json.loads(json.dumps(piece)), counter())
                except (
                    EffectError
                ) as problem:  # what cannot be read there is refused in words, and nothing is half done
                    self.assertTrue(problem.findings[0].message)
                    continue
                self.assertEqual(len(new), len(placed.row.responses))
                self.all_sound(changed)
        self.assertEqual(self.other, read_effect(document(emitter("one"))))

    def test_draws_go_along_once_and_are_shared_with_what_is_the_same_there(self):
        piece = copy_responses(self.effect, self.effect.emitters[0], ["s-draw", "g-size"])
        changed, new = paste(self.other, "one", "look.opacity", piece, counter())
        self.assertEqual(
            [d.name for d in changed.emitters[0].draws], ["flicker"]
        )  # it had a draw flicker of the same kind
        self.assertEqual(changed.emitters[0].look.opacity.responses[0].source.draw, "d1")
        self.assertEqual([r.uid for r in changed.emitters[0].look.opacity.responses], new)
        haste = copy_responses(self.effect, self.effect.emitters[0], ["o-haste"])
        changed, _ = paste(changed, "one", "look.opacity", haste, counter())
        repeated, _ = paste(changed, "one", "look.size", haste, counter())
        self.assertEqual([d.name for d in repeated.emitters[0].draws], ["flicker", "haste"])
        self.all_sound(repeated)

    def test_moving_takes_away_and_keeps_the_order(self):
        piece = copy_responses(self.effect, self.effect.emitters[0], ["s-life"])
        changed, new = paste(self.effect, "rich", "look.opacity", piece, counter(), at=0, move=["s-life"])
        look = changed.emitters[0].look
        self.assertEqual([r.uid for r in look.size.responses], ["s-draw"])
        self.assertEqual(look.opacity.responses[0].uid, new[0])
        self.all_sound(changed)

    def test_a_setting_that_is_a_number_becomes_a_row(self):
        piece = copy_responses(self.effect, self.effect.emitters[0], ["s-draw"])
        changed, _ = paste(self.effect, "rich", "responses.s-life.exponent", piece, counter())
        self.assertEqual(len(changed.emitters[0].look.size.responses[0].exponent.responses), 1)
        self.all_sound(changed)

    def test_emitters_are_duplicated_and_go_to_other_effects_with_all_they_refer_to(self):
        piece = copy_emitter(self.effect, self.effect.emitters[0])
        for target in (self.effect, self.other):
            changed, uid = paste_emitter(target, json.loads(json.dumps(piece)), counter())
            self.assertEqual(changed.emitters[-1].uid, uid)
            self.assertEqual(len(changed.emitters), len(target.emitters) + 1)
            self.assertEqual(len({e.name for e in changed.emitters}), len(changed.emitters))
            self.all_sound(changed)
        twin, _ = paste_emitter(self.effect, piece, counter())
        a, b = (Playing(twin).runs[i] for i in (0, -1))
        self.assertEqual(a.schedule.times.tobytes(), b.schedule.times.tobytes())  # as many, at the same times
        self.assertNotEqual(
            a.frame(1).population.position[0].tobytes(), b.frame(1).population.position[0].tobytes()
        )  # but its own choices

    @given(
        st.recursive(
            st.none() | st.integers() | st.text(max_size=6),
            lambda c: (
                st.lists(c, max_size=3)
                | st.dictionaries(
                    st.sampled_from(["kind", "format", "responses", "row", "emitter", "uid", "base", "draws"]),
                    c,
                    max_size=5,
                )
            ),
            max_leaves=12,
        ),
        st.sampled_from(["responses", "row", "emitter"]),
    )
    def test_whatever_the_clipboard_holds_nothing_but_a_clear_refusal_comes_of_it(self, junk, kind):
        piece = {
            "format": "kagero-piece",
            "kind": kind,
            **(junk if isinstance(junk, dict) else {"responses": junk, "row": junk, "emitter": junk}),
        }
        for act in (
            lambda: paste(self.other, "one", "look.size", piece, counter()),
            lambda: paste_emitter(self.other, piece, counter()),
        ):
            try:
                result, _ = act()
                self.assertEqual(check_effect(result), [])
            except KageroError as problem:
                self.assertTrue(problem.findings)

    def test_formulas_bring_their_draws_attributes_and_dials_under_names_that_are_free(self):
        dials = [{"uid": "h", "name": "Height", "value": 2.0, "low": 0, "high": 4, "default": 2}]
        text = "dials.height * (0.05 + 0.1 * draws.haste) + 0 * own.tint.x"
        one = emitter(
            draws=[{"uid": "d9", "name": "Haste", "kind": "uniform"}],
            own=[{"uid": "o9", "name": "tint", "kind": "vector"}],
            look__size=formula(text),
        )
        source = read_effect({**document(one), "dials": dials})
        two = emitter(draws=[{"uid": "x", "name": "haste", "kind": "sign"}])
        target = read_effect({**document(two), "dials": [{**dials[0], "uid": "other", "value": 1.0}]})
        piece = json.loads(json.dumps(copy_row(source, source.emitters[0], "look.size")))
        changed, _ = paste(target, "one", "look.size", piece, counter())
        self.all_sound(changed)
        self.assertEqual(
            changed.emitters[0].look.size.base.source.text,
            "dials.height_2 * (0.05 + 0.1 * draws.haste_2) + 0 * own.tint.x",
        )
        self.assertEqual([d.name for d in changed.dials], ["Height", "Height 2"])
        repeated, _ = paste(changed, "one", "look.opacity", piece, counter())
        self.assertEqual(len(repeated.dials), 2)  # a dial that is there already is not brought twice
        whole, _ = paste_emitter(target, copy_emitter(source, source.emitters[0]), counter())
        self.all_sound(whole)
        self.assertIn("dials.height_2", whole.emitters[1].look.size.base.source.text)

    def test_every_prop_of_the_demo_is_duplicated_and_goes_to_another_effect_with_what_it_reads(self):
        for effect in effects().values():
            for prop in effect.props:
                piece = json.loads(json.dumps(copy_prop(effect, prop.uid)))
                twice, uid = paste_prop(effect, piece, counter())
                at = [each.uid for each in effect.props].index(prop.uid)
                self.assertEqual([each.uid for each in twice.props][at : at + 2], [prop.uid, uid])
                self.assertEqual(len(twice.props), len(effect.props) + 1)
                self.assertNotEqual(twice.props[at + 1].name, prop.name)
                there, new = paste_prop(self.other, piece, counter())
                self.all_sound(there)
                if '"uid"' not in prop.model_dump_json(exclude={"uid"}) and '"dial"' not in prop.model_dump_json():
                    self.assertEqual(told_by_names(effect, prop), told_by_names(there, there.props[-1]))
                self.assertEqual(there.props[-1].uid, new)
        with self.assertRaises(LinkProblem):
            copy_prop(self.effect, "nowhere")

    def test_what_is_not_there_is_named(self):
        with self.assertRaises(LinkProblem):
            copy_responses(self.other, self.other.emitters[0], ["nobody"])
        with self.assertRaises(LinkProblem):
            paste(
                self.other, "one", "look.nothing", copy_row(self.other, self.other.emitters[0], "look.size"), counter()
            )
        with self.assertRaises(RequestError):
            paste(self.other, "one", "look.size", {"format": "other"}, counter())


class Upgrade(unittest.TestCase):
    def test_the_schema_before_this_one_opens_unchanged_but_for_its_number(self):
        before = {**document(), "schema_version": 2}
        self.assertEqual(read_effect(before), read_effect(document()))
        self.assertEqual(before["schema_version"], 2)

    def test_an_effect_of_the_previous_schema_opens_and_plays_as_it_was_meant(self):
        text = (SAMPLES / "embers-schema-1.json").read_bytes()
        before = json.loads(text)
        effect = read_effect(text)
        self.assertEqual((before["schema_version"], effect.schema_version), (1, SCHEMA_VERSION))
        today = effects()["lantern-embers"].emitters[0].model_copy(update={"also": [], "light": None})
        self.assertEqual(
            effect.emitters[0], today
        )  # today's demo is the same effect, but for the trails behind and the light
        unchanged = json.loads(text)
        read_effect(unchanged)
        self.assertEqual(unchanged, before)


class TableAndOneLife(unittest.TestCase):
    def setUp(self):
        self.clip = playing(rich())
        self.particles = Particles(self.clip, "rich")

    def test_sorting_filtering_and_pages(self):
        whole = self.particles.table(30, TableRequest(count=500))
        keys = [column["key"] for column in whole["columns"]]
        speed = keys.index("speed") + 2
        self.assertEqual(whole["total"], len(self.clip.frames(30)[0].population))
        sorted_ = self.particles.table(30, TableRequest("speed", True, count=500))["rows"]
        self.assertEqual(
            [line[0] for line in sorted_], [line[0] for line in sorted(whole["rows"], key=lambda line: -line[speed])]
        )
        page = self.particles.table(30, TableRequest("speed", True, first=7, count=5))["rows"]
        self.assertEqual(page, sorted_[7:12])
        middle = sorted_[len(sorted_) // 2][speed]
        kept = self.particles.table(30, TableRequest("speed", filters=(Filter("speed", low=middle),), count=500))
        self.assertEqual(kept["matching"], sum(line[speed] >= middle for line in whole["rows"]))
        for wish in (TableRequest("nothing"), TableRequest(count=10_000), TableRequest(first=-1)):
            with self.assertRaises(RequestError):
                self.particles.table(30, wish)

    def test_one_life_runs_from_birth_to_end_with_the_tables_values(self):
        key = self.particles.key_at(30, 12)
        life = self.particles.one_life(30, key)
        frames = life["frames"]
        self.assertEqual(frames, list(range(frames[0], frames[-1] + 1)))
        for number in (frames[0], 30, frames[-1]):
            self.assertIn(key, self.clip.frames(number)[0].population.key)
        self.assertNotIn(key, self.clip.frames(frames[0] - 1)[0].population.key)
        self.assertNotIn(key, self.clip.frames(frames[-1] + 1)[0].population.key)
        at = frames.index(30)
        table = self.particles.table(30, TableRequest(count=500))
        line = next(line for line in table["rows"] if line[0] == str(key))
        for i, column in enumerate(life["columns"]):
            self.assertAlmostEqual(
                column["values"][at], line[i + 2], delta=1e-4 * max(1, abs(line[i + 2])), msg=column["key"]
            )
        np.testing.assert_allclose(np.diff(life["age"]), 1 / 25, atol=1e-5)

    def test_who_is_not_there_is_said(self):
        with self.assertRaises(RequestError):
            self.particles.one_life(30, 2**63 + 5)
        with self.assertRaises(RequestError):
            self.particles.key_at(30, 10**6)
        with self.assertRaises(RequestError):
            Particles(self.clip, "nobody")

    def test_ranges_over_the_clip_do_not_hang_on_what_was_played_already(self):
        one = emitter(
            births__launch__speed=row(
                1.0, response("s", "clip_time", [(0, 0), (1, 1)], input=(0, 2), output=(1, 4), read="once")
            )
        )
        early, late = Particles(playing(one), "one"), Particles(playing(one), "one")
        for number in range(51):
            late.run.frame(number)
        collected = [
            {each["key"]: each["clip"] for each in particles.sources(3, "look.size")} for particles in (early, late)
        ]
        self.assertEqual(*collected)
        self.assertGreater(collected[0]["speed"][2], 3.5)

    def test_the_list_of_sources_tells_live_ranges(self):
        listed = {choice["key"]: choice for choice in self.particles.sources(30, "look.size")}
        speed = np.linalg.norm(np.stack(self.clip.frames(30)[0].population.velocity, 1), axis=1)
        np.testing.assert_allclose(listed["speed"]["now"], [speed.min(), speed.mean(), speed.max()], rtol=1e-4)
        self.assertEqual(listed["draw.d1"]["input"], (0.0, 1.0))
        with self.assertRaises(RequestError):
            self.particles.sources(30, "look.nothing")
