"""Moments: named points in the clip's time that starts, durations, bursts, rows and props hang on, so that moving one
moves the sequence."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any

from pydantic import Field

from ..errors import Finding
from ..rows.model import DISPLAY_ONLY, VALUE, Model, Name, Refers, Uid
from ..rows.view import find_thing


class Moment(Model):
    """A moment so long after a frame of the clip, or after another one. seconds: how long after, negative before it."""

    uid: Uid
    name: Annotated[Name, DISPLAY_ONLY]
    frame: Annotated[int, VALUE] = Field(default=0, ge=-1_000_000, le=1_000_000)
    after: Annotated[
        Uid | None,
        Refers(
            "moments",
            "",
            "{name} comes after a moment that is not there.",
            "Choose another, or let it stand at a frame.",
        ),
    ] = None
    seconds: Annotated[float, VALUE] = Field(default=0.0, ge=-100_000, le=100_000)


def moment_times(effect: Any) -> dict[str, float]:
    """Return each moment's clip time by its uid, seconds. In a circle the first one counts by its frame."""
    times: dict[str, float] = {}

    def time(moment: Moment, asked: tuple[str, ...]) -> float:
        if moment.uid not in times:
            before = find_thing(effect.moments, moment.after) if moment.after is not None else None
            if before is None or before.uid in asked:
                return effect.clip.seconds(moment.frame) + moment.seconds
            times[moment.uid] = time(before, (*asked, moment.uid)) + moment.seconds
        return times[moment.uid]

    return {moment.uid: time(moment, (moment.uid,)) for moment in effect.moments}


def moment_findings(effect: Any) -> Iterator[Finding]:
    """Yield moments that stand after each other in a circle."""
    for index, moment in enumerate(effect.moments):
        trail, at = [moment], moment
        while at.after is not None and (at := find_thing(effect.moments, at.after)) is not None and at not in trail:
            trail.append(at)
        if at is not None and at.uid == moment.uid and moment.after is not None:
            words = f"Moments come after each other in a circle: {' <- '.join(each.name for each in (*trail, moment))}."
            yield Finding("circle", f"moments.{index}.after", words, "Let one stand at a frame.")
