"""Words as a prop."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...geometry import Mesh, Path
from ...geometry.text import missing_characters, text_mesh
from ...rows.model import CONTENT, Setting
from ...rows.units import METRES
from .base import MESHED, SHAPED, Maker, Metres, PropOffer, SurfaceProp


class TextProp(SurfaceProp):
    """Words as a mesh, flat or with a thickness. height: of a capital letter, metres."""

    breaks_as = "separate"
    label = "Words"
    births_on, guiding, dense, paintable = MESHED, True, True, True
    offers = (PropOffer("Words", "words", {"text": "Hotaru"}),)

    kind: Literal["text"]
    text: Annotated[str, SHAPED, CONTENT, Setting("Words", "What is written; several lines.")] = Field(
        min_length=1, max_length=400
    )
    weight: Annotated[Literal["regular", "medium", "bold"], SHAPED, CONTENT, Setting("Weight")] = "bold"
    height: Annotated[float, SHAPED, CONTENT, Setting("height", "Of a capital letter.", METRES)] = Field(
        default=0.3, gt=0, le=1000
    )
    depth: Annotated[Metres, SHAPED, CONTENT, Setting("thickness", unit=METRES)] = 0.0
    align: Annotated[Literal["left", "middle", "right"], SHAPED, CONTENT, Setting("Lines are aligned")] = "middle"

    def summary(self) -> str:
        return "words"

    def lacks(self) -> str:
        letters = missing_characters(self.text, self.weight)
        return f"The font has no {letters}." if letters else ""

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        return text_mesh(text=self.text, height=self.height, depth=self.depth, weight=self.weight, align=self.align)
