"""What a look is: what a particle is drawn as, and the columns it is drawn from."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal

from ...formula import Values
from ...geometry.stock import StockName
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, Part, Setting, Uid, new_rows
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.union import OpenUnion
from ...rows.units import DEGREES, METRES, PERCENT, PLAIN, Unit
from .shift import shifted


@dataclass(frozen=True)
class Column:
    """One thing that a look gives of every particle.

    width: how many numbers; wire: how each goes to the interface; unit: its own, as in files; default: what it is where
    a look does not give it; stored: its name in files, where that is another; parts: the names of its numbers in files;
    state: what of a particle's state it is, where the look only hands it on.
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


# what all looks give, the first four in this order in files
DRAWN = (
    Column("size", 1, "<f4", METRES),
    Column("colour", 3, "<f2", PLAIN, 1.0, stored="color", parts="rgb"),
    Column("opacity", 1, "<f2", PERCENT, 1.0),
    Column("rotation", 1, "<f2", DEGREES, state="rotation"),
)
COVER = Column("cover", 1, "<f2", PERCENT, 1.0)
SOFT = Column("soft", 1, "<f2", METRES, 0.0)


CoverBy = Annotated[
    Literal["alpha", "brightness"],
    Setting(
        "Covers by",
        "What of a picture covers: its alpha, or how bright it is, for pictures on black.",
        choices=(("alpha", "its alpha"), ("brightness", "its brightness")),
    ),
]


@dataclass(frozen=True)
class Pictured:
    """Which pictures a look is drawn with. shelf: one that ships, where no picture props are named; motion, cut_by,
    mixed: props or nothing; across, down: the grid of pages; reach: of a page's width that full motion goes."""

    shelf: StockName | None
    pictures: tuple[str, ...] = ()
    motion: str | None = None
    cut_by: str | None = None
    mixed: str | None = None
    across: int = 1
    down: int = 1
    cover_by: Literal["alpha", "brightness"] = "alpha"
    edges: Literal["end", "hold", "repeat", "mirror"] = "end"
    reach: float = 0.0
    of_meshes: bool = False  # the pictures are those of mesh props' own materials


@dataclass(frozen=True)
class Formed:
    """Which forms a look is drawn as. shelf: one that ships, where no mesh props are named; drawn_with: own materials,
    plain colour, or pictures; parts: the particles' own, of what they broke off."""

    shelf: str
    meshes: tuple[str, ...] = ()
    drawn_with: str = "own"
    parts: bool = False


