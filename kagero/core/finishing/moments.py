"""The samples that a picture is averaged from: while the shutter is open, and over the lens."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from .shot import RowValues

GOLDEN = math.pi * (3 - math.sqrt(5))


@dataclass(frozen=True)
class PictureSample:
    """One sample: time past the frame in frames, and position on the lens in shares of its radius. moving: the emitters
    and props evaluated then; None: all."""

    after: float = 0.0
    lens: tuple[float, float] = (0.0, 0.0)
    moving: frozenset[str] | None = None


def shutter_interval(part: Any, own: RowValues) -> tuple[float, float]:
    """Return when a shutter opens and for how long, in frames from the frame on."""
    long = own.number("angle") / (2 * math.pi) if part.measured == "angle" else own.number("share")
    return {"at": 0.0, "about": -long / 2, "before": -long}[part.opens], long


def picture_samples(items: Sequence[tuple[Any, RowValues]]) -> list[PictureSample]:
    """Return a picture's samples: evenly over the time the shutter is open, and over the lens (Vogel's spiral)."""
    blur = next((item for item in reversed(items) if item[0].gathers == "shutter"), None)
    lens = next((part for part, _ in reversed(items) if part.gathers == "lens"), None)
    opens, long = shutter_interval(*blur) if blur is not None else (0.0, 0.0)
    count = max(blur[0].moments if blur is not None and long > 0 else 1, lens.moments if lens is not None else 1)
    moving = frozenset((*blur[0].emitters, *blur[0].props)) if blur is not None and blur[0].chosen else None
    found = []
    for k in range(count):
        radius, turn = (math.sqrt((k + 0.5) / count), GOLDEN * k) if lens is not None else (0.0, 0.0)
        share = (
            (_scrambled(k, count) + 0.5) / count if lens is not None else (k + 0.5) / count
        )  # else time would go with the radius
        found.append(PictureSample(opens + long * share, (radius * math.cos(turn), radius * math.sin(turn)), moving))
    return found


def _scrambled(k: int, count: int) -> int:
    """Return the numbers below count in an order in which neighbours are far apart: multiples of a number coprime to
    it, near its golden section."""
    step = next(s for s in range(max(1, round(count * 0.618)), count + 2) if math.gcd(s, count) == 1)
    return k * step % count


def lens_radius(part: Any, own: RowValues, field_of_view: float) -> float:
    """Return the radius of a camera's lens, metres: half of its focal length over the f-number. field_of_view:
    vertical, radians."""
    focal: float = part.sensor / (2 * math.tan(field_of_view / 2))
    return focal / own.number("f_number") / 2
