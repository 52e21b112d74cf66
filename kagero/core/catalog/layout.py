"""The sheet, laid out for the interface: which rows there are and where they stand, the plain settings of every part with what can be
chosen, the kinds that could take its place, what can be added, what sources are called, and what is used where. Derived from the parts.

Paths are those of the document; an item of a list that has a uid is named by it, as "#uid", so that they hold while the list changes.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, fields, is_dataclass, replace
from types import NoneType
from typing import Any, Literal, get_origin

from ..document import Effect, Emitter, Thinning
from ..formula import identifier
from ..parts.draws import DRAWS
from ..parts.masks import MASKS
from ..parts.own import OWN
from ..parts.props import PROPS, PropOffer, PropPart
from ..parts.pushes import PUSHES, PushPart
from ..rows.model import FieldFacts, Guide, Part, fields_of, ordered, references, walk
from ..rows.offers import Choosable, Offered, offered
from ..rows.placed import PlacedRow, RowSpec
from ..rows.responses import sources_of
from ..rows.union import OpenUnion, union_of
from ..rows.view import found
from .naming import names_of, prop_names
from .scope import Scope

Path = tuple[str | int, ...]


@dataclass(frozen=True)
class Edit:
    """A value to put into a thing's document at a path."""

    path: Path
    value: Any


@dataclass(frozen=True)
class KindOffer:
    """A kind that a part could be. why: why not now; edits: what makes it so, in the thing's document: what both kinds have stays."""

    kind: str
    label: str
    help: str
    why: str
    edits: tuple[Edit, ...]


@dataclass(frozen=True)
class LaidField:
    """A plain setting where it stands."""

    path: Path
    offered: Offered


@dataclass(frozen=True)
class Region:
    """Where a push acts: the response of its strength by which a mask says so, if there is one, and that mask; masks: those there are; made:
    the response that another becomes, without its mask."""

    response: str
    mask: str
    part: str
    masks: tuple[Choosable, ...]
    made: dict[str, Any]


@dataclass(frozen=True)
class Showable:
    """Something that the stage can show on props and particles. field: its name for the stage, KIND:UID; shade: of particles, their column."""

    label: str
    field: str
    shade: str
    help: str


@dataclass(frozen=True)
class LaidPart:
    """A part in the sheet. path: where it stands; tag, kind: which kind it is, and by which field; rows: the addresses of its own, in order.

    strength: the row that a region multiplies; removable: whether it can be taken away; guides: what the stage shows of it, by addresses;
    summary: of a prop, what it is in a word or two; flags: the facts of its kind that hold; region: of a push.
    """

    path: Path
    tag: str
    kind: str
    label: str
    help: str
    kinds: tuple[KindOffer, ...]
    fields: tuple[LaidField, ...]
    rows: tuple[str, ...]
    strength: str = ""
    removable: bool = False
    guides: tuple[Guide, ...] = ()
    summary: str = ""
    flags: tuple[str, ...] = ()
    region: Region | None = None


@dataclass(frozen=True)
class LaidRow:
    """A row where it stands. of: of the setting of a response or source, the row that this belongs to; host: the row of the sheet.

    plain: it is a bare number in the document, as long as nothing drives it. spec: its place among the layout's specs.
    """

    address: str
    path: Path
    spec: int
    label: str
    unused: bool
    plain: bool
    of: str = ""
    host: str = ""


@dataclass(frozen=True)
class LaidSource:
    """What a source that is read is called, which column it stands in, and its unit. live: it changes within a life."""

    name: str
    column: str
    unit: dict[str, Any]
    live: bool


@dataclass(frozen=True)
class Addable:
    """Something that can be added: a value to append to a list, or to put, at a path; uids in it that are "new" get new ones."""

    label: str
    group: str
    help: str
    path: Path
    value: Any
    append: bool
    why: str = ""  # it cannot be added now


@dataclass(frozen=True)
class Item:
    """One thing in a band, in order: a row, a part, or a panel that the interface has of its own for a part of the emitter."""

    row: str = ""
    part: str = ""
    panel: str = ""


