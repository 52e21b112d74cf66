"""An effect ready to play: its plan, a run an emitter, and a look each, over a shared store of frames."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..document import MOST_LAMPS, Effect, Emitter
from ..engine import EngineChoice, Faults, chosen
from ..errors import BudgetError, Finding, GeometryProblem
from ..formats.exporters import FrameParticles, StoredColumn
from ..parts.looks import Column, LookPart
from ..picture import Layer, Projector, Solid, Viewpoint, layers, lighting, solids
from ..plan import EmitterPlan, compile_effect
from ..rows.units import si_symbol
from ..shaping import ShapedRun
from ..simulation import EmitterRun, Frame, FrameStore, Look, Population, Shown
from ..staging import Content, Fields, Stage, geometry, nothing
from ..strands import with_strands
from ..surfaces import with_surface
from ..work_limits import LIMITS

WORKING = 4  # times the bytes of a frame that making, showing and sending it take at most, measured


def never() -> None:
    """Nobody asks for a stop."""


@dataclass
class Replaced:
    """Results that were not finite and were replaced, over the frames that were shown: how many by emitter and row, and where first."""

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
        """Return a finding a row: how many numbers were replaced, and the first frame and particle."""
        found = []
        for (index, row), count in self.counts.items():
            frame, key = self.first[index, row]
            particle = "" if key < 0 else f", first at frame {frame} for particle {key:016x}"
            words = f"{count:,} number{'s' if count > 1 else ''} of {effect.emitters[index].name} {'were' if count > 1 else 'was'} not finite"
            remedy = "Guard what it divides by or takes a root of."
            found.append(Finding("replaced", f"emitters.{index}.{row}", f"{words} and became 0{particle}.", remedy))
        return found


class Playing:
    """Raises EffectError or CircleProblem when the effect cannot be compiled. content: gives what files of props hold."""

    def __init__(self, effect: Effect, store: FrameStore | None = None, content: Content = nothing):
        self.effect, self.content = effect, content
        self.plan = compile_effect(effect)
        self.store = store if store is not None else FrameStore()
        self.engine = chosen()
        self.replaced: Replaced | None = None  # where to note results that were not finite, when somebody wants to know
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
        self.looks = [Look(emitter, self.engine) for emitter in self.plan.emitters]
        self._drawn = [
            _looks(emitter, each, self.engine)
            for emitter, each in zip(self.plan.emitters, effect.emitters, strict=True)
        ]

    @property
    def stepped(self) -> int:
        """How many frames its emitters have simulated, all together."""
        return sum(run.stepped for run in self.runs)

    @property
    def viewpoint(self) -> Viewpoint:
        camera = self.effect.camera
        return Viewpoint(camera.position, camera.target, camera.field_of_view)

    @cached_property
    def projector(self) -> Projector:
        """The effect's camera as what throws pictures."""
        view = self.viewpoint
        axes = view.axes()
        rows = np.concatenate([axes, -(axes @ np.asarray(view.position, np.float64))[:, None]], axis=1)
        return Projector(rows, math.tan(view.field_of_view / 2))

    def fields(self, wanted: str = "") -> Fields:
        """Return what props show besides themselves. wanted: what to show on them, see `staging.fields.Wanted`."""
        return Fields(self.effect, self.plan, self.stage, self.engine, wanted)

    def solids(self, number: int, after: float = 0.0, moving: frozenset[str] | None = None) -> list[Solid]:
        """Return the props to draw into the picture of a frame, or of a moment so much of a frame after it, as of `layers`."""
        return solids(self.effect, self.stage, self.fields(), number, after, moving)

    def frames(self, number: int, stopped: Callable[[], None] = never) -> list[Frame]:
        """Return the stored frame of every emitter. Raises BudgetError when those together need more than `LIMITS.effect_bytes` to be worked on."""
        frames: list[Frame] = []
        needed = 0
        for emitter, run, shaped in zip(self.effect.emitters, self.runs, self.shaped, strict=True):
            frames.append(shaped.frame(number, stopped))
            needed += frames[-1].population.nbytes * WORKING
            if needed > LIMITS.effect_bytes:
                raise BudgetError(
                    f"With {emitter.name}, frame {number} needs more than {LIMITS.effect_bytes / 1e9:.1f} GB of memory.",
                    where=f"{run.emitter.place}.births.rate",
                    remedy="Lower the rate or the lifespan, or let fewer emitters be this full.",
                )
        return frames

    def show(self, number: int, stopped: Callable[[], None] = never) -> list[Shown]:
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
        """Return the looks that an emitter's particles are drawn in, in order. emitter: its number."""
        return [part for part, _ in self._drawn[emitter]]

    def drawn(
        self,
        emitter: int,
        number: int,
        population: Population,
        stopped: Callable[[], None] = never,
        first: Shown | None = None,
        coarse: bool = False,
        after: float = 0.0,
    ) -> list[Shown]:
        """Return an emitter's particles of a frame in each of `drawn_looks`, with the lines that they are drawn along. emitter: its number;
        first: the particles in its first look, where they are here; coarse: surfaces with cells twice as large; after: the particles are of a
        moment so much of a frame after it."""
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

    def lamps(self, number: int, stopped: Callable[[], None] = never, after: float = 0.0) -> np.ndarray:
        """Return what particles light at a frame, or so much of a frame after it: the brightest of all (L, 7), as `render` takes them."""
        found = []
        for i, (emitter, run) in enumerate(zip(self.effect.emitters, self.shaped, strict=True)):
            if emitter.visible and emitter.light is not None:
                found.append(lamps_of(self.looks[i].show(run.at(number, after, stopped), run.seconds(number, after))))
        return brightest(np.concatenate(found)) if found else np.zeros((0, 7))

    def lights(self, number: int, stopped: Callable[[], None] = never, after: float = 0.0) -> np.ndarray:
        """Return all that lights at a frame, or so much of a frame after it: light props and lamps, (L, LIGHT) as of `kernels.shading`."""
        seconds = self.plan.scene(number, after)
        return lighting(self.effect.props, self.stage, seconds, self.lamps(number, stopped, after))[0].rows

    def lacking(self) -> list[Finding]:
        """Return what the effect is played without: files and letters that are not here, lines whose formula leaves the world."""
        found = list(self.effect.frame.lacking(list(self.effect.props)))
        holders = [
            ("", "The effect", self.effect),
            *((f"emitters.{i}.", each.name, each) for i, each in enumerate(self.effect.emitters)),
        ]
        for place, name, holder in holders:
            for what in ("retiming", "loop"):
                part = getattr(holder, what)
                lack = part.wants(self.effect) if part is not None and not part.muted else None
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
        self, number: int, stopped: Callable[[], None] = never, after: float = 0.0, moving: frozenset[str] | None = None
    ) -> list[Layer]:
        """Return what to draw at a frame: the particles of the emitters that are not hidden, with what their looks are drawn with. after: at a
        moment so much of a frame after it (below nought before it); moving: of these emitters and props, the others as at the frame; None: of all."""
        frames = self.frames(number, stopped)
        drawn: list[Layer] = []
        for i, (emitter, frame) in enumerate(zip(self.effect.emitters, frames, strict=True)):
            if emitter.visible:
                late = after if moving is None or emitter.uid in moving else 0.0
                seconds = self.plan.scene(number, late)
                shown = self.drawn(i, number, self.shaped[i].at(number, late, stopped), stopped, after=late)
                drawn += layers(
                    self.drawn_looks(i), shown, self.stage, seconds, self.projector, emitter.births.place, emitter.uid
                )
                if self.replaced is not None:
                    shaping = self.shaped[i].with_faults(number, late, stopped)[1]
                    for faults in (frame.faults, shaping, self.runs[i].rate_faults, *(each.faults for each in shown)):
                        self.replaced.note(i, number, faults)
        return drawn

    def particles(self, number: int, stopped: Callable[[], None] = never, simulated: bool = False) -> FrameParticles:
        """Return all particles of all emitters at a frame, as caches hold them. simulated: also where the simulation has them."""
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
        """Return the columns of `particles`, in their order in files: what all particles have, then what their looks give."""
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


