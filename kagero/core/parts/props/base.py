"""What a prop is: something that an effect must fit. Its geometry comes from a file, or from what stands in the
document."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...errors import Finding
from ...geometry import ImportedGeometry, Mesh, Path
from ...program import Program, ProgramValues
from ...rows.clip_rows import ByClip
from ...rows.curves import Colour
from ...rows.model import (
    CONTENT,
    DISPLAY_ONLY,
    Driven,
    Mark,
    Model,
    Name,
    Number,
    Refers,
    Setting,
    Uid,
    Vector,
    new_rows,
)
from ...rows.responses import NumberRow, VectorRow, number, vector
from ...rows.union import OpenUnion
from ...rows.units import DEGREES, METRES, PERCENT, PLAIN
from ...rows.view import find_thing
from .file_refs import FileRef

Metres = Annotated[float, Field(ge=0, le=10_000)]
ClipTime = Annotated[float, Field(ge=-100_000, le=100_000)]
SHAPED = Mark("shaped")  # beside a field: the prop's geometry depends on it


class Follow(Model):
    """What a prop is fixed to: another prop's own place, a point on its surface, the mean of chosen points of it, or
    its bounds: then the prop's origin is their middle, and a metre of it is as long as they are along each axis."""

    prop: Annotated[Uid, Refers("props")]
    at: Literal["place", "surface", "points", "bounds"] = "place"
    face: int = Field(default=0, ge=0)
    bary: tuple[float, float, float] = (1.0, 0.0, 0.0)
    points: list[Annotated[int, Field(ge=0)]] = Field(default=[], max_length=4096)
    turns: bool = Field(
        default=True, description="It turns and grows with what it follows; else only its place follows."
    )


class Dissolve(Model):
    """A prop goes where a mask is. latched: what the mask once touched stays gone."""

    mask: Annotated[
        Uid, Refers("props", "mask", "{name} dissolves by a mask that is not there.", "Choose another, or let it stay.")
    ]
    latched: bool = True


@dataclass(frozen=True)
class PropOffer:
    """A prop that can be added. name: what it is called first, before it is told apart from others; fields: those that
    are not at their defaults, plain."""

    label: str
    name: str
    fields: dict[str, Any]
    group: str = ""


class Stroke(Model):
    """One stroke of the soft brush over a mesh: what it does, in the prop's own space. strength: metres of push or
    pull, else a share.

    on: whether it acts; amount: how much of its strength.
    """

    kind: Literal["push", "pull", "scale", "smooth"]
    radius: Annotated[float, Field(gt=0, le=1000)]
    strength: Annotated[float, Field(ge=-100, le=100)]
    points: list[Vector] = Field(min_length=1, max_length=400)
    on: bool = True
    amount: Annotated[float, Field(ge=-4, le=4)] = 1.0


class PaintStroke(Model):
    """One stroke of the same brush that paints a share onto a prop, 0 to 1, or takes it away; in the prop's own space,
    as it is at rest."""

    kind: Literal["paint", "erase"]
    radius: Annotated[float, Field(gt=0, le=1000)]
    strength: Annotated[float, Field(gt=0, le=1)] = 1.0
    points: list[Vector] = Field(min_length=1, max_length=400)
    on: bool = True


Strokes = Annotated[list[Stroke], CONTENT, Field(max_length=2000, description="What the brush did to it, in order.")]


@dataclass(frozen=True)
class Maker:
    """What props may use to build their geometry. content: gives the contents of files by hash, raising GeometryProblem
    for a missing one. run: runs a formula's program for a line, (count, 3) points in metres."""

    content: Callable[[str], ImportedGeometry]
    run: Callable[[Program, ProgramValues], np.ndarray]


