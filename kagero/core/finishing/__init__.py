"""The finish of a picture: each kind of `parts.finish` that acts on finished light has a module of the same name here.
Pictures in, pictures out.

A picture is (H, W, 4) float32: linear light, premultiplied by alpha. A module has `finished(light, own, part, shot)`
and `stage_uniforms(own, part, shot)`, what the stage needs to do the same (client/src/stage/finishes). One that spreads
light beyond a pixel also has `reach(own, part, shot)`, in pixels.
"""

from __future__ import annotations

from types import ModuleType
from typing import Any

import numpy as np

from ..parts.finish import FINISH, FinishPart
from .behind import BACKGROUNDS, backplate_over
from .judging import clipped, edges
from .moments import PictureSample, lens_radius, picture_samples
from .shot import RowValues, Shot


def _module(part: type[FinishPart] | FinishPart, kind: str) -> ModuleType | None:
    """Return the module of a kind that acts on finished light; None of the others."""
    return FINISH.namesake(kind, __name__) if part.acts == "light" else None


for _kind, _part in FINISH.kinds.items():  # whoever lacks its module fails at once
    _module(_part, _kind)


def apply_finish(light: np.ndarray, part: Any, own: RowValues, shot: Shot) -> np.ndarray:
    """Return a picture after an item of the finish; unchanged for items that do not act on finished light."""
    module = _module(part, part.kind)
    image: np.ndarray = light if module is None else module.finished(light, own, part, shot)
    return image


def stage_uniforms(part: Any, own: RowValues, shot: Shot) -> dict[str, Any]:
    """Return an item's numbers, as plain data, for drawing it on the stage; empty for items that do not act on finished
    light."""
    module = _module(part, part.kind)
    return {} if module is None else dict(module.stage_uniforms(own, part, shot))


def margin(part: Any, own: RowValues, shot: Shot) -> int:
    """Return the distance in pixels from which light can reach a pixel."""
    module = _module(part, part.kind)
    return int(module.reach(own, part, shot)) if module is not None and hasattr(module, "reach") else 0


__all__ = [
    "BACKGROUNDS",
    "PictureSample",
    "RowValues",
    "Shot",
    "apply_finish",
    "backplate_over",
    "clipped",
    "edges",
    "lens_radius",
    "margin",
    "picture_samples",
    "stage_uniforms",
]
