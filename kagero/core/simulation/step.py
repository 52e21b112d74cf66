"""One step of one emitter: its program moves the particles, and those that survive form the next frame. Particles are
independent within a step; what each has near it comes from the end of the step before.

Each thread takes a contiguous part of the particles and processes it in blocks that fit the processor's cache: a block
is stepped, and its survivors are copied at once to their places in the next frame. The bytes are the same for any
number of threads.
"""

from __future__ import annotations

import itertools
from collections import deque
from collections.abc import Iterator
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

from ..engine import MARGIN, Bound, EngineChoice, Faults, prepare_for_engine, prepare_reference
from ..kernels.compaction import ages, copy_survivors
from ..kernels.contact_columns import TOUCHES
from ..memory import ARRAY_POOL
from ..parts.cues.whole import ALIVE
from ..plan import EmitterPlan, Plan
from ..program import Program
from ..rows.neighbour_state import RADIUS
from ..work_limits import spend
from .events import ENDED, FIRED, STATE, Events
from .frames import Population, row_names
from .neighbours import find_neighbours
from .particle_collisions import resolve_collisions

F32 = np.float32
BLOCK = 32_768  # particles that are stepped and copied at once
# particles below which a second thread costs more than it saves; the fewest that one takes at once
WORTH_IT = 16_384
APIECE = 4_096


@dataclass
class FrameNotes:
    """Notes taken between two frames: replaced results, and events."""

    faults: Faults = field(default_factory=Faults)
    events: list[Events] = field(default_factory=list)

    def add(self, other: FrameNotes) -> None:
        self.faults.add(other.faults)
        self.events += other.events


def step_inputs(population: Population, dt: np.ndarray | np.float32, until: float) -> dict[str, object]:
    """Return the inputs of a step's program for a step of dt seconds (one, or one for each particle) that ends at a
    clip time."""
    return {**population.inputs(), "dt": dt, "time": until, "middle": until - np.float64(0.5) * dt}


@lru_cache(maxsize=4)
def _pool(threads: int) -> ThreadPoolExecutor:
    return ThreadPoolExecutor(threads, thread_name_prefix="step")


@dataclass
class _StepBatch:
    """Particles on their way through a step of dt seconds (one, or one for each); age: (n,), their age after it, s.

    spans: the threads' parts: first particle, the one after the last, and the first one's place in the next frame.
    next_row: the place in the next frame behind these particles. program: runs the step for some of them.
    """

    population: Population
    dt: np.ndarray | np.float32
    age: np.ndarray
    spans: list[tuple[int, int, int]]
    next_row: int
    program: Bound | None = None


