"""Particles in a look that is drawn as one surface, with this surface."""

from __future__ import annotations

from dataclasses import replace
from types import ModuleType
from typing import Any

from ..errors import BudgetError, GeometryProblem
from ..simulation import Shown
from . import blob

SURFACES: dict[str, ModuleType] = {"blob": blob}


def with_surface(settings: Any, shown: Shown, coarse: bool = False) -> Shown:
    """Return particles with the surface that they are drawn as; as they are in a look that has none. settings: of the look (`parts.looks`);
    coarse: its
    cells are twice as large, while a hand moves something. Where it cannot be made, `problem` says why; what is to be said of it, `remark`."""
    made = SURFACES.get(settings.sprite)
    if made is None or not len(shown):
        return shown
    try:
        surface, remark = made.surface(settings, shown, coarse)
    except (BudgetError, GeometryProblem) as problem:
        first = problem.findings[0]
        return replace(shown, problem=f"{first.message} {first.remedy}")
    return replace(shown, surface=surface, remark=remark)
