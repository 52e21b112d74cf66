"""Compile an effect: per emitter a rate, a birth, a step, a look and a probe program, and their content hashes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from ..catalog import Links, PlacedRow, Scope, act, all_rows, in_use, out_of_range, require_valid
from ..effect import Effect, Emitter, SourcedBase
from ..errors import CircleProblem
from ..memory import PROCESS
from ..program import Builder, Program, ProgramValues, SlotTable, digest
from .birth import BirthContext
from .contexts import AXES, Context, EmitterContext, PropContext
from .filling import Timing, structure_key, timing_of
from .formulas import Writer
from .living import FrameContext, StepContext
from .view import EffectView, Owner, Rows

LOOK_OUTPUTS = ("size", "opacity", "colour.0", "colour.1", "colour.2", "stretch")


@dataclass(frozen=True)
class Probe:
    """A program over a stored frame that gives every row's value, every response's source and result, every draw and formula."""

    program: Program
    rows: dict[str, tuple[str, ...]]
    responses: tuple[str, ...]
    draws: tuple[str, ...]
    own: dict[str, tuple[str, ...]]
    formulas: dict[str, dict[str, tuple[str, ...]]]  # of each formula by its uid: its named steps, and its result under ""


@dataclass(frozen=True)
class EmitterPlan:
    """One emitter, compiled. `simulated` and `looked` are content hashes of what stored and shown frames depend on.

    begins: gives when each birth happens, as a share of the duration, where that is not the rate's to say. carried: the names of
    what the state holds besides key, age, lifespan, position and velocity. parent: the emitter whose particles these are born from.
    round: every particle is drawn as a disc.
    """

    uid: str
    rows: Rows
    place: str  # in the document, for errors
    timing: Timing
    values: ProgramValues
    rate: Program
    begins: Program | None
    birth: Program
    step: Program
    look: Program
    probe: Probe
    carried: tuple[str, ...]
    parent: str | None
    add: bool
    round: bool
    simulated: str
    looked: str


@dataclass(frozen=True)
class PropPlan:
    """One prop's own place as time goes: outputs position, rotation (radians) and scale by component, and a camera's field of view."""

    uid: str
    rows: Rows
    values: ProgramValues
    place: Program
    probe: Probe


@dataclass(frozen=True)
class Plan:
    """An effect, compiled. frame_rate: frames a second, exactly; run_up: frames simulated before the first."""

    frame_rate: Fraction
    first_frame: int
    last_frame: int
    substeps: int
    emitters: tuple[EmitterPlan, ...]
    props: tuple[PropPlan, ...] = ()
    run_up: int = 0

    def seconds(self, frame: int, substep: int = 0) -> float:
        """Return the clip time of a frame, or of a step after it, in seconds: the float64 nearest to the exact fraction."""
        steps = (frame - self.first_frame) * self.substeps + substep
        return steps * self.frame_rate.denominator / (self.frame_rate.numerator * self.substeps)


def compile_effect(effect: Effect) -> Plan:
    """Validate and compile. Raises EffectError (its findings name places) or CircleProblem; the effect is not changed.

    Programs of equal structure are compiled once: where only values differ, these are filled in anew.
    """
    clip = effect.clip
    keys = [structure_key(effect, emitter) for emitter in effect.emitters]
    prop_scopes = [Scope(prop, effect) for prop in effect.props]
    prop_rows = [{placed.address: placed for placed in all_rows(scope)} for scope in prop_scopes]
    prop_keys = [structure_key(effect, prop) for prop in effect.props]
    all_known = len({emitter.uid for emitter in effect.emitters}) == len(keys) and all(key in _known for key in (*keys, *prop_keys))
    scopes = [Scope(emitter, effect) for emitter in effect.emitters]
    rows = [{placed.address: placed for placed in all_rows(scope)} for scope in scopes]
    if not all_known or any(out_of_range(placed) for each in (*rows, *prop_rows) for placed in each.values()):
        require_valid(effect)
    known: dict[Owner, Rows] = {scope.owner: each for scope, each in zip((*scopes, *prop_scopes), (*rows, *prop_rows), strict=True)}
    view = EffectView(effect, known)
    emitters = []
    simulated: dict[str, str] = {}
    for i in _parents_first(effect):
        structure = _known.get(keys[i])
        if structure is None:
            structure = _known.put(keys[i], _compile(scopes[i], rows[i]))
        made = _filled(view, effect.emitters[i], rows[i], structure, simulated)
        simulated[made.uid] = made.looked
        emitters.append((i, made))
    emitters.sort(key=lambda each: each[0])
    props = []
    for scope, key, each in zip(prop_scopes, prop_keys, prop_rows, strict=True):
        structure = _known.get(key)
        if structure is None:
            structure = _known.put(key, _compile_prop(scope, each))
        props.append(PropPlan(scope.emitter.uid, each, structure.slots.values(view), structure.rate, structure.probe))
    return Plan(clip.rate, clip.first_frame, clip.last_frame, clip.substeps,
                tuple(made for _, made in emitters), tuple(props), clip.run_up)  # fmt: skip


def _compile_prop(scope: Scope, rows: Rows) -> Structure:
    """Return a prop's structure: its place stands where an emitter has its rate."""
    slots: SlotTable[EffectView] = SlotTable()
    context = PropContext(scope, rows, Builder(slots))
    outputs = {f"{address.removeprefix('place.')}.{i}": value for address, placed in rows.items() if placed.depth == 0
               for i, value in enumerate(context.row(address))}  # fmt: skip
    place, nothing = context.builder.finish(outputs), Builder().finish({})
    probed = PropContext(scope, rows, Builder(slots))
    return Structure(slots, place, None, nothing, nothing, nothing, _probe_of(scope, rows, probed.builder, {"emitter": probed}, None), ())


