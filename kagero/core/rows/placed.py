"""Rows in their places: derived from the fields of parts, each with a permanent address."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from .model import Band, Driven, Part, Stage, fields_of, ordered
from .responses import OUTPUT, ROWS, NumberRow, Row, SourcedBase, VectorRow, differs_from_default, row_of
from .units import Unit

MOST_NESTED = 3  # a response's setting may be driven by a response whose setting is driven ... so deep


@dataclass(frozen=True)
class RowSpec:
    """A setting that can be driven. `lowest` and `highest` bound base and result; `drag` is what a full drag across the
    field spans.

    stage: "emitter" (read over time, without a particle), "birth" (once for each particle) or "live" (at every step or
    frame). family: rows of a family depend on each other at a birth; a response's settings belong to their row's.
    always: shown in the sheet also while it has no effect. varied: how much a draw adds to it, where it does not
    multiply it.
    """

    key: str
    label: str
    band: Band
    kind: Literal["number", "vector", "colour"]
    stage: Stage
    unit: Unit
    lowest: float
    highest: float
    drag: float
    default: Any
    help: str
    always: bool = False
    family: str = ""
    varied: float = 0.0

    @property
    def components(self) -> int:
        return 1 if self.kind == "number" else 3


@dataclass(frozen=True)
class PlacedRow:
    """A row in an emitter or prop. address: its permanent name (a force by its uid). spec: its facts.

    path: its place in the document. depth: 0 for rows of the sheet, 1 for settings of their responses, and so on; host:
    the row of the sheet that a setting belongs to. muted: it has no effect now. unused: because of how its part is set.
    """

    address: str
    spec: RowSpec
    row: Row
    path: str
    muted: bool = False
    depth: int = 0
    host: str = ""
    unused: bool = False


def spec_of(
    part: type[Part], field: str, driven: Driven, kind: Literal["number", "vector", "colour"], family: str = ""
) -> RowSpec:
    """Return the facts of a row from those of its field."""
    key = f"{part.rows_key()}.{field}"
    return _spec(key, driven, part.band, kind, driven.stage or part.stage, family or key)


@lru_cache(maxsize=8192)
def _spec(
    key: str, driven: Driven, band: Band, kind: Literal["number", "vector", "colour"], stage: Stage, family: str
) -> RowSpec:
    return RowSpec(
        key,
        driven.label,
        band,
        kind,
        stage,
        driven.unit,
        driven.lowest,
        driven.highest,
        driven.drag,
        driven.default,
        driven.help,
        driven.always,
        family,
        driven.varied,
    )


def kind_of(row: Any) -> Literal["number", "vector", "colour"]:
    """Return the kind of a row's values, for a row or its class."""
    kind = row if isinstance(row, type) else type(row)
    return "number" if kind is NumberRow else "vector" if kind is VectorRow else "colour"


def rows_within(
    part: Part, address: str = "", path: str = "", muted: bool = False, unused: frozenset[str] = frozenset()
) -> Iterator[PlacedRow]:
    """Yield the rows of a part and of the parts within it, in the order of their fields, without settings of responses.

    address, path: their prefixes. unused: rows of the part without effect.
    """
    idle = unused | part.unused()
    for facts in ordered(type(part)):
        name, value = facts.name, getattr(part, facts.name)
        if isinstance(value, ROWS):
            driven = part.driven(facts)
            assert driven is not None, f"{type(part).__name__}.{name} has no words"
            spec = spec_of(type(part), name, driven, kind_of(value), part.row_family(name))
            yield PlacedRow(
                f"{address}{name}", spec, value, f"{path}{name}", muted or name in idle, unused=name in idle
            )
        elif isinstance(value, Part):
            within = frozenset(each.partition(".")[2] for each in idle if each.startswith(f"{name}."))
            yield from rows_within(value, f"{address}{name}.", f"{path}{name}.", muted or name in idle, within)
        elif isinstance(value, list):
            for index, each in enumerate(value):
                if isinstance(each, Part) and hasattr(each, "uid"):
                    yield from rows_within(
                        each,
                        f"{address}{name}.{each.uid}.",
                        f"{path}{name}.{index}.",
                        muted or getattr(each, "muted", False),
                    )


def settings_of(placed: PlacedRow, unit_of: Callable[[Any], Unit]) -> Iterator[PlacedRow]:
    """Yield the settings of a row's responses and sources as rows, but not theirs in turn. unit_of: gives a source's
    unit."""
    row, spec = placed.row, placed.spec
    if isinstance(row.base, SourcedBase):
        yield from _settings_within(placed, row.base.source, f"{placed.path}.base.source", placed.muted)
    for index, response in enumerate(row.responses):
        path, muted = f"{placed.path}.responses.{index}", placed.muted or row.muted or response.muted
        for facts in fields_of(type(response)):
            if facts.driven is not None:
                unit = unit_of(response.source) if facts.name == "reference" else None
                value = getattr(response, facts.name)
                yield _setting(
                    placed,
                    f"responses.{response.uid}.{facts.name}",
                    facts.name,
                    facts.driven,
                    value,
                    f"{path}.{facts.name}",
                    muted,
                    unit,
                )
        if response.kind == "curve":
            own = response.operation != "multiply"  # then they are values of the row
            for end, (name, driven) in enumerate(zip(("low", "high"), OUTPUT, strict=True)):
                yield _setting(
                    placed,
                    f"responses.{response.uid}.{name}",
                    name,
                    driven,
                    response.output[end],
                    f"{path}.output.{end}",
                    muted,
                    spec.unit if own else None,
                    spec.drag if own else None,
                )
        yield from _settings_within(placed, response.source, f"{path}.source", muted)


def _settings_within(placed: PlacedRow, source: Any, path: str, muted: bool) -> Iterator[PlacedRow]:
    for facts in fields_of(type(source)):
        if facts.driven is not None:
            yield _setting(
                placed,
                f"sources.{source.uid}.{facts.name}",
                facts.name,
                facts.driven,
                getattr(source, facts.name),
                f"{path}.{facts.name}",
                muted,
            )


def _setting(
    placed: PlacedRow,
    address: str,
    name: str,
    driven: Driven,
    value: Any,
    path: str,
    muted: bool,
    unit: Unit | None = None,
    drag: float | None = None,
) -> PlacedRow:
    host, row = placed.spec, row_of(value)
    spec = _setting_spec(name, driven, kind_of(row), host.stage, host.band, host.family, unit, drag)
    return PlacedRow(address, spec, row, path, muted, placed.depth + 1, placed.host or placed.address)


@lru_cache(maxsize=8192)
def _setting_spec(
    name: str,
    driven: Driven,
    kind: Literal["number", "vector", "colour"],
    stage: Stage,
    band: Band,
    family: str,
    unit: Unit | None,
    drag: float | None,
) -> RowSpec:
    return RowSpec(
        f"settings.{name}",
        driven.label,
        band,
        kind,
        stage,
        unit or driven.unit,
        driven.lowest,
        driven.highest,
        drag or driven.drag,
        driven.default,
        driven.help,
        False,
        family,
        driven.varied,
    )


def in_use(placed: PlacedRow) -> bool:
    """Return whether a row has an effect: its base is not the default, or something drives it."""
    return differs_from_default(placed.row, placed.spec.default)
