"""Values over space as programs, to show on props: a mask, or an emitter's rows of births at a place."""

from __future__ import annotations

from typing import Any

from ..catalog import Scope
from ..document import Effect
from ..formula import Values
from ..program import Builder, Program, ProgramValues
from ..rows.view import find_thing
from .birth import BirthContext
from .contexts import AXES, Context
from .view import EffectView

FIELDS_OF_BIRTHS = ("keep", "begins")  # rows of births that can be shown on a prop


class _Place(Context):
    """A point and a time without a particle."""

    name = "field"

    def state(self, name: str) -> Values:
        assert name == "position"
        return tuple(self.builder.input(f"position.{axis}") for axis in AXES)

    def clip_time(self) -> int:
        return self.builder.input("time")


class _BirthAtPlace(BirthContext):
    """A birth at a given place. Inputs: key, birth_time, position.x ..., normal.x ..., u, v."""

    how = "given"

    def birthplace(self) -> Values:
        b = self.builder
        return (
            *(b.input(f"position.{axis}") for axis in AXES),
            *(b.input(f"normal.{axis}") for axis in AXES),
            b.input("u"),
            b.input("v"),
        )


def compile_mask(effect: Effect, uid: str) -> tuple[Program, ProgramValues]:
    """Return a program that gives a mask's `value` at position.x, position.y, position.z (metres) and time
    (seconds)."""
    context = _Place(Scope(find_thing(effect.props, uid), effect), builder := Builder())
    program = builder.finish({"value": context.mask_value(uid, context.state("position"), context.clip_time())})
    return program, builder.slots.values(EffectView(effect))


def compile_births(effect: Effect, emitter: Any, name: str) -> tuple[Program, ProgramValues]:
    """Return a program that gives the `value` of births.keep or births.begins for births at places; see
    `_BirthAtPlace`."""
    context = _BirthAtPlace(Scope(emitter, effect), builder := Builder())
    return builder.finish({"value": context.row(f"births.{name}")[0]}), builder.slots.values(EffectView(effect))