@dataclass(frozen=True)
class Band:
    key: str
    label: str
    items: tuple[Item, ...]
    adds: tuple[Addable, ...]


@dataclass(frozen=True)
class LaidThing:
    """The sheet of an emitter or prop. parts: by their paths, joined with dots; sources: by the uid of the response, or `base:` and a row's
    address; used: of its draws and own attributes, by uid, what reads each."""

    rows: tuple[LaidRow, ...]
    parts: dict[str, LaidPart]
    sources: dict[str, LaidSource]
    bands: tuple[Band, ...] = ()
    used: dict[str, tuple[str, ...]] = field(default_factory=dict)


def plain_data(thing: Any) -> Any:
    """Return what is laid out as plain data: dataclasses as objects by their fields, and what they hold. Values are shared, not copied."""
    kind = type(thing)
    if kind in (str, int, float, bool, NoneType):
        return thing
    if kind in (tuple, list):
        return [plain_data(each) for each in thing]
    if kind is dict:
        return {key: plain_data(value) for key, value in thing.items()}
    names = _names.get(kind)
    if names is None:
        names = _names[kind] = tuple(each.name for each in fields(kind)) if is_dataclass(kind) else ()
    return {name: plain_data(getattr(thing, name)) for name in names} if names else thing


_names: dict[type, tuple[str, ...]] = {}


def layout(effect: Effect) -> dict[str, Any]:
    """Return the sheets of an effect's emitters and props by uid, the specs that their rows share, and by the uid of a dial or prop what
    uses it; as plain data. The effect need not be playable."""
    specs: dict[RowSpec, int] = {}
    emitters = {emitter.uid: _emitter(effect, emitter, specs) for emitter in effect.emitters}
    props = {prop.uid: _thing(effect, prop, specs) for prop in effect.props}
    return {
        "specs": [plain_data(spec) for spec in specs],
        "emitters": {uid: plain_data(thing) for uid, thing in emitters.items()},
        "props": {uid: plain_data(thing) for uid, thing in props.items()},
        "addable": [plain_data(each) for each in (*addable_props(), *_addable_masks(effect))],
        "showable": plain_data(tuple(showables(effect))),
        "used": {uid: list(words) for uid, words in users(effect).items()},
    }


# one emitter or prop ----------------------------------------------------------------------------------------------------
def _thing(effect: Effect, thing: Any, specs: dict[RowSpec, int], bands: tuple[Band, ...] = ()) -> LaidThing:
    scope = Scope(thing, effect)
    rows = tuple(_row(thing, placed, scope, specs) for placed in scope.rows.values())
    parts = {_joined(part.path): part for part in _parts(effect, thing)}
    sources = {}
    for placed in scope.rows.values():
        for source, _, response in sources_of(placed.row):
            facts = source.facts(scope)
            name = facts.label if not source.missing(scope) or "missing" in facts.label else f"missing {facts.label}"
            key = f"base:{placed.address}" if response is None else response.uid
            sources[key] = LaidSource(name, source.column(), plain_data(facts.unit), facts.changes)
    return LaidThing(rows, parts, sources, bands, _used_within(thing) if isinstance(thing, Emitter) else {})


def _row(thing: Any, placed: PlacedRow, scope: Scope, specs: dict[RowSpec, int]) -> LaidRow:
    path = named_path(thing, placed.path)
    plain = placed.depth > 0 and not isinstance(_at(thing, placed.path), Part) and not hasattr(_at(thing, placed.path), "base")
    label = scope.row_label(placed) if not placed.depth else placed.spec.label
    of = ""
    if placed.depth:
        steps = placed.path.split(".")
        end = max(i for i, step in enumerate(steps) if step in ("responses", "base"))
        of = next(row.address for row in scope.rows.values() if row.path == ".".join(steps[:end]))
    return LaidRow(placed.address, path, specs.setdefault(placed.spec, len(specs)), label, placed.unused, plain, of, placed.host)


