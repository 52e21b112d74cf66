"""Particles as they are shown: a stored frame with the columns of a look, evaluated without stepping."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from ..engine import EngineChoice, Faults, Prepared, current_engine, prepare_for_engine
from ..plan import EmitterPlan, LookPlan
from ..work_limits import spend
from .frames import Population

F32 = np.float32


@dataclass(frozen=True)
class Strands:
    """Polylines that particles are drawn along, concatenated.

    points: (p, 3) float32, metres. joined: whether each is connected to the point before it, (p,) bool. owner: the
    particle of each, (p,). columns: as in `ShownParticles`, for each point. across: for bands fixed in space, the unit
    vector across them, (p, 3) float32; None where they face the camera.
    """

    points: np.ndarray
    joined: np.ndarray
    owner: np.ndarray
    columns: dict[str, np.ndarray]
    across: np.ndarray | None = None

    def __len__(self) -> int:
        return len(self.points)


@dataclass(frozen=True)
class Surface:
    """A surface that particles form together.

    points: (V, 3) float32, metres; normals: (V, 3), unit; tints: linear colour, opacity, and the share that hides what
    is behind, (V, 5) float32; faces: (T, 3) int32, counter-clockwise from outside; uv: texture position, (V, 2);
    velocity: (V, 3), m/s.
    """

    points: np.ndarray
    normals: np.ndarray
    tints: np.ndarray
    faces: np.ndarray
    uv: np.ndarray
    velocity: np.ndarray

    @staticmethod
    def nothing() -> Surface:
        none = [np.zeros((0, width), F32) for width in (3, 3, 5, 2, 3)]
        return Surface(none[0], none[1], none[2], np.zeros((0, 3), np.int32), none[3], none[4])


@dataclass(frozen=True)
class Volume:
    """Density that particles form together: red, green and blue times density, and density, 1/m, (nx, ny, nz, 4)
    float32, at points `cell` metres apart from low (3,) on. adding: nothing behind it is attenuated."""

    grid: np.ndarray
    low: np.ndarray
    cell: float
    adding: bool


@dataclass(frozen=True)
class ShownParticles:
    """One emitter's particles at a frame, in one of its looks.

    columns: the look's values by name (`parts.looks.Column`), (n,) or (n, width) float32; those at their defaults are
    left out. place, motion: shown position and velocity, (n, 3) float32, m and m/s; None: as simulated. faults: results
    of the look that were not finite and were replaced. course: values from which lines are built. strands, surface,
    volume: of looks that are one. lamps: where particles give light, linear colour and reach in metres, (n, 4).
    problem: why the look cannot be drawn; a disc is drawn instead. remark: a note for the artist.
    """

    population: Population
    look: LookPlan
    columns: dict[str, np.ndarray]
    faults: Faults = field(default_factory=Faults)
    place: np.ndarray | None = None
    motion: np.ndarray | None = None
    course: dict[str, np.ndarray] = field(default_factory=dict)
    strands: Strands | None = None
    surface: Surface | None = None
    volume: Volume | None = None
    lamps: np.ndarray | None = None
    problem: str = ""
    remark: str = ""

    def __len__(self) -> int:
        return len(self.population)

    def column(self, name: str) -> np.ndarray:
        """Return a column, (n,) or (n, width) float32, also one at its default. Raises KeyError for a column that the
        look does not have."""
        return column_of(self.look, self.columns, name, len(self), self.population)

    def positions(self) -> np.ndarray:
        """Return the shown positions, (n, 3) float32, metres."""
        return np.stack(self.population.position, axis=1) if self.place is None else self.place

    def velocities(self) -> np.ndarray:
        """Return the shown velocities, (n, 3) float32, m/s."""
        return np.stack(self.population.velocity, axis=1) if self.motion is None else self.motion


def column_of(
    look: LookPlan, columns: dict[str, np.ndarray], name: str, n: int, population: Population | None = None
) -> np.ndarray:
    """Return a column of n particles or points of strands, also one at its default. Raises KeyError for a column that
    the look does not have."""
    values = columns.get(name)
    if values is not None:
        return values
    column = next((column for column in look.columns if column.name == name), None)
    if column is None:
        raise KeyError(name)
    if column.state and population is not None:
        return population.carried[column.state]
    return np.full(n if column.width == 1 else (n, column.width), column.default, F32)


class LookEvaluator:
    """Evaluates one look of an emitter's plan on stored frames; by default the first."""

    def __init__(self, emitter: EmitterPlan, engine: EngineChoice | None = None, look: LookPlan | None = None):
        self.emitter, self.look = emitter, look or emitter.looks[0]
        self._prepared: Prepared = prepare_for_engine(self.look.program, engine or current_engine())

    def show(self, population: Population, seconds: float | np.ndarray) -> ShownParticles:
        """Return the particles with their look at a clip time (one, or one for each); nothing is simulated."""
        faults = Faults()
        out = self._run(population, seconds, faults, {})
        course = {}
        for name, count in self.look.course:
            parts = [out[f"course.{name}.{i}"] for i in range(count)]
            course[name] = parts[0] if count == 1 else np.stack(parts, axis=1)
        lamps = np.stack([out[f"lamp.{i}"] for i in range(4)], axis=1) if "lamp.3" in out else None
        if lamps is not None and "shown" in out:
            lamps = np.where((out["shown"] < 0.5)[:, None], F32(0), lamps)
        if lamps is not None and population.repeats is not None:
            lamps[:, :3] *= population.repeats.share[:, None]
        return ShownParticles(population, self.look, self._columns(out, population), faults, course=course, lamps=lamps)

    def visible(self, population: Population, seconds: float | np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return sizes (metres) and opacities before thinning, (n,) float32 each."""
        out = {name: value for name, value in self._run(population, seconds, Faults(), {}).items() if name != "shown"}
        columns = self._columns(out, population)
        size, opacity = (
            column_of(self.look, columns, name, len(population), population) for name in ("size", "opacity")
        )
        return size, opacity

    def along(
        self, population: Population, seconds: float, owner: np.ndarray, along: np.ndarray, metres: np.ndarray
    ) -> dict[str, np.ndarray]:
        """Return the columns at points of strands. owner: each point's particle, (p,). along: its share of the strand,
        0 to 1. metres: its distance along the strand."""
        owners = population.where(owner)
        return self._columns(self._run(owners, seconds, Faults(), {"along": along, "metres": metres}), owners)

    def _run(
        self, population: Population, seconds: float | np.ndarray, faults: Faults, more: dict[str, np.ndarray]
    ) -> dict[str, np.ndarray]:
        spend(len(population) * len(self.look.program.operations))
        return self._prepared.run(
            self.emitter.values, {**frame_inputs(population, seconds), **more}, len(population), faults
        )

    def _columns(self, out: dict[str, np.ndarray], population: Population) -> dict[str, np.ndarray]:
        columns: dict[str, np.ndarray] = {}
        for column in self.look.columns:
            if column.name in self.look.given and column.state:
                columns[column.name] = population.carried[column.state]
            elif column.name in self.look.given:
                parts = [out[f"{column.name}.{i}"] for i in range(column.width)]
                columns[column.name] = parts[0] if column.width == 1 else np.stack(parts, axis=1)
        if "shown" in out:  # thinned out: hidden, and still there
            hidden = out["shown"] < 0.5
            for name in ("size", "opacity"):
                columns[name] = np.where(hidden, F32(0), columns[name])
        if population.repeats is not None and (population.repeats.share < 1).any():  # a loop lets them come or go
            opacity = column_of(self.look, columns, "opacity", len(population), population)
            columns["opacity"] = opacity * population.repeats.share
        return columns


def frame_inputs(population: Population, seconds: float | np.ndarray) -> dict[str, object]:
    """Return the inputs of look and probe programs: the population's arrays, birth times, and clip time (one, or one
    for each)."""
    return {
        **population.inputs(),
        "birth_time": population.birth_time,
        "time": seconds,
        "along": F32(0),
        "metres": F32(0),
    }
