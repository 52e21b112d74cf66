"""What looks drawn along lines have in common: how wide, in what light, with which picture, each over the line's own
length."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from ...formula import Values
from ...geometry.stock import NAMES, StockName, label_and_help
from ...rows.model import STRUCTURAL_IF_CHANGED, Driven, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import ColourRow, NumberRow, VectorRow, differs_from_default, number, vector
from ...rows.units import METRES, PERCENT, PLAIN
from .base import COVER, DRAWN, SOFT, Column, CoverBy, LookPart, Pictured
from .picture import FILM

STRAND = "strand"  # what the families of rows begin with that are read all along a strand
SHELF = tuple((name, label_and_help(name)[0]) for name in NAMES)


class StrandLook(LookPart):
    """A look that is drawn along a line from each particle, or through several. Its rows are read at every place of the
    line, for the particle that the place belongs to, and may read how far along the line it is (the source *along*)."""

    strands = True
    rows_last = (
        "size",
        "opacity",
        "colour",
        "taper",
        "fade",
        "hardness",
        "tiles",
        "offset",
        "toward",
        "added",
        "hue",
        "saturation",
        "lightness",
        "soft",
    )
    columns = (*DRAWN, COVER, SOFT, Column("hardness", 1, "<f2", PERCENT, 0.5), Column("lies", 1, "<f4", PLAIN, 0.0))
    of_particle: ClassVar[tuple[str, ...]] = ()  # its rows that are read once for a line, not along it

    faces: Annotated[
        Literal["camera", "flat"],
        Setting(
            "Faces",
            "A band that always shows its whole width, or one that lies in space.",
            choices=(("camera", "the camera"), ("flat", "a direction")),
        ),
    ] = "camera"
    drawn_with: Annotated[
        Literal["plain", "shelf", "prop"],
        Setting(
            "Drawn with",
            "What lies along it.",
            choices=(("plain", "colour alone"), ("shelf", "the shelf"), ("prop", "a picture")),
        ),
    ] = "plain"
    shelf: Annotated[StockName, Setting("From the shelf", "A picture that ships.", choices=SHELF, pictured=True)] = (
        "spark"
    )
    picture: Annotated[Uid | None, FILM, Setting("Picture", "A picture prop of the effect.", nothing="none yet")] = None
    cover_by: CoverBy = "alpha"
    repeats: Annotated[
        Literal["length", "metre"],
        Setting(
            "Pictures are laid",
            "Over all of its length however long it is, or so many a metre.",
            choices=(("length", "over its length"), ("metre", "by the metre")),
        ),
    ] = "length"

    size: Annotated[
        NumberRow, Driven("Width", METRES, 0, 10_000, 0.4, 0.04, "How wide it is, from edge to edge.", always=True)
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
            (1.0, 0.8, 0.5),
            "Colour in linear light. Above 1 it is brighter than paper white.",
            always=True,
        ),
    ]
    taper: Annotated[
        NumberRow,
        Driven(
            "Taper",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "Over which share of its length it narrows to nothing, at its far end.",
            always=True,
        ),
    ] = number(0)
    fade: Annotated[
        NumberRow,
        Driven(
            "Fade",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "Over which share of its length it fades to nothing, at its far end.",
            always=True,
        ),
    ] = number(0)
    hardness: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Hardness",
            PERCENT,
            0,
            1,
            1,
            0.5,
            "How much of its width is full: 0 fades from its middle on, 100 % has sharp edges.",
        ),
    ] = number(0.5)
    tiles: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Pictures along it", PLAIN, 0, 1000, 4, 1.0, "How many pictures lie along all of it, or along a metre."),
    ] = number(1)
    offset: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Offset along it", PERCENT, -1000, 1000, 2, 0.0, "How far the pictures are moved along it, of one's length."
        ),
    ] = number(0)
    toward: Annotated[
        VectorRow,
        Driven(
            "Flat toward",
            PLAIN,
            -1,
            1,
            1,
            (0.0, 1.0, 0.0),
            "Which way a band that lies in space shows its face; its length does not count.",
        ),
    ] = vector(0, 1, 0)

    def row_family(self, field: str) -> str:
        return f"look.{field}" if field in (*self.of_particle, "toward") else f"{STRAND}.{field}"

    def unused(self) -> frozenset[str]:
        off = {"toward"} if self.faces == "camera" else set()
        off |= {
            "plain": {"shelf", "picture", "cover_by", "repeats", "tiles", "offset"},
            "shelf": {"picture"},
            "prop": {"shelf"},
        }[self.drawn_with]
        return super().unused() | off

    def pictured(self) -> Pictured | None:
        if self.drawn_with == "plain" or (self.drawn_with == "prop" and self.picture is None):
            return None
        named = (self.picture,) if self.drawn_with == "prop" and self.picture else ()
        return Pictured(None if named else self.shelf, named, cover_by=self.cover_by, edges="repeat")

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return (
            ("picture", "is drawn with no picture yet", "Choose one.")
            if self.drawn_with == "prop" and self.picture is None
            else None
        )

    def given(self) -> frozenset[str]:
        hard = {"hardness"} if differs_from_default(self.hardness, 0.5) else set()
        laid = {"lies"} if self.drawn_with != "plain" else set()
        return frozenset({"size", "opacity", "colour", *laid, *hard}) | self.meets()

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        """Return its columns at a place of a strand (state `along`: 0 at the particle, 1 at the far end; `metres`: how
        far that is)."""
        b = at.builder
        along, metres = at.state("along")[0], at.state("metres")[0]

        def runs_out(name: str) -> int:
            left = b.op(
                "sub", b.const(1 + 1e-4), along
            )  # a hair more than there is, so that 0 leaves the far end as it is
            return b.op("clamp", b.op("div", left, b.op("max", at.row(f"{address}.{name}")[0], b.const(1e-4))))

        columns = {
            name: (b.op("mul", at.row(f"{address}.{name}")[0], runs_out(by)),)
            for name, by in (("size", "taper"), ("opacity", "fade"))
        }
        lies = b.op("mul", metres if self.repeats == "metre" else along, at.row(f"{address}.tiles")[0])
        columns["lies"] = (b.op("sub", lies, at.row(f"{address}.offset")[0]),)
        return {
            **columns,
            "hardness": at.row(f"{address}.hardness"),
            "colour": self.tinted(at, address),
            **self.covering(at, address),
        }

    def drawn_by(self) -> dict[str, Any]:
        return {**super().drawn_by(), "lines": True}

    @classmethod
    def adapted_to(cls, data: dict[str, Any], effect: Any, thing: Any) -> dict[str, Any]:
        """Return a new one that is as wide, as opaque and of the colour that the emitter's particles have, whatever
        these come to."""
        own = {"size": {"kind": "size"}, "opacity": {"kind": "opacity"}, "colour": {"kind": "colour", "part": "whole"}}
        rows = {name: {"base": {"source": source, "read": "live"}, "responses": []} for name, source in own.items()}
        return {**data, **rows, "blend": thing.look.blend}

    def along_course(self, at: Reader, address: str) -> dict[str, Values]:
        """Return what its lines are made from, of every particle: the rows that are read once for a line, by their
        fields."""
        names = [*self.of_particle, *(("toward",) if self.faces == "flat" else ())]
        return {name: at.row(f"{address}.{name}") for name in names if name not in self.unused()}
