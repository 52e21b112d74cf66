"""The sheet as the core lays it out: all that it says can be done, can be done, over every effect of the demo and a
rich one."""

from __future__ import annotations

import copy
import json
import re
import unittest
from typing import Any

from demo.lantern_ferry import effects
from kagero.core.catalog import check_effect, layout, rename
from kagero.core.document import Effect, read_effect, upgrade
from kagero.core.parts.contacts import CONTACTS
from kagero.core.parts.cues import CUES
from kagero.core.parts.finish import FINISH
from kagero.core.parts.looks import LOOKS
from kagero.core.parts.masks import MASKS
from kagero.core.parts.props import PROPS
from kagero.core.parts.pushes import PUSHES
from kagero.core.parts.rides import RIDES
from kagero.core.parts.shapings import SHAPINGS
from kagero.core.rows.model import fields_of
from kagero.core.rows.responses import ROWS
from tests.making import STRAIGHT, document, emitter, response, row, with_
from tests.making.births import from_particles, mask, on
from tests.making.props import prop
from tests.soak import SOAK, Once


def rich() -> Effect:
    within = response("r-mask", {"kind": "mask", "mask": "m"}, STRAIGHT, shape="linear")
    one = emitter(
        "one",
        births__place=on("ball"),
        births__launch={"aim": "normal", "cone": row(0.1), "speed": row(1.0)},
        look__size=row(0.1, within),
        forces=[{"kind": "drag", "uid": "d", "rate": row(1.0, {**within, "uid": "r-region"})}],
        muted_sources=["props.ball.y"],
    )
    follows = prop("hat", follow={"prop": "ball", "at": "place"})
    return read_effect(
        {
            **upgrade(document(one, from_particles("two", "one", row(3.0)))),
            "props": [prop("ball"), follows, mask("m"), mask("n", "mesh", of="ball")],
        }
    )


EVERY = {**effects(), "rich": rich()}


def plain(effect: Effect) -> dict[str, Any]:
    return effect.model_dump(mode="json")


def thing_in(body: dict[str, Any], uid: str) -> Any:
    return next(each for each in (*body["emitters"], *body["props"]) if each["uid"] == uid)


def put(thing: Any, path: list[Any], value: Any, append: bool = False) -> None:
    """Put a value at a path of a layout, in which "#uid" is an item of a list."""
    if not path:
        thing.clear()
        thing.update(value)
        return
    for step in path[:-1]:
        thing = next(each for each in thing if each["uid"] == step[1:]) if str(step).startswith("#") else thing[step]
    last: Any = path[-1]
    if str(last).startswith("#"):
        last = next(i for i, each in enumerate(thing) if each["uid"] == last[1:])
    if append:
        thing[last].append(value)
    else:
        thing[last] = value


def at(thing: Any, path: list[Any]) -> Any:
    for step in path:
        thing = next(each for each in thing if each["uid"] == step[1:]) if str(step).startswith("#") else thing[step]
    return thing


def with_uids(value: Any) -> Any:
    """Return an addition with uids of its own, as the interface gives them."""
    return json.loads(json.dumps(value).replace('"uid": "new', '"uid": "made'))


