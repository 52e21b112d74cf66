"""What goes over the wire."""

from __future__ import annotations

from datetime import datetime
from typing import Any

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


class Play(Strict):
    window: str = Field(min_length=1, max_length=64)
    document: dict[str, Any]
    now: int
    whole: bool = True


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
    refuses: dict[str, str]


class SourceSpec(Schema):
    kind: str
    label: str
    group: str
    unit: Unit
    default_input: tuple[float, float]
    per_particle: bool
    changes: bool
    help: str


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


class Catalog(Schema):
    rows: list[RowSpec]
    sources: list[SourceSpec]
    operations: list[OperationSpec]
    places: list[PlaceSpec]
    forces: list[ForceSpec]
    presets: list[Preset]
    formats: list[FormatSpec]
    backgrounds: dict[str, list[float]]
