"""What of an effect is a plan's structure, and what is its values."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from ..catalog import act
from ..effect import Burst, Effect, Emitter, PropBase, Row, SourcedBase
from .view import Rows

# numbers of these names are part of the operations; all others are values
_STRUCTURAL = ("octaves", "axis", "aspect")
# of props, what no program reads
_UNREAD = {"tint", "shown", "strokes", "points", "profile", "text", "file", "files", "dissolve"}


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


def structure_key(effect: Effect, emitter: Any) -> str:
    """Return a text equal for emitters whose plans differ in values alone. Names count where formulas read by them."""
    clip = effect.clip
    body = _masked(
        emitter.model_dump(exclude={"name", "visible", "sheet", *_UNREAD} if isinstance(emitter, PropBase) else {"name", "visible", "sheet"})
    )
    text = repr(body)
    named = "'kind': 'formula'" in text or any(prop.kind == "mask" and prop.shape == "formula" for prop in effect.props)
    names = [(thing.uid, thing.name) for thing in (*effect.dials, *emitter.draws, *emitter.own, *effect.props)] if named else ()
    if isinstance(emitter, PropBase):  # whether what it follows is there
        body = (body, [(prop.uid, repr(prop.follow), prop.kind) for prop in effect.props])
    else:
        body = (body, _used(emitter))
        if effect.props:  # what it reads of props is part of its programs
            body = (body, [(_masked(prop.model_dump(exclude=_UNREAD)), prop.kind == "mask" and _differs(prop.edge, 0)) for prop in effect.props])
    text = repr((clip.frame_rate, clip.first_frame, clip.substeps, [dial.uid for dial in effect.dials], names, body))
    return hashlib.blake2b(text.encode(), digest_size=20).hexdigest()


def _used(emitter: Emitter) -> tuple[bool, ...]:
    """Return which rows are compiled at all: those that do more than nothing."""
    births, motion = emitter.births, emitter.motion
    return (_differs(births.keep, 1), _differs(births.launch.inherit, 0), _differs(motion.grip, 0))


def _differs(row: Row, default: float) -> bool:
    return bool(row.responses) or row.base != default


def _masked(data: Any, keep: bool = False) -> Any:
    if isinstance(data, dict):
        return {key: _masked(value, key in _STRUCTURAL) for key, value in data.items() if key not in ("name", "draft")}
    if isinstance(data, (list, tuple)):
        return [_masked(value, keep) for value in data]
    return 0 if isinstance(data, (int, float)) and not isinstance(data, bool) and not keep else data


def timing_of(effect: Effect, emitter: Emitter, rows: Rows) -> Timing:
    """Return when births may happen. What begins at 0 begins with the run-up."""
    births, clip = emitter.births, effect.clip
    start = births.start or clip.seconds(clip.first_frame - clip.run_up)
    end = float("inf") if births.duration is None else start + births.duration
    driven = isinstance(births.rate.base, SourcedBase) or any(act(emitter, rows["births.rate"], response) for response in births.rate.responses)
    scale = float(clip.rate) if births.per == "frame" else 1.0
    constant = None if driven else births.rate.base * scale  # type: ignore[operator]
    bursts = tuple((burst.uid, clip.seconds(burst.frame), burst.count) for burst in births.bursts if _plays(burst, effect))
    return Timing(start, end, constant, bursts, births.every, births.limit, scale, clip.rate, clip.substeps,
                  (clip.first_frame, clip.last_frame if driven or births.when == "each" else None))  # fmt: skip


def _plays(burst: Burst, effect: Effect) -> bool:
    return burst.count > 0 and burst.frame >= effect.clip.first_frame - effect.clip.run_up
