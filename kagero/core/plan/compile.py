"""Compile an effect: per emitter a rate, a birth, a step, a look and a probe program, and their content hashes."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from ..catalog import Links, PlacedRow, Scope, act, all_rows, in_use, out_of_range, require_valid
from ..effect import Burst, Effect, Emitter, PropBase, SourcedBase
from ..errors import CircleProblem
from .contexts import AXES, BirthContext, Context, EmitterContext, PropContext, Rows, choice_table, response_table
from .formulas import Writer
from .living import FrameContext, StepContext
from .program import Builder, Program
from .values import PlanValues

LOOK_OUTPUTS = ("size", "opacity", "colour.0", "colour.1", "colour.2", "stretch")


@dataclass(frozen=True)
class Timing:
    """What decides when births happen besides the rate; seconds of clip time."""

    start: float
    end: float
    constant_rate: float | None
    bursts: tuple[tuple[str, float, int], ...]


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

    carried: the names of what the state holds besides key, age, lifespan, position and velocity. round: every particle
    is drawn as a disc.
    """

    uid: str
    rows: Rows
    place: str  # in the document, for errors
    timing: Timing
    values: PlanValues
    rate: Program
    birth: Program
    step: Program
    look: Program
    probe: Probe
    carried: tuple[str, ...]
    add: bool
    round: bool
    simulated: str
    looked: str


@dataclass(frozen=True)
class PropPlan:
    """One prop's own place as time goes: outputs position, rotation (radians) and scale by component, and a camera's field of view."""

    uid: str
    rows: Rows
    values: PlanValues
    place: Program
    probe: Probe


@dataclass(frozen=True)
class Plan:
    frame_rate: float
    first_frame: int
    last_frame: int
    substeps: int
    emitters: tuple[EmitterPlan, ...]
    props: tuple[PropPlan, ...] = ()

    def seconds(self, frame: int) -> float:
        return (frame - self.first_frame) / self.frame_rate


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
    emitters = []
    for emitter, scope, key, each in zip(effect.emitters, scopes, keys, rows, strict=True):
        structure = _known.get(key)
        if structure is None:
            structure = _remember(key, _compile(scope, each))
        emitters.append(_filled(effect, emitter, each, structure))
    props = []
    for scope, key, each in zip(prop_scopes, prop_keys, prop_rows, strict=True):
        structure = _known.get(key)
        if structure is None:
            structure = _remember(key, _compile_prop(scope, each))
        props.append(PropPlan(scope.emitter.uid, each, structure.values.anew(_giver(effect, each)), structure.rate, structure.probe))
    return Plan(clip.frame_rate, clip.first_frame, clip.last_frame, clip.substeps, tuple(emitters), tuple(props))


def _remember(key: str, structure: Structure) -> Structure:
    with _lock:
        _known[key] = structure
        while len(_known) > KEPT:
            del _known[next(iter(_known))]
    return structure


def _compile_prop(scope: Scope, rows: Rows) -> Structure:
    """Return a prop's structure: its place stands where an emitter has its rate."""
    values = PlanValues()
    context = PropContext(scope, rows, Builder(), values)
    outputs = {f"{address.removeprefix('place.')}.{i}": value for address, placed in rows.items() if placed.depth == 0
               for i, value in enumerate(context.row(address))}  # fmt: skip
    place, nothing = context.builder.finish(outputs), Builder().finish({})
    probed = PropContext(scope, rows, Builder(), values)
    return Structure(values, place, nothing, nothing, nothing, _probe_of(scope, rows, probed.builder, {"emitter": probed}, None), ())


@dataclass(frozen=True)
class Structure:
    """What an emitter's plan is, whatever its numbers are. values: those of the effect it was first compiled from."""

    values: PlanValues
    rate: Program
    birth: Program
    step: Program
    look: Program
    probe: Probe
    carried: tuple[str, ...]


KEPT = 256
_known: dict[str, Structure] = {}
_lock = threading.Lock()
# numbers of these names are part of the operations; all others are values
_STRUCTURAL = ("octaves", "axis")


def structure_key(effect: Effect, emitter: Any) -> str:
    """Return a text equal for emitters whose plans differ in values alone. Names count where formulas read by them."""
    clip = effect.clip
    body = _masked(emitter.model_dump(exclude={"name", "visible", "sheet"}))
    text = repr(body)
    named = "'kind': 'formula'" in text
    names = [(thing.uid, thing.name) for thing in (*effect.dials, *emitter.draws, *emitter.own, *effect.props)] if named else ()
    if isinstance(emitter, PropBase):  # whether what it follows is there
        body = (body, [(prop.uid, repr(prop.follow), prop.kind) for prop in effect.props])
    if effect.props and (named or "'kind': 'prop'" in text):  # what it reads of props is part of its programs
        body = (body, [_masked(prop.model_dump(exclude={"tint", "shown"})) for prop in effect.props])
    return repr((clip.frame_rate, clip.first_frame, clip.substeps, clip.seed, [dial.uid for dial in effect.dials], names, body))


