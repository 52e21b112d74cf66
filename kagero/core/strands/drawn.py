"""Particles in a look along lines, with these lines."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from types import ModuleType
from typing import Any

import numpy as np

from ..errors import BudgetError, GeometryProblem
from ..parts.looks import LOOKS
from ..shaping import ShapedRun
from ..simulation import LookEvaluator, ShownParticles, Strands
from .course import StrandPoints, StrandRequest

F32 = np.float32


def _module(sprite: str) -> ModuleType | None:
    """Return the module of a look along lines; None of the others."""
    return LOOKS.namesake(sprite, __package__ or "") if LOOKS.kinds[sprite].strands else None


for _sprite in LOOKS.kinds:  # a look that lacks its module fails at once
    _module(_sprite)


def with_strands(
    look: LookEvaluator,
    settings: Any,
    run: ShapedRun,
    number: int,
    shown: ShownParticles,
    stopped: Callable[[], None],
    after: float = 0.0,
) -> ShownParticles:
    """Return particles with their lines; unchanged for looks without lines.

    settings: of the look (`parts.looks`). number: the frame's. after: of a frame past it. Where lines cannot be built,
    `problem` says why.
    """
    module = _module(settings.sprite)
    if module is None:
        return shown
    seconds = run.seconds(number, after)
    try:
        course: StrandPoints = module.course(
            StrandRequest(settings, number, run.plan.moment(number, after), shown, run, stopped, after)
        )
    except (BudgetError, GeometryProblem) as problem:
        first = problem.findings[0]
        return replace(shown, problem=f"{first.message} {first.remedy}")
    along, metres = course.lengths()
    columns = look.along(shown.population, seconds, course.owner, along, metres)
    if course.other is not None and course.share is not None:
        second = look.along(shown.population, seconds, course.other, along, metres)
        columns = {name: interpolate(columns[name], second[name], course.share) for name in columns}
    across = None
    if "toward" in shown.course:
        across = np.cross(course.tangents(), shown.course["toward"][course.owner].astype(np.float64))
        across = (across / np.maximum(np.linalg.norm(across, axis=1, keepdims=True), 1e-12)).astype(F32)
    return replace(shown, strands=Strands(course.points, course.joined, course.owner, columns, across))


def interpolate(a: np.ndarray, b: np.ndarray, share: np.ndarray) -> np.ndarray:
    """Return columns interpolated between two particles."""
    share = share if a.ndim == 1 else share[:, None]
    return (a + (b - a) * share).astype(F32)
