"""Births, the step, stored frames and checkpoints, over an engine."""

from .births import MAX_BIRTHS, Schedule, schedule_births
from .births_from_particles import keys_of_pieces, name_pieces
from .events import BORN, BOUND, ENDED, FIRED, RELEASED, Events
from .frames import CARRIED, POSITION, VELOCITY, Frame, FrameStore, LoopRepeat, Population
from .interpolation import between
from .run import EmitterRun
from .shown import Look, Shown, Strands, Surface, Volume, column_of, frame_inputs
from .step import step_inputs

__all__ = [
    "BORN",
    "BOUND",
    "CARRIED",
    "ENDED",
    "FIRED",
    "MAX_BIRTHS",
    "POSITION",
    "RELEASED",
    "VELOCITY",
    "EmitterRun",
    "Events",
    "Frame",
    "FrameStore",
    "Look",
    "LoopRepeat",
    "Population",
    "Schedule",
    "Shown",
    "Strands",
    "Surface",
    "Volume",
    "between",
    "column_of",
    "frame_inputs",
    "keys_of_pieces",
    "name_pieces",
    "schedule_births",
    "step_inputs",
]
