"""What a draw is: a random value that a particle is given once, at birth."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, ClassVar

from pydantic import model_validator

from ...rows.model import DISPLAY_ONLY, Driven, Name, Part, Uid, fields_of, new_rows
from ...rows.reader import Reader
from ...rows.responses import BIG, read_once
from ...rows.union import OpenUnion
from ...rows.units import PLAIN


def bound(label: str, default: float, help: str, lowest: float = -BIG, highest: float = BIG) -> Driven:
    """Return what stands beside a bound of a draw."""
    return Driven(label, PLAIN, lowest, highest, 2, default, help)


class DrawPart(Part):
    """A kind of draw. Bounds only scale the number that a particle's key gives: editing them never redraws. short: what
    it draws."""

    band, stage = "draws", "birth"
    short: ClassVar[str] = ""
    factor: ClassVar[tuple[float, float] | None] = (
        None  # what a number is multiplied by to vary; None: it gives numbers
    )

    kind: str
    uid: Uid
    name: Annotated[Name, DISPLAY_ONLY]

    @model_validator(mode="after")
    def _read_once(self) -> Any:
        for name in type(self).model_fields:
            read_once(getattr(self, name))
        return self

    @classmethod
    def rows_key(cls) -> str:
        return "draws"

    def row_family(self, field: str) -> str:
        return f"draws.{self.uid}"

    @classmethod
    def bounds(cls) -> tuple[str, ...]:
        """Return its rows, by their fields."""
        return tuple(facts.name for facts in fields_of(cls) if facts.driven)

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": DRAWS.tags(cls)[0], **new_rows(cls)}

    @classmethod
    def around(cls, value: float) -> dict[str, Any]:
        """Return the fields of a draw whose values lie around a number."""
        return {}

    def plain(self, field: str) -> float:
        """Return a bound by its base alone."""
        base = getattr(self, field).base
        return base if isinstance(base, float) else 0.0

    def range(self) -> tuple[float, float]:
        """Return between which values it lies (a normal one for all but a few of a thousand), bounds taken at their
        bases."""
        return self.plain("low"), self.plain("high")

    def value(self, at: Reader, uniform: int, bound: Callable[[str], int]) -> int:
        """Return the value drawn. uniform: a number in [0, 1) that is the particle's; bound: gives a row of the
        draw."""
        raise NotImplementedError


DRAWS = OpenUnion("draw", DrawPart)
