"""Cues: looked at as a step ends, in order, each reading the particle as the step and the cues before it have left it."""

from __future__ import annotations

from typing import Any

from ..program import Builder
from ..rows.step import StepState
from .contexts import AXES
from .living import StepContext


class _After:
    """A builder whose inputs are what a step has made of them."""

    def __init__(self, builder: Builder, made: dict[str, int]):
        self._builder, self._made = builder, made
        self.written: dict[Any, int] = {}

    def input(self, name: str) -> int:
        return self._made[name] if name in self._made else self._builder.input(name)

    @property
    def row(self) -> str:
        return self._builder.row

    @row.setter
    def row(self, value: str) -> None:
        self._builder.row = value

    def __getattr__(self, name: str) -> Any:
        return getattr(self._builder, name)


class _AfterContext(StepContext):
    """A particle as a step ends: what is kept of its birth and of the step before is as in the step."""

    def __init__(self, at: StepContext, state: StepState):
        made = dict(state.kept)
        for name, values in (("position", state.position), ("velocity", state.velocity)):
            made |= {f"{name}.{axis}": value for axis, value in zip(AXES, values, strict=True)}
        made["rotation"] = state.rotation
        super().__init__(at.view, _After(at.builder, made))  # type: ignore[arg-type]
        self.keeps, self.remembers = at.keeps, at.remembers

        self._before = at.builder

    def before(self, name: str) -> int:
        """Return what an input was as the step began."""
        return self._before.input(name)


def turn(at: StepContext, state: StepState) -> None:
    """Let the cues of an emitter happen; which did is among what the step gives."""
    for cue in at.thing.cues:
        if not cue.muted:
            state.kept |= cue.turn(_AfterContext(at, state), state)
