"""Stored particles, moved by an emitter's shapings: their places, velocities and turns."""

from __future__ import annotations

from typing import cast

import numpy as np

from ..engine import EngineChoice, Faults, chosen, prepare_hot
from ..plan import EmitterPlan
from ..rows.turn import TURNED
from ..simulation import CARRIED, PLACE, WAY, Population, frame_inputs
from ..wanted import spend
from .turning import rotation_parts, turned_by

F32, F64 = np.float32, np.float64
BESIDE = 1 / 8  # of a frame: so much before and after, where it is looked how a shaped place moves
NEAR = 2.0**-9  # metres, or of how far away a place is: so near, where it is looked how space is turned
AXES = ("x", "y", "z")
CHUNK = 1 << 14  # particles that are moved at a time: what is needed meanwhile stays near
PLACES = tuple(f"position.{axis}" for axis in AXES)


class Shaper:
    """Moves the particles of stored frames as an emitter's shapings say; without any they stay the very same. frame: how long one is, seconds."""

    def __init__(self, plan: EmitterPlan, frame: float, engine: EngineChoice | None = None):
        self.plan, self.frame = plan, frame
        self._prepared = prepare_hot(plan.shaping, engine or chosen()) if plan.shaping is not None else None

    def shaped(self, population: Population, seconds: float | np.ndarray, faults: Faults | None = None,
               pace: float = 1.0, going: float = 1.0) -> Population:  # fmt: skip
        """Return particles where they are shown at a clip time (one, or one each), and how they move and are turned there. faults: where to note
        what was not finite; pace, going: how fast they grow older meanwhile, and how fast that time
        goes. Who is not moved is the same byte for byte.

        A velocity gains what its place's displacement gains with time, by central differences over a quarter of a frame along its own way; a
        turn is turned by the rotation of space there (the polar decomposition of the displacement's gradient).
        """
        if self._prepared is None or not len(population):
            return population
        floats = population.floats.copy()
        for start in range(0, len(population), CHUNK):
            piece = slice(start, start + CHUNK)
            when = seconds[piece] if isinstance(seconds, np.ndarray) else seconds
            self._shape(population.where(piece), floats[:, piece], when, faults, (pace, going))
        return population.moved(floats)

    def _shape(self, population: Population, floats: np.ndarray, seconds: float | np.ndarray, faults: Faults | None,
               pace: tuple[float, float]) -> None:  # fmt: skip
        """Write where some particles are shown, how they move and are turned there, into floats, which are as the population's."""
        rest, n = frame_inputs(population, seconds), len(population)
        place, velocity = population.floats[PLACE:WAY], population.floats[WAY:CARRIED]
        here = self._moved(rest, n, faults)
        step = F32(self.frame * BESIDE)
        ahead = velocity * step
        later = self._moved(self._beside(rest, place + ahead, step, pace), n)
        sooner = self._moved(self._beside(rest, place - ahead, -step, pace), n)
        for k in range(3):
            # what is moved by nought stays the very same: taking away a nought that is not negative changes no number, not even the sign of one
            floats[PLACE + k] -= F32(0) - here[k]
            floats[WAY + k] -= (sooner[k] - later[k]) * (F32(0.5) / step)
        if TURNED[0] in population.names:
            self._turn(population, floats, here, rest)

    def _moved(self, inputs: dict[str, object], n: int, faults: Faults | None = None) -> list[np.ndarray]:
        """Return by how much n particles are moved along x, y and z, float32 metres, (n,) or one for all. inputs: what programs read of them."""
        assert self._prepared is not None
        spend(n * len(self._prepared.program.operations))
        found = self._prepared.run(self.plan.values, inputs, n, faults if faults is not None else Faults())
        return [np.asarray(found[f"moved.{axis}"], F32) for axis in AXES]

    @staticmethod
    def _beside(rest: dict[str, object], place: np.ndarray, step: np.float32, pace: tuple[float, float]) -> dict[str, object]:
        """Return what programs read of particles a little later or sooner, each on its way at a place (3, n)."""
        age, time = np.asarray(rest["age"]), cast(float | np.ndarray, rest["time"])
        return {
            **rest,
            **dict(zip(PLACES, place, strict=True)),
            "age": np.maximum(age + step * F32(pace[0]), F32(0)),
            "time": time + float(step) * pace[1],
        }

    def _turn(self, population: Population, floats: np.ndarray, here: list[np.ndarray], rest: dict[str, object]) -> None:
        """Turn who is turned in space as space is turned about them."""
        place = population.floats[PLACE:WAY]
        near = np.maximum(np.abs(place).max(axis=0), 1) * F32(NEAR)
        gradient = np.empty((len(population), 3, 3))
        for k in range(3):
            aside = place[k] + near
            away = (aside - place[k]).astype(F64)  # as float32 has it
            beside = self._moved({**rest, PLACES[k]: aside}, len(population))
            for axis in range(3):
                gradient[:, axis, k] = (beside[axis].astype(F64) - here[axis]) / away
        moved = (gradient != 0).any(axis=(1, 2))
        if moved.any():
            rows = [CARRIED + population.names.index(name) for name in TURNED]
            turns = floats[rows][:, moved].astype(F64).T
            made = turned_by(rotation_parts(np.eye(3) + gradient[moved]), turns).T.astype(F32)
            for row, values in zip(rows, made, strict=True):
                floats[row, moved] = values