class Layout(unittest.TestCase):
    def things(self) -> Any:
        for name, effect in EVERY.items():
            laid = layout(effect)
            for uid, thing in (*laid["emitters"].items(), *laid["props"].items()):
                yield name, effect, uid, thing

    def test_it_is_plain_data(self):
        for effect in EVERY.values():
            laid = layout(effect)
            self.assertEqual(json.loads(json.dumps(laid)), laid)

    def test_every_row_and_field_stands_where_it_is_said_to(self):
        seen = 0
        for name, effect, uid, thing in self.things():
            body = thing_in(plain(effect), uid)
            for laid in thing["rows"]:
                value = at(body, laid["path"])
                self.assertTrue(
                    isinstance(value, (int, float, list)) if laid["plain"] else "base" in value,
                    (name, laid["address"], value),
                )
            for part in thing["parts"].values():
                for field in part["fields"]:
                    value, offered = at(body, field["path"]), field["offered"]
                    seen += 1
                    if offered["kind"] in ("choice", "reference") and value is not None:
                        self.assertIn(value, [o["value"] for o in offered["options"]], (name, field["path"]))
        self.assertGreater(seen, 200)

    def test_whatever_a_band_names_is_laid_out(self):
        """Also what can be there once alone, and what has rows but nothing to choose."""
        whole = emitter(
            "all",
            motion={"near": {}, "space": {}},
            target={},
            ending={},
            passing={},
            leaving={},
            unseen={},
            thinning={"view": True},
            rides=[{"kind": "crawl", "uid": "r"}],
            shaping=[{"kind": "twist", "uid": "t"}],
            retiming={},
            loop={},
        )
        every = {
            **{name: layout(effect) for name, effect in EVERY.items()},
            "whole": layout(read_effect(upgrade(document(whole)))),
        }
        seen = set()
        for name, laid in every.items():
            for thing in laid["emitters"].values():
                rows = {row["address"] for row in thing["rows"]}
                for item in (item for band in thing["bands"] for item in band["items"]):
                    self.assertTrue(
                        item["panel"]
                        or item["part"] in thing["parts"]
                        or item["part"] == "thinning"
                        or item["row"] in rows,
                        (name, item),
                    )
                    seen.add(item["part"])
                for where, part in thing["parts"].items():
                    if part["tag"] and not where.startswith(
                        ("forces.", "rides.", "contacts.", "cues.", "shaping.")
                    ):  # these are added and taken away, not turned into others
                        self.assertIn(part["kind"], [offer["kind"] for offer in part["kinds"]], (name, where))
        self.assertLessEqual({"motion.near", "motion.space", "target", "ending", "passing", "leaving", "unseen"}, seen)

    def test_every_kind_that_is_offered_fits_and_what_does_not_says_why(self):
        result, fresh = 0, Once()
        for name, effect, uid, thing in self.things():
            for where, part in thing["parts"].items():
                for offer in part["kinds"]:
                    if (
                        offer["why"]
                        or offer["kind"] == part["kind"]
                        or not fresh(part["tag"], part["kind"], offer["kind"])
                    ):
                        continue
                    body = plain(effect)
                    for edit in offer["edits"]:
                        put(thing_in(body, uid), edit["path"], copy.deepcopy(edit["value"]))
                    changed = read_effect(body)
                    self.assertEqual(at(thing_in(plain(changed), uid), part["path"])[part["tag"]], offer["kind"])
                    found = [f for f in check_effect(changed) if f.code not in ("link", "range")]
                    self.assertEqual(found, [], (name, where, offer["kind"]))
                    result += 1
        self.assertGreater(result, 100)
        alone = layout(read_effect(upgrade(document())))["emitters"]["one"]["parts"]
        why = {offer["kind"]: offer["why"] for offer in alone["births.place"]["kinds"]}
        self.assertEqual((bool(why["prop"]), bool(why["particles"]), bool(why["disc"])), (True, True, False))
        # with a prop, another emitter and a mask there, every kind can be chosen, and names one of them
        props = [
            prop("ball", shape="sphere"),
            {"uid": "near", "name": "near", "kind": "mask", "shape": "sphere"},
            {"uid": "far", "name": "far", "kind": "mask", "shape": "sphere"},
        ]
        there = layout(read_effect(upgrade({**document(emitter(), emitter("two")), "props": props})))
        parts = [there["emitters"]["one"]["parts"][name] for name in ("births.place", "births.launch")] + [
            there["props"]["near"]["parts"][""]
        ]
        refused = [(offer["kind"], offer["why"]) for part in parts for offer in part["kinds"] if offer["why"]]
        self.assertEqual([kind for kind, _ in refused], ["picture"], refused)  # there is none

    def test_everything_that_can_be_added_is_added(self):
        result, fresh = 0, Once()
        for name, effect in EVERY.items():
            laid = layout(effect)
            adds = [("", add) for add in laid["addable"]]
            adds += [
                (uid, add) for uid, thing in laid["emitters"].items() for band in thing["bands"] for add in band["adds"]
            ]
            for uid, add in adds:
                if add["why"] or not fresh(add["label"], re.sub(r"#[\w-]+", "#", str(add["path"])), bool(uid)):
                    continue
                body = plain(effect)
                put(thing_in(body, uid) if uid else body, add["path"], with_uids(add["value"]), add["append"])
                self.assertEqual(
                    [f for f in check_effect(read_effect(body)) if "name" not in f.message], [], (name, add["label"])
                )
                result += 1
        self.assertGreater(result, 200 if SOAK else 100)

    def test_what_is_added_or_turned_into_another_kind_names_only_what_it_cannot_do_without(self):
        """Among one of everything that can be named, a new mask was seen until the moment that happened to be first,
        and given a picture as its cover."""
        files = [{"content": "0" * 32, "name": "map.png"}]
        props = [
            prop("ball"),
            prop("line", "Line", "path", points=[[0.0, 0, 0], [1.0, 1, 0]]),
            prop("map", "Map", "picture", files=files),
            mask("m"),
            mask("n"),
            prop("eye", "Eye", "camera"),
            prop("lamp", "Lamp", "light"),
        ]
        cue = {"kind": "test", "uid": "c", "name": "cue", "value": row(0.5)}
        one = emitter(
            "one",
            own=[{"uid": "o", "name": "heat", "kind": "number", "memory": True}],
            cues=[cue],
            rides=[{"kind": "path", "uid": "r", "prop": "line"}],
        )
        moments = [{"uid": "gather", "name": "Gather", "frame": 3}]
        effect = read_effect({**upgrade(document(one, emitter("two"))), "props": props, "moments": moments})
        laid, seen = layout(effect), 0
        values = [(add["label"], add["value"]) for add in laid["addable"] if add["value"]]
        values += [
            (add["label"], add["value"])
            for thing in laid["emitters"].values()
            for band in thing["bands"]
            for add in band["adds"]
            if add["value"]
        ]
        named = [each.uid for each in (*effect.props, *effect.moments, *effect.emitters)] + ["o", "c", "r"]
        for union in (PROPS, MASKS, RIDES, PUSHES, CUES, CONTACTS, SHAPINGS, LOOKS, FINISH):
            free = {
                facts.name
                for kind in union.classes()
                for facts in fields_of(kind)
                if facts.refers is not None and not facts.must_name
            }
            kinds = union.kinds
            for label, value in values:
                kind = kinds.get(value.get(union.tag, "")) if isinstance(value, dict) else None
                for name in free & set(value if kind is not None else ()):
                    seen += 1
                    given = value[name] if isinstance(value[name], list) else [value[name]]
                    self.assertFalse(set(map(str, given)) & set(named), (label, name, value[name]))
        for uid, thing in (*laid["emitters"].items(), *laid["props"].items()):
            for where, part in thing["parts"].items():
                for offer in part["kinds"]:
                    for edit in offer["edits"]:
                        if isinstance(edit["value"], dict) and offer["kind"] != part["kind"]:
                            for name in (
                                "seen_from",
                                "seen_until",
                                "covering",
                                "glow_by",
                                "laid_by",
                                "motion",
                                "mixed",
                                "cut_by",
                                "latch",
                                "own",
                            ):
                                self.assertFalse(edit["value"].get(name), (uid, where, offer["kind"], name))
        self.assertGreater(seen, 80)

    def test_what_takes_no_part_is_said(self):
        rows = {each["address"]: each["unused"] for each in layout(rich())["emitters"]["one"]["rows"]}
        self.assertEqual((rows["births.begins"], rows["births.rate"]), (True, False))
        timed = {**plain(rich())}
        timed["emitters"][0]["births"]["when"], timed["emitters"][0]["births"]["duration"] = "each", 1.0
        rows = {each["address"]: each["unused"] for each in layout(read_effect(timed))["emitters"]["one"]["rows"]}
        self.assertFalse(rows["births.begins"])

    def test_users_regions_and_what_the_stage_can_show(self):
        laid = layout(rich())
        self.assertEqual(set(laid["used"]["ball"]), {"One", "Hat", "N"})
        self.assertEqual(set(laid["used"]["m"]), {"One"})
        region = laid["emitters"]["one"]["parts"]["forces.#d"]["region"]
        self.assertEqual(
            (region["response"], region["mask"], [m["value"] for m in region["masks"]]), ("r-region", "m", ["m", "n"])
        )
        self.assertEqual([each["field"] for each in laid["showable"]], ["mask:m", "mask:n"])
        frost = {each["field"] for each in layout(EVERY["frost-on-the-cabin-window"])["showable"]}
        self.assertLessEqual({"density:crystals", "keep:crystals", "begins:crystals"}, frost)

    def test_a_prop_that_is_renamed_keeps_its_mutes_and_what_reads_it(self):
        text = {"kind": "formula", "uid": "f", "text": "props.ball.y + velocities.ball.y"}
        read = row(0.1, response("y", {"kind": "prop", "prop": "ball", "part": "y"}, STRAIGHT))
        body = with_(
            plain(rich()),
            emitters__0__look__size=read,
            emitters__0__look__opacity={"base": {"source": text, "read": "live"}, "responses": []},
        )
        before = read_effect(body)
        after = rename(before, "prop", "ball", "Great buoy")
        self.assertEqual(
            after.emitters[0].look.opacity.base.source.text, "props.great_buoy.y + velocities.great_buoy.y"
        )
        self.assertEqual(
            (after.props[0].name, after.emitters[0].muted_sources), ("Great buoy", ["props.ball.y"])
        )  # mutes go by uid
        self.assertEqual(check_effect(after), [])
        self.assertTrue(all(isinstance(each.look.size, ROWS) for each in after.emitters))
