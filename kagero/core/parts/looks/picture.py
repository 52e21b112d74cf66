"""A picture on each particle: one, one of several, or page after page of a book of pictures; cut out, mixed and
coloured by rows."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ...formula import Values
from ...geometry.stock import NAMES, StockName, label_and_help
from ...geometry.stock import pages as stock_pages
from ...rows.example import Example
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, Refers, Setting, Uid, fields_of
from ...rows.reader import Reader
from ...rows.responses import ColourRow, NumberRow, differs_from_default, number
from ...rows.responses import colour as colour_row
from ...rows.turn import ROTATION_STATE
from ...rows.units import DEGREES, METRES, PERCENT, PLAIN
from ...rows.writing import STRAIGHT, curve, row, source
from .base import COVER, DRAWN, SOFT, Column, CoverBy, LookPart, Pictured

FILM = Refers(
    "props", "film", "{name} is drawn with a picture that is not there.", "Choose another, or one from the shelf."
)

FromShelf = Annotated[
    StockName,
    Setting(
        "From the shelf",
        "A picture that ships; used where no picture of the effect is chosen.",
        choices=tuple((name, label_and_help(name)[0]) for name in NAMES),
        pictured=True,
    ),
]


def share_row(
    label: str, default: float, help: str, highest: float = 1, drag: float = 1, lowest: float = 0
) -> tuple[Any, ...]:
    """Return what stands beside a row of a share of a picture or body."""
    return (STRUCTURAL_IF_CHANGED, Driven(label, PERCENT, lowest, highest, drag, default, help))


class PictureLook(LookPart):
    """A picture on each particle: one, one of several, or page after page of a book of pictures."""

    label = "Picture"
    help = "A picture on each particle: one, one of several, or page after page of a book of pictures."
    resources = ("sheets",)
    columns: ClassVar[tuple[Column, ...]] = (
        *DRAWN,
        COVER,
        SOFT,
        Column("wide", 1, "<f2", PLAIN, 1.0),
        Column("tall", 1, "<f2", PLAIN, 1.0),
        Column("page", 1, "<f4", PLAIN, 0.0),
        Column("tiles", 2, "<f2", PLAIN, 1.0),
        Column("offset", 2, "<f4", PLAIN, 0.0),
        Column("turned", 1, "<f2", DEGREES, 0.0),
        Column("cut", 3, "<f2", PLAIN, 0.0, parts="lsr"),
        Column("rim_colour", 3, "<f2", PLAIN, 1.0, parts="rgb"),
        Column("turn", 4, "<f2", PLAIN, 0.0),
        Column("mix", 1, "<f2", PLAIN, 0.0),
        Column("toned", 1, "<f2", PLAIN, 0.0),
        Column("dark", 3, "<f2", PLAIN, 0.0, parts="rgb"),
        Column("bright", 3, "<f2", PLAIN, 1.0, parts="rgb"),
    )
    example = Example(
        fields={
            "shelf": "puffs",
            "size": row(0.5),
            "page": row(1.0, curve("pages", source("life"), STRAIGHT, shape="linear")),
        },
        variants=(
            {
                "shelf": "puffs",
                "page": row(0.25),
                "cut": row(0.2),
                "rim": row(0.1),
                "toned": row(0.6),
                "blend": "between",
            },
            {"pictures": ["sheet", "sheet"], "mixed": "sheet", "mix": row(0.3), "edges": "repeat"},
        ),
    )

    sprite: Literal["picture"] = "picture"
    faces: Annotated[
        Literal["camera", "space"],
        Setting(
            "Faces",
            "A picture that always faces the camera, or one that is turned in space like a sheet of paper, seen from "
            "both sides.",
            choices=(("camera", "the camera"), ("space", "as it is turned in space")),
        ),
    ] = "camera"
    shelf: FromShelf = "petal"
    pictures: Annotated[
        list[Uid],
        Field(max_length=16),
        FILM,
        Setting("Pictures", "Picture props to draw instead; of several, a row says which."),
    ] = []
    cover_by: CoverBy = "alpha"
    across: Annotated[
        int, Field(ge=1, le=64), Setting("Side by side", "How many pages lie side by side in the picture.")
    ] = 1
    down: Annotated[int, Field(ge=1, le=64), Setting("One below another", "How many rows of pages there are.")] = 1
    first: Annotated[int, Field(ge=1, le=4096), Setting("First page")] = 1
    last: Annotated[int, Field(ge=1, le=4096), Setting("Last page", "4096 is the last there is.")] = 4096
    after: Annotated[
        Literal["hold", "repeat"],
        Setting(
            "After the last page",
            "What comes after all pages were seen.",
            choices=(("hold", "it stays"), ("repeat", "from the first again")),
        ),
    ] = "hold"
    blended: Annotated[
        bool, Setting("Pages blend", "Between two pages both are seen, as much as is due; else one follows the other.")
    ] = True
    motion: Annotated[
        Uid | None,
        FILM,
        Setting(
            "Moved by",
            "A picture of where everything on a page is going until the next: red to the right, green downward, half "
            "is nowhere.",
            nothing="nothing",
        ),
    ] = None
    reach: Annotated[
        float, Field(ge=0, le=1), Setting("Reach of the motion", "Of a page's width, at full red or green.", PERCENT)
    ] = 0.05
    edges: Annotated[
        Literal["end", "hold", "repeat", "mirror"],
        Setting(
            "At its edges",
            "What stands beyond a picture's edge.",
            choices=(
                ("end", "it ends"),
                ("hold", "its edge goes on"),
                ("repeat", "it repeats"),
                ("mirror", "it is mirrored"),
            ),
        ),
    ] = "end"
    lies: Annotated[
        Literal["particle", "camera"],
        Setting(
            "The picture lies",
            "On each particle all of it; or thrown by a camera over all of them, as high as its view: each has the "
            "part that falls on it.",
            choices=(("particle", "on each particle"), ("camera", "thrown by a camera")),
        ),
    ] = "particle"
    thrown_by: Annotated[
        Uid | None,
        Refers(
            "props",
            "camera",
            "{name} is drawn with a picture thrown by a camera that is not there.",
            "Choose another, or the effect's own.",
        ),
        Setting("Thrown by", "The camera from where the picture is thrown.", nothing="the effect's camera"),
    ] = None
    cut_by: Annotated[
        Uid | None,
        FILM,
        Setting(
            "Cut out by",
            "Whose brightness the level cuts: a noise, for what burns or wears away.",
            nothing="its own cover",
        ),
    ] = None
    mixed: Annotated[Uid | None, FILM, Setting("Mixed with", "A second picture.", nothing="nothing")] = None

    size: Annotated[
        NumberRow,
        Driven("Size", METRES, 0, 10_000, 0.4, 0.1, "How long the longer side of the picture is.", always=True),
    ]
    opacity: Annotated[
        NumberRow,
        Driven(
            "Opacity",
            PERCENT,
            0,
            1,
            1,
            1.0,
            "How much of what lies behind is covered, or how much light is added.",
            always=True,
        ),
    ]
    colour: Annotated[
        ColourRow,
        Driven(
            "Colour",
            PLAIN,
            0,
            64,
            1,
            (1.0, 1.0, 1.0),
            "What the picture's colours are multiplied by, in linear light. Above 1 it is brighter than paper white.",
            always=True,
        ),
    ]
    which: Annotated[
        NumberRow,
        Driven(
            "Which picture",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "Which of several: 0 is the first, 100 % the last. Driven by a draw each has its own.",
            always=True,
        ),
    ] = number(0)
    page: Annotated[
        NumberRow,
        Driven(
            "Through the pages",
            PERCENT,
            -1000,
            1000,
            1,
            0.0,
            "How far through its pages: 0 the first, 100 % the last; driven by life, all of them over a life.",
            always=True,
        ),
    ] = number(0)
    wide: Annotated[NumberRow, *share_row("Width", 1.0, "How wide it is, of its own width.", 100, 2)] = number(1)
    tall: Annotated[NumberRow, *share_row("Height", 1.0, "How tall it is, of its own height.", 100, 2)] = number(1)
    tiles_across: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Tiles across", PLAIN, 0, 1000, 4, 1.0, "How many times the picture stands side by side on a particle."),
    ] = number(1)
    tiles_down: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Tiles down", PLAIN, 0, 1000, 4, 1.0, "How many times it stands one above the other."),
    ] = number(1)
    offset_across: Annotated[
        NumberRow,
        *share_row(
            "Offset across",
            0.0,
            "How far the picture is moved within the particle to the left, of its width.",
            1000,
            1,
            -1000,
        ),
    ] = number(0)
    offset_down: Annotated[
        NumberRow, *share_row("Offset down", 0.0, "How far it is moved down, of its height.", 1000, 1, -1000)
    ] = number(0)
    turned: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Picture turned", DEGREES, -1000, 1000, 3, 0.0, "How far the picture is turned within the particle."),
    ] = number(0)
    cut: Annotated[
        NumberRow, *share_row("Cut out", 0.0, "How much is cut away, what is faintest first: 0 nothing, 100 % all.")
    ] = number(0)
    cut_soft: Annotated[
        NumberRow, *share_row("Softness of the cut", 0.1, "Over how much of the brightness the cut fades.")
    ] = number(0.1)
    rim: Annotated[
        NumberRow, *share_row("Rim of the cut", 0.0, "How wide a rim glows along the cut, in brightness.")
    ] = number(0)
    rim_colour: Annotated[
        ColourRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Colour of the rim",
            PLAIN,
            0,
            64,
            1,
            (4.0, 1.6, 0.3),
            "The light along the cut, in place of the picture's own.",
        ),
    ] = colour_row(4.0, 1.6, 0.3)
    mix: Annotated[NumberRow, *share_row("Mixed in", 0.0, "How much of the second picture stands for the first.")] = (
        number(0)
    )
    toned: Annotated[
        NumberRow,
        *share_row(
            "Toned",
            0.0,
            "How much its colours become a gradient over its own brightness: from dark over the colour to bright.",
        ),
    ] = number(0)
    dark: Annotated[
        ColourRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Colour of the dark", PLAIN, 0, 64, 1, (0.0, 0.0, 0.0), "Where the picture is black, as far as it is toned."
        ),
    ] = colour_row(0.0, 0.0, 0.0)
    bright: Annotated[
        ColourRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Colour of the bright",
            PLAIN,
            0,
            64,
            1,
            (1.0, 1.0, 1.0),
            "Where the picture is white, as far as it is toned.",
        ),
    ] = colour_row(1.0, 1.0, 1.0)

    # what each optional column is made of, and what its rows are where it is not needed
    @property
    def _parts(self) -> dict[str, tuple[str, ...]]:
        return {
            "wide": ("wide",),
            "tall": ("tall",),
            "tiles": ("tiles_across", "tiles_down"),
            "offset": ("offset_across", "offset_down"),
            "turned": ("turned",),
            "mix": ("mix",) if self.mixed else (),
            "toned": ("toned",),
            "dark": ("dark",) if self._on("toned") else (),
            "bright": ("bright",) if self._on("toned") else (),
            "cut": ("cut",),
            "rim_colour": ("rim_colour",) if self._on("cut") and self._on("rim") else (),
        }

    def _on(self, row: str) -> bool:
        return differs_from_default(getattr(self, row), _defaults(type(self))[row])

    def unused(self) -> frozenset[str]:
        off = {"shelf"} if self.pictures else {"across", "down", "motion"}
        off |= {"which"} if len(self.pictures) < 2 else set()
        if self.pages() <= 1:
            off |= {"page", "after", "blended", "first", "last", "motion"}
        off |= set() if self.motion else {"reach"}
        off |= set() if self._on("cut") else {"cut_soft", "rim", "rim_colour"}
        off |= set() if self._on("rim") else {"rim_colour"}
        off |= set() if self.mixed else {"mix"}
        off |= set() if self.lies == "camera" else {"thrown_by"}
        off |= set() if self._on("toned") else {"dark", "bright"}
        return super().unused() | off

    def _films(self) -> list[Uid]:
        """Return the picture props it is drawn with."""
        return self.pictures

    def pages(self) -> int:
        """Return how many pages one of its pictures has."""
        return self.across * self.down if self.pictures else stock_pages(self.shelf)

    def span(self) -> tuple[int, int]:
        """Return its first and last page, counted from 0."""
        last = min(self.last, self.pages()) - 1
        return min(self.first - 1, last), last

    def given(self) -> frozenset[str]:
        optional = {name for name, rows in self._parts.items() if rows and any(self._on(row) for row in rows)}
        always = {"size", "opacity", "colour", "rotation"} | (
            {"page"} if self.pages() > 1 or len(self._films()) > 1 else set()
        )
        solid = {"turn"} if self.faces == "space" else set()
        return frozenset(always | optional | solid) | self.meets()

    def relies_on(self) -> tuple[str, ...]:
        return ("motion", "turning") if self.faces == "space" else ()

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        b = at.builder
        columns: dict[str, Values] = {name: at.row(f"{address}.{name}") for name in ("size", "opacity")} | {
            "colour": self.tinted(at, address),
            **self.covering(at, address),
        }
        if self.faces == "space":
            known = at.view.thing.motion.turning is not None
            columns["turn"] = tuple(
                b.input(name) if known else b.const(float(i == 3)) for i, name in enumerate(ROTATION_STATE)
            )
        given = self.given()
        for name in [each for each in self._parts if each in given and each not in columns and each != "cut"]:
            columns[name] = tuple(value for row in self._parts[name] for value in at.row(f"{address}.{row}"))
        if "cut" in self.given():
            columns["cut"] = tuple(at.row(f"{address}.{row}")[0] for row in ("cut", "cut_soft", "rim"))
        if "page" in PictureLook.given(self):
            first, last = self.span()
            count = last - first + 1
            share = at.row(f"{address}.page")[0] if count > 1 else b.const(0)
            if self.after == "repeat":
                share = b.op("repeat", share)
                at_page = b.op("mul", share, b.const(count))
            else:
                at_page = b.op("mul", b.op("clamp", share), b.const(count - 1 if self.blended else count))
            top = count if self.after == "repeat" and self.blended else count - 1
            at_page = b.op("min", at_page, b.const(top - 1e-4 if self.after == "repeat" and self.blended else top))
            if not self.blended:
                at_page = b.op("floor", at_page)
            page = b.op("add", at_page, b.const(first))
            if len(self._films()) > 1:
                n = len(self._films())
                which = b.op(
                    "min",
                    b.op("floor", b.op("mul", b.op("clamp", at.row(f"{address}.which")[0]), b.const(n))),
                    b.const(n - 1),
                )
                page = b.op("add", page, b.op("mul", which, b.const(self.pages())))
            columns["page"] = (page,)
        return columns

    def projected(self) -> str | None:
        return (self.thrown_by or "") if self.lies == "camera" else None

    def pictured(self) -> Pictured | None:
        return Pictured(
            None if self.pictures else self.shelf,
            tuple(self.pictures),
            self.motion,
            self.cut_by,
            self.mixed,
            self.across,
            self.down,
            self.cover_by,
            self.edges,
            self.reach,
        )

    def drawn_by(self) -> dict[str, Any]:
        first, last = self.span()
        return {
            **super().drawn_by(),
            "pages": self.pages(),
            "first": first,
            "last": last,
            "repeats": self.after == "repeat",
            "edges": self.edges,
            "moved": self.motion is not None if self.pictures else self.pages() > 1,
        }


@cache
def _defaults(kind: type[LookPart]) -> dict[str, Any]:
    return {facts.name: facts.driven.default for facts in fields_of(kind) if facts.driven}
