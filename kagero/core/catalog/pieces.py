"""Pieces of an effect that are copied and put elsewhere: responses, a row's whole sentence, an emitter, a prop.

Every uid of a piece is renewed where it is put, and what refers to it follows: nothing is shared between two places.
What a piece needs from its emitter and effect (draws, own attributes, dials, props and masks) goes with it, unless the
other place has the same already.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from typing import Any, Literal

from pydantic import ValidationError

from ..document import Contact, Cue, Dial, Draw, Effect, Emitter, Moment, Own, Prop, Push, Ride, Shaping, read_effect
from ..errors import LinkProblem, RequestError, SchemaProblem
from ..formula import identifier
from ..rows.model import FieldFacts, Model, references, rewritten, walk
from ..rows.placed import PlacedRow
from ..rows.responses import ColourRow, NumberRow, Response, VectorRow
from .naming import names_of, prop_names, renamed_names
from .scope import Scope
from .validate import check_no_worse

FORMAT = "kagero-piece"
NewUid = Callable[[], str]
PieceKind = Literal["responses", "row", "emitter", "prop", "push", "ride", "contact", "cue", "shaping"]
GROUPS = ("draws", "own", "dials", "moments", "props")  # what a piece may need, by what holds it


class Piece(Model):
    """What is copied. draws, own, dials, moments, props: those that it reads, and those that these read in turn."""

    format: Literal["kagero-piece"] = "kagero-piece"
    kind: PieceKind
    responses: list[Response] | None = None
    row: NumberRow | VectorRow | ColourRow | None = None
    emitter: Emitter | None = None
    prop: Prop | None = None
    push: Push | None = None
    ride: Ride | None = None
    contact: Contact | None = None
    cue: Cue | None = None
    shaping: Shaping | None = None
    draws: list[Draw] = []
    own: list[Own] = []
    dials: list[Dial] = []
    moments: list[Moment] = []
    props: list[Prop] = []


def copy_responses(effect: Effect, emitter: Emitter, uids: list[str]) -> dict[str, Any]:
    """Return a piece of some responses of an emitter, in the order given. Raises LinkProblem for one that is not
    there."""
    known = {r.uid: r for placed in Scope(emitter, effect).rows.values() for r in placed.row.responses}
    for uid in uids:
        if uid not in known:
            raise LinkProblem(
                f"There is no response {uid!r} to copy.", where="uids", remedy="Choose one that is in the sheet."
            )
    return _with_needs(effect, emitter, Piece(kind="responses", responses=[known[uid] for uid in uids]))


def copy_row(effect: Effect, emitter: Emitter, address: str) -> dict[str, Any]:
    """Return a piece of a row's whole sentence: its base and all its responses."""
    return _with_needs(effect, emitter, Piece(kind="row", row=_find(effect, emitter, address).row))


def copy_emitter(effect: Effect, emitter: Emitter) -> dict[str, Any]:
    """Return a piece of a whole emitter."""
    piece = _with_needs(effect, emitter, Piece(kind="emitter", emitter=emitter))
    return {**piece, "draws": [], "own": []}  # these are in the emitter


def paste_emitter(effect: Effect, piece: dict[str, Any], new_uid: NewUid) -> tuple[Effect, str]:
    """Return the effect with the piece's emitter behind the others, under a free name, and its uid."""
    given = _checked(piece, "emitter")
    assert given.emitter is not None
    taken = {emitter.name for emitter in effect.emitters}
    name = given.emitter.name[:70]
    name = name if name not in taken else next(n for i in range(2, 99) if (n := f"{name} {i}") not in taken)
    pasted = with_new_uids(given.emitter, new_uid).model_copy(update={"name": name})
    effect, _, pasted = _bring_needs(effect, None, given, pasted, new_uid)
    return check_no_worse(effect, _read(effect.model_copy(update={"emitters": [*effect.emitters, pasted]}))), pasted.uid


Mover = Literal["push", "ride", "contact", "cue", "shaping"]
MOVERS = {
    "push": "forces",
    "ride": "rides",
    "contact": "contacts",
    "cue": "cues",
    "shaping": "shaping",
}  # what of an emitter can be copied by itself, by its list


