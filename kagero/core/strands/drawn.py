"""Particles in a look that is drawn along lines, with these lines."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from types import ModuleType
from typing import Any

import numpy as np

from ..errors import BudgetError, GeometryProblem
from ..shaping import ShapedRun
from ..simulation import Look, Shown, Strands
from . import ribbon, streak, trail
from .course import Asked, Course

F32 = np.float32
LINES: dict[str, ModuleType] = {"streak": streak, "trail": trail, "ribbon": ribbon}


def with_strands(
    look: Look,
    settings: Any,
    run: ShapedRun,
    number: int,
    shown: Shown,
    stopped: Callable[[], None],
    after: float = 0.0,
) -> Shown:
    """Return particles with the lines that they are drawn along; as they are in a look that has none. settings: of the look (`parts.looks`);
    number: the frame's; after: of a frame after it the particles are. Where lines cannot be made, `problem` says why."""
    module = LINES.get(settings.sprite)
    if module is None:
        return shown
    seconds = run.seconds(number, after)
    try:
        course: Course = module.course(
            Asked(settings, number, run.plan.moment(number, after), shown, run, stopped, after)
        )
    except (BudgetError, GeometryProblem) as problem:
        first = problem.findings[0]
        return replace(shown, problem=f"{first.message} {first.remedy}")
    along, metres = course.lengths()
    columns = look.along(shown.population, seconds, course.owner, along, metres)
    if course.other is not None and course.share is not None:
        second = look.along(shown.population, seconds, course.other, along, metres)
        columns = {name: mixed(columns[name], second[name], course.share) for name in columns}
    across = None
    if "toward" in shown.course:
        across = np.cross(course.tangents(), shown.course["toward"][course.owner].astype(np.float64))
        across = (across / np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-12)).astype(F32)
    return replace(shown, strands=Strands(course.points, course.joined, course.owner, columns, across))


def mixed(a: np.ndarray, b: np.ndarray, share: np.ndarray) -> np.ndarray:
    """Return columns between those of two particles."""
    share = share if a.ndim == 1 else share[:, None]
    return (a + (b - a) * share).astype(F32)
