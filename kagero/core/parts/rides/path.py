"""A ride along a path."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np

from ...formula import Values
from ...geometry import Path
from ...program import PropQuery
from ...rows.example import Example
from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.units import DEGREES, DEGREES_PER_SECOND, METRES, METRES_PER_SECOND, PERCENT
from ...rows.writing import row
from .base import PropRide, Ridden, over_life

RAIL = 193  # points of the line that is drawn


class PathRide(PropRide):
    """A place along a path by its length, from any response, that travels and goes round the path. Its frame is carried
    along without turning: Bishop, "There is more than one way to frame a curve", American Mathematical Monthly 82
    (1975)."""

    label = "Path ride"
    tells = ("along", "released")
    places = ("place",)
    example = Example(fields={"radius": row(0.12), "turning": row(6.0)})
    compiles = "rides on paths"

    kind: Literal["path"] = "path"
    place: Annotated[
        NumberRow,
        Driven(
            "Place along",
            PERCENT,
            -100,
            100,
            1,
            0.0,
            "How far along the path, by its length: 0 % at its beginning, 100 % at its end.",
        ),
    ] = number(0)
    travel: Annotated[
        NumberRow,
        Driven(
            "Travel along",
            METRES_PER_SECOND,
            -10_000,
            10_000,
            2,
            0.0,
            "How many metres of the path it goes each second.",
        ),
    ] = number(0)
    radius: Annotated[
        NumberRow, Driven("Orbit radius", METRES, -10_000, 10_000, 1, 0.0, "How far off the path it goes round it.")
    ] = number(0)
    turning: Annotated[
        NumberRow,
        Driven("Orbit speed", DEGREES_PER_SECOND, -100_000, 100_000, 6, 0.0, "How fast it goes round the path."),
    ] = number(0)
    phase: Annotated[
        NumberRow, Driven("Orbit phase", DEGREES, -100_000, 100_000, 6, 0.0, "Where round the path it begins.")
    ] = number(0)
    tilt: Annotated[
        NumberRow, Driven("Orbit tilt", DEGREES, -360, 360, 3, 0.0, "How far its round leans along the path.")
    ] = number(0)
    twist: Annotated[
        NumberRow,
        Driven(
            "Twist",
            DEGREES,
            -100_000,
            100_000,
            12,
            0.0,
            "By how much the frame is turned from the path's beginning to its end: round and round it, a helix.",
        ),
    ] = number(0)

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "place": over_life(), "edge": "hold"}

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return (
            [prop for prop in effect.props if prop.line] if field == "prop" else super().named_by(field, effect, thing)
        )

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.line for prop in effect.props) else "There is no path to ride along."

    def keeps(self, at: Reader) -> dict[str, int]:
        return {"gone_along": self.kept(at, "gone_along"), "turned": self.kept(at, "turned")}

    def goes_on(self, at: Reader, dt: int) -> dict[str, int]:
        b = at.builder
        rates = {"gone_along": "travel", "turned": "turning"}
        return {
            name: b.op("add", self.kept(at, name), b.op("mul", self.row(at, rate)[0], dt))
            for name, rate in rates.items()
        }

    def found(self, at: Reader, kept: dict[str, int]) -> Values:
        """Return point, tangent, normal and binormal (3 each), the share of the length as it is ridden, and whether it
        is beyond an open end."""
        b = at.builder
        return b.multi("prop_along", self.row(at, "place")[0], kept["gone_along"], at.clip_time(), attrs=self.asked(at))

    def ridden(self, at: Reader, kept: dict[str, int]) -> Ridden:
        b = at.builder
        found = self.found(at, kept)
        point, tangent, normal, binormal = found[:3], found[3:6], found[6:9], found[9:12]
        angle = b.op(
            "add",
            b.op("add", self.row(at, "phase")[0], kept["turned"]),
            b.op("mul", self.row(at, "twist")[0], found[12]),
        )
        (radius,), (tilt,) = self.row(at, "radius"), self.row(at, "tilt")
        across, up = b.op("mul", radius, b.op("cos", angle)), b.op("mul", radius, b.op("sin", angle))
        lean, side = b.op("mul", up, b.op("sin", tilt)), b.op("mul", up, b.op("cos", tilt))
        place = []
        for i in range(3):
            round_it = b.op("add", b.op("mul", across, normal[i]), b.op("mul", side, binormal[i]))
            place.append(b.op("add", point[i], b.op("add", round_it, b.op("mul", lean, tangent[i]))))
        return Ridden(tuple(place), found[13] if self.edge == "release" else None)

    def rails(self, stage: Any, seconds: float) -> list[np.ndarray]:
        if self.prop is None or not isinstance(stage.geometry(self.prop), Path):
            return []
        share = np.linspace(0, 1, RAIL)
        return [
            np.stack(
                stage.path_ride_places(PropQuery(self.prop, "", self), share, np.zeros(RAIL), np.full(1, seconds))[:3],
                axis=1,
            )
        ]

    def ride_columns(self, at: Reader) -> dict[str, Values]:
        """Return the share of the path at which the particle rides."""
        return {"along": self.row(at, "place") if self.prop is None else self.found(at, self.keeps(at))[12:13]}