def _emitter(effect: Effect, emitter: Emitter, specs: dict[RowSpec, int]) -> LaidThing:
    def rows(*addresses: str) -> tuple[Item, ...]:
        return tuple(Item(row=address) for address in addresses)

    def parts(group: str) -> tuple[Item, ...]:
        return tuple(Item(part=f"{group}.#{each.uid}") for each in getattr(emitter, group))

    burst = Addable("Burst", "births", "Particles that are born together, at a frame of the clip.", ("births", "bursts"),
                    {"uid": "new", "frame": effect.clip.first_frame, "count": 50}, True,
                    "Births from particles have no bursts of their own." if emitter.births.place.parted else "")  # fmt: skip
    pushes = [Addable(kind.label, "forces", kind.help, ("forces",), {**kind.template(), "uid": "new", "muted": False}, True)
              for kind in PUSHES.classes()]  # fmt: skip
    draws = _addable_draws(emitter)
    own = [Addable(words, group, help, ("own",), {**kind.template(), **more, "uid": "new", "name": _free(emitter.own, name)}, True)
           for kind in OWN.classes() for words, group, help, name, more in kind.offers]  # fmt: skip
    thinning = Addable("Thinning", "rows", "Fewer are shown further from a camera or prop, and none outside its view.", ("thinning",),
                       Thinning().model_dump(mode="json"), False)  # fmt: skip
    look = [f"look.{facts.name}" for facts in fields_of(type(emitter.look)) if facts.driven]
    births = (*rows("births.rate"), Item(panel="timing"), Item(panel="bursts"), Item(part="births.place"), *rows("births.lifespan"),
              Item(part="births.launch"), *rows("births.begins", "births.keep", "births.mass", "births.rotation"))  # fmt: skip
    bands = (
        Band("births", "births", births, (burst,)),
        Band("motion", "motion", (*parts("forces"), *rows("motion.spin", "motion.grip")), tuple(pushes)),
        Band("look", "look", (*rows(*look), Item(part="look"), *((Item(part="thinning"),) if emitter.thinning else ())),
             () if emitter.thinning else (thinning,)),
        Band("endings", "endings", (Item(panel="lifespan"),), ()),
        Band("draws", "draws", parts("draws"), tuple(draws)),
        Band("own", "own attributes", parts("own"), tuple(sorted(own, key=lambda each: each.group != "with memory"))),
    )  # fmt: skip
    return _thing(effect, emitter, specs, bands)


def addable_props() -> tuple[Addable, ...]:
    """Return the props that can be added without a file."""
    kinds = tuple(kind for kind in PROPS.classes() if not kind.mask)
    if kinds not in _without_file:
        _without_file[kinds] = tuple(_addable(kind, offer) for kind in kinds for offer in kind.offers)
    return _without_file[kinds]


_without_file: dict[tuple[type, ...], tuple[Addable, ...]] = {}


def props_of_file(file: dict[str, Any]) -> list[dict[str, Any]]:
    """Return what a file that was brought in can become, as plain data; `group` is the kind of prop. file: its facts, content and name."""
    return [plain_data(_addable(kind, offer)) for kind in PROPS.classes() for offer in kind.of_file(file)]


def _addable(kind: type[PropPart], offer: PropOffer) -> Addable:
    data = {**kind.template(), **offer.fields, "uid": "new", "name": offer.name}
    made = kind.model_validate(data).model_dump(mode="json")
    return Addable(offer.label, offer.group or str(made["kind"]), kind.help or (kind.__doc__ or "").strip(), ("props",), made, True)


def _addable_masks(effect: Effect) -> Iterator[Addable]:
    nobody = MASKS.classes()[0].model_construct(uid="new")
    for tag, kind in MASKS.kinds.items():
        data = _made(effect, nobody, kind, {**kind.template(), "shape": tag, "uid": "new", "name": f"{kind.label.lower()} mask"}, {})
        why = kind.model_construct(**data).possible(effect, nobody)
        made = None if why else kind.model_validate(data).model_dump(mode="json")
        group = "masks of other masks" if kind.needs == "masks" else "masks of a prop" if kind.needs else "masks"
        yield Addable(kind.label, group, kind.help, ("props",), made, True, why)


