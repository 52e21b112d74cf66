"""Dials: made, renamed, taken away, tried; and what others turned them to."""

from __future__ import annotations

import base64
from dataclasses import asdict
from typing import Any

from django.http import HttpRequest
from ninja import Router

from kagero.core.catalog import delete_dial, delete_moment, dial_uses, make_dial, rename
from kagero.core.document import read_effect
from kagero.core.errors import Cancelled
from kagero.core.workflows import try_dial

from ..connections import listener
from ..frames import runs
from ..library import files, overlays
from . import schemas
from .base_schemas import RowId
from .dependencies import PROBLEMS, new_uid

router = Router()
PICTURE = (192, 108)


@router.post("dials/make", response={200: schemas.DialMade, **PROBLEMS})
def make(request: HttpRequest, wanted: schemas.DialIn) -> Any:
    """Return the document with a dial made from a row's number, and the dial's uid; nothing is stored."""
    document, uid = make_dial(
        read_effect(wanted.document), wanted.emitter, wanted.address, wanted.how, new_uid, wanted.component
    )
    return {"document": document, "uid": uid}


@router.post("dials/delete", response={200: schemas.Changed, **PROBLEMS})
def delete(request: HttpRequest, wanted: schemas.AboutDial) -> Any:
    """Return the document without a dial; what read it as a base or by a formula has its value."""
    return {"document": delete_dial(read_effect(wanted.document), wanted.uid)}


@router.post("moments/delete", response={200: schemas.Changed, **PROBLEMS})
def delete_a_moment(request: HttpRequest, wanted: schemas.AboutDial) -> Any:
    """Return the document without a moment; what hung on it stays where it is."""
    return {"document": delete_moment(read_effect(wanted.document), wanted.uid)}


@router.post("names/rename", response={200: schemas.Changed, **PROBLEMS})
def rename_thing(request: HttpRequest, wanted: schemas.RenameIn) -> Any:
    """Return the document with a dial, draw or own attribute renamed, its formulas with it."""
    return {"document": rename(read_effect(wanted.document), wanted.kind, wanted.uid, wanted.name, wanted.emitter)}


@router.post("dials/uses", response={200: dict[str, list[schemas.UseOut]], **PROBLEMS})
def uses(request: HttpRequest, wanted: schemas.AboutDocument) -> Any:
    """What each dial does, by its uid."""
    effect = read_effect(wanted.document)
    return {dial.uid: [asdict(use) for use in dial_uses(effect, dial.uid)] for dial in effect.dials}


@router.post("dials/try", response={200: schemas.TrialOut, **PROBLEMS})
def try_one(request: HttpRequest, wanted: schemas.AboutDial) -> Any:
    """Play the effect with a dial at both ends and in the middle: three pictures (PNG in base64), and words."""
    gone = listener(request)

    def stopped() -> None:
        if gone():
            raise Cancelled()

    trial = try_dial(read_effect(wanted.document), wanted.uid, *PICTURE, runs.store(), stopped, files.content)
    tried = [{**asdict(t), "picture": base64.b64encode(t.picture).decode() if t.picture else None} for t in trial.tried]
    return {"frame": trial.frame, "words": trial.words, "tried": tried}


@router.get("effects/{effect_id}/overlays", response={200: list[schemas.OverlayOut], **PROBLEMS})
def list_overlays(request: HttpRequest, effect_id: RowId) -> Any:
    return overlays.overlays(effect_id)


@router.put("effects/{effect_id}/overlays", response={200: schemas.OverlayOut, **PROBLEMS})
def keep_overlay(request: HttpRequest, effect_id: RowId, wanted: schemas.OverlayIn) -> Any:
    """Keep dials' values under a name; those kept under it before are replaced. The artist's values stay as they
    are."""
    return overlays.keep(effect_id, wanted.name, wanted.values)


@router.post("effects/{effect_id}/overlays/{overlay_id}/take-out", response={204: None, **PROBLEMS})
def take_out(request: HttpRequest, effect_id: RowId, overlay_id: RowId, wanted: schemas.TakeOut) -> Any:
    """Take some dials' values out of an overlay, or all without any named: they were accepted, or thrown away."""
    overlays.take_out(effect_id, overlay_id, wanted.uids)
    return 204, None
