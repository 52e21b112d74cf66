"""The run-time values beside a program's structure: changing one compiles nothing."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np


@dataclass(frozen=True)
class PropQuery:
    """What a program asks of the stage. prop: whose uid; digest: equal where the prop stands, moves and is the same.

    detail: of births on a prop, how they are placed there; else None.
    """

    prop: str
    digest: str
    detail: Any = None

    @property
    def props(self) -> tuple[str, ...]:
        """The uids of all props that it asks about: several where what is asked stands in several."""
        return (self.prop,) if self.prop else tuple(each.prop for each in self.detail or () if each.prop)

    def tobytes(self) -> bytes:
        return f"{self.prop} {self.digest}".encode()


class StageQueries(Protocol):
    """Where props are and what is on them at clip times (n,), float64 seconds: what runs of programs ask. Arrays are float64, lengths
    metres; see `staging` for shapes."""

    def matrices(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def velocities(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def travelled(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def born(self, query: PropQuery, uvw: np.ndarray, times: np.ndarray, offset: np.ndarray) -> list[np.ndarray]: ...
    def bound(
        self, query: PropQuery, binding: np.ndarray, offset: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]: ...
    def part_facts(self, place: Any, number: np.ndarray) -> list[np.ndarray]: ...
    def turned(self, uid: str, binding: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def held(self, uid: str, binding: np.ndarray, offset: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def sample(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def nearest(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def ridden(self, query: PropQuery, uv: np.ndarray, aside: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def along(self, query: PropQuery, share: np.ndarray, metres: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def carried(
        self, uid: str, points: np.ndarray, vectors: np.ndarray, dt: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]: ...
    def footing(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def footed(self, uid: str, foot: np.ndarray, out: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def walked(
        self,
        query: PropQuery,
        foot: np.ndarray,
        out: np.ndarray,
        direction: np.ndarray,
        velocity: np.ndarray,
        dt: np.ndarray,
        times: np.ndarray,
    ) -> list[np.ndarray]: ...
    def met(
        self, query: PropQuery, args: list[Any], keys: np.ndarray, length: float, until: float, outs: list[np.ndarray]
    ) -> None: ...
    def met_colour(self, query: PropQuery, which: np.ndarray, face: np.ndarray, uv: np.ndarray) -> np.ndarray: ...
    def field(self, query: PropQuery, points: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def middle(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def painted(self, uid: str, points: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def reach(self, uid: str, origins: np.ndarray, directions: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def picture(self, uid: str, uv: np.ndarray, times: np.ndarray) -> np.ndarray: ...


@dataclass
class ProgramValues:
    """params: numbers; curves, gradients: tables of `kernels.curves`; seeds: 64-bit, for draws and noise; queries: what is asked of the
    stage, which answers once the effect plays."""

    params: list[float] = field(default_factory=list)
    curves: list[np.ndarray] = field(default_factory=list)
    gradients: list[np.ndarray] = field(default_factory=list)
    seeds: list[int] = field(default_factory=list)
    queries: list[PropQuery] = field(default_factory=list)
    stage: StageQueries | None = field(default=None, compare=False)
