"""A cue when the conditions of several others are true."""

from __future__ import annotations

from functools import reduce
from typing import Annotated, Any, Literal

from pydantic import Field

from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.step import StepState
from ...rows.units import SECONDS
from ...rows.view import find_thing
from .base import CuePart


class JoinedCue(CuePart):
    """When the conditions of all, or of any, of some cues are true in one step; those cues stand before it in the sheet
    and need do nothing themselves. Of touches: the touch is in this step."""

    label = "When several hold"
    help = (
        "When all of, or any of, the conditions of other cues are true at once: as many tests as are wanted. They need "
        "do nothing themselves."
    )

    kind: Literal["joined"] = "joined"
    how: Annotated[
        Literal["all", "any"],
        Setting("When", "All of them at once, or any of them.", choices=(("all", "all of"), ("any", "any of"))),
    ] = "all"
    of: Annotated[
        list[Uid],
        Refers("cues", "", "{name} goes by a cue that is not there.", "Choose others."),
        Setting("the cues", "Those it goes by."),
    ] = Field(default=[], max_length=8)
    held: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Held for", SECONDS, 0, 10_000, 2, 0.0, "For how long it has to stay true.", always=True),
    ] = number(0)

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        if field != "of":
            return super().named_by(field, effect, thing)
        before = (
            [cue.uid for cue in thing.cues].index(self.uid)
            if any(cue.uid == self.uid for cue in thing.cues)
            else len(thing.cues)
        )
        return list(thing.cues[:before])

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if thing.cues else "There is no other cue yet."

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("of", "goes by no cue yet", "Choose those it goes by.") if not self.of else None

    def _those(self, at: Reader) -> list[CuePart]:
        """Return the cues that it goes by: those of them that stand before it."""
        here = [cue.uid for cue in at.view.thing.cues]
        before = here[: here.index(self.uid)]
        those = [find_thing(at.view.thing.cues, uid) for uid in self.of if uid in before]
        return [cue for cue in those if cue is not None and not cue.muted]

    def true(self, at: Reader) -> int:
        b = at.builder
        hold = [cue.kept(at, "was") for cue in self._those(at)]
        if not hold:
            return b.const(0)
        return reduce(lambda one, other: b.op("mul" if self.how == "all" else "max", one, other), hold)

    def share(self, at: Reader, state: StepState) -> int | None:
        """All have been true since the last of them came to be, any since the first."""
        b, shares = at.builder, []
        for cue in self._those(at):
            lasts = cue.lasts(at)
            since = cue.kept(at, "since") if lasts is None else b.op("sub", cue.kept(at, "since"), lasts)
            part = b.op("clamp", b.op("div", since, b.op("max", state.dt, b.const(1e-30))))
            shares.append(b.op("mul", cue.kept(at, "was"), part))
        if not shares:
            return None
        return reduce(lambda one, other: b.op("min" if self.how == "all" else "max", one, other), shares)

    def lasts(self, at: Reader) -> int | None:
        return self.row(at, "held")[0] if differs_from_default(self.held, 0.0) else None
