"""Births, the step, stored frames and checkpoints, over an engine."""

from .births import MAX_BIRTHS, Schedule, schedule_births
from .events import BORN, BOUND, ENDED, RELEASED, Events
from .frames import PLACE, WAY, Frame, FrameStore, Population
from .run import EmitterRun
from .shown import Look, Shown, frame_inputs
from .step import step_inputs

__all__ = [
    "BORN", "BOUND", "ENDED", "MAX_BIRTHS", "PLACE", "RELEASED", "WAY", "EmitterRun", "Events", "Frame", "FrameStore", "Look", "Population",
    "Schedule", "Shown", "frame_inputs", "schedule_births", "step_inputs",
]  # fmt: skip
