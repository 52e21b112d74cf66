"""Bounds of an emitter's particles, over a clip or at a frame, to fit the box of a shaping."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..errors import RequestError
from ..staging import rotation_matrices
from .play import Playing, never_stopped

F64 = np.float64
THIN = 0.01  # metres: a box is at least so thick, where particles lie in a plane, on a line or in one place


def bounds(
    playing: Playing, emitter: str, shaping: str, frame: int | None = None, stopped: Callable[[], None] = never_stopped
) -> tuple[np.ndarray, np.ndarray] | None:
    """Return centre and size, (3,) each, metres, of the particles that enter a shaping, at all frames of the clip or at
    one; None without particles. The particles are the emitter's, or every emitter's where the shaping moves them all.
    The box is along the axes of the shaping's own box, as its base values rotate it.

    Every particle lies within centre ± size / 2, exactly in float32. Raises RequestError for an unknown shaping.
    """
    index = next((i for i, each in enumerate(playing.effect.emitters) if each.uid == emitter), None)
    shapings = [] if index is None else playing.effect.emitters[index].shaping
    at = next((k for k, each in enumerate(shapings) if each.uid == shaping), None)
    if index is None or at is None:
        raise RequestError("There is no such shaping.", where="shaping", remedy="Choose one of the emitter's.")
    before = playing
    if any(not each.muted for each in shapings):  # as those before it have left them
        emitters = [
            e.model_copy(update={"shaping": e.shaping[:at]}) if i == index else e
            for i, e in enumerate(playing.effect.emitters)
        ]
        before = Playing(playing.effect.model_copy(update={"emitters": emitters}), playing.store, playing.content)
    axes = _axes(shapings[at])
    moved = range(len(playing.effect.emitters)) if shapings[at].everyone else [index]
    low, high = np.full(3, np.inf), np.full(3, -np.inf)
    for number in range(playing.plan.first_frame, playing.plan.last_frame + 1) if frame is None else [frame]:
        stopped()
        for living in (before.shaped[k].at(number, 0.0, stopped) for k in moved):
            if len(living):
                seen = np.stack(living.position, axis=1).astype(F64) @ axes
                low, high = np.minimum(low, seen.min(axis=0)), np.maximum(high, seen.max(axis=0))
    if not np.isfinite(low).all():
        return None
    return axes @ ((low + high) / 2), np.maximum(high - low, THIN)


def _axes(shaping: object) -> np.ndarray:
    """Return the axes of a shaping's box, as columns (3, 3)."""
    turn = getattr(getattr(shaping, "turn", None), "base", None)
    return rotation_matrices(np.asarray(turn, F64)[None])[0] if isinstance(turn, (tuple, list)) else np.eye(3)