class PropPart(ByClip):
    """A kind of prop.

    births_on: where on it particles can be born. placed: it stands somewhere, and its place can be read. solid: it has
    a surface or a line that things are near to; pictured: it has a picture that can be read; film: it is a picture;
    guiding: rays can meet it; dense: a picture can say how dense births on it are; camera, mask, line: what it is.
    holds: others can be fixed to its surface or points. dissolves: it can go where a mask is; tinted: it is drawn in a
    colour of its own; paintable: a share can be painted onto it; field: it is a field of vectors; offers: what of the
    kind can be added without a file.
    """

    band, holder = "props", "prop"
    births_on: ClassVar[tuple[str, ...]] = ()
    placed: ClassVar[bool] = True
    solid: ClassVar[bool] = True
    pictured: ClassVar[bool] = False
    film: ClassVar[bool] = False
    guiding: ClassVar[bool] = False
    dense: ClassVar[bool] = False
    camera: ClassVar[bool] = False
    mask: ClassVar[bool] = False
    line: ClassVar[bool] = False
    holds: ClassVar[bool] = True
    dissolves: ClassVar[bool] = True
    tinted: ClassVar[bool] = True
    paintable: ClassVar[bool] = False
    field: ClassVar[bool] = False
    rendered: ClassVar[bool] = True  # pictures can show it
    light: ClassVar[bool] = False
    animated: ClassVar[bool] = False  # it has a clock of its own: fields start, speed and loops
    materials: ClassVar[bool] = False  # its geometry brings colours and pictures
    breaks_as: ClassVar[str] = "scraps"  # the parts that it is broken into unless somebody says otherwise
    offers: ClassVar[tuple[PropOffer, ...]] = ()
    flags = (
        "placed",
        "solid",
        "meshed",
        "breaks",
        "pictured",
        "film",
        "guiding",
        "dense",
        "camera",
        "mask",
        "line",
        "holds",
        "paintable",
        "field",
        "light",
        "throws",
    )

    kind: str
    uid: Uid
    name: Annotated[Name, DISPLAY_ONLY]
    follow: Annotated[Follow | None, Setting("Follows", "What it is fixed to.", nothing="nothing")] = None
    shown: Annotated[
        Literal["shaded", "lines", "uv", "ghost", "hidden"],
        DISPLAY_ONLY,
        Setting(
            "Shown",
            "How the stage and pictures show it.",
            choices=(("lines", "as lines"), ("uv", "u and v"), ("ghost", "see-through")),
        ),
    ] = "shaded"
    tint: Annotated[Colour, CONTENT, Setting("Tint", "The colour it is drawn in, in linear light.")] = (0.32, 0.3, 0.27)
    in_pictures: Annotated[
        bool,
        DISPLAY_ONLY,
        Setting(
            "in pictures",
            "Whether renders show it. Seen or not, it guides, gives births, holds masks and can be followed.",
        ),
    ] = True
    lit: Annotated[
        bool, DISPLAY_ONLY, Setting("lit", "Whether light falls on it; else it shows its colour as it is.")
    ] = True
    casts: Annotated[bool, DISPLAY_ONLY, Setting("casts shadows", "Whether lights with shadows throw its.")] = True
    catches: Annotated[
        bool,
        DISPLAY_ONLY,
        Setting(
            "only catches shadows",
            "Of it nothing is seen in pictures but the shadows on it: a ground over a backplate.",
        ),
    ] = False
    seen_from: Annotated[
        Uid | None,
        CONTENT,
        Refers(
            "moments", "", "{name} is seen from a moment that is not there.", "Choose another, or the clip's beginning."
        ),
        Setting(
            "Seen from",
            "The moment from which it is seen. Seen or not, it guides and gives births.",
            nothing="the beginning",
        ),
    ] = None
    seen_until: Annotated[
        Uid | None,
        CONTENT,
        Refers("moments", "", "{name} is seen until a moment that is not there.", "Choose another, or the clip's end."),
        Setting("Seen until", "The moment from which it is seen no more.", nothing="the end"),
    ] = None
    group: Annotated[str, DISPLAY_ONLY] = Field(
        default="", max_length=80, description="Under which heading it stands among the props."
    )
    paint: Annotated[list[PaintStroke], CONTENT] = Field(
        default=[], max_length=2000, description="What was painted onto it, in order."
    )
    dissolve: Annotated[Dissolve | None, CONTENT, Setting("Dissolves", "The mask by which it goes.", nothing="not")] = (
        None
    )

    @property
    def meshed(self) -> bool:
        """Whether it is made of triangles, and no picture."""
        return "surface" in self.births_on and not self.film

    @property
    def shaded(self) -> bool:
        """Whether light can fall on it."""
        return self.rendered and self.solid and not self.film and not self.mask

    @property
    def throws(self) -> bool:
        """Whether it is a light that throws shadows."""
        return False

    @property
    def breaks(self) -> bool:
        """Whether it can fall into parts."""
        return "surface" in self.births_on

    @property
    def bearing(self) -> bool:
        """Whether particles can be born on it."""
        return bool(self.births_on)

    def drawn_points(self) -> Any:
        """Return the points that somebody drew it through, (n, 3) metres; None where it has none."""
        return None

    def exact_shape(self) -> tuple[str, dict[str, Any]] | None:
        """Return the name and sizes of the built-in shape (`geometry.shapes`) that it is exactly; None of others."""
        return None

    @classmethod
    def rows_key(cls) -> str:
        return "props"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": PROPS.tags(cls)[0], **new_rows(cls)}

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        """Yield what a file that was brought in becomes as a prop of this kind. file: its facts (`formats.importing`),
        with content and name."""
        return iter(())

    def summary(self) -> str:
        """Return what it is, in a word or two."""
        return self.kind

    def unused(self) -> frozenset[str]:
        there = {"dissolve": self.dissolves, "tint": self.tinted, "in_pictures": self.rendered} | dict.fromkeys(
            ("lit", "casts", "catches"), self.shaded
        )
        return frozenset(name for name, has in there.items() if not has)

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        if field == "follow":
            return [each for each in effect.props if not each.mask and not _follows(effect, each, self.uid)]
        return [each for each in effect.props if each.mask] if field == "dissolve" else None

    def referred(self) -> Iterator[tuple[str, FileRef]]:
        """Yield the files that it is made of, each with its place in the prop."""
        if (file := getattr(self, "file", None)) is not None:
            yield "file", file
        for place, each in enumerate(getattr(self, "files", ())):
            yield f"files.{place}", each

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        """Return its geometry in its own space, metres, without what the brush did to it; None where it has none.

        Raises GeometryProblem for a file that is not there or holds something else.
        """
        return None

    def pictured_at(self, times: np.ndarray, rate: float, moves: bool) -> np.ndarray:
        """Return which of its pictures it shows at clip times (n,), by number. rate: frames a second; moves: whether
        its rows change with time."""
        return np.zeros(len(times))

    def picture_key(self, number: int, own: dict[str, float]) -> str:
        """Return a text equal for equal pictures. own: its rows at the time of that picture."""
        return ""

    def picture(self, maker: Maker, number: int, own: dict[str, float]) -> ImportedGeometry:
        """Return one of its pictures. Raises GeometryProblem for a file that is not there."""
        raise NotImplementedError

    def lacks(self) -> str:
        """Return what its geometry is made without, in words; or nothing."""
        return ""

    def stands_at(self) -> str | None:
        """Return the uid of the prop at whose place it is, where it has none of its own."""
        return None

    def findings(self, effect: Any, where: str) -> Iterator[Finding]:
        """Yield what it names that is not there or does not fit. where: its place in the document."""
        return iter(())


