"""Props: files brought in, and geometry as the stage draws it."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import ValidationError

from kagero.core.catalog import props_of_file
from kagero.core.document import Prop
from kagero.core.errors import RequestError
from kagero.core.formats import pack
from kagero.core.geometry import Mesh, Picture
from kagero.core.parts.props import file_ref
from kagero.core.rows.union import Lazy
from kagero.core.staging import fine_mesh, geometry

from ..library import files
from . import prop_schemas
from .dependencies import BODY, PACKETS, PROBLEMS, binary

router = Router()
_prop = Lazy(Prop)
MOST_SENT = 96 * 1024 * 1024  # bytes of an animation's frames; above, every second, third ... is sent


@router.post("props/files", response={201: prop_schemas.FileOut, **PROBLEMS}, openapi_extra=BODY)
def bring_file(request: HttpRequest, name: str) -> Any:
    """Bring a file in, the request's whole body; `name` is what it is called."""
    return 201, _with_props(files.bring(name, request.read(files.MOST_BYTES + 1)))


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
    """A prop's geometry in its own space, as a packet (docs/FORMATS.md): points, normals, uv and faces of a mesh, or the corners of a path."""
    try:
        prop = _prop(wanted.prop)
    except ValidationError as problem:
        raise RequestError(
            f"This is no prop: {problem.errors()[0]['msg']}.", where="prop", remedy="Choose one of the effect's props."
        ) from None
    mesh = geometry(prop, files.content)
    words = prop.lacks()
    if mesh is None:
        return _packet(
            {"type": "geometry", "shape": prop.kind if prop.camera or prop.light else "none", "words": words}, {}
        )
    if not isinstance(mesh, Mesh):
        return _packet(
            {"type": "geometry", "shape": "path", "length": mesh.length, "words": words},
            {"points": mesh.corners.astype(np.float32)},
        )
    if not len(mesh.faces):
        return _packet(
            {
                "type": "geometry",
                "shape": "points",
                "points_count": len(mesh.points),
                "words": words,
                "low": mesh.bounds[0].tolist(),
                "high": mesh.bounds[1].tolist(),
            },
            {"points": mesh.points},
        )
    faces = len(mesh.faces)
    if wanted.fine:
        mesh = fine_mesh(prop, mesh)
    head = {
        "type": "geometry",
        "shape": "mesh",
        "faces": faces,
        "points": len(mesh.points),
        "closed": mesh.is_closed,
        "words": words,
        "low": mesh.bounds[0].tolist(),
        "high": mesh.bounds[1].tolist(),
    }
    arrays = {
        "points": mesh.points,
        "normals": mesh.normals.astype(np.float32),
        "uv": mesh.uv,
        "faces": mesh.faces.astype(np.uint32),
    }
    if len(mesh.colours) > 1:
        arrays["tints"] = mesh.colours[mesh.material].astype(np.float32)
    head["uv"] = bool(np.ptp(mesh.uv, axis=0).any()) if len(mesh.uv) else False
    if mesh.textures:  # the stage shows the first
        arrays |= {
            "pixels": shown_pixels(Picture(mesh.textures[0]), 1024),
            "pictured": (np.asarray(mesh.pictures)[mesh.material] == 0).astype(np.float32),
        }
    if mesh.surfaces is not None and mesh.surface_pictures is not None:
        arrays["surfaces"] = mesh.surfaces[np.clip(mesh.material, 0, len(mesh.surfaces) - 1)].astype(np.float32)
        mapped = np.zeros(len(mesh.faces), np.float32)
        for bit, name in enumerate(("rough", "glow")):  # of each the first, as pictures have it
            first = next((int(picture) for picture in mesh.surface_pictures[:, bit] if picture >= 0), -1)
            if first >= 0:
                arrays[f"{name}_pixels"] = shown_pixels(Picture(mesh.textures[first]), 1024)
                mapped += np.where(
                    mesh.surface_pictures[np.clip(mesh.material, 0, len(mesh.surfaces) - 1), bit] == first, 1 << bit, 0
                )
        arrays["mapped"] = mapped
    if mesh.frames is not None and mesh.times is not None and len(mesh.frames) > 1:
        every = max(1, -(-mesh.frames.nbytes // MOST_SENT))
        arrays |= {
            "frames": np.ascontiguousarray(mesh.frames[::every]),
            "times": mesh.times[::every].astype(np.float32),
        }
    return _packet(head, arrays)


@router.get("props/pictures/{content}", response={200: None, **PROBLEMS}, openapi_extra=binary(PACKETS))
def picture(request: HttpRequest, content: str) -> HttpResponse:
    """A picture as the stage shows it: RGBA of 8 bit, sRGB, no larger than 2,048 a side."""
    found = files.content(content)
    if not isinstance(found, Picture):
        raise RequestError("This is no picture.", where="content", remedy="Bring it in again.")
    return _packet({"type": "picture"}, {"pixels": shown_pixels(found, 2048)})


def shown_pixels(picture: Picture, most: int) -> np.ndarray:
    """Return a picture as the stage shows it: RGBA of 8 bit, no larger than `most` a side."""
    level = picture.no_larger(most)
    colour = np.clip(level[:, :, :3], 0, 1)
    srgb = np.where(colour <= 0.0031308, colour * 12.92, 1.055 * colour ** (1 / 2.4) - 0.055)
    return (np.concatenate([srgb, np.clip(level[:, :, 3:], 0, 1)], axis=2) * 255 + 0.5).astype(np.uint8)


def _packet(header: dict[str, Any], arrays: dict[str, np.ndarray]) -> HttpResponse:
    return HttpResponse(
        pack(header, arrays), content_type="application/octet-stream", headers={"Cache-Control": "no-store"}
    )
