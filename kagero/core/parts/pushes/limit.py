"""A limit of speed."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.step import Phase, Pushes, StepState
from ...rows.units import METRES_PER_SECOND, PER_SECOND
from .base import PushPart

HARD = 1000.0  # the rate, 1/s, from which on a limit is kept exactly


class SpeedLimit(PushPart):
    """Nobody faster, or slower, than so much; softly, or at once. It acts on what all pushes made of the speed, in the
    order of the sheet."""

    label = "Speed limit"

    kind: Literal["limit"] = "limit"
    side: Annotated[
        Literal["above", "below"],
        Setting(
            "Keeps",
            "Which side of the limit is kept out.",
            choices=(("above", "no faster than"), ("below", "no slower than")),
        ),
    ] = "above"
    limit: Annotated[
        NumberRow, Driven("Speed limit", METRES_PER_SECOND, 0, 100_000, 4, 2.0, "The speed that it keeps to.")
    ]
    rate: Annotated[
        NumberRow,
        Driven(
            "Limit firmness",
            PER_SECOND,
            0,
            1000,
            20,
            1000.0,
            "How quickly what is beyond goes; at 1000 /s at once, at 1 /s it loses 63 % a second.",
        ),
    ] = number(1000)

    def strength_row(self) -> str:
        return "rate"

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "integrate" or self.muted:
            return
        b = at.builder
        b.row = f"forces.{self.uid}"
        (limit,), (rate,), (share,) = (self.row(at, name) for name in ("limit", "rate", "share"))
        speed = b.op("length", *state.velocity)
        keep = b.op("select", b.op("less", rate, b.const(HARD)), b.op("decay", rate, state.dt), b.const(0))
        beyond = b.op("sub", speed, limit)
        beyond = b.op("max" if self.side == "above" else "min", beyond, b.const(0))
        lost = b.op("mul", b.op("mul", beyond, b.op("sub", b.const(1), keep)), share)
        some = b.op("select", speed, speed, b.const(1))
        factor = b.op("div", b.op("sub", speed, lost), some)
        state.velocity = tuple(b.op("guard", b.op("mul", v, factor), v) for v in state.velocity)

    def act(self, at: Reader, pushes: Pushes) -> None:
        """A limit pushes nobody: it takes away what pushes made too much."""
