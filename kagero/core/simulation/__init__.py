"""Births, the step, stored frames and checkpoints, over an engine."""

from .births import MAX_BIRTHS, Schedule, schedule_births
from .frames import Frame, FrameStore, Population
from .run import EmitterRun
from .shown import Look, Shown, frame_inputs

__all__ = ["MAX_BIRTHS", "EmitterRun", "Frame", "FrameStore", "Look", "Population", "Schedule", "Shown", "frame_inputs",
           "schedule_births"]  # fmt: skip
