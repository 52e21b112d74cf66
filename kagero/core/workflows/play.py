"""An effect ready to play: its plan, a run for each emitter, and its looks, over a shared store of frames."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..document import MOST_LAMPS, Effect, Emitter
from ..engine import EngineChoice, Faults, current_engine
from ..errors import BudgetError, Finding, GeometryProblem
from ..formats.exporters import FrameParticles, StoredColumn
from ..parts.looks import Column, LookPart
from ..picture import Layer, Projector, Solid, Viewpoint, layers, lighting, solids
from ..plan import EmitterPlan, compile_effect
from ..rows.units import si_symbol
from ..shaping import ShapedRun
from ..simulation import EmitterRun, Frame, FrameStore, LookEvaluator, Population, ShownParticles
from ..staging import Content, Fields, Stage, geometry, no_content
from ..strands import with_strands
from ..surfaces import with_surface
from ..work_limits import LIMITS

FRAME_MEMORY_FACTOR = 4  # times the bytes of a frame that making, showing and sending it take at most, measured


def never_stopped() -> None:
    """The default of `stopped`: never asks to stop."""


@dataclass
class ReplacedNumbers:
    """Results that were not finite and were replaced in the frames shown so far: how many for each emitter and row, and
    the first."""

    counts: dict[tuple[int, str], int] = field(default_factory=dict)
    first: dict[tuple[int, str], tuple[int, int]] = field(default_factory=dict)

    def note(self, emitter: int, frame: int, faults: Faults) -> None:
        for row, count in faults.counts.items():
            key = faults.first_key[row]
            if (emitter, row) in self.first and key < 0:
                continue  # a rate's tell of the whole clip
            self.counts[emitter, row] = self.counts.get((emitter, row), 0) + count
            self.first.setdefault((emitter, row), (frame, key))

    def findings(self, effect: Effect) -> list[Finding]:
        """Return a finding for each row: how many numbers were replaced, and the first frame and particle."""
        found = []
        for (index, row), count in self.counts.items():
            frame, key = self.first[index, row]
            particle = "" if key < 0 else f", first at frame {frame} for particle {key:016x}"
            words = (
                f"{count:,} number{'s' if count > 1 else ''} of {effect.emitters[index].name} "
                f"{'were' if count > 1 else 'was'} not finite"
            )
            remedy = "Guard what it divides by or takes a root of."
            found.append(Finding("replaced", f"emitters.{index}.{row}", f"{words} and became 0{particle}.", remedy))
        return found


class Playing:
    """An effect ready to play. content: gives the contents of props' files by hash. Raises EffectError or CircleProblem
    when the effect cannot be compiled."""

    def __init__(self, effect: Effect, store: FrameStore | None = None, content: Content = no_content):
        self.effect, self.content = effect, content
        self.plan = compile_effect(effect)
        self.store = store if store is not None else FrameStore()
        self.engine = current_engine()
        self.replaced: ReplacedNumbers | None = (
            None  # where to note results that were not finite, when somebody wants to know
        )
        self.stage = Stage(effect, self.plan, content)
        for values in (*(each.values for each in self.plan.emitters), *(each.values for each in self.plan.props)):
            values.stage = self.stage
        runs: dict[str, EmitterRun] = {}
        while len(runs) < len(self.plan.emitters):  # each after those it needs
            for each in self.plan.emitters:
                needs = {*([each.parent] if each.parent is not None else []), *(of for of, _ in each.watches)}
                if each.uid not in runs and needs <= runs.keys():
                    runs[each.uid] = EmitterRun(
                        self.plan, each, self.store, self.engine, runs.get(each.parent or ""), runs
                    )
        for each, run in ((each, runs[each.uid]) for each in self.plan.emitters):
            lacking = [prop for query in each.values.queries for prop in query.props if self.stage.lacks(prop)]
            if lacking:  # frames without a prop's file are not those with it
                run.address += f" without {sorted(lacking)}"
        self.runs = [runs[each.uid] for each in self.plan.emitters]
        shaped: dict[str, ShapedRun] = {}
        for uid, run in runs.items():  # parents before those born from them
            shaped[uid] = ShapedRun(run, self.engine, shaped.get(run.emitter.parent or ""))
        self.shaped = [shaped[each.uid] for each in self.plan.emitters]
        self.looks = [LookEvaluator(emitter, self.engine) for emitter in self.plan.emitters]
        self._drawn = [
            _looks(emitter, each, self.engine)
            for emitter, each in zip(self.plan.emitters, effect.emitters, strict=True)
        ]

    @property
    def frames_simulated(self) -> int:
        """The number of frames simulated so far, over all emitters."""
        return sum(run.frames_simulated for run in self.runs)

    @property
    def viewpoint(self) -> Viewpoint:
        camera = self.effect.camera
        return Viewpoint(camera.position, camera.target, camera.field_of_view)

    @cached_property
    def projector(self) -> Projector:
        """The effect's camera as a projector of pictures."""
        view = self.viewpoint
        axes = view.axes()
        rows = np.concatenate([axes, -(axes @ np.asarray(view.position, np.float64))[:, None]], axis=1)
        return Projector(rows, math.tan(view.field_of_view / 2))

    def fields(self, wanted: str = "") -> Fields:
        """Return the fields that props show. wanted: the requested one, as in `staging.fields.FieldRequest`."""
        return Fields(self.effect, self.plan, self.stage, self.engine, wanted)

    def solids(self, number: int, after: float = 0.0, moving: frozenset[str] | None = None) -> list[Solid]:
        """Return the props to draw for a frame, or for `after` of a frame past it; arguments as in `layers`."""
        return solids(self.effect, self.stage, self.fields(), number, after, moving)

    def frames(self, number: int, stopped: Callable[[], None] = never_stopped) -> list[Frame]:
        """Return the stored frame of every emitter. Raises BudgetError when together they need more than
        `LIMITS.effect_bytes` to be worked on."""
        frames: list[Frame] = []
        needed = 0
        for emitter, run, shaped in zip(self.effect.emitters, self.runs, self.shaped, strict=True):
            frames.append(shaped.frame(number, stopped))
            needed += frames[-1].population.nbytes * FRAME_MEMORY_FACTOR
            if needed > LIMITS.effect_bytes:
                raise BudgetError(
                    f"With {emitter.name}, frame {number} needs more than "
                    f"{LIMITS.effect_bytes / 1e9:.1f} GB of memory.",
                    where=f"{run.emitter.place}.births.rate",
                    remedy="Lower the rate or the lifespan, or let fewer emitters be this full.",
                )
        return frames

    def show(self, number: int, stopped: Callable[[], None] = never_stopped) -> list[ShownParticles]:
        """Return every emitter's particles with their look at a frame."""
        frames = self.frames(number, stopped)
        shown = [
            look.show(run.at(number, 0.0, stopped), run.seconds(number))
            for look, run in zip(self.looks, self.shaped, strict=True)
        ]
        if self.replaced is not None:
            for i, (frame, part) in enumerate(zip(frames, shown, strict=True)):
                for faults in (
                    frame.faults,
                    self.shaped[i].with_faults(number, 0.0, stopped)[1],
                    part.faults,
                    self.runs[i].rate_faults,
                ):
                    self.replaced.note(i, number, faults)
        return shown

    def drawn_looks(self, emitter: int) -> list[LookPart]:
        """Return the looks in which an emitter (by number) is drawn, in order."""
        return [part for part, _ in self._drawn[emitter]]

    def drawn_in_looks(
        self,
        emitter: int,
        number: int,
        population: Population,
        stopped: Callable[[], None] = never_stopped,
        first: ShownParticles | None = None,
        coarse: bool = False,
        after: float = 0.0,
    ) -> list[ShownParticles]:
        """Return an emitter's particles in each of `drawn_looks`, with their lines and surfaces.

        first: the particles in the first look, where known already. coarse: surfaces with cells twice as large. after:
        the particles are those of a time `after` of a frame past the frame.
        """
        run = self.shaped[emitter]
        seconds = run.seconds(number, after)
        drawn = []
        for part, look in self._drawn[emitter]:
            shown = first if first is not None and first.look is look.look else look.show(population, seconds)
            drawn.append(
                with_surface(
                    part,
                    with_strands(look, part, run, number, shown, stopped, after),
                    coarse,
                    lambda: self.lights(number, stopped, after),
                )
            )
        return drawn

    def lamps(self, number: int, stopped: Callable[[], None] = never_stopped, after: float = 0.0) -> np.ndarray:
        """Return the brightest lamps that particles are at a frame, (L, 7), as `render` takes them."""
        found = []
        for i, (emitter, run) in enumerate(zip(self.effect.emitters, self.shaped, strict=True)):
            if emitter.visible and emitter.light is not None:
                found.append(lamps_from(self.looks[i].show(run.at(number, after, stopped), run.seconds(number, after))))
        return brightest(np.concatenate(found)) if found else np.zeros((0, 7))

    def lights(self, number: int, stopped: Callable[[], None] = never_stopped, after: float = 0.0) -> np.ndarray:
        """Return all lights at a frame: light props and lamps, (L, LIGHT) as in `kernels.shading`."""
        seconds = self.plan.scene(number, after)
        return lighting(self.effect.props, self.stage, seconds, self.lamps(number, stopped, after))[0].rows

    def lacking(self) -> list[Finding]:
        """Return what is missing while the effect plays: files and characters that are not here, paths whose formula
        leaves the world."""
        found = list(self.effect.frame.lacking(list(self.effect.props)))
        holders = [
            ("", "The effect", self.effect),
            *((f"emitters.{i}.", each.name, each) for i, each in enumerate(self.effect.emitters)),
        ]
        for place, name, holder in holders:
            for what in ("retiming", "loop"):
                part = getattr(holder, what)
                lack = part.unmet_need(self.effect) if part is not None and not part.muted else None
                if lack is not None:
                    whose = (
                        f"{name} {lack[1]}"
                        if what == "retiming"
                        else f"The loop of {name[0].lower() + name[1:] if not place else name} {lack[1]}"
                    )
                    found.append(Finding("outside_clip", f"{place}{what}.{lack[0]}", f"{whose}.", lack[2]))
        for index, prop in enumerate(self.effect.props):
            if prop.lacks():
                found.append(
                    Finding(
                        "missing_letters",
                        f"props.{index}",
                        f"{prop.name}: {prop.lacks()}",
                        "They are left out: write others.",
                    )
                )
            for place, file in prop.referred():
                try:
                    self.content(file.content)
                except GeometryProblem:
                    words = f"{prop.name} is played without its file {file.name!r}, which is not here."
                    found.append(
                        Finding(
                            "missing_file",
                            f"props.{index}.{place}",
                            words,
                            "Put it beside the effect, or bring it in again.",
                        )
                    )
            try:
                geometry(prop, self.content)
            except GeometryProblem as problem:
                if not any(f.where.startswith(f"props.{index}.") for f in found):
                    found += [
                        Finding(f.code, f"props.{index}", f"{prop.name}: {f.message}", f.remedy)
                        for f in problem.findings
                    ]
        return found

    def layers(
        self,
        number: int,
        stopped: Callable[[], None] = never_stopped,
        after: float = 0.0,
        moving: frozenset[str] | None = None,
    ) -> list[Layer]:
        """Return the layers to draw at a frame: the particles of visible emitters with the resources of their looks.

        after: time past the frame, in frames (negative: before it). moving: the emitters and props that are evaluated
        then, the others at the frame; None: all.
        """
        frames = self.frames(number, stopped)
        drawn: list[Layer] = []
        for i, (emitter, frame) in enumerate(zip(self.effect.emitters, frames, strict=True)):
            if emitter.visible:
                late = after if moving is None or emitter.uid in moving else 0.0
                seconds = self.plan.scene(number, late)
                shown = self.drawn_in_looks(i, number, self.shaped[i].at(number, late, stopped), stopped, after=late)
                drawn += layers(
                    self.drawn_looks(i), shown, self.stage, seconds, self.projector, emitter.births.place, emitter.uid
                )
                if self.replaced is not None:
                    shaping = self.shaped[i].with_faults(number, late, stopped)[1]
                    for faults in (frame.faults, shaping, self.runs[i].rate_faults, *(each.faults for each in shown)):
                        self.replaced.note(i, number, faults)
        return drawn

    def particles(
        self, number: int, stopped: Callable[[], None] = never_stopped, simulated: bool = False
    ) -> FrameParticles:
        """Return all particles of all emitters at a frame, as caches store them. simulated: with simulated positions as
        well."""
        shown = self.show(number, stopped)
        of = {
            "key": [part.population.key for part in shown],
            "position": [part.positions() for part in shown],
            "velocity": [part.velocities() for part in shown],
            "age": [part.population.age for part in shown],
            "lifespan": [part.population.lifespan for part in shown],
            "emitter": [np.full(len(part), i, np.int32) for i, part in enumerate(shown)],
        }
        if simulated:
            of["simulated"] = [np.stack(run.simulated(number, 0.0, stopped).position, axis=1) for run in self.shaped]
        for column in self.look_columns():
            of[column.stored or column.name] = [_column(part, column) for part in shown]
        return FrameParticles(
            number, self.plan.seconds(number), {name: np.concatenate(parts) for name, parts in of.items()}
        )

    def stored_columns(self, simulated: bool = False) -> tuple[StoredColumn, ...]:
        """Return the columns of `particles` in the order of files: those of every particle, then those of the looks."""
        looks = [StoredColumn(c.stored or c.name, "<f4", c.components, si_symbol(c.unit)) for c in self.look_columns()]
        before = (StoredColumn("simulated", "<f4", ("x", "y", "z"), "m"),) if simulated else ()
        return (*_ALL_HAVE, *before, *looks, StoredColumn("emitter", "<i4"))

    def look_columns(self) -> tuple[Column, ...]:
        """Return the columns of all looks of the effect, each once."""
        found: dict[str, Column] = {}
        for plan in self.plan.emitters:
            for column in plan.looks[0].columns:
                found.setdefault(column.name, column)
        return tuple(found.values())


