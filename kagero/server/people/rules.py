"""Accounts: made by invitation, the first by a link that is printed when the server starts; wrong passwords make
everybody wait."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from typing import Any

from django.contrib.auth import authenticate, get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone

from kagero.core.errors import Finding, KageroError, RequestError

from . import sign_in_limits
from .models import Invitation
from .names import folded, proper

DAYS = 3  # that an invitation is good for


class SignInRefused(KageroError):
    """A name and password that do not belong together, or an invitation that is none any more."""

    code = "not_let_in"


def check(request: Any, name: str, password: str, address: str) -> Any:
    """Return the account of a name and password. Raises NotLetIn, TooOften; a name that is none takes as long as one
    that is."""
    key = folded(name)
    sign_in_limits.patience.ask(key, address)
    user = authenticate(request, username=name, password=password)
    if user is None:
        sign_in_limits.patience.failed(key, address)
        raise SignInRefused(
            "This name and password do not belong together.", remedy="Try again, or let somebody invite you anew."
        )
    sign_in_limits.patience.succeeded(key, address)
    return user


def has_people() -> bool:
    """Return whether there is any account yet."""
    return bool(get_user_model().objects.exists())


def invite(by: Any = None) -> str:
    """Return the secret of a new invitation, good for one account within DAYS."""
    secret = secrets.token_urlsafe(24)
    Invitation.objects.filter(expires__lt=timezone.now()).delete()
    Invitation.objects.create(digest=_digest(secret), expires=timezone.now() + timedelta(days=DAYS), by=by)
    return secret


def first_link() -> str:
    """Return the path that makes the first account, a new one at each start; empty when there is one. Older such links
    end."""
    if has_people():
        return ""
    Invitation.objects.filter(by=None).delete()
    return f"/welcome#{invite()}"


@transaction.atomic
def accept(secret: str, name: str, password: str, address: str) -> Any:
    """Return the account that an invitation makes; the invitation is used up. Raises NotLetIn, RequestError,
    TooOften."""
    sign_in_limits.patience.ask("", address)
    found = Invitation.objects.filter(digest=_digest(secret), expires__gt=timezone.now()).first()
    if found is None:
        sign_in_limits.patience.failed("", address)
        raise SignInRefused("This invitation was used, or is too old.", remedy="Ask for another.")
    name = proper(name)
    if any(folded(name) == folded(each) for each in get_user_model().objects.values_list("username", flat=True)):
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
