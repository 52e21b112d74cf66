"""Pictures that particles are drawn with, and those of picture props, as the stage draws them."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router

from kagero.core.document import read_effect
from kagero.core.errors import RequestError
from kagero.core.finishing import clipped, edges
from kagero.core.formats import pack
from kagero.core.kernels.colour import linear_to_srgb
from kagero.core.picture import Viewpoint, check_size, drawn_with, key_of
from kagero.core.workflows import RenderRequest, preview_sheet, render_frame, seen_frame, shelf_picture, short_key

from ..connections import listener
from ..frames import picture_turn, ready
from . import schemas
from .dependencies import PACKETS, PROBLEMS, binary
from .props import shown_pixels

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
    """What looks are drawn with at a frame, as a packet (docs/FORMATS.md), but for those known: sheets of pictures, RGBA of 8 bit, sRGB, times alpha,
    and forms, triangle by triangle."""
    playing = ready(read_effect(wanted.document))
    seconds = playing.plan.scene(wanted.frame)
    looks: list[dict[str, Any]] = []
    arrays: dict[str, np.ndarray] = {}
    known = set(wanted.known)
    for place, look in (
        (each.births.place, look) for i, each in enumerate(playing.effect.emitters) for look in playing.drawn_looks(i)
    ):
        result, forms, _ = drawn_with(look, playing.stage, seconds, place)
        text = key_of(result, forms)
        if not text or short_key(text) in known:
            continue
        known.add(short_key(text))
        number, every = len(looks), result.all if result is not None else ()
        of = [
            None if each is None else {"across": each.across, "levels": len(each.plates), "cells": each.cells}
            for each in every
        ]
        entry: dict[str, Any] = {"key": short_key(text), "aspect": 1.0, "reach": 0.0, "opaque": True, "sheets": of}
        if result is not None:
            entry |= {"aspect": result.aspect, "reach": result.reach, "opaque": result.opaque}
        if forms is not None:
            entry["forms"] = {"start": forms.start.tolist(), "box": forms.box.reshape(-1, 6).tolist()}
            arrays |= {f"corners.{number}": forms.corners.reshape(-1), f"tint.{number}": forms.tint.reshape(-1)}
        looks.append(entry)
        for i, each in enumerate(every):
            if each is not None:
                texels = np.concatenate(
                    [linear_to_srgb(each.texels[..., :3]), np.clip(each.texels[..., 3:], 0, 1)], axis=2
                )
                arrays |= {
                    f"texels.{number}.{i}": (texels * 255 + 0.5).astype(np.uint8),
                    f"plates.{number}.{i}": each.plates,
                }
    return _packet({"type": "sheets", "looks": looks}, arrays)


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
    return _packet({"type": "picture"}, {"pixels": shown_pixels(found, 2048)})


@router.post("pictures/render", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
@in_turn
def rendered(request: HttpRequest, wanted: schemas.RenderIn) -> HttpResponse:
    """The core's own picture of a frame, with all of its births, as a packet: `light`, linear, in half floats, and
    `shown`, RGBA of 8 bit, sRGB, over what stands behind all."""
    playing = ready(read_effect(wanted.document).whole())
    check_size(wanted.width, wanted.height)
    width, height = (max(1, round(side * wanted.scale)) for side in (wanted.width, wanted.height))
    left, top, wide, tall = (min(max(share, 0.0), 1.0) for share in wanted.region)
    x, y = min(int(left * width), width - 1), min(int(top * height), height - 1)
    region = (
        x,
        y,
        max(1, min(round((left + wide) * width), width) - x),
        max(1, min(round((top + tall) * height), height) - y),
    )
    eye = wanted.eye
    viewpoint = Viewpoint(eye.position, eye.target, eye.field_of_view, eye.up) if eye is not None else None
    if wanted.how == "edges":
        half = (max(1, width // 2), max(1, height // 2))
        light = edges(render_frame(playing, wanted.frame, RenderRequest(*half, viewpoint, alone=True)).over())
        width, height = light.shape[1], light.shape[0]
        region = (0, 0, width, height)
    else:
        light = seen_frame(playing, wanted.frame, width, height, viewpoint=viewpoint, region=region)[..., :3]
    look = clipped(light) if wanted.how == "clipped" else light
    shown = np.full((*light.shape[:2], 4), 255, np.uint8)
    shown[..., :3] = linear_to_srgb(look) * 255 + 0.5
    header = {"type": "render", "size": [width, height], "region": list(region)}
    return _packet(header, {"light": np.clip(np.nan_to_num(light), -60_000, 60_000).astype(np.float16), "shown": shown})


@router.post("pictures/sheet", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
@in_turn
def sheet(request: HttpRequest, wanted: schemas.ExportIn) -> HttpResponse:
    """A sprite sheet as it will play, as a packet: its pages, RGBA of 8 bit, sRGB, straight alpha; `rate`, how many a second; `seam`, how far it
    is from the last to the first in how far it is from page to page."""
    playing = ready(read_effect(wanted.document).whole())
    options = dict(wanted.options)
    pages, rate, seam = preview_sheet(playing, wanted.first, wanted.last, (wanted.width, wanted.height), options)
    return _packet({"type": "sheet", "rate": rate, "seam": seam}, {"pages": pages})


def _packet(header: dict[str, Any], arrays: dict[str, np.ndarray]) -> HttpResponse:
    return HttpResponse(
        pack(header, arrays), content_type="application/octet-stream", headers={"Cache-Control": "no-store"}
    )
