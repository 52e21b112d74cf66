"""Every attribute of a particle as columns over a stored frame: for the table, one life, live ranges and colours by
attribute."""

from __future__ import annotations

from dataclasses import dataclass

from ..catalog import Links, Scope, list_sources
from ..document import Effect, Emitter
from ..program import Builder, Program, ProgramValues
from ..rows.responses import sources_of
from ..rows.source import source_of
from ..rows.units import Unit
from .living_contexts import FrameContext
from .plans import EmitterPlan
from .view import EffectView


@dataclass(frozen=True)
class Column:
    """One number of every particle. key: its permanent name."""

    key: str
    label: str
    unit: Unit
    group: str


@dataclass(frozen=True)
class Columns:
    """Columns, the program that gives them by their keys, and its values."""

    columns: tuple[Column, ...]
    program: Program
    values: ProgramValues


def compile_columns(effect: Effect, emitter: Emitter, plan: EmitterPlan, wanted: set[str] | None = None) -> Columns:
    """Return a program that gives each column by its key: all columns, or those in `wanted`.

    plan: the emitter's, from `compile_effect` of this effect.
    """
    scope = Scope(emitter, effect)
    links = Links(scope)
    latched = links.latched()
    near = {source.costly() for placed in plan.rows.values() for source, *_ in sources_of(placed.row)}
    frame = FrameContext(scope, Builder(), links.remembering())
    columns, outputs = [], {}
    for listed in list_sources(scope):
        if wanted is not None and listed.key not in wanted:
            continue
        source = source_of(listed.source)
        if not source.kept(scope) or (source.latches() is not None and source.latches() not in latched):
            continue  # nothing reads it, so no particle remembers it
        if source.costly() and wanted is None and source.costly() not in near:
            continue  # what is near every prop is too much to look up for all
        if not source.tabled:
            continue
        facts = source.facts(scope)
        if facts.shape != "number" or hasattr(source, "uid"):
            continue  # whole vectors stand there by their parts; noise and distances only exist where they are used
        (outputs[listed.key],) = frame.source(source)
        columns.append(Column(listed.key, facts.label, facts.unit, listed.group))
    values = frame.builder.slots.values(EffectView(effect, {scope.owner: scope}), plan.values.stage)
    return Columns(tuple(columns), frame.builder.finish(outputs), values)