@dataclass(frozen=True)
class Structure:
    """What an emitter's plan is, whatever its numbers are. slots: which values of a document its programs read."""

    slots: SlotTable[EffectView]
    rate: Program
    begins: Program | None
    birth: Program
    step: Program
    look: Program
    probe: Probe
    carried: tuple[str, ...]


def _weigh(structure: Structure) -> int:
    programs = (structure.rate, structure.begins, structure.birth, structure.step, structure.look, structure.probe.program)
    return 4096 + 700 * sum(len(program.operations) for program in programs if program is not None)


_known = PROCESS.shelf("plans", 0.5, _weigh)


def _parents_first(effect: Effect) -> list[int]:
    """Return the emitters' places in an order in which each comes after the one it is born from."""
    place = {emitter.uid: i for i, emitter in enumerate(effect.emitters)}
    done: list[int] = []

    def take(i: int) -> None:
        if i not in done:
            where = effect.emitters[i].births.place
            if where.kind == "particles":
                take(place[where.emitter])
            done.append(i)

    for i in range(len(effect.emitters)):
        take(i)
    return done


def _compile(scope: Scope, rows: Rows) -> Structure:
    emitter, slots = scope.emitter, SlotTable[EffectView]()
    links = Links(scope)
    remembering, latched = links.remembering(), links.latched()
    rate_context = EmitterContext(scope, rows, Builder(slots))
    (rate_value,) = rate_context.row("births.rate")
    rate = rate_context.builder.finish({"rate": rate_value})

    step_context = StepContext(scope, rows, Builder(slots))
    moved = step_context.motion()
    moved |= step_context.latched(moved, latched)
    remembered = step_context.remembered(remembering)
    step = step_context.builder.finish(moved | remembered)

    birth_context = BirthContext(scope, rows, Builder(slots))
    (lifespan,) = birth_context.row("births.lifespan")
    outputs = {"lifespan": lifespan}
    outputs |= {f"position.{axis}": value for axis, value in zip(AXES, birth_context.place()[:3], strict=True)}
    outputs |= {f"velocity.{axis}": value for axis, value in zip(AXES, birth_context.velocity(), strict=True)}
    kept = birth_context.kept_births()
    if kept is not None:
        outputs["comes to be"] = kept
    carried = {"rotation": birth_context.row("births.rotation")[0], **birth_context.binding()}
    for uid in latched:
        carried[f"latch.{uid}"] = birth_context.masked(uid, "value")
        carried[f"touched.{uid}"] = birth_context.attribute("clip_time")[0]
    for own in emitter.own:
        if own.memory:
            carried |= {f"own.{own.uid}.{i}": value for i, value in enumerate(birth_context.own(own.uid))}
    for address in sorted(remembering):
        carried |= {f"row.{address}.{i}": value for i, value in enumerate(birth_context.row(address))}
    for name, (count, remember) in sorted(step_context.remembers.items()):
        carried |= {f"{name}.{i}": value for i, value in enumerate(birth_context.previous(name, count, remember))}
    for name, (count, compute) in sorted(step_context.keeps.items()):
        for i, value in enumerate(compute(birth_context)[:count]):
            if f"kept.{name}.{i}" in step.inputs:
                carried[f"kept.{name}.{i}"] = value
    birth = birth_context.builder.finish(outputs | carried)

    look_context = FrameContext(scope, rows, Builder(slots), remembering=remembering)
    shown = [value for name in ("size", "opacity", "colour", "stretch") for value in look_context.row(f"look.{name}")]
    drawn = dict(zip(LOOK_OUTPUTS, shown, strict=True))
    if emitter.thinning is not None:
        drawn["shown"] = look_context.thinned()
    look = look_context.builder.finish(drawn)
    begins = None
    if emitter.births.when == "each" and emitter.births.place.kind != "particles":
        begins_context = BirthContext(scope, rows, Builder(slots))
        begins = begins_context.builder.finish({"begins": begins_context.row("births.begins")[0]})
    return Structure(slots, rate, begins, birth, step, look, _probe(scope, rows, slots, remembering), tuple(carried))


