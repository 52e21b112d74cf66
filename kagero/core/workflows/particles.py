"""Particles in numbers: the table of a frame, one life from birth to end, and the live range of every source."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np

from ..catalog import choices
from ..engine import prepare_reference
from ..errors import BudgetError, RequestError
from ..plan import Column, Columns, compile_columns
from ..rows.contact_state import TOUCH
from ..rows.units import METRES
from ..simulation import FIRED, POSITION, VELOCITY, Population, frame_inputs
from ..work_limits import Work, while_wanted
from .measure import gather_frames, shortest_float32
from .play import Playing, never_stopped
from .push_report import slice_through

MOST_ROWS = 500
SIMULATED = tuple(Column(f"simulated.{axis}", f"simulated {axis}", METRES, "shaping") for axis in "xyz")


@dataclass(frozen=True)
class Filter:
    """Keeps particles whose value in a column lies in low..high, inclusive; None: no bound."""

    column: str
    low: float | None = None
    high: float | None = None


BINS = 18  # of a source's histogram in the list
SOON = (
    1.5e8  # operations, about a second: a new response's range does not hang on how much of the clip was played already
)


@dataclass(frozen=True)
class TableRequest:
    """The rows of the table to return: sorted by a column (without one, in order of birth), filtered, `count` rows from
    `first` on."""

    sort: str = ""
    descending: bool = False
    filters: tuple[Filter, ...] = ()
    first: int = 0
    count: int = 100


class Particles:
    """The particles of one emitter with all their attributes. Raises RequestError for an unknown emitter."""

    def __init__(self, playing: Playing, emitter: str, stopped: Callable[[], None] = never_stopped):
        index = next((i for i, e in enumerate(playing.effect.emitters) if e.uid == emitter), None)
        if index is None:
            raise RequestError(
                f"There is no emitter {emitter!r}.", where="emitter", remedy="Choose one of the effect's emitters."
            )
        self.playing, self.stopped = playing, stopped
        self.emitter = playing.effect.emitters[index]
        self.plan = playing.plan.emitters[index]
        self.run = playing.runs[index]
        self.shaped = playing.shaped[index]

    def table(self, number: int, wanted: TableRequest) -> dict[str, Any]:
        """Return the columns (alike: all particles have the same value), the numbers of particles and of matches, and
        the requested rows: [key, index in the frame, values...].

        Raises RequestError for an unknown column, more than MOST_ROWS rows, or a frame outside the clip.
        """
        if not 0 <= wanted.count <= MOST_ROWS or wanted.first < 0:
            raise RequestError(
                f"{wanted.count} rows from {wanted.first} cannot be given.",
                where="count",
                remedy=f"Ask for 0 to {MOST_ROWS}.",
            )
        population = self.shaped.at(number, 0.0, self.stopped)
        columns = self._columns()
        known = {column.key for column in columns.columns}
        for name in [wanted.sort, *(f.column for f in wanted.filters)]:
            if name and name not in known:
                raise RequestError(
                    f"There is no column {name!r}.", where="column", remedy="Choose one of the table's columns."
                )
        values = self._values(columns, population, self.shaped.seconds(number)) | self._simulated(
            [(number, population.key)]
        )
        keep = np.ones(len(population), bool)
        for f in wanted.filters:
            if f.low is not None:
                keep &= values[f.column] >= np.float32(f.low)
            if f.high is not None:
                keep &= values[f.column] <= np.float32(f.high)
        order = np.flatnonzero(keep)
        if wanted.sort:
            by = values[wanted.sort][order]
            order = order[np.argsort(-by if wanted.descending else by, kind="stable")]
        elif wanted.descending:
            order = order[::-1]
        page = order[wanted.first : wanted.first + wanted.count]
        cells = [_numbers(values[column.key][page]) for column in columns.columns]
        return {
            "total": len(population),
            "matching": len(order),
            "columns": [
                {**asdict(column), "alike": bool(len(population) and np.ptp(values[column.key]) == 0)}
                for column in columns.columns
            ],
            "rows": [
                [str(population.key[i]), int(i), *line] for i, line in zip(page, zip(*cells, strict=True), strict=True)
            ],
        }

    def key_at(self, number: int, index: int) -> int:
        """Return the key of the particle at an index of a frame. Raises RequestError where there is none."""
        population = self.shaped.at(number, 0.0, self.stopped)
        if not 0 <= index < len(population):
            raise RequestError(
                f"Frame {number} has {len(population)} particles; none at {index}.",
                where="index",
                remedy="Pick one that is there.",
            )
        return int(population.key[index])

    def one_life(self, number: int, key: int) -> dict[str, Any]:
        """Return the frames at which a particle that is alive at frame `number` lives, its path, and every column over
        them.

        Raises RequestError where it is not alive.
        """
        if self._one(number, key) is None:
            raise RequestError("This particle does not live at this frame.", where="key", remedy="Pick one that does.")
        plan = self.playing.plan
        first = last = number
        while first > plan.first_frame and self._one(first - 1, key) is not None:
            first -= 1
        while last < plan.last_frame and self._one(last + 1, key) is not None:
            last += 1
        life = [(n, one) for n in range(first, last + 1) if (one := self._one(n, key)) is not None]
        joined = Population.joined([one for _, one in life])
        seconds = np.array([self.shaped.seconds(n) for n, _ in life], np.float32)
        columns = self._columns()
        values = self._values(columns, joined, seconds) | self._simulated([(n, one.key) for n, one in life])
        return {
            "key": str(key),
            "frames": [n for n, _ in life],
            "life": _numbers(joined.age / joined.lifespan),
            "age": _numbers(joined.age),
            "lifespan": float(joined.lifespan[0]),
            "ends": last < plan.last_frame,
            "events": self._events(key, joined, [n for n, _ in life]),
            "path": [_numbers(np.array(point)) for point in zip(*joined.position, strict=True)],
            "columns": [{**asdict(column), "values": _numbers(values[column.key])} for column in columns.columns],
        }

    def _events(self, key: int, life: Population, frames: list[int]) -> list[dict[str, Any]]:
        """Return the events of a particle's life (at `frames`) in order of time: cues by name, and touches; each with
        its frame and its share of the life."""
        born, lifespan = float(life.birth_time[0]), float(life.lifespan[0])
        listed: list[tuple[float, int, str]] = []
        key = key if life.repeats is None else int(life.repeats.key[0])
        looked = set()
        for number in range(frames[0], min(frames[-1] + 1, self.playing.plan.last_frame) + 1):
            stored = self.shaped.behind(number)[0]
            if stored in looked:
                continue
            looked.add(stored)
            events = self.run.frame_at(stored, self.stopped).events
            for i in np.flatnonzero((events.key == np.uint64(key)) & (events.what >= FIRED)).tolist():
                uid = self.plan.cues[int(events.what[i]) - FIRED]
                listed.append(
                    (float(events.time[i]), number, next(cue.name for cue in self.emitter.cues if cue.uid == uid))
                )
        touched = life.carried.get(TOUCH["count"])
        if touched is not None:
            for k in np.flatnonzero(np.diff(touched, prepend=0) > 0).tolist():
                times = int(touched[k] - (touched[k - 1] if k else 0))
                listed.append(
                    (
                        self.playing.plan.seconds(frames[k]),
                        frames[k],
                        "touches" if times == 1 else f"touches {times} times",
                    )
                )
        return [
            {"name": name, "frame": number, "life": min(max((time - born) / lifespan, 0.0), 1.0)}
            for time, number, name in sorted(listed)
        ]

    def slice(
        self,
        number: int,
        key: int,
        push: str,
        across: tuple[float, float, float],
        up: tuple[float, float, float],
        reach: float,
        count: int,
    ) -> dict[str, Any]:
        """Return the pushes on a particle over a plane through it (`push_report.slice_through`). Raises RequestError
        where it is not alive."""
        one = self._one(number, key)
        if one is None:
            raise RequestError("This particle does not live at this frame.", where="key", remedy="Pick one that does.")
        axes = [np.asarray(axis, np.float64) / max(float(np.linalg.norm(axis)), 1e-12) for axis in (across, up)]
        return slice_through(
            self.plan, one, self.shaped.seconds(number), push, axes[0], axes[1], min(max(reach, 1e-4), 1e5), count
        )

    def sources(self, number: int, address: str) -> list[dict[str, Any]]:
        """Return every source for the row at an address (`catalog.source_choices`), each with its smallest, mean and
        largest value at a frame and over the clip: the whole clip where that is quick, otherwise the frames stored so
        far. Raises RequestError for an unknown row."""
        plan = self.playing.plan
        try:
            listed = choices(self.playing.effect, self.emitter, address)
        except KeyError:
            raise RequestError(
                f"There is no row {address!r}.", where="address", remedy="Choose one of the emitter's rows."
            ) from None
        columns = compile_columns(self.playing.effect, self.emitter, self.plan)
        seen = self.plan.rows[address].spec.band == "look"  # read where they are shown
        population = (
            self.shaped.at(number, 0.0, self.stopped) if seen else self.shaped.simulated(number, 0.0, self.stopped)
        )
        now = self._values(columns, population, self.shaped.seconds(number)) if len(population) else {}
        self._whole()
        stored = [
            (plan.seconds(n), frame.population)
            for n in range(plan.first_frame, plan.last_frame + 1)
            if (frame := self.run.store.get(self.run.address, n)) is not None
        ]
        gathered = gather_frames(stored)
        if gathered and seen:
            gathered = self.shaped.shaper.shaped(*gathered), gathered[1]
        clip = self._values(columns, *gathered) if gathered else {}
        return [
            {
                **asdict(choice),
                "now": _range(now.get(choice.key)),
                "clip": _range(clip.get(choice.key)),
                "bins": _bins(now.get(choice.key)),
            }
            for choice in listed
        ]

    def _whole(self) -> None:
        """Store every frame of the clip, where that takes at most SOON operations."""
        try:
            with while_wanted(Work(self.stopped, SOON, "The clip")):
                for number in range(self.playing.plan.first_frame, self.playing.plan.last_frame + 1):
                    self.run.frame(number, self.stopped)
        except BudgetError:
            return  # what is stored tells as much as there is

    def _values(self, columns: Columns, population: Population, seconds: float | np.ndarray) -> dict[str, np.ndarray]:
        return prepare_reference(columns.program).run(
            columns.values, frame_inputs(population, seconds), len(population)
        )

    def _columns(self) -> Columns:
        """Return all columns; with shaping, also the simulated positions."""
        columns = compile_columns(self.playing.effect, self.emitter, self.plan)
        return replace(columns, columns=(*columns.columns, *SIMULATED)) if self.plan.shaping is not None else columns

    def _simulated(self, chosen: list[tuple[int, np.ndarray]]) -> dict[str, np.ndarray]:
        """Return the simulated positions by column, for frames and keys in the given order."""
        if self.plan.shaping is None:
            return {}
        found = []
        for number, keys in chosen:
            population = self.shaped.simulated(number, 0.0, self.stopped)
            order = np.argsort(population.key, kind="stable")
            found.append(population.floats[POSITION:VELOCITY, order[np.searchsorted(population.key[order], keys)]])
        places = np.concatenate(found, axis=1)
        return {column.key: places[i] for i, column in enumerate(SIMULATED)}

    def _one(self, number: int, key: int) -> Population | None:
        population = self.shaped.at(number, 0.0, self.stopped)
        found = np.flatnonzero(population.key == np.uint64(key))
        return population.where(found[:1]) if len(found) else None


def _numbers(values: np.ndarray) -> list[float]:
    return [float(f"{value:.6g}") for value in np.clip(np.nan_to_num(values), -1e30, 1e30).tolist()]


def _bins(values: np.ndarray | None) -> list[int]:
    """Return counts in BINS equal parts between the smallest and the largest value; empty where float32 cannot tell
    these apart."""
    if values is None or not len(values):
        return []
    held = np.clip(np.nan_to_num(values), -1e30, 1e30).astype(np.float64)
    low, high = float(held.min()), float(held.max())
    return (
        []
        if high - low <= 1e-6 * max(abs(low), abs(high), 1e-30)
        else np.histogram(held, BINS, (low, high))[0].tolist()
    )


def _range(values: np.ndarray | None) -> list[float] | None:
    """Return smallest, mean and largest value exactly, so that an input range made of them excludes nobody."""
    return (
        None
        if values is None or not len(values)
        else [
            shortest_float32(values.min()),
            shortest_float32(values.mean(dtype=np.float32)),
            shortest_float32(values.max()),
        ]
    )