Position = Annotated[
    VectorRow,
    Driven(
        "Position",
        METRES,
        -100_000,
        100_000,
        2,
        (0.0, 0.0, 0.0),
        "Where the prop stands; of one that follows another, from there.",
        always=True,
    ),
]
Rotation = Annotated[
    VectorRow,
    Driven(
        "Rotation",
        DEGREES,
        -1_000_000,
        1_000_000,
        3,
        (0.0, 0.0, 0.0),
        "Turned about y first, then tilted about x, then rolled about z.",
        always=True,
    ),
]
Scale = Annotated[
    VectorRow,
    Driven(
        "Scale", PLAIN, -10_000, 10_000, 2, (1.0, 1.0, 1.0), "How many times larger, along its own axes.", always=True
    ),
]


class StandingProp(PropPart):
    """A prop with a place of its own, which rows can drive."""

    position: Position = vector(0.0, 0.0, 0.0)
    rotation: Rotation = vector(0.0, 0.0, 0.0)
    scale: Scale = vector(1.0, 1.0, 1.0)


Share = Annotated[float, Field(ge=0, le=1)]
_PICTURE = Refers("props", "film", "{name} shows a picture that is not there.", "Choose another, or none.")


class SurfaceProp(StandingProp):
    """A standing prop whose surface light falls on: how rough it is, how much metal, the light that it gives by itself,
    and pictures on it.

    A picture's numbers, as bright as they look (of 0 to 1, by luminance), drive roughness or glow through levels:
    nothing at the one, all at the other; over turned about it is the other way.
    """

    roughness: Annotated[
        NumberRow,
        Driven(
            "Roughness",
            PERCENT,
            0,
            1,
            1,
            1.0,
            "How far it spreads what it reflects: at 100 % matte, without a gleam. Times its file's.",
        ),
    ] = number(1)
    metal: Annotated[
        NumberRow,
        Driven(
            "Metal", PERCENT, 0, 1, 1, 0.0, "How far it reflects as metal does, in its own colour. Beside its file's."
        ),
    ] = number(0)
    glow: Annotated[
        NumberRow,
        Driven(
            "Glow", PLAIN, 0, 1000, 2, 0.0, "How much light of its own colour it gives by itself. Beside its file's."
        ),
    ] = number(0)
    covering: Annotated[
        Uid | None, CONTENT, _PICTURE, Setting("Picture on it", "The picture prop that it shows.", nothing="its own")
    ] = None
    laid_by: Annotated[
        Uid | None,
        CONTENT,
        Refers(
            "props",
            "camera",
            "{name} has its picture laid on by a camera that is not there.",
            "Choose another, or its own u and v.",
        ),
        Setting(
            "Laid on by",
            "The camera that throws the picture onto it: detail is where it is seen.",
            nothing="its u and v",
        ),
    ] = None
    rough_by: Annotated[
        Uid | None,
        CONTENT,
        _PICTURE,
        Setting("Roughness by", "A picture that its roughness is multiplied by.", nothing="no picture"),
    ] = None
    rough_from: Annotated[
        Share,
        CONTENT,
        Setting("smooth where it is", "How bright the picture is where its roughness is nothing.", PERCENT),
    ] = 0.0
    rough_to: Annotated[
        Share, CONTENT, Setting("rough where it is", "How bright the picture is where its roughness is whole.", PERCENT)
    ] = 1.0
    glow_by: Annotated[
        Uid | None,
        CONTENT,
        _PICTURE,
        Setting("Glow by", "A picture that its glow is multiplied by.", nothing="no picture"),
    ] = None
    glow_from: Annotated[
        Share, CONTENT, Setting("dark where it is", "How bright the picture is where nothing glows.", PERCENT)
    ] = 0.0
    glow_to: Annotated[
        Share, CONTENT, Setting("glows where it is", "How bright the picture is where all glows.", PERCENT)
    ] = 1.0

    def unused(self) -> frozenset[str]:
        off = {"laid_by"} if not (self.covering or self.rough_by or self.glow_by) else set()
        off |= {"rough_from", "rough_to"} if not self.rough_by else set()
        off |= {"glow_from", "glow_to"} if not self.glow_by else set()
        return super().unused() | off


def _follows(effect: Any, prop: Any, uid: str) -> bool:
    """Return whether a prop is another, or follows it, over however many."""
    seen: set[str] = set()
    here = prop
    while here is not None and here.uid not in seen:
        if here.uid == uid:
            return True
        seen.add(here.uid)
        here = find_thing(effect.props, here.follow.prop) if here.follow is not None else None
    return False


MESHED = ("surface", "inside", "points", "edges")
PROPS = OpenUnion("prop", PropPart)
Profile = Annotated[list[tuple[Metres, Number]], Field(min_length=2, max_length=64)]
