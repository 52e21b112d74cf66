"""Pictures that particles are drawn with, and those of picture props, as the stage draws them."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router

from kagero.core.document import read_effect
from kagero.core.errors import RequestError
from kagero.core.formats import pack
from kagero.core.kernels.colour import linear_to_srgb
from kagero.core.picture import look_sheets
from kagero.core.workflows import short_key

from ..frames import ready
from . import schemas
from .asked import PACKETS, PROBLEMS, binary
from .props import shown_pixels

router = Router()


@router.post("pictures/sheets", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
def sheets(request: HttpRequest, wanted: schemas.SheetsIn) -> HttpResponse:
    """The sheets that looks are drawn with at a frame, as a packet (docs/FORMATS.md), but for those that are known: RGBA of 8 bit, sRGB, times
    alpha."""
    playing = ready(read_effect(wanted.document))
    seconds = playing.plan.seconds(wanted.frame)
    looks: list[dict[str, Any]] = []
    arrays: dict[str, np.ndarray] = {}
    known = set(wanted.known)
    for look in (look for i in range(len(playing.effect.emitters)) for look in playing.drawn_looks(i)):
        made, _ = look_sheets(look, playing.stage, seconds)
        if made is None or short_key(made.key) in known:
            continue
        known.add(short_key(made.key))
        number = len(looks)
        of = [None if each is None else {"across": each.across, "levels": len(each.plates), "cells": each.cells} for each in made.all]
        looks.append({"key": short_key(made.key), "aspect": made.aspect, "reach": made.reach, "sheets": of})
        for i, each in enumerate(made.all):
            if each is not None:
                texels = np.concatenate([linear_to_srgb(each.texels[..., :3]), np.clip(each.texels[..., 3:], 0, 1)], axis=2)
                arrays |= {f"texels.{number}.{i}": (texels * 255 + 0.5).astype(np.uint8), f"plates.{number}.{i}": each.plates}
    return _packet({"type": "sheets", "looks": looks}, arrays)


@router.post("pictures/prop", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
def prop_picture(request: HttpRequest, wanted: schemas.PropPictureIn) -> HttpResponse:
    """What a picture prop shows at a frame, as a packet: RGBA of 8 bit, sRGB, no larger than 2,048 a side."""
    playing = ready(read_effect(wanted.document))
    prop = next((each for each in playing.effect.props if each.uid == wanted.prop and each.film), None)
    found = playing.stage.picture_at(prop.uid, playing.plan.seconds(wanted.frame)) if prop is not None else None
    if found is None:
        raise RequestError("There is no such picture.", where="prop", remedy="Choose one of the effect's picture props; bring its file in again.")
    return _packet({"type": "picture"}, {"pixels": shown_pixels(found.pixels, 2048)})


def _packet(header: dict[str, Any], arrays: dict[str, np.ndarray]) -> HttpResponse:
    return HttpResponse(pack(header, arrays), content_type="application/octet-stream", headers={"Cache-Control": "no-store"})