class LookPart(Part):
    """A kind of look. It has modules of its name where it is computed: in `strands` along lines, in `surfaces` as one
    surface or volume, else in `picture`; a kind that derives from another may do with that one's.

    columns: its values of every particle. strands: it is drawn along lines, with values at each of their points.
    surfaces: it is one surface or volume of all particles. resources: what it cannot be drawn without, of `sheets` and
    `forms`. uid: of a further look of an emitter, by which its rows are addressed. muted: it is not drawn.
    """

    band, stage = "look", "live"
    flags = ("grounded",)
    columns: ClassVar[tuple[Column, ...]] = ()
    strands: ClassVar[bool] = False
    surfaces: ClassVar[bool] = False
    resources: ClassVar[tuple[str, ...]] = ()

    uid: Uid | None = None
    muted: bool = False
    sprite: str
    blend: Annotated[
        Literal["over", "add", "between", "screen", "multiply"],
        Setting(
            "Blending",
            "How a particle's picture meets what lies behind it.",
            choices=(
                ("over", "laid over"),
                ("add", "adding light"),
                ("between", "between them"),
                ("screen", "screened"),
                ("multiply", "multiplied"),
            ),
        ),
    ] = "over"
    stands: Annotated[
        Literal["depth", "before", "behind"],
        Setting(
            "Stands",
            "By distance, of all looks together; or all of this one before or behind the others. Props hide it all "
            "the same.",
            choices=(("depth", "by distance"), ("before", "before others"), ("behind", "behind others")),
        ),
    ] = "depth"
    order: Annotated[
        Literal["depth", "birth"],
        Setting(
            "Each other",
            "Which of these is drawn over another: the nearer one, or the one born later; then they stand together "
            "where the middle of them is.",
            choices=(("depth", "nearer over further"), ("birth", "younger over older")),
        ),
    ] = "depth"
    lit: Annotated[
        bool,
        Setting(
            "Lit",
            "Its colour is what it sends on of the light that falls on it, as small balls do in the mean; else it "
            "shines by itself.",
        ),
    ] = False
    added: Annotated[
        NumberRow,
        Driven(
            "Light for cover",
            PERCENT,
            0,
            1,
            1,
            0.5,
            "0 is laid over what lies behind, 100 % only adds light to it: flames that turn to smoke.",
            always=True,
        ),
    ] = number(0.5)

    hue: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Hue shift", DEGREES, -math.pi, math.pi, 1, 0.0, "How far the colour's hue is turned."),
    ] = number(0)
    saturation: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Saturation shift", PERCENT, -1, 10, 1, 0.0, "How much purer the colour is; -100 % is grey."),
    ] = number(0)
    lightness: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Lightness shift", PERCENT, -1, 1, 1, 0.0, "How much lighter the colour is, in HSL; -100 % is black."),
    ] = number(0)

    soft: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Soft toward props",
            METRES,
            0,
            1000,
            1,
            0.0,
            "Over how many metres it fades before what it cuts into: smoke round a post.",
        ),
    ] = number(0)

    @classmethod
    def rows_key(cls) -> str:
        return f"look.{LOOKS.tags(cls)[0]}"

    def row_family(self, field: str) -> str:
        return f"look.{field}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"sprite": LOOKS.tags(cls)[0], "blend": "over", **new_rows(cls)}

    @property
    def grounded(self) -> bool:
        """Whether it needs something behind it to be seen: over nothing it leaves nothing."""
        return self.blend in ("screen", "multiply") and not self.muted

    def unused(self) -> frozenset[str]:
        return frozenset() if self.blend == "between" else frozenset({"added"})

    def tinted(self, at: Reader, address: str) -> Values:
        """Return the colour, shifted as the look says: linear light."""
        colour = at.row(f"{address}.colour")
        if not any(differs_from_default(row, 0.0) for row in (self.hue, self.saturation, self.lightness)):
            return colour
        return shifted(
            at.builder, colour, *(at.row(f"{address}.{name}")[0] for name in ("hue", "saturation", "lightness"))
        )

    def covering(self, at: Reader, address: str) -> dict[str, Values]:
        """Return the columns that say how particles meet what lies behind, where they differ between them: `cover`, how
        much of it they hide, of their opacity, and `soft`, over how many metres they fade into it."""
        b = at.builder
        columns: dict[str, Values] = (
            {"cover": (b.op("sub", b.const(1), at.row(f"{address}.added")[0]),)} if self.blend == "between" else {}
        )
        return columns | ({"soft": at.row(f"{address}.soft")} if differs_from_default(self.soft, 0.0) else {})

    def meets(self) -> frozenset[str]:
        """Return the columns that `covering` gives."""
        return frozenset(
            ({"cover"} if self.blend == "between" else set())
            | ({"soft"} if differs_from_default(self.soft, 0.0) else set())
        )

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        """Return the values of its columns by their names, but of those that are a state. address: what the addresses
        of its rows begin with."""
        raise NotImplementedError

    def laid(self) -> tuple[Column, ...]:
        """Return its columns, each with what it is where it is not given, as the look is set."""
        return tuple(
            replace(column, default=0.0) if column is COVER and self.blend == "add" else column
            for column in self.columns
        )

    def given(self) -> frozenset[str]:
        """Return the columns whose values differ from their defaults as the look is set: the others need not be sent or
        stored."""
        return frozenset(column.name for column in self.columns)

    def pictured(self) -> Pictured | None:
        """Return which pictures it is drawn with; None where there are none."""
        return None

    def formed(self) -> Formed | None:
        """Return which forms it is drawn as; None where it is no body in space."""
        return None

    def projected(self) -> str | None:
        """Return the uid of the camera that throws its picture onto particles, nothing for the effect's own; None where
        it lies on each of them."""
        return None

    def drawn_by(self) -> dict[str, Any]:
        """Return what of it is the same for all particles and says how they are drawn, beside its columns; plain
        data."""
        return {
            "sprite": LOOKS.tags(type(self))[0],
            "blend": self.blend,
            "stands": self.stands,
            "order": self.order,
            "lit": self.lit,
        }


LOOKS = OpenUnion("look", LookPart, "sprite")
