"""The packets that make an effect play: the frame on screen first, the rest behind it, then what the whole clip tells."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from ..formats import pack
from ..simulation import Shown
from .measure import life_profile, measure
from .play import Playing, never

MEASURED_EVERY = 3  # frames; while the clip plays, live values are read this often


def play_packets(playing: Playing, now: int, whole: bool, stopped: Callable[[], None] = never) -> Iterator[bytes]:
    """Yield the packet of frame `now` and a clip packet of what is known so far; with `whole`, then every other frame
    (onward from `now`, then from the first) and a clip packet of all.

    stopped: called between frames and steps; raises Cancelled. Raises RequestError for a frame outside the clip.
    """
    plan = playing.plan
    yield frame_packet(playing, now, stopped, measured=True)
    yield clip_packet(playing, stopped)
    if not whole:
        return
    for number in [*range(now + 1, plan.last_frame + 1), *range(plan.first_frame, now)]:
        stopped()
        yield frame_packet(playing, number, stopped, measured=(number - plan.first_frame) % MEASURED_EVERY == 0)
    yield clip_packet(playing, stopped)


def frame_packet(playing: Playing, number: int, stopped: Callable[[], None] = never, measured: bool = False) -> bytes:
    """Return one frame as the stage draws it: position and size in float32, colour and opacity in float16."""
    plan = playing.plan
    seconds = plan.seconds(number)
    frames = playing.frames(number, stopped)
    emitters: list[dict[str, Any]] = []
    arrays: dict[str, np.ndarray] = {}
    for i, (emitter, compiled, look, frame) in enumerate(
        zip(playing.effect.emitters, plan.emitters, playing.looks, frames, strict=True)
    ):
        shown = look.show(frame.population, seconds)
        faults = [
            {"row": row, "count": count, "key": str(frame.faults.first_key[row])} for row, count in frame.faults.counts.items()
        ]
        entry: dict[str, Any] = {"uid": emitter.uid, "count": len(shown), "faults": faults}
        if measured:
            entry["measure"] = measure(emitter, compiled, frame.population, seconds)
        emitters.append(entry)
        arrays |= {f"{name}.{i}": array for name, array in _drawn(shown).items()}
    return pack({"type": "frame", "frame": number, "seconds": seconds, "emitters": emitters}, arrays)


def clip_packet(playing: Playing, stopped: Callable[[], None] = never) -> bytes:
    """Return what the frames stored so far tell: counts by frame (null where unknown), and each emitter's life profile."""
    plan = playing.plan
    emitters = []
    numbers = range(plan.first_frame, plan.last_frame + 1)
    for emitter, compiled, run in zip(playing.effect.emitters, plan.emitters, playing.runs, strict=True):
        stopped()
        stored = [(number, run.store.get(run.address, number)) for number in numbers]
        known = [(plan.seconds(number), frame.population) for number, frame in stored if frame is not None]
        counts = [None if frame is None else len(frame.population) for _, frame in stored]
        emitters.append({"uid": emitter.uid, "counts": counts, "profile": life_profile(emitter, compiled, known)})
    return pack({"type": "clip", "first": plan.first_frame, "last": plan.last_frame, "emitters": emitters}, {})


def _drawn(shown: Shown) -> dict[str, np.ndarray]:
    light = np.empty((len(shown), 4), np.float16)
    light[:, :3] = np.minimum(shown.colour, 60_000)
    light[:, 3] = shown.opacity
    return {"position": shown.positions(), "size": shown.size, "light": light}
