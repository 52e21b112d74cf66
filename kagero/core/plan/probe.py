"""Programs that give the value of every row, response, draw and formula, for the interface."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from ..catalog import Scope, is_active
from ..errors import CircleProblem
from ..formula import Writer
from ..program import Builder, Program, SlotTable
from ..rows.placed import PlacedRow
from ..rows.responses import SourcedBase
from ..rows.step import pushes_at
from .contexts import ByClipContext, Context, EmitterContext
from .living_contexts import FrameContext
from .view import EffectView


@dataclass(frozen=True)
class Probe:
    """A program over a stored frame that gives every row's value, every response's source and result, every draw and
    formula."""

    program: Program
    rows: dict[str, tuple[str, ...]]
    responses: tuple[str, ...]
    draws: tuple[str, ...]
    own: dict[str, tuple[str, ...]]
    formulas: dict[
        str, dict[str, tuple[str, ...]]
    ]  # of each formula by its uid: its named steps, and its result under ""


def probe_emitter(scope: Scope, slots: SlotTable[EffectView], remembering: frozenset[str]) -> Probe:
    """Return the probe of an emitter, over a stored frame."""
    builder = Builder(slots)
    frame = FrameContext(scope, builder, remembering)
    return _probe(
        scope, builder, {"emitter": EmitterContext(scope, builder), "birth": frame.birth, "live": frame}, frame
    )


@dataclass(frozen=True)
class PushProbe:
    """A program over a stored frame that gives each unmuted push's acceleration of a particle, by uid and axis,
    m/s²."""

    program: Program
    uids: tuple[str, ...]


def probe_pushes(scope: Scope, slots: SlotTable[EffectView], remembering: frozenset[str]) -> PushProbe:
    """Return the program that separates the pushes of an emitter."""
    frame = FrameContext(scope, Builder(slots), remembering)
    outputs: dict[str, int] = {}
    uids = tuple(push.uid for push in scope.thing.forces if not push.muted)
    for push in scope.thing.forces:
        if not push.muted:
            alone = pushes_at(frame)
            push.act(frame, alone)
            outputs |= {f"{push.uid}.{i}": value for i, value in enumerate(alone.now())}
    return PushProbe(frame.builder.finish(outputs), uids)


def probe_by_clip(scope: Scope, slots: SlotTable[EffectView]) -> Probe:
    """Return the probe of a thing whose rows depend on the clip alone, over clip times."""
    builder = Builder(slots)
    return _probe(scope, builder, {"emitter": ByClipContext(scope, builder)}, None)


def _probe(scope: Scope, builder: Builder, contexts: dict[str, Context], frame: FrameContext | None) -> Probe:
    thing = scope.thing
    outputs: dict[str, int] = {}
    rows: dict[str, tuple[str, ...]] = {}
    responses = []
    for placed in scope.rows.values():
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
                if is_active(thing, placed, response):
                    raise
                continue  # a muted response may stand in a circle; then there is nothing to show behind its curve
            outputs[f"source.{response.uid}"] = source
            if result is not None:
                outputs[f"result.{response.uid}"] = result
            responses.append(response.uid)
    own = {}
    if frame is not None:
        outputs |= {f"draw.{draw.uid}": frame.draw(draw.uid) for draw in thing.draws}
        for attribute in thing.own:
            names = tuple(f"own.{attribute.uid}.{i}" for i in range(1 if attribute.kind == "number" else 3))
            outputs |= dict(zip(names, frame.own(attribute.uid), strict=True))
            own[attribute.uid] = names
    draws = tuple(draw.uid for draw in thing.draws)
    formulas: dict[str, dict[str, tuple[str, ...]]] = {}
    for placed in scope.rows.values():
        for source, read in _formulas(thing, placed):
            context = contexts["birth" if read == "once" else placed.spec.stage]
            writer = Writer(context, scope.formula(source.text), source.uid)
            formulas[source.uid] = {}
            for name, values_of in [("", writer.result()), *writer.steps()]:
                names = tuple(f"formula.{source.uid}.{name}.{i}" for i in range(len(values_of)))
                outputs |= dict(zip(names, values_of, strict=True))
                formulas[source.uid][name] = names
    return Probe(builder.finish(outputs), rows, tuple(responses), draws, own, formulas)


def _formulas(thing: Any, placed: PlacedRow) -> Iterator[tuple[Any, str]]:
    """Yield the active formulas of a row, each with how it is read."""
    if isinstance(placed.row.base, SourcedBase) and placed.row.base.source.is_formula:
        yield placed.row.base.source, placed.row.base.read
    for response in placed.row.responses:
        if response.source.is_formula and is_active(thing, placed, response):
            yield response.source, response.read
