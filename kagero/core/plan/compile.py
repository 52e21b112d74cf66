"""Compile an effect: for each emitter rate, birth, step, look and probe programs, and their content hashes."""

from __future__ import annotations

from dataclasses import dataclass

from ..catalog import Links, Scope, out_of_range, require_valid
from ..document import Effect, Emitter, Loop, Retiming, loop_of, owner_of
from ..kernels.contact_columns import TOUCHES
from ..memory import PROCESS
from ..parts.contacts.others import rounds_of
from ..parts.cues.whole import gates, watches
from ..parts.looks import LookPart, StrandLook
from ..program import Builder, Program, ProgramValues, SlotTable, digest
from ..rows.model import parts_in
from ..rows.slots import OfProp
from .birth import BirthContext
from .contexts import AXES, ByClipContext, EmitterContext
from .keys import structure_key, validity_key
from .living_contexts import FrameContext, StepContext
from .loop_window import Window
from .plans import ByClipPlan, EmitterPlan, LookPlan, Plan
from .probe import Probe, PushProbe, probe_by_clip, probe_emitter, probe_pushes
from .retimed import TimeMap
from .step import write_step
from .thinning import is_shown
from .timing import timing_of
from .view import EffectView


def compile_effect(effect: Effect) -> Plan:
    """Validate and compile an effect, which is not changed. Raises EffectError (its findings name places) or
    CircleProblem.

    Programs of equal structure are compiled once; where only values differ, only the values are read again.
    """
    clip = effect.clip
    scopes = {scope.owner: scope for scope in (Scope(thing, effect) for thing in effect.holders())}
    valid = validity_key(effect)
    if valid not in _valid_effects or any(
        out_of_range(placed) for scope in scopes.values() for placed in scope.rows.values()
    ):
        require_valid(effect)
        _valid_effects.put(valid, True)
    view = EffectView(effect, scopes)
    emitters: dict[str, EmitterPlan] = {}
    for i in _parents_first(effect):
        scope = scopes["emitter", effect.emitters[i].uid]
        structure = _structure(effect, scope)
        emitters[scope.thing.uid] = bind_values(view, scope, f"emitters.{i}", structure, emitters)
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
    """The part of an emitter's plan that does not depend on values. slots: the document values that its programs
    read."""

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
    """Return about how many bytes a structure takes in the cache."""
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


_structures = PROCESS.region("plans", 0.5, estimate_bytes)


def _structure(effect: Effect, scope: Scope) -> Structure:
    key = structure_key(effect, scope.thing)
    known: Structure | None = _structures.get(key)
    if known is None:
        known = _structures.put(key, _compile(scope) if scope.owner[0] == "emitter" else _compile_by_clip(scope))
    return known


def _compile_by_clip(scope: Scope) -> Structure:
    """Return the structure of a thing whose rows depend on the clip alone; its rows take the place of an emitter's
    rate."""
    slots: SlotTable[EffectView] = SlotTable()
    context = ByClipContext(scope, Builder(slots))
    outputs = {
        f"{placed.address.removeprefix('place.')}.{i}": value
        for placed in scope.sheet_rows()
        for i, value in enumerate(context.row(placed.address))
    }
    place, nothing = context.builder.finish(outputs), Builder().finish({})
    return Structure(slots, place, None, nothing, nothing, (), probe_by_clip(scope, slots), PushProbe(nothing, ()), ())


_valid_effects = PROCESS.region("valid", 0.01)


def _parents_first(effect: Effect) -> list[int]:
    """Return the emitters' indices in an order in which each follows its parent and the emitters whose cues it
    counts."""
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
    """Return the rate of an emitter; a rate per metre is multiplied by the prop's speed."""
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
    """Return the program that gives the displacement of a particle of a stored frame; each shaping starts from the
    result of those before."""
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
    """Return the program that gives the values that cues of the whole emitter compare with, by uid; None where no
    births depend on them."""
    at, named = EmitterContext(scope, Builder(slots)), {gate.uid for gate in gates(scope.thing)}
    if not named:
        return None
    return at.builder.finish({cue.uid: cue.row(at, cue.compares())[0] for cue in scope.thing.cues if cue.uid in named})


def looks_of(emitter: Emitter) -> list[tuple[str, LookPart]]:
    """Return the looks of an emitter, the first one first, each with the prefix of its rows' addresses."""
    return [("look", emitter.look), *((f"also.{look.uid}", look) for look in emitter.also)]


def _compile_look(look: LookPart, address: str, at: FrameContext) -> Program:
    """Return the program that gives a look's columns, by column and component, and the values from which its lines are
    built."""
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
        outputs["shown"] = is_shown(at)
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
    """Return a retiming's curve within the clip; None without a retiming."""
    clip = effect.clip
    if retiming is None or retiming.muted:
        return None
    return TimeMap.of(retiming.keys, clip.seconds(clip.first_frame - clip.run_up), clip.seconds(clip.last_frame))


def _window(effect: Effect, loop: Loop | None) -> Window | None:
    """Return a loop's frames; None without a loop."""
    return None if loop is None or loop.muted else Window.of(loop, effect.clip)


def bind_values(
    view: EffectView, scope: Scope, place: str, compiled: Structure, others: dict[str, EmitterPlan]
) -> EmitterPlan:
    """Return the plan of an emitter: its structure with its own values. others: plans of possible parents."""
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
    """Return the uids of the cues that can happen in a step."""
    return tuple(name.split(".")[1] for name in step.outputs if name.startswith("fired."))
