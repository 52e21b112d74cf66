"""The parts of an emitter or prop as they stand in the sheet: their rows, settings, marks on the stage, and the kinds
that could take their place."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any, Literal, get_origin

from ...document import ONCE, Effect, Emitter, once
from ...parts.contacts import ContactPart
from ...parts.cues import CuePart
from ...parts.masks import MASKS
from ...parts.props import PropPart
from ...parts.pushes import PushPart
from ...parts.rides import RidePart
from ...parts.shapings import ShapingPart
from ...rows.clip_rows import ByClip
from ...rows.field_offers import Choosable, Offered, offered
from ...rows.model import FieldFacts, Guide, Part, fields_of, ordered, references, summary
from ...rows.union import OpenUnion, union_of
from ...rows.view import find_thing
from .layout_types import Edit, FormOffer, KindOffer, LaidField, LaidPart, Path, Region


def parts_of(effect: Effect, thing: Any) -> Iterator[LaidPart]:
    """Yield a thing that is read by the clip alone, itself, or the parts of an emitter that have kinds or settings."""
    if isinstance(thing, ByClip):
        yield _part(effect, thing, thing, (), MASKS if getattr(thing, "mask", False) else None, "")
        return
    yield from _within(effect, thing, thing, ())


def _within(effect: Effect, thing: Any, part: Any, path: Path) -> Iterator[LaidPart]:
    for facts in fields_of(type(part)):
        value = getattr(part, facts.name)
        union = union_of(facts)
        here = (*path, facts.name)
        if isinstance(value, Part):
            if union is not None or here in ONCE or any(each.setting for each in fields_of(type(value))):
                yield _part(
                    effect,
                    thing,
                    value,
                    here,
                    union,
                    address_of(here),
                    removable=facts.default is None and union is None,
                )
            yield from _within(effect, thing, value, here)
        elif isinstance(value, list) and union is not None:
            for each in value:
                yield _part(
                    effect, thing, each, (*here, f"#{each.uid}"), union, f"{facts.name}.{each.uid}.", removable=True
                )
        elif (
            value is not None
            and hasattr(type(value), "model_fields")
            and any(each.setting for each in fields_of(type(value)))
        ):
            yield LaidPart(here, "", "", "", "", (), _fields(effect, thing, value, here), ())


def address_of(path: Path) -> str:
    return "".join(f"{step}." for step in path)


def _part(
    effect: Effect, thing: Any, part: Part, path: Path, union: OpenUnion | None, address: str, removable: bool = False
) -> LaidPart:
    kind = type(part)
    tag = union.tag if union is not None else ""
    rows = tuple(f"{address or 'place.'}{facts.name}" for facts in ordered(kind) if facts.driven)
    unused = part.unused()
    strength = f"{address}{part.strength_row()}" if isinstance(part, (PushPart, ContactPart)) else ""
    kinds = (
        ()
        if union is None or isinstance(part, (PushPart, RidePart, ContactPart, CuePart, ShapingPart))
        else tuple(_kinds(effect, thing, part, path, union))
    )
    shown = tuple(row for row in rows if row.removeprefix(address or "place.") not in unused)
    label = part.name if isinstance(part, CuePart) else kind.label
    return LaidPart(
        path,
        tag,
        str(getattr(part, tag, "")),
        label,
        summary(kind),
        kinds,
        _fields(effect, thing, part, path),
        shown,
        strength,
        removable,
        tuple(_guides(thing, part, address)),
        part.summary() if isinstance(part, PropPart) else "",
        tuple(flag for flag in part.flags if getattr(part, flag)),
        _region(effect, part) if isinstance(part, (PushPart, ContactPart)) else None,
        _lacks(effect, thing, part),
        bool(getattr(part, "muted", False)),
        _card(path, str(getattr(part, tag, ""))),
        tuple(
            FormOffer(label, now, tuple(Edit((*path, name), value) for name, value in changes.items()))
            for label, now, changes in part.forms()
        ),
        {
            f"{address}{name}": words
            for name in (each.removeprefix(address) for each in shown)
            if (words := kind.heading(name))
        },
        {f"{address}{name}": other for name, other in part.compares.items() if f"{address}{name}" in shown},
    )


def _card(path: Path, kind: str) -> str:
    """Return the key of the card that says what a part is; nothing where there is none (`help.cards`)."""
    of = {
        "forces": "force",
        "rides": "ride",
        "contacts": "contact",
        "cues": "cue",
        "shaping": "shaping",
        "look": "look",
        "also": "look",
    }.get(str(path[0]) if path else "")
    return f"{of}:{kind}" if of else f"once:{'.'.join(map(str, path))}" if path in ONCE else ""


def _lacks(effect: Effect, thing: Any, part: Part) -> str:
    """Return what a part cannot do without and has not, with what to do; or nothing."""
    needs = part.relies_on()
    if needs and isinstance(thing, Emitter) and once(thing, needs) is None:
        return f"This emitter has no {ONCE[needs].label.lower()} yet: add them."
    lack = part.unmet_need(effect)
    return f"{part.label} {lack[1]}. {lack[2]}" if lack is not None else ""


def _region(effect: Effect, part: PushPart | ContactPart) -> Region:
    """Return where a push acts. A region is a response of its strength like any other: a mask that multiplies it."""
    row = getattr(part, part.strength_row())
    masks = tuple(Choosable(prop.uid, prop.name) for prop in effect.props if prop.mask)
    straight = {"keys": [{"x": 0.0, "y": 0.0, "shape": "linear"}, {"x": 1.0, "y": 1.0, "shape": "linear"}]}
    proposed = {
        "kind": "curve",
        "uid": "new",
        "source": {"kind": "mask", "mask": "", "part": "value"},
        "read": "live",
        "operation": "multiply",
        "amount": 1.0,
        "muted": False,
        "input": [0.0, 1.0],
        "beyond": "hold",
        "shift": 0.0,
        "curve": straight,
        "exponent": 1.0,
        "output": [0.0, 1.0],
        "component": "all",
    }
    for response in row.responses:
        source = response.source
        if (
            response.kind == "curve"
            and response.operation == "multiply"
            and getattr(source, "mask", None)
            and source.part != "since"
        ):
            return Region(response.uid, source.mask, source.part, masks, proposed)
    return Region("", "", "", masks, proposed)


def _guides(thing: Any, part: Part, address: str) -> Iterator[Guide]:
    """Yield a part's guides with addresses of rows; those that stand where births are only where these have a place of
    their own."""
    for guide in part.guides:
        at = f"{address}{guide.at}"
        if not guide.at:
            births = next((each.at for each in thing.births.place.guides if each.at), "")
            if not births:
                continue
            at = f"births.place.{births}"
        names: dict[str, Any] = {
            name: f"{address}{field}" if (field := getattr(guide, name)) else ""
            for name in ("radius", "size", "direction", "core", "turn")
        }
        placed = replace(guide, at=at, **names, space=getattr(part, "space", None) or "", **part.guided())
        if guide.at not in part.unused():
            yield placed


def _fields(effect: Effect, thing: Any, part: Any, path: Path) -> tuple[LaidField, ...]:
    described = []
    unused = part.unused() if isinstance(part, Part) else frozenset()
    for facts in fields_of(type(part)):
        if facts.name in unused:
            continue
        options = _options(effect, thing, part, facts)
        there = offered(facts, options)
        if there is not None:
            asked_for = isinstance(part, Part) and facts.name in part.on_request
            described.append(LaidField((*path, facts.name), replace(there, on_request=True) if asked_for else there))
    return tuple(described)


def _options(effect: Effect, thing: Any, part: Any, facts: FieldFacts) -> tuple[Choosable, ...] | None:
    """Return what a field can name or be, where that depends on the effect; with what it names and is not there."""
    things = part.named_by(facts.name, effect, thing) if isinstance(part, Part) else None
    if facts.refers is not None:
        group = getattr(effect, facts.refers.group, [])
        if things is None:
            things = [
                each
                for each in group
                if each is not thing and (not facts.refers.fits or getattr(each, facts.refers.fits))
            ]
        options = [Choosable(each.uid, each.name) for each in things]
        for uid in references(facts, getattr(part, facts.name, None)):
            if uid not in {each.uid for each in things}:
                named = find_thing(group, uid)
                options.insert(
                    0,
                    Choosable(uid, "missing" if named is None else named.name, why="It is not there, or does not fit."),
                )
        return tuple(options)
    if things is not None:
        return tuple(Choosable(each.uid, each.name) for each in things)
    values = part.values_of(facts.name, effect) if isinstance(part, Part) else None
    if values is None:
        return None
    words = dict(facts.setting.choices) if facts.setting else {}
    return tuple(Choosable(value, words.get(value, value)) for value in values)


def _kinds(effect: Effect, thing: Any, part: Part, path: Path, union: OpenUnion) -> Iterator[KindOffer]:
    before = part.model_dump(mode="json")
    for tag, kind in union.kinds.items():
        if kind is type(part):
            yield KindOffer(tag, kind.label, kind.help, "", ())
            continue
        data = new_part(effect, thing, kind, {**kind.template(), union.tag: tag}, before)
        try:
            ready = kind.model_validate(data)
        except ValueError:
            ready = None
        why = kind.model_construct(**{**data, "uid": before.get("uid", "new")}).possible(effect, thing)
        settled = ready.settled_fields(effect, thing) if ready is not None else {}
        edits = [Edit(path, ready.model_dump(mode="json") if ready is not None else data)]
        edits += [Edit(tuple(where.split(".")), value) for where, value in settled.items()]
        yield KindOffer(
            tag, kind.label, kind.help, why or ("" if ready is not None else "It lacks what it needs."), tuple(edits)
        )


def new_part(
    effect: Effect, thing: Any, kind: type[Part], template: dict[str, Any], before: dict[str, Any]
) -> dict[str, Any]:
    """Return a new part of a kind: what the old one has too stays, and what it names is there."""
    fields = [
        facts for facts in fields_of(kind) if facts.setting is not None or get_origin(facts.annotation) is not Literal
    ]
    merged = {**template, **{facts.name: before[facts.name] for facts in fields if facts.name in before}}
    named = [facts for facts in fields if facts.refers is not None]
    nothing = {facts.name: [] if _is_list(facts) else "" for facts in named}
    empty = kind.model_construct(**{**nothing, **template, "uid": before.get("uid", "new")})
    for facts in named:
        options = _options(effect, thing, empty, facts) or () if facts.must_name else ()
        if options and not merged.get(facts.name):
            merged[facts.name] = [each.value for each in options[:2]] if _is_list(facts) else options[0].value
    for facts in fields:
        name = facts.name
        if facts.refers is None and facts.setting is not None:
            varies = kind.values_of is not Part.values_of
            allowed = (
                kind.model_construct(**{**nothing, **merged, "uid": "new"}).values_of(name, effect) if varies else None
            )
            choices = allowed or tuple(each.value for each in (offered(facts) or Offered("", "", "", "text")).options)
            if choices and merged.get(name) not in choices and (name in merged or allowed):
                merged[name] = choices[0]
    return merged


def ready_part(effect: Effect, thing: Any, kind: type[Part], data: dict[str, Any]) -> dict[str, Any]:
    """Return a new part as plain data, with what it cannot do without where the effect has it."""
    for _ in range(2):
        ready = kind.model_validate(data)
        lack = ready.unmet_need(effect)
        facts = next((each for each in fields_of(kind) if lack is not None and each.name == lack[0]), None)
        options = _options(effect, thing, ready, facts) if facts is not None else None
        if not options or facts is None:
            break
        data = {**data, facts.name: [each.value for each in options[:2]] if _is_list(facts) else options[0].value}
    return kind.model_validate(kind.adapted_to(data, effect, thing)).model_dump(mode="json")


def _is_list(facts: FieldFacts) -> bool:
    there = offered(facts)
    return there is not None and there.kind == "references"
