"""A ride on a surface."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np

from ...formula import Values
from ...geometry import Mesh
from ...program import PropQuery
from ...rows.example import Example
from ...rows.model import Driven
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.units import METRES, PER_SECOND, PLAIN
from ...rows.writing import row
from .base import Ridden, over_life
from .onsurface import SurfaceRidePart

RAIL, ROUND, LEVELS = 49, 12, 7  # points of a line that is drawn; lines of even u, and of even v


class SurfaceRide(SurfaceRidePart):
    """A place (u, v) on a prop, where the particle was born or as rows say, that travels, and stands off in the
    surface's own frame."""

    label = "Surface ride"
    places = ("u", "v", "out", "along_u", "along_v")
    example = Example(fields={"travel_u": row(0.4), "out": row(0.06)}, beside=("place:prop",))
    compiles = "rides"

    kind: Literal["surface"] = "surface"
    u: Annotated[
        NumberRow,
        Driven("Ride u", PLAIN, -10_000, 10_000, 1, 0.0, "How far round the surface: 0 to 1 goes round once."),
    ] = number(0)
    v: Annotated[
        NumberRow,
        Driven(
            "Ride v", PLAIN, -10_000, 10_000, 1, 0.0, "How far up the surface, from 0 at one end to 1 at the other."
        ),
    ] = number(0)
    travel_u: Annotated[
        NumberRow,
        Driven(
            "Travel u", PER_SECOND, -10_000, 10_000, 1, 0.0, "How much u grows each second: a spiral, together with v."
        ),
    ] = number(0)
    travel_v: Annotated[
        NumberRow, Driven("Travel v", PER_SECOND, -10_000, 10_000, 1, 0.0, "How much v grows each second.")
    ] = number(0)
    out: Annotated[
        NumberRow,
        Driven(
            "Stand-off",
            METRES,
            -10_000,
            10_000,
            1,
            0.0,
            "How far off the surface, along its normal; negative is beneath.",
        ),
    ] = number(0)
    along_u: Annotated[
        NumberRow, Driven("Stand-off along u", METRES, -10_000, 10_000, 1, 0.0, "How far aside, the way u grows.")
    ] = number(0)
    along_v: Annotated[
        NumberRow, Driven("Stand-off along v", METRES, -10_000, 10_000, 1, 0.0, "How far aside, the way v grows.")
    ] = number(0)

    @classmethod
    def template(cls) -> dict[str, Any]:
        born = {
            name: {"base": {"source": {"kind": f"birth_{name}"}, "read": "once"}, "responses": []}
            for name in ("u", "v")
        }
        return {**super().template(), **born, "edge": "hold"}

    @classmethod
    def adapted_to(cls, data: dict[str, Any], effect: Any, thing: Any) -> dict[str, Any]:
        """Whoever is not born on it climbs it over life."""
        here = data.get("prop") and getattr(thing.births.place, "prop", None) == data["prop"]
        return data if here else {**data, "u": {"base": 0.0, "responses": []}, "v": over_life()}

    def keeps(self, at: Reader) -> dict[str, int]:
        return {"u": self.kept(at, "u"), "v": self.kept(at, "v")}

    def goes_on(self, at: Reader, dt: int) -> dict[str, int]:
        b = at.builder
        return {
            name: b.op("add", self.kept(at, name), b.op("mul", self.row(at, f"travel_{name}")[0], dt))
            for name in ("u", "v")
        }

    def found(self, at: Reader, kept: dict[str, int], time: int | None = None) -> Values:
        """Return place (3), normal (3), u, v as they are ridden, and whether it is beyond an open end."""
        b = at.builder
        where = (b.op("add", self.row(at, name)[0], kept[name]) for name in ("u", "v"))
        aside = (self.row(at, name)[0] for name in ("out", "along_u", "along_v"))
        return b.multi("prop_ridden", *where, *aside, at.clip_time() if time is None else time, attrs=self.asked(at))

    def ridden(self, at: Reader, kept: dict[str, int]) -> Ridden:
        found = self.found(at, kept)
        return Ridden(found[:3], found[8] if self.edge == "release" else None)

    def rails(self, stage: Any, seconds: float) -> list[np.ndarray]:
        """Return lines of even u and of even v over the surface."""
        geometry = stage.geometry(self.prop) if self.prop is not None else None
        if self.prop is None or not isinstance(geometry, Mesh) or not len(geometry.faces):
            return []
        low = geometry.uv.min(axis=0).astype(float)
        high = geometry.uv.max(axis=0).astype(float)
        now = np.full(1, seconds)
        along = [np.linspace(low[k], high[k] - 1e-9, RAIL) for k in range(2)]
        lines = [(np.full(RAIL, u), along[1]) for u in np.linspace(low[0], high[0], ROUND, endpoint=False)]
        lines += [(along[0], np.full(RAIL, v)) for v in np.linspace(low[1], high[1], LEVELS)]
        query, flat = PropQuery(self.prop, "", self), np.zeros((RAIL, 3))
        return [np.stack(stage.surface_ride_places(query, np.column_stack(uv), flat, now)[:3], axis=1) for uv in lines]
