"""Pictures and counts for the library's cards, kept on disk by content."""

from __future__ import annotations

import hashlib
import json
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.conf import settings

from kagero.core.document import Effect
from kagero.core.errors import BudgetError, Cancelled
from kagero.core.simulation import FrameStore
from kagero.core.staging import Content
from kagero.core.work_limits import Work, while_wanted
from kagero.core.workflows import Playing, card_pictures

from ..library import files
from ..library.disk import atomic_write
from .warm_up import WARMING

COUNT, WIDTH, HEIGHT = 16, 288, 162
MOST = 4e9  # operations a card may take: about half a minute
# one card at a time of each: help, which is light, never waits behind a library
LIBRARY = threading.Lock()
HELP = threading.Lock()


@contextmanager
def _one_at_a_time(turn: threading.Lock, gone: Callable[[], bool]) -> Iterator[None]:
    """Wait until kernels are compiled and no other card of this turn is made; raises Cancelled when nobody waits for
    this one any more."""
    while not WARMING.over.wait(0.2) or not turn.acquire(timeout=0.2):
        if gone():
            raise Cancelled()
    try:
        yield
    finally:
        turn.release()


def card(
    effect: Effect,
    gone: Callable[[], bool] = lambda: False,
    content: Content = files.content,
    turn: threading.Lock = LIBRARY,
) -> tuple[bytes, dict[str, Any]]:
    """Return a strip of COUNT pictures (PNG) over the clip, and {"counts": particles a frame}.

    gone: whether nobody waits for it any more. content: what its files hold; turn: in whose turn it is made. Raises
    Cancelled then, EffectError, and BudgetError where it would take more than MOST operations, which is remembered.
    """
    text = json.dumps(effect.model_dump(mode="json"), sort_keys=True) + f"{COUNT} {WIDTH} {HEIGHT} 2"
    name = hashlib.blake2b(text.encode(), digest_size=16).hexdigest()
    folder = settings.DATA_DIR / "cards"
    picture, facts = folder / f"{name}.png", folder / f"{name}.json"
    heavy = folder / f"{name}.heavy"
    if heavy.exists():
        raise _too_heavy()
    if picture.exists() and facts.exists():
        return picture.read_bytes(), json.loads(facts.read_text())
    with _one_at_a_time(turn, gone):  # a library full of new cards leaves room for whoever is at work
        if picture.exists() and facts.exists():
            return picture.read_bytes(), json.loads(facts.read_text())
        if heavy.exists():
            raise _too_heavy()

        def ask() -> None:
            if gone():
                raise Cancelled()

        try:
            with while_wanted(Work(ask, MOST, "Its picture")):
                return _draw_card(effect, picture, facts, ask, content)
        except BudgetError:
            with atomic_write(heavy) as part:
                part.write_bytes(b"")
            raise _too_heavy() from None


def _too_heavy() -> BudgetError:
    return BudgetError("This effect is too heavy for a card.", remedy="Open it: it plays.")


def _draw_card(
    effect: Effect, picture: Path, facts: Path, ask: Callable[[], None], content: Content
) -> tuple[bytes, dict[str, Any]]:
    strip, counts = card_pictures(Playing(effect.whole(), FrameStore(128 << 20), content), COUNT, WIDTH, HEIGHT, ask)
    for path, data in ((picture, strip), (facts, json.dumps({"counts": counts}).encode())):
        with atomic_write(path) as part:
            part.write_bytes(data)
    return strip, {"counts": counts}
