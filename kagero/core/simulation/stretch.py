"""Several frames at once, the particles shared between threads, where nothing couples the particles of an emitter.

Each thread takes a run of the living and its share of every step's births through all frames, without waiting for the
others; then the parts are put together in order of birth, as one thread would have left them, byte for byte.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from functools import lru_cache

import numpy as np

from ..engine import EngineChoice, Faults, prepare_hot
from .events import Events
from .frames import Frame, Population
from .newborns import Newborns
from .step import Notes, Stepper

WORTH_IT = 40_000  # living particles below which sharing costs more than it saves
AT_ONCE, MOST = 1_000_000, 12  # particles in all frames of a stretch; frames


@lru_cache(maxsize=4)
def _pool(threads: int) -> ThreadPoolExecutor:
    return ThreadPoolExecutor(threads, thread_name_prefix="stretch")


def window(living: int) -> int:
    """Return how many frames to make at once when so many live: fewer the more there are, so that memory stays small."""
    return 1 if living < WORTH_IT else min(MOST, AT_ONCE // living)


class Stretch:
    """Makes frames of one emitter on all threads of an engine."""

    def __init__(self, stepper: Stepper, newborns: Newborns, engine: EngineChoice):
        self._stepper, self._newborns, self._threads = stepper, newborns, engine.threads
        self._programs = [prepare_hot(stepper.emitter.step, replace(engine, threads=1)) for _ in range(engine.threads)]
        self._faulty = False

    def frames(self, before: Frame, count: int, stopped: Callable[[], None]) -> list[Frame]:
        """Return the `count` frames after a frame; none when a result was not finite, which one thread has to count in order."""
        if self._faulty:
            return []
        newborns, threads, substeps = self._newborns, self._threads, self._stepper.plan.substeps
        times = [step for number in range(before.number, before.number + count) for step in self._stepper.times(number)]
        born = [newborns.schedule.between(*step) for step in times]
        newborns.born(slice(born[0].start, born[-1].stop), Faults())  # all threads read the same newborns
        pool = _pool(threads)
        cuts = [len(before.population) * k // threads for k in range(threads + 1)]

        def part(k: int) -> list[tuple[Population, list[Events]]] | None:
            population = before.population.where(slice(cuts[k], cuts[k + 1]))
            made, notes = [], Notes()
            for i, ((t0, t1), births) in enumerate(zip(times, born, strict=True)):
                if i % substeps == 0:
                    stopped()
                    notes = Notes()
                mine = slice(*(births.start + (births.stop - births.start) * side // threads for side in (k, k + 1)))
                population = self._stepper.step(population, newborns.born(mine, notes.faults), t0, t1, notes, self._programs[k])
                if notes.faults.counts:
                    return None
                if (i + 1) % substeps == 0:
                    made.append((population, notes.events))
            return made

        parts = list(pool.map(part, range(threads)))
        if any(made is None for made in parts):
            self._faulty = True
            return []
        edges = [times[0][0], *(t1 for _, t1 in times)]

        def joined(i: int) -> Frame:
            here = [made[i] for made in parts if made is not None]
            population = _in_order_of_birth([each for each, _ in here], edges[: 1 + (i + 1) * substeps])
            return Frame(before.number + 1 + i, population, events=Events.joined([event for _, told in here for event in told]))

        return list(pool.map(joined, range(count)))


def _in_order_of_birth(parts: list[Population], edges: list[float]) -> Population:
    """Return several threads' particles as one population. edges: between which times each step's births lie."""
    cuts = [[0, *np.searchsorted(part.birth_time, edges, side="right"), len(part)] for part in parts]
    columns = []
    for group in zip(*(part.columns() for part in parts), strict=True):
        pieces = [column[cut[k] : cut[k + 1]] for k in range(len(edges) + 1) for column, cut in zip(group, cuts, strict=True)]
        columns.append(np.concatenate(pieces))
    return parts[0].of(columns)
