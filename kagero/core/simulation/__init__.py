"""Simulation: births, steps, stored frames and checkpoints, run by an engine."""

from .births import MAX_BIRTHS, Schedule, schedule_births
from .births_from_particles import join_keys, split_keys
from .events import BORN, BOUND, ENDED, FIRED, RELEASED, Events
from .frames import CARRIED, POSITION, VELOCITY, Frame, FrameStore, LoopRepeat, Population
from .interpolation import between
from .run import EmitterRun
from .shown import LookEvaluator, ShownParticles, Strands, Surface, Volume, column_of, frame_inputs
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
    "LookEvaluator",
    "LoopRepeat",
    "Population",
    "Schedule",
    "ShownParticles",
    "Strands",
    "Surface",
    "Volume",
    "between",
    "column_of",
    "frame_inputs",
    "join_keys",
    "schedule_births",
    "split_keys",
    "step_inputs",
]
