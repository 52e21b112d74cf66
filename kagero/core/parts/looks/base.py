"""What a look is: what a particle is drawn as, and the columns it is drawn from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from ...formula import Values
from ...rows.model import Part, Setting, new_rows
from ...rows.reader import Reader
from ...rows.union import OpenUnion
from ...rows.units import PLAIN, Unit


@dataclass(frozen=True)
class Column:
    """One thing that a look gives of every particle.

    width: how many numbers; wire: how each goes to the interface; unit: its own, as in files; default: what it is where a look does not
    give it; stored: its name in files, where that is another; parts: the names of its numbers in files; state: what of a particle's
    state it is, where the look only hands it on.
    """

    name: str
    width: int
    wire: Literal["<f4", "<f2", "|u1"]
    unit: Unit = PLAIN
    default: float = 0.0
    stored: str = ""
    parts: str = ""
    state: str = ""

    @property
    def components(self) -> tuple[str, ...]:
        """Return the names of its numbers in files; none where it is one number."""
        return tuple(self.parts or "xyzw"[: self.width]) if self.width > 1 else ()


class LookPart(Part):
    """A kind of look. columns: what it gives of every particle."""

    band, stage = "look", "live"
    columns: ClassVar[tuple[Column, ...]] = ()

    sprite: str
    blend: Annotated[
        Literal["over", "add"],
        Setting("Blending", "How a particle's picture meets what lies behind it.", choices=(("over", "laid over"), ("add", "adding light"))),
    ] = "over"

    @classmethod
    def rows_key(cls) -> str:
        return "look"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"sprite": LOOKS.tags(cls)[0], "blend": "over", **new_rows(cls)}

    def write(self, at: Reader) -> dict[str, Values]:
        """Return the values of its columns by their names, but of those that are a state."""
        raise NotImplementedError

    def given(self) -> frozenset[str]:
        """Return the columns whose values differ from their defaults as the look is set: the others need not be sent or stored."""
        return frozenset(column.name for column in self.columns)


LOOKS = OpenUnion("look", LookPart, "sprite")
