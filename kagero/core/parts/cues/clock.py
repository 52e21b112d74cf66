"""A cue so long after another."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...rows.example import Example
from ...rows.model import Driven, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.step import StepState
from ...rows.units import SECONDS
from ...rows.view import find_thing
from ...rows.writing import row
from .base import CuePart


class ClockCue(CuePart):
    """So long after another cue happened: a clock with a length of each particle's own."""

    label = "So long after a cue"
    help = "So long after another cue happened: a clock that each particle has, as long as its row says."
    example = Example(fields={"length": row(0.4)})

    kind: Literal["clock"] = "clock"
    after: Annotated[
        Uid | None,
        Refers("cues", "", "{name} starts a clock by a cue that is not there.", "Choose another."),
        Setting("After", "The cue that starts its clock.", nothing="choose one"),
    ] = None
    length: Annotated[
        NumberRow, Driven("Clock", SECONDS, 0, 10_000, 2, 1.0, "How long it runs; its share is a source.", always=True)
    ] = number(1)

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return (
            [cue for cue in thing.cues if cue.uid != self.uid]
            if field == "after"
            else super().named_by(field, effect, thing)
        )

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("after", "comes after no cue yet", "Choose one.") if self.after is None else None

    def runs(self, at: Reader) -> int:
        """Return how much of the clock has run, 0 to 1."""
        b, before = at.builder, find_thing(at.view.thing.cues, self.after or "")
        if before is None or before.muted or at.newborn:
            return b.const(0)
        ran = b.op(
            "div",
            b.op("sub", at.clip_time(), before.kept(at, "when")),
            b.op("max", self.row(at, "length")[0], b.const(1e-6)),
        )
        return b.op("mul", b.op("less", b.const(0), before.kept(at, "count")), b.op("clamp", ran))

    def true(self, at: Reader) -> int:
        return at.builder.op("less_equal", at.builder.const(1), self.runs(at))

    def ago(self, at: Reader, state: StepState, since: int, lasts: int | None) -> int:
        """It happens when its clock has run out, within the step."""
        b, before = at.builder, find_thing(at.view.thing.cues, self.after or "")
        if before is None or before.muted:
            return b.const(0)
        over = b.op("add", before.kept(at, "when"), b.op("max", self.row(at, "length")[0], b.const(1e-6)))
        return self._within(at, state, b.op("sub", at.clip_time(), over))