def copy_mover(effect: Effect, emitter: Emitter, kind: str, uid: str) -> dict[str, Any]:
    """Return a piece of what can be copied by itself, a kind of MOVERS. Raises LinkProblem when it is not there."""
    part = next((each for each in getattr(emitter, MOVERS[kind]) if each.uid == uid), None)
    if part is None:
        raise LinkProblem(
            f"There is no {kind} {uid!r} to copy.", where="uids", remedy="Choose one that is in the sheet."
        )
    return _with_needs(effect, emitter, Piece.model_validate({"kind": kind, kind: part}))


def paste_mover(
    effect: Effect, emitter_uid: str, piece: dict[str, Any], new_uid: NewUid, at: int | None = None
) -> tuple[Effect, str]:
    """Return the effect with a piece's push or ride put into an emitter, and its uid. at: before which of the list;
    behind all without."""
    index = next((i for i, emitter in enumerate(effect.emitters) if emitter.uid == emitter_uid), None)
    if index is None:
        raise LinkProblem(
            f"There is no emitter {emitter_uid!r}.", where="emitter", remedy="Choose one of the effect's emitters."
        )
    given_kind = piece.get("kind") if isinstance(piece, dict) else None
    kind: Mover = given_kind if given_kind in MOVERS else "push"
    given = _checked(piece, kind)
    effect_now, emitter, pasted = _bring_needs(
        effect, effect.emitters[index], given, with_new_uids(getattr(given, kind), new_uid), new_uid
    )
    there = list(getattr(emitter, MOVERS[kind]))
    there.insert(len(there) if at is None else at, pasted)
    emitter = emitter.model_copy(update={MOVERS[kind]: there})
    emitters = [emitter if i == index else each for i, each in enumerate(effect_now.emitters)]
    return check_no_worse(effect, _read(effect_now.model_copy(update={"emitters": emitters}))), pasted.uid


def copy_prop(effect: Effect, uid: str) -> dict[str, Any]:
    """Return a piece of a prop or mask, with the props and dials that it reads. Raises LinkProblem when it is not
    there."""
    prop = next((each for each in effect.props if each.uid == uid), None)
    if prop is None:
        raise LinkProblem(f"There is no prop {uid!r} to copy.", where="uids", remedy="Choose one that is there.")
    piece = _with_needs(effect, prop, Piece(kind="prop", prop=prop))
    return {**piece, "props": [each for each in piece["props"] if each["uid"] != uid]}


def paste_prop(effect: Effect, piece: dict[str, Any], new_uid: NewUid) -> tuple[Effect, str]:
    """Return the effect with the piece's prop under a free name, behind the one that it is a copy of or behind all; and
    its uid."""
    given = _checked(piece, "prop")
    assert given.prop is not None
    before = next((i + 1 for i, each in enumerate(effect.props) if each.uid == given.prop.uid), None)
    effect, _, pasted = _bring_needs(effect, None, given, with_new_uids(given.prop, new_uid), new_uid)
    pasted = pasted.model_copy(update={"name": _free(pasted.name, {identifier(each.name) for each in effect.props})})
    props = list(effect.props)
    props.insert(len(props) if before is None else before, pasted)
    return check_no_worse(effect, _read(effect.model_copy(update={"props": props}))), pasted.uid


def paste(
    effect: Effect,
    emitter_uid: str,
    address: str,
    piece: dict[str, Any],
    new_uid: NewUid,
    at: int | None = None,
    move: list[str] | None = None,
) -> tuple[Effect, list[str]]:
    """Return the effect with a piece of responses or a row put onto the row at an address, and the new responses' uids.

    at: before which response of the row; behind all without. move: responses of the same emitter to take away, so that
    they are moved rather than copied. A response is made to read once or live as the row can. Raises LinkProblem,
    SchemaProblem, RequestError for what is no piece, and EffectError when the changed effect could not be played.
    """
    index = next((i for i, emitter in enumerate(effect.emitters) if emitter.uid == emitter_uid), None)
    if index is None:
        raise LinkProblem(
            f"There is no emitter {emitter_uid!r}.", where="emitter", remedy="Choose one of the effect's emitters."
        )
    placed = _find(effect, effect.emitters[index], address)
    kind = piece.get("kind") if isinstance(piece, dict) else None
    given = _checked(piece, "row" if kind == "row" else "responses")
    responses = with_new_uids(list(given.responses or []) if given.row is None else list(given.row.responses), new_uid)
    base = None if given.row is None else with_new_uids(given.row, new_uid).base
    before, emitter, (responses, base) = _bring_needs(effect, effect.emitters[index], given, (responses, base), new_uid)
    document = before.model_copy(
        update={"emitters": [emitter if i == index else each for i, each in enumerate(before.emitters)]}
    ).model_dump(mode="json")
    wanted = {"emitter": "live", "birth": "once"}.get(placed.spec.stage)
    pasted = [response.model_dump(mode="json") for response in responses]
    for response in pasted:
        response["read"] = wanted or response["read"]
        if placed.spec.kind != "vector" and "component" in response:
            response["component"] = "all"
    target = row_at_path(document["emitters"][index], placed.path)
    if given.row is not None:
        plain = (
            base.model_dump(mode="json") if isinstance(base, Model) else list(base) if isinstance(base, tuple) else base
        )
        if isinstance(plain, (type(target["base"]), dict)):  # a number does not become a vector's base
            target["base"] = plain
        if isinstance(target["base"], dict):
            target["base"]["read"] = wanted or target["base"]["read"]
        target["responses"] = pasted
    else:
        place = len(target["responses"]) if at is None else at
        target["responses"][place:place] = pasted
    for uid in move or []:
        _take_away(document["emitters"][index], uid)
    return check_no_worse(effect, read_effect(document)), [response["uid"] for response in pasted]


