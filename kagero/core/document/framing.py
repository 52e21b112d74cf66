"""The frame that pictures are taken in: through which camera, how large, and what stands behind all."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field

from ..errors import Finding
from ..rows.clip_rows import ByClip
from ..rows.model import CONTENT, DISPLAY_ONLY, Driven, Refers, Setting, Uid
from ..rows.responses import ColourRow, NumberRow, colour, number
from ..rows.units import PIXELS, PLAIN, STOPS
from ..rows.view import find_thing

Side = Annotated[int, Field(ge=16, le=8192)]


class Framing(ByClip):
    """The frame that pictures are taken in.

    pixel: how wide a pixel is over its height. behind: the clip's ground, a colour of its own, or the picture of a
    prop, which fills the frame. space: in what its numbers are encoded: sRGB (IEC 61966-2-1), linear light, or video of
    ITU-R BT.709 as ITU-R BT.1886 shows it (2.4).
    """

    label = "Frame"
    help = "The camera, the size of pictures, and what stands behind all."
    band, holder = "frame", "frame"

    uid: Literal["frame"] = "frame"
    name: Annotated[Literal["frame"], DISPLAY_ONLY] = "frame"
    camera: Annotated[
        Uid | None,
        CONTENT,
        Refers("props", "camera", goes_without=True),
        Setting("Camera", "The camera that pictures are taken by.", nothing="the effect's view"),
    ] = None
    width: Annotated[Side, CONTENT, Setting("Width", "How wide pictures are.", PIXELS, side="height")] = 1280
    height: Annotated[Side, CONTENT, Setting("Height", "How high pictures are.", PIXELS, side="width")] = 720
    pixel: Annotated[
        float,
        CONTENT,
        Field(ge=0.25, le=4),
        Setting(
            "Shape of a pixel", "How wide it is over its height: 1 is square, 2 of pictures squeezed for a wide screen."
        ),
    ] = 1.0
    safe: Annotated[
        bool,
        DISPLAY_ONLY,
        Setting("safe areas", "Whether the stage shows them: 93 % of the frame for action, 90 % for words (EBU R 95)."),
    ] = False
    matte: Annotated[
        float,
        DISPLAY_ONLY,
        Field(ge=0, le=10),
        Setting(
            "Matte",
            "The width over the height that is seen of the frame; what is beside it is dimmed on the stage, and "
            "rendered. 0: all.",
        ),
    ] = 0.0
    behind: Annotated[
        Literal["ground", "colour", "plate"],
        CONTENT,
        Setting(
            "Behind all",
            "What stands behind all.",
            choices=(("ground", "the clip's ground"), ("colour", "a colour"), ("plate", "a backplate")),
        ),
    ] = "ground"
    plate: Annotated[
        Uid | None,
        CONTENT,
        Refers("props", "film", goes_without=True),
        Setting(
            "Backplate", "The picture, or sequence of pictures, that fills the frame behind all.", nothing="choose one"
        ),
    ] = None
    space: Annotated[
        Literal["srgb", "linear", "bt709"],
        CONTENT,
        Setting(
            "Its numbers are",
            "In what the backplate's numbers are encoded.",
            choices=(("srgb", "sRGB"), ("linear", "linear light"), ("bt709", "video (BT.709)")),
        ),
    ] = "srgb"
    fit: Annotated[
        Literal["fill", "within", "stretch"],
        CONTENT,
        Setting(
            "It is laid",
            "How it meets the frame.",
            choices=(("fill", "over all, cut off"), ("within", "within, all of it"), ("stretch", "stretched")),
        ),
    ] = "fill"
    plate_stops: Annotated[
        NumberRow,
        Driven(
            "Exposure of the backplate",
            STOPS,
            -20,
            20,
            4,
            0.0,
            "Each stop doubles its light, or halves it.",
            always=True,
        ),
    ] = number(0)
    plate_colour: Annotated[
        ColourRow,
        Driven("Colour behind all", PLAIN, 0, 64, 1, (0.1812, 0.1812, 0.1812), "In linear light.", always=True),
    ] = colour(0.1812, 0.1812, 0.1812)

    @classmethod
    def rows_key(cls) -> str:
        return "frame"

    def unused(self) -> frozenset[str]:
        return frozenset(
            {
                "ground": {"plate", "space", "fit", "plate_stops", "plate_colour"},
                "colour": {"plate", "space", "fit", "plate_stops"},
                "plate": {"plate_colour"} if self.fit != "within" else set(),
            }[self.behind]
        )

    def lacking(self, props: list[Any]) -> Iterator[Finding]:
        """Yield what it names that is not there: the clip plays on without."""
        for field, fits, words, remedy in (
            (
                "camera",
                "camera",
                "Pictures are to be taken by a camera that is not there; the effect's own view takes them.",
                "Choose another.",
            ),
            (
                "plate",
                "film",
                "The backplate is a picture that is not there; the clip's ground stands behind all.",
                "Choose another.",
            ),
        ):
            uid = getattr(self, field)
            named = (
                find_thing(props, uid) if uid is not None and (field == "camera" or self.behind == "plate") else self
            )
            if named is None or not (named is self or getattr(named, fits)):
                yield Finding("missing_file", f"frame.{field}", words, remedy)

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return (
            ("plate", "has no backplate yet", "Choose a picture, or bring one in among the props.")
            if self.behind == "plate" and not self.plate
            else None
        )
