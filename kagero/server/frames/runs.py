"""Runs: one a window; a newer one of the same window stops the older. Where there is no room for one more, the slowest
reader is given up."""

from __future__ import annotations

import itertools
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from functools import lru_cache

from django.conf import settings

from kagero.core.document import Effect
from kagero.core.errors import Cancelled, KageroError
from kagero.core.memory import PROCESS
from kagero.core.simulation import FrameStore
from kagero.core.work_limits import LIMITS, Work, while_wanted
from kagero.core.workflows import Playing, PlayRequest, play_packets

from ..connections import HELD
from ..library import files
from .queueing import FIRST, NEAR, REST, TURNS

MOST_WINDOWS = 256
PATIENT = 1.0  # seconds that a new stream waits for room
PROCESS.limit, LIMITS.effect_bytes = settings.MEMORY_BYTES, settings.EFFECT_BYTES
_newest: OrderedDict[str, object] = OrderedDict()
_lock = threading.Lock()


_streams = threading.BoundedSemaphore(settings.MOST_STREAMS)


class Busy(KageroError):
    """So many play at once that no thread would be left for short requests."""

    code = "busy"

    def __init__(self) -> None:
        super().__init__("The server is busy with other players.", remedy="It is tried again in a moment.")


@lru_cache(maxsize=1)
def store() -> FrameStore:
    """Return the frames that all runs of this process share."""
    return FrameStore(memory=PROCESS)


def ready(effect: Effect) -> Playing:
    """Return the effect compiled. Raises EffectError or CircleProblem."""
    return Playing(effect, store(), files.content)


def first_turn(gone: Callable[[], bool]) -> AbstractContextManager[None]:
    """Hold a turn for what comes before a first picture. Raises Cancelled when nobody waits for it any more."""
    return _turn(FIRST, gone)


def picture_turn(gone: Callable[[], bool]) -> AbstractContextManager[None]:
    """Hold a turn for a picture that somebody looks at beside the stage: after first pictures, before the rest of
    clips. Raises Cancelled."""
    return _turn(NEAR, gone)


@contextmanager
def _turn(kind: int, gone: Callable[[], bool]) -> Iterator[None]:

    def ask() -> None:
        if gone():
            raise Cancelled()

    with TURNS.turn(kind, ask):
        yield


def play(playing: Playing, window: str, now: int, wanted: PlayRequest, gone: Callable[[], bool]) -> Iterator[bytes]:
    """Yield packets until done, until a newer run of the window starts, or until nobody listens any more."""
    token = object()
    streams = _streams
    if not _admitted(streams, gone):
        raise Busy()
    try:
        yield from _play(playing, window, now, wanted, gone, token)
    finally:
        streams.release()


def _admitted(streams: threading.Semaphore, gone: Callable[[], bool]) -> bool:
    """Wait for room for one more stream, while slow readers are given up; False where there is none for PATIENT
    seconds."""
    end = time.monotonic() + PATIENT
    while not streams.acquire(blocking=False):
        if not HELD.give_up_slowest(streaming=True) and (time.monotonic() > end or gone()):
            return False
        if streams.acquire(timeout=0.1):
            return True
    return True


def _play(
    playing: Playing, window: str, now: int, wanted: PlayRequest, gone: Callable[[], bool], token: object
) -> Iterator[bytes]:
    with _lock:
        _newest[window] = token
        _newest.move_to_end(window)
        while len(_newest) > MOST_WINDOWS:
            _newest.popitem(last=False)

    def stopped() -> None:
        if _newest.get(window) is not token or gone():
            raise Cancelled()

    packets, work = play_packets(playing, now, wanted, stopped), Work(stopped)
    near = 1 + wanted.measured + wanted.facts  # packets that tell of the frame on screen
    try:
        for number in itertools.count():
            kind = FIRST if number == 0 else NEAR if number < near else REST
            with TURNS.turn(kind, stopped), while_wanted(work):  # between packets other work may go on in this thread
                packet = next(packets, None)
            if packet is None:
                return
            yield packet
    except Cancelled:
        return
