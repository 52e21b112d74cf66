"""A cue ends the particle."""

from __future__ import annotations

from typing import Annotated

from ...rows.model import Setting
from ...rows.reader import Reader
from ...rows.step import StepState
from .base import Deed, Happening


class End(Deed):
    """It ends there and then."""

    ends: Annotated[bool, Setting("Ends the particle", "It ends there and then.")] = False

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        if self.ends:
            state.end(happening.fires, at.builder.const(1))
