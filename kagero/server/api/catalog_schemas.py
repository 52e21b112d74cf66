"""What the catalog is over the wire."""

from __future__ import annotations

from typing import Any, Literal

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


class PresetKey(Schema):
    x: float
    y: float
    shape: str


class Preset(Schema):
    name: str
    keys: list[PresetKey]


class OptionSpec(Schema):
    """Something that can be chosen of a format. kind: tick, whole, choice or several; choices: values and their
    words."""

    name: str
    label: str
    help: str
    kind: Literal["tick", "whole", "choice", "several"]
    default: bool | int | str | list[str]
    choices: list[tuple[str, str]]
    lowest: int
    highest: int
    unit: str


class FormatSpec(Schema):
    """A format of exports. takes: what its frames are, particles or pictures."""

    kind: str
    label: str
    help: str
    takes: Literal["particles", "pictures"]
    options: list[OptionSpec]


class HelpSpec(Schema):
    kind: str
    help: str


class DrawSpec(Schema):
    kind: str
    label: str
    help: str
    range: tuple[float, float]
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
    row: str


class Catalog(Schema):
    engine: EngineOut
    settings: dict[str, dict[str, RowSpec]]
    dial_units: dict[str, Unit]
    functions: list[FunctionSpec]
    examples: list[ExampleSpec]
    sources: list[SourceSpec]
    groups: list[str]
    beyond: list[HelpSpec]
    draws: list[DrawSpec]
    emitter: dict[str, Any]
    operations: list[OperationSpec]
    presets: list[Preset]
    formats: list[FormatSpec]
    backgrounds: dict[str, list[float]]
