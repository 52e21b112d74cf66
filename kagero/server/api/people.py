"""Signing in and out, and inviting others, where Kagero is served to a network."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from django.conf import settings
from django.contrib.auth import get_user_model, login, logout, update_session_auth_hash
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from kagero.core.errors import RequestError

from ..library.drafts import Missing
from ..people import rules, sign_in_limits
from ..people.names import folded
from .base_schemas import RowId, Strict
from .dependencies import PROBLEMS
from .middleware import address_of

router = Router()


class Session(Schema):
    """needed: whether nobody gets in here without signing in. name: of who is signed in."""

    needed: bool
    name: str | None


PersonName = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f\x7f]+$")]
Password = Annotated[str, Field(min_length=1, max_length=400)]


class SignIn(Strict):
    name: PersonName
    password: Password


class Welcome(Strict):
    secret: Annotated[str, Field(min_length=1, max_length=100)]
    name: PersonName
    password: Password


class NewPassword(Strict):
    old: Password
    new: Password


class Person(Schema):
    """waits: the longest wait, s, of an address that wrong passwords for this name came from."""

    id: int
    name: str
    since: datetime
    waits: int


class Invited(Schema):
    """path: what to send, behind the server's address; it is told once."""

    path: str
    days: int


def _session(request: Any) -> dict[str, Any]:
    user = request.user if settings.NETWORK else None
    signed = user is not None and user.is_authenticated
    return {"needed": settings.NETWORK, "name": user.username if user is not None and signed else None}


@router.get("session", response={200: Session, **PROBLEMS})
def session(request: HttpRequest) -> Any:
    """Whether signing in is needed here, and who is signed in."""
    return _session(request)


@router.post("session", response={200: Session, **PROBLEMS})
def sign_in(request: HttpRequest, wanted: SignIn) -> Any:
    login(request, rules.check(request, wanted.name, wanted.password, address_of(request)))
    return _session(request)


@router.delete("session", response={204: None, **PROBLEMS})
def sign_out(request: HttpRequest) -> Any:
    logout(request)
    return 204, None


@router.post("session/welcome", response={200: Session, **PROBLEMS})
def welcome(request: HttpRequest, wanted: Welcome) -> Any:
    """Make the account that an invitation is for, and sign it in."""
    login(request, rules.accept(wanted.secret, wanted.name, wanted.password, address_of(request)))
    return _session(request)


@router.put("session/password", response={204: None, **PROBLEMS})
def change_password(request: HttpRequest, wanted: NewPassword) -> Any:
    """Change one's own password; other places where one is signed in are signed out."""
    user: Any = _somebody(request)
    rules.check(request, user.username, wanted.old, address_of(request))
    rules.set_password(user, wanted.new)
    update_session_auth_hash(request, user)
    return 204, None


@router.get("people", response={200: list[Person], **PROBLEMS})
def people(request: HttpRequest) -> Any:
    return [
        {
            "id": user.pk,
            "name": user.username,
            "since": user.date_joined,
            "waits": sign_in_limits.patience.waits(folded(user.username)),
        }
        for user in get_user_model().objects.order_by("username")
    ]


@router.delete("people/{person_id}/wait", response={204: None, **PROBLEMS})
def end_wait(request: HttpRequest, person_id: RowId) -> Any:
    """End the wait after wrong passwords, so that this person can sign in at once."""
    found: Any = get_user_model().objects.filter(pk=person_id).first()
    if found is None:
        raise Missing("This account")
    sign_in_limits.patience.end(folded(found.username))
    return 204, None


@router.post("people/invitations", response={201: Invited, **PROBLEMS})
def invite(request: HttpRequest) -> Any:
    """Make a link for one more account; it is told once."""
    return 201, {"path": f"/welcome#{rules.invite(_somebody(request))}", "days": rules.DAYS}


@router.delete("people/{person_id}", response={204: None, **PROBLEMS})
def remove_person(request: HttpRequest, person_id: RowId) -> Any:
    """Take an account away, the own one too; what it made stays. The last one stays."""
    found: Any = get_user_model().objects.filter(pk=person_id).first()
    if found is None:
        raise Missing("This account")
    if get_user_model().objects.count() < 2:
        raise RequestError("This is the last account.", where="person_id", remedy="Invite somebody first.")
    found.delete()
    return 204, None


def _somebody(request: HttpRequest) -> Any:
    if not settings.NETWORK:
        raise RequestError(
            "Kagero is served to this machine alone: there are no accounts.", remedy="See docs/SERVING.md."
        )
    return request.user