def _masked(data: Any, keep: bool = False) -> Any:
    if isinstance(data, dict):
        return {key: _masked(value, key in _STRUCTURAL) for key, value in data.items() if key not in ("name", "draft")}
    if isinstance(data, (list, tuple)):
        return [_masked(value, keep) for value in data]
    return 0 if isinstance(data, (int, float)) and not isinstance(data, bool) and not keep else data


def _compile(scope: Scope, rows: Rows) -> Structure:
    emitter, values = scope.emitter, PlanValues()
    remembering = Links(scope).remembering()
    rate_context = EmitterContext(scope, rows, Builder(), values)
    (rate_value,) = rate_context.row("births.rate")
    rate = rate_context.builder.finish({"rate": rate_value})

    step_context = StepContext(scope, rows, Builder(), values)
    moved = step_context.motion()
    remembered = step_context.remembered(remembering)
    step = step_context.builder.finish(moved | remembered)

    birth_context = BirthContext(scope, rows, Builder(), values)
    (lifespan,) = birth_context.row("births.lifespan")
    outputs = {"lifespan": lifespan}
    outputs |= {f"position.{axis}": value for axis, value in zip(AXES, birth_context.place()[:3], strict=True)}
    outputs |= {f"velocity.{axis}": value for axis, value in zip(AXES, birth_context.velocity(), strict=True)}
    carried = {"rotation": birth_context.row("births.rotation")[0]}
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

    look_context = FrameContext(scope, rows, Builder(), values, remembering=remembering)
    shown = [value for name in ("size", "opacity", "colour", "stretch") for value in look_context.row(f"look.{name}")]
    look = look_context.builder.finish(dict(zip(LOOK_OUTPUTS, shown, strict=True)))
    return Structure(values, rate, birth, step, look, _probe(scope, rows, values, remembering), tuple(carried))


def _filled(effect: Effect, emitter: Emitter, rows: Rows, made: Structure) -> EmitterPlan:
    """Return the plan of an emitter: its structure, with the emitter's own values."""
    values = made.values.anew(_giver(effect, rows, emitter))
    timing = _timing(effect, emitter, rows)
    clip = effect.clip
    simulated = values.digest(made.rate, made.birth, made.step, also=(timing, clip.frame_rate, clip.substeps))
    looked = values.digest(made.look, also=(simulated, emitter.look.blend))
    return EmitterPlan(
        emitter.uid, rows, f"emitters.{effect.emitters.index(emitter)}", timing, values, made.rate, made.birth, made.step, made.look,
        made.probe, made.carried, emitter.look.blend == "add", not in_use(rows["look.stretch"]), simulated, looked,
    )  # fmt: skip


def _giver(effect: Effect, rows: Rows, emitter: Emitter | None = None) -> Callable[[str, str], Any]:
    """Return what gives a plan's values by group and name, from the document as it is."""
    responses = {response.uid: response for placed in rows.values() for response in placed.row.responses}
    draws = {draw.uid: draw for draw in emitter.draws} if emitter is not None else {}
    dials = {dial.uid: dial.value for dial in effect.dials}
    others: dict[str, Callable[[str, str], Any]] = {}

    def give(group: str, name: str) -> Any:
        if name.startswith("prop ") and "|" in name:
            whose, _, name = name.partition("|")
            if whose not in others:
                prop = next(prop for prop in effect.props if prop.uid == whose[5:])
                others[whose] = _giver(effect, {placed.address: placed for placed in all_rows(Scope(prop, effect))})
            return others[whose](group, name)
        if group == "params" and name.startswith("literal "):
            return float(name[8:])
        if group == "params" and name.startswith("dial."):
            return dials[name[5:]]
        if group == "params":
            owner, kind, i = name.rsplit(".", 2)
            value: Any = responses[owner].input if kind == "input" else rows[owner].row.base  # type: ignore[union-attr]
            return float(value[int(i)] if isinstance(value, tuple) else value)
        if name.startswith("draw."):
            return choice_table(draws[name[5:]])
        return response_table(responses[name])

    return give


def _timing(effect: Effect, emitter: Emitter, rows: Rows) -> Timing:
    births, clip = emitter.births, effect.clip
    end = float("inf") if births.duration is None else births.start + births.duration
    driven = isinstance(births.rate.base, SourcedBase) or any(act(emitter, rows["births.rate"], response) for response in births.rate.responses)
    constant = None if driven else births.rate.base
    bursts = tuple((burst.uid, clip.seconds(burst.frame), burst.count) for burst in births.bursts if _plays(burst, effect))
    return Timing(births.start, end, constant, bursts)  # type: ignore[arg-type]


def _plays(burst: Burst, effect: Effect) -> bool:
    return burst.count > 0 and burst.frame >= effect.clip.first_frame


def _probe(scope: Scope, all_of_them: Rows, values: PlanValues, remembering: frozenset[str]) -> Probe:
    builder = Builder()
    frame = FrameContext(scope, all_of_them, builder, values, remembering=remembering)
    ruler = EmitterContext(scope, all_of_them, builder, values)
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
