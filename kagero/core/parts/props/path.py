"""A path as a prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ...errors import Finding, GeometryProblem
from ...formula import compile_figure, figure_source
from ...geometry import Mesh, Path
from ...rows.model import CONTENT, FORMULA, Setting, Vector
from .base import SHAPED, Maker, PropOffer, StandingProp
from .file_refs import file_title

FIGURE = "turn = t * tau\nvec3(sin(3 * turn), 1 + 0.3 * sin(turn), sin(2 * turn))"
_TEXT = "A vector in metres, for t from 0 to 1; functions as in every formula"


class PathProp(StandingProp):
    """A path: smooth through its points, or straight between them; or, where there is a formula, what that gives for t
    from 0 to 1."""

    label = "Path"
    births_on, line, holds, dissolves, tinted = ("edges", "points"), True, False, False, False
    offers = (
        PropOffer("Path", "path", {"points": [[-1.0, 0.5, 0.0], [0.0, 1.2, 0.4], [1.0, 0.5, 0.0]]}),
        PropOffer("Path by a formula", "figure", {"points": [[0.0, 0.0, 0.0]], "smooth": False, "formula": FIGURE}),
    )

    kind: Literal["path"]
    points: Annotated[list[Vector], SHAPED, CONTENT, Setting("points")] = Field(min_length=1, max_length=20_000)
    closed: Annotated[bool, SHAPED, CONTENT, Setting("closed", "Its end is joined to its beginning.")] = False
    smooth: Annotated[bool, SHAPED, CONTENT, Setting("smooth", "A curve through its points, not straight lines.")] = (
        True
    )
    formula: Annotated[str, SHAPED, CONTENT, FORMULA, Setting("Formula", _TEXT)] = Field(
        default="", max_length=4000, description="A vector of t, in metres: see docs/FORMULAS.md."
    )

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        line = np.asarray(file.get("line", ()), np.float64)
        if len(line) < 2:
            return
        if file["kind"] == "drawing":  # its units are pixels: a metre high, standing on the ground
            low, high = line.min(axis=0), line.max(axis=0)
            scale = 1 / max(float(high[1] - low[1]), 1e-9)
            line = np.column_stack(
                [(line[:, 0] - (low[0] + high[0]) / 2) * scale, (line[:, 1] - low[1]) * scale, np.zeros(len(line))]
            )
        yield PropOffer(cls.label, file_title(file), {"points": np.round(line, 5).tolist(), "smooth": False})

    def drawn_points(self) -> Any:
        return None if self.formula else self.points

    def unused(self) -> frozenset[str]:
        return super().unused() | ({"points", "smooth"} if self.formula else {"formula"})

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        if self.formula:
            points = maker.run(*compile_figure(self.formula))
            if not np.isfinite(points).all() or np.abs(points).max() > 1e6:
                raise GeometryProblem(
                    "This formula leaves the world for some t.", remedy="Guard what it divides by: a if c else b."
                )
            return Path.of(points, self.closed)
        points = np.asarray(self.points, np.float64)
        return Path.through(points, self.closed) if self.smooth else Path.of(points, self.closed and len(points) > 2)

    def findings(self, effect: Any, where: str) -> Iterator[Finding]:
        if self.formula:
            for problem in figure_source(self.formula)[1]:
                yield Finding(
                    "formula", f"{where}.formula", str(problem).removesuffix(problem.remedy).strip(), problem.remedy
                )
