"""What a source is: anything that a row or a response may read. Each kind is one module of `parts/sources`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from ..formula import GROUPS as FORMULA_GROUPS
from ..formula import Known, Values
from .model import Mark, Model, fields_of
from .reader import Reader
from .union import Lazy, OpenUnion
from .units import PLAIN, Unit
from .view import View

NAMING = Mark("naming")  # of a source's fields: what it is told apart by, besides what it refers to
PARTS = {
    "vector": {"x": "x", "y": "y", "z": "z", "length": "length", "along": "along an axis"},
    "colour": {"red": "red", "green": "green", "blue": "blue"},
}
GROUPS = (
    "formula",
    "dials",
    "masks",
    "props",
    "pictures",
    "parent",
    "time",
    "place",
    "motion",
    "look",
    "birth",
    "draws",
    "own",
    "rows",
)
Node = tuple[str, str]  # "birth" or "live", and a row's address


@dataclass(frozen=True)
class SourceFacts:
    """What a particular source of an emitter is: its name as shown, unit, usual range, and when it can be read."""

    label: str
    unit: Unit
    input: tuple[float, float]
    per_particle: bool
    changes: bool
    shape: str


@dataclass(frozen=True)
class Listed:
    """A source an emitter's particles have, as it stands in the list. source: what to put into the document."""

    key: str
    source: dict[str, Any]
    group: str
    help: str


class SourcePart(Model):
    """A kind of source. A class fact says what holds for all of the kind, a method what holds for one.

    label, group, unit, usual (range), help: its words. per_particle: whether each particle has its own; changes: within a particle's
    life. shape: number, vector or colour. after: at a birth, what it comes out of: "place" once the particle is placed, "launch" once it
    is launched; "life": it is always nought then. row: the row that it is another name of.
    """

    label: ClassVar[str] = ""
    group: ClassVar[str] = ""
    words: ClassVar[str] = ""  # everyday words by which it is looked for as well
    unit: ClassVar[Unit] = PLAIN
    usual: ClassVar[tuple[float, float]] = (0.0, 1.0)
    help: ClassVar[str] = ""
    per_particle: ClassVar[bool] = True
    changes: ClassVar[bool] = True
    shape: ClassVar[str] = "number"
    after: ClassVar[Literal["", "place", "launch", "life"]] = ""
    row_read: ClassVar[str] = ""
    refreshed: ClassVar[bool] = False  # offered as live also where it never changes within a life
    spans_clip: ClassVar[bool] = False  # over a clip it goes through all of the clip's seconds
    fixed: ClassVar[bool] = False  # its range is known, whatever part of it particles have now
    name_groups: ClassVar[
        tuple[str, ...]
    ] = ()  # what the names by which formulas know it begin with: `props` of props.bell
    tabled: ClassVar[bool] = True  # stands in the table and in one life: each particle has one value of it
    lasting: ClassVar[bool] = False  # what it was at birth can be read again at any time

    kind: str

    @classmethod
    def __pydantic_init_subclass__(cls, **kwargs: Any) -> None:
        FORMULA_GROUPS.extend(name for name in cls.name_groups if name not in FORMULA_GROUPS)

    def facts(self, view: View) -> SourceFacts:
        """Return the facts of this source; what it refers to and is not there is called so."""
        return type(self).kind_facts()

    @classmethod
    def kind_facts(cls) -> SourceFacts:
        return SourceFacts(cls.label, cls.unit, cls.usual, cls.per_particle, cls.changes, cls.shape)

    def missing(self, view: View) -> str:
        """Return what it reads that is not there, in words; or nothing."""
        return ""

    def kept(self, view: View) -> bool:
        """Return whether particles keep what it reads where no row reads it: else no table tells it."""
        return True

    def unfit(self, spec: Any, read: str) -> str:
        """Return why a row (`placed.RowSpec`) cannot read it so, "once" or "live"; or nothing."""
        return ""

    def column(self) -> str:
        """Return the name under which equal sources stand in one column of the loom and are muted together."""
        return self.kind

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        """Yield every source of this kind that an emitter has, in the order of the list."""
        yield cls.entry({"kind": cls.tag()}, cls.group, cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        """Yield the names by which formulas know sources of this kind."""
        return iter(())

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        """Yield the rows it comes out of, of the same particle. stage: "birth" or "live", where it is read."""
        if self.row_read:
            yield stage, self.row_read
        elif stage == "birth" and self.after in ("place", "launch"):
            yield from (
                ("birth", placed.address)
                for placed in view.sheet_rows()
                if placed.address.startswith(f"births.{self.after}.")
            )

    def latches(self) -> str | None:
        """Return the uid of the mask that the particle has to remember for it; None where there is none."""
        return None

    def costly(self) -> str:
        """Return what it looks up, where that is too much to do for whoever does not ask; else nothing."""
        return ""

    def write(self, at: Reader) -> Values:
        """Return its values: one, or three for a whole vector or colour."""
        raise NotImplementedError

    @classmethod
    def tag(cls) -> str:
        return SOURCES.tags(cls)[0]

    @classmethod
    def entry(cls, source: dict[str, Any], group: str, help: str) -> Listed:
        """Return an entry of the list; what has a uid of its own gets one when it is chosen."""
        return Listed(
            cls.key_of(source), {**source, "uid": "new"} if "uid" in cls.model_fields else source, group, help
        )

    @classmethod
    def key_of(cls, source: dict[str, Any]) -> str:
        """Return the key of a source as plain data: of those of a kind, what tells it apart."""
        naming = {facts.name for facts in fields_of(cls) if facts.refers or facts.marks & {"naming", "address"}} | {
            "kind"
        }
        return ".".join(str(value) for name, value in source.items() if name in naming)


SOURCES = OpenUnion("source", SourcePart)
Source = Annotated[SourcePart, SOURCES]
_read = Lazy(Source)


def source_of(value: Any) -> SourcePart:
    """Return a source read from plain data. Raises pydantic's ValidationError."""
    return _read(value)
