"""Marks for the stage: cues of the last few frames, and particles that touch a contact now."""

from __future__ import annotations

import numpy as np

from ..rows.contact_state import TOUCH
from ..simulation import FIRED, EmitterRun, LookEvaluator, Population

FADE_FRAMES = 4  # frames over which a mark fades
MOST = 1_000

F32 = np.float32


def recent_cues(run: EmitterRun, number: int) -> np.ndarray:
    """Return cues up to a frame, (m, 5) float32: position in metres, number of the cue in the emitter, and age in
    frames. Of more than MOST, the latest."""
    events = []
    for ago in range(FADE_FRAMES):
        frame = run.store.get(run.address, number - ago) if number - ago >= run.earliest else None
        if frame is not None and len(frame.events):
            here = frame.events.what >= FIRED
            values = np.zeros((int(here.sum()), 5), F32)
            values[:, :3] = frame.events.state[here, :3]
            values[:, 3] = frame.events.what[here] - FIRED
            values[:, 4] = ago
            events.append(values)
    return np.concatenate(events)[:MOST] if events else np.zeros((0, 5), F32)


def touch_places(look: LookEvaluator, population: Population, seconds: float) -> np.ndarray:
    """Return the points at which particles touch a contact, (m, 3) float32, metres: on the particle's surface where it
    remembers the direction. Of more than MOST, an even selection."""
    carried = population.carried
    if TOUCH["touching"] not in carried:
        return np.zeros((0, 3), F32)
    which = np.flatnonzero(carried[TOUCH["touching"]] > 0.5)
    which = which[:: max(1, -(-len(which) // MOST))]
    touched = population.where(which)
    if not len(touched):
        return np.zeros((0, 3), F32)
    if TOUCH["normal.0"] not in carried:  # nothing reads it, so no particle remembers it: where the particle is
        return np.stack(touched.position, axis=1)
    size, _ = look.visible(touched, seconds)
    normal = np.stack([touched.carried[TOUCH[f"normal.{i}"]] for i in range(3)], axis=1)
    return (np.stack(touched.position, axis=1) - normal * (size / 2)[:, None]).astype(F32)
