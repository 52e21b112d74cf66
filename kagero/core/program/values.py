"""Run-time values beside a program's structure: changing one compiles nothing."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np


@dataclass(frozen=True)
class PropQuery:
    """What a program asks of the stage. prop: its uid. digest: equal where the prop's geometry and motion are equal.

    detail: for births on a prop, how they are placed; otherwise None or the part that asks.
    """

    prop: str
    digest: str
    detail: Any = None

    @property
    def props(self) -> tuple[str, ...]:
        """The uids of all props that the query concerns."""
        return (self.prop,) if self.prop else tuple(each.prop for each in self.detail or () if each.prop)

    def tobytes(self) -> bytes:
        return f"{self.prop} {self.digest}".encode()


class StageQueries(Protocol):
    """Queries about props at clip times (n,), float64 seconds, that running programs make. Arrays are float64, lengths
    in metres; shapes are given in `staging`."""

    def matrices(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def velocities(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def travelled(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def births_on(
        self, query: PropQuery, uvw: np.ndarray, times: np.ndarray, offset: np.ndarray
    ) -> list[np.ndarray]: ...
    def births_bound_to(
        self, query: PropQuery, binding: np.ndarray, offset: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]: ...
    def part_facts(self, place: Any, number: np.ndarray) -> list[np.ndarray]: ...
    def binding_rotations(self, uid: str, binding: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def binding_positions(self, uid: str, binding: np.ndarray, offset: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def sample(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def nearest(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def surface_ride_places(
        self, query: PropQuery, uv: np.ndarray, aside: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]: ...
    def path_ride_places(
        self, query: PropQuery, share: np.ndarray, metres: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]: ...
    def carried_by_prop(
        self, uid: str, points: np.ndarray, vectors: np.ndarray, dt: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]: ...
    def nearest_footing(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def places_of_footing(self, uid: str, foot: np.ndarray, out: np.ndarray, times: np.ndarray) -> list[np.ndarray]: ...
    def walk(
        self,
        query: PropQuery,
        foot: np.ndarray,
        out: np.ndarray,
        direction: np.ndarray,
        velocity: np.ndarray,
        dt: np.ndarray,
        times: np.ndarray,
    ) -> list[np.ndarray]: ...
    def resolve_contacts(
        self, query: PropQuery, args: list[Any], keys: np.ndarray, length: float, until: float, outs: list[np.ndarray]
    ) -> None: ...
    def contact_colours(self, query: PropQuery, which: np.ndarray, face: np.ndarray, uv: np.ndarray) -> np.ndarray: ...
    def field(self, query: PropQuery, points: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def bounds_middle(self, uid: str, times: np.ndarray) -> np.ndarray: ...
    def painted_share(self, uid: str, points: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def reach(self, uid: str, origins: np.ndarray, directions: np.ndarray, times: np.ndarray) -> np.ndarray: ...
    def picture(self, uid: str, uv: np.ndarray, times: np.ndarray) -> np.ndarray: ...


@dataclass
class ProgramValues:
    """params: numbers. curves, gradients: tables of `kernels.curves`. seeds: 64-bit, for draws and noise. queries: what
    is asked of the stage, which answers when the effect plays."""

    params: list[float] = field(default_factory=list)
    curves: list[np.ndarray] = field(default_factory=list)
    gradients: list[np.ndarray] = field(default_factory=list)
    seeds: list[int] = field(default_factory=list)
    queries: list[PropQuery] = field(default_factory=list)
    stage: StageQueries | None = field(default=None, compare=False)
