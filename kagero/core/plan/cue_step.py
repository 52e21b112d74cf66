"""Cues in a step's program: evaluated in order at the step's end, each on the particle as the step and earlier cues
left it."""

from __future__ import annotations

from typing import Any

from ..parts.cues.base import CuePart
from ..program import Builder
from ..rows.contact_state import TOUCH
from ..rows.responses import differs_from_default
from ..rows.step import StepState
from .contexts import AXES
from .living_contexts import StepContext


class _After:
    """A builder whose inputs are replaced by the step's results."""

    def __init__(self, builder: Builder, values: dict[str, int]):
        self._builder, self._values = builder, values
        self.written: dict[Any, int] = {}

    def input(self, name: str) -> int:
        return self._values[name] if name in self._values else self._builder.input(name)

    @property
    def row(self) -> str:
        return self._builder.row

    @row.setter
    def row(self, value: str) -> None:
        self._builder.row = value

    def __getattr__(self, name: str) -> Any:
        return getattr(self._builder, name)


class _AfterContext(StepContext):
    """A particle at the end of a step; what is kept of its birth and of the previous step stays as in the step."""

    def __init__(self, at: StepContext, state: StepState, inputs: dict[str, int]):
        """inputs: values that replace the step's results."""
        outputs = state.kept | state.passing
        for name, values in (("position", state.position), ("velocity", state.velocity)):
            outputs |= {f"{name}.{axis}": value for axis, value in zip(AXES, values, strict=True)}
        outputs |= {"rotation": state.rotation, **inputs}
        super().__init__(at.view, _After(at.builder, outputs))  # type: ignore[arg-type]
        self.keeps, self.remembers = at.keeps, at.remembers

        self._before = at.builder

    def before(self, name: str) -> int:
        """Return an input's value at the step's start."""
        return self._before.input(name)


def write_cues(at: StepContext, state: StepState) -> None:
    """Evaluate the cues of an emitter; which ones happened is among the step's outputs. Where every touch of the step
    is known, cues by a touch are evaluated touch by touch before the others; none happens after one that ended or
    stopped the particle."""
    cues = [cue for cue in at.thing.cues if not cue.muted]
    if not state.touches:
        for cue in cues:
            state.kept |= cue.turn(_AfterContext(at, state, {}), state)
        return
    b, before = at.builder, at.builder.input(TOUCH["count"])
    goes_on = b.const(1)
    touches = [(b.const(0), {}), *state.touches]  # at first none: what waited may happen before
    for k, (fresh, remembered) in enumerate(touches):
        count = b.op("add", before, b.op("mul", b.op("mul", fresh, goes_on), b.const(max(k, 1))))
        for cue in cues:
            if cue.momentary:
                _cue_at_touch(cue, at, state, remembered | {TOUCH["count"]: count})
        for cue in cues:
            if cue.momentary and (cue.ends or cue.stops()):
                goes_on = b.op("mul", goes_on, b.op("sub", b.const(1), state.fired[cue.uid][-1]))
    for cue in cues:
        if not cue.momentary:
            state.kept |= cue.turn(_AfterContext(at, state, {}), state)


def _cue_at_touch(cue: CuePart, at: StepContext, state: StepState, inputs: dict[str, int]) -> None:
    """Evaluate a cue at one touch of a step. Whether its condition holds, and since when, is taken from the step as a
    whole."""
    b, whole = at.builder, [f"cue.{cue.uid}.{name}" for name in ("was", "since")]
    kept = cue.turn(_AfterContext(at, state, inputs | {name: b.input(name) for name in whole}), state)
    if len(state.fired[cue.uid]) > 1:
        kept |= {name: b.op("max", kept[name], state.kept[name]) for name in whole}
    state.kept |= kept


def needs_each_touch(at: StepContext, state: StepState) -> int | None:
    """Return whether a step must be computed touch by touch: it had several touches, or a touch while a cue by a touch
    was waiting. None: never."""
    cues = [cue for cue in at.thing.cues if cue.momentary and not cue.muted]
    if state.touched is None or not cues:
        return None
    b = at.builder
    often = b.op("less", b.const(1.5), state.touched)
    for cue in cues:
        if differs_from_default(cue.delay, 0.0):
            waited = b.op("less", b.const(0), b.input(f"cue.{cue.uid}.due"))
            often = b.op("max", often, b.op("mul", waited, b.op("less", b.const(0.5), state.touched)))
    return often