def _filled(view: EffectView, emitter: Emitter, rows: Rows, made: Structure, looked_at: dict[str, str]) -> EmitterPlan:
    """Return the plan of an emitter: its structure, with the emitter's own values. looked_at: what hashes parents' frames and look."""
    effect, values = view.effect, made.slots.values(view)
    timing = timing_of(effect, emitter, rows)
    clip, place = effect.clip, emitter.births.place
    parent = place.emitter if place.kind == "particles" else None
    programs = [made.rate, made.birth, made.step, *([made.begins] if made.begins else [])]
    simulated = digest(values, programs, also=(timing, clip.frame_rate, clip.substeps, clip.run_up, looked_at.get(parent or "", "")))
    looked = digest(values, [made.look], also=(simulated, emitter.look.blend))
    return EmitterPlan(
        emitter.uid, rows, f"emitters.{effect.emitters.index(emitter)}", timing, values, made.rate, made.begins, made.birth, made.step, made.look,
        made.probe, made.carried, parent, emitter.look.blend == "add", not in_use(rows["look.stretch"]), simulated, looked,
    )  # fmt: skip


def _probe(scope: Scope, all_of_them: Rows, slots: SlotTable[EffectView], remembering: frozenset[str]) -> Probe:
    builder = Builder(slots)
    frame = FrameContext(scope, all_of_them, builder, remembering=remembering)
    ruler = EmitterContext(scope, all_of_them, builder)
    return _probe_of(scope, all_of_them, builder, {"emitter": ruler, "birth": frame.birth, "live": frame}, frame)


def _probe_of(scope: Scope, all_of_them: Rows, builder: Builder, contexts: dict[str, Context], frame: FrameContext | None) -> Probe:
    emitter = scope.emitter
    outputs: dict[str, int] = {}
    rows: dict[str, tuple[str, ...]] = {}
    responses = []
    for placed in all_of_them.values():
        context = contexts[placed.spec.stage]
        if placed.depth == 0 or placed.row.responses or isinstance(placed.row.base, SourcedBase):
            names = tuple(f"row.{placed.address}.{i}" for i in range(placed.spec.components))
            outputs |= dict(zip(names, context.row(placed.address), strict=True))
            rows[placed.address] = names
        for response in placed.row.responses:
            try:
                (source,) = context.read(response.uid, response.source, response.read)
                result = context.answer(response)[0] if response.kind != "gradient" else None
            except CircleProblem:
                if act(emitter, placed, response):
                    raise
                continue  # a muted response may stand in a circle; then there is nothing to show behind its curve
            outputs[f"source.{response.uid}"] = source
            if result is not None:
                outputs[f"result.{response.uid}"] = result
            responses.append(response.uid)
    for draw in emitter.draws:
        assert frame is not None
        outputs[f"draw.{draw.uid}"] = frame.draw(draw.uid)
    own = {}
    for attribute in emitter.own:
        names = tuple(f"own.{attribute.uid}.{i}" for i in range(1 if attribute.kind == "number" else 3))
        assert frame is not None
        outputs |= dict(zip(names, frame.own(attribute.uid), strict=True))
        own[attribute.uid] = names
    draws = tuple(draw.uid for draw in emitter.draws)
    formulas: dict[str, dict[str, tuple[str, ...]]] = {}
    for placed in all_of_them.values():
        for source, read in _formulas(emitter, placed):
            context = contexts["birth" if read == "once" else placed.spec.stage]
            writer = Writer(context, scope.formula(source.text), source.uid)
            formulas[source.uid] = {}
            for name, values_of in [("", writer.result()), *writer.steps()]:
                names = tuple(f"formula.{source.uid}.{name}.{i}" for i in range(len(values_of)))
                outputs |= dict(zip(names, values_of, strict=True))
                formulas[source.uid][name] = names
    return Probe(builder.finish(outputs), rows, tuple(responses), draws, own, formulas)


def _formulas(emitter: Emitter, placed: PlacedRow) -> Iterator[tuple[Any, str]]:
    """Yield the formulas that act on a row, each with how it is read."""
    if isinstance(placed.row.base, SourcedBase) and placed.row.base.source.kind == "formula":
        yield placed.row.base.source, placed.row.base.read
    for response in placed.row.responses:
        if response.source.kind == "formula" and act(emitter, placed, response):
            yield response.source, response.read
