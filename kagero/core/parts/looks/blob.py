"""One surface round all of an emitter's particles: drops that run together and part again."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ...formula import Values
from ...rows.example import Example
from ...rows.model import STRUCTURAL_IF_CHANGED, VALUE, Driven, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import ColourRow, NumberRow, number
from ...rows.units import METRES, PERCENT, PLAIN
from .base import COVER, DRAWN, SOFT, Column, CoverBy, LookPart, Pictured
from .picture import FILM, FromShelf, share_row


class BlobLook(LookPart):
    """One surface round all particles: those that come near each other run together."""

    label = "Blobs"
    help = (
        "One surface round all particles, as drops have it: those that come near each other run together, and part "
        "again."
    )
    columns = (
        *DRAWN,
        COVER,
        SOFT,
        Column("level", 1, "<f4", PERCENT, 1.0),
        Column("smooth", 1, "<f4", PLAIN, 1.6),
        Column("uv", 2, "<f4", PLAIN, 0.0),
    )
    surfaces = True
    example = Example(variants=({"blend": "between"},))

    sprite: Literal["blob"] = "blob"
    cell: Annotated[
        float,
        VALUE,
        Field(gt=0, le=100),
        Setting(
            "Cell",
            "How large the cells are that the surface is found in: no drop should be smaller. Coarser while a hand "
            "moves something.",
            METRES,
        ),
    ] = 0.02
    drawn_with: Annotated[
        Literal["plain", "picture"],
        Setting(
            "Drawn with",
            "What is seen of its surface, times its colour: a picture lies on it where its particles were born, by u "
            "and v, mixed where they meet.",
            choices=(("plain", "colour alone"), ("picture", "a picture")),
        ),
    ] = "plain"
    shelf: FromShelf = "tile"
    picture: Annotated[
        Uid | None, FILM, Setting("Picture", "A picture prop to draw instead.", nothing="one from the shelf")
    ] = None
    cover_by: CoverBy = "alpha"
    edges: Annotated[
        Literal["hold", "repeat", "mirror"],
        Setting(
            "At its edges",
            "What stands beyond a picture's edge.",
            choices=(("hold", "its edge goes on"), ("repeat", "it repeats"), ("mirror", "it is mirrored")),
        ),
    ] = "repeat"
    gloss: Annotated[
        float, VALUE, Field(ge=0, le=4), Setting("Gleam", "How much of a gleam its surface has.", PERCENT)
    ] = 0.4
    lit: Annotated[
        bool, Setting("Lit", "Shaded by the light that props stand in; else it shines in its own colour.")
    ] = True

    size: Annotated[
        NumberRow,
        Driven("Size", METRES, 0, 10_000, 0.4, 0.12, "How wide a particle alone is, at a level of 100 %.", always=True),
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
            "How much of what lies behind is covered; mixed where they run together.",
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
            (0.9, 0.55, 0.16),
            "Colour in linear light; mixed where they run together.",
            always=True,
        ),
    ]
    smooth: Annotated[
        NumberRow,
        Driven(
            "Smoothness",
            PLAIN,
            1.05,
            6,
            2,
            1.6,
            "How far beyond its own surface a particle reaches for others, in its own size: more runs together sooner.",
            "emitter",
            always=True,
        ),
    ] = number(1.6)
    level: Annotated[
        NumberRow,
        Driven(
            "Level",
            PERCENT,
            0.01,
            100,
            1,
            1.0,
            "Where in the field the surface is: at 100 % a particle alone is as large as it says; more makes all "
            "thinner.",
            "emitter",
            always=True,
        ),
    ] = number(1)

    tiles_across: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Tiles across", PLAIN, 0, 1000, 4, 1.0, "How many times the picture stands over where u goes from 0 to 1."
        ),
    ] = number(1)
    tiles_down: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Tiles down", PLAIN, 0, 1000, 4, 1.0, "How many times it stands over where v goes from 0 to 1."),
    ] = number(1)
    offset_across: Annotated[
        NumberRow,
        *share_row(
            "Offset across",
            0.0,
            "How far along the picture a particle's place on it is moved, of its width.",
            1000,
            1,
            -1000,
        ),
    ] = number(0)
    offset_down: Annotated[
        NumberRow, *share_row("Offset down", 0.0, "How far up the picture it is moved.", 1000, 1, -1000)
    ] = number(0)

    def unused(self) -> frozenset[str]:
        off = {"order", "stands", "soft"} | (set() if self.lit else {"gloss"})
        off |= ({"shelf"} if self.picture else set()) if self.drawn_with == "picture" else _OF_PICTURES
        return super().unused() | off

    def given(self) -> frozenset[str]:
        laid = {"uv"} if self.drawn_with == "picture" else set()
        return frozenset({"size", "opacity", "colour", "level", "smooth"} | laid) | (self.meets() - {"soft"})

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        rows = {name: at.row(f"{address}.{name}") for name in ("size", "opacity", "level", "smooth")}
        covering = {name: value for name, value in self.covering(at, address).items() if name != "soft"}
        if self.drawn_with == "picture":
            b = at.builder
            born = at.kept_from_birth("birth_uv", 2, lambda birth: birth.birthplace()[6:8])
            tiles, offset = (
                [at.row(f"{address}.{name}_{axis}")[0] for axis in ("across", "down")] for name in ("tiles", "offset")
            )
            rows["uv"] = tuple(b.op("add", b.op("mul", x, n), o) for x, n, o in zip(born, tiles, offset, strict=True))
        return {**rows, "colour": self.tinted(at, address), **covering}

    def pictured(self) -> Pictured | None:
        if self.drawn_with == "plain":
            return None
        return Pictured(
            None if self.picture else self.shelf,
            (self.picture,) if self.picture else (),
            cover_by=self.cover_by,
            edges=self.edges,
        )

    def drawn_by(self) -> dict[str, Any]:
        return {
            **super().drawn_by(),
            "surface": True,
            "lit": self.lit,
            "gloss": self.gloss,
            "stands": "depth",
            "edges": self.edges,
        }


_OF_PICTURES = frozenset(
    {"shelf", "picture", "cover_by", "edges", "tiles_across", "tiles_down", "offset_across", "offset_down"}
)
