"""Whatever names another thing is looked at: of every field that can, in every kind there is, a name of nothing is
found."""

from __future__ import annotations

import copy
import unittest
from collections.abc import Iterator
from typing import Any

from demo.lantern_ferry import effects
from demo.parts import prop as named_prop
from kagero.core.catalog import check_effect, layout
from kagero.core.document import Effect, read_effect, upgrade
from kagero.core.errors import KageroError
from kagero.core.rows.model import FieldFacts, Model, fields_of, references
from tests.making import STRAIGHT, document, emitter, response, row
from tests.making.births import mask, on
from tests.making.props import prop
from tests.parts.test_layout import put, thing_in, with_uids

DENSE = {"picture": "map", "channel": "red"}


def everything() -> Effect:
    """Return an effect with one of everything that can be named, and with what names it that nothing else here has."""
    files = [{"content": "0" * 32, "name": "map.png"}]
    props = [
        prop("ball", dissolve={"mask": "m"}),
        prop("hat", follow={"prop": "ball", "at": "place"}),
        mask("m"),
        mask("n"),
        named_prop("eye", "Eye", "camera"),
        named_prop("line", "Line", "path", points=[[0.0, 0, 0], [1.0, 1, 0]]),
        named_prop("map", "Map", "picture", files=files),
        named_prop("lamp", "Lamp", "light"),
    ]
    sources: list[dict[str, Any]] = [
        {"kind": "mask", "mask": "m"},
        {"kind": "draw", "draw": "d1"},
        {"kind": "dial", "dial": "h"},
        {"kind": "own", "own": "o"},
        {"kind": "cue", "cue": "c"},
        {"kind": "moment", "moment": "gather"},
    ]
    responses = [response(f"r{k}", source, STRAIGHT, shape="linear") for k, source in enumerate(sources)]
    one = emitter(
        "one",
        births__place={**on("ball"), "density": DENSE},
        look__size=row(0.1, *responses),
        own=[{"uid": "o", "name": "heat", "kind": "number", "memory": True}],
        cues=[{"kind": "test", "uid": "c", "name": "cue", "value": row(0.5)}],
        rides=[{"kind": "path", "uid": "r", "prop": "line"}],
        target={"prop": "ball", "on": "surface", "density": DENSE},
    )
    frame = {"camera": "eye", "behind": "plate", "plate": "map"}
    dials = [{"uid": "h", "name": "Height", "value": 1.0, "low": 0.0, "high": 5.0, "default": 1.0}]
    moments = [
        {"uid": "gather", "name": "Gather", "frame": 3},
        {"uid": "then", "name": "Then", "after": "gather", "seconds": 0.5},
    ]
    return read_effect(
        {**upgrade(document(one, emitter("two"))), "props": props, "moments": moments, "dials": dials, "frame": frame}
    )


def documents() -> Iterator[dict[str, Any]]:
    """Yield the effect, and it with everything that can be added to it, and with every part in every kind that it can
    have."""
    effect = everything()
    yield effect.model_dump(mode="json")
    laid = layout(effect)
    adds = [("", add) for add in laid["addable"]]
    adds += [(uid, add) for uid, thing in laid["emitters"].items() for band in thing["bands"] for add in band["adds"]]
    for uid, add in adds:
        if not add["why"]:
            body = effect.model_dump(mode="json")
            put(thing_in(body, uid) if uid else body, add["path"], with_uids(add["value"]), add["append"])
            yield body
    for uid, thing in (*laid["emitters"].items(), *laid["props"].items()):
        for part in thing["parts"].values():
            for offer in part["kinds"]:
                if not offer["why"] and offer["kind"] != part["kind"]:
                    body = effect.model_dump(mode="json")
                    for edit in offer["edits"]:
                        put(thing_in(body, uid), edit["path"], copy.deepcopy(edit["value"]))
                    yield body
    for each in effects().values():
        yield each.model_dump(mode="json")


def naming(model: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], type, FieldFacts, Any]]:
    """Yield every field that may name another thing: its path, whose it is, its facts and value."""
    if isinstance(model, Model):
        for facts in fields_of(type(model)):
            value = getattr(model, facts.name)
            if facts.refers is not None:
                yield (*path, facts.name), type(model), facts, value
            yield from naming(value, (*path, facts.name))
    elif isinstance(model, (list, tuple)):
        for index, each in enumerate(model):
            yield from naming(each, (*path, index))


class References(unittest.TestCase):
    def test_every_one_that_names_nothing_is_found(self):
        """The picture of a target's density, an attribute that a cue sets and the camera of the frame were not: the
        first made the server fail."""
        seen: set[tuple[str, str]] = set()
        for body in documents():
            effect = read_effect(body)
            fresh = [each for each in naming(effect) if (each[1].__name__, each[2].name) not in seen]
            before = {(each.where, each.message) for each in check_effect(effect)} if fresh else set()
            for path, owner, facts, value in fresh:
                seen.add((owner.__name__, facts.name))
                broken = copy.deepcopy(body)
                at = broken
                for step in path[:-1]:
                    at = at[step]
                several = not isinstance(value, str) and (
                    "list" in str(facts.annotation) or "tuple" in str(facts.annotation)
                )
                at[path[-1]] = ["gone"] if several else "gone"
                try:
                    changed = read_effect(broken)
                    found = [each for each in check_effect(changed) if (each.where, each.message) not in before]
                    found += changed.frame.lacking(list(changed.props)) if facts.refers.goes_without else []
                except KageroError as problem:
                    found = problem.findings
                self.assertTrue(
                    found and all(each.remedy for each in found), (owner.__name__, path, references(facts, value))
                )
        self.assertLessEqual(
            {
                ("Density", "picture"),
                ("TestCue", "own"),
                ("Framing", "camera"),
                ("Framing", "plate"),
                ("Dissolve", "mask"),
                ("Follow", "prop"),
                ("MaskSource", "mask"),
                ("DrawSource", "draw"),
                ("DialSource", "dial"),
                ("OwnSource", "own"),
                ("CueSource", "cue"),
                ("MomentSource", "moment"),
                ("ByMask", "mask"),
                ("Stream", "path"),
                ("ElsewhereCue", "emitter"),
            },
            seen,
        )
        self.assertGreater(len(seen), 150)
