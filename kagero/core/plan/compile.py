"""Compile an effect: per emitter a rate, a birth, a step, a look and a probe program, and their content hashes."""

from __future__ import annotations

from dataclasses import dataclass

from ..catalog import act, all_rows, in_use, require_valid
from ..effect import Burst, Effect, Emitter, SourcedBase
from ..errors import CircleProblem
from .contexts import AXES, BirthContext, Context, EmitterContext, FrameContext, Rows, StepContext
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
    """A program over a stored frame that gives every row's value, every response's source and result, and every draw."""

    program: Program
    rows: dict[str, tuple[str, ...]]
    responses: tuple[str, ...]
    draws: tuple[str, ...]
    own: dict[str, tuple[str, ...]]


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
class Plan:
    frame_rate: float
    first_frame: int
    last_frame: int
    substeps: int
    emitters: tuple[EmitterPlan, ...]

    def seconds(self, frame: int) -> float:
        return (frame - self.first_frame) / self.frame_rate


def compile_effect(effect: Effect) -> Plan:
    """Validate and compile. Raises EffectError (its findings name places) or CircleProblem; the effect is not changed."""
    require_valid(effect)
    clip = effect.clip
    emitters = tuple(_emitter(effect, emitter) for emitter in effect.emitters)
    return Plan(clip.frame_rate, clip.first_frame, clip.last_frame, clip.substeps, emitters)


def _emitter(effect: Effect, emitter: Emitter) -> EmitterPlan:
    values = PlanValues()
    rows = {placed.address: placed for placed in all_rows(emitter)}
    rate_context = EmitterContext(effect, emitter, rows, Builder(), values)
    (rate_value,) = rate_context.row("births.rate")
    rate = rate_context.builder.finish({"rate": rate_value})

    step_context = StepContext(effect, emitter, rows, Builder(), values)
    step = step_context.builder.finish(step_context.motion())

    birth_context = BirthContext(effect, emitter, rows, Builder(), values)
    (lifespan,) = birth_context.row("births.lifespan")
    outputs = {"lifespan": lifespan}
    outputs |= {f"position.{axis}": value for axis, value in zip(AXES, birth_context.place()[:3], strict=True)}
    outputs |= {f"velocity.{axis}": value for axis, value in zip(AXES, birth_context.velocity(), strict=True)}
    carried = {"rotation": birth_context.row("births.rotation")[0]}
    for own in emitter.own:
        if own.memory:
            carried |= {f"own.{own.uid}.{i}": value for i, value in enumerate(birth_context.own(own.uid))}
    for name, (count, compute) in sorted(step_context.keeps.items()):
        for i, value in enumerate(compute(birth_context)[:count]):
            if f"kept.{name}.{i}" in step.inputs:
                carried[f"kept.{name}.{i}"] = value
    birth = birth_context.builder.finish(outputs | carried)

    look_context = FrameContext(effect, emitter, rows, Builder(), values)
    shown = [value for name in ("size", "opacity", "colour", "stretch") for value in look_context.row(f"look.{name}")]
    look = look_context.builder.finish(dict(zip(LOOK_OUTPUTS, shown, strict=True)))

    timing = _timing(effect, emitter, rows)
    clip = effect.clip
    simulated = values.digest(rate, birth, step, also=(timing, clip.frame_rate, clip.substeps))
    looked = values.digest(look, also=(simulated, emitter.look.blend))
    probe = _probe(effect, emitter, rows, values)
    is_round = not in_use(look_context.rows["look.stretch"])
    return EmitterPlan(
        emitter.uid, rows, f"emitters.{effect.emitters.index(emitter)}", timing, values, rate, birth, step, look, probe, tuple(carried),
        emitter.look.blend == "add", is_round, simulated, looked,
    )  # fmt: skip


def _timing(effect: Effect, emitter: Emitter, rows: Rows) -> Timing:
    births, clip = emitter.births, effect.clip
    end = float("inf") if births.duration is None else births.start + births.duration
    driven = isinstance(births.rate.base, SourcedBase) or any(act(emitter, rows["births.rate"], response) for response in births.rate.responses)
    constant = None if driven else births.rate.base
    bursts = tuple((burst.uid, clip.seconds(burst.frame), burst.count) for burst in births.bursts if _plays(burst, effect))
    return Timing(births.start, end, constant, bursts)  # type: ignore[arg-type]


def _plays(burst: Burst, effect: Effect) -> bool:
    return burst.count > 0 and burst.frame >= effect.clip.first_frame


def _probe(effect: Effect, emitter: Emitter, all_of_them: Rows, values: PlanValues) -> Probe:
    builder = Builder()
    frame = FrameContext(effect, emitter, all_of_them, builder, values)
    ruler = EmitterContext(effect, emitter, all_of_them, builder, values)
    contexts: dict[str, Context] = {"emitter": ruler, "birth": frame.birth, "live": frame}
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
        outputs[f"draw.{draw.uid}"] = frame.draw(draw.uid)
    own = {}
    for attribute in emitter.own:
        names = tuple(f"own.{attribute.uid}.{i}" for i in range(1 if attribute.kind == "number" else 3))
        outputs |= dict(zip(names, frame.own(attribute.uid), strict=True))
        own[attribute.uid] = names
    draws = tuple(draw.uid for draw in emitter.draws)
    return Probe(builder.finish(outputs), rows, tuple(responses), draws, own)
