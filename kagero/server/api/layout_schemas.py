"""What a layout is over the wire: see `kagero.core.catalog.sheet`."""

from __future__ import annotations

from typing import Any, Literal

from ninja import Schema

from kagero.core.rows.field_offers import Kind

from .catalog_schemas import RowSpec, Unit

Path = list[str | int]


class EditSpec(Schema):
    path: Path
    value: Any


class KindSpec(Schema):
    kind: str
    label: str
    help: str
    why: str
    edits: list[EditSpec]


class FormSpec(Schema):
    """A form that a part can have, and the edits that give it that."""

    label: str
    chosen: bool
    edits: list[EditSpec]


class ChoosableSpec(Schema):
    value: Any
    label: str
    help: str
    why: str


class OfferedSpec(Schema):
    """A plain field of a part, and the control that shows it (`core/rows/field_offers.py`)."""

    name: str
    label: str
    help: str
    kind: Kind
    unit: Unit
    lowest: float | None
    highest: float | None
    default: Any
    options: list[ChoosableSpec]
    nothing: str
    accept: list[str]
    holds: str
    pictured: bool
    side: str
    on_request: bool


class FieldSpec(Schema):
    path: Path
    offered: OfferedSpec


class GuideSpec(Schema):
    """A mark on the stage: rows by their addresses, or nothing."""

    mark: Literal["cross", "disc", "ball", "box", "arrow", "falloff", "axis", "lattice"]
    at: str
    radius: str
    size: str
    direction: str
    core: str
    moved: bool
    space: str
    span: float
    fade: list[float]
    turn: str
    counts: list[int]
    points: list[tuple[float, float, float]]


class RegionSpec(Schema):
    response: str
    mask: str
    part: str
    masks: list[ChoosableSpec]
    made: dict[str, Any]


class ShowableSpec(Schema):
    label: str
    field: str
    shade: str
    help: str


class PartSpec(Schema):
    path: Path
    tag: str
    kind: str
    label: str
    help: str
    kinds: list[KindSpec]
    fields: list[FieldSpec]
    rows: list[str]
    strength: str
    removable: bool
    guides: list[GuideSpec]
    summary: str
    flags: list[str]
    region: RegionSpec | None
    lacks: str
    muted: bool
    card: str
    forms: list[FormSpec]
    headings: dict[str, str]
    compares: dict[str, str]


class LaidRowSpec(Schema):
    address: str
    path: Path
    spec: int
    label: str
    unused: bool
    plain: bool
    of: str
    host: str


class LaidSourceSpec(Schema):
    name: str
    column: str
    unit: Unit
    live: bool


class AddSpec(Schema):
    label: str
    group: str
    help: str
    path: Path
    value: Any
    append: bool
    why: str
    whole: bool


class ItemSpec(Schema):
    row: str
    part: str
    panel: str


class BandSpec(Schema):
    key: str
    label: str
    items: list[ItemSpec]
    adds: list[AddSpec]


class ThingSpec(Schema):
    rows: list[LaidRowSpec]
    parts: dict[str, PartSpec]
    sources: dict[str, LaidSourceSpec]
    bands: list[BandSpec]
    used: dict[str, list[str]]
    fitted: str


class Layout(Schema):
    specs: list[RowSpec]
    emitters: dict[str, ThingSpec]
    props: dict[str, ThingSpec]
    picture: dict[str, ThingSpec]
    addable: list[AddSpec]
    showable: list[ShowableSpec]
    used: dict[str, list[str]]