def with_new_uids(thing: Any, new_uid: NewUid) -> Any:
    """Return a part, or several, in which every uid is a new one and every reference to it within follows."""
    return _with_uids(thing, {uid: new_uid() for uid in dict.fromkeys(_uids(thing))})


def _uids(thing: Any) -> Iterator[str]:
    yield from (value for _, facts, value in walk(thing) if facts.name == "uid" and value)


def _with_uids(thing: Any, uids: Mapping[str, str]) -> Any:
    def change(facts: FieldFacts, value: Any) -> Any:
        if facts.name == "uid":
            return uids.get(value, value)
        if facts.refers is not None and value:
            return uids.get(value, value) if isinstance(value, str) else [uids.get(each, each) for each in value]
        if "address" in facts.marks:
            return _address(value, uids) if isinstance(value, str) else [_address(each, uids) for each in value]
        return value

    return rewritten(thing, change)


def _address(value: str, uids: Mapping[str, str]) -> str:
    """Return an address, or the name of a column of sources, with the uids that stand in it changed."""
    return ".".join(uids.get(part, part) for part in value.split("."))


def _with_needs(effect: Effect, emitter: Emitter | Prop, piece: Piece) -> dict[str, Any]:
    """Return the piece with the draws, own attributes, dials and props that it reads, and those that these read in
    turn."""
    known = _things(effect, emitter)
    by_name = {name: uid for uid, (group, thing) in known.items() for name in _names(group, thing)}
    needed: dict[str, tuple[str, Any]] = {}
    waiting = list(_references(piece, known, by_name))
    while waiting:
        uid = waiting.pop()
        if uid in known and uid not in needed:
            needed[uid] = known[uid]
            waiting.extend(_references(known[uid][1], known, by_name))
    brought = {
        group: [thing for uid, (of, thing) in known.items() if of == group and uid in needed] for group in GROUPS
    }
    return piece.model_copy(update=brought).model_dump(mode="json")


def _things(effect: Effect, emitter: Emitter | Prop) -> dict[str, tuple[str, Any]]:
    """Return by uid all that a piece may need, with what holds it."""
    holders: dict[str, list[Any]] = {
        "draws": emitter.draws,
        "own": emitter.own,
        "dials": effect.dials,
        "moments": effect.moments,
        "props": effect.props,
    }
    return {thing.uid: (group, thing) for group, things in holders.items() for thing in things}


def _names(group: str, thing: Any) -> tuple[str, ...]:
    return prop_names(thing) if group == "props" else (f"{group}.{identifier(thing.name)}",)


def _references(thing: Any, known: Mapping[str, Any], by_name: Mapping[str, str]) -> Iterator[str]:
    yield from (by_name[name] for name in names_of(thing) if name in by_name)
    for _, facts, value in walk(thing):
        yield from references(facts, value)
        if "address" in facts.marks:
            for address in (value,) if isinstance(value, str) else value:
                yield from (part for part in address.split(".") if part in known)


