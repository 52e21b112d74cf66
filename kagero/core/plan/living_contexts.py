"""Contexts of a living particle: in a step, and on a stored frame."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..catalog import Scope
from ..formula import Values
from ..parts.draws import DrawPart
from ..program import Builder
from ..rows.model import parts_in
from ..rows.responses import is_plain
from ..rows.view import find_thing
from .birth import BirthContext, RecalledBirth
from .contexts import ALONG, AXES, Context


class LivingContext(Context):
    """A living particle. Inputs: key, age, lifespan, position, velocity, rotation, own attributes, time."""

    def clip_time(self) -> int:
        return self.builder.input("time")

    def state(self, name: str) -> Values:
        b = self.builder
        if name in ("position", "velocity"):
            return tuple(b.input(f"{name}.{axis}") for axis in AXES)
        return (b.input(name),)

    def masked(self, uid: str, part: str) -> int:
        """Return a mask's value now; for `latched` and `since`, the value at the end of the previous step."""
        b = self.builder
        if part == "value":
            return super().masked(uid, part)
        latched = b.input(f"latch.{uid}")
        if part == "latched":
            return latched
        return b.op(
            "select",
            b.op("less", latched, b.const(0.5)),
            b.const(0),
            b.op("sub", b.input("time"), b.input(f"touched.{uid}")),
        )

    def parent(self, part: str, count: int) -> Values:
        return self.kept_from_birth(f"parent.{part}", count, lambda birth: birth.parent(part, count))

    def row(self, address: str) -> Values:
        known = f"{address} as others alter it"
        if known not in self._done:
            values = self._row(address)
            for part in parts_in(self.thing):
                if part.alters(address) is not None:
                    values = part.altered(self, address, values)
            self._done[known] = values
        return self._done[known]

    def own(self, uid: str) -> Values:
        own = find_thing(self.thing.own, uid)
        count = 1 if own.kind == "number" else 3
        if own.memory:
            return tuple(self.builder.input(f"own.{uid}.{i}") for i in range(count))
        return self.kept_from_birth(f"own.{uid}", count, lambda birth: birth.own(uid))

    def _row(self, address: str) -> Values:
        placed = self.rows[address]
        if placed.spec.stage != "birth":
            return super().row(address)
        if address == "births.lifespan":
            return (self.builder.input("lifespan"),)
        if is_plain(placed.row):
            return super().row(address)
        return self.kept_from_birth(f"row.{address}", placed.spec.components, lambda birth: birth.row(address))

    def draw(self, uid: str) -> int:
        draw: DrawPart = find_thing(self.thing.draws, uid)
        if all(is_plain(self.rows[f"draws.{uid}.{name}"].row) for name in draw.bounds()):
            return super().draw(uid)
        return self.kept_from_birth(f"draw.{uid}", 1, lambda birth: (birth.draw(uid),))[0]


class StepContext(LivingContext):
    """A step: position and velocity at its start, age and time at its end. Values read once at birth are in the state.

    keeps: values of the birth to be kept; remembers: values of the previous step; each with their number and the
    function that computes them.
    """

    name = "step"

    def __init__(self, scope: Scope, builder: Builder):
        super().__init__(scope, builder)
        self.keeps: dict[str, tuple[int, Callable[[Any], Values]]] = {}
        self.remembers: dict[str, tuple[int, Callable[[Any], Values]]] = {}

    def state(self, name: str) -> Values:
        return (self.builder.const(0),) if name in ALONG else super().state(name)

    def kept_from_birth(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        self.keeps[name] = (count, compute)
        return tuple(self.builder.input(f"kept.{name}.{i}") for i in range(count))

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        self.remembers[f"previous.{name}"] = (count, compute)
        return tuple(self.builder.input(f"previous.{name}.{i}") for i in range(count))

    def step_seconds(self) -> int:
        return self.builder.input("dt")


class FrameContext(LivingContext):
    """A stored frame, for looks and for the interface. Values read once at birth are computed again from the birth."""

    name = "frame"

    def __init__(self, scope: Scope, builder: Builder, remembering: frozenset[str] = frozenset()):
        super().__init__(scope, builder)
        recalled = RecalledBirth if self.thing.births.place.prop_on() is not None else BirthContext
        self.birth = recalled(scope, builder, self._open)
        self.remembering = remembering

    def row(self, address: str) -> Values:
        if address in self.remembering:
            return tuple(self.builder.input(f"row.{address}.{i}") for i in range(self.rows[address].spec.components))
        return super().row(address)

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        return tuple(self.builder.input(f"previous.{name}.{i}") for i in range(count))

    def step_seconds(self) -> int:
        clip = self.effect.clip
        return self.builder.const(float(1 / (clip.rate * clip.substeps)))

    def kept_from_birth(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        return compute(self.birth)
