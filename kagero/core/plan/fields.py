"""Values over space as programs: a mask, or what an emitter's rows of births make of a place; for showing them on props."""

from __future__ import annotations

from typing import Any

from ..catalog import Scope, all_rows
from ..effect import Effect
from ..program import Builder, Program, ProgramValues
from .birth import BirthContext
from .contexts import AXES, Context
from .formulas import Values
from .masks import mask_value
from .view import EffectView

SHOWN = ("keep", "begins")  # rows of births that can be shown on a prop


class _Place(Context):
    """A point and a time, with no particle there."""

    name = "field"

    def attribute(self, kind: str) -> Values:
        b = self.builder
        return tuple(b.input(f"position.{axis}") for axis in AXES) if kind == "position" else (b.input("time"),)


class _BirthAtPlace(BirthContext):
    """A birth at a given place. Inputs: key, birth_time, position.x ..., normal.x ..., u, v."""

    def place(self) -> Values:
        b = self.builder
        return (*(b.input(f"position.{axis}") for axis in AXES), *(b.input(f"normal.{axis}") for axis in AXES), b.input("u"), b.input("v"))

    def on_prop(self) -> Values:
        return (*self.place(), *(self.builder.const(0) for _ in range(9)), self.builder.const(1))


def compile_mask(effect: Effect, uid: str) -> tuple[Program, ProgramValues]:
    """Return a program that gives a mask's `value` at position.x, position.y, position.z (metres) and time (seconds)."""
    mask = next(prop for prop in effect.props if prop.uid == uid)
    context = _Place(scope := Scope(mask, effect), {placed.address: placed for placed in all_rows(scope)}, builder := Builder())
    program = builder.finish({"value": mask_value(context, uid, context.attribute("position"), context.clip_time())})
    return program, builder.slots.values(EffectView(effect))


def compile_births(effect: Effect, emitter: Any, name: str) -> tuple[Program, ProgramValues]:
    """Return a program that gives the `value` of births.keep or births.begins for births at places; see `_BirthAtPlace`."""
    context = _BirthAtPlace(scope := Scope(emitter, effect), {placed.address: placed for placed in all_rows(scope)}, builder := Builder())
    return builder.finish({"value": context.row(f"births.{name}")[0]}), builder.slots.values(EffectView(effect))
