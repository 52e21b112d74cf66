"""Particles in a look that is drawn as one surface, with this surface."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from types import ModuleType
from typing import Any

import numpy as np

from ..errors import BudgetError, GeometryProblem
from ..parts.looks import LOOKS
from ..simulation import ShownParticles, Volume

NONE = np.zeros((0, 7))


def _module(sprite: str) -> ModuleType | None:
    """Return the module of a look that is one surface or volume; None of the others."""
    return LOOKS.namesake(sprite, __package__ or "") if LOOKS.kinds[sprite].surfaces else None


for _sprite in LOOKS.kinds:  # a look that lacks its module fails at once
    _module(_sprite)


def with_surface(
    settings: Any, shown: ShownParticles, coarse: bool, lights: Callable[[], np.ndarray]
) -> ShownParticles:
    """Return particles with their surface; unchanged for looks without one.

    settings: of the look (`parts.looks`). coarse: cells twice as large while a value is dragged. lights: gives the
    lights in world space, as in `kernels.shading`. Where the surface cannot be built, `problem` says why; `remark` is a
    note for the artist.
    """
    module = _module(settings.sprite)
    if module is None or not len(shown):
        return shown
    try:
        surface, remark = module.surface(settings, shown, coarse, lights() if getattr(module, "LIT", False) else NONE)
    except (BudgetError, GeometryProblem) as problem:
        first = problem.findings[0]
        return replace(shown, problem=f"{first.message} {first.remedy}")
    if isinstance(surface, Volume):
        return replace(shown, volume=surface, remark=remark)
    return replace(shown, surface=surface, remark=remark)
