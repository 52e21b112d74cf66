"""Values over space as programs: a mask, or what an emitter's rows of births make of a place; for showing them on props."""

from __future__ import annotations

from typing import Any

from ..catalog import Scope, all_rows
from ..effect import Effect
from .birth import BirthContext
from .contexts import AXES, Context, Values
from .filling import prop_digest
from .masks import mask_value
from .program import Builder, Program
from .values import Asked, PlanValues

SHOWN = ("keep", "begins")  # rows of births that can be shown on a prop


class _Anywhere(Context):
    """Nobody's place: a point and a time."""

    name = "field"

    def attribute(self, kind: str) -> Values:
        b = self.builder
        return tuple(b.input(f"position.{axis}") for axis in AXES) if kind == "position" else (b.input("time"),)


class _BirthAnywhere(BirthContext):
    """A birth at a given place. Inputs: key, birth_time, position.x ..., normal.x ..., u, v."""

    def place(self) -> Values:
        b = self.builder
        return (*(b.input(f"position.{axis}") for axis in AXES), *(b.input(f"normal.{axis}") for axis in AXES), b.input("u"), b.input("v"))

    def on_prop(self) -> Values:
        return (*self.place(), *(self.builder.const(0) for _ in range(9)), self.builder.const(1))


def compile_mask(effect: Effect, uid: str) -> tuple[Program, PlanValues]:
    """Return a program that gives a mask's `value` at position.x, position.y, position.z (metres) and time (seconds)."""
    mask = next(prop for prop in effect.props if prop.uid == uid)
    scope, values = Scope(mask, effect), PlanValues()
    rows = {placed.address: placed for placed in all_rows(scope)}
    context = _Anywhere(scope, rows, Builder(), values)
    point = context.attribute("position")
    program = context.builder.finish({"value": mask_value(context, uid, point, context.attribute("clip_time")[0])})
    return program, _asking(effect, values)


def compile_births(effect: Effect, emitter: Any, name: str) -> tuple[Program, PlanValues]:
    """Return a program that gives the `value` of births.keep or births.begins for births at places; see `_BirthAnywhere`."""
    scope, values = Scope(emitter, effect), PlanValues()
    context = _BirthAnywhere(scope, {placed.address: placed for placed in all_rows(scope)}, Builder(), values)
    return context.builder.finish({"value": context.row(f"births.{name}")[0]}), _asking(effect, values)


def _asking(effect: Effect, values: PlanValues) -> PlanValues:
    """Return values that name what of the stage they depend on."""
    known: dict[str, str] = {}
    values.props = [Asked(asked.prop, prop_digest(effect, asked.prop, known), asked.detail) for asked in values.props]
    return values


