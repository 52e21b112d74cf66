"""What decides when births happen besides the rate."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ..catalog import Scope, is_active
from ..document import Burst, Effect
from ..rows.responses import is_sourced


@dataclass(frozen=True)
class Timing:
    """What decides when births happen besides the rate; seconds of clip time. every: after how many it begins once more.

    constant_rate: births a second; limit: at most so many births. per_second: what the rate is multiplied by. frame_rate,
    substeps: where births count as being on a frame or step. clip: its first frame, and its last where that decides more than what is left out.
    """

    start: float
    end: float
    constant_rate: float | None
    bursts: tuple[tuple[str, float, int], ...]
    every: float | None = None
    limit: int | None = None
    per_second: float = 1.0
    frame_rate: Fraction = Fraction(25)
    substeps: int = 1
    clip: tuple[int, int | None] = (0, None)


def timing_of(scope: Scope) -> Timing:
    """Return when births may happen. What begins at 0 begins with the run-up."""
    assert scope.effect is not None
    effect, emitter = scope.effect, scope.thing
    births, clip = emitter.births, effect.clip
    start = births.start or clip.seconds(clip.first_frame - clip.run_up)
    end = float("inf") if births.duration is None else start + births.duration
    driven = is_sourced(births.rate) or any(is_active(emitter, scope.rows["births.rate"], response) for response in births.rate.responses)
    scale = float(clip.rate) if births.per == "frame" else 1.0
    constant = None if driven else births.rate.base * scale
    bursts = tuple((burst.uid, clip.seconds(burst.frame), burst.count) for burst in births.bursts if _plays(burst, effect))
    return Timing(start, end, constant, bursts, births.every, births.limit, scale, clip.rate, clip.substeps,
                  (clip.first_frame, clip.last_frame if driven or births.when == "each" else None))  # fmt: skip


def _plays(burst: Burst, effect: Effect) -> bool:
    return burst.count > 0 and burst.frame >= effect.clip.first_frame - effect.clip.run_up
