"""A path as a prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ...errors import Finding, GeometryProblem
from ...formula import compile_figure, figure
from ...geometry import Mesh, Path
from ...rows.model import CONTENT, FORMULA, Vector
from .base import SHAPED, Maker, StandingProp


class PathProp(StandingProp):
    """A path: smooth through its points, or straight between them; or, where there is a formula, what that gives for t from 0 to 1."""

    label = "Path"
    births_on, holds = ("edges", "points"), False

    kind: Literal["path"]
    points: Annotated[list[Vector], SHAPED, CONTENT] = Field(min_length=1, max_length=20_000)
    closed: Annotated[bool, SHAPED, CONTENT] = False
    smooth: Annotated[bool, SHAPED, CONTENT] = True
    formula: Annotated[str, SHAPED, CONTENT, FORMULA] = Field(
        default="", max_length=4000, description="A vector of t, in metres: see docs/FORMULAS.md."
    )

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        if self.formula:
            points = maker.run(*compile_figure(self.formula))
            if not np.isfinite(points).all() or np.abs(points).max() > 1e6:
                raise GeometryProblem("This formula leaves the world for some t.", remedy="Guard what it divides by: a if c else b.")
            return Path(points, self.closed)
        points = np.asarray(self.points, np.float64)
        return Path.through(points, self.closed) if self.smooth else Path(points, self.closed and len(points) > 2)

    def findings(self, effect: Any, where: str) -> Iterator[Finding]:
        if self.formula:
            for problem in figure(self.formula)[1]:
                yield Finding("formula", f"{where}.formula", str(problem).removesuffix(problem.remedy).strip(), problem.remedy)
