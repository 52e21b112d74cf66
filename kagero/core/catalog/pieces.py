"""Pieces of an effect that are copied and put elsewhere: responses, a row's whole sentence, an emitter.

Every uid of a piece is renewed where it is put, and what refers to it follows: nothing is shared between two places.
What a piece needs from its emitter (draws, own attributes) goes with it, unless the other place has the same already.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Callable, Iterator, Sequence
from typing import Any, Literal

from pydantic import ValidationError

from ..effect import ColourRow, Dial, Draw, Effect, Emitter, Model, NumberRow, Own, Response, VectorRow, read_effect
from ..errors import LinkProblem, RequestError, SchemaProblem
from ..formula import identifier
from .naming import names_of, rename_names
from .rows import PlacedRow
from .scope import Scope
from .sources import all_rows
from .validate import no_worse

FORMAT = "kagero-piece"
NewUid = Callable[[], str]


class _Piece(Model):
    format: Literal["kagero-piece"]
    kind: Literal["responses", "row", "emitter"]
    responses: list[Response] | None = None
    row: NumberRow | VectorRow | ColourRow | None = None
    emitter: Emitter | None = None
    draws: list[Draw] = []
    own: list[Own] = []
    dials: list[Dial] = []


_ADDRESSED = ("forces", "draws", "own", "responses", "sources")  # the heads of addresses that go on with a uid


def copy_responses(emitter: Emitter, uids: list[str], dials: Sequence[Dial] = ()) -> dict[str, Any]:
    """Return a piece of some responses of an emitter, in the order given. Raises LinkProblem for one that is not there."""
    known = {r.uid: r for placed in all_rows(Scope(emitter)) for r in placed.row.responses}
    for uid in uids:
        if uid not in known:
            raise LinkProblem(f"There is no response {uid!r} to copy.", where="uids", remedy="Choose one that is in the sheet.")
    return _with_needs(emitter, {"format": FORMAT, "kind": "responses", "responses": [known[uid].model_dump(mode="json") for uid in uids]}, dials)


def copy_row(emitter: Emitter, address: str, dials: Sequence[Dial] = ()) -> dict[str, Any]:
    """Return a piece of a row's whole sentence: its base and all its responses."""
    row = _find(emitter, address).row.model_dump(mode="json")
    return _with_needs(emitter, {"format": FORMAT, "kind": "row", "row": row}, dials)


def copy_emitter(emitter: Emitter, dials: Sequence[Dial] = ()) -> dict[str, Any]:
    """Return a piece of a whole emitter."""
    made = _with_needs(emitter, {"format": FORMAT, "kind": "emitter", "emitter": emitter.model_dump(mode="json")}, dials)
    return {**made, "draws": [], "own": []}  # these are in the emitter


def paste_emitter(effect: Effect, piece: dict[str, Any], new_uid: NewUid) -> tuple[Effect, str]:
    """Return the effect with the piece's emitter behind the others, under a free name, and its uid."""
    piece = _checked(piece, "emitter")
    made = renewed(piece["emitter"], new_uid)
    taken = {emitter.name for emitter in effect.emitters}
    name = str(made.get("name", "Emitter"))[:70]
    made["name"] = name if name not in taken else next(n for i in range(2, 99) if (n := f"{name} {i}") not in taken)
    document = effect.model_dump(mode="json")
    _bring(document, {"draws": [], "own": []}, piece, made, new_uid)
    document["emitters"].append(made)
    return no_worse(effect, read_effect(document)), made["uid"]


