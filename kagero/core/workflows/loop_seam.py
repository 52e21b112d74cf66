"""The seam of a loop: its last frame beside its first, and a measure of the difference."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..document import Effect
from ..errors import RequestError
from ..formats.encoding import to_bytes
from ..formats.exporters.flipbook import difference
from ..formats.exporters.png import to_png
from ..plan import Window
from ..simulation import CARRIED, POSITION, VELOCITY, Population
from .bake import BLACK, frame_over_backplate
from .play import Playing, never_stopped

STEPS = 3  # ordinary steps that it is compared with, over the window
BRIGHTER = 4  # times: what differs, as it is shown
FAINT = 1.5  # steps of a fade: who is so near its end comes or goes unseen
F64 = np.float64


@dataclass(frozen=True)
class Seam:
    """A loop's last and first frame and their difference, PNG each.

    jump: mean difference of colour, relative to that between consecutive frames; without: the same without the loop.
    appear, vanish: particles that appear without birth, or vanish without end; shown: their total. gap: largest
    deviation of a particle from its path across the seam beyond that between frames, metres.
    """

    first: int
    last: int
    pictures: tuple[bytes, bytes, bytes]
    jump: float
    without: float
    appear: int
    vanish: int
    shown: int
    gap: float


def seam(playing: Playing, emitter: str, width: int, height: int, stopped: Callable[[], None] = never_stopped) -> Seam:
    """Return the seam of an emitter's loop, or without an emitter that of the whole effect. Particles are counted over
    all emitters in that loop. Raises RequestError without a loop."""
    index = next((i for i, each in enumerate(playing.effect.emitters) if each.uid == emitter), None)
    window = playing.plan.loop if index is None else playing.plan.emitters[index].loop
    if window is None:
        raise RequestError("There is no loop here.", where="loop", remedy="Add one, or let it act.")

    def picture(of: Playing, number: int) -> np.ndarray:
        return frame_over_backplate(of, number, width, height, stopped)

    shown = {number: picture(playing, number) for number in _frames_needed(window)}
    plain = {number: to_bytes(each) for number, each in shown.items()}
    ordinary = float(np.mean([difference(plain[k], plain[k + 1]) for k in _steps(window)]))
    open_ended = Playing(_without_loop(playing), playing.store, playing.content)
    ends = [to_bytes(picture(open_ended, number)) for number in (window.last, window.first)]
    apart = np.abs(shown[window.last] - shown[window.first]) * BRIGHTER
    apart[..., 3] = 1
    counted = [
        _counted(playing, i, window, stopped) for i, each in enumerate(playing.plan.emitters) if each.loop == window
    ]
    appear, vanish, count = (sum(each[k] for each in counted) for k in range(3))
    return Seam(
        window.first,
        window.last,
        (to_png(shown[window.last], BLACK), to_png(shown[window.first], BLACK), to_png(np.minimum(apart, 1), BLACK)),
        difference(plain[window.last], plain[window.first]) / max(ordinary, 1e-6),
        difference(*ends) / max(ordinary, 1e-6),
        int(appear),
        int(vanish),
        int(count),
        max((each[3] for each in counted), default=0.0),
    )


def _steps(window: Window) -> list[int]:
    """Return the frames before ordinary steps used for comparison."""
    return sorted({int(k) for k in np.linspace(window.first, window.last - 1, STEPS)})


def _frames_needed(window: Window) -> list[int]:
    return sorted({window.first, window.last, *_steps(window), *(k + 1 for k in _steps(window))})


def _without_loop(playing: Playing) -> Effect:
    effect = playing.effect
    return effect.model_copy(
        update={"loop": None, "emitters": [each.model_copy(update={"loop": None}) for each in effect.emitters]}
    )


def _counted(playing: Playing, index: int, window: Window, stopped: Callable[[], None]) -> tuple[int, int, int, float]:
    """Return how many of an emitter's particles appear and vanish at the seam, their total, and a particle's largest
    deviation from its path, metres."""
    loop = playing.shaped[index].loop
    assert loop is not None
    last, then = loop.at(window.last, stopped), loop.at(window.last + 1, stopped)
    step = 1 / float(playing.plan.frame_rate)
    there, before = np.isin(last.key, then.key), np.isin(then.key, last.key)
    faint = FAINT / max(window.over, FAINT + 1)
    vanish = ~there & (last.age + step * 1.001 < last.lifespan) & (_share(last) > faint)
    appear = ~before & (then.age > step * 1.001) & (_share(then) > faint)
    ordinary = max(_path_error(loop.at(k, stopped), loop.at(k + 1, stopped), step) for k in _steps(window))
    return int(appear.sum()), int(vanish.sum()), len(then), max(_path_error(last, then, step) - ordinary, 0.0)


def _path_error(now: Population, later: Population, step: float) -> float:
    """Return the largest distance between a particle and the position that the velocities at both frames predict,
    metres."""
    one, other = now.where(np.isin(now.key, later.key)), later.where(np.isin(later.key, now.key))
    one, other = (each.where(np.argsort(each.key, kind="stable")) for each in (one, other))
    places = other.floats[POSITION:VELOCITY].astype(F64) - one.floats[POSITION:VELOCITY]
    travelled = (one.floats[VELOCITY:CARRIED].astype(F64) + other.floats[VELOCITY:CARRIED]) / 2 * step
    return float(np.linalg.norm(places - travelled, axis=0).max(initial=0))


def _share(population: Population) -> np.ndarray:
    return np.ones(len(population)) if population.repeats is None else population.repeats.share
