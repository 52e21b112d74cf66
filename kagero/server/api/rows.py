"""Rows and launches changed as a whole by the core: nothing is stored, the changed document goes back."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router

from kagero.core.catalog import break_up, copy_axis, make_guide
from kagero.core.document import read_effect

from . import schemas
from .dependencies import PROBLEMS, new_uid

router = Router()


class AxisIn(schemas.AboutDocument):
    """owner: an emitter or prop; address: its row; what the axis `one` has, `other` gets."""

    owner: str
    address: str
    one: Literal["x", "y", "z"]
    other: Literal["x", "y", "z"]


@router.post("rows/axis", response={200: schemas.Changed, **PROBLEMS})
def axis(request: HttpRequest, wanted: AxisIn) -> Any:
    """Return the document in which one axis of a row has what another has, with the axes' names swapped in formulas."""
    effect = copy_axis(read_effect(wanted.document), wanted.owner, wanted.address, wanted.one, wanted.other, new_uid)
    return {"document": effect}


@router.post("props/break", response={200: schemas.DialMade, **PROBLEMS})
def break_a_prop(request: HttpRequest, wanted: schemas.AboutDial) -> Any:
    """Return the document with an emitter of the parts of a prop, and the emitter's uid; nothing is stored."""
    document, uid = break_up(read_effect(wanted.document), wanted.uid, new_uid)
    return {"document": document, "uid": uid}


class GuideIn(schemas.AboutDocument):
    emitter: str


@router.post("guides/make", response={200: schemas.DialMade, **PROBLEMS})
def guide(request: HttpRequest, wanted: GuideIn) -> Any:
    """Return the document in which a new shape round an emitter's births guides its launch, and the shape's uid."""
    document, uid = make_guide(read_effect(wanted.document), wanted.emitter, new_uid)
    return {"document": document, "uid": uid}
