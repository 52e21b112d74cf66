"""Typed slots: the values that a program reads when it runs, each knowing how to read itself from a document.

Equal slots are one value. A program names values by handles: positions within a group. Only slots know what a document
is; here it is a type variable.
"""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any, ClassVar, Generic, Literal, TypeVar, get_args

import numpy as np

from .values import ProgramValues, PropQuery, StageQueries

Group = Literal["params", "curves", "gradients", "seeds", "queries"]
Value = float | int | np.ndarray | PropQuery
Document = TypeVar("Document", contravariant=True)


class Slot(Generic[Document]):
    """One value that a program reads when it runs. Slots are frozen dataclasses; equal ones are the same value.

    group: params (float), curves and gradients (tables of `kernels.curves`), seeds (64-bit), queries (`PropQuery`).
    """

    group: ClassVar[Group]

    @abstractmethod
    def read(self, document: Document) -> Value:
        """Return the value in a document."""


@dataclass(frozen=True)
class Fixed(Slot[Any]):
    """A constant value, such as a number written in a formula."""

    value: float
    sign: float = field(init=False)  # noughts of both signs are two values
    group: ClassVar[Group] = "params"

    def __post_init__(self) -> None:
        object.__setattr__(self, "sign", math.copysign(1.0, self.value))

    def read(self, document: Any) -> float:
        return self.value


@dataclass(frozen=True)
class FixedSeed(Slot[Any]):
    """A constant seed."""

    value: int
    group: ClassVar[Group] = "seeds"

    def read(self, document: Any) -> int:
        return self.value


class Handle(int):
    """The position of a slot's value within its group in `ProgramValues`."""

    group: Group

    def __new__(cls, group: Group, place: int) -> Handle:
        handle = super().__new__(cls, place)
        handle.group = group
        return handle


class SlotTable(Generic[Document]):
    """The slots that the programs of one thing read, in the order of their first use."""

    def __init__(self) -> None:
        self._handles: dict[Slot[Document], Handle] = {}
        self._sizes: dict[Group, int] = dict.fromkeys(get_args(Group), 0)

    def handle(self, slot: Slot[Document]) -> Handle:
        """Return the position of a slot's value; a new slot gets the next position of its group."""
        known = self._handles.get(slot)
        if known is None:
            known = self._handles[slot] = Handle(slot.group, self._sizes[slot.group])
            self._sizes[slot.group] += 1
        return known

    def __iter__(self) -> Iterator[Slot[Document]]:
        return iter(self._handles)

    def values(self, document: Document, stage: StageQueries | None = None) -> ProgramValues:
        """Return the value of every slot in a document."""
        values = ProgramValues(stage=stage)
        for slot, handle in self._handles.items():
            getattr(values, handle.group).append(slot.read(document))
        return values
