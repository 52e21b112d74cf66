"""Stored particles, moved by an emitter's shapings: their places, velocities and turns."""

from __future__ import annotations

import numpy as np

from ..engine import EngineChoice, Faults, chosen, prepare_hot
from ..plan import EmitterPlan
from ..program import Builder, Program, inlined
from ..rows.turn import TURNED
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
    """Moves the particles of stored frames as an emitter's shapings say; without any they stay the very same. frame: how long one is, seconds."""

    def __init__(self, plan: EmitterPlan, frame: float, engine: EngineChoice | None = None):
        self.plan, self.frame = plan, frame
        if plan.shaping is not None:
            shown = plan.shaping.prepared.get(SHOWN)
            if shown is None:
                shown = plan.shaping.prepared[SHOWN] = _shown(plan.shaping)
            self._shown, self._by = (
                prepare_hot(shown, engine or chosen()),
                prepare_hot(plan.shaping, engine or chosen()),
            )

    def shaped(
        self,
        population: Population,
        seconds: float | np.ndarray,
        faults: Faults | None = None,
        pace: float = 1.0,
        going: float = 1.0,
    ) -> Population:
        """Return particles where they are shown at a clip time (one, or one each), and how they move and are turned there. faults: where to note
        what was not finite; pace, going: how fast they grow older meanwhile, and how fast that time
        goes. Who is not moved is the same byte for byte.

        A velocity gains what its place's displacement gains with time, by central differences over a quarter of a frame along its own way; a
        turn is turned by the rotation of space there (the polar decomposition of the displacement's gradient).
        """
        if self.plan.shaping is None or not len(population):
            return population
        floats = np.empty_like(population.floats)
        floats[:POSITION], floats[CARRIED:] = population.floats[:POSITION], population.floats[CARRIED:]
        most = CHUNK if self._shown.has_leaves or TURNED[0] in population.names else len(population)
        for start in range(0, len(population), most):
            piece = slice(start, start + most)
            when = seconds[piece] if isinstance(seconds, np.ndarray) else seconds
            self._shape(population.where(piece), floats[:, piece], when, faults, (pace, going))
        return population.moved(floats)

    def _shape(
        self,
        population: Population,
        floats: np.ndarray,
        seconds: float | np.ndarray,
        faults: Faults | None,
        pace: tuple[float, float],
    ) -> None:
        """Write where some particles are shown, how they move and are turned there, into floats, where all else of them stands."""
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
        if TURNED[0] in population.names:
            self._turn(population, floats, rest)
        if faults is not None:
            noted.leave_out(BESIDES)  # what is not finite there is so only where it is looked how a place moves
            faults.add(noted)

    def _moved(self, inputs: dict[str, object], n: int) -> list[np.ndarray]:
        """Return by how much n particles are moved along x, y and z, float32 metres, (n,) or one for all. inputs: what programs read of them."""
        spend(n * len(self._by.program.operations))
        found = self._by.run(self.plan.values, inputs, n, Faults())
        return [np.asarray(found[f"moved.{axis}"], F32) for axis in AXES]

    def _turn(self, population: Population, floats: np.ndarray, rest: dict[str, object]) -> None:
        """Turn who is turned in space as space is turned about them."""
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
            rows = [CARRIED + population.names.index(name) for name in TURNED]
            turns = floats[rows][:, moved].astype(F64).T
            turned = turned_by(rotation_parts(np.eye(3) + gradient[moved]), turns).T.astype(F32)
            for row, values in zip(rows, turned, strict=True):
                floats[row, moved] = values


def _shown(shaping: Program) -> Program:
    """Return the program that gives where a particle is shown and how it moves there, from the one that gives by how much it is moved.

    It reads what that reads, and: step, older, late and sooner by how much of time and age; share: half over step. What the three readings have in
    common is computed once. Taking away a nought that is not negative changes no number, not even the sign of one: so who is moved by nought stays
    the very same.
    """
    b = Builder(longer=4)  # that what is moved may be as long as any program
    place, velocity = [b.input(name) for name in PLACES], [b.input(f"velocity.{axis}") for axis in AXES]
    here = inlined(b, shaping, {})
    b.row = BESIDES
    ahead = [b.op("mul", w, b.input("step")) for w in velocity]
    sides = []
    for to, time in (("add", "time.later"), ("sub", "time.sooner")):
        b.row = BESIDES
        near = {name: b.op(to, x, by) for name, x, by in zip(PLACES, place, ahead, strict=True)}
        age = b.op("max", b.op(to, b.input("age"), b.input("older")), b.const(0))
        sides.append(inlined(b, shaping, {**near, "age": age, "time": b.input(time)}, BESIDES))
    columns = {}
    for axis, x in zip(AXES, place, strict=True):
        columns[f"position.{axis}"] = b.op("sub", x, b.op("sub", b.const(0), here[f"moved.{axis}"]))
    for axis, w in zip(AXES, velocity, strict=True):
        later, sooner = (side[f"moved.{axis}"] for side in sides)
        columns[f"velocity.{axis}"] = b.op("sub", w, b.op("mul", b.op("sub", sooner, later), b.input("share")))
    return b.finish(columns)