def _addable_draws(emitter: Emitter) -> list[Addable]:
    letters = (f"draw {chr(65 + i % 26)}{i // 26 or ''}" for i in range(26 * 8))
    taken = {draw.name for draw in emitter.draws}
    name = next(each for each in letters if each not in taken)
    return [Addable(f"Draw: {kind.label}", "random, once a particle", kind.help, ("draws",), {**kind.template(), "uid": "new", "name": name}, True)
            for kind in DRAWS.classes()]  # fmt: skip


def _free(things: list[Any], name: str) -> str:
    taken = {thing.name for thing in things}
    return name if name not in taken else next(each for i in range(2, 99) if (each := f"{name} {i}") not in taken)


# parts ------------------------------------------------------------------------------------------------------------------
def _parts(effect: Effect, thing: Any) -> Iterator[LaidPart]:
    """Yield a prop itself, or the parts of an emitter that have kinds or settings."""
    if isinstance(thing, PropPart):
        yield _part(effect, thing, thing, (), MASKS if thing.mask else None, "")
        return
    yield from _within(effect, thing, thing, ())


def _within(effect: Effect, thing: Any, part: Any, path: Path) -> Iterator[LaidPart]:
    for facts in fields_of(type(part)):
        value = getattr(part, facts.name)
        union = union_of(facts)
        here = (*path, facts.name)
        if isinstance(value, Part):
            if union is not None or any(each.setting for each in fields_of(type(value))):
                yield _part(effect, thing, value, here, union, _address(here))
            yield from _within(effect, thing, value, here)
        elif isinstance(value, list) and union is not None:
            for each in value:
                yield _part(effect, thing, each, (*here, f"#{each.uid}"), union, f"{facts.name}.{each.uid}.", removable=True)
        elif value is not None and hasattr(type(value), "model_fields") and any(each.setting for each in fields_of(type(value))):
            yield LaidPart(here, "", "", "", "", (), _fields(effect, thing, value, here), ())


def _address(path: Path) -> str:
    return "".join(f"{step}." for step in path)


def _part(effect: Effect, thing: Any, part: Part, path: Path, union: OpenUnion | None, address: str, removable: bool = False) -> LaidPart:
    kind = type(part)
    tag = union.tag if union is not None else ""
    rows = tuple(f"{address or 'place.'}{facts.name}" for facts in ordered(kind) if facts.driven)
    unused = part.unused()
    strength = f"{address}{part.strength_row()}" if isinstance(part, PushPart) else ""
    kinds = () if union is None or isinstance(part, PushPart) else tuple(_kinds(effect, thing, part, path, union))
    shown = tuple(row for row in rows if row.removeprefix(address or "place.") not in unused)
    return LaidPart(
        path, tag, str(getattr(part, tag, "")), kind.label, kind.help, kinds, _fields(effect, thing, part, path), shown, strength, removable,
        tuple(_guides(thing, part, address)), part.summary() if isinstance(part, PropPart) else "",
        tuple(flag for flag in part.flags if getattr(part, flag)), _region(effect, part) if isinstance(part, PushPart) else None,
    )  # fmt: skip


