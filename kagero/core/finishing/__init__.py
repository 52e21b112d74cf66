"""What is done to finished light: each kind of finish that acts on it has its namesake here (`parts.finish`). Pictures in, pictures out.

A picture is (H, W, 4) float32: linear light, premultiplied by alpha. A namesake has `finished(light, own, part, shot)`, and `told(own, part,
shot)`, what the stage needs to do the same (client/src/stage/finishes); one whose light comes
from further away than its own pixel has `reach(own, part, shot)`, pixels.
"""

from __future__ import annotations

from types import ModuleType
from typing import Any

import numpy as np

from . import colour, exposure, glow, grain, tone_curve, vignette
from .behind import BACKGROUNDS, laid_behind
from .judging import clipped, edges
from .moments import Moment, lens, moments
from .shot import RowValues, Shot

KINDS: dict[str, ModuleType] = {
    "exposure": exposure,
    "glow": glow,
    "colour": colour,
    "vignette": vignette,
    "grain": grain,
    "tone_curve": tone_curve,
}


def finished(light: np.ndarray, part: Any, own: RowValues, shot: Shot) -> np.ndarray:
    """Return a picture as an item of the finish makes it; of one that does not act on finished light the same."""
    module = KINDS.get(part.kind)
    image: np.ndarray = light if module is None else module.finished(light, own, part, shot)
    return image


def stage_uniforms(part: Any, own: RowValues, shot: Shot) -> dict[str, Any]:
    """Return an item of the finish as numbers that whoever draws it by itself needs, as plain data; nothing of one that does not act on finished
    light."""
    module = KINDS.get(part.kind)
    return {} if module is None else dict(module.stage_uniforms(own, part, shot))


def reach(part: Any, own: RowValues, shot: Shot) -> int:
    """Return from how far away light comes into a pixel, pixels."""
    module = KINDS.get(part.kind)
    return int(module.reach(own, part, shot)) if module is not None and hasattr(module, "reach") else 0


__all__ = [
    "BACKGROUNDS",
    "KINDS",
    "Moment",
    "RowValues",
    "Shot",
    "clipped",
    "edges",
    "finished",
    "laid_behind",
    "lens",
    "moments",
    "reach",
    "stage_uniforms",
]
