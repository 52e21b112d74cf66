"""What a place of birth is."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any, ClassVar, Literal, Protocol

from ...errors import Finding
from ...formula import Values
from ...rows.model import Part, new_rows
from ...rows.reader import Reader
from ...rows.union import OpenUnion

On = Literal["inside", "surface"]


class BirthReader(Reader, Protocol):
    """The reader of a birth. how: whether it is computed anew, recalled from what the state keeps of it, or at a place
    that is given."""

    @property
    def how(self) -> Literal["new", "recalled", "given"]: ...


class Effectlike(Protocol):
    """What a place may ask of the whole effect."""

    @property
    def emitters(self) -> Sequence[Any]: ...
    @property
    def props(self) -> Sequence[Any]: ...


class PlacePart(Part):
    """A kind of place where particles are born. bears: whether the place moves, so that motion can be inherited;
    parted: whether births come from another emitter's particles; counted: whether there are so many, each once,
    whatever the rate."""

    band, stage = "births", "birth"
    bears: ClassVar[bool] = False
    parted: ClassVar[bool] = False
    counted: ClassVar[bool] = False
    flags = ("bears", "parted", "counted")

    kind: str

    @classmethod
    def rows_key(cls) -> str:
        return "births.place"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": PLACES.tags(cls)[0], **new_rows(cls)}

    def row(self, at: Reader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"births.place.{field}")

    def born(self, at: BirthReader) -> Values:
        """Return where a particle is born (metres), which way the surface faces there, and (u, v): eight values."""
        raise NotImplementedError

    def velocity(self, at: BirthReader) -> Values | None:
        """Return how the place itself moves, m/s; None where it does not."""
        return None

    def found(self, at: BirthReader) -> int | None:
        """Return 1 where a place was found, else 0; None where one always is."""
        return None

    def remembered(self, at: BirthReader) -> dict[str, int]:
        """Return what the state keeps of the birth, by name: all else of it follows from that."""
        return {}

    def turned(self, at: Reader) -> Values | None:
        """Return how the place of birth is turned at the reader's time, a unit quaternion; None where it is not."""
        return None

    def part(self, at: Reader) -> Values | None:
        """Return which of the parts of what it is born from a particle is; None where it is none."""
        return None

    def faces_out(self) -> bool:
        """Return whether there is a surface with a way out of it."""
        return False

    def prop_on(self) -> str | None:
        """Return the uid of the prop that births are on; None where there is none."""
        return None

    def cue_of(self) -> str | None:
        """Return the cue of the emitter that particles are born from at which they are; None: at the rate."""
        return None

    def emitter_from(self) -> str | None:
        """Return the uid of the emitter whose particles births come from; None where there is none."""
        return None

    def findings(self, effect: Effectlike, emitter: Any, where: str) -> Iterator[Finding]:
        """Yield what it names that is not there or does not fit. where: the emitter's place in the document."""
        return iter(())


def uniforms(at: Reader) -> Values:
    """Return three numbers in [0, 1) of the birth's own."""
    return tuple(at.hash(f"place {i}") for i in range(3))


PLACES = OpenUnion("place of birth", PlacePart)