def _region(effect: Effect, part: PushPart) -> Region:
    """Return where a push acts. A region is a response of its strength like any other: a mask that multiplies it."""
    row = getattr(part, part.strength_row())
    masks = tuple(Choosable(prop.uid, prop.name) for prop in effect.props if prop.mask)
    straight = {"keys": [{"x": 0.0, "y": 0.0, "shape": "linear"}, {"x": 1.0, "y": 1.0, "shape": "linear"}]}
    made = {"kind": "curve", "uid": "new", "source": {"kind": "mask", "mask": "", "part": "value"}, "read": "live", "operation": "multiply",
            "amount": 1.0, "muted": False, "input": [0.0, 1.0], "beyond": "hold", "shift": 0.0, "curve": straight, "exponent": 1.0,
            "output": [0.0, 1.0], "component": "all"}  # fmt: skip
    for response in row.responses:
        source = response.source
        if response.kind == "curve" and response.operation == "multiply" and getattr(source, "mask", None) and source.part != "since":
            return Region(response.uid, source.mask, source.part, masks, made)
    return Region("", "", "", masks, made)


def showables(effect: Effect) -> Iterator[Showable]:
    """Yield what the stage can show on props: masks, and what emitters make of the props that they are born on."""
    for prop in effect.props:
        if prop.mask:
            yield Showable(prop.name, f"mask:{prop.uid}", f"mask.{prop.uid}.value", "The mask, on particles and props.")
    for emitter in effect.emitters:
        for part in (emitter.births.place, emitter.births.launch):
            for kind, label, words in part.on_stage(emitter):
                yield Showable(f"{emitter.name}: {label}", f"{kind}:{emitter.uid}", "", words)


def _guides(thing: Any, part: Part, address: str) -> Iterator[Guide]:
    """Yield a part's guides with addresses of rows; those that stand where births are only where these have a place of their own."""
    for guide in part.guides:
        at = f"{address}{guide.at}"
        if not guide.at:
            births = next((each.at for each in thing.births.place.guides if each.at), "")
            if not births:
                continue
            at = f"births.place.{births}"
        radius, size, direction = (f"{address}{field}" if field else "" for field in (guide.radius, guide.size, guide.direction))
        yield replace(guide, at=at, radius=radius, size=size, direction=direction)


def _fields(effect: Effect, thing: Any, part: Any, path: Path) -> tuple[LaidField, ...]:
    made = []
    unused = part.unused() if isinstance(part, Part) else frozenset()
    for facts in fields_of(type(part)):
        if facts.name in unused:
            continue
        options = _options(effect, thing, part, facts)
        there = offered(facts, options)
        if there is not None:
            made.append(LaidField((*path, facts.name), there))
    return tuple(made)


def _options(effect: Effect, thing: Any, part: Any, facts: FieldFacts) -> tuple[Choosable, ...] | None:
    """Return what a field can name or be, where that depends on the effect; with what it names and is not there."""
    things = part.named_by(facts.name, effect, thing) if isinstance(part, Part) else None
    if facts.refers is not None:
        group = getattr(effect, facts.refers.group, [])
        if things is None:
            things = [each for each in group if each is not thing and (not facts.refers.fits or getattr(each, facts.refers.fits))]
        options = [Choosable(each.uid, each.name) for each in things]
        for uid in references(facts, getattr(part, facts.name, None)):
            if uid not in {each.uid for each in things}:
                named = found(group, uid)
                options.insert(0, Choosable(uid, "missing" if named is None else named.name, why="It is not there, or does not fit."))
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
        data = _made(effect, thing, kind, {**kind.template(), union.tag: tag}, before)
        try:
            made = kind.model_validate(data)
        except ValueError:
            made = None
        why = kind.model_construct(**{**data, "uid": before.get("uid", "new")}).possible(effect, thing)
        settled = made.settled_fields(effect, thing) if made is not None else {}
        edits = [Edit(path, made.model_dump(mode="json") if made is not None else data)]
        edits += [Edit(tuple(where.split(".")), value) for where, value in settled.items()]
        yield KindOffer(tag, kind.label, kind.help, why or ("" if made is not None else "It lacks what it needs."), tuple(edits))


