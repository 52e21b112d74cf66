"""Particles as they are shown: the stored frame with its look, evaluated without any stepping."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from ..engine import Choice, Faults, Prepared, chosen, prepare_hot
from ..plan import EmitterPlan
from ..wanted import spend
from .frames import Population


@dataclass(frozen=True)
class Shown:
    """One emitter's particles at a frame.

    size: longest diameter in metres, (n,); opacity: 0..1, (n,); colour: linear light, (n, 3). shape: stretch (1 or more)
    and rotation in the picture (radians), (n, 2); None when all are round. faults: results of the look that were not finite and were replaced.
    """

    population: Population
    size: np.ndarray
    opacity: np.ndarray
    colour: np.ndarray
    add: bool
    shape: np.ndarray | None = None
    faults: Faults = field(default_factory=Faults)

    def __len__(self) -> int:
        return len(self.population)

    def positions(self) -> np.ndarray:
        """Return (n, 3) float32 metres."""
        return np.stack(self.population.position, axis=1)

    def velocities(self) -> np.ndarray:
        """Return (n, 3) float32 metres a second."""
        return np.stack(self.population.velocity, axis=1)


class Look:
    """Evaluates the look part of an emitter's plan on stored frames."""

    def __init__(self, emitter: EmitterPlan, engine: Choice | None = None):
        self.emitter = emitter
        self._prepared: Prepared = prepare_hot(emitter.look, engine or chosen())

    def show(self, population: Population, seconds: float | np.ndarray) -> Shown:
        """Return the particles with their look at a clip time (one, or one each); the simulation is not touched."""
        faults = Faults()
        spend(len(population) * len(self.emitter.look.operations))
        out = self._prepared.run(self.emitter.values, frame_inputs(population, seconds), len(population), faults)
        colour = np.stack([out["colour.0"], out["colour.1"], out["colour.2"]], axis=1)
        shape = None if self.emitter.round else np.stack([out["stretch"], population.carried["rotation"]], axis=1)
        if "shown" in out:  # thinned out: hidden, and still there
            hidden = out["shown"] < 0.5
            out["size"] = np.where(hidden, np.float32(0), out["size"])
            out["opacity"] = np.where(hidden, np.float32(0), out["opacity"])
        return Shown(population, out["size"], out["opacity"], colour, self.emitter.add, shape, faults)


def frame_inputs(population: Population, seconds: float | np.ndarray) -> dict[str, object]:
    """Return what look and probe programs read: the population's arrays, its birth times, and clip time (one, or one each)."""
    return {**population.inputs(), "birth_time": population.birth_time, "time": seconds}
