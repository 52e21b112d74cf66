"""Trying a dial at both ends and in the middle: three small pictures, and words where nothing changes or something breaks."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..document import Dial, Effect
from ..errors import KageroError, RequestError
from ..formats.exporters.png import to_png
from ..simulation import FrameStore, Shown
from ..staging import Content, nothing
from .bake import BLACK, seen_frame
from .play import Playing, never

LOOKED_AT = (0.35, 0.6, 0.9)  # shares of the clip at which the three are compared; the middle one is drawn


@dataclass(frozen=True)
class Tried:
    """What a value of a dial gives. picture: PNG, or None where it cannot be played. words: what is wrong, or empty."""

    value: float
    count: int
    picture: bytes | None
    words: str


@dataclass(frozen=True)
class Trial:
    """A dial at its low end, in the middle, and at its high end; frame: the one drawn; words: about all three, or empty."""

    tried: tuple[Tried, Tried, Tried]
    frame: int
    words: str


def turned(effect: Effect, values: dict[str, float]) -> Effect:
    """Return the effect with dials at other values all through the clip, held between their ends; uids that are not there are left out."""

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
    stopped: Callable[[], None] = never,
    content: Content = nothing,
) -> Trial:
    """Return a dial's trial. Raises RequestError when there is no such dial; what breaks at an end is said in words."""
    dial = next((dial for dial in effect.dials if dial.uid == uid), None)
    if dial is None:
        raise RequestError(f"There is no dial {uid!r}.", where="dial", remedy="Choose one of the effect's dials.")
    clip = effect.clip
    numbers = [clip.first_frame + round(share * (clip.last_frame - clip.first_frame)) for share in LOOKED_AT]
    tried: list[Tried] = []
    seen: list[list[list[Shown]] | None] = []
    for value in (dial.low, (dial.low + dial.high) / 2, dial.high):
        stopped()
        try:
            playing = Playing(turned(effect, {uid: value}), store, content)
            frames = [playing.show(number, stopped) for number in numbers]
        except KageroError as problem:
            if problem.code == "cancelled":
                raise
            tried.append(Tried(value, 0, None, f"Cannot be played: {problem.findings[0].message}"))
            seen.append(None)
            continue
        picture = to_png(seen_frame(playing, numbers[1], width, height, stopped), BLACK)
        tried.append(Tried(value, sum(map(len, frames[1])), picture, _wrong(playing, numbers, frames)))
        seen.append(frames)
    return Trial((tried[0], tried[1], tried[2]), numbers[1], _together(seen, dial.name))


def _wrong(playing: Playing, numbers: list[int], frames: list[list[Shown]]) -> str:
    parts = [part for shown in frames for part in shown]
    if not any(len(part) for part in parts):
        return "Nobody is alive."
    if not any((part.column("size") * part.column("opacity") > 0).any() for part in parts if len(part)):
        return "Nobody can be seen."
    faults = {row for part in parts for row in part.faults.counts}
    faults.update(row for number in numbers for frame in playing.frames(number) for row in frame.faults.counts)
    faults.update(row for run in playing.runs for row in run.rate_faults.counts)
    return f"Results are not finite: {', '.join(sorted(faults))}." if faults else ""


def _together(seen: list[list[list[Shown]] | None], name: str) -> str:
    low, middle, high = seen
    if low is None or middle is None or high is None:
        return "Something breaks within its range."
    if _same(low, middle) and _same(middle, high):
        return f"Nothing changes between the ends of {name}."
    if _same(low, middle):
        return "Nothing changes from its low end to the middle."
    return "Nothing changes from the middle to its high end." if _same(middle, high) else ""


def _same(a: list[list[Shown]], b: list[list[Shown]]) -> bool:
    return all(_equal(p, q) for one, other in zip(a, b, strict=True) for p, q in zip(one, other, strict=True))


def _equal(p: Shown, q: Shown) -> bool:
    if len(p) != len(q):
        return False
    arrays = [(p.positions(), q.positions()), *((p.column(c.name), q.column(c.name)) for c in p.look.columns)]
    return all(np.array_equal(x, y) for x, y in arrays)
