"""Compile an effect: per emitter a rate, a birth, a step, a look and a probe program, and their content hashes."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from ..catalog import Links, Scope, out_of_range, require_valid
from ..document import Effect, Emitter, Loop, Retiming, loop_of, owner_of
from ..kernels.contacts import TOUCHES
from ..memory import PROCESS
from ..parts.contacts.others import rounds_of
from ..parts.cues.whole import Gate, gates, watches
from ..parts.looks import Column, LookPart, StrandLook
from ..program import Builder, Program, ProgramValues, SlotTable, digest
from ..rows.model import parts_in
from ..rows.placed import PlacedRow
from ..rows.slots import OfProp
from .birth import BirthContext
from .contexts import AXES, ByClipContext, EmitterContext
from .keys import structure_key, validity_key
from .living_contexts import FrameContext, StepContext
from .loop_window import Window
from .probe import Probe, PushProbe, probe_by_clip, probe_emitter, probe_pushes
from .retimed import TimeMap
from .step import write_step
from .thinning import thinned
from .timing import Timing, timing_of
from .view import EffectView

Rows = dict[str, PlacedRow]  # all rows of an emitter or prop by address


@dataclass(frozen=True)
class LookPlan:
    """One look of an emitter, compiled. address: what the addresses of its rows begin with; muted: it is not drawn.

    columns: what it gives of every particle; given: those whose values are not all at their defaults; drawing: what of the look is the
    same for all (`LookPart.drawn_by`); course: what lines are made from, with how many numbers each. looked: a content hash.
    """

    address: str
    muted: bool
    program: Program
    columns: tuple[Column, ...]
    given: frozenset[str]
    drawing: dict[str, Any]
    course: tuple[tuple[str, int], ...]
    looked: str


@dataclass(frozen=True)
class EmitterPlan:
    """One emitter, compiled. `simulated` and `looked` are content hashes of what stored and shown frames depend on, the latter of all looks.

    begins: gives when each birth happens, as a share of the duration, where that is not the rate's to say. carried: the names of
    what the state holds besides key, age, lifespan, position and velocity. parent: the emitter whose particles these are born from.
    cues: those that may happen, by their uids, in order; born_at: the cue of the parent's particles at which these are born. rounds: in how many
    particles that meet each other are put apart in a step. gates: its cues that stop births or let them begin, gate_values gives what each compares
    with, by its uid; watches: emitters and their cues that are counted. looks: the first is what particles are read by elsewhere: their size, opacity
    and colour. shaping: gives by how much a particle of a stored frame is moved, metres, by axis; None where nothing moves it; shaped: a content hash
    of that and of when they are shown, empty where all is as it was simulated; each_touch: the step of whoever touches more than once in it, None
    where no cue goes by touches; retimed: from shown to simulated time; loop: the frames that are shown again and again.
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
    looks: tuple[LookPlan, ...]
    probe: Probe
    pushes: PushProbe
    carried: tuple[str, ...]
    cues: tuple[str, ...]
    parent: str | None
    born_at: str | None
    rounds: int
    gates: tuple[Gate, ...]
    gate_values: Program | None
    watches: tuple[tuple[str, str], ...]
    simulated: str
    looked: str
    shaping: Program | None
    shaped: str
    retimed: TimeMap | None
    loop: Window | None
    each_touch: Program | None


@dataclass(frozen=True)
class ByClipPlan:
    """What is read by the clip alone, as time goes: outputs each of its rows by component, as `position.0`, in SI units."""

    uid: str
    rows: Rows
    values: ProgramValues
    place: Program
    probe: Probe


@dataclass(frozen=True)
class Plan:
    """An effect, compiled. frame_rate: frames a second, exactly; run_up: frames simulated before the first.
    preview: the share of births that come to be; picture: what is done to it, and its frame; retimed: from shown to the scene's time, of all that
    stands and flies; loop: the frames in which the scene goes round, where the whole effect does."""

    frame_rate: Fraction
    first_frame: int
    last_frame: int
    substeps: int
    emitters: tuple[EmitterPlan, ...]
    props: tuple[ByClipPlan, ...] = ()
    run_up: int = 0
    preview: float = 1.0
    picture: tuple[ByClipPlan, ...] = ()
    retimed: TimeMap | None = None
    loop: Window | None = None

    def seconds(self, frame: int, substep: int = 0) -> float:
        """Return the clip time of a frame, or of a step after it, in seconds: the float64 nearest to the exact fraction."""
        steps = (frame - self.first_frame) * self.substeps + substep
        return steps * self.frame_rate.denominator / (self.frame_rate.numerator * self.substeps)

    def moment(self, frame: int, after: float) -> float:
        """Return the clip time of a moment so much of a frame after a frame, seconds."""
        return self.seconds(frame) + after / float(self.frame_rate)

    def scene(self, frame: int, after: float = 0.0) -> float:
        """Return the time of the scene that is seen then: of props, cameras and lights; clip time where the whole effect is neither retimed nor in a
        loop."""
        time = self.moment(frame, after)
        if self.retimed is not None:
            time = (self.retimed if self.loop is None else self.retimed.endless())(time)[0]
        return time if self.loop is None else self.within(self.loop, time)[1]

    def within(self, loop: Window, time: float) -> tuple[int, float]:
        """Return which time round in a loop a time without end is, 0 in its window itself, and the clip time that it shows, seconds."""
        turn, frames = loop.round(self.first_frame + time * float(self.frame_rate))
        return turn, (time if turn == 0 else (frames - self.first_frame) / float(self.frame_rate))


