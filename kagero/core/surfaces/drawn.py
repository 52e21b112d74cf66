"""Particles in a look that is drawn as one surface, with this surface."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from types import ModuleType
from typing import Any

import numpy as np

from ..errors import BudgetError, GeometryProblem
from ..simulation import Shown, Volume
from . import blob, haze

NONE = np.zeros((0, 7))
SURFACES: dict[str, ModuleType] = {"blob": blob, "haze": haze}


def with_surface(settings: Any, shown: Shown, coarse: bool, lights: Callable[[], np.ndarray]) -> Shown:
    """Return particles with the surface that they are drawn as; as they are in a look that has none. settings: of the look (`parts.looks`);
    coarse: its
    cells are twice as large, while a hand moves something; lights: gives what lights,
    (L, 7), as of `kernels.shading`, in the world. Where it cannot be made, `problem` says why; what is to be said of it, `remark`."""
    module = SURFACES.get(settings.sprite)
    if module is None or not len(shown):
        return shown
    try:
        surface, remark = module.surface(settings, shown, coarse, lights() if module is haze else NONE)
    except (BudgetError, GeometryProblem) as problem:
        first = problem.findings[0]
        return replace(shown, problem=f"{first.message} {first.remedy}")
    if isinstance(surface, Volume):
        return replace(shown, volume=surface, remark=remark)
    return replace(shown, surface=surface, remark=remark)
