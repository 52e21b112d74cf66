"""Particles as they are shown: the stored frame with the columns of its look, evaluated without any stepping."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from ..engine import EngineChoice, Faults, Prepared, chosen, prepare_hot
from ..plan import EmitterPlan
from ..wanted import spend
from .frames import Population

F32 = np.float32


@dataclass(frozen=True)
class Shown:
    """One emitter's particles at a frame.

    columns: what the look gives, by name (`parts.looks.Column`): (n,) float32, or (n, width); those at their defaults are left out.
    place, motion: where particles are shown and how they move there, (n, 3) float32, metres and metres a second; None: as they are
    simulated. faults: results of the look that were not finite and were replaced.
    """

    population: Population
    plan: EmitterPlan
    columns: dict[str, np.ndarray]
    faults: Faults = field(default_factory=Faults)
    place: np.ndarray | None = None
    motion: np.ndarray | None = None

    def __len__(self) -> int:
        return len(self.population)

    def column(self, name: str) -> np.ndarray:
        """Return a column, (n,) or (n, width) float32, also one that is at its default. KeyError for one the look does not have."""
        made = self.columns.get(name)
        if made is not None:
            return made
        column = next((column for column in self.plan.columns if column.name == name), None)
        if column is None:
            raise KeyError(name)
        if column.state:
            return self.population.carried[column.state]
        return np.full(len(self) if column.width == 1 else (len(self), column.width), column.default, F32)

    def positions(self) -> np.ndarray:
        """Return (n, 3) float32 metres."""
        return np.stack(self.population.position, axis=1) if self.place is None else self.place

    def velocities(self) -> np.ndarray:
        """Return (n, 3) float32 metres a second."""
        return np.stack(self.population.velocity, axis=1) if self.motion is None else self.motion


class Look:
    """Evaluates the look part of an emitter's plan on stored frames."""

    def __init__(self, emitter: EmitterPlan, engine: EngineChoice | None = None):
        self.emitter = emitter
        self._prepared: Prepared = prepare_hot(emitter.look, engine or chosen())

    def show(self, population: Population, seconds: float | np.ndarray) -> Shown:
        """Return the particles with their look at a clip time (one, or one each); the simulation is not touched."""
        faults = Faults()
        spend(len(population) * len(self.emitter.look.operations))
        out = self._prepared.run(self.emitter.values, frame_inputs(population, seconds), len(population), faults)
        columns: dict[str, np.ndarray] = {}
        for column in self.emitter.columns:
            if column.name in self.emitter.given and column.state:
                columns[column.name] = population.carried[column.state]
            elif column.name in self.emitter.given:
                parts = [out[f"{column.name}.{i}"] for i in range(column.width)]
                columns[column.name] = parts[0] if column.width == 1 else np.stack(parts, axis=1)
        if "shown" in out:  # thinned out: hidden, and still there
            hidden = out["shown"] < 0.5
            for name in ("size", "opacity"):
                columns[name] = np.where(hidden, F32(0), columns[name])
        return Shown(population, self.emitter, columns, faults)


def frame_inputs(population: Population, seconds: float | np.ndarray) -> dict[str, object]:
    """Return what look and probe programs read: the population's arrays, its birth times, and clip time (one, or one each)."""
    return {**population.inputs(), "birth_time": population.birth_time, "time": seconds}
