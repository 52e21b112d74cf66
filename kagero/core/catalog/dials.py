"""Dials as edits of an effect: made from a number, renamed with the formulas that read them, taken away; and what they
do."""

from __future__ import annotations

import copy
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, Literal

from ..document import Effect, read_effect
from ..errors import LinkProblem, RequestError
from ..formula import identifier, names_in
from ..rows.placed import PlacedRow
from ..rows.responses import SourcedBase
from ..rows.units import DIAL_UNITS
from ..rows.view import find_thing
from .naming import cue_names, names_of, prop_names, renamed_names
from .pieces import row_at_path
from .scope import Scope
from .validate import check_no_worse

How = Literal["sets", "multiplies", "limits"]
NamedKind = Literal["dial", "draw", "own", "prop", "moment", "cue"]
_GROUP = {"dial": "dials", "draw": "draws", "own": "own", "prop": "props", "moment": "moments", "cue": "cues"}
_ACTS = {"multiply": "multiplies", "set": "sets", "add": "adds to", "at_most": "limits", "at_least": "limits"}


@dataclass(frozen=True)
class Use:
    """One thing a dial does: sets, multiplies, adds to, limits or shapes a row, or is read by its formula."""

    emitter: str
    emitter_name: str
    address: str
    label: str
    how: str


def dial_uses(effect: Effect, uid: str) -> list[Use]:
    """Return everything that a dial of an effect drives, in the order of the sheets."""
    dial = next((dial for dial in effect.dials if dial.uid == uid), None)
    if dial is None:
        return []
    name = f"dials.{identifier(dial.name)}"
    uses = []
    things = effect.holders()
    for thing in things:
        text = getattr(thing, "formula", "") if getattr(thing, "mask", False) else ""
        if name in {each for each, _, _ in names_in(text)}:
            uses.append(Use(thing.uid, thing.name, "place.level", "formula", "is read by the formula of"))
        scope = Scope(thing, effect)
        for placed in scope.rows.values():
            host = scope.rows.get(placed.host, placed)
            label = scope.row_label(host) + (f", {placed.spec.label.lower()}" if placed.host else "")
            for how, source in _reading(placed):
                if source.is_dial and source.dial == uid:
                    uses.append(Use(thing.uid, thing.name, placed.address, label, how))
                elif source.is_formula and name in names_of(source):
                    uses.append(Use(thing.uid, thing.name, placed.address, label, "is read by the formula of"))
    return uses


def _reading(placed: PlacedRow) -> Iterator[tuple[str, Any]]:
    if isinstance(placed.row.base, SourcedBase):
        yield "sets", placed.row.base.source
    for response in placed.row.responses:
        proportional = response.kind == "ratio" or response.operation != "multiply"
        yield _ACTS[response.operation] if proportional or response.kind == "curve" else "colours", response.source


def make_dial(
    effect: Effect, emitter_uid: str, address: str, how: How, new_uid: Callable[[], str], component: int | None = None
) -> tuple[Effect, str]:
    """Return the effect with a new dial made from a row's number, and the dial's uid.

    sets: the row reads the dial, which has the number's value. multiplies: the row's number times the dial, 0 to 2.
    limits: the row is never more than the dial. component: which number of a vector (0, 1, 2); of a number or colour
    none. Raises LinkProblem (no such row) or RequestError (the row has no such number).
    """
    owners = effect.holders()
    emitter = find_thing(owners, emitter_uid)
    if emitter is None:
        raise LinkProblem(
            f"There is no emitter or prop {emitter_uid!r}.", where="emitter", remedy="Choose one of the effect's."
        )
    scope = Scope(emitter, effect)
    placed = scope.rows.get(address)
    if placed is None:
        raise LinkProblem(
            f"There is no row {address!r} in {emitter.name}.",
            where="address",
            remedy="Choose one of the emitter's rows.",
        )
    spec, base = placed.spec, placed.row.base
    vector = spec.kind == "vector"
    whole = spec.kind == "colour" or (vector and component is None)
    if isinstance(base, SourcedBase) or (whole and how != "multiplies"):
        words = f"{spec.label} has no single number here."
        raise RequestError(words, where="address", remedy="Choose one of its numbers, or let the dial multiply it.")
    if vector and component is not None and not 0 <= component < 3:
        raise RequestError(f"{spec.label} has three numbers.", where="component", remedy="Choose 0, 1 or 2.")
    number = float(base[component or 0] if isinstance(base, tuple) else base)
    dial: dict[str, Any] = {"uid": new_uid(), "name": _free_name(effect, _title(scope, placed, component)), "note": ""}
    if how == "multiplies":
        dial |= {"value": 1, "default": 1, "low": 0, "high": 2, "unit": "×"}
    else:
        low, high = _bounds_of(number, spec.lowest, spec.highest, spec.drag)
        dial |= {
            "value": number,
            "default": number,
            "low": low,
            "high": high,
            "unit": spec.unit.symbol if spec.unit.symbol in DIAL_UNITS else "",
        }
    document = effect.model_dump(mode="json")
    document["dials"].append(dial)
    row = row_at_path(document, f"{effect.place_of(scope.owner)}.{placed.path}")
    read = "once" if spec.stage == "birth" else "live"
    source = {"kind": "dial", "dial": dial["uid"]}
    if how == "sets" and not vector:
        row["base"] = {"source": source, "read": read}
    else:
        response = {
            "kind": "ratio",
            "uid": new_uid(),
            "source": source,
            "read": read,
            "operation": {"sets": "set", "multiplies": "multiply", "limits": "at_most"}[how],
            "component": "xyz"[component] if vector and component is not None else "all",
        }
        row["responses"].insert(0 if how == "sets" else len(row["responses"]), response)
    return check_no_worse(effect, read_effect(document)), str(dial["uid"])