def compile_effect(effect: Effect) -> Plan:
    """Validate and compile. Raises EffectError (its findings name places) or CircleProblem; the effect is not changed.

    Programs of equal structure are compiled once: where only values differ, these are read anew.
    """
    clip = effect.clip
    scopes = {scope.owner: scope for scope in (Scope(thing, effect) for thing in effect.holders())}
    valid = validity_key(effect)
    if valid not in _valid or any(out_of_range(placed) for scope in scopes.values() for placed in scope.rows.values()):
        require_valid(effect)
        _valid.put(valid, True)
    view = EffectView(effect, scopes)
    emitters: dict[str, EmitterPlan] = {}
    for i in _parents_first(effect):
        scope = scopes["emitter", effect.emitters[i].uid]
        structure = _structure(effect, scope)
        emitters[scope.thing.uid] = _filled(view, scope, f"emitters.{i}", structure, emitters)
    by_clip = []
    for thing in effect.by_clip():
        scope = scopes[owner_of(thing)]
        structure = _structure(effect, scope)
        by_clip.append(ByClipPlan(thing.uid, scope.rows, structure.slots.values(view), structure.rate, structure.probe))
    props = len(effect.props)
    return Plan(
        clip.rate,
        clip.first_frame,
        clip.last_frame,
        clip.substeps,
        tuple(emitters[emitter.uid] for emitter in effect.emitters),
        tuple(by_clip[:props]),
        clip.run_up,
        clip.preview,
        tuple(by_clip[props:]),
        _retimed(effect, effect.retiming),
        _window(effect, effect.loop),
    )


@dataclass(frozen=True)
class Structure:
    """What an emitter's plan is, whatever its numbers are. slots: which values of a document its programs read."""

    slots: SlotTable[EffectView]
    rate: Program
    begins: Program | None
    birth: Program
    step: Program
    looks: tuple[Program, ...]
    probe: Probe
    pushes: PushProbe
    carried: tuple[str, ...]
    gate_values: Program | None = None
    shaping: Program | None = None
    each_touch: Program | None = None


def estimate_bytes(structure: Structure) -> int:
    programs = (
        structure.rate,
        structure.begins,
        structure.birth,
        structure.step,
        *structure.looks,
        structure.probe.program,
        structure.pushes.program,
        structure.shaping,
        structure.each_touch,
    )
    return 4096 + 700 * sum(len(program.operations) for program in programs if program is not None)


_known = PROCESS.region("plans", 0.5, estimate_bytes)


def _structure(effect: Effect, scope: Scope) -> Structure:
    key = structure_key(effect, scope.thing)
    known: Structure | None = _known.get(key)
    if known is None:
        known = _known.put(key, _compile(scope) if scope.owner[0] == "emitter" else _compile_by_clip(scope))
    return known


def _compile_by_clip(scope: Scope) -> Structure:
    """Return the structure of what is read by the clip alone: its rows stand where an emitter has its rate."""
    slots: SlotTable[EffectView] = SlotTable()
    context = ByClipContext(scope, Builder(slots))
    outputs = {
        f"{placed.address.removeprefix('place.')}.{i}": value
        for placed in scope.sheet_rows()
        for i, value in enumerate(context.row(placed.address))
    }
    place, nothing = context.builder.finish(outputs), Builder().finish({})
    return Structure(slots, place, None, nothing, nothing, (), probe_by_clip(scope, slots), PushProbe(nothing, ()), ())


_valid = PROCESS.region("valid", 0.01)


def _parents_first(effect: Effect) -> list[int]:
    """Return the emitters' places in an order in which each comes after the one it is born from, and those whose cues it counts."""
    place = {emitter.uid: i for i, emitter in enumerate(effect.emitters)}
    done: list[int] = []

    def take(i: int) -> None:
        if i not in done:
            parent = effect.emitters[i].births.place.emitter_from()
            for other in (*([parent] if parent is not None else []), *(of for of, _ in watches(effect.emitters[i]))):
                take(place[other])
            done.append(i)

    for i in range(len(effect.emitters)):
        take(i)
    return done


