"""The slots of plans: each says which value of an effect it is, and reads it from an `EffectView`."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from ..effect import OnProp
from ..kernels.curves import HOLD, SHAPES, curve_table, gradient_table
from ..kernels.random import seed_of
from ..program import Group, PropQuery, Slot
from .view import EffectView, Owner


@dataclass(frozen=True)
class RowBase(Slot[EffectView]):
    """The number that a row has by itself; of a vector or colour, a component."""

    owner: Owner
    address: str
    component: int
    group: ClassVar[Group] = "params"

    def read(self, document: EffectView) -> float:
        base = document.rows(self.owner)[self.address].row.base
        return float(base[self.component] if isinstance(base, tuple) else base)  # type: ignore[arg-type]


@dataclass(frozen=True)
class ResponseInput(Slot[EffectView]):
    """An end of a response's input range: 0 low, 1 high; in the source's unit."""

    owner: Owner
    response: str
    end: int
    group: ClassVar[Group] = "params"

    def read(self, document: EffectView) -> float:
        return float(document.response(self.owner, self.response).input[self.end])


@dataclass(frozen=True)
class ResponseCurve(Slot[EffectView]):
    """A response's curve, as a table of `kernels.curves`."""

    owner: Owner
    response: str
    group: ClassVar[Group] = "curves"

    def read(self, document: EffectView) -> np.ndarray:
        return table_of(document.response(self.owner, self.response).curve.keys)


@dataclass(frozen=True)
class ResponseGradient(Slot[EffectView]):
    """A response's gradient, as a table of `kernels.curves`."""

    owner: Owner
    response: str
    group: ClassVar[Group] = "gradients"

    def read(self, document: EffectView) -> np.ndarray:
        stops = document.response(self.owner, self.response).gradient.stops
        return gradient_table([s.x for s in stops], [s.colour for s in stops], [SHAPES[s.shape] for s in stops])


@dataclass(frozen=True)
class DialValue(Slot[EffectView]):
    """The value that a dial is turned to."""

    dial: str
    group: ClassVar[Group] = "params"

    def read(self, document: EffectView) -> float:
        return document.dial(self.dial)


@dataclass(frozen=True)
class CameraValue(Slot[EffectView]):
    """One of the numbers of the effect's own camera (`camera_values`)."""

    place: int
    group: ClassVar[Group] = "params"

    def read(self, document: EffectView) -> float:
        return document.camera(self.place)


@dataclass(frozen=True)
class ChoiceTable(Slot[EffectView]):
    """The table that gives a choice's values by a number in [0, 1), each as often as its weight says."""

    owner: Owner
    draw: str
    group: ClassVar[Group] = "curves"

    def read(self, document: EffectView) -> np.ndarray:
        options: Sequence[Any] = document.draw(self.owner, self.draw).options  # type: ignore[union-attr]
        total = sum(option.weight for option in options) or 1.0
        starts, values, reached = [], [], 0.0
        for option in options:
            if option.weight > 0:
                starts.append(reached / total)
                values.append(option.value)
                reached += option.weight
        starts, values = (starts, values) if values else ([0.0], [options[0].value])
        return curve_table(starts, values, [HOLD] * len(values))


@dataclass(frozen=True)
class MaskCurve(Slot[EffectView]):
    """The curve of a mask's falloff, as a table."""

    mask: str
    group: ClassVar[Group] = "curves"

    def read(self, document: EffectView) -> np.ndarray:
        return table_of(document.prop(self.mask).curve.keys)  # type: ignore[union-attr]


@dataclass(frozen=True)
class Seed(Slot[EffectView]):
    """A seed of its own for these names, from the clip's seed (`kernels.random.seed_of`)."""

    names: tuple[str, ...]
    group: ClassVar[Group] = "seeds"

    def read(self, document: EffectView) -> int:
        return seed_of(document.effect.clip.seed, *self.names)


@dataclass(frozen=True)
class OfProp(Slot[EffectView]):
    """What is asked of a prop: where it stands, what is near it."""

    prop: str
    group: ClassVar[Group] = "queries"

    def read(self, document: EffectView) -> PropQuery:
        return document.query(self.prop)


@dataclass(frozen=True)
class BirthsOnProp(Slot[EffectView]):
    """What an emitter asks of the prop that its particles are born on."""

    owner: Owner
    group: ClassVar[Group] = "queries"

    def read(self, document: EffectView) -> PropQuery:
        place: OnProp = document.owner(self.owner).births.place
        density = repr(place.density) + (document.digest(place.density.picture) if place.density else "")
        return PropQuery(place.prop, f"{document.digest(place.prop)} {place.on} {density}", place)


def table_of(keys: Sequence[Any]) -> np.ndarray:
    """Return the table of a curve's keys."""
    return curve_table([k.x for k in keys], [k.y for k in keys], [SHAPES[k.shape] for k in keys], [(k.into, k.out) for k in keys])
