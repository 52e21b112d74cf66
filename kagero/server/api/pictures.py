"""Pictures that particles are drawn with, and those of picture props, as the stage draws them."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router

from kagero.core.document import read_effect
from kagero.core.errors import RequestError
from kagero.core.formats import pack
from kagero.core.picture import Viewpoint
from kagero.core.workflows import picture_packet, preview_sheet, render_packet, sheets_packet, shelf_picture

from ..connections import listener
from ..frames import picture_turn, ready
from . import schemas
from .dependencies import PACKETS, PROBLEMS, binary

router = Router()


def in_turn(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Let a view that computes a picture wait for its turn, and give up when nobody waits for it any more."""

    @wraps(view)
    def waits(request: HttpRequest, *given: Any, **named: Any) -> HttpResponse:
        with picture_turn(listener(request)):
            return view(request, *given, **named)

    return waits


@router.post("pictures/sheets", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
@in_turn
def sheets(request: HttpRequest, wanted: schemas.SheetsIn) -> HttpResponse:
    """What looks are drawn with at a frame, as a packet (docs/FORMATS.md), but for those known: sheets of pictures,
    RGBA of 8 bit, sRGB, times alpha, and forms, triangle by triangle."""
    playing = ready(read_effect(wanted.document))
    return _packet(sheets_packet(playing, wanted.frame, wanted.known))


@router.get("pictures/stock/{name}", response={200: None, **PROBLEMS}, openapi_extra=binary("image/png"))
def stock_picture(request: HttpRequest, name: str) -> HttpResponse:
    """A picture that ships, as one chooses it: PNG with alpha, 64 pixels a side at most."""
    return HttpResponse(shelf_picture(name), content_type="image/png", headers={"Cache-Control": "max-age=3600"})


@router.post("pictures/prop", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
@in_turn
def prop_picture(request: HttpRequest, wanted: schemas.PropPictureIn) -> HttpResponse:
    """What a picture prop shows at a frame, as a packet: RGBA of 8 bit, sRGB, no larger than 2,048 a side."""
    playing = ready(read_effect(wanted.document))
    prop = next((each for each in playing.effect.props if each.uid == wanted.prop and each.film), None)
    found = playing.stage.picture_at(prop.uid, playing.plan.scene(wanted.frame)) if prop is not None else None
    if found is None:
        raise RequestError(
            "There is no such picture.",
            where="prop",
            remedy="Choose one of the effect's picture props; bring its file in again.",
        )
    return _packet(picture_packet(found))


@router.post("pictures/render", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
@in_turn
def rendered(request: HttpRequest, wanted: schemas.RenderIn) -> HttpResponse:
    """The core's own picture of a frame, with all of its births, as a packet: `light`, linear, in half floats, and
    `shown`, RGBA of 8 bit, sRGB, over what stands behind all."""
    playing = ready(read_effect(wanted.document).whole())
    eye = wanted.eye
    viewpoint = Viewpoint(eye.position, eye.target, eye.field_of_view, eye.up) if eye is not None else None
    size = (wanted.width, wanted.height)
    return _packet(render_packet(playing, wanted.frame, size, wanted.scale, wanted.region, viewpoint, wanted.how))


@router.post("pictures/sheet", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
@in_turn
def sheet(request: HttpRequest, wanted: schemas.ExportIn) -> HttpResponse:
    """A sprite sheet as it will play, as a packet: its pages, RGBA of 8 bit, sRGB, straight alpha; `rate`, how many a
    second; `seam`, how far it is from the last to the first in how far it is from page to page."""
    playing = ready(read_effect(wanted.document).whole())
    options = dict(wanted.options)
    pages, rate, seam = preview_sheet(playing, wanted.first, wanted.last, (wanted.width, wanted.height), options)
    return _packet(pack({"type": "sheet", "rate": rate, "seam": seam}, {"pages": pages}))


def _packet(packet: bytes) -> HttpResponse:
    return HttpResponse(packet, content_type="application/octet-stream", headers={"Cache-Control": "no-store"})
