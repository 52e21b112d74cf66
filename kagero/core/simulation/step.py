"""One step of one emitter: what its program makes of those who live, and who of them goes on. Nothing couples
the particles but what each has near it as the step before ended."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from ..engine import Faults, Prepared
from ..plan import EmitterPlan, Plan
from ..rows.near import RADIUS
from ..wanted import spend
from .events import ENDED, Events
from .frames import Population
from .near import with_neighbours

F32 = np.float32


@dataclass
class Notes:
    """What is noted on the way from one frame to the next: results that were replaced, and what happened to particles."""

    faults: Faults = field(default_factory=Faults)
    events: list[Events] = field(default_factory=list)


def step_inputs(population: Population, dt: np.ndarray | np.float32, until: float) -> dict[str, object]:
    """Return what a step's program reads of particles whose step of dt seconds (one, or one each) ends at a clip time."""
    return {**population.inputs(), "dt": dt, "time": until, "middle": until - np.float64(0.5) * dt}


class Stepper:
    """Steps of an emitter's program. A program may say who lives on (`alive`, 1 or 0) and at which share of the step the others end
    (`ended`, 0 to 1); whoever reaches its lifespan ends in any case."""

    def __init__(self, plan: Plan, emitter: EmitterPlan, threads: int = 1):
        self.plan, self.emitter, self._threads = plan, emitter, threads
        self.coupled = RADIUS in emitter.carried  # its particles see each other
        self._cost = len(emitter.step.operations)

    def times(self, number: int) -> Iterator[tuple[float, float]]:
        """Yield from when to when (clip seconds) each step goes that leads from a frame to the next."""
        for substep in range(self.plan.substeps):
            yield self.plan.seconds(number, substep), self.plan.seconds(number, substep + 1)

    def step(self, before: Population, born: Population, t0: float, t1: float, notes: Notes, program: Prepared) -> Population:
        """Return who lives after a step from t0 to t1: of those before, and of those born in it."""
        parts = [self._advance(before, np.float32(t1 - t0), t1, notes, program)]
        if len(born):
            parts.append(self._advance(born, (t1 - born.birth_time).astype(F32), t1, notes, program))
        living = Population.living([part for part, _ in parts], [alive for _, alive in parts])
        return with_neighbours(living, self._threads) if self.coupled else living

    def _advance(self, before: Population, dt: np.ndarray | np.float32, t1: float, notes: Notes,
                 program: Prepared) -> tuple[Population, np.ndarray | None]:  # fmt: skip
        """Return particles after dt seconds (one, or one each) that end at clip time t1, and who lives on (None: all that are young enough)."""
        spend(len(before) * self._cost)
        age = (t1 - before.birth_time).astype(F32)
        aged = Population(before.key, before.birth_time, age, before.lifespan, before.position, before.velocity, before.carried)
        moved = program.run(self.emitter.values, step_inputs(aged, dt, t1), len(aged), notes.faults)
        x, y, z = (moved[f"position.{axis}"] for axis in "xyz")
        u, v, w = (moved[f"velocity.{axis}"] for axis in "xyz")
        carried = {name: moved.get(name, values) for name, values in aged.carried.items()}
        made = Population(aged.key, aged.birth_time, aged.age, aged.lifespan, (x, y, z), (u, v, w), carried)
        if "alive" not in moved:
            return made, None
        alive = moved["alive"] > 0.5
        if not alive.all():
            gone = np.flatnonzero(~alive)
            lasted = np.broadcast_to(dt, (len(made),))[gone].astype(np.float64)
            when = t1 - lasted * (1 - np.clip(moved["ended"][gone].astype(np.float64), 0, 1))
            sooner = when < made.birth_time[gone] + made.lifespan[gone]
            notes.events.append(Events.of(ENDED, made.key[gone[sooner]], when[sooner]))
        return made, alive