def _bring_needs(
    effect: Effect, emitter: Emitter | None, piece: Piece, body: Any, new_uid: NewUid
) -> tuple[Effect, Any, Any]:
    """Return effect, emitter and body, so that the body refers to what is there, and to copies of the rest, which are
    there then.

    Formulas of the body read them by the names they have there.
    """
    holders: dict[str, list[Any]] = {
        "dials": list(effect.dials),
        "moments": list(effect.moments),
        "props": list(effect.props),
    }
    holders |= (
        {"draws": list(emitter.draws), "own": list(emitter.own)} if emitter is not None else {"draws": [], "own": []}
    )
    uids: dict[str, str] = {}
    names: dict[str, str] = {}
    added: list[tuple[str, Any]] = []
    for group in GROUPS:
        taken = {identifier(thing.name) for thing in holders[group]}
        for thing in getattr(piece, group):
            same = next((t for t in holders[group] if t.uid == thing.uid), None)
            same = same or next(
                (t for t in holders[group] if _without_references(t, group) == _without_references(thing, group)), None
            )
            name = same.name if same is not None else _free(thing.name, taken)
            uids[thing.uid] = same.uid if same is not None else new_uid()
            there = thing.model_copy(update={"name": name})
            names |= dict(zip(_names(group, thing), _names(group, there), strict=True))
            if same is None:
                taken.add(identifier(name))
                added.append((group, there))
    for group, thing in added:
        inner = {uid: new_uid() for uid in _uids(thing) if uid not in uids}
        holders[group].append(renamed_names(_with_uids(thing, uids | inner), names))
    extended = effect.model_copy(update={group: holders[group] for group in ("dials", "moments", "props")})
    if emitter is not None:
        emitter = emitter.model_copy(update={group: holders[group] for group in ("draws", "own")})
    if isinstance(body, tuple):
        return extended, emitter, tuple(renamed_names(_with_uids(each, uids), names) for each in body)
    return extended, emitter, renamed_names(_with_uids(body, uids), names)


def _free(name: str, taken: set[str]) -> str:
    return (
        name
        if identifier(name) not in taken
        else next(n for i in range(2, 99) if identifier(n := f"{name[:74]} {i}") not in taken)
    )


def _without_references(thing: Any, group: str) -> Any:
    """Return what makes a thing what it is: a dial or prop brought twice is one, but two draws alike draw apart."""
    bare = thing.model_dump(exclude={"uid"})
    return {**bare, "name": re.sub(r" \d+$", "", thing.name)} if group in ("dials", "moments", "props") else bare


def _read(effect: Effect) -> Effect:
    """Return an effect that was put together, checked as any document is."""
    return read_effect(effect.model_dump(mode="json"))


def _find(effect: Effect, emitter: Emitter, address: str) -> PlacedRow:
    placed = Scope(emitter, effect).rows.get(address)
    if placed is None:
        raise LinkProblem(
            f"There is no row {address!r} in {emitter.name}.",
            where="address",
            remedy="Choose one of the emitter's rows.",
        )
    return placed


def row_at_path(emitter: dict[str, Any], path: str) -> dict[str, Any]:
    """Return the row at a path of an emitter's data; a setting that is a number becomes the row it stands for."""
    *steps, last = path.split(".")
    holder: Any = emitter
    for step in steps:
        holder = holder[int(step)] if isinstance(holder, list) else holder[step]
    key: Any = int(last) if isinstance(holder, list) else last
    if not isinstance(holder[key], dict):
        holder[key] = {"base": holder[key], "responses": [], "muted": False}
    return holder[key]


def _take_away(data: Any, uid: str) -> None:
    if isinstance(data, dict):
        if isinstance(data.get("responses"), list):
            data["responses"] = [response for response in data["responses"] if response.get("uid") != uid]
        for value in data.values():
            _take_away(value, uid)
    elif isinstance(data, list):
        for value in data:
            _take_away(value, uid)


def _checked(piece: dict[str, Any], kind: str) -> Piece:
    """Return the piece, or raise RequestError (another kind) or SchemaProblem (no piece at all)."""
    if not isinstance(piece, dict) or piece.get("format") != FORMAT or piece.get("kind") != kind:
        raise RequestError(f"What was copied is no {kind}.", where="piece", remedy=f"Copy a {kind} first.")
    try:
        checked = Piece.model_validate(piece)
    except ValidationError as problem:
        error = problem.errors()[0]
        raise SchemaProblem(
            f"What was copied is damaged: {error['msg']}.", where="piece", remedy="Copy it again."
        ) from problem
    if getattr(checked, kind) is None:
        raise RequestError(f"What was copied is no {kind}.", where="piece", remedy=f"Copy a {kind} first.")
    return checked
