"""What determines the times of births besides the rate."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ..catalog import Scope, is_active
from ..document import Burst, Effect, moment_times
from ..rows.responses import is_sourced


@dataclass(frozen=True)
class Timing:
    """What determines the times of births besides the rate, in seconds of clip time.

    every: period after which the run starts again. constant_rate: births a second. limit: largest number of births.
    per_second: factor of the rate. frame_rate, substeps: the grid onto which times are snapped. clip: its first frame,
    and its last where that changes more than which births are left out.
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
    """Return an emitter's timing. What starts at 0 starts with the run-up."""
    assert scope.effect is not None
    effect, emitter = scope.effect, scope.thing
    births, clip = emitter.births, effect.clip
    moments = moment_times(effect)
    start = births.start or clip.seconds(clip.first_frame - clip.run_up)
    if births.after in moments:
        start = moments[births.after] + births.start
    end = float("inf") if births.duration is None else start + births.duration
    if births.until in moments:
        end = moments[births.until]
    driven = is_sourced(births.rate) or any(
        is_active(emitter, scope.rows["births.rate"], response) for response in births.rate.responses
    )
    driven = driven or births.per == "metre"
    scale = float(clip.rate) if births.per == "frame" else 1.0
    constant = None if driven else births.rate.base * scale
    begins = clip.seconds(clip.first_frame - clip.run_up)
    bursts = tuple(
        (burst.uid, when, burst.count)
        for burst in births.bursts
        if burst.count > 0 and (when := _burst_time(burst, effect, moments)) >= begins
    )
    return Timing(
        start,
        end,
        constant,
        bursts,
        births.every,
        births.limit,
        scale,
        clip.rate,
        clip.substeps,
        (clip.first_frame, clip.last_frame if driven or births.when == "each" else None),
    )


def _burst_time(burst: Burst, effect: Effect, moments: dict[str, float]) -> float:
    """Return the clip time of a burst, seconds."""
    if burst.after not in moments:
        return effect.clip.seconds(burst.frame)
    return moments[burst.after] + effect.clip.seconds(effect.clip.first_frame + burst.frame)
