"""A body on each particle: a mesh, turned in space, in its own materials, one colour, or with a picture as of pictures
on particles."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ...formula import Values
from ...geometry.forms import NAMES, FormName, label_and_help
from ...rows.example import Example
from ...rows.model import STRUCTURAL_IF_CHANGED, VALUE, Driven, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, differs_from_default, number, vector
from ...rows.turn import ROTATION_STATE, product, rotation_about, rotation_toward, rotation_upright
from ...rows.units import DEGREES, PERCENT, PLAIN
from ...rows.writing import row
from .base import Column, Formed, Pictured
from .picture import PictureLook, share_row

SOLID = Refers(
    "props", "meshed", "{name} is drawn as a mesh that is not there.", "Choose another, or a form from the shelf."
)
PART = ("part", "its own part")
FORMS = tuple((name, label_and_help(name)[0]) for name in NAMES)


class PieceLook(PictureLook):
    """A mesh on each particle, turned in space: pieces of things, leaves, boards, a blade's sweep."""

    label = "Piece"
    help = "A mesh on each particle, turned in space: a form from the shelf, a mesh prop, or one of several."
    resources = ("forms",)
    columns = (
        *(column for column in PictureLook.columns if column.name != "turn"),
        Column("deep", 1, "<f2", PLAIN, 1.0),
        Column("turn", 4, "<f4", PLAIN, 0.0),
        Column("pivot", 3, "<f4", PLAIN, 0.0),
        Column("form", 1, "<f4", PLAIN, 0.0),
    )
    example = Example(
        variants=(
            {"form": "leaf", "pitch": row(0.4)},
            {
                "form": "leaf",
                "drawn_with": "picture",
                "shelf": "tile",
                "edges": "repeat",
                "cut": row(0.2),
                "rim": row(0.1),
                "toned": row(0.6),
                "blend": "between",
            },
            {
                "form": "leaf",
                "drawn_with": "picture",
                "shelf": "tile",
                "edges": "repeat",
                "pictures": ["sheet", "sheet"],
                "mixed": "sheet",
                "mix": row(0.3),
                "across": 2,
                "meshes": ["ball", "ball"],
            },
        ),
    )

    sprite: Literal["piece"] = "piece"  # type: ignore[assignment]
    form: Annotated[
        Literal["part", FormName],
        Setting(
            "Form",
            "The part it broke off as, or one that ships; used where no mesh of the effect is chosen.",
            choices=(PART, *FORMS),
        ),
    ] = "leaf"
    meshes: Annotated[
        list[Uid],
        Field(max_length=16),
        SOLID,
        Setting("Meshes", "Mesh props to draw instead; of several, a row says which."),
    ] = []
    sized: Annotated[
        Literal["longest", "own"],
        Setting(
            "Its size is",
            "How long its longest side is; or how long a metre of the mesh is: at 1 m it is as large as it was made.",
            choices=(("longest", "of its longest side"), ("own", "of a metre of it")),
        ),
    ] = "longest"
    pivots: Annotated[
        Literal["middle", "origin", "base"],
        Setting(
            "Held by",
            "What of it is where the particle is, and what it turns about.",
            choices=(("middle", "its middle"), ("origin", "its own origin"), ("base", "the middle of its underside")),
        ),
    ] = "middle"
    faces: Annotated[
        Literal["space", "camera", "motion", "surface", "world"],
        Setting(
            "Turned",
            "What its own x, y and z follow; then it is turned, tilted and rolled by its rows.",
            choices=(
                ("space", "as it is turned in space"),
                ("camera", "its front to the camera"),
                ("motion", "its front along its motion"),
                ("surface", "upright on the surface"),
                ("world", "by its rows alone"),
            ),
        ),
    ] = "motion"  # type: ignore[assignment]
    drawn_with: Annotated[
        Literal["own", "plain", "picture"],
        Setting(
            "Drawn with",
            "What is seen of its surface, times its colour.",
            choices=(("own", "its own materials"), ("plain", "colour alone"), ("picture", "a picture")),
        ),
    ] = "own"
    lit: Annotated[
        bool, Setting("Lit", "Shaded by the light that props stand in; else it shines in its own colour.")
    ] = True
    gloss: Annotated[
        float, VALUE, Field(ge=0, le=4), Setting("Gleam", "How much of a gleam its surface has.", PERCENT)
    ] = 0.0
    both: Annotated[
        bool, Setting("Both faces", "Its back faces are seen too: for sheets. Closed bodies need none.")
    ] = True

    which: Annotated[
        NumberRow,
        Driven(
            "Which one",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "Which of several: 0 is the first, 100 % the last. Driven by a draw each has its own.",
            always=True,
        ),
    ] = number(0)
    deep: Annotated[NumberRow, *share_row("Depth", 1.0, "How deep it is, of its own depth.", 100, 2)] = number(1)
    yaw: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Turned about y", DEGREES, -100_000, 100_000, 3, 0.0, "How far it is turned about its own y."),
    ] = number(0)
    pitch: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Tilted about x",
            DEGREES,
            -100_000,
            100_000,
            3,
            0.0,
            "How far it is tilted about its own x, after it was turned.",
        ),
    ] = number(0)
    roll: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Rolled about z", DEGREES, -100_000, 100_000, 3, 0.0, "How far it is rolled about its own z, after that."
        ),
    ] = number(0)
    pivot: Annotated[
        VectorRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Pivot",
            PLAIN,
            -100,
            100,
            2,
            (0.0, 0.0, 0.0),
            "How far from there it is held, of half of its width, height and depth.",
        ),
    ] = vector(0, 0, 0)

    @property
    def _parts(self) -> dict[str, tuple[str, ...]]:
        shown = super()._parts if self.drawn_with == "picture" else {"wide": ("wide",), "tall": ("tall",)}
        return {**shown, "deep": ("deep",), "pivot": ("pivot",)}

    def unused(self) -> frozenset[str]:
        off = {"sized", "pivots", "faces"} if self._parts_of else set()
        off |= set(super().unused()) - {"which"} | {"lies", "thrown_by"} | ({"form"} if self.meshes else set())
        off |= (
            {"which"} if max(len(self.meshes), len(self.pictures) if self.drawn_with == "picture" else 0) < 2 else set()
        )
        if self.drawn_with != "picture":
            off |= _OF_PICTURES
        return frozenset(off)

    def relies_on(self) -> tuple[str, ...]:
        return ("motion", "turning") if self.faces == "space" and not self._parts_of else ()

    def _films(self) -> list[Uid]:
        return self.pictures if self.drawn_with == "picture" else []

    def pages(self) -> int:
        return super().pages() if self.drawn_with == "picture" else 1

    def pictured(self) -> Pictured | None:
        if self.drawn_with == "picture":
            return super().pictured()
        own = self.drawn_with == "own" and (self.meshes or self._parts_of)
        return Pictured(None, tuple(self.meshes), edges="repeat", of_meshes=True) if own else None

    @property
    def _parts_of(self) -> bool:
        """Whether each is drawn as the part that it broke off as."""
        return self.form == "part" and not self.meshes

    def formed(self) -> Formed | None:
        return Formed("" if self.meshes else self.form, tuple(self.meshes), self.drawn_with, self._parts_of)

    def projected(self) -> str | None:
        return None

    def given(self) -> frozenset[str]:
        several = {"form"} if len(self.meshes) > 1 or self._parts_of else set()
        paged = {"page"} if self.drawn_with == "own" and len(self.meshes) > 1 else set()
        return (super().given() - {"rotation"}) | several | paged | {"turn"}

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        b = at.builder
        columns = super().write(at, address)
        if len(self.meshes) > 1:
            n = len(self.meshes)
            which = b.op(
                "min",
                b.op("floor", b.op("mul", b.op("clamp", at.row(f"{address}.which")[0]), b.const(n))),
                b.const(n - 1),
            )
            columns["form"] = (which,)
            if self.drawn_with == "own":
                columns["page"] = (which,)
        if self._parts_of:
            columns["form"] = at.view.thing.births.place.part(at) or (b.const(0),)
        columns["turn"] = self._turned(at, address)
        return columns

    def _turned(self, at: Reader, address: str) -> Values:
        """Return how it is turned: a unit quaternion, from its own axes to the world's, of what faces the camera to the
        view's."""
        b = at.builder
        none = b.const(0)
        q: Values = (none, none, none, b.const(1))
        faces = "space" if self._parts_of else self.faces
        if faces == "space" and at.view.thing.motion.turning is not None:
            q = tuple(b.input(name) for name in ROTATION_STATE)
        elif faces == "space" and at.view.thing.births.place.counted:
            q = at.kept_from_birth("birth_turn", 4, lambda birth: birth.view.thing.births.place.turned(birth))
        elif faces == "motion":
            q = rotation_toward(b, at.state("velocity"))
        elif faces == "surface":
            rides = [ride for ride in at.view.thing.rides if hasattr(ride, "normal")]
            normal = (
                rides[0].normal(at)
                if rides
                else at.kept_from_birth("birth_normal", 3, lambda birth: birth.birthplace()[3:6])
            )
            q = rotation_upright(b, normal)
        for name, axis in (("yaw", 1), ("pitch", 0), ("roll", 2)):
            if differs_from_default(getattr(self, name), 0.0):
                angle = at.row(f"{address}.{name}")[0]
                q = product(b, q, rotation_about(b, tuple(angle if k == axis else none for k in range(3))))
        return q

    def drawn_by(self) -> dict[str, Any]:
        clear = self.blend == "over" and self.stands == "depth" and not ({"cut", "soft"} & self.given())
        return {
            **super().drawn_by(),
            "eye": self.faces == "camera" and not self._parts_of,
            "lit": self.lit,
            "both": self.both,
            "gloss": self.gloss,
            "sized": "own" if self._parts_of else self.sized,
            "pivots": "origin" if self._parts_of else self.pivots,
            "clear": clear,
            "drawn_with": self.drawn_with,
        }


_OF_PICTURES = frozenset(
    {
        "shelf",
        "pictures",
        "cover_by",
        "across",
        "down",
        "first",
        "last",
        "after",
        "blended",
        "motion",
        "reach",
        "edges",
        "cut_by",
        "mixed",
        "page",
        "tiles_across",
        "tiles_down",
        "offset_across",
        "offset_down",
        "turned",
        "cut",
        "cut_soft",
        "rim",
        "rim_colour",
        "mix",
        "toned",
        "dark",
        "bright",
    }
)