class Stepper:
    """Steps of an emitter's program. A program may give `alive` (1 or 0) and `ended` (the share of the step at which a
    particle ends, 0 to 1). A particle that reaches its lifespan ends in any case."""

    def __init__(self, plan: Plan, emitter: EmitterPlan, engine: EngineChoice):
        self.plan, self.emitter, self._threads = plan, emitter, max(1, engine.threads)
        self._program = prepare_for_engine(emitter.step, replace(engine, threads=1))
        self._coupled = RADIUS in emitter.carried  # its particles see each other
        self._collision_rounds = emitter.rounds  # how many rounds they put each other apart
        self._cost = len(emitter.step.operations)
        output_rows = {name: k for k, name in enumerate(emitter.step.outputs)}
        self._output_rows = output_rows
        self._rows = np.array([output_rows.get(name, -1) for name in row_names(emitter.carried)], np.int64)
        self._alive, self._ended = output_rows.get("alive", -1), output_rows.get("ended", -1)
        self._state_rows = np.array(
            [output_rows[name] for name in row_names(())[2:8]], np.int64
        )  # place and velocity after a step
        self._touched_again_row = output_rows.get("again", -1)
        self._step_cues = self._cue_rows(emitter.step, 0)
        self._touch_cues = (
            []
            if emitter.each_touch is None
            else [each for k in range(1, 1 + TOUCHES) for each in self._cue_rows(emitter.each_touch, k)]
        )
        self._extra_inputs: dict[str, float] = {}
        self._scratch = [np.empty((len(output_rows), 0), F32) for _ in range(self._threads)]

    def _cue_rows(self, program: Program, time: int) -> list[tuple[int, int, list[int]]]:
        """Return for the cues of a step, at the given touch: the cue's number in the emitter, the output that says
        whether it happens, and the outputs of its time, position and velocity (-1: none)."""
        at = {name: k for k, name in enumerate(program.outputs)}
        return [
            (which, at[f"fired.{uid}.{time}"], [at.get(f"borne.{uid}.{time}.{i}", -1) for i in range(1 + STATE)])
            for which, uid in enumerate(self.emitter.cues)
            if f"fired.{uid}.{time}" in at
        ]

    def times(self, number: int) -> Iterator[tuple[float, float]]:
        """Yield start and end (clip seconds) of each step from one frame to the next."""
        for substep in range(self.plan.substeps):
            yield self.plan.seconds(number, substep), self.plan.seconds(number, substep + 1)

    def step(
        self,
        before: Population,
        born: Population,
        t0: float,
        t1: float,
        notes: FrameNotes,
        extra_inputs: dict[str, float] | None = None,
    ) -> Population:
        """Return the particles after a step from t0 to t1: survivors of those before and of those born within it.
        extra_inputs: further inputs of the program."""
        self._extra_inputs = {ALIVE: float(len(before)), **(extra_inputs or {})}
        spend((len(before) + len(born)) * self._cost)
        old = self._batch(before, np.float32(t1 - t0), t1, 0)
        new = self._batch(born, (t1 - born.birth_time).astype(F32), t1, old.next_row)
        young = new.next_row
        stays = young == len(before) and self._alive < 0 and not len(born)
        advanced = Population(
            before.key[:0] if stays else ARRAY_POOL.array((young,), np.uint64),
            before.birth_time[:0] if stays else ARRAY_POOL.array((young,), np.float64),
            ARRAY_POOL.array((len(self._rows), young), F32),
            self.emitter.carried,
        )
        kept = self._share(old, new, advanced, t1, notes)
        if stays:
            advanced = replace(advanced, key=before.key, birth_time=before.birth_time)
        elif sum(kept) < young:
            places = [at for _, _, at in old.spans + new.spans]
            advanced = Population.joined(
                [advanced.where(slice(at, at + count)) for at, count in zip(places, kept, strict=True)]
            )
        if self._collision_rounds:
            advanced = resolve_collisions(advanced, self._collision_rounds, self._threads)
        return find_neighbours(advanced, self._threads) if self._coupled else advanced

    def _batch(self, population: Population, dt: np.ndarray | np.float32, until: float, at: int) -> _StepBatch:
        n = len(population)
        population = replace(population, floats=np.ascontiguousarray(population.floats))
        age = ARRAY_POOL.array((n,), F32)
        parts = max(-(-n // BLOCK), min(2 * self._threads, n // APIECE) if n >= WORTH_IT else 1)
        cuts = np.array([n * k // parts // MARGIN * MARGIN for k in range(parts)] + [n])
        young = np.empty(parts, np.int64)
        ages(population.birth_time, population.lifespan, until, cuts, age, young)
        places = itertools.accumulate(young.tolist(), initial=at)
        spans = [
            (start, stop, place)
            for (start, stop), place in zip(itertools.pairwise(cuts.tolist()), places, strict=False)
            if stop > start
        ]
        return _StepBatch(population, dt, age, spans, at + int(young.sum()))

    def _share(
        self, old: _StepBatch, new: _StepBatch, target: Population, until: float, notes: FrameNotes
    ) -> list[int]:
        """Step all spans on all threads, this one included; return the number of survivors in each. Notes are added in
        the order of spans."""
        spans = [(batch, *span) for batch in (old, new) for span in batch.spans]
        span_notes, kept, waiting = [FrameNotes() for _ in spans], [0] * len(spans), deque(range(len(old.spans)))

        def work(thread: int) -> None:
            while waiting:  # each thread takes the next as soon as it is done with one
                try:
                    k = waiting.popleft()
                except IndexError:
                    return
                kept[k] = self._advance(*spans[k], target, until, span_notes[k], thread)

        helpers = self._threads - 1 if len(old.population) + len(new.population) >= WORTH_IT else 0
        self._bind(old, until, notes)
        others: list[Future[None]] = [_pool(self._threads).submit(work, 1 + k) for k in range(helpers)]
        try:
            self._bind(new, until, notes)
            waiting.extend(range(len(old.spans), len(spans)))
            work(0)
        finally:
            wait(others)
        for other in others:
            other.result()
        for each in span_notes:
            notes.add(each)
        return kept

    def _bind(self, batch: _StepBatch, until: float, notes: FrameNotes) -> None:
        if batch.spans:
            inputs = {**step_inputs(batch.population, batch.dt, until), "age": batch.age, **self._extra_inputs}
            batch.program = self._program.bound(self.emitter.values, inputs, len(batch.population), notes.faults)

    def _advance(
        self,
        batch: _StepBatch,
        start: int,
        stop: int,
        at: int,
        target: Population,
        until: float,
        notes: FrameNotes,
        thread: int,
    ) -> int:
        """Write the survivors of a span to their places in the next frame; return their number."""
        assert batch.program is not None
        population, scratch = batch.population, self._scratch[thread]
        if scratch.shape[1] < stop - start + 2 * MARGIN:
            scratch = self._scratch[thread] = np.empty((len(scratch), stop - start + 2 * MARGIN), F32)
        batch.program(start, stop, scratch, notes.faults)
        if self._touched_again_row >= 0:
            self._touch_by_touch(
                batch,
                start,
                np.flatnonzero(scratch[self._touched_again_row, MARGIN : MARGIN + stop - start] > 0.5),
                scratch,
                until,
                notes,
            )
        kept: int = copy_survivors(
            start,
            stop,
            at,
            population.key,
            population.birth_time,
            population.floats,
            batch.age,
            scratch,
            start - MARGIN,
            self._rows,
            self._alive,
            target.key,
            target.birth_time,
            target.floats,
        )
        self._note_cues(
            self._step_cues,
            self._state_rows,
            population.key[start:stop],
            scratch[:, MARGIN : MARGIN + stop - start],
            until,
            notes,
        )
        if self._alive >= 0:
            dt = batch.dt[start:stop] if isinstance(batch.dt, np.ndarray) else batch.dt
            here = slice(MARGIN, MARGIN + stop - start)
            _note_ends(
                population.where(slice(start, stop)),
                dt,
                until,
                scratch[self._alive, here],
                scratch[self._ended, here],
                notes,
            )
        return kept

    def _touch_by_touch(
        self, batch: _StepBatch, start: int, those: np.ndarray, scratch: np.ndarray, until: float, notes: FrameNotes
    ) -> None:
        """Step again those particles of a block that touched more than once, with the cues of each touch."""
        if not len(those):
            return
        assert self.emitter.each_touch is not None
        program, here = self.emitter.each_touch, start + those
        population, dt = batch.population.where(here), batch.dt[here] if isinstance(batch.dt, np.ndarray) else batch.dt
        inputs = {**step_inputs(population, dt, until), "age": batch.age[here], **self._extra_inputs}
        outputs = prepare_reference(program).run(self.emitter.values, inputs, len(population), notes.faults)
        for name, row in self._output_rows.items():
            if name in outputs:
                scratch[row, MARGIN + those] = outputs[name]
        rows = np.stack([np.broadcast_to(outputs[name], (len(population),)) for name in program.outputs])
        then = np.array([list(program.outputs).index(name) for name in row_names(())[2:8]], np.int64)
        self._note_cues(self._touch_cues, then, population.key, rows, until, notes)

    def _note_cues(
        self,
        cues: list[tuple[int, int, list[int]]],
        then: np.ndarray,
        keys: np.ndarray,
        outputs: np.ndarray,
        until: float,
        notes: FrameNotes,
    ) -> None:
        """Note which cues happened to which particles, with time, position and velocity."""
        for which, row, rows in cues:
            fired = np.flatnonzero(outputs[row] > 0.5)
            if len(fired):
                state, when = np.zeros((len(fired), STATE), F32), np.full(len(fired), until)
                if rows[0] < 0:
                    state[:, :6] = outputs[then][:, fired].T
                else:
                    values = outputs[rows][:, fired]
                    state[:], when = values[1:].T, until - np.maximum(values[0], 0)
                notes.events.append(Events.of(FIRED + which, keys[fired], when, state))


def _note_ends(
    block: Population,
    dt: np.ndarray | np.float32,
    until: float,
    alive: np.ndarray,
    ended: np.ndarray,
    notes: FrameNotes,
) -> None:
    """Note the particles that a step ended before their lifespan, with the time."""
    gone = np.flatnonzero(~(alive > 0.5))
    if len(gone):
        lasted = np.broadcast_to(dt, (len(block),))[gone].astype(np.float64)
        when = until - lasted * (1 - np.clip(ended[gone].astype(np.float64), 0, 1))
        sooner = when < block.birth_time[gone] + block.lifespan[gone]
        notes.events.append(Events.of(ENDED, block.key[gone[sooner]], when[sooner]))
