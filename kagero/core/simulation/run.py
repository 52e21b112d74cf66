"""The step: emit, age, live rows, forces, integrate, endings. One emitter; nothing couples its particles."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from ..engine import Choice, Faults, Prepared, chosen, prepare, prepare_hot
from ..errors import BudgetError, RequestError
from ..plan import EmitterPlan, Plan
from ..wanted import spend
from .births import MAX_BIRTHS, Schedule, schedule_births
from .descent import Descent
from .frames import Frame, FrameStore, Population
from .stretch import Stretch, window

F32 = np.float32
BIRTHS_AT_ONCE = 16_384
CHUNKS = 80  # of newborns that are kept: more than a million


class EmitterRun:
    """Gives the stored frames of one emitter, stepping only what the store lacks. parent: whose particles its own are born from."""

    def __init__(self, plan: Plan, emitter: EmitterPlan, store: FrameStore, engine: Choice | None = None, parent: EmitterRun | None = None):
        self.plan, self.emitter, self.store = plan, emitter, store
        self.engine = engine or chosen()
        self.address = f"{emitter.simulated} {self.engine.identity}"
        self._birth, self._rate = prepare(emitter.birth), prepare(emitter.rate, np.float64)
        self._step = prepare_hot(emitter.step, self.engine)
        self._cost = len(emitter.step.operations)
        self._shared: Stretch | None = None
        self._schedule: Schedule | None = None
        self._newborn: dict[int, tuple[Population, np.ndarray | None, Faults]] = {}
        self.earliest = plan.first_frame - plan.run_up  # the frame where everything begins
        self.parent = parent
        self._descent: Descent | None = None
        self._kin: dict[int, tuple[Population, Faults]] = {}

    @property
    def schedule(self) -> Schedule:
        if self._schedule is None:
            begins = None if self.emitter.begins is None else prepare(self.emitter.begins)
            comes = self._comes if "comes to be" in self.emitter.birth.outputs else None
            self._schedule = schedule_births(self.emitter, self._rate, self.plan.seconds(self.plan.last_frame), begins, comes)
        return self._schedule

    @property
    def descent(self) -> Descent:
        if self._descent is None:
            assert self.parent is not None
            self._descent = Descent(self.plan, self.emitter, self._rate, self.parent)
        return self._descent

    @property
    def rate_faults(self) -> Faults:
        """Rates that were not finite and were replaced, over the whole clip."""
        guarded = any(op.name == "guard" for op in self.emitter.rate.operations)
        if not guarded:
            return Faults()
        return self.schedule.faults if self.parent is None else self.descent.flow.faults

    def frame(self, number: int, stopped: Callable[[], None] = lambda: None, ahead: int = 0) -> Frame:
        """Return a frame, from the store or by stepping from the nearest one before it.

        stopped: called before every step; raises Cancelled to give up. ahead: how many frames after it will be asked for
        next; where threads can share them, they are stored at once. Raises RequestError outside the clip, BudgetError.
        """
        first = self.plan.first_frame
        if not first <= number <= self.plan.last_frame:
            raise RequestError(
                f"Frame {number} is not in the clip, which has {first} to {self.plan.last_frame}.",
                where="frames",
                remedy="Ask for frames of the clip, or lengthen it.",
            )
        return self.frame_at(number, stopped, ahead)

    def frame_at(self, number: int, stopped: Callable[[], None] = lambda: None, ahead: int = 0) -> Frame:
        """Return a frame of the clip, or of the run-up before it; of the run-up, the store keeps what others are born from."""
        frame = self.store.get(self.address, number) or self.store.nearest(self.address, number, self.earliest)
        if frame is None:
            stopped()
            frame = self.first()
            self.store.put(self.address, frame)
        while frame.number < number:
            stopped()
            for made in self._stretch(frame, min(number + ahead, self.plan.last_frame), stopped) or [self.next(frame, stopped)]:
                if made.number >= self.plan.first_frame or made.number == number:
                    self.store.put(self.address, made)
                if made.number <= number:
                    frame = made
        return frame

    def _stretch(self, frame: Frame, until: int, stopped: Callable[[], None]) -> list[Frame]:
        """Return the next few frames, made by several threads that share the particles; none where that does not pay."""
        frames = min(until - frame.number, window(len(frame.population)))
        if self.engine.threads < 2 or self.parent is not None or frames < 2:
            return []
        if self._shared is None:
            self._shared = Stretch(self, self.engine)
        return self._shared.frames(frame, frames, stopped)

    def first(self) -> Frame:
        """Return the first frame, that of the run-up if there is one: whoever is born at its very moment."""
        faults = Faults()
        if self.parent is not None:
            born = self.newborns(self.earliest)
        else:
            start = self.plan.seconds(self.earliest)
            born = self.born(self.schedule.between(start, start, first=True), faults)
        now = self.plan.seconds(self.earliest)  # their step has no length, and is one all the same: `previous` is what it was at its end
        return Frame(self.earliest, self.substep(self._nobody(), born, now, now, faults, self._step), faults)

    def next(self, frame: Frame, stopped: Callable[[], None] = lambda: None) -> Frame:
        """Return the frame after a frame (or checkpoint): the same bytes however it was reached."""
        faults = Faults()
        population = frame.population
        kin = None
        if self.parent is not None:
            kin = self.newborns(frame.number + 1, stopped)
            faults.add(self._kin[frame.number + 1][1])
        for t0, t1 in self.steps(frame.number):
            if kin is None:
                born = self.born(self.schedule.between(t0, t1), faults)
            else:
                born = kin.where(slice(*(int(np.searchsorted(kin.birth_time, t, side="right")) for t in (t0, t1))))
            population = self.substep(population, born, t0, t1, faults, self._step)
        if self.parent is not None and len(population) > MAX_BIRTHS:
            raise BudgetError(
                f"{len(population):,} particles would live at frame {frame.number + 1}, born from others; the limit is {MAX_BIRTHS:,}.",
                where=f"{self.emitter.place}.births.rate", remedy="Lower the rate or the lifespan, or limit the births of each parent.",
            )  # fmt: skip
        return Frame(frame.number + 1, population, faults)

    def newborns(self, number: int, stopped: Callable[[], None] = lambda: None) -> Population:
        """Return who is born after the frame before `number` and until it, as at their births."""
        if self.parent is None:
            t1 = self.plan.seconds(number)
            if number == self.earliest:
                return self.born(self.schedule.between(t1, t1, first=True), Faults())
            return self.born(self.schedule.between(self.plan.seconds(number - 1), t1), Faults())
        if number not in self._kin:
            kin, faults = self.descent.births(number, stopped), Faults()
            made, comes = self._give_birth(kin.keys, kin.times, kin.inputs, faults)
            if len(self._kin) > 4:
                self._kin.clear()
            self._kin[number] = (made if comes is None else made.where(comes), faults)
        return self._kin[number][0]

    def steps(self, number: int) -> Iterator[tuple[float, float]]:
        """Yield from when to when (seconds) each step goes that leads from a frame to the next."""
        for substep in range(self.plan.substeps):
            yield self.plan.seconds(number, substep), self.plan.seconds(number, substep + 1)

    def substep(self, before: Population, born: Population, t0: float, t1: float, faults: Faults, step: Prepared) -> Population:
        """Return who lives after a step from t0 to t1: those before, and those born in it."""
        parts = [self._advance(before, np.float32(t1 - t0), t1, faults, step)]
        if len(born):
            parts.append(self._advance(born, (t1 - born.birth_time).astype(F32), t1, faults, step))
        return Population.living(parts)

    def _advance(self, before: Population, dt: np.ndarray | np.float32, t1: float, faults: Faults, step: Prepared) -> Population:
        """Return particles after dt seconds (one, or one each) that end at clip time t1."""
        spend(len(before) * self._cost)
        age = (t1 - before.birth_time).astype(F32)
        aged = Population(before.key, before.birth_time, age, before.lifespan, before.position, before.velocity, before.carried)
        moved = step.run(self.emitter.values, {**aged.inputs(), "dt": dt, "time": t1}, len(aged), faults)
        x, y, z = (moved[f"position.{axis}"] for axis in "xyz")
        u, v, w = (moved[f"velocity.{axis}"] for axis in "xyz")
        carried = {name: moved.get(name, values) for name, values in aged.carried.items()}
        return Population(aged.key, aged.birth_time, aged.age, aged.lifespan, (x, y, z), (u, v, w), carried)

    def born(self, which: slice, faults: Faults) -> Population:
        """Return newborns at their births. They are computed many at once, since births depend on key and time alone."""
        parts = []
        start = which.start
        while start < which.stop:
            chunk = start // BIRTHS_AT_ONCE
            offset = chunk * BIRTHS_AT_ONCE
            stop = min(which.stop, offset + BIRTHS_AT_ONCE)
            made = self._newborn.get(chunk)
            if made is None:
                noted = Faults()
                if len(self._newborn) >= CHUNKS:
                    self._newborn.clear()
                made = self._newborn[chunk] = (*self._scheduled(slice(offset, offset + BIRTHS_AT_ONCE), noted), noted)
            born, comes, noted = made
            here = slice(start - offset, stop - offset)
            if noted.counts:  # rare: compute these alone, to count their own faults
                born, comes = self._scheduled(slice(start, stop), faults)
                here = slice(0, stop - start)
            part = born.where(here)
            parts.append(part if comes is None else part.where(comes[here]))
            start = stop
        if not parts:
            return self._nobody()
        return parts[0] if len(parts) == 1 else Population.joined(parts)

    def _comes(self, keys: np.ndarray, times: np.ndarray) -> np.ndarray:
        comes = self._give_birth(keys, times, {}, Faults())[1]
        return np.ones(len(keys), bool) if comes is None else comes

    def _nobody(self) -> Population:
        return Population.nobody(self.emitter.carried)

    def _scheduled(self, which: slice, faults: Faults) -> tuple[Population, np.ndarray | None]:
        return self._give_birth(self.schedule.keys[which], self.schedule.times[which], {}, faults)

    def _give_birth(self, keys: np.ndarray, times: np.ndarray, parents: dict[str, np.ndarray],
                    faults: Faults) -> tuple[Population, np.ndarray | None]:  # fmt: skip
        """Return newborns, and which of them come to be (None: all)."""
        spend(len(keys) * len(self.emitter.birth.operations))
        out = self._birth.run(self.emitter.values, {"key": keys, "birth_time": times, **parents}, len(keys), faults)
        x, y, z = (out[f"position.{axis}"] for axis in "xyz")
        u, v, w = (out[f"velocity.{axis}"] for axis in "xyz")
        carried = {name: out[name] for name in self.emitter.carried}
        comes = out["comes to be"] > 0.5 if "comes to be" in out else None
        return Population(keys, times, np.zeros(len(keys), F32), out["lifespan"], (x, y, z), (u, v, w), carried), comes
