"""Waits after wrong passwords: after some of them each further one makes the address wait, twice as long as before."""

from __future__ import annotations

import logging
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass

from kagero.core.errors import KageroError

TRIES = 8  # wrong passwords for one name from one address before there is a wait
TRIES_OF_AN_ADDRESS = 40  # for any names
FIRST, LONGEST = 30.0, 3600.0  # seconds of the first wait, and of the longest
FORGET_AFTER = 24 * 3600.0  # seconds after the last failure
MOST_KNOWN = 10_000
_log = logging.getLogger("kagero.people")


class TooManyAttempts(KageroError):
    """seconds: how long there is a wait from now on."""

    code = "too_often"

    def __init__(self, seconds: float):
        self.seconds = max(1, round(seconds))
        minutes = -(-self.seconds // 60)
        wait = f"{self.seconds} seconds" if self.seconds < 60 else f"{minutes} minute{'s' if minutes > 1 else ''}"
        super().__init__(
            "There were too many wrong passwords.",
            remedy=f"Wait {wait}, then try again; or let somebody who is signed in end the wait.",
        )


@dataclass
class Failures:
    """count: since they were last forgotten; until: when the wait ends, on the monotonic clock."""

    count: int = 0
    last: float = 0.0
    until: float = 0.0


class SignInLimits:
    """Counts failures by name and address together, so that guesses from one address make no other wait, and by
    address. Safe for several threads."""

    def __init__(self) -> None:
        self._failed: OrderedDict[tuple[str, str], Failures] = OrderedDict()
        self._lock = threading.Lock()

    def ask(self, name: str, address: str) -> None:
        """Raise TooOften where there is a wait. name: "" where none is given."""
        now = time.monotonic()
        with self._lock:
            until = max(
                (self._failed[key].until for key, _ in self._keys(name, address) if key in self._failed), default=0.0
            )
        if until > now:
            _log.warning(
                "A sign-in was refused: it has to wait.",
                extra={"name_given": name, "address": address, "seconds": round(until - now)},
            )
            raise TooManyAttempts(until - now)

    def failed(self, name: str, address: str) -> None:
        now = time.monotonic()
        with self._lock:
            for key, tries in self._keys(name, address):
                found = self._failed.setdefault(key, Failures())
                if now - found.last > FORGET_AFTER:
                    found.count = 0
                found.count, found.last = found.count + 1, now
                if found.count >= tries:
                    found.until = now + min(FIRST * 2.0 ** (found.count - tries), LONGEST)
                self._failed.move_to_end(key)
            while len(self._failed) > MOST_KNOWN:
                self._failed.popitem(last=False)
        _log.warning("A sign-in failed.", extra={"name_given": name, "address": address})

    def succeeded(self, name: str, address: str) -> None:
        with self._lock:
            self._failed.pop((name, address), None)

    def waits(self, name: str) -> int:
        """Return the longest wait of any address for a name, s; 0 where there is none."""
        now = time.monotonic()
        with self._lock:
            return max(0, *(round(each.until - now) for (of, _), each in self._failed.items() if of == name), 0)

    def end(self, name: str) -> None:
        """End all waits of a name, and of the addresses that it was tried from."""
        with self._lock:
            tried = [address for of, address in self._failed if of == name]
            for address in tried:
                self._failed.pop((name, address))
                self._failed.pop(("", address), None)

    @staticmethod
    def _keys(name: str, address: str) -> list[tuple[tuple[str, str], int]]:
        return [*([((name, address), TRIES)] if name else []), (("", address), TRIES_OF_AN_ADDRESS)]


patience = SignInLimits()
