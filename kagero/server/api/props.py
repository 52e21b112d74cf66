"""Props: files brought in, and geometry as the stage draws it."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import ValidationError

from kagero.core.catalog import props_of_file
from kagero.core.document import Prop
from kagero.core.errors import RequestError
from kagero.core.geometry import Picture
from kagero.core.parts.props import file_ref
from kagero.core.rows.union import Lazy
from kagero.core.workflows import geometry_packet, picture_packet

from ..library import files
from . import prop_schemas
from .dependencies import BODY, PACKETS, PROBLEMS, binary

router = Router()
_prop = Lazy(Prop)


@router.post("props/files", response={201: prop_schemas.FileOut, **PROBLEMS}, openapi_extra=BODY)
def bring_file(request: HttpRequest, name: str) -> Any:
    """Bring a file in, the request's whole body; `name` is what it is called."""
    return 201, _with_props(files.import_file(name, request.read(files.MOST_BYTES + 1)))


@router.post("props/sequences", response={201: prop_schemas.FileOut, **PROBLEMS})
def join_files(request: HttpRequest, wanted: prop_schemas.SequenceIn) -> Any:
    """Make numbered meshes that were brought in one mesh that moves."""
    return 201, _with_props(files.join(wanted.contents, wanted.rate))


@router.post("props/missing", response={200: list[str], **PROBLEMS})
def missing_files(request: HttpRequest, wanted: prop_schemas.ContentsIn) -> Any:
    """Which of some files, by their contents, are not here."""
    return files.missing(wanted.contents)


@router.post("props/offers", response={200: prop_schemas.FileOut, **PROBLEMS})
def offers(request: HttpRequest, wanted: prop_schemas.OffersIn) -> Any:
    """What a file that was brought in can become, with its units and upright axis as they are said to be."""
    file = files.described(wanted.content)
    return _with_props({**file, "unit": wanted.unit, "up": wanted.up})


def _with_props(file: dict[str, Any]) -> dict[str, Any]:
    return {**file, "ref": file_ref(file), "props": props_of_file(file), "cameras": len(file.get("cameras", ()))}


@router.post("props/geometry", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
def prop_geometry(request: HttpRequest, wanted: prop_schemas.GeometryIn) -> HttpResponse:
    """A prop's geometry in its own space, as a packet (docs/FORMATS.md): points, normals, uv and faces of a mesh, or
    the corners of a path."""
    try:
        prop = _prop(wanted.prop)
    except ValidationError as problem:
        raise RequestError(
            f"This is no prop: {problem.errors()[0]['msg']}.", where="prop", remedy="Choose one of the effect's props."
        ) from None
    return _packet(geometry_packet(prop, files.content, wanted.fine))


@router.get("props/pictures/{content}", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
def picture(request: HttpRequest, content: str) -> HttpResponse:
    """A picture as the stage shows it: RGBA of 8 bit, sRGB, no larger than 2,048 a side."""
    found = files.content(content)
    if not isinstance(found, Picture):
        raise RequestError("This is no picture.", where="content", remedy="Bring it in again.")
    return _packet(picture_packet(found))


def _packet(packet: bytes) -> HttpResponse:
    return HttpResponse(packet, content_type="application/octet-stream", headers={"Cache-Control": "no-store"})