def _rate(at: EmitterContext) -> int:
    """Return the rate of an emitter: by the metre, times how fast the prop goes."""
    (rate,) = at.row("births.rate")
    if at.thing.births.per != "metre":
        return rate
    b, prop = at.builder, at.thing.births.goes_by()
    if prop is None:
        return b.const(0)
    return b.op("mul", rate, b.op("length", *b.multi("prop_velocity", at.clip_time(), attrs=(OfProp(prop),))))


def _compile(scope: Scope) -> Structure:
    emitter, slots = scope.thing, SlotTable[EffectView]()
    links = Links(scope)
    remembering, latched = links.remembering(), links.latched()
    rate_context = EmitterContext(scope, Builder(slots))
    rate = rate_context.builder.finish({"rate": _rate(rate_context)})

    step_context = StepContext(scope, Builder(slots))
    step = step_context.builder.finish(write_step(step_context, latched, remembering))
    each_touch = None
    if "again" in step.outputs:
        touch_context = StepContext(scope, Builder(slots, longer=2 + TOUCHES))
        each_touch = touch_context.builder.finish(write_step(touch_context, latched, remembering, each_touch=True))

    birth_context = BirthContext(scope, Builder(slots))
    birth = birth_context.builder
    outputs = {"lifespan": birth_context.row("births.lifespan")[0]}
    for name, values in (("position", birth_context.state("position")), ("velocity", birth_context.state("velocity"))):
        outputs |= {f"{name}.{axis}": value for axis, value in zip(AXES, values, strict=True)}
    kept = birth_context.comes_to_be()
    if kept is not None:
        outputs["comes to be"] = kept
    carried = {"rotation": birth_context.row("births.rotation")[0], **emitter.births.place.remembered(birth_context)}
    for part in parts_in(emitter):
        carried |= part.carried(birth_context)
    for uid in latched:
        carried[f"latch.{uid}"] = birth_context.masked(uid, "value")
        carried[f"touched.{uid}"] = birth_context.clip_time()
    for own in emitter.own:
        if own.memory:
            carried |= {f"own.{own.uid}.{i}": value for i, value in enumerate(birth_context.own(own.uid))}
    for address in sorted(remembering):
        carried |= {f"row.{address}.{i}": value for i, value in enumerate(birth_context.row(address))}
    for name, (count, remember) in sorted(step_context.remembers.items()):
        carried |= {f"{name}.{i}": value for i, value in enumerate(birth_context.previous(name, count, remember))}
    for name, (count, compute) in sorted(step_context.keeps.items()):
        for i, value in enumerate(compute(birth_context)[:count]):
            if f"kept.{name}.{i}" in {**step.inputs, **(each_touch.inputs if each_touch else {})}:
                carried[f"kept.{name}.{i}"] = value

    looks = tuple(
        _compile_look(look, address, FrameContext(scope, Builder(slots), remembering))
        for address, look in looks_of(emitter)
    )
    begins = None
    if emitter.births.when == "each" and not emitter.births.place.parted:
        begins_context = BirthContext(scope, Builder(slots))
        begins = begins_context.builder.finish({"begins": begins_context.row("births.begins")[0]})
    return Structure(
        slots,
        rate,
        begins,
        birth.finish(outputs | carried),
        step,
        looks,
        probe_emitter(scope, slots, remembering),
        probe_pushes(scope, slots, remembering),
        tuple(carried),
        _gates(scope, slots),
        _compile_shaping(FrameContext(scope, Builder(slots), remembering)),
        each_touch,
    )


def _compile_shaping(at: FrameContext) -> Program | None:
    """Return the program that gives by how much a particle of a stored frame is moved: each shaping moves it from where those before have brought
    it."""
    b, place = at.builder, at.state("position")
    moved: tuple[int, ...] | None = None
    for shaping in at.view.shapings:
        if not shaping.muted:
            b.row = f"shaping.{shaping.uid}"
            by = shaping.moves(
                at, place if moved is None else tuple(b.op("add", p, m) for p, m in zip(place, moved, strict=True))
            )
            moved = (
                tuple(b.op("guard", m, b.const(0)) for m in by)
                if moved is None
                else tuple(b.op("guard", b.op("add", m, more), m) for m, more in zip(moved, by, strict=True))
            )
    return (
        None if moved is None else b.finish({f"moved.{axis}": value for axis, value in zip(AXES, moved, strict=True)})
    )


def _gates(scope: Scope, slots: SlotTable[EffectView]) -> Program | None:
    """Return the program that gives what cues of the whole emitter compare with, by their uids; None where births hang on none."""
    at, named = EmitterContext(scope, Builder(slots)), {gate.uid for gate in gates(scope.thing)}
    if not named:
        return None
    return at.builder.finish({cue.uid: cue.row(at, cue.compares())[0] for cue in scope.thing.cues if cue.uid in named})