def paste(effect: Effect, emitter_uid: str, address: str, piece: dict[str, Any], new_uid: NewUid,
          at: int | None = None, move: list[str] | None = None) -> tuple[Effect, list[str]]:  # fmt: skip
    """Return the effect with a piece of responses or a row put onto the row at an address, and the new responses' uids.

    at: before which response of the row; behind all without. move: responses of the same emitter to take away, so that
    they are moved rather than copied. A response is made to read once or live as the row can. Raises LinkProblem,
    SchemaProblem, RequestError for what is no piece, and EffectError when the changed effect could not be played.
    """
    document = effect.model_dump(mode="json")
    index = next((i for i, emitter in enumerate(effect.emitters) if emitter.uid == emitter_uid), None)
    if index is None:
        raise LinkProblem(f"There is no emitter {emitter_uid!r}.", where="emitter", remedy="Choose one of the effect's emitters.")
    emitter = document["emitters"][index]
    placed = _find(effect.emitters[index], address)
    kind = piece.get("kind")
    piece = _checked(piece, "row" if kind == "row" else "responses")
    given = piece["row"]["responses"] if kind == "row" else piece["responses"]
    body = renewed({"responses": given, "base": piece["row"]["base"] if kind == "row" else None}, new_uid)
    _bring(document, emitter, piece, body, new_uid)
    wanted = {"emitter": "live", "birth": "once"}.get(placed.spec.stage)
    for response in body["responses"]:
        response["read"] = wanted or response["read"]
        if placed.spec.kind != "vector" and "component" in response:
            response["component"] = "all"
    target = row_at_path(emitter, placed.path)
    if kind == "row":
        if isinstance(body["base"], (type(target["base"]), dict)):  # a number does not become a vector's base
            target["base"] = body["base"]
        if isinstance(target["base"], dict):
            target["base"]["read"] = wanted or target["base"]["read"]
        target["responses"] = body["responses"]
    else:
        place = len(target["responses"]) if at is None else at
        target["responses"][place:place] = body["responses"]
    for uid in move or []:
        _take_away(emitter, uid)
    return no_worse(effect, read_effect(document)), [response["uid"] for response in body["responses"]]


def renewed(data: Any, new_uid: NewUid) -> Any:
    """Return plain data in which every uid is a new one and every reference to it within the data follows."""
    names = {uid: new_uid() for uid in dict.fromkeys(_uids(data))}
    return _renamed(copy.deepcopy(data), names)


def _uids(data: Any) -> Iterator[str]:
    if isinstance(data, dict):
        if isinstance(data.get("uid"), str):
            yield data["uid"]
        for value in data.values():
            yield from _uids(value)
    elif isinstance(data, list):
        for value in data:
            yield from _uids(value)


def _renamed(data: Any, names: dict[str, str]) -> Any:
    if isinstance(data, dict):
        return {key: _name(key, value, names) if isinstance(value, str) else _renamed(value, names) for key, value in data.items()}
    if isinstance(data, list):
        return [_address(value, names) if isinstance(value, str) else _renamed(value, names) for value in data]
    return data


def _name(key: str, value: str, names: dict[str, str]) -> str:
    if key in ("uid", "draw", "own", "dial"):
        return names.get(value, value)
    return _address(value, names) if key == "row" else value


def _address(value: str, names: dict[str, str]) -> str:
    parts = value.split(".")
    heads = ("row", *_ADDRESSED) if parts[0] == "row" else _ADDRESSED
    at = 1 if parts[0] != "row" else 2
    if len(parts) > at and parts[at - 1] in heads:
        parts[at] = names.get(parts[at], parts[at])
    return ".".join(parts)


def _with_needs(emitter: Emitter, piece: dict[str, Any], dials: Sequence[Dial]) -> dict[str, Any]:
    """Return the piece with the draws, own attributes and dials that it reads, and those that these read in turn."""
    things: dict[str, Sequence[Any]] = {"draws": emitter.draws, "own": emitter.own, "dials": dials}
    known = {group: {thing.uid: thing.model_dump(mode="json") for thing in each} for group, each in things.items()}
    by_name = {f"{group}.{identifier(thing['name'])}": uid for group, each in known.items() for uid, thing in each.items()}
    needed: dict[str, dict[str, Any]] = {}
    waiting = list(_references(piece, by_name))
    while waiting:
        uid = waiting.pop()
        found = next((each[uid] for each in known.values() if uid in each), None)
        if found is not None and uid not in needed:
            needed[uid] = found
            waiting.extend(_references(found, by_name))
    brought = {group: [thing for uid, thing in each.items() if uid in needed] for group, each in known.items()}
    return {**piece, **brought}


