"""A particle at its birth: its place, its launch, and whether the birth happens."""

from __future__ import annotations

from collections.abc import Callable
from functools import reduce
from typing import Any, Literal

from ..formula import Values
from ..rows.responses import SourcedBase, differs_from_default
from ..rows.slots import PreviewShare
from .contexts import ALONG, Context


class BirthContext(Context):
    """A particle at its exact birth: placed, then launched. Inputs: key, birth_time."""

    name = "birth"
    newborn = True
    how: Literal["new", "recalled", "given"] = "new"

    def clip_time(self) -> int:
        return self.builder.input("birth_time")

    def state(self, name: str) -> Values:
        if name == "age":
            return (self.builder.const(0),)
        if name == "lifespan":
            return self.row("births.lifespan")
        if name == "position":
            return self.birthplace()[:3]
        if name == "velocity":
            return self.velocity()
        if name == "rotation":
            return self.row("births.rotation")
        if name in ALONG:
            return (self.builder.const(0),)
        raise AssertionError(name)

    def birthplace(self) -> Values:
        return self.thing.births.place.born(self)

    def velocity(self) -> Values:
        return self.thing.births.launch.velocity(self)

    def own(self, uid: str) -> Values:
        return self.row(f"own.{uid}.start")

    def kept_from_birth(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        return compute(self)

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        """At birth there is no previous step: return the initial value, with all live rows at their bases."""
        return compute(BeforeContext(self))

    def step_seconds(self) -> int:
        return self.builder.const(0)

    def masked(self, uid: str, part: str) -> int:
        return self.builder.const(0) if part == "since" else super().masked(uid, part)

    def parent(self, part: str, count: int) -> Values:
        return tuple(self.builder.input(f"parent.{part}" if count == 1 else f"parent.{part}.{i}") for i in range(count))

    def comes_to_be(self) -> int | None:
        """Return 1 for births that happen, otherwise 0; None where all do."""
        b, births = self.builder, self.thing.births
        place_found = births.place.found(self)
        decided = [place_found]
        if differs_from_default(births.keep, 1.0):
            decided.append(b.op("less", self.hash("keep"), self.row("births.keep")[0]))
        if (
            self.effect.clip.preview < 1 and not births.place.parted
        ):  # of others' particles fewer are born by themselves
            decided.append(b.op("less", self.hash("preview"), b.param(PreviewShare())))
        known = [each for each in decided if each is not None]
        return reduce(lambda one, other: b.op("mul", one, other), known) if known else None


class BeforeContext(BirthContext):
    """The initial state of a particle: as at its birth, but with live rows at their bases (at their defaults, where a
    source is the base)."""

    name = "before"

    def __init__(self, birth: BirthContext):
        super().__init__(birth.view, birth.builder, birth._open)
        self.birth = birth

    def row(self, address: str) -> Values:
        placed = self.rows[address]
        if placed.spec.stage == "birth":
            return self.birth.row(address)
        if isinstance(placed.row.base, SourcedBase):
            default = placed.spec.default
            return tuple(self.builder.const(x) for x in (default if isinstance(default, tuple) else (default,)))
        return tuple(self.base(address, i) for i in range(placed.spec.components))

    def birthplace(self) -> Values:
        return self.birth.birthplace()

    def velocity(self) -> Values:
        return self.birth.velocity()

    def draw(self, uid: str) -> int:
        return self.birth.draw(uid)


class RecalledBirth(BirthContext):
    """A birth recomputed on a stored frame from what the state keeps of it."""

    how = "recalled"