def _made(effect: Effect, thing: Any, kind: type[Part], template: dict[str, Any], before: dict[str, Any]) -> dict[str, Any]:
    """Return a new part of a kind: what the old one has too stays, and what it names is there."""
    fields = [facts for facts in fields_of(kind) if facts.setting is not None or get_origin(facts.annotation) is not Literal]
    made = {**template, **{facts.name: before[facts.name] for facts in fields if facts.name in before}}
    named = [facts for facts in fields if facts.refers is not None]
    nothing = {facts.name: [] if _is_list(facts) else "" for facts in named}
    empty = kind.model_construct(**{**nothing, **template, "uid": before.get("uid", "new")})
    for facts in named:
        options = _options(effect, thing, empty, facts) or ()
        if options and not made.get(facts.name):
            made[facts.name] = [each.value for each in options[:2]] if _is_list(facts) else options[0].value
    for facts in fields:
        name = facts.name
        if facts.refers is None and facts.setting is not None:
            varies = kind.values_of is not Part.values_of
            allowed = kind.model_construct(**{**nothing, **made, "uid": "new"}).values_of(name, effect) if varies else None
            choices = allowed or tuple(each.value for each in (offered(facts) or Offered("", "", "", "text")).options)
            if choices and made.get(name) not in choices and (name in made or allowed):
                made[name] = choices[0]
    return made


def _is_list(facts: FieldFacts) -> bool:
    there = offered(facts)
    return there is not None and there.kind == "references"


# what is used where -----------------------------------------------------------------------------------------------------
def _used_within(emitter: Emitter) -> dict[str, tuple[str, ...]]:
    """Return, of an emitter's draws and own attributes by uid, the rows that read each."""
    held: list[Any] = [*emitter.draws, *emitter.own]
    made: dict[str, list[str]] = {thing.uid: [] for thing in held}
    names = {f"{group}.{identifier(thing.name)}": thing.uid for group in ("draws", "own") for thing in getattr(emitter, group)}
    scope = Scope(emitter)
    for placed in scope.rows.values():
        for source, *_ in sources_of(placed.row):
            words = scope.row_label(scope.rows[placed.host] if placed.host else placed)
            uids = [uid for _, facts, value in walk(source) for uid in references(facts, value)]
            uids += [value.split(".")[1] for _, facts, value in walk(source) if "address" in facts.marks and value.startswith(("draws.", "own."))]
            uids += [names[name] for name in names_of(source) if name in names]
            for uid in uids:
                if uid in made:
                    made[uid].append(words)
    return {uid: tuple(words) for uid, words in made.items()}


def users(effect: Effect) -> dict[str, tuple[str, ...]]:
    """Return, by the uid of a dial or prop, the names of the emitters and props that use it, each once."""
    things: list[Any] = [*effect.emitters, *effect.props]
    names: dict[str, str] = {f"dials.{identifier(dial.name)}": dial.uid for dial in effect.dials}
    names |= {name: prop.uid for prop in effect.props for name in prop_names(prop)}
    held: list[Any] = [*effect.dials, *effect.props]
    made: dict[str, dict[str, None]] = {each.uid: {} for each in held}
    for thing in things:
        uids = {
            uid for _, facts, value in walk(thing) if facts.refers and facts.refers.group in ("dials", "props") for uid in references(facts, value)
        }
        uids |= {names[name] for name in names_of(thing) if name in names}
        for uid in uids - {thing.uid}:
            if uid in made:
                made[uid][thing.name] = None
    return {uid: tuple(words) for uid, words in made.items()}


# paths ------------------------------------------------------------------------------------------------------------------
def named_path(thing: Any, path: str) -> Path:
    """Return a dotted path with the items of lists named by their uids."""
    made: list[str | int] = []
    here = thing
    for step in path.split("."):
        if isinstance(here, (list, tuple)):
            here = here[int(step)]
            made.append(f"#{here.uid}" if hasattr(here, "uid") else int(step))
        else:
            here = getattr(here, step)
            made.append(step)
    return tuple(made)


def _at(thing: Any, path: str) -> Any:
    for step in path.split("."):
        thing = thing[int(step)] if isinstance(thing, (list, tuple)) else getattr(thing, step)
    return thing


def _joined(path: Path) -> str:
    return ".".join(str(step) for step in path)
