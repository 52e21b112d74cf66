"""What the catalog is over the wire."""

from __future__ import annotations

from typing import Any

from ninja import Schema


class FunctionSpec(Schema):
    """call: as it is written, with its parameters. glsl: named and defined as in GLSL 4.60."""

    name: str
    call: str
    help: str
    example: str
    glsl: bool


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


class OperationSpec(Schema):
    kind: str
    sign: str
    help: str


class PlaceSpec(Schema):
    kind: str
    label: str
    on: dict[str, str]
    template: dict[str, Any]


class SourcePart(Schema):
    label: str
    unit: Unit


class AimSpec(Schema):
    """rows: of births.launch, those that take part."""

    kind: str
    label: str
    help: str
    rows: list[str]


class MaskSpec(Schema):
    """needs: a prop besides (solid, placed, picture), other masks (masks), or nothing. rows: the fields that take part."""

    shape: str
    label: str
    help: str
    needs: str
    rows: list[str]
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


class ExampleSpec(Schema):
    """A worked formula. gives: number, vector or colour; stages: of the rows it can stand in."""

    title: str
    text: str
    help: str
    gives: str
    stages: list[str]
    address: str


class Catalog(Schema):
    engine: EngineOut
    rows: list[RowSpec]
    prop_rows: dict[str, RowSpec]
    draw_rows: dict[str, RowSpec]
    own_rows: dict[str, RowSpec]
    settings: dict[str, RowSpec]
    own_units: dict[str, Unit]
    dial_units: dict[str, Unit]
    functions: list[FunctionSpec]
    examples: list[ExampleSpec]
    sources: list[SourceSpec]
    parts: dict[str, dict[str, str]]
    source_parts: dict[str, dict[str, SourcePart]]
    groups: list[str]
    beyond: list[HelpSpec]
    draws: list[DrawSpec]
    own: list[HelpSpec]
    emitter: dict[str, Any]
    operations: list[OperationSpec]
    places: list[PlaceSpec]
    births_on: dict[str, list[str]]
    aims: list[AimSpec]
    guides: list[str]
    masks: list[MaskSpec]
    thinning: dict[str, Any]
    forces: list[ForceSpec]
    presets: list[Preset]
    formats: list[FormatSpec]
    backgrounds: dict[str, list[float]]