def _references(data: Any, by_name: dict[str, str]) -> Iterator[str]:
    yield from (by_name[name] for name in names_of(data) if name in by_name)
    yield from _linked(data)


def _linked(data: Any) -> Iterator[str]:
    if isinstance(data, dict):
        for key, value in data.items():
            if key in ("draw", "own", "dial") and isinstance(value, str):
                yield value
            elif key == "row" and isinstance(value, str) and value.split(".")[0] in ("draws", "own"):
                yield value.split(".")[1]
            else:
                yield from _linked(value)
    elif isinstance(data, list):
        for value in data:
            yield from _linked(value)


def _bring(document: dict[str, Any], emitter: dict[str, Any], piece: dict[str, Any], body: dict[str, Any], new_uid: NewUid) -> None:
    """Let the body refer to the emitter's draws and attributes and the effect's dials: those there, and copies of the rest.

    Formulas of the body read them by the names they have there.
    """
    uids: dict[str, str] = {}
    names: dict[str, str] = {}
    added: list[tuple[list[dict[str, Any]], dict[str, Any]]] = []
    for group, holder in (("draws", emitter["draws"]), ("own", emitter["own"]), ("dials", document["dials"])):
        taken = {identifier(t["name"]) for t in holder}
        for thing in piece[group]:
            alike = (t for t in holder if _bare(t, group) == _bare(thing, group))
            same = next((t for t in holder if t["uid"] == thing["uid"]), None) or next(alike, None)
            name = same["name"] if same else _free(thing["name"], taken)
            uids[thing["uid"]] = same["uid"] if same else new_uid()
            names[f"{group}.{identifier(thing['name'])}"] = f"{group}.{identifier(name)}"
            if same is None:
                taken.add(identifier(name))
                added.append((holder, {**thing, "name": name}))
    for holder, thing in added:
        inner = {uid: new_uid() for uid in _uids({k: v for k, v in thing.items() if k != "uid"})}
        made = _renamed(copy.deepcopy(thing), uids | inner)
        rename_names(made, names)
        holder.append(made)
    renamed = _renamed(body, uids)
    rename_names(renamed, names)
    body.clear()
    body.update(renamed)


def _free(name: str, taken: set[str]) -> str:
    return name if identifier(name) not in taken else next(n for i in range(2, 99) if identifier(n := f"{name[:74]} {i}") not in taken)


def _bare(thing: dict[str, Any], group: str) -> dict[str, Any]:
    """Return what makes a thing what it is: a dial brought twice is one dial, but two draws alike draw apart."""
    made = {key: value for key, value in thing.items() if key != "uid"}
    return {**made, "name": re.sub(r" \d+$", "", thing["name"])} if group == "dials" else made


def _find(emitter: Emitter, address: str) -> PlacedRow:
    placed = next((placed for placed in all_rows(Scope(emitter)) if placed.address == address), None)
    if placed is None:
        raise LinkProblem(f"There is no row {address!r} in {emitter.name}.", where="address", remedy="Choose one of the emitter's rows.")
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


def _checked(piece: dict[str, Any], kind: str) -> dict[str, Any]:
    """Return the piece as plain data, or raise RequestError (another kind) or SchemaProblem (no piece at all)."""
    if not isinstance(piece, dict) or piece.get("format") != FORMAT or piece.get("kind") != kind:
        raise RequestError(f"What was copied is no {kind}.", where="piece", remedy=f"Copy a {kind} first.")
    try:
        made = _Piece.model_validate(piece)
    except ValidationError as problem:
        error = problem.errors()[0]
        raise SchemaProblem(f"What was copied is damaged: {error['msg']}.", where="piece", remedy="Copy it again.") from problem
    if getattr(made, kind) is None:
        raise RequestError(f"What was copied is no {kind}.", where="piece", remedy=f"Copy a {kind} first.")
    return made.model_dump(mode="json")
