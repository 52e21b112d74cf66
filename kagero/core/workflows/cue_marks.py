"""Where things happened lately, for the stage: cues, over a few frames, and who touches a contact now."""

from __future__ import annotations

import numpy as np

from ..rows.contact_state import TOUCH
from ..simulation import FIRED, EmitterRun, Look, Population

LATELY = 4  # frames over which a mark fades
MOST = 1_000

F32 = np.float32


def happened(run: EmitterRun, number: int) -> np.ndarray:
    """Return where cues happened on the way to a frame and the few before it, (m, 5) float32: place, m, which of the emitter's cues, and how many
    frames ago. Of more than MOST the latest."""
    events = []
    for ago in range(LATELY):
        frame = run.store.get(run.address, number - ago) if number - ago >= run.earliest else None
        if frame is not None and len(frame.events):
            here = frame.events.what >= FIRED
            values = np.zeros((int(here.sum()), 5), F32)
            values[:, :3], values[:, 3], values[:, 4] = (
                frame.events.state[here, :3],
                frame.events.what[here] - FIRED,
                ago,
            )
            events.append(values)
    return np.concatenate(events)[:MOST] if events else np.zeros((0, 5), F32)


def touching(look: Look, population: Population, seconds: float) -> np.ndarray:
    """Return where particles touch what they meet, (m, 3) float32 metres: on their surface, toward it, where they remember which way that is.
    Of more than MOST some evenly."""
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
