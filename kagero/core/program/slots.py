"""Typed slots: where a program reads what is no part of its structure. A slot says which value it is, and reads it from a document.

Equal slots are one value. A program names values by handles: places among those of a group. What a document is like is known by the
slots alone; here it is a type that they and the table of one program have in common.
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
    """One value that a program reads when it runs. Frozen dataclasses: equal ones are the same value.

    group: params (a float), curves and gradients (tables of `kernels.curves`), seeds (64-bit), queries (`PropQuery`).
    """

    group: ClassVar[Group]

    @abstractmethod
    def read(self, document: Document) -> Value:
        """Return the value as the document has it."""


@dataclass(frozen=True)
class Fixed(Slot[Any]):
    """A value that no document changes: a number written in a formula."""

    value: float
    sign: float = field(init=False)  # noughts of both signs are two values
    group: ClassVar[Group] = "params"

    def __post_init__(self) -> None:
        object.__setattr__(self, "sign", math.copysign(1.0, self.value))

    def read(self, document: Any) -> float:
        return self.value


@dataclass(frozen=True)
class FixedSeed(Slot[Any]):
    """A seed that no document changes."""

    value: int
    group: ClassVar[Group] = "seeds"

    def read(self, document: Any) -> int:
        return self.value


class Handle(int):
    """Where a slot's value stands among those of its group in `ProgramValues`."""

    group: Group

    def __new__(cls, group: Group, place: int) -> Handle:
        handle = super().__new__(cls, place)
        handle.group = group
        return handle


class SlotTable(Generic[Document]):
    """The slots that the programs of one thing read, in the order in which they were first named."""

    def __init__(self) -> None:
        self._handles: dict[Slot[Document], Handle] = {}
        self._sizes: dict[Group, int] = dict.fromkeys(get_args(Group), 0)

    def handle(self, slot: Slot[Document]) -> Handle:
        """Return where a slot's value stands; a new slot gets the next place of its group."""
        known = self._handles.get(slot)
        if known is None:
            known = self._handles[slot] = Handle(slot.group, self._sizes[slot.group])
            self._sizes[slot.group] += 1
        return known

    def __iter__(self) -> Iterator[Slot[Document]]:
        return iter(self._handles)

    def values(self, document: Document, stage: StageQueries | None = None) -> ProgramValues:
        """Return the value of every slot as a document has it."""
        values = ProgramValues(stage=stage)
        for slot, handle in self._handles.items():
            getattr(values, handle.group).append(slot.read(document))
        return values
