"""A cue counts the particle as touched by a mask."""

from __future__ import annotations

from typing import Annotated

from ...rows.model import Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.step import StepState
from .base import Deed, Happening


class Latch(Deed):
    """It counts as touched by a mask from then on."""

    on_request = ("latch",)

    latch: Annotated[
        Uid | None,
        Refers("props", "mask", "{name} counts a mask as touched that is not there.", "Choose another, or none."),
        Setting(
            "Counts as touched by",
            "A mask that from then on has held it, whether it was in it or not.",
            nothing="no mask",
        ),
    ] = None

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        if self.latch is None or (latched := f"latch.{self.latch}") not in state.kept:
            return
        b, before, touched = at.builder, state.kept[latched], f"touched.{self.latch}"
        fresh = b.op("mul", happening.fires, b.op("less", before, b.const(0.5)))
        state.kept[latched] = b.op("select", happening.fires, b.const(1), before)
        state.kept[touched] = b.op("select", fresh, at.clip_time(), state.kept[touched])
