"""Runs: one a window; a newer one of the same window stops the older."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from functools import lru_cache

from django.conf import settings

from kagero.core.effect import Effect
from kagero.core.errors import Cancelled
from kagero.core.simulation import FrameStore
from kagero.core.workflows import Playing, Wish, play_packets

from ..library import files

MOST_WINDOWS = 256
_newest: OrderedDict[str, object] = OrderedDict()
_lock = threading.Lock()


@lru_cache(maxsize=1)
def store() -> FrameStore:
    """Return the frames that all runs of this process share."""
    return FrameStore(settings.FRAME_STORE_BYTES)


def ready(effect: Effect) -> Playing:
    """Return the effect compiled. Raises EffectError or CircleProblem."""
    return Playing(effect, store(), files.content)


def play(playing: Playing, window: str, now: int, wish: Wish, gone: Callable[[], bool]) -> Iterator[bytes]:
    """Yield packets until done, until a newer run of the window starts, or until nobody listens any more."""
    token = object()
    with _lock:
        _newest[window] = token
        _newest.move_to_end(window)
        while len(_newest) > MOST_WINDOWS:
            _newest.popitem(last=False)

    def stopped() -> None:
        if _newest.get(window) is not token or gone():
            raise Cancelled()

    try:
        yield from play_packets(playing, now, wish, stopped)
    except Cancelled:
        return
