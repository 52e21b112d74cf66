"""Accounts: made by invitation, the first by a link that is printed when the server starts; wrong passwords make everybody wait."""

from __future__ import annotations

import hashlib
import secrets
import threading
import time
from collections import defaultdict, deque
from datetime import timedelta
from typing import Any

from django.contrib.auth import authenticate, get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone

from kagero.core.errors import Finding, KageroError, RequestError

from .models import Invitation

DAYS = 3  # that an invitation is good for
TRIES, WITHIN = 8, 15 * 60  # wrong passwords for one name, or from one address, within so many seconds
MOST_KNOWN = 10_000


class NotLetIn(KageroError):
    """A name and password that do not belong together, or an invitation that is none any more."""

    code = "not_let_in"


class TooOften(KageroError):
    code = "too_often"

    def __init__(self, seconds: float):
        self.seconds = max(1, round(seconds))
        super().__init__("There were too many wrong passwords.", remedy=f"Wait {-(-self.seconds // 60)} minutes, then try again.")


class Patience:
    """Counts failures by key; who failed TRIES times within WITHIN seconds waits until the oldest is so long ago."""

    def __init__(self) -> None:
        self._failed: dict[str, deque[float]] = defaultdict(deque)
        self._lock = threading.Lock()

    def ask(self, *keys: str) -> None:
        """Raise TooOften when one of the keys has to wait."""
        now = time.monotonic()
        with self._lock:
            for key in keys:
                times = self._failed[key]
                while times and now - times[0] > WITHIN:
                    times.popleft()
                if len(times) >= TRIES:
                    raise TooOften(WITHIN - (now - times[0]))
            if len(self._failed) > MOST_KNOWN:
                self._failed = defaultdict(deque, {key: times for key, times in self._failed.items() if times})

    def failed(self, *keys: str) -> None:
        with self._lock:
            for key in keys:
                self._failed[key].append(time.monotonic())

    def forget(self, *keys: str) -> None:
        with self._lock:
            for key in keys:
                self._failed.pop(key, None)


patience = Patience()


def check(request: Any, name: str, password: str, address: str) -> Any:
    """Return the account of a name and password. Raises NotLetIn, TooOften; a name that is none takes as long as one that is."""
    keys = (f"name {name.casefold()}", f"address {address}")
    patience.ask(*keys)
    user = authenticate(request, username=name, password=password)
    if user is None:
        patience.failed(*keys)
        raise NotLetIn("This name and password do not belong together.", remedy="Try again, or let somebody invite you anew.")
    patience.forget(keys[0])
    return user


def anybody() -> bool:
    """Return whether there is any account yet."""
    return bool(get_user_model().objects.exists())


def invite(by: Any = None) -> str:
    """Return the secret of a new invitation, good for one account within DAYS."""
    secret = secrets.token_urlsafe(24)
    Invitation.objects.filter(expires__lt=timezone.now()).delete()
    Invitation.objects.create(digest=_digest(secret), expires=timezone.now() + timedelta(days=DAYS), by=by)
    return secret


def first_link() -> str:
    """Return the path that makes the first account, a new one at each start; empty when there is one. Older such links end."""
    if anybody():
        return ""
    Invitation.objects.filter(by=None).delete()
    return f"/welcome#{invite()}"


@transaction.atomic
def accept(secret: str, name: str, password: str, address: str) -> Any:
    """Return the account that an invitation makes; the invitation is used up. Raises NotLetIn, RequestError, TooOften."""
    key = f"address {address}"
    patience.ask(key)
    found = Invitation.objects.filter(digest=_digest(secret), expires__gt=timezone.now()).first()
    if found is None:
        patience.failed(key)
        raise NotLetIn("This invitation was used, or is too old.", remedy="Ask for another.")
    users = get_user_model().objects
    if users.filter(username__iexact=name).exists():
        raise RequestError(f"There is somebody called {name} already.", where="name", remedy="Choose another name.")
    user = get_user_model()(username=name)
    set_password(user, password)
    found.delete()
    return user


def set_password(user: Any, password: str) -> None:
    """Give an account a password, and keep it. Raises RequestError with everything that is wrong with the password."""
    try:
        validate_password(password, user)
    except ValidationError as problem:
        findings = [Finding("request", "password", words, "Choose another.") for words in problem.messages]
        raise RequestError("", findings=findings) from None
    user.set_password(password)
    user.save()


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
