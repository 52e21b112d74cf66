"""What an item of the finish is: one thing that is done to the picture, on all of it or on what some emitters and props
show."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ...rows.clip_rows import ByClip
from ...rows.model import CONTENT, DISPLAY_ONLY, VALUE, Name, Refers, Setting, Uid, new_rows
from ...rows.union import OpenUnion

PLATE = Setting("on the backplate too", "Whether a backplate, or the colour behind all, goes through it as well.")


class FinishPart(ByClip):
    """A kind of finish. Its computation is in the module of its name in `core/finishing`.

    acts: on the finished light, as the light is gathered (over time and over a lens), or in the air before it reaches
    the eye. gathers: over what, where it acts as the light is gathered. some: whether it can act on some emitters and
    props alone. plate: whether it acts on a backplate too. linear: whether its effect on a sum of lights is the sum of
    its effects.
    """

    band, holder = "finish", "finish"
    acts: ClassVar[Literal["light", "gathering", "air"]] = "light"
    gathers: ClassVar[Literal["", "shutter", "lens"]] = ""
    some: ClassVar[bool] = True
    linear: ClassVar[bool] = True
    over_plate: ClassVar[bool | None] = False
    flags = ("linear", "on_plate", "rendered")

    kind: str
    uid: Uid
    name: Annotated[Name, DISPLAY_ONLY]
    muted: Annotated[bool, VALUE] = False
    emitters: Annotated[
        list[Annotated[str, Field(min_length=1, max_length=40)]],
        CONTENT,
        Refers("emitters", "", "{name} acts on an emitter that is not there.", "Choose others, or let it act on all."),
        Setting(
            "on emitters",
            "The emitters that it acts on; without any and without props on all that is seen.",
            nothing="all",
        ),
        Field(max_length=32),
    ] = []
    props: Annotated[
        list[Annotated[str, Field(min_length=1, max_length=40)]],
        CONTENT,
        Refers("props", "", "{name} acts on a prop that is not there.", "Choose others, or let it act on all."),
        Setting(
            "on props",
            "The props that it acts on; without any and without emitters on all that is seen.",
            nothing="all",
        ),
        Field(max_length=64),
    ] = []
    plate: Annotated[bool, CONTENT, PLATE] = True

    @classmethod
    def rows_key(cls) -> str:
        return f"finish.{FINISH.tags(cls)[0]}" if FINISH.tags(cls) else "finish"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": FINISH.tags(cls)[0], **new_rows(cls)}

    def unused(self) -> frozenset[str]:
        off = set() if self.some else {"emitters", "props"}
        off |= set() if self.over_plate is None and not self.chosen else {"plate"}
        return frozenset(off)

    @property
    def rendered(self) -> bool:
        """Whether the core alone can show it: it acts while the picture is rendered."""
        return self.acts != "light"

    @property
    def chosen(self) -> bool:
        """Whether it acts on some emitters and props alone."""
        return self.some and bool(self.emitters or self.props)

    @property
    def on_plate(self) -> bool:
        """Whether what stands behind all goes through it too."""
        return not self.chosen and (self.plate if self.over_plate is None else self.over_plate)

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return [each for each in effect.props if each.rendered and not each.mask] if field == "props" else None


FINISH = OpenUnion("finish", FinishPart)