def lamps_from(shown: ShownParticles) -> np.ndarray:
    """Return the brightest lamps among an emitter's particles, (L, 7): position (m), linear colour, reach (m)."""
    if shown.lamps is None or not len(shown):
        return np.zeros((0, 7))
    return brightest(np.column_stack([shown.positions(), shown.lamps]).astype(np.float64))


def brightest(lamps: np.ndarray) -> np.ndarray:
    """Return the lamps with the largest product of light and lit area."""
    rank = lamps[:, 3:6].max(axis=1, initial=0) * lamps[:, 6] ** 2
    order = np.argsort(-rank, kind="stable")[:MOST_LAMPS]
    return lamps[order[rank[order] > 0]]


def _looks(plan: EmitterPlan, emitter: Emitter, engine: EngineChoice) -> list[tuple[LookPart, LookEvaluator]]:
    """Return the looks in which an emitter's particles are drawn."""
    every = zip(plan.looks, [emitter.look, *emitter.also], strict=True)
    return [(part, LookEvaluator(plan, engine, each)) for each, part in every if not part.muted]


_ALL_HAVE = (
    StoredColumn("key", "<u8"),
    StoredColumn("position", "<f4", ("x", "y", "z"), "m"),
    StoredColumn("velocity", "<f4", ("x", "y", "z"), "m/s"),
    StoredColumn("age", "<f4", (), "s"),
    StoredColumn("lifespan", "<f4", (), "s"),
)


def _column(shown: ShownParticles, column: Column) -> np.ndarray:
    """Return a column of an emitter's particles, or its default where their look does not have it."""
    if any(own.name == column.name for own in shown.look.columns):
        return shown.column(column.name)
    return np.full((len(shown), column.width) if column.width > 1 else len(shown), column.default, np.float32)
