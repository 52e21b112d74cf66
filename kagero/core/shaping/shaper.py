"""Shapings applied to stored particles: positions, velocities and rotations."""

from __future__ import annotations

import numpy as np

from ..engine import EngineChoice, Faults, current_engine, prepare_for_engine
from ..plan import EmitterPlan
from ..program import Builder, Program, inline
from ..rows.turn import ROTATION_STATE
from ..simulation import CARRIED, POSITION, VELOCITY, Population, frame_inputs
from ..work_limits import spend
from .turning import rotation_parts, turned_by

F32, F64 = np.float32, np.float64
BESIDE = 1 / 8  # of a frame: so much before and after, where it is looked how a shaped place moves
NEAR = 2.0**-9  # metres, or of how far away a place is: so near, where it is looked how space is turned
AXES = ("x", "y", "z")
CHUNK = 1 << 14  # particles that are moved at a time where much is needed meanwhile: it stays near
SHOWN, BESIDES = "shown", "beside"  # the program that gives what is shown, and whose its readings beside a place are
PLACES = tuple(f"position.{axis}" for axis in AXES)


class Shaper:
    """Applies an emitter's shapings to particles of stored frames; without any, particles are returned unchanged.
    frame: duration of one, seconds."""

    def __init__(self, plan: EmitterPlan, frame: float, engine: EngineChoice | None = None):
        self.plan, self.frame = plan, frame
        if plan.shaping is not None:
            shown = plan.shaping.prepared.get(SHOWN)
            if shown is None:
                shown = plan.shaping.prepared[SHOWN] = _shown_handle(plan.shaping)
            self._shown = prepare_for_engine(shown, engine or current_engine())
            self._by = prepare_for_engine(plan.shaping, engine or current_engine())

    def shaped(
        self,
        population: Population,
        seconds: float | np.ndarray,
        faults: Faults | None = None,
        pace: float = 1.0,
        going: float = 1.0,
    ) -> Population:
        """Return particles at their shown positions at a clip time (one, or one for each), with velocities and
        rotations there.

        faults: where results that are not finite are counted. pace, going: rates of the particles' ageing and of time.
        Particles that are not moved stay the same byte for byte. A velocity gains the change of its position's
        displacement over time, by central differences over a quarter of a frame along its own path; a rotation is
        turned by the rotation of space there (polar decomposition of the displacement's gradient).
        """
        if self.plan.shaping is None or not len(population):
            return population
        floats = np.empty_like(population.floats)
        floats[:POSITION], floats[CARRIED:] = population.floats[:POSITION], population.floats[CARRIED:]
        most = CHUNK if self._shown.has_leaves or ROTATION_STATE[0] in population.names else len(population)
        for start in range(0, len(population), most):
            piece = slice(start, start + most)
            when = seconds[piece] if isinstance(seconds, np.ndarray) else seconds
            self._shape(population.where(piece), floats[:, piece], when, faults, (pace, going))
        return population.with_floats(floats)

    def _shape(
        self,
        population: Population,
        floats: np.ndarray,
        seconds: float | np.ndarray,
        faults: Faults | None,
        pace: tuple[float, float],
    ) -> None:
        """Write shown position, velocity and rotation of some particles into floats, which holds all their other
        values."""
        rest, step, noted = frame_inputs(population, seconds), F32(self.frame * BESIDE), Faults()
        late = float(step) * pace[1]
        beside = {
            "step": step,
            "older": step * F32(pace[0]),
            "share": F32(0.5) / step,
            "time.later": seconds + late,
            "time.sooner": seconds - late,
        }
        spend(len(population) * len(self._shown.program.operations))
        self._shown.run(self.plan.values, {**rest, **beside}, len(population), noted, into=floats[POSITION:CARRIED])
        if ROTATION_STATE[0] in population.names:
            self._turn(population, floats, rest)
        if faults is not None:
            noted.forget(BESIDES)  # what is not finite there is so only where it is looked how a place moves
            faults.add(noted)

    def _moved(self, inputs: dict[str, object], n: int) -> list[np.ndarray]:
        """Return the displacement of n particles along x, y and z, float32 metres, (n,) or one for all. inputs: what
        the program reads."""
        spend(n * len(self._by.program.operations))
        found = self._by.run(self.plan.values, inputs, n, Faults())
        return [np.asarray(found[f"moved.{axis}"], F32) for axis in AXES]

    def _turn(self, population: Population, floats: np.ndarray, rest: dict[str, object]) -> None:
        """Rotate particles that are oriented in space as space is rotated about them."""
        place, here = population.floats[POSITION:VELOCITY], self._moved(rest, len(population))
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
            rows = [CARRIED + population.names.index(name) for name in ROTATION_STATE]
            turns = floats[rows][:, moved].astype(F64).T
            turned = turned_by(rotation_parts(np.eye(3) + gradient[moved]), turns).T.astype(F32)
            for row, values in zip(rows, turned, strict=True):
                floats[row, moved] = values


def _shown_handle(shaping: Program) -> Program:
    """Return a program that gives shown position and velocity from one that gives the displacement.

    It reads the same inputs and: step, older, late and sooner (offsets of time and age), and share (half over step).
    What the three evaluations have in common is computed once. Subtracting positive zero changes no number, not even
    its sign: particles with zero displacement stay exactly the same.
    """
    b = Builder(longer=4)  # that what is moved may be as long as any program
    place, velocity = [b.input(name) for name in PLACES], [b.input(f"velocity.{axis}") for axis in AXES]
    here = inline(b, shaping, {})
    b.row = BESIDES
    ahead = [b.op("mul", w, b.input("step")) for w in velocity]
    sides = []
    for to, time in (("add", "time.later"), ("sub", "time.sooner")):
        b.row = BESIDES
        near = {name: b.op(to, x, by) for name, x, by in zip(PLACES, place, ahead, strict=True)}
        age = b.op("max", b.op(to, b.input("age"), b.input("older")), b.const(0))
        sides.append(inline(b, shaping, {**near, "age": age, "time": b.input(time)}, BESIDES))
    columns = {}
    for axis, x in zip(AXES, place, strict=True):
        columns[f"position.{axis}"] = b.op("sub", x, b.op("sub", b.const(0), here[f"moved.{axis}"]))
    for axis, w in zip(AXES, velocity, strict=True):
        later, sooner = (side[f"moved.{axis}"] for side in sides)
        columns[f"velocity.{axis}"] = b.op("sub", w, b.op("mul", b.op("sub", sooner, later), b.input("share")))
    return b.finish(columns)
