"""The sheet, laid out for the interface: which rows there are and where they stand, the plain settings of every part
with what can be chosen, the kinds that could take its place, what can be added, what sources are called, and what is
used where. Derived from the parts."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ...document import ONCE, Effect, Emitter, Thinning, once
from ...parts.contacts import CONTACTS
from ...parts.looks import LOOKS, LookPart
from ...parts.own import OWN
from ...parts.pushes import PUSHES
from ...parts.rides import RIDES
from ...parts.shapings import SHAPINGS
from ...rows.model import Part, fields_of
from ...rows.placed import PlacedRow, RowSpec
from ...rows.responses import sources_of
from ..fitting import fitted_to
from ..scope import Scope
from .adding import (
    addable_cues,
    addable_draws,
    addable_finish,
    addable_masks,
    addable_of,
    addable_once,
    addable_props,
    addable_to_all,
    free_name,
)
from .display_choices import showables
from .layout_types import Addable, Band, Item, LaidRow, LaidSource, LaidThing, plain_data
from .parts import parts_of
from .paths import joined, named_path, value_at
from .usage import used_within, users


def layout(effect: Effect) -> dict[str, Any]:
    """Return the sheets of an effect's emitters, props and picture (finish and frame) by uid, the specs that their rows
    share, and by the uid of a dial or prop what uses it; as plain data. The effect need not be playable."""
    specs: dict[RowSpec, int] = {}
    emitters = {emitter.uid: _emitter(effect, emitter, specs) for emitter in effect.emitters}
    props = {prop.uid: _thing(effect, prop, specs) for prop in effect.props}
    picture = {thing.uid: _thing(effect, thing, specs) for thing in (*effect.finish, effect.frame)}
    return {
        "specs": [plain_data(spec) for spec in specs],
        "emitters": {uid: plain_data(thing) for uid, thing in emitters.items()},
        "props": {uid: plain_data(thing) for uid, thing in props.items()},
        "picture": {uid: plain_data(thing) for uid, thing in picture.items()},
        "addable": [plain_data(each) for each in (*addable_props(), *addable_masks(effect), *addable_finish(effect))],
        "showable": plain_data(tuple(showables(effect))),
        "used": {uid: list(words) for uid, words in users(effect).items()},
    }


# one emitter or prop
# ----------------------------------------------------------------------------------------------------
def _thing(effect: Effect, thing: Any, specs: dict[RowSpec, int], bands: tuple[Band, ...] = ()) -> LaidThing:
    scope = Scope(thing, effect)
    rows = tuple(_row(thing, placed, scope, specs) for placed in scope.rows.values())
    parts = {joined(part.path): part for part in parts_of(effect, thing)}
    sources = {}
    for placed in scope.rows.values():
        for source, _, response in sources_of(placed.row):
            facts = source.facts(scope)
            name = facts.label if not source.missing(scope) or "missing" in facts.label else f"missing {facts.label}"
            key = f"base:{placed.address}" if response is None else response.uid
            sources[key] = LaidSource(name, source.column(), plain_data(facts.unit), facts.changes)
    return LaidThing(
        rows, parts, sources, bands, used_within(thing) if isinstance(thing, Emitter) else {}, fitted_to(effect, thing)
    )


def _row(thing: Any, placed: PlacedRow, scope: Scope, specs: dict[RowSpec, int]) -> LaidRow:
    path = named_path(thing, placed.path)
    plain = (
        placed.depth > 0
        and not isinstance(value_at(thing, placed.path), Part)
        and not hasattr(value_at(thing, placed.path), "base")
    )
    label = scope.row_label(placed) if not placed.depth else placed.spec.label
    of = ""
    if placed.depth:
        steps = placed.path.split(".")
        end = max(i for i, step in enumerate(steps) if step in ("responses", "base"))
        of = next(row.address for row in scope.rows.values() if row.path == ".".join(steps[:end]))
    return LaidRow(
        placed.address, path, specs.setdefault(placed.spec, len(specs)), label, placed.unused, plain, of, placed.host
    )


def _emitter(effect: Effect, emitter: Emitter, specs: dict[RowSpec, int]) -> LaidThing:
    def rows(*addresses: str) -> tuple[Item, ...]:
        return tuple(Item(row=address) for address in addresses)

    def single(band: str) -> tuple[Item, ...]:
        return tuple(
            Item(part=".".join(path))
            for path, kind in ONCE.items()
            if kind.band == band and once(emitter, path) is not None
        )

    def parts(group: str) -> tuple[Item, ...]:
        return tuple(Item(part=f"{group}.#{each.uid}") for each in getattr(emitter, group))

    burst = Addable(
        "Burst",
        "births",
        "Particles that are born together, at a frame of the clip.",
        ("births", "bursts"),
        {"uid": "new", "frame": effect.clip.first_frame, "count": 50},
        True,
        "Births from particles have no bursts of their own."
        if emitter.births.place.parted
        else "Parts are born once each, whatever else."
        if emitter.births.place.counted
        else "",
    )
    moves = [
        *addable_of(effect, emitter, PUSHES, "forces", "pushes"),
        *addable_of(effect, emitter, RIDES, "rides", "rides"),
        *addable_once(effect, emitter, "motion"),
    ]
    draws = addable_draws(emitter)
    own = [
        Addable(
            words,
            group,
            help,
            ("own",),
            {**kind.template(), **more, "uid": "new", "name": free_name(emitter.own, name)},
            True,
        )
        for kind in OWN.classes()
        for words, group, help, name, more in kind.offers
    ]
    thinning = Addable(
        "Thinning",
        "rows",
        "Fewer are shown further from a camera or prop, and none outside its view.",
        ("thinning",),
        Thinning().model_dump(mode="json"),
        False,
    )
    # what all looks have stands after what is its own
    fields = sorted(fields_of(type(emitter.look)), key=lambda facts: facts.name in LookPart.model_fields)
    look = [f"look.{facts.name}" for facts in fields if facts.driven]
    further = [
        replace(each, label=f"Also a {each.label.lower()}")
        for each in addable_of(effect, emitter, LOOKS, "also", "looks")
    ]
    births = (
        *rows("births.rate"),
        Item(panel="timing"),
        Item(panel="bursts"),
        Item(part="births.place"),
        *rows("births.lifespan"),
        Item(part="births.launch"),
        *rows("births.begins", "births.keep", "births.mass", "births.rotation"),
    )
    ending_cues = (Item(panel="ending cues"),) if any(cue.ends for cue in emitter.cues) else ()
    bands = (
        Band("births", "births", births, (burst,)),
        Band(
            "motion",
            "motion",
            (*parts("forces"), *parts("rides"), *single("motion"), *rows("motion.spin", "motion.grip")),
            tuple(moves),
        ),
        Band(
            "contacts",
            "contacts",
            (*parts("contacts"), *(rows("motion.bounce", "motion.friction") if emitter.contacts else ())),
            tuple(addable_of(effect, emitter, CONTACTS, "contacts", "contacts")),
        ),
        Band("cues", "cues", parts("cues"), tuple(addable_cues(effect, emitter))),
        Band(
            "look",
            "look",
            (
                Item(part="look"),
                *rows(*look),
                *parts("also"),
                *single("look"),
                *((Item(part="thinning"),) if emitter.thinning else ()),
            ),
            (*further, *addable_once(effect, emitter, "look"), *(() if emitter.thinning else (thinning,))),
        ),
        Band(
            "endings",
            "endings",
            (Item(panel="lifespan"), *ending_cues, *single("endings"), Item(panel="passing checks")),
            tuple(addable_once(effect, emitter, "endings")),
        ),
        Band(
            "shaping",
            "shaping",
            (*single("shaping"), *parts("shaping")),
            (
                *addable_of(effect, emitter, SHAPINGS, "shaping", "shapings"),
                *addable_once(effect, emitter, "shaping"),
                *addable_to_all(effect),
            ),
        ),
        Band("draws", "draws", parts("draws"), tuple(draws)),
        Band("own", "own attributes", parts("own"), tuple(sorted(own, key=lambda each: each.group != "with memory"))),
    )
    return _thing(effect, emitter, specs, bands)
