"""Slots for a document's values: each knows which value it is, and reads it from a view of the document."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar, Protocol

import numpy as np

from ..kernels.curves import SHAPES, curve_table, gradient_table
from ..kernels.random import seed_of
from ..program import Group, PropQuery, Slot
from .placed import PlacedRow
from .view import Owner


class DocumentView(Protocol):
    """A state of a document, as slots read it."""

    seed: int  # the clip's

    def thing(self, owner: Owner) -> Any:
        """Return an emitter or prop."""

    def rows(self, owner: Owner) -> dict[str, PlacedRow]:
        """Return an owner's rows by address."""

    def response(self, owner: Owner, uid: str) -> Any:
        """Return one of the responses of an owner's rows."""

    def dial(self, uid: str) -> float:
        """Return a dial's value."""

    def dial_keys(self, uid: str) -> Sequence[Any]:
        """Return the keys of a dial that changes over the clip."""

    def moment(self, uid: str) -> float:
        """Return the clip time of a moment, seconds."""

    def clip_length(self) -> float:
        """Return seconds from the clip's first frame to its last."""

    def clip_end(self) -> float:
        """Return the clip time at which the last frame is over, seconds."""

    def preview(self) -> float:
        """Return the share of births that happen while the effect is edited."""

    def camera(self, place: int) -> float:
        """Return one of the numbers of the effect's own camera."""

    def query(self, uid: str) -> PropQuery:
        """Return a program's query about a prop."""


@dataclass(frozen=True)
class RowBase(Slot[DocumentView]):
    """A row's base value; of a vector or colour, a component."""

    owner: Owner
    address: str
    component: int
    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        base = document.rows(self.owner)[self.address].row.base
        return float(base[self.component] if isinstance(base, tuple) else base)  # type: ignore[arg-type]


@dataclass(frozen=True)
class ResponseInput(Slot[DocumentView]):
    """An end of a response's input range: 0 low, 1 high; in the source's unit."""

    owner: Owner
    response: str
    end: int
    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return float(document.response(self.owner, self.response).input[self.end])


@dataclass(frozen=True)
class ResponseCurve(Slot[DocumentView]):
    """A response's curve, as a table of `kernels.curves`."""

    owner: Owner
    response: str
    group: ClassVar[Group] = "curves"

    def read(self, document: DocumentView) -> np.ndarray:
        return table_of(document.response(self.owner, self.response).curve.keys)


@dataclass(frozen=True)
class ResponseGradient(Slot[DocumentView]):
    """A response's gradient, as a table of `kernels.curves`."""

    owner: Owner
    response: str
    group: ClassVar[Group] = "gradients"

    def read(self, document: DocumentView) -> np.ndarray:
        stops = document.response(self.owner, self.response).gradient.stops
        return gradient_table([s.x for s in stops], [s.colour for s in stops], [SHAPES[s.shape] for s in stops])


@dataclass(frozen=True)
class DialValue(Slot[DocumentView]):
    """A dial's value."""

    dial: str
    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return document.dial(self.dial)


@dataclass(frozen=True)
class DialCurve(Slot[DocumentView]):
    """A dial's value over clip time, as a table of `kernels.curves`."""

    dial: str
    group: ClassVar[Group] = "curves"

    def read(self, document: DocumentView) -> np.ndarray:
        keys = document.dial_keys(self.dial)
        return curve_table([k.time for k in keys], [k.value for k in keys], [SHAPES[k.shape] for k in keys])


@dataclass(frozen=True)
class ClipLength(Slot[DocumentView]):
    """Seconds from the clip's first frame to its last."""

    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return document.clip_length()


@dataclass(frozen=True)
class ClipEnd(Slot[DocumentView]):
    """The clip time at which the last frame is over, seconds."""

    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return document.clip_end()


@dataclass(frozen=True)
class PreviewShare(Slot[DocumentView]):
    """The share of births that happen while the effect is edited."""

    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return document.preview()


@dataclass(frozen=True)
class CameraValue(Slot[DocumentView]):
    """One of the numbers of the effect's own camera: three rows of four, as `prop_matrix` gives them, then its field of
    view."""

    place: int
    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return document.camera(self.place)


@dataclass(frozen=True)
class Seed(Slot[DocumentView]):
    """A seed for some names, derived from the clip's seed (`kernels.random.seed_of`)."""

    names: tuple[str, ...]
    group: ClassVar[Group] = "seeds"

    def read(self, document: DocumentView) -> int:
        return seed_of(document.seed, *self.names)


@dataclass(frozen=True)
class OfProp(Slot[DocumentView]):
    """A query about a prop."""

    prop: str
    group: ClassVar[Group] = "queries"

    def read(self, document: DocumentView) -> PropQuery:
        return document.query(self.prop)


def table_of(keys: Sequence[Any]) -> np.ndarray:
    """Return the table of a curve's keys."""
    return curve_table(
        [k.x for k in keys], [k.y for k in keys], [SHAPES[k.shape] for k in keys], [(k.into, k.out) for k in keys]
    )
