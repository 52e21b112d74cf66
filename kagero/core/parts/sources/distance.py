"""The distance to a point as a source."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Driven, Uid
from ...rows.reader import Reader
from ...rows.responses import VectorSetting
from ...rows.source import SourcePart
from ...rows.units import METRES


class DistanceSource(SourcePart):
    """Metres between the particle and a point."""

    label, group, unit, usual = "distance to a point", "place", METRES, (0, 2)
    words = "near far how far"
    help = "Metres between the particle and a point you set."
    after = "place"

    kind: Literal["distance"]
    uid: Uid
    point: Annotated[
        VectorSetting,
        Driven("Point", METRES, -10_000, 10_000, 4, (0.0, 0.0, 0.0), "Where the distance is measured from."),
    ] = (
        0.0,
        0.0,
        0.0,
    )

    def write(self, at: Reader) -> Values:
        b = at.builder
        away = (
            b.op("sub", p, q) for p, q in zip(at.state("position"), at.row(f"sources.{self.uid}.point"), strict=True)
        )
        return (b.op("length", *away),)
