"""A picture that is made here, from numbers or from the shelf, as a prop."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ...geometry import ImportedGeometry, Mesh, Path
from ...geometry.patterns import PATTERNS, PatternName, PatternSettings, pattern
from ...geometry.stock import NAMES, StockName, label_and_help, stock
from ...memory import PROCESS
from ...rows.model import CONTENT, Driven, Setting
from ...rows.responses import NumberRow, number
from ...rows.units import PERCENT, PLAIN
from .base import SHAPED, Maker, PropOffer, StandingProp
from .picture import upright

_pictures = PROCESS.region("made pictures", 0.3)


class MadePicture(StandingProp):
    """A picture made from numbers, which rows can drive, or one from the shelf; on an upright plane, one metre high at
    scale 1. Whatever reads pictures reads it: looks, densities, sources, masks."""

    label = "Made picture"
    births_on, guiding, dense, pictured, film, tinted = ("surface", "edges"), True, True, True, True, False
    offers = (
        *(
            PropOffer(label.capitalize(), label, {"pattern": name}, "pictures made here")
            for name, (label, _) in PATTERNS.items()
        ),
        *(
            PropOffer(
                label_and_help(name)[0].capitalize(),
                label_and_help(name)[0],
                {"pattern": name},
                "pictures from the shelf",
            )
            for name in NAMES
        ),
    )

    kind: Literal["made"] = "made"
    pattern: Annotated[
        Literal[PatternName, StockName],
        SHAPED,
        CONTENT,
        Setting(
            "Picture",
            "What is on it.",
            choices=tuple((name, label) for name, (label, _) in PATTERNS.items())
            + tuple((name, label_and_help(name)[0]) for name in NAMES),
        ),
    ] = "noise"
    side: Annotated[
        Literal[64, 128, 256, 512],
        CONTENT,
        Setting("Pixels a side", choices=((64, "64"), (128, "128"), (256, "256"), (512, "512"))),
    ] = 256
    seed: Annotated[int, CONTENT, Field(ge=0, le=9999), Setting("Variant", "Another of the same kind.")] = 1
    count: Annotated[
        NumberRow,
        Driven(
            "How many across",
            PLAIN,
            1,
            64,
            12,
            4.0,
            "How many of it lie side by side; whole numbers, so that it tiles.",
            always=True,
        ),
    ] = number(4)
    contrast: Annotated[
        NumberRow,
        Driven("Contrast", PLAIN, 0, 50, 4, 1.0, "How far dark and light are apart; 1 is as it is made.", always=True),
    ] = number(1)
    level: Annotated[NumberRow, Driven("Level", PERCENT, -2, 2, 1, 0.0, "How much lighter it is.", always=True)] = (
        number(0)
    )
    roughness: Annotated[
        NumberRow,
        Driven(
            "Roughness",
            PERCENT,
            0,
            1,
            1,
            0.5,
            "How strong what is fine in it is; how irregular cells are, how soft checks.",
            always=True,
        ),
    ] = number(0.5)
    evolution: Annotated[
        NumberRow,
        Driven(
            "Evolution",
            PLAIN,
            -10_000,
            10_000,
            2,
            0.0,
            "How far it has changed into another of itself: driven by clip time, it seethes.",
            always=True,
        ),
    ] = number(0)

    def summary(self) -> str:
        return PATTERNS[self.pattern][0] if self.pattern in PATTERNS else label_and_help(self.pattern)[0]

    def unused(self) -> frozenset[str]:
        if self.pattern in PATTERNS:
            return super().unused()
        return super().unused() | {"side", "seed", "count", "contrast", "level", "roughness", "evolution"}

    def pictured_at(self, times: np.ndarray, rate: float, moves: bool) -> np.ndarray:
        return np.floor(times * rate + 0.5) if moves and self.pattern in PATTERNS else np.zeros(len(times))

    def picture_key(self, number: int, own: dict[str, float]) -> str:
        if self.pattern not in PATTERNS:
            return f"shelf {self.pattern}"
        return (
            f"{self.pattern} {self.side} {self.seed} "
            f"{[own[f'{name}.0'] for name in ('count', 'contrast', 'level', 'roughness', 'evolution')]}"
        )

    def picture(self, maker: Maker, number: int, own: dict[str, float]) -> ImportedGeometry:
        if self.pattern not in PATTERNS:
            return stock(self.pattern).picture
        of = PatternSettings(max(1, round(own["count.0"])), own["evolution.0"], own["roughness.0"], self.seed)
        return _pictures(
            self.picture_key(number, own),
            lambda: pattern(self.pattern, self.side, of, own["contrast.0"], own["level.0"]),
        )

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        if self.pattern in PATTERNS:
            return upright(1.0)
        width, height = stock(self.pattern).picture.size
        return upright(width / height)
