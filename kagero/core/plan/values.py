"""The run-time values beside a plan's structure: changing one compiles nothing."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np

from .program import Program, Slot


@dataclass(frozen=True)
class Asked:
    """What a program asks of the stage. prop: whose; digest: equal where the prop stands, moves and is the same.

    detail: of births, the place in the document (`OnProp`); else None.
    """

    prop: str
    digest: str
    detail: Any = None

    def tobytes(self) -> bytes:
        return f"{self.prop} {self.digest}".encode()


class Stage(Protocol):
    """Where props are and what is on them at clip times (n,), float64 seconds; for operations of plans that ask for it."""

    def matrices(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def born(self, asked: Asked, uvw: np.ndarray, times: np.ndarray, offset: np.ndarray) -> list[np.ndarray]: ...
    def bound(self, asked: Asked, binding: np.ndarray, offset: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def held(self, uid: str, binding: np.ndarray, offset: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def sample(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def reach(self, uid: str, origins: np.ndarray, directions: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def picture(self, uid: str, uv: np.ndarray, times: np.ndarray) -> np.ndarray: ...


@dataclass
class PlanValues:
    """params: numbers; curves, gradients: tables of `kernels.curves`; seeds: 64-bit, for draws and noise; props: what is asked
    of the stage, which answers once the effect plays."""

    params: list[float] = field(default_factory=list)
    curves: list[np.ndarray] = field(default_factory=list)
    gradients: list[np.ndarray] = field(default_factory=list)
    seeds: list[int] = field(default_factory=list)
    props: list[Asked] = field(default_factory=list)
    stage: Stage | None = field(default=None, compare=False)
    _slots: dict[tuple[str, str], Slot] = field(default_factory=dict)

    def param(self, name: str, value: float) -> Slot:
        return self._slot("params", name, float(value))

    def literal(self, value: float) -> Slot:
        """Return the slot of a number written in a formula: equal ones share one."""
        return self._slot("params", f"literal {value!r}", value)

    def curve(self, name: str, table: np.ndarray) -> Slot:
        return self._slot("curves", name, table)

    def gradient(self, name: str, table: np.ndarray) -> Slot:
        return self._slot("gradients", name, table)

    def seed(self, name: str, value: int) -> Slot:
        return self._slot("seeds", name, value)

    def prop(self, name: str, asked: Asked) -> Slot:
        return self._slot("props", name, asked)

    def within(self, whose: str) -> Within:
        """Return the same values under names of somebody else's: what a program reads of another thing than its own."""
        return Within(self, whose)

    def anew(self, give: Callable[[str, str], Any]) -> PlanValues:
        """Return the same slots with other values: give(group, name) of each; seeds stay."""
        made = PlanValues(list(self.params), list(self.curves), list(self.gradients), list(self.seeds), list(self.props), None, dict(self._slots))
        for (group, name), slot in self._slots.items():
            if group != "seeds":
                getattr(made, group)[slot] = give(group, name)
        return made

    def _slot(self, group: str, name: str, value: object) -> Slot:
        known = (group, name)
        if known not in self._slots:
            values = getattr(self, group)
            self._slots[known] = Slot(group, len(values))
            values.append(value)
        return self._slots[known]

    def digest(self, *programs: Program, also: object = ()) -> str:
        """Return a content hash of programs, of the values they read, and of anything else given."""
        h = hashlib.blake2b(digest_size=16)
        h.update(repr(also).encode())
        for program in programs:
            h.update(program.structure.encode())
            for op in program.operations:
                for attr in op.attrs:
                    if isinstance(attr, Slot):
                        h.update(_bytes(attr.group, getattr(self, attr.group)[attr]))
        return h.hexdigest()


@dataclass(frozen=True)
class Within:
    """Values whose names begin with whose they are."""

    values: PlanValues
    whose: str

    def param(self, name: str, value: float) -> Slot:
        return self.values.param(f"{self.whose}|{name}", value)

    def literal(self, value: float) -> Slot:
        return self.values.literal(value)

    def curve(self, name: str, table: np.ndarray) -> Slot:
        return self.values.curve(f"{self.whose}|{name}", table)

    def gradient(self, name: str, table: np.ndarray) -> Slot:
        return self.values.gradient(f"{self.whose}|{name}", table)

    def seed(self, name: str, value: int) -> Slot:
        return self.values.seed(f"{self.whose}|{name}", value)

    def prop(self, name: str, asked: Asked) -> Slot:
        return self.values.prop(name, asked)

    def within(self, whose: str) -> Within:
        return Within(self.values, whose)


def _bytes(group: str, value: Any) -> bytes:
    if group == "params":
        return np.float32(value).tobytes()
    return value.to_bytes(8, "little") if group == "seeds" else value.tobytes() + b"|"  # type: ignore[no-any-return]
