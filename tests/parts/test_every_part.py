"""Laws of every part: it is named by a union, has its words, its template is valid and plays, and its rows are in range
as they are offered."""

from __future__ import annotations

import pkgutil
import types
import unittest
from importlib import import_module
from typing import Any

from kagero.core.catalog import check_effect
from kagero.core.document import read_effect, upgrade
from kagero.core.formats import exporters
from kagero.core.formats.exporters import EXPORTERS
from kagero.core.parts import (
    contacts,
    cues,
    draws,
    finish,
    launches,
    looks,
    masks,
    own,
    places,
    props,
    pushes,
    rides,
    shapings,
    sources,
)
from kagero.core.parts.contacts import CONTACTS
from kagero.core.parts.cues import CUES
from kagero.core.parts.draws import DRAWS
from kagero.core.parts.finish import FINISH
from kagero.core.parts.launches import LAUNCHES
from kagero.core.parts.looks import LOOKS
from kagero.core.parts.masks import MASKS
from kagero.core.parts.own import OWN
from kagero.core.parts.places import PLACES
from kagero.core.parts.props import PROPS
from kagero.core.parts.pushes import PUSHES
from kagero.core.parts.rides import RIDES
from kagero.core.parts.shapings import SHAPINGS
from kagero.core.parts.sources import SOURCES
from kagero.core.rows.model import Model, fields_of
from kagero.core.rows.union import OpenUnion
from kagero.core.workflows import Playing
from tests.making import document, with_

ARRAY_POOL: list[tuple[types.ModuleType, OpenUnion]] = [
    (contacts, CONTACTS),
    (cues, CUES),
    (draws, DRAWS),
    (finish, FINISH),
    (launches, LAUNCHES),
    (looks, LOOKS),
    (masks, MASKS),
    (own, OWN),
    (places, PLACES),
    (props, PROPS),
    (pushes, PUSHES),
    (rides, RIDES),
    (shapings, SHAPINGS),
    (sources, SOURCES),
]


def unnamed(room: types.ModuleType, union: OpenUnion) -> list[str]:
    """Return the modules of a room with a kind of the union's that the union does not name, and those that give it
    nothing and nobody reads."""
    known, found, modules = set(union.classes()), [], [each.name for each in pkgutil.iter_modules(room.__path__)]
    texts = {name: "".join(path.read_text() for path in [_path(room, name)]) for name in modules}
    for name in modules:
        result = import_module(f"{room.__name__}.{name}")
        kinds = [
            each
            for each in vars(result).values()
            if isinstance(each, type) and issubclass(each, union.base) and each.__module__ == result.__name__
        ]
        tagged = [kind for kind in kinds if union.tags(kind)]
        read = any(f"from .{name} import" in text for other, text in texts.items() if other != name)
        if any(kind not in known for kind in tagged) or (not tagged and not read and name != "base"):
            found.append(name)
    return found


def _path(room: types.ModuleType, name: str) -> Any:
    from pathlib import Path

    return Path(str(room.__file__)).with_name(f"{name}.py")


class EveryPart(unittest.TestCase):
    def test_every_module_of_a_room_is_named_by_its_union(self):
        for room, union in ARRAY_POOL:
            self.assertEqual(unnamed(room, union), [], room.__name__)
        kinds = {each.__module__.rpartition(".")[2] for each in EXPORTERS.values()}
        self.assertEqual({each.name for each in pkgutil.iter_modules(exporters.__path__)} - {"base"}, kinds)

    def test_a_module_that_no_union_names_is_found(self):
        less = OpenUnion("push", PUSHES.base)
        less.kinds = {tag: kind for tag, kind in PUSHES.kinds.items() if tag != "drag"}
        self.assertEqual(unnamed(pushes, less), ["drag"])

    def test_each_has_words_and_its_rows_begin_in_range(self):
        for _, union in ARRAY_POOL:
            for kind in union.classes():
                with self.subTest(kind.__name__):
                    self.assertTrue(kind.label, "no label")
                    self.assertTrue(kind.help or (kind.__doc__ or "").strip(), "no help")
                    for facts in fields_of(kind):
                        driven, setting = facts.driven, facts.setting
                        if driven:
                            self.assertTrue(driven.label and driven.help.endswith("."), facts.name)
                            base = driven.default if isinstance(driven.default, tuple) else (driven.default,)
                            self.assertTrue(all(driven.lowest <= value <= driven.highest for value in base), facts.name)
                            self.assertGreater(driven.drag, 0)
                        if setting and setting.shown:
                            self.assertTrue(setting.label, facts.name)

    def test_each_as_offered_is_valid_and_plays(self):
        empty = upgrade(document())
        needing = {
            "prop",
            "parts",
            "particles",
            "guided",
            "mesh",
            "distance",
            "painted",
            "picture",
            "film",
            "logo",
            "points",
            "field",
            "union",
            "intersection",
            "difference",
        }  # something else
        put: dict[int, Any] = {
            id(PUSHES): lambda result: {"emitters__0__forces": [result]},
            id(RIDES): lambda result: {"emitters__0__rides": [result]},
            id(PLACES): lambda result: {"emitters__0__births__place": result},
            id(LAUNCHES): lambda result: {"emitters__0__births__launch": result},
            id(LOOKS): lambda result: {"emitters__0__look": result},
            id(DRAWS): lambda result: {"emitters__0__draws": [result]},
            id(OWN): lambda result: {"emitters__0__own": [result]},
            id(CONTACTS): lambda result: {"emitters__0__contacts": [result]},
            id(CUES): lambda result: {"emitters__0__cues": [result]},
            id(FINISH): lambda result: {"finish": [result]},
            id(SHAPINGS): lambda result: {"emitters__0__shaping": [result]},
            id(PROPS): lambda result: {"props": [result]},
            id(MASKS): lambda result: {"props": [result]},
        }
        played = 0
        for _, union in ARRAY_POOL:
            for tag, kind in union.kinds.items():
                if id(union) not in put or tag in union.nested or tag in needing:
                    continue
                with self.subTest(f"{union.name} {tag}"):
                    named = {"uid": "new1", "name": "New"} if issubclass(kind, Model) else {}
                    offered = kind.offers[0].fields if union is PROPS and kind.offers else {}
                    fields = {
                        **kind.template(),
                        **offered,
                        **{name: value for name, value in named.items() if name in kind.model_fields},
                    }
                    effect = read_effect(with_(empty, **put[id(union)](fields)))
                    self.assertEqual(check_effect(effect), [])
                    self.assertGreater(len(Playing(effect).show(10)[0]), 0)
                    played += 1
        self.assertGreater(played, 25)
