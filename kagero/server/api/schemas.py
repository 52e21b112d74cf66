"""What goes over the wire."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from kagero.core.effect import Effect


class FindingOut(Schema):
    code: str
    where: str
    message: str
    remedy: str


class Problem(Schema):
    findings: list[FindingOut]
    revision: int | None = None


class Card(Schema):
    id: int
    name: str
    saved: datetime
    first_frame: int
    last_frame: int
    frame_rate: float
    emitters: int
    revision: int


class CardFacts(Schema):
    counts: list[int]
    pictures: int
    width: int
    height: int


class Opened(Schema):
    id: int
    revision: int
    saved: datetime
    document: Effect
    undo: str | None
    redo: str | None


class Strict(Schema):
    model_config = ConfigDict(extra="forbid")


class Draft(Strict):
    revision: int
    document: dict[str, Any]
    label: str = Field(min_length=1, max_length=200)


class Step(Strict):
    revision: int


class Made(Strict):
    document: dict[str, Any]
    label: str = Field(default="Made", max_length=120)


class Picked(Strict):
    """A particle: its emitter and its key, a whole number of 64 bits as text."""

    emitter: str
    key: str = Field(pattern=r"^\d{1,20}$")


class Held(Strict):
    uid: str = Field(max_length=40)
    motion: str = Field(max_length=40)
    look: str = Field(max_length=40)
    first: int
    last: int


class Play(Strict):
    window: str = Field(min_length=1, max_length=64)
    document: dict[str, Any]
    now: int
    whole: bool = True
    facts: bool = True
    measured: bool = True
    picked: Picked | None = None
    shade: str = Field(default="", max_length=160)
    held: list[Held] = Field(default=[], max_length=2000)


class AboutEmitter(Strict):
    document: dict[str, Any]
    emitter: str
    frame: int


class SourcesIn(AboutEmitter):
    address: str


class FilterIn(Strict):
    column: str
    low: float | None = None
    high: float | None = None


class TableIn(AboutEmitter):
    sort: str = ""
    descending: bool = False
    filters: list[FilterIn] = Field(default=[], max_length=16)
    first: int = 0
    count: int = 100


class OneLifeIn(AboutEmitter):
    """A particle by its key, or by its index in the frame."""

    key: str | None = Field(default=None, pattern=r"^\d{1,20}$")
    index: int | None = None


class CopyIn(Strict):
    document: dict[str, Any]
    emitter: str
    kind: Literal["responses", "row", "emitter"]
    uids: list[str] = []
    address: str = ""


class Piece(Strict):
    piece: dict[str, Any]


class PasteIn(Piece):
    """Where a piece goes; address is empty for an emitter. move: responses that are taken away for it."""

    document: dict[str, Any]
    emitter: str = ""
    address: str = ""
    at: int | None = None
    move: list[str] = []


class Pasted(Schema):
    document: Effect
    uids: list[str]


class PresetIn(Strict):
    name: str = Field(min_length=1, max_length=40)
    kind: Literal["curve", "gradient"]
    data: dict[str, Any]


class PresetOut(Schema):
    id: int
    name: str
    kind: str
    data: dict[str, Any]


class ExportIn(Strict):
    kind: str
    first: int
    last: int
    width: int = 1280
    height: int = 720
    document: dict[str, Any]


class ExportOut(Schema):
    id: int
    kind: str
    first: int
    last: int
    state: str
    done: int
    total: int
    message: str


class Unit(Schema):
    symbol: str
    scale: float
    digits: int


class RowSpec(Schema):
    key: str
    label: str
    band: str
    kind: str
    stage: str
    unit: Unit
    lowest: float
    highest: float
    drag: float
    default: float | list[float]
    help: str
    always: bool
    family: str


class SourceSpec(Schema):
    kind: str
    label: str
    group: str
    unit: Unit
    default_input: tuple[float, float]
    per_particle: bool
    changes: bool
    help: str
    shape: str


class SourceChoice(Schema):
    """A source in the list. now, clip: its smallest, mean and largest value at the frame and over the frames known.

    refusal: why it is not offered.
    """

    key: str
    source: dict[str, Any]
    label: str
    group: str
    unit: Unit
    input: tuple[float, float]
    read: str
    help: str
    refusal: str
    whole: bool
    now: tuple[float, float, float] | None
    clip: tuple[float, float, float] | None


class ColumnOut(Schema):
    key: str
    label: str
    unit: Unit
    group: str


class TableOut(Schema):
    """rows: key as text, index in the frame, then a number a column."""

    total: int
    matching: int
    columns: list[ColumnOut]
    rows: list[list[str | float]]


class LifeColumn(ColumnOut):
    values: list[float]


class OneLifeOut(Schema):
    key: str
    frames: list[int]
    life: list[float]
    age: list[float]
    lifespan: float
    ends: bool
    path: list[list[float]]
    columns: list[LifeColumn]


class OperationSpec(Schema):
    kind: str
    sign: str
    help: str


class PlaceSpec(Schema):
    kind: str
    label: str
    on: dict[str, str]
    template: dict[str, Any]


class ForceSpec(Schema):
    kind: str
    label: str
    template: dict[str, Any]


class PresetKey(Schema):
    x: float
    y: float
    shape: str


class Preset(Schema):
    name: str
    keys: list[PresetKey]


class FormatSpec(Schema):
    kind: str
    label: str
    help: str


class HelpSpec(Schema):
    kind: str
    help: str


class DrawSpec(Schema):
    kind: str
    label: str
    help: str
    bounds: list[str]
    template: dict[str, Any]


class EngineOut(Schema):
    """The engine that runs. reason: why it is not the native one, or empty."""

    name: str
    lanes: int
    threads: int
    reason: str


class CostIn(Strict):
    document: dict[str, Any]
    frame: int


class RowCost(Schema):
    address: str
    label: str
    step: float
    look: float


class EmitterCost(Schema):
    uid: str
    name: str
    count: int
    step: float
    look: float
    rows: list[RowCost]


class CostOut(Schema):
    """Milliseconds at a frame: of one frame's steps, of its look, and of each row."""

    frame: int
    emitters: list[EmitterCost]


class Catalog(Schema):
    engine: EngineOut
    rows: list[RowSpec]
    draw_rows: dict[str, RowSpec]
    own_rows: dict[str, RowSpec]
    settings: dict[str, RowSpec]
    own_units: dict[str, Unit]
    sources: list[SourceSpec]
    parts: dict[str, dict[str, str]]
    groups: list[str]
    beyond: list[HelpSpec]
    draws: list[DrawSpec]
    own: list[HelpSpec]
    emitter: dict[str, Any]
    operations: list[OperationSpec]
    places: list[PlaceSpec]
    forces: list[ForceSpec]
    presets: list[Preset]
    formats: list[FormatSpec]
    backgrounds: dict[str, list[float]]
