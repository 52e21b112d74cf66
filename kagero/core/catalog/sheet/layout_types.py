"""What the sheet is made of, as it is laid out for the interface. Paths are those of the document; an item of a list
that has a uid is named by it, as "#uid", so that they hold while the list changes."""

from __future__ import annotations

from dataclasses import dataclass, field, fields, is_dataclass
from types import NoneType
from typing import Any

from ...rows.field_offers import Choosable, Offered
from ...rows.model import Guide

Path = tuple[str | int, ...]


@dataclass(frozen=True)
class Edit:
    """A value to put into a thing's document at a path."""

    path: Path
    value: Any


@dataclass(frozen=True)
class KindOffer:
    """A kind that a part could be. why: why not now; edits: what makes it so, in the thing's document: what both kinds
    have stays."""

    kind: str
    label: str
    help: str
    why: str
    edits: tuple[Edit, ...]


@dataclass(frozen=True)
class FormOffer:
    """A form that a part can have, of a few. chosen: it has that now; edits: what gives it that, in the thing's
    document."""

    label: str
    chosen: bool
    edits: tuple[Edit, ...]


@dataclass(frozen=True)
class LaidField:
    """A plain setting where it stands."""

    path: Path
    offered: Offered


@dataclass(frozen=True)
class Region:
    """Where a push acts: the response of its strength by which a mask says so, if there is one, and that mask; masks:
    those there are; made: the response that another becomes, without its mask."""

    response: str
    mask: str
    part: str
    masks: tuple[Choosable, ...]
    made: dict[str, Any]


@dataclass(frozen=True)
class Showable:
    """Something that the stage can show on props and particles. field: its name for the stage, KIND:UID; shade: of
    particles, their column."""

    label: str
    field: str
    shade: str
    help: str


@dataclass(frozen=True)
class LaidPart:
    """A part in the sheet. path: where it stands; tag, kind: which kind it is, and by which field; rows: the addresses
    of its own, in order.

    strength: the row that a region multiplies; removable: whether it can be taken away; guides: what the stage shows of
    it, by addresses; summary: of a prop, what it is in a word or two; flags: the facts of its kind that hold; region:
    of a push. lacks: what it cannot do without and has not, with what to do. muted: it does nothing now. card: the key
    of the card that says what it is. headings: of its rows, by address, where one is added. compares: the field of the
    row that one is compared with, by that one's address.
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
    lacks: str = ""
    muted: bool = False
    card: str = ""
    forms: tuple[FormOffer, ...] = ()
    headings: dict[str, str] = field(default_factory=dict)
    compares: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class LaidRow:
    """A row where it stands. of: of the setting of a response or source, the row that this belongs to; host: the row of
    the sheet.

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
    """Something that can be added: a value to append to a list, or to put, at a path; uids in it that are "new" get new
    ones. whole: the path is that of the effect, not of the emitter."""

    label: str
    group: str
    help: str
    path: Path
    value: Any
    append: bool
    why: str = ""  # it cannot be added now
    whole: bool = False


@dataclass(frozen=True)
class Item:
    """One thing in a band, in order: a row, a part, or a panel that the interface has of its own for a part of the
    emitter."""

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
    """The sheet of an emitter or prop. parts: by their paths, joined with dots; sources: by the uid of the response, or
    `base:` and a row's address; used: of its draws and own attributes, by uid, what reads each; fitted: what ranges are
    fitted to now (`catalog.fitting`)."""

    rows: tuple[LaidRow, ...]
    parts: dict[str, LaidPart]
    sources: dict[str, LaidSource]
    bands: tuple[Band, ...] = ()
    used: dict[str, tuple[str, ...]] = field(default_factory=dict)
    fitted: str = ""


def plain_data(thing: Any) -> Any:
    """Return what is laid out as plain data: dataclasses as objects by their fields, and what they hold. Values are
    shared, not copied."""
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
