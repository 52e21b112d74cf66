"""Stored frames. A frame holds all state of an emitter, so that each is also a checkpoint."""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass, field

import numpy as np

from ..engine import Faults
from ..errors import RequestError
from ..memory import Memory, Shelf
from .events import Events

AXES = ("x", "y", "z")


@dataclass(frozen=True)
class Population:
    """Living particles of one emitter, in order of birth; every array has the same length.

    key: uint64, permanent. birth_time: float64, seconds of clip time, so that ages never drift. All others float32:
    position and velocity (one array an axis; metres, metres a second), age and lifespan (seconds), carried (by the name
    that programs read it under: rotation in radians, own attributes that remember, what once-sources were at birth).
    """

    key: np.ndarray
    birth_time: np.ndarray
    age: np.ndarray
    lifespan: np.ndarray
    position: tuple[np.ndarray, np.ndarray, np.ndarray]
    velocity: tuple[np.ndarray, np.ndarray, np.ndarray]
    carried: dict[str, np.ndarray] = field(default_factory=dict)

    @classmethod
    def nobody(cls, carried: tuple[str, ...]) -> Population:
        def none() -> np.ndarray:
            return np.empty(0, np.float32)

        return cls(np.empty(0, np.uint64), np.empty(0), none(), none(), (none(), none(), none()),
                   (none(), none(), none()), {name: none() for name in carried})  # fmt: skip

    def __len__(self) -> int:
        return len(self.key)

    def columns(self) -> list[np.ndarray]:
        return [self.key, self.birth_time, self.age, self.lifespan, *self.position, *self.velocity, *self.carried.values()]

    @property
    def nbytes(self) -> int:
        return sum(column.nbytes for column in self.columns())

    def where(self, keep: np.ndarray | slice) -> Population:
        """Return those for whom keep (a mask, indices or a slice) holds."""
        c = [column[keep] for column in self.columns()]
        return self.of(c)

    @staticmethod
    def living(parts: list[Population], lives: list[np.ndarray | None]) -> Population:
        """Return those of several populations that are younger than their lifespan and live on, one behind the other; each column is
        copied once. lives: of each population who does, (n,) bool; None: all."""
        picks: list[np.ndarray | None] = []
        for part, on in zip(parts, lives, strict=True):
            alive = part.age < part.lifespan
            if on is not None:
                alive &= on
            picks.append(None if alive.all() else np.flatnonzero(alive))
        if len(parts) == 1 and picks[0] is None:
            return parts[0]
        sizes = [len(part) if pick is None else len(pick) for part, pick in zip(parts, picks, strict=True)]
        columns = []
        for group in zip(*(part.columns() for part in parts), strict=True):
            column, at = np.empty(sum(sizes), group[0].dtype), 0
            for values, pick, size in zip(group, picks, sizes, strict=True):
                if pick is None:
                    column[at : at + size] = values
                else:
                    np.take(values, pick, out=column[at : at + size], mode="clip")
                at += size
            columns.append(column)
        return parts[0].of(columns)

    @staticmethod
    def joined(parts: list[Population]) -> Population:
        """Return all of several populations (at least one), with the same carried columns, one behind the other."""
        columns = zip(*(part.columns() for part in parts), strict=True)
        return parts[0].of([np.concatenate(column) for column in columns])

    def of(self, c: list[np.ndarray]) -> Population:
        """Return a population of other columns, in the order of `columns`."""
        return Population(c[0], c[1], c[2], c[3], (c[4], c[5], c[6]), (c[7], c[8], c[9]),
                          dict(zip(self.carried, c[10:], strict=True)))  # fmt: skip

    def inputs(self) -> dict[str, np.ndarray]:
        """Return the arrays by the names that programs read them under."""
        named = {"key": self.key, "age": self.age, "lifespan": self.lifespan}
        for i, axis in enumerate(AXES):
            named[f"position.{axis}"], named[f"velocity.{axis}"] = self.position[i], self.velocity[i]
        return named | self.carried


@dataclass(frozen=True)
class Frame:
    """One emitter at one frame. On the way from the frame before: faults, what was not finite and was replaced; events, who ended
    before its lifespan, and when."""

    number: int
    population: Population
    faults: Faults = field(default_factory=Faults)
    events: Events = field(default_factory=Events.none)

    @property
    def nbytes(self) -> int:
        return self.population.nbytes + self.events.nbytes + 256

    def to_bytes(self) -> bytes:
        """Return the frame as a checkpoint: explicit little-endian arrays in an uncompressed NPZ."""
        p = self.population
        stream = io.BytesIO()
        arrays = {"number": np.asarray(self.number, "<i8"), "key": p.key, "birth_time": p.birth_time, "age": p.age, "lifespan": p.lifespan}
        arrays |= {f"position.{a}": c for a, c in zip(AXES, p.position, strict=True)}
        arrays |= {f"velocity.{a}": c for a, c in zip(AXES, p.velocity, strict=True)}
        arrays |= {f"carried.{name}": c for name, c in p.carried.items()}
        arrays |= {f"events.{name}": getattr(self.events, name) for name in ("key", "what", "time")}
        np.savez(stream, **arrays)  # type: ignore[arg-type]
        return stream.getvalue()

    @classmethod
    def from_bytes(cls, data: bytes) -> Frame:
        """Read a checkpoint. Raises RequestError when the bytes are none."""
        try:
            with np.load(io.BytesIO(data), allow_pickle=False) as a:
                carried = {name[8:]: a[name] for name in a.files if name.startswith("carried.")}
                x, y, z = (a[f"position.{axis}"] for axis in AXES)
                u, v, w = (a[f"velocity.{axis}"] for axis in AXES)
                population = Population(a["key"], a["birth_time"], a["age"], a["lifespan"], (x, y, z), (u, v, w), carried)
                events = Events(*(a[f"events.{name}"] for name in ("key", "what", "time")))
                return cls(int(a["number"]), population, events=events)
        except (KeyError, ValueError, OSError, EOFError, zipfile.BadZipFile) as problem:
            raise RequestError("These bytes are no checkpoint.", remedy="Simulate from the first frame.") from problem


class FrameStore:
    """Frames by content hash, the least recently used given up where the memory they are in is full. Safe for several threads.

    memory: where they are kept beside other things; without one, in `limit` bytes of their own.
    """

    def __init__(self, limit: int = 1 << 30, memory: Memory | None = None):
        self.stepped = 0  # how many frames were ever stored: tests and the bench read it
        self._frames: Shelf[Frame] = (memory or Memory(limit)).shelf("frames", 6.0, lambda frame: frame.nbytes)

    @property
    def used(self) -> int:
        return self._frames.used

    def get(self, simulated: str, number: int) -> Frame | None:
        return self._frames.get((simulated, number))

    def put(self, simulated: str, frame: Frame) -> None:
        self._frames.put((simulated, frame.number), frame)
        self.stepped += 1

    def nearest(self, simulated: str, number: int, first: int) -> Frame | None:
        """Return the last stored frame at or before a number."""
        for candidate in range(number, first - 1, -1):
            frame = self.get(simulated, candidate)
            if frame is not None:
                return frame
        return None
