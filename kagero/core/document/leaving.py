"""Particles end as they leave a region."""

from __future__ import annotations

from typing import Annotated, Any

from ..rows.example import Example, Suggestion
from ..rows.model import Part, Refers, Setting, Uid
from ..rows.reader import Reader
from ..rows.step import Phase, StepState
from ..rows.writing import row

WITHIN = "leaving.within"


class Leaving(Part):
    """A particle ends as it comes out of a mask that it has been in; one that never was in it lives on."""

    label = "On leaving a region"
    help = (
        "A particle ends as it comes out of a mask that it has been in: less than half of the mask holds it. Who never "
        "was in it lives on."
    )
    band, stage = "endings", "live"
    example = Example(fields={"mask": "near"}, fixtures={"ball": {}})

    mask: Annotated[
        Uid | None,
        Refers("props", "mask", "{name} is to be left, and is not there.", "Choose another mask, or none."),
        Setting("the region", "The mask that is left; a mask may move.", nothing="choose one"),
    ] = None

    @classmethod
    def rows_key(cls) -> str:
        return "leaving"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        ball, box = ({"kind": "mask", "shape": shape, "position": row([0.0, 0.8, 0.0])} for shape in ("sphere", "box"))
        return (
            Suggestion("end on leaving a ball", props={"mask": ball}),
            Suggestion("end on leaving a box", props={"mask": box}),
        )

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.mask for prop in effect.props) else "There is no mask yet: add one among the props."

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("mask", "leaves no region yet", "Choose a mask.") if self.mask is None else None

    def carried(self, at: Any) -> dict[str, int]:
        return {} if self.mask is None else {WITHIN: self._within(at, at.state("position"))}

    def _within(self, at: Any, place: Any) -> int:
        b = at.builder
        return b.op("less_equal", b.const(0.5), at.mask_value(self.mask, place, at.clip_time()))

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "turn" or self.mask is None:
            return
        b = at.builder
        b.row = "leaving"
        was, now = b.input(WITHIN), self._within(at, state.position)
        state.kept[WITHIN] = now
        state.end(b.op("mul", was, b.op("sub", b.const(1), now)), b.const(1))
