"""Trials of a dial at both ends and in the middle: three small pictures, and a remark where nothing changes or
something fails."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..document import Dial, Effect
from ..errors import KageroError, RequestError
from ..formats.exporters.png import to_png
from ..simulation import FrameStore, ShownParticles
from ..staging import Content, no_content
from .bake import BLACK, frame_over_backplate
from .play import Playing, never_stopped

LOOKED_AT = (0.35, 0.6, 0.9)  # shares of the clip at which the three are compared; the middle one is drawn


@dataclass(frozen=True)
class DialValueTrial:
    """A trial at one value. picture: PNG, or None where it cannot be played. words: what is wrong, or empty."""

    value: float
    count: int
    picture: bytes | None
    words: str


@dataclass(frozen=True)
class DialTrial:
    """Trials at a dial's low end, middle and high end. frame: the one drawn. words: about all three, or empty."""

    tried: tuple[DialValueTrial, DialValueTrial, DialValueTrial]
    frame: int
    words: str


def with_dials(effect: Effect, values: dict[str, float]) -> Effect:
    """Return the effect with dials at other values for the whole clip, clamped between their ends; unknown uids are
    ignored."""

    def at(dial: Dial) -> Dial:
        if dial.uid not in values:
            return dial
        return dial.model_copy(update={"value": min(max(values[dial.uid], dial.low), dial.high), "keys": []})

    return effect.model_copy(update={"dials": [at(dial) for dial in effect.dials]})


def try_dial(
    effect: Effect,
    uid: str,
    width: int,
    height: int,
    store: FrameStore | None = None,
    stopped: Callable[[], None] = never_stopped,
    content: Content = no_content,
) -> DialTrial:
    """Return the trial of a dial. Raises RequestError for an unknown dial; failures at a value are given in words."""
    dial = next((dial for dial in effect.dials if dial.uid == uid), None)
    if dial is None:
        raise RequestError(f"There is no dial {uid!r}.", where="dial", remedy="Choose one of the effect's dials.")
    clip = effect.clip
    numbers = [clip.first_frame + round(share * (clip.last_frame - clip.first_frame)) for share in LOOKED_AT]
    tried: list[DialValueTrial] = []
    seen: list[list[list[ShownParticles]] | None] = []
    for value in (dial.low, (dial.low + dial.high) / 2, dial.high):
        stopped()
        try:
            playing = Playing(with_dials(effect, {uid: value}), store, content)
            frames = [playing.show(number, stopped) for number in numbers]
        except KageroError as problem:
            if problem.code == "cancelled":
                raise
            tried.append(DialValueTrial(value, 0, None, f"Cannot be played: {problem.findings[0].message}"))
            seen.append(None)
            continue
        picture = to_png(frame_over_backplate(playing, numbers[1], width, height, stopped), BLACK)
        tried.append(DialValueTrial(value, sum(map(len, frames[1])), picture, _problem_at(playing, numbers, frames)))
        seen.append(frames)
    return DialTrial((tried[0], tried[1], tried[2]), numbers[1], _joint_remark(seen, dial.name))


def _problem_at(playing: Playing, numbers: list[int], frames: list[list[ShownParticles]]) -> str:
    parts = [part for shown in frames for part in shown]
    if not any(len(part) for part in parts):
        return "Nobody is alive."
    if not any((part.column("size") * part.column("opacity") > 0).any() for part in parts if len(part)):
        return "Nobody can be seen."
    faults = {row for part in parts for row in part.faults.counts}
    faults.update(row for number in numbers for frame in playing.frames(number) for row in frame.faults.counts)
    faults.update(row for run in playing.runs for row in run.rate_faults.counts)
    return f"Results are not finite: {', '.join(sorted(faults))}." if faults else ""


def _joint_remark(seen: list[list[list[ShownParticles]] | None], name: str) -> str:
    low, middle, high = seen
    if low is None or middle is None or high is None:
        return "Something breaks within its range."
    if _same(low, middle) and _same(middle, high):
        return f"Nothing changes between the ends of {name}."
    if _same(low, middle):
        return "Nothing changes from its low end to the middle."
    return "Nothing changes from the middle to its high end." if _same(middle, high) else ""


def _same(a: list[list[ShownParticles]], b: list[list[ShownParticles]]) -> bool:
    return all(_equal(p, q) for one, other in zip(a, b, strict=True) for p, q in zip(one, other, strict=True))


def _equal(p: ShownParticles, q: ShownParticles) -> bool:
    if len(p) != len(q):
        return False
    arrays = [(p.positions(), q.positions()), *((p.column(c.name), q.column(c.name)) for c in p.look.columns)]
    return all(np.array_equal(x, y) for x, y in arrays)
