"""Sources: everything that a row or a response may read. Each kind is a module of `parts/sources`."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from ..formula import GROUPS as FORMULA_GROUPS
from ..formula import Known, Values
from .example import Example
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
    """Facts of a particular source: shown name, unit, usual range, and when it can be read."""

    label: str
    unit: Unit
    input: tuple[float, float]
    per_particle: bool
    changes: bool
    shape: str


@dataclass(frozen=True)
class Listed:
    """An entry of the list of sources. source: what goes into the document."""

    key: str
    source: dict[str, Any]
    group: str
    help: str


class SourcePart(Model):
    """A kind of source. Class attributes hold for the whole kind, methods for one source.

    label, group, unit, usual (range), help: its words. per_particle: each particle has its own value. changes: the
    value changes during a life. shape: number, vector or colour. after: what it depends on at a birth: "place",
    "launch", or "life" (always 0 then). row_read: the row that it is another name of.
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
    is_formula: ClassVar[bool] = False  # its text reads other sources
    is_dial: ClassVar[bool] = False  # it is one number for the whole effect
    refreshed: ClassVar[bool] = False  # offered as live also where it never changes within a life
    spans_clip: ClassVar[bool] = False  # over a clip it goes through all of the clip's seconds
    fixed: ClassVar[bool] = False  # its range is known, whatever part of it particles have now
    name_groups: ClassVar[
        tuple[str, ...]
    ] = ()  # what the names by which formulas know it begin with: `props` of props.bell
    tabled: ClassVar[bool] = True  # stands in the table and in one life: each particle has one value of it
    lasting: ClassVar[bool] = False  # what it was at birth can be read again at any time
    reads_touches: ClassVar[bool] = False  # it reads what particles remember of what they touched
    example: ClassVar[Example] = Example()  # what an emitter has where it is there

    kind: str

    @classmethod
    def __pydantic_init_subclass__(cls, **kwargs: Any) -> None:
        FORMULA_GROUPS.extend(name for name in cls.name_groups if name not in FORMULA_GROUPS)

    def facts(self, view: View) -> SourceFacts:
        """Return the facts of this source; a missing reference is named as such."""
        return type(self).kind_facts()

    @classmethod
    def kind_facts(cls) -> SourceFacts:
        return SourceFacts(cls.label, cls.unit, cls.usual, cls.per_particle, cls.changes, cls.shape)

    def missing(self, view: View) -> str:
        """Return in words what it reads that does not exist; empty for nothing."""
        return ""

    def kept(self, view: View) -> bool:
        """Return whether particles keep its value where no row reads it; otherwise tables leave it out."""
        return True

    def unfit(self, spec: Any, read: str) -> str:
        """Return why a row (`placed.RowSpec`) cannot read it "once" or "live"; empty where it can."""
        return ""

    def column(self) -> str:
        """Return a name that equal sources share: they are one column of the loom and are muted together."""
        return self.kind

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        """Yield every source of this kind that an emitter has, in the order of the list."""
        yield cls.entry({"kind": cls.tag()}, cls.group, cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        """Yield the names under which formulas know sources of this kind."""
        return iter(())

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        """Yield the rows of the same particle that it depends on. stage: "birth" or "live", where it is read."""
        if self.row_read:
            yield stage, self.row_read
        elif stage == "birth" and self.after in ("place", "launch"):
            yield from (
                ("birth", placed.address)
                for placed in view.sheet_rows()
                if placed.address.startswith(f"births.{self.after}.")
            )

    def latches(self) -> str | None:
        """Return the uid of the mask that particles must remember for it, or None."""
        return None

    def costly(self) -> str:
        """Return what it looks up, where that is too expensive to compute unasked; empty otherwise."""
        return ""

    def write(self, at: Reader) -> Values:
        """Return its values: one, or three for a whole vector or colour."""
        raise NotImplementedError

    @classmethod
    def tag(cls) -> str:
        return SOURCES.tags(cls)[0]

    @classmethod
    def entry(cls, source: dict[str, Any], group: str, help: str) -> Listed:
        """Return an entry of the list; a placeholder uid is replaced when it is chosen."""
        return Listed(
            cls.key_of(source), {**source, "uid": "new"} if "uid" in cls.model_fields else source, group, help
        )

    @classmethod
    def key_of(cls, source: dict[str, Any]) -> str:
        """Return the key that distinguishes a source, given as plain data, within its kind."""
        naming = {facts.name for facts in fields_of(cls) if facts.refers or facts.marks & {"naming", "address"}} | {
            "kind"
        }
        return ".".join(str(value) for name, value in source.items() if name in naming)


SOURCES = OpenUnion("source", SourcePart)
Source = Annotated[SourcePart, SOURCES]
_read = Lazy(Source)


def source_of(value: Any) -> SourcePart:
    """Return a source from plain data. Raises pydantic's ValidationError."""
    return _read(value)
