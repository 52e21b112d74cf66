"""One tree of errors. Each says what is wrong, where, and what to do; each class has a stable code.

KageroError
|-- EffectError        the document cannot be used as it stands (one or more findings)
|   |-- SyntaxProblem  it is not JSON at all
|   |-- SchemaProblem  unknown keys, wrong types, missing parts, numbers that are not finite
|   |-- RangeProblem   a value outside what its row allows
|   |-- LinkProblem    something refers to what is not there, or does not fit it
|   |-- CircleProblem  rows drive each other in a circle
|   `-- FormulaProblem a formula that cannot be read, with line and column
|-- GeometryProblem    a file that was brought in cannot be used
|-- BudgetError        it would need more than the limits allow; raised before the work starts
|-- RequestError       frames, sizes or names asked for that do not exist
`-- Cancelled          somebody asked for the work to stop
"""

from __future__ import annotations

from dataclasses import asdict, dataclass


@dataclass(frozen=True)
class Finding:
    """One thing that is wrong: a stable code, the place as a path into the document, words, and a way out."""

    code: str
    where: str
    message: str
    remedy: str

    def as_dict(self) -> dict[str, str]:
        return asdict(self)

    def __str__(self) -> str:
        place = f"{self.where}: " if self.where else ""
        return f"{place}{self.message} {self.remedy}".strip()


class KageroError(Exception):
    """Base of everything the core raises on purpose."""

    code = "kagero"

    def __init__(self, message: str, *, where: str = "", remedy: str = "", findings: list[Finding] | None = None):
        self.findings = findings or [Finding(self.code, where, message, remedy)]
        super().__init__("; ".join(str(f) for f in self.findings))


class EffectError(KageroError):
    code = "effect"


class SyntaxProblem(EffectError):
    code = "not_json"


class SchemaProblem(EffectError):
    code = "schema"


class RangeProblem(EffectError):
    code = "range"


class LinkProblem(EffectError):
    code = "link"


class CircleProblem(EffectError):
    code = "circle"


class FormulaProblem(EffectError):
    code = "formula"


class GeometryProblem(KageroError):
    code = "geometry"


class BudgetError(KageroError):
    code = "budget"


class RequestError(KageroError):
    code = "request"


class Cancelled(KageroError):
    code = "cancelled"

    def __init__(self, message: str = "The work was stopped.") -> None:
        super().__init__(message)