def looks_of(emitter: Emitter) -> list[tuple[str, LookPart]]:
    """Return the looks of an emitter, its first one first, each with what the addresses of its rows begin with."""
    return [("look", emitter.look), *((f"also.{look.uid}", look) for look in emitter.also)]


def _compile_look(look: LookPart, address: str, at: FrameContext) -> Program:
    """Return the program that gives the values of a look's columns, by column and component, and what its lines are made from."""
    columns = look.write(at, address)
    outputs = {
        f"{column.name}.{i}": value
        for column in look.columns
        if column.name in look.given() and not column.state
        for i, value in enumerate(columns[column.name])
    }
    if isinstance(look, StrandLook):
        outputs |= {
            f"course.{name}.{i}": value
            for name, values in look.along_course(at, address).items()
            for i, value in enumerate(values)
        }
    if at.thing.light is not None and address == "look":
        outputs |= {f"lamp.{i}": value for i, value in enumerate(at.thing.light.write(at))}
    if at.thing.thinning is not None:
        outputs["shown"] = thinned(at)
    return at.builder.finish(outputs)


def _look_plan(look: LookPart, address: str, program: Program, values: ProgramValues, simulated: str) -> LookPlan:
    course: dict[str, int] = {}
    for name in program.outputs:
        if name.startswith("course."):
            course[name.split(".")[1]] = course.get(name.split(".")[1], 0) + 1
    plain = (
        look.model_dump_json() if look.strands or look.surfaces else ""
    )  # what its lines go through, what its surface is found by
    looked = digest(values, [program], also=(simulated, look.blend, tuple(look.drawn_by().items()), look.muted, plain))
    return LookPlan(
        address, look.muted, program, look.laid(), look.given(), look.drawn_by(), tuple(course.items()), looked
    )


def _retimed(effect: Effect, retiming: Retiming | None) -> TimeMap | None:
    """Return the curve of a retiming over what of the clip there is; None where nothing is retimed."""
    clip = effect.clip
    if retiming is None or retiming.muted:
        return None
    return TimeMap.of(retiming.keys, clip.seconds(clip.first_frame - clip.run_up), clip.seconds(clip.last_frame))


def _window(effect: Effect, loop: Loop | None) -> Window | None:
    """Return the frames of a loop; None where there is none."""
    return None if loop is None or loop.muted else Window.of(loop, effect.clip)


def _filled(
    view: EffectView, scope: Scope, place: str, compiled: Structure, others: dict[str, EmitterPlan]
) -> EmitterPlan:
    """Return the plan of an emitter: its structure, with its own values. others: the plans of those that it may be born from."""
    emitter, effect, values = scope.thing, view.effect, compiled.slots.values(view)
    timing, clip = timing_of(scope), effect.clip
    parent = emitter.births.place.emitter_from()
    programs = [
        compiled.rate,
        compiled.birth,
        compiled.step,
        *(each for each in (compiled.begins, compiled.gate_values, compiled.each_touch) if each),
    ]
    seen = others[parent].looked if parent is not None else ""
    simulated = digest(
        values,
        programs,
        also=(
            timing,
            clip.frame_rate,
            clip.substeps,
            clip.run_up,
            seen,
            emitter.births.place.cue_of(),
            rounds_of(emitter),
            tuple(others[of].simulated for of, _ in watches(emitter)),
            gates(emitter),
        ),
    )
    looks = tuple(
        _look_plan(look, address, program, values, simulated)
        for (address, look), program in zip(looks_of(emitter), compiled.looks, strict=True)
    )
    shaped = digest(values, [compiled.shaping]) if compiled.shaping is not None else ""
    retimed = _retimed(effect, emitter.retiming)
    loop = _window(effect, loop_of(effect, emitter))
    shaped += "".join(repr(each) for each in (_retimed(effect, effect.retiming), retimed, loop) if each is not None)
    looked = looks[0].looked if len(looks) == 1 else digest(values, [], also=tuple(look.looked for look in looks))
    return EmitterPlan(
        emitter.uid,
        scope.rows,
        place,
        timing,
        values,
        compiled.rate,
        compiled.begins,
        compiled.birth,
        compiled.step,
        looks,
        compiled.probe,
        compiled.pushes,
        compiled.carried,
        _cues(compiled.step),
        parent,
        emitter.births.place.cue_of(),
        rounds_of(emitter),
        gates(emitter),
        compiled.gate_values,
        watches(emitter),
        simulated,
        looked,
        compiled.shaping,
        shaped,
        retimed,
        loop,
        compiled.each_touch,
    )


def _cues(step: Program) -> tuple[str, ...]:
    """Return the cues that may happen in a step, by their uids."""
    return tuple(name.split(".")[1] for name in step.outputs if name.startswith("fired."))
