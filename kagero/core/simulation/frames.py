"""Stored frames. A frame holds the whole state of an emitter, so that each is also a checkpoint."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

from ..engine import Faults
from ..errors import RequestError
from ..memory import CacheRegion, Memory
from .events import Events

AXES = ("x", "y", "z")


# rows of `Population.floats`: where positions, velocities and carried columns begin
POSITION = 2
VELOCITY = 5
CARRIED = 8


@dataclass(frozen=True)
class LoopRepeat:
    """What repeated particles of a loop have besides, (n,) each.

    key: of the simulated particle, by which it is drawn, uint64. late: delay between simulated and shown time, seconds,
    float64. share: visible share, 0 to 1, float32.
    """

    key: np.ndarray
    late: np.ndarray
    share: np.ndarray

    @classmethod
    def first(cls, population: Population) -> LoopRepeat:
        """Return the values of particles shown as they were simulated."""
        n = len(population)
        return cls(population.key, np.zeros(n), np.ones(n, np.float32))

    def where(self, keep: np.ndarray | slice) -> LoopRepeat:
        return LoopRepeat(self.key[keep], self.late[keep], self.share[keep])

    @property
    def nbytes(self) -> int:
        return self.key.nbytes + self.late.nbytes + self.share.nbytes


@dataclass(frozen=True)
class Population:
    """Living particles of one emitter, in order of birth.

    key: (n,) uint64, permanent. birth_time: (n,) float64, clip seconds, from which ages are computed without drift.
    floats: (8 + carried, n) float32, one row for each column: age, lifespan (seconds), position x, y, z (metres),
    velocity x, y, z (m/s), then the carried columns, named as programs read them (rotation in radians, own attributes
    with memory, sources read once at birth). Repeated particles of a loop have a `LoopRepeat`; simulated ones have
    None.
    """

    key: np.ndarray
    birth_time: np.ndarray
    floats: np.ndarray
    names: tuple[str, ...] = ()
    repeats: LoopRepeat | None = None

    @classmethod
    def empty(cls, carried: tuple[str, ...]) -> Population:
        return cls(
            np.empty(0, np.uint64), np.empty(0), np.empty((CARRIED + len(carried), 0), np.float32), tuple(carried)
        )

    @classmethod
    def from_columns(
        cls,
        key: np.ndarray,
        birth_time: np.ndarray,
        age: np.ndarray,
        lifespan: np.ndarray,
        position: Iterable[np.ndarray],
        velocity: Iterable[np.ndarray],
        carried: Mapping[str, np.ndarray],
    ) -> Population:
        """Return particles from columns, (n,) each; position and velocity are one array for each axis."""
        floats = np.array([age, lifespan, *position, *velocity, *carried.values()], np.float32)
        return cls(key, birth_time, floats, tuple(carried))

    def __len__(self) -> int:
        return len(self.key)

    @property
    def age(self) -> np.ndarray:
        return self.floats[0]

    @property
    def lifespan(self) -> np.ndarray:
        return self.floats[1]

    @property
    def position(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        x, y, z = self.floats[POSITION:VELOCITY]
        return x, y, z

    @property
    def velocity(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        x, y, z = self.floats[VELOCITY:CARRIED]
        return x, y, z

    @property
    def carried(self) -> dict[str, np.ndarray]:
        return dict(zip(self.names, self.floats[CARRIED:], strict=True))

    def columns(self) -> list[np.ndarray]:
        return [self.key, self.birth_time, *self.floats]

    @property
    def nbytes(self) -> int:
        return (
            self.key.nbytes
            + self.birth_time.nbytes
            + self.floats.nbytes
            + (self.repeats.nbytes if self.repeats is not None else 0)
        )

    def with_floats(self, floats: np.ndarray) -> Population:
        """Return the same particles with other numbers, (8 + carried, n) float32."""
        return replace(self, floats=floats)

    def where(self, keep: np.ndarray | slice) -> Population:
        """Return the particles selected by a mask, indices or a slice."""
        floats = self.floats[:, keep]
        if not (isinstance(keep, slice) and keep.step in (None, 1)):  # rows in one piece, as kernels want them
            floats = np.ascontiguousarray(floats)
        repeats = self.repeats.where(keep) if self.repeats is not None else None
        return Population(self.key[keep], self.birth_time[keep], floats, self.names, repeats)

    @staticmethod
    def joined(parts: list[Population]) -> Population:
        """Return several populations (at least one, with the same carried columns) concatenated."""
        key, birth_time, floats = (
            np.concatenate([getattr(part, name) for part in parts], -1) for name in ("key", "birth_time", "floats")
        )
        repeats = None
        if any(part.repeats is not None for part in parts):
            every = [part.repeats or LoopRepeat.first(part) for part in parts]
            repeats = LoopRepeat(
                *(np.concatenate([getattr(each, name) for each in every]) for name in ("key", "late", "share"))
            )
        return Population(key, birth_time, floats, parts[0].names, repeats)

    def inputs(self) -> dict[str, np.ndarray]:
        """Return the arrays by the names under which programs read them."""
        return {
            "key": self.key if self.repeats is None else self.repeats.key,
            **dict(zip(row_names(self.names), self.floats, strict=True)),
        }


@lru_cache(maxsize=256)
def row_names(carried: tuple[str, ...]) -> tuple[str, ...]:
    """Return the names under which programs read the rows of `Population.floats`."""
    return ("age", "lifespan", *(f"position.{a}" for a in AXES), *(f"velocity.{a}" for a in AXES), *carried)


@dataclass(frozen=True)
class Frame:
    """One emitter at one frame.

    faults: results between the previous frame and this one that were not finite and were replaced. events: early ends
    and other events on the way, with their times. cue_counts: how often each cue has happened so far, (cues,) int64.
    held: which gates of births have been true (`gates`).
    """

    number: int
    population: Population
    faults: Faults = field(default_factory=Faults)
    events: Events = field(default_factory=Events.none)
    cue_counts: np.ndarray = field(default_factory=lambda: np.zeros(0, np.int64))
    held: np.ndarray = field(default_factory=lambda: np.zeros(0, bool))

    @property
    def nbytes(self) -> int:
        return self.population.nbytes + self.events.nbytes + 256

    def to_bytes(self) -> bytes:
        """Return the frame as a checkpoint: little-endian arrays in an uncompressed NPZ."""
        p = self.population
        stream = io.BytesIO()
        arrays = {
            "number": np.asarray(self.number, "<i8"),
            "key": p.key,
            "birth_time": p.birth_time,
            "age": p.age,
            "lifespan": p.lifespan,
        }
        arrays |= {f"position.{a}": c for a, c in zip(AXES, p.position, strict=True)}
        arrays |= {f"velocity.{a}": c for a, c in zip(AXES, p.velocity, strict=True)}
        arrays |= {f"carried.{name}": c for name, c in p.carried.items()}
        arrays |= {f"events.{name}": getattr(self.events, name) for name in ("key", "what", "time", "state")}
        arrays |= {"often": self.cue_counts, "held": self.held}
        np.savez(stream, **arrays)  # type: ignore[arg-type]
        return stream.getvalue()

    @classmethod
    def from_bytes(cls, data: bytes) -> Frame:
        """Read a checkpoint. Raises RequestError for bytes that are not one."""
        try:
            with np.load(io.BytesIO(data), allow_pickle=False) as a:
                carried = {name[8:]: a[name] for name in a.files if name.startswith("carried.")}
                x, y, z = (a[f"position.{axis}"] for axis in AXES)
                u, v, w = (a[f"velocity.{axis}"] for axis in AXES)
                population = Population.from_columns(
                    a["key"], a["birth_time"], a["age"], a["lifespan"], (x, y, z), (u, v, w), carried
                )
                events = Events(*(a[f"events.{name}"] for name in ("key", "what", "time", "state")))
                return cls(int(a["number"]), population, events=events, cue_counts=a["often"], held=a["held"])
        except (KeyError, ValueError, OSError, EOFError, zipfile.BadZipFile) as problem:
            raise RequestError("These bytes are no checkpoint.", remedy="Simulate from the first frame.") from problem


class FrameStore:
    """Frames by content hash; the least recently used are evicted when their memory is full. Thread-safe.

    memory: the memory that the frames share with other things; without it they have `limit` bytes of their own.
    """

    def __init__(self, limit: int = 1 << 30, memory: Memory | None = None):
        self.frames_simulated = 0  # how many frames were ever stored: tests and the bench read it
        self._frames: CacheRegion[Frame] = (memory or Memory(limit)).region("frames", 6.0, lambda frame: frame.nbytes)

    @property
    def used(self) -> int:
        return self._frames.used

    def get(self, simulated: str, number: int) -> Frame | None:
        return self._frames.get((simulated, number))

    def put(self, simulated: str, frame: Frame) -> None:
        self._frames.put((simulated, frame.number), frame)
        self.frames_simulated += 1

    def nearest(self, simulated: str, number: int, first: int) -> Frame | None:
        """Return the last stored frame at or before a number."""
        for candidate in range(number, first - 1, -1):
            frame = self.get(simulated, candidate)
            if frame is not None:
                return frame
        return None
