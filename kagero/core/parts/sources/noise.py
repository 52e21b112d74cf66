"""Noise where the particle is, as a source."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...formula import Values
from ...rows.model import Driven, Uid
from ...rows.reader import Reader
from ...rows.responses import Setting
from ...rows.source import SourcePart
from ...rows.units import METRES, METRES_PER_SECOND


class NoiseSource(SourcePart):
    """Improved noise where the particle is, between -1 and 1. Its uid seeds it; noise that is shared under a name is
    the same everywhere in the effect, in formulas too (`noises.NAME`). Source: Perlin, "Improving noise", SIGGRAPH
    2002."""

    label, group, usual = "noise", "place", (-0.7, 0.7)
    words = "random wobble turbulent clouds"
    help = "A smooth random field where the particle is, from -1 to 1; neighbours read alike."
    after = "place"

    kind: Literal["noise"]
    uid: Uid
    scale: Annotated[Setting, Driven("Noise scale", METRES, 0.001, 10_000, 2, 0.5, "Size of the noise's features.")] = (
        0.5
    )
    drift: Annotated[
        Setting,
        Driven("Noise drift", METRES_PER_SECOND, 0, 10_000, 1, 0.2, "How fast the noise changes; 0 freezes it."),
    ] = 0.2
    octaves: int = Field(default=1, ge=1, le=6)
    shared: str = Field(
        default="",
        max_length=40,
        pattern=r"^([a-z_][a-z0-9_]*)?$",
        description="A name under which it is the same noise for all.",
    )

    def write(self, at: Reader) -> Values:
        scale, drift = (at.row(f"sources.{self.uid}.{name}")[0] for name in ("scale", "drift"))
        seed = at.shared_seed(self.shared) if self.shared else at.own_seed(self.uid, "noise source")
        return (
            at.builder.op("noise", *at.state("position"), at.clip_time(), scale, drift, attrs=(seed, self.octaves)),
        )
