"""Help: cards on what the sheet is made of, with moving pictures and examples to try; and the pages of docs/."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from kagero.core.document import read_effect
from kagero.core.errors import RequestError
from kagero.core.help import CARDS, attempt, card_of, made_up

from ..connections import listener
from ..frames import card
from ..frames.cards import HELP
from ..library import pages
from . import schemas
from .catalog_schemas import Unit
from .dependencies import PROBLEMS, binary, new_uid

router = Router()


class CardOut(Schema):
    """tries: the two examples, in words; low, high: about what it is set to or gives, in `unit`."""

    key: str
    kind: Literal[
        "row",
        "source",
        "operation",
        "function",
        "draw",
        "force",
        "ride",
        "contact",
        "cue",
        "look",
        "once",
        "prop",
        "mask",
        "shaping",
        "finish",
    ]
    name: str
    label: str
    help: str
    shows: str
    unit: Unit
    low: float | None
    high: float | None
    tries: tuple[str, str]


class TryIn(schemas.AboutDocument):
    """number: which of the card's two examples; emitter: the one it is tried on; address: the row that the card was
    asked for on."""

    emitter: str
    key: str = Field(max_length=120)
    number: int = Field(ge=0, le=1)
    address: str = Field(default="", max_length=160)


class Tried(schemas.Changed):
    label: str


class PageOut(Schema):
    name: str
    title: str


class Found(PageOut):
    """A place in a page: the heading it stands under, and the words about it."""

    heading: str
    anchor: str
    words: str


class PageText(PageOut):
    html: str


@router.get("help/cards", response={200: list[CardOut], **PROBLEMS})
def list_cards(request: HttpRequest) -> Any:
    return [
        {name: value for name, value in vars(each).items() if name != "scene"} | {"unit": asdict(each.unit)}
        for each in CARDS.values()
    ]


@router.get("help/cards/{key}/card.png", response={200: None, **PROBLEMS}, openapi_extra=binary("image/png"))
def card_picture(request: HttpRequest, key: str) -> HttpResponse:
    """Pictures of what a card is about, side by side."""
    effect = card_of(key).effect()
    if effect is None:
        raise RequestError(f"Nothing shows {key[:60]!r}.", where="key", remedy="Read its words.")
    strip, _ = card(effect, listener(request), made_up, HELP)
    return HttpResponse(strip, content_type="image/png", headers={"Cache-Control": "no-cache"})


@router.post("help/try", response={200: Tried, **PROBLEMS})
def try_example(request: HttpRequest, wanted: TryIn) -> Any:
    """Return the document with an example in it, and what it is called as an edit; nothing is stored."""
    document, label = attempt(
        read_effect(wanted.document), wanted.emitter, wanted.key, wanted.number, new_uid, wanted.address
    )
    return {"document": document, "label": label}


@router.get("docs", response={200: list[PageOut], **PROBLEMS})
def list_pages(request: HttpRequest) -> Any:
    return pages.listed()


@router.get("docs/search", response={200: list[Found], **PROBLEMS})
def search(request: HttpRequest, words: str) -> Any:
    """Return the places of all pages that have every word, those whose heading has them first."""
    return pages.search(words[:200])


@router.get("docs/{name}", response={200: PageText, **PROBLEMS})
def page(request: HttpRequest, name: str) -> Any:
    return pages.page(name)