def lamps_of(shown: Shown) -> np.ndarray:
    """Return the brightest lamps that an emitter's particles are, (L, 7): places, metres, linear colours, reaches, metres."""
    if shown.lamps is None or not len(shown):
        return np.zeros((0, 7))
    return brightest(np.column_stack([shown.positions(), shown.lamps]).astype(np.float64))


def brightest(lamps: np.ndarray) -> np.ndarray:
    """Return those of lamps that count: their light times the area that it reaches is most."""
    rank = lamps[:, 3:6].max(axis=1, initial=0) * lamps[:, 6] ** 2
    order = np.argsort(-rank, kind="stable")[:MOST_LAMPS]
    return lamps[order[rank[order] > 0]]


def _looks(plan: EmitterPlan, emitter: Emitter, engine: EngineChoice) -> list[tuple[LookPart, Look]]:
    """Return the looks that an emitter's particles are drawn in."""
    every = zip(plan.looks, [emitter.look, *emitter.also], strict=True)
    return [(part, Look(plan, engine, each)) for each, part in every if not part.muted]


_ALL_HAVE = (
    StoredColumn("key", "<u8"),
    StoredColumn("position", "<f4", ("x", "y", "z"), "m"),
    StoredColumn("velocity", "<f4", ("x", "y", "z"), "m/s"),
    StoredColumn("age", "<f4", (), "s"),
    StoredColumn("lifespan", "<f4", (), "s"),
)


def _column(shown: Shown, column: Column) -> np.ndarray:
    """Return a column of an emitter's particles; its default where their look has none of it."""
    if any(own.name == column.name for own in shown.look.columns):
        return shown.column(column.name)
    return np.full((len(shown), column.width) if column.width > 1 else len(shown), column.default, np.float32)
