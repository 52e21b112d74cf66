"""A light as a prop."""

from __future__ import annotations

from typing import Annotated, Literal

from ...rows.model import CONTENT, Driven, Setting
from ...rows.responses import ColourRow, NumberRow, colour, number
from ...rows.units import DEGREES, METRES, PERCENT, PLAIN
from .base import PropOffer, StandingProp


class LightProp(StandingProp):
    """A light: light from all around, a sun, a lamp that shines everywhere, or a spot. A sun and a spot shine along
    their own -z, as lights of glTF do (KHR_lights_punctual). As soon as there is light from all around, a sun or a
    spot, the stage's own light is out."""

    label = "Light"
    help = (
        "Light from all around, a sun, a lamp, a spot: what props, pieces and blobs stand in. With one that is no lamp "
        "the stage's own light is out."
    )
    solid, holds, dissolves, tinted, rendered, light = False, False, False, False, False, True
    offers = (
        PropOffer(
            "Lamp", "lamp", {"shines": "point", "position": {"base": [0.0, 1.5, 1.0], "responses": []}}, "lights"
        ),
        PropOffer("Sun", "sun", {"shines": "sun", "rotation": {"base": [-0.9, 0.5, 0.0], "responses": []}}, "lights"),
        PropOffer(
            "Spot",
            "spot",
            {
                "shines": "spot",
                "position": {"base": [0.0, 3.0, 2.0], "responses": []},
                "rotation": {"base": [-0.8, 0.0, 0.0], "responses": []},
            },
            "lights",
        ),
        PropOffer(
            "Light from all around",
            "sky light",
            {"shines": "around", "strength": {"base": 0.2, "responses": []}},
            "lights",
        ),
    )

    kind: Literal["light"]
    shines: Annotated[
        Literal["point", "sun", "spot", "around"],
        CONTENT,
        Setting(
            "Shines",
            "How its light goes.",
            choices=(
                ("point", "everywhere"),
                ("sun", "as a sun"),
                ("spot", "in a cone"),
                ("around", "from all around"),
            ),
        ),
    ] = "point"
    shadows: Annotated[
        bool, CONTENT, Setting("throws shadows", "Whether props and particles in its light throw shadows.")
    ] = True
    strength: Annotated[
        NumberRow,
        Driven(
            "Strength",
            PLAIN,
            0,
            10_000,
            4,
            1.0,
            "How bright it is: at 1 what is close and faces it is lit as by day.",
            always=True,
        ),
    ] = number(1)
    light_colour: Annotated[
        ColourRow, Driven("Colour of the light", PLAIN, 0, 64, 1, (1.0, 1.0, 1.0), "In linear light.", always=True)
    ] = colour(1, 1, 1)
    reach: Annotated[
        NumberRow,
        Driven(
            "Reach",
            METRES,
            0.001,
            10_000,
            4,
            5.0,
            "How far it goes: it ends there, softly. Of a sun, how far about it shadows are thrown.",
            always=True,
        ),
    ] = number(5)
    cone: Annotated[
        NumberRow, Driven("Cone", DEGREES, 0.02, 3.1, 1, 0.9, "How wide its cone is, from side to side.", always=True)
    ] = number(0.9)
    edge: Annotated[
        NumberRow, Driven("Soft edge", PERCENT, 0, 1, 1, 0.3, "Over how much of the cone it goes out.", always=True)
    ] = number(0.3)
    blur: Annotated[
        NumberRow,
        Driven(
            "Softness of shadows",
            METRES,
            0,
            100,
            0.2,
            0.03,
            "How far about the edges of shadows are spread.",
            always=True,
        ),
    ] = number(0.03)

    def unused(self) -> frozenset[str]:
        off = {"shown", "scale"}
        if self.shines == "around":
            off |= {"position", "rotation", "reach", "shadows"}
        if self.shines == "point":
            off |= {"rotation"}
        if self.shines != "spot":
            off |= {"cone", "edge"}
        if not self.throws:
            off |= {"blur"}
        return super().unused() | off

    @property
    def throws(self) -> bool:
        return self.shadows and self.shines != "around"

    def summary(self) -> str:
        return {"point": "lamp", "sun": "sun", "spot": "spot", "around": "from all around"}[self.shines]