def rename(effect: Effect, kind: NamedKind, uid: str, name: str, emitter_uid: str = "") -> Effect:
    """Return the effect with a dial, draw, own attribute or prop renamed, and its name changed in every formula that
    reads it.

    Raises LinkProblem when it is not there, or when formulas read it and would know another thing by the same name.
    """
    group = _GROUP[kind]
    owner: Any = effect if kind in ("dial", "prop", "moment") else find_thing(effect.emitters, emitter_uid)
    things: list[Any] = list(getattr(owner, group)) if owner is not None else []
    thing = find_thing(things, uid)
    if thing is None:
        raise LinkProblem(f"There is no {kind} {uid!r}.", where="uid", remedy="Choose one that is there.")
    there = thing.model_copy(update={"name": name})
    old, new = _names(kind, thing), _names(kind, there)
    names = dict(zip(old, new, strict=True))
    changed = {
        part: [
            renamed_names(each, names) if owner is effect or each is owner else each for each in getattr(effect, part)
        ]
        for part in ("emitters", "props")
    }
    other = next((t for t in things if t.uid != uid and _names(kind, t) == new), None)
    if other is not None and any(
        a is not b for part, after in changed.items() for a, b in zip(after, getattr(effect, part), strict=True)
    ):
        raise LinkProblem(
            f"Formulas would know both {thing.name} and {other.name} as {new[0]}.",
            where="name",
            remedy="Choose another name.",
        )
    after = effect.model_copy(update=changed)
    if owner is effect:
        after = after.model_copy(update={group: [_named(each, uid, name) for each in getattr(after, group)]})
    else:
        emitters = [
            each.model_copy(update={group: [_named(t, uid, name) for t in getattr(each, group)]})
            if each.uid == emitter_uid
            else each
            for each in after.emitters
        ]
        after = after.model_copy(update={"emitters": emitters})
    return check_no_worse(effect, read_effect(after.model_dump(mode="json")))


def _names(kind: NamedKind, thing: Any) -> tuple[str, ...]:
    """Return the names by which formulas read a thing, such as `dials.glow`."""
    if kind in ("prop", "cue"):
        return prop_names(thing) if kind == "prop" else cue_names(thing)
    return (f"{_GROUP[kind]}.{identifier(thing.name)}",)


def _named(thing: Any, uid: str, name: str) -> Any:
    return thing.model_copy(update={"name": name}) if thing.uid == uid else thing


def delete_dial(effect: Effect, uid: str) -> Effect:
    """Return the effect without a dial: bases and formulas that read it get its value as it is now, its responses
    go."""
    dial = find_thing(effect.dials, uid)
    if dial is None:
        raise LinkProblem(f"There is no dial {uid!r}.", where="uid", remedy="Choose one that is there.")
    names = {f"dials.{identifier(dial.name)}": f"({dial.value!r})" if dial.value < 0 else repr(dial.value)}
    written = {part: [renamed_names(each, names) for each in getattr(effect, part)] for part in ("emitters", "props")}
    document = effect.model_copy(update=written).model_dump(mode="json")
    document["dials"] = [d for d in document["dials"] if d["uid"] != uid]
    for kept in document["settings"]:
        kept["values"].pop(uid, None)
    for part in ("emitters", "props"):
        document[part] = [_without(owner, uid, dial.value) for owner in document[part]]
    return check_no_worse(effect, read_effect(document))


def _title(scope: Scope, placed: PlacedRow, component: int | None) -> str:
    name = scope.row_label(placed) if not placed.host else placed.spec.label
    return f"{name} {'xyz'[component]}"[:80] if component is not None and placed.spec.kind == "vector" else name[:80]


def _free_name(effect: Effect, name: str) -> str:
    taken = {identifier(dial.name) for dial in effect.dials}
    return (
        name
        if identifier(name) not in taken
        else next(n for i in range(2, 99) if identifier(n := f"{name[:76]} {i}") not in taken)
    )


def _bounds_of(value: float, lowest: float, highest: float, drag: float) -> tuple[float, float]:
    """Return a range to turn in: from nought to twice the number, or about it where it is nought."""
    low, high = (
        (0.0, 2 * value) if value > 0 else (2 * value, 0.0) if value < 0 else (0.0 if lowest >= 0 else -drag, drag)
    )
    return max(low, lowest), max(min(high, highest), max(low, lowest) + 1e-6)


def _without(data: Any, uid: str, value: float) -> Any:
    """Return plain data in which nothing reads a dial: responses that did are gone, bases and settings are its
    value."""
    if isinstance(data, dict):
        source = data.get("source")
        if isinstance(source, dict) and source.get("kind") == "dial" and source.get("dial") == uid:
            return value  # a base: responses are left out below
        remaining = {}
        for key, inner in data.items():
            if key == "responses" and isinstance(inner, list):
                inner = [r for r in inner if not (r["source"].get("kind") == "dial" and r["source"].get("dial") == uid)]
            remaining[key] = _without(inner, uid, value)
        return remaining
    return [_without(item, uid, value) for item in data] if isinstance(data, list) else copy.copy(data)
