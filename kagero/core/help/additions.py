"""Parts put into an effect's document, with whatever they need: for cards and for what is tried on an effect."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..beginnings.parts import effect as new_effect
from ..catalog import Scope
from ..catalog.pieces import row_at_path
from ..catalog.validate import OF_EMITTERS
from ..document import ONCE, Effect, Emitter, once, read_effect
from ..errors import RequestError
from ..parts.contacts import CONTACTS
from ..parts.cues import CUES
from ..parts.draws import DRAWS
from ..parts.launches import LAUNCHES
from ..parts.looks import LOOKS
from ..parts.places import PLACES
from ..parts.pushes import PUSHES
from ..parts.rides import RIDES
from ..parts.shapings import SHAPINGS
from ..rows.example import Data, merged
from ..rows.model import Part, Refers, fields_of
from ..rows.placed import PlacedRow
from ..rows.union import OpenUnion
from ..rows.view import find_thing
from ..rows.writing import STRAIGHT, colours, curve, row, source
from .fixtures import COLD, HOT, WARM, fixtures, fountain

NewUid = Callable[[], str]
HALF = "test"  # the kind of cue that happens at half of life
LISTS: dict[str, tuple[str, OpenUnion]] = {  # parts that an emitter has any number of: the field, and their kinds
    "force": ("forces", PUSHES),
    "ride": ("rides", RIDES),
    "contact": ("contacts", CONTACTS),
    "cue": ("cues", CUES),
    "shaping": ("shaping", SHAPINGS),
}
SINGLE: dict[str, tuple[tuple[str, ...], OpenUnion]] = {  # parts of which it has one
    "place": (("births", "place"), PLACES),
    "launch": (("births", "launch"), LAUNCHES),
    "look": (("look",), LOOKS),
}


class Additions:
    """An effect's document while parts are put into it. emitter: the one that is looked at, as plain data.

    alone: what it shows acts alone, with the settings of its example: for cards.
    """

    def __init__(self, effect: Effect, emitter_uid: str, new_uid: NewUid, alone: bool = False):
        self.effect, self.new_uid, self.alone = effect, new_uid, alone
        index = next((i for i, each in enumerate(effect.emitters) if each.uid == emitter_uid), None)
        if index is None:
            raise RequestError(
                f"There is no emitter {emitter_uid!r}.", where="emitter", remedy="Choose one of the effect's."
            )
        self.document = effect.model_dump(mode="json")
        self.of = effect.emitters[index]
        self.emitter = self.document["emitters"][index]
        self.shown: set[str] = set()  # uids of a card's own props that are seen though nothing names them
        self.scope = Scope(self.of, effect)

    def look_again(self) -> None:
        """See what was put in so far: rows and sources are those of the document as it is now."""
        self.effect = read_effect(self.document)
        self.of = find_thing(self.effect.emitters, self.of.uid)
        self.scope = Scope(self.of, self.effect)

    # parts ------------------------------------------------------------------------------------------------------------
    def beside(self, key: str) -> None:
        """Add a part that something needs beside it, by its key; in a card with its own example. A contact or a cue
        that is there already will do."""
        family, _, tag = key.partition(":")
        if family == "once":
            self.once(tuple(tag.split(".")))
        elif family in SINGLE:
            self.single(family, tag)
        elif family in ("force", "ride") or not self.emitter[LISTS[family][0]]:
            self.part(family, tag)

    def part(self, family: str, tag: str, fields: Data | None = None) -> dict[str, Any]:
        """Add one of those that an emitter has any number of; return it, as plain data in its place."""
        group, union = LISTS[family]
        kind = union.kinds[tag]
        if self.alone and family in ("force", "ride"):
            self.emitter["forces"] = []
        self.show(kind)
        data = {**with_uids(kind.template(), self.new_uid), "uid": self.new_uid()}
        if "name" in kind.model_fields:
            data["name"] = "cue"
        data = merged(merged(data, kind.example.fields if self.alone else {}), fields or {})
        added: dict[str, Any] = kind.model_validate(self.complete(kind, data)).model_dump(mode="json")
        self.emitter.setdefault(group, []).append(added)
        return added

    def single(self, family: str, tag: str, fields: Data | None = None) -> dict[str, Any]:
        """Give the emitter another of what it has one of; return it, as plain data in its place."""
        path, union = SINGLE[family]
        kind = union.kinds[tag]
        data = merged(with_uids(kind.template(), self.new_uid), fields or {})
        data = merged(data, kind.example.fields if self.alone else {})
        holder = self.emitter if len(path) == 1 else self.emitter[path[0]]
        self.show(kind)
        holder[path[-1]] = kind.model_validate(self.complete(kind, data)).model_dump(mode="json")
        self.look_again()
        return dict(holder[path[-1]])

    def once(self, path: tuple[str, ...], fields: Data | None = None, shown: bool = True) -> dict[str, Any]:
        """Give the emitter what one has at most once, where it has none; return it, as plain data in its place. shown:
        with what its example has beside it."""
        kind = ONCE[path]
        holder = self.emitter
        for step in path[:-1]:
            holder = holder[step]
        data = holder[path[-1]] or kind().model_dump(mode="json")
        data = merged(merged(data, kind.example.fields if self.alone else {}), fields or {})
        holder[path[-1]] = data = kind.model_validate(self.complete(kind, data)).model_dump(mode="json")
        self.look_again()
        if shown:
            self.show(kind)
        return data

    def show(self, kind: type[Part]) -> None:
        """Put in what a kind's example has beside it; on an effect that somebody made, only what it needs."""
        if self.alone:
            for uid, changes in kind.example.fixtures.items():
                each = next(prop for prop in self.document["props"] if prop["uid"] == uid)
                each.update(changes)
                self.shown.add(uid)
            self.document["props"] += [dict(prop) for prop in kind.example.props]
            self.merge(kind.example.emitter)
        for key in (*kind.example.needs, *(kind.example.beside if self.alone else ())):
            self.beside(key)

    def merge(self, fields: Data) -> None:
        """Merge fields into the emitter, with new uids where they ask for some."""
        changed = merged(self.emitter, with_uids(dict(fields), self.new_uid))
        self.emitter.clear()
        self.emitter.update(changed)

    # needs ------------------------------------------------------------------------------------------------------------
    def complete(self, kind: type[Part], data: dict[str, Any]) -> dict[str, Any]:
        """Return a part, as plain data, in which every field that must name something names what is there and fits, or
        what is added for it; what the part relies on is added, too."""
        data = self.required(kind, data)
        for _ in kind.model_fields:
            part = kind.model_validate(data)
            field = (part.unmet_need(self.effect) or ("",))[0] or _unnamed(part)
            if not any(facts.name == field and facts.refers is not None for facts in fields_of(kind)):
                break
            several = isinstance(getattr(part, field), (list, tuple))
            data = {**data, field: self.several(part, field) if several else self.named(part, field)}
        needs = part.relies_on()
        if needs and once(self.of, needs) is None:
            self.once(needs, shown=False)
        return data

    def required(self, kind: Any, data: dict[str, Any]) -> dict[str, Any]:
        """Return a part or a source, as plain data, in which those fields name something that must."""
        self.look_again()
        for facts in fields_of(kind):
            if facts.refers is not None and kind.model_fields[facts.name].is_required() and not data.get(facts.name):
                data = {**data, facts.name: self.named(kind.model_construct(**data), facts.name)}
        return data

    def named(self, part: Any, field: str) -> str:
        """Return the uid of what a part's field can name: the first that is there and fits, or what is added."""
        refers = next(facts.refers for facts in fields_of(type(part)) if facts.name == field)
        assert refers is not None
        there = _nameable(part, field, refers, self.effect, self.of)
        return str(there[0].uid) if there else self.thing(part, field, refers)

    def several(self, part: Part, field: str) -> list[str]:
        """Return the uids of up to two things that one of a part's fields can name; of one at least."""
        refers = next(facts.refers for facts in fields_of(type(part)) if facts.name == field)
        assert refers is not None
        there = _nameable(part, field, refers, self.effect, self.of)
        return [str(each.uid) for each in there[:2]] or [self.thing(part, field, refers)]

    def thing(self, part: Any, field: str, refers: Refers) -> str:
        """Add something that a field of a part can name; return its uid. Raises RequestError where only somebody's file
        would do."""
        if refers.group == "cues":
            owner = str(getattr(part, "emitter", None) or self.of.uid)
            return self.cue(next(each for each in self.document["emitters"] if each["uid"] == owner))
        if refers.group == "emitters":
            return self.another_emitter()
        uid = self.new_uid()
        if refers.group == "dials":
            fields = {"uid": uid, "name": "tried", "value": 0.5, "default": 0.5, "low": 0.0, "high": 1.0}
            self.document["dials"].append(fields)
        elif refers.group == "moments":
            clip = self.effect.clip
            frame = (clip.first_frame + clip.last_frame) // 2
            self.document["moments"].append({"uid": uid, "name": "tried", "frame": frame})
        elif refers.group == "own":
            self.emitter["own"].append({**fountain()["own"][0], "uid": uid, "name": "tried"})
        elif refers.group == "props":
            return self.fixture(part, field, refers)
        else:
            raise RequestError(f"There is no {part.label} here.", where="key", remedy="Add one first.")
        self.look_again()
        return uid

    def fixture(self, part: Any, field: str, refers: Refers) -> str:
        """Add the first of a card's props that fits and is of no file; return its uid."""
        stock = read_effect(new_effect("Card", [fountain()], props=fixtures()))
        fits = [each for each in _nameable(part, field, refers, stock, stock.emitters[0]) if not any(each.referred())]
        if not fits:
            why = (
                isinstance(part, Part) and part.possible(self.effect, self.of)
            ) or "There is nothing here that it could be of."
            raise RequestError(f"{part.label}: {why}", where="key", remedy="Bring it in under Props first.")
        fields = next(each for each in fixtures() if each["uid"] == fits[0].uid)
        if fields.pop("follow", None):
            fields |= {"position": row([0.0, 0.8, 0.0]), "shown": "lines"}
        return self.prop(fields)

    def cue(self, emitter: dict[str, Any]) -> str:
        """Add a cue at half of life to an emitter; return its uid."""
        kind = CUES.kinds[HALF]
        fields = {**with_uids(kind.template(), self.new_uid), "uid": self.new_uid(), "name": "half of life"}
        emitter["cues"].append(kind.model_validate(fields).model_dump(mode="json"))
        self.look_again()
        return str(fields["uid"])

    def another_emitter(self) -> str:
        """Return the uid of another emitter: of a card's own. Raises RequestError on an effect that somebody made."""
        if not self.alone:
            raise RequestError("There is no other emitter in this effect.", where="key", remedy="Add an emitter first.")
        other = Emitter.model_validate(fountain(uid="other", name="Other"))
        self.document["emitters"].append(other.model_dump(mode="json"))
        self.look_again()
        return "other"

    def prop(self, fields: dict[str, Any]) -> str:
        """Add a prop or mask; return its uid."""
        taken = {each["name"] for each in self.document["props"]}
        uid = self.new_uid()
        self.document["props"].append({**fields, "uid": uid, "name": free_name(fields["name"], taken)})
        self.look_again()
        return uid

    def draw(self, kind: str = "uniform") -> tuple[dict[str, Any], tuple[float, float]]:
        """Add a draw; return it as a source, with its range."""
        taken = {each["name"] for each in self.emitter["draws"]}
        name = next(each for i in range(1, 999) if (each := f"tried {i}") not in taken)
        chance = DRAWS.kinds[kind].model_validate({**DRAWS.kinds[kind].template(), "uid": self.new_uid(), "name": name})
        self.emitter["draws"].append(chance.model_dump(mode="json"))
        low, high = chance.range()
        return source("draw", draw=chance.uid), (float(low), float(high))

    # rows -------------------------------------------------------------------------------------------------------------
    def placed(self, key: str) -> PlacedRow:
        """Return a row of the emitter by its address or by the key of its kind. Raises RequestError where it has
        none."""
        rows = self.scope.rows
        placed = rows.get(key) or next((each for each in rows.values() if each.spec.key == key and not each.host), None)
        if placed is None:
            raise RequestError("This emitter has no such row.", where="key", remedy="Add what has it first.")
        return placed

    def drive(
        self,
        placed: PlacedRow,
        driver: dict[str, Any],
        span: tuple[float, float],
        output: tuple[float, float],
        operation: str = "multiply",
        keys: Any = STRAIGHT,
        read: str | None = None,
    ) -> None:
        """Add a response to a row; of a colour one through a gradient."""
        spec = placed.spec
        read = read or {"birth": "once", "emitter": "live"}.get(spec.stage, "live")
        if spec.kind == "colour":
            fields = {
                **colours(self.new_uid(), driver, (0, COLD), (0.5, WARM), (1, HOT)),
                "input": list(span),
                "read": read,
            }
        else:
            fields = curve(self.new_uid(), driver, keys, input=span, output=output, operation=operation, read=read)
        self.row(placed)["responses"].append(fields)

    def row(self, placed: PlacedRow) -> dict[str, Any]:
        """Return a row of the emitter, as plain data that is changed in place."""
        return row_at_path(self.emitter, placed.path)


