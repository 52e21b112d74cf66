"""The stored frames of one emitter: births, steps and ends, continued from the last stored frame."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np
from cachetools import LRUCache

from ..engine import EngineChoice, Faults, current_engine, prepare_reference
from ..errors import BudgetError, RequestError
from ..parts.cues.whole import input_of
from ..plan import EmitterPlan, Plan
from .births import MAX_BIRTHS, Schedule
from .births_from_particles import ChildBirthSource, LivesOfFrame
from .events import BORN, BOUND, ENDED, FIRED, Events
from .frames import Frame, FrameStore, Population
from .gates import Gates
from .newborns import Newborns
from .step import FrameNotes, Stepper

CHILD_FRAMES_KEPT = 5  # frames whose births from particles are kept
FRAMES_SAMPLED = 6  # of a clip, for births from particles that may not come to be


class EmitterRun:
    """The stored frames of one emitter; only frames that the store lacks are simulated.

    parent: the run whose particles emit this one's. others: runs whose cues it counts, by uid.
    """

    def __init__(
        self,
        plan: Plan,
        emitter: EmitterPlan,
        store: FrameStore,
        engine: EngineChoice | None = None,
        parent: EmitterRun | None = None,
        others: Mapping[str, EmitterRun] | None = None,
    ):
        self.plan, self.emitter, self.store, self.parent = plan, emitter, store, parent
        self.engine = engine or current_engine()
        self.address = f"{emitter.simulated} {self.engine.identity}"
        self.frames_simulated = 0  # how many frames it has simulated itself
        self.earliest = plan.first_frame - plan.run_up  # the frame where everything begins
        self._rate = prepare_reference(emitter.rate, np.float64)
        self._stepper, self._newborns = Stepper(plan, emitter, self.engine), Newborns(plan, emitter, self._rate)
        self._others, self._gates = others or {}, Gates(plan, emitter)
        self._descent: ChildBirthSource | None = None
        self._children: LRUCache[int, tuple[Population, Faults]] = LRUCache(
            CHILD_FRAMES_KEPT
        )  # of the frames last asked for, who is born from others

    @property
    def schedule(self) -> Schedule:
        """All births of the clip by the emitter's own rate: exact times and keys."""
        return self._newborns.schedule

    @property
    def descent(self) -> ChildBirthSource:
        if self._descent is None:
            assert self.parent is not None
            self._descent = ChildBirthSource(self.plan, self.emitter, self._rate, self.parent)
        return self._descent

    @property
    def rate_faults(self) -> Faults:
        """Rates that were not finite and were replaced, over the whole clip."""
        guarded = any(op.name == "guard" for op in self.emitter.rate.operations)
        if not guarded:
            return Faults()
        return self.schedule.faults if self.parent is None else self.descent.flow.faults

    def frame(self, number: int, stopped: Callable[[], None] = lambda: None) -> Frame:
        """Return a frame, from the store or simulated from the nearest frame before it.

        stopped: called before every step; it raises Cancelled to give up. Raises RequestError outside the clip, and
        BudgetError.
        """
        first = self.plan.first_frame
        if not first <= number <= self.plan.last_frame:
            raise RequestError(
                f"Frame {number} is not in the clip, which has {first} to {self.plan.last_frame}.",
                where="frames",
                remedy="Ask for frames of the clip, or lengthen it.",
            )
        return self.frame_at(number, stopped)

    def frame_at(self, number: int, stopped: Callable[[], None] = lambda: None) -> Frame:
        """Return a frame of the clip or of its run-up; the store keeps every frame on the way."""
        frame = self.store.get(self.address, number) or self.store.nearest(self.address, number, self.earliest)
        if frame is None:
            stopped()
            frame = self.first()
            self.frames_simulated += 1
            self.store.put(self.address, frame)
        while frame.number < number:
            stopped()
            frame = self.next(frame, stopped)
            self.frames_simulated += 1
            self.store.put(self.address, frame)
        return frame

    def first(self) -> Frame:
        """Return the first frame (of the run-up, if there is one): the particles born exactly then."""
        notes, now = FrameNotes(), self.plan.seconds(self.earliest)
        born = (
            self.newborns(self.earliest)
            if self.parent is not None
            else self.born(self.schedule.between(now, now, first=True), notes.faults)
        )
        shut = self._shut(None)
        born = Population.empty(self.emitter.carried) if shut else born
        # their step has no length, and is one all the same: `previous` is what it was at its end
        living = self._stepper.step(
            Population.empty(self.emitter.carried), born, now, now, notes, self._extra_inputs(None, lambda: None)
        )
        return self._framed(None, self.earliest, living, notes, lambda: None)

    def next(self, frame: Frame, stopped: Callable[[], None] = lambda: None) -> Frame:
        """Return the frame after a frame or checkpoint: the same bytes however that was reached. Raises BudgetError."""
        notes = FrameNotes()
        population = frame.population
        shut = self._shut(frame)
        extra = self._extra_inputs(frame, stopped)
        children = None
        if self.parent is not None:
            children = self._descended(frame.number + 1, stopped)
            notes.faults.add(self._children[frame.number + 1][1])
        for t0, t1 in self._stepper.times(frame.number):
            if children is None:
                born = self.born(self.schedule.between(t0, t1), notes.faults)
            else:
                born = children.where(
                    slice(*(int(np.searchsorted(children.birth_time, t, side="right")) for t in (t0, t1)))
                )
            born = Population.empty(self.emitter.carried) if shut else born
            population = self._stepper.step(population, born, t0, t1, notes, extra)
        if self.parent is not None and len(population) > MAX_BIRTHS:
            raise BudgetError(
                f"{len(population):,} particles would live at frame {frame.number + 1}, born from others; the limit "
                f"is {MAX_BIRTHS:,}.",
                where=f"{self.emitter.place}.births.rate",
                remedy="Lower the rate or the lifespan, or limit the births of each parent.",
            )
        return self._framed(frame, frame.number + 1, population, notes, stopped)

    def _framed(
        self, before: Frame | None, number: int, population: Population, notes: FrameNotes, stopped: Callable[[], None]
    ) -> Frame:
        events = Events.joined(notes.events)
        counts = np.array([(events.what == FIRED + k).sum() for k in range(len(self.emitter.cues))], np.int64)
        counts = counts if before is None else before.cue_counts + counts
        true = np.zeros(len(self.emitter.gates), bool) if before is None else before.held
        held = self._gates.held(true, number, len(population), self._cue_counts_at(number, stopped))
        return Frame(number, population, notes.faults, events, counts, held)

    def _cue_counts_at(self, number: int, stopped: Callable[[], None]) -> Callable[[tuple[str, str]], int]:
        """Return a function that gives how often another emitter's cue had happened by a frame."""

        def cue_count(watched: tuple[str, str]) -> int:
            run, cue = self._others[watched[0]], watched[1]
            return (
                int(run.frame_at(number, stopped).cue_counts[run.emitter.cues.index(cue)])
                if cue in run.emitter.cues
                else 0
            )

        return cue_count

    def _extra_inputs(self, frame: Frame | None, stopped: Callable[[], None]) -> dict[str, float]:
        """Return the step program's inputs from other emitters, as at the end of the previous frame."""
        if frame is None:
            return {input_of(watched): 0.0 for watched in self.emitter.watches}
        cue_count = self._cue_counts_at(frame.number, stopped)
        return {input_of(watched): float(cue_count(watched)) for watched in self.emitter.watches}

    def closing_cue(self, number: int) -> str:
        """Return the uid of the cue that keeps births closed at a frame; empty where they are open."""
        if not self.emitter.gates:
            return ""
        held = self._held(None) if number == self.earliest else self.frame_at(number - 1).held
        return next(
            (
                gate.uid
                for gate, on in zip(self.emitter.gates, held, strict=True)
                if bool(on) != (gate.births == "begin")
            ),
            "",
        )

    def _held(self, frame: Frame | None) -> np.ndarray:
        none = np.zeros(len(self.emitter.gates), bool)
        return self._gates.held(none, self.earliest, 0, lambda _: 0) if frame is None else frame.held

    def _shut(self, frame: Frame | None) -> bool:
        """Return whether births are closed after a frame (None: before the first)."""
        if not self.emitter.gates:
            return False
        return not self._gates.open(self._held(frame))

    def born(self, which: slice, faults: Faults) -> Population:
        """Return newborns of the schedule, as at their births."""
        return self._newborns.born(which, faults)

    def newborns(self, number: int, stopped: Callable[[], None] = lambda: None) -> Population:
        """Return the particles born after the previous frame up to frame `number`, as at their births."""
        if self.emitter.gates and self._shut(None if number == self.earliest else self.frame_at(number - 1, stopped)):
            return Population.empty(self.emitter.carried)
        if self.parent is None:
            t1 = self.plan.seconds(number)
            if number == self.earliest:
                return self.born(self.schedule.between(t1, t1, first=True), Faults())
            return self.born(self.schedule.between(self.plan.seconds(number - 1), t1), Faults())
        return self._descended(number, stopped)

    def _descended(self, number: int, stopped: Callable[[], None]) -> Population:
        """Return the particles born from others, whether births are open or not."""
        if number not in self._children:
            births, faults = self.descent.births(number, stopped), Faults()
            newborn, comes = self._newborns.give_birth(births.keys, births.times, births.inputs, faults)
            self._children[number] = (newborn if comes is None else newborn.where(comes), faults)
        return self._children[number][0]

    def candidates(self, most: int, stopped: Callable[[], None] = lambda: None) -> Population | None:
        """Return about `most` births of the clip, evenly spread, as at their births, with those that a condition
        prevents; None where there is no condition. For births from particles, those of a few frames."""
        if "comes to be" not in self.emitter.birth.outputs:
            return None
        if self.parent is None:
            which = np.arange(0, len(self.schedule.keys), max(1, -(-len(self.schedule.keys) // most)))
            return self._newborns.give_birth(self.schedule.keys[which], self.schedule.times[which], {}, Faults())[0]
        candidates = []
        for number in np.unique(
            np.linspace(self.plan.first_frame, self.plan.last_frame, FRAMES_SAMPLED).astype(int)
        ).tolist():
            births = self.descent.births(number, stopped)
            every = np.arange(0, len(births.keys), max(1, -(-len(births.keys) * FRAMES_SAMPLED // most)))
            inputs = {name: column[every] for name, column in births.inputs.items()}
            candidates.append(self._newborns.give_birth(births.keys[every], births.times[every], inputs, Faults())[0])
        return Population.joined(candidates)

    def lives(self, number: int, stopped: Callable[[], None] = lambda: None) -> LivesOfFrame:
        """Return the particles that live between the previous frame and frame `number`, with the end of each life."""
        frame, fresh = self.frame_at(number, stopped), self.newborns(number, stopped)
        if number == self.earliest:
            since, old = -np.inf, frame.population.where(slice(0, 0))
        else:
            since, old = self.plan.seconds(number - 1), self.frame_at(number - 1, stopped).population
        population = Population.joined([old, fresh])
        now = self.plan.seconds(number)
        ends = population.birth_time + population.lifespan.astype(np.float64)
        lives_on = (now - population.birth_time).astype(
            np.float32
        ) < population.lifespan  # as `Population.living` has it
        sooner = frame.events.only(ENDED)
        if len(sooner):
            order = np.argsort(sooner.key)
            at = np.minimum(np.searchsorted(sooner.key[order], population.key), len(sooner) - 1)
            known = sooner.key[order][at] == population.key
            ends = np.where(known, np.minimum(ends, sooner.time[order][at]), ends)
            lives_on &= ~known
        # ages are compared with lifespans in float32: who lives at the frame ends after it, and nobody else
        ends = np.where(lives_on, np.maximum(ends, np.nextafter(now, np.inf)), np.minimum(ends, now))
        return LivesOfFrame(
            population, len(old), np.concatenate([np.full(len(old), since), fresh.birth_time]), ends, frame.population
        )

    def cue_times(self, number: int, cue: str, stopped: Callable[[], None] = lambda: None) -> Events:
        """Return the times at which a cue happened after the previous frame up to frame `number`, with each particle's
        position and velocity then."""
        if cue not in self.emitter.cues:
            return Events.none()
        return self.frame_at(number, stopped).events.only(FIRED + self.emitter.cues.index(cue))

    def events(self, number: int, stopped: Callable[[], None] = lambda: None) -> Events:
        """Return the events after the previous frame up to frame `number`, in order of time: births, bindings of
        newborns, ends."""
        lives, until = self.lives(number, stopped), self.plan.seconds(number)
        fresh, gone = lives.population.where(slice(lives.old, None)), lives.ends <= until
        events = [Events.of(BORN, fresh.key, fresh.birth_time)]
        if "bind.face" in self.emitter.carried:
            events.append(Events.of(BOUND, fresh.key, fresh.birth_time))
        return Events.joined([*events, Events.of(ENDED, lives.population.key[gone], lives.ends[gone])])
