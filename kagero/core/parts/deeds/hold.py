"""A cue releases the particle from what holds it, lets its rides take it up again, or stops it where it is."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.contact_state import STUCK, STUCK_NOW, TOUCH
from ...rows.model import Setting
from ...rows.reader import Reader
from ...rows.step import StepState
from .base import Deed, Happening

LET_GO = "let.go"  # whether a cue let the particle go
STAYS = "let.stay"  # whether a cue stopped it for good


class Hold(Deed):
    """It is released, taken up again, or stays."""

    on_request = ("holds",)

    holds: Annotated[
        Literal["as it is", "lets go", "takes up", "stays"],
        Setting(
            "It is held",
            "It lets go of what holds it, its place of contact too, for good; takes its rides up again; or stays "
            "where it is from then on: on what "
            "it touches, with which it goes along.",
            choices=(
                ("as it is", "as it is"),
                ("lets go", "no more"),
                ("takes up", "by its rides again"),
                ("stays", "where it is"),
            ),
        ),
    ] = "as it is"

    def deed_columns(self, at: Reader) -> dict[str, int]:
        if self.holds == "as it is":
            return {}
        none = at.builder.const(0)
        return {LET_GO: none} | ({STAYS: none} if self.stops() else {})

    def stops(self) -> bool:
        return self.holds == "stays"

    def velocity_after(self, at: Reader, velocity: Values) -> Values:
        return velocity if not self.stops() else (at.builder.const(0),) * 3

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        if self.holds == "as it is":
            return
        b, fires, none = at.builder, happening.fires, at.builder.const(0)
        free = b.const(float(self.holds == "lets go"))
        state.kept[LET_GO] = b.op("select", fires, free, state.kept.get(LET_GO, b.input(LET_GO)))
        sticky, on = STUCK[0] in state.kept, none
        if self.stops():  # on what it touches, else where it is
            if sticky:
                which = b.input(TOUCH["which"])
                on = b.op("mul", b.op("less", none, which), b.input(TOUCH["touching"]))
                now = b.op("select", on, b.op("add", which, b.const(STUCK_NOW)), none)
                state.kept[STUCK[0]] = b.op("select", fires, now, state.kept[STUCK[0]])
            state.position = tuple(
                b.op("select", fires, x, old) for x, old in zip(happening.place, state.position, strict=True)
            )
            state.velocity = tuple(b.op("select", fires, none, old) for old in state.velocity)
        elif self.holds == "lets go" and sticky:
            state.kept[STUCK[0]] = b.op("select", fires, none, state.kept[STUCK[0]])
        if STAYS in state.kept:
            stays = b.op("sub", b.const(1), on) if self.stops() else none
            state.kept[STAYS] = b.op("select", fires, stays, state.kept[STAYS])


def keep_stopped(at: Reader, state: StepState) -> None:
    """Keep particles that a cue stopped where they are, relative to what they move along with."""
    if not any(cue.stops() and not cue.muted for cue in at.view.thing.cues):
        return
    b, still = at.builder, at.builder.input(STAYS)
    state.kept[STAYS] = still
    state.position = tuple(
        b.op("select", still, before, x) for before, x in zip(state.before[0], state.position, strict=True)
    )
    state.velocity = tuple(b.op("select", still, b.const(0), v) for v in state.velocity)


def let_go(at: Reader) -> int | None:
    """Return whether a cue has released the particle from what holds it, 1 or 0; None where no cue does."""
    cues = at.view.thing.cues
    if not any(cue.holds != "as it is" and not cue.muted for cue in cues):
        return None
    return at.builder.const(0) if at.newborn else at.builder.input(LET_GO)