def free_name(name: str, taken: set[str]) -> str:
    """Return a name, with a number where it is taken."""
    return next(each for i in range(1, 999) if (each := name if i == 1 else f"{name} {i}") not in taken)


def _unnamed(part: Part) -> str:
    """Return the first field of a part that must name something and names nothing; or nothing."""
    needed = (facts for facts in fields_of(type(part)) if facts.refers is not None and facts.refers.needed)
    return next((facts.name for facts in needed if not getattr(part, facts.name)), "")


def _nameable(part: Any, field: str, refers: Refers, effect: Effect, thing: Any) -> list[Any]:
    """Return what a field of a part can name; masks last, where anything that is placed will do."""
    things = part.named_by(field, effect, thing) if isinstance(part, Part) else None
    if things is None:
        group = getattr(thing if refers.group in OF_EMITTERS else effect, refers.group)
        things = [each for each in group if each is not thing and (not refers.fits or getattr(each, refers.fits))]
    return sorted(things, key=lambda each: bool(getattr(each, "mask", False)))


def with_uids(data: Any, new_uid: Any) -> Any:
    """Return plain data in which every uid that is "new" is one."""
    if isinstance(data, dict):
        return {
            key: new_uid() if key == "uid" and value == "new" else with_uids(value, new_uid)
            for key, value in data.items()
        }
    return [with_uids(each, new_uid) for each in data] if isinstance(data, list) else data
