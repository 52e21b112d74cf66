"""Compile an effect: per emitter a rate, a birth, a step, a look and a probe program, and their content hashes."""

from __future__ import annotations

from dataclasses import dataclass

from ..catalog import require_valid, rows_of
from ..effect import Burst, Effect, Emitter
from ..errors import CircleProblem
from .contexts import AXES, BirthContext, Context, EmitterContext, FrameContext, StepContext
from .program import Builder, Program
from .values import PlanValues

LOOK_OUTPUTS = ("size", "opacity", "colour.0", "colour.1", "colour.2")


@dataclass(frozen=True)
class Timing:
    """What decides when births happen besides the rate; seconds of clip time."""

    start: float
    end: float
    constant_rate: float | None
    bursts: tuple[tuple[str, float, int], ...]


@dataclass(frozen=True)
class Probe:
    """A program over a stored frame that gives every row's value and every response's source and result."""

    program: Program
    rows: dict[str, tuple[str, ...]]
    responses: tuple[str, ...]


@dataclass(frozen=True)
class EmitterPlan:
    """One emitter, compiled. `simulated` and `looked` are content hashes of what stored and shown frames depend on."""

    uid: str
    place: str  # in the document, for errors
    timing: Timing
    values: PlanValues
    rate: Program
    birth: Program
    step: Program
    look: Program
    probe: Probe
    kept: tuple[str, ...]
    add: bool
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
    rate_context = EmitterContext(effect, emitter, Builder(), values)
    (rate_value,) = rate_context.row("births.rate")
    rate = rate_context.builder.finish({"rate": rate_value})

    step_context = StepContext(effect, emitter, Builder(), values)
    step = step_context.builder.finish(step_context.motion())

    birth_context = BirthContext(effect, emitter, Builder(), values)
    (lifespan,) = birth_context.row("births.lifespan")
    outputs = {"lifespan": lifespan}
    outputs |= {f"position.{axis}": value for axis, value in zip(AXES, birth_context.position(), strict=True)}
    outputs |= {f"velocity.{axis}": value for axis, value in zip(AXES, birth_context.velocity(), strict=True)}
    outputs |= {f"kept.{uid}": birth_context.kept(response) for uid, response in step_context.keeps.items()}
    birth = birth_context.builder.finish(outputs)

    look_context = FrameContext(effect, emitter, Builder(), values)
    shown = look_context.row("look.size") + look_context.row("look.opacity") + look_context.row("look.colour")
    look = look_context.builder.finish(dict(zip(LOOK_OUTPUTS, shown, strict=True)))

    timing = _timing(effect, emitter)
    clip = effect.clip
    simulated = values.digest(rate, birth, step, also=(timing, clip.frame_rate, clip.substeps))
    looked = values.digest(look, also=(simulated, emitter.look.blend))
    probe = _probe(effect, emitter, values)
    return EmitterPlan(
        emitter.uid, f"emitters.{effect.emitters.index(emitter)}", timing, values, rate, birth, step, look, probe, tuple(sorted(step_context.keeps)),
        emitter.look.blend == "add", simulated, looked,
    )  # fmt: skip


def _timing(effect: Effect, emitter: Emitter) -> Timing:
    births, clip = emitter.births, effect.clip
    end = float("inf") if births.duration is None else births.start + births.duration
    constant = births.rate.base if all(response.muted for response in births.rate.responses) else None
    bursts = tuple((burst.uid, clip.seconds(burst.frame), burst.count) for burst in births.bursts if _plays(burst, effect))
    return Timing(births.start, end, constant, bursts)


def _plays(burst: Burst, effect: Effect) -> bool:
    return burst.count > 0 and burst.frame >= effect.clip.first_frame


def _probe(effect: Effect, emitter: Emitter, values: PlanValues) -> Probe:
    builder = Builder()
    frame = FrameContext(effect, emitter, builder, values)
    ruler = EmitterContext(effect, emitter, builder, values)
    contexts: dict[str, Context] = {"emitter": ruler, "birth": frame.birth, "live": frame}
    outputs: dict[str, int] = {}
    rows: dict[str, tuple[str, ...]] = {}
    responses = []
    for placed in rows_of(emitter):
        context = contexts[placed.spec.stage]
        names = tuple(f"row.{placed.address}.{i}" for i in range(placed.spec.components))
        outputs |= dict(zip(names, context.row(placed.address), strict=True))
        rows[placed.address] = names
        for response in placed.row.responses:
            try:
                source = context.kept(response) if response.read == "once" else context.source(response.source)
            except CircleProblem:
                if not response.muted:
                    raise
                continue  # a muted response may stand in a circle; then there is nothing to show behind its curve
            outputs[f"source.{response.uid}"] = source
            if response.kind == "curve":
                outputs[f"result.{response.uid}"] = context.answer(response)[0]
            responses.append(response.uid)
    return Probe(builder.finish(outputs), rows, tuple(responses))
