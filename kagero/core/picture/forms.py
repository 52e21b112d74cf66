"""The forms with which looks are drawn at a time, and the pictures of their materials."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..errors import BudgetError, GeometryProblem
from ..geometry import Mesh, Picture
from ..geometry.forms import Forms, forms_of, stock_form
from ..memory import PROCESS
from ..parts.looks import Formed, LookPart
from ..staging import Stage

TEXTURE = 2048  # pixels a side of what is drawn of a material's picture, at most
MOST_TRIANGLES = 1_000_000  # of all forms of a look
WHITE = Picture(np.ones((1, 1, 4), np.float32))
_forms = PROCESS.region("forms", 0.5)


def look_forms(look: LookPart, stage: Stage, seconds: float, place: Any = None) -> tuple[Forms | None, str]:
    """Return a look's forms at a clip time, or None and the reason; None and an empty reason for looks without forms.
    place: where its particles are born."""
    formed = look.formed()
    if formed is None:
        return None, ""
    try:
        return (_parts(formed, stage, place) if formed.parts else _build_forms(formed, stage, seconds)), ""
    except (GeometryProblem, BudgetError) as problem:
        return None, f"{problem.findings[0].message} {problem.findings[0].remedy}"


def _build_forms(formed: Formed, stage: Stage, seconds: float) -> Forms:
    if not formed.meshes:
        key = repr((formed.shelf, formed.drawn_with))
        found: Forms | None = _forms.get(key)
        if found is None:
            found = _forms.put(key, forms_of(key, [stock_form(formed.shelf)], [None], [formed.drawn_with == "picture"]))
        return found
    meshes, keys = [], []
    for uid in formed.meshes:
        mesh = mesh_of(stage, uid)
        clock = stage.clock(uid, seconds) if mesh.moves else 0.0
        prop = stage.prop(uid)
        meshes.append((mesh, clock, tuple(prop.tint)))
        keys.append((stage.key(uid), round(clock, 6), tuple(prop.tint)))
    key = repr((keys, formed.drawn_with))
    found = _forms.get(key)
    if found is not None:
        return found
    if (count := sum(len(mesh.faces) for mesh, *_ in meshes)) > MOST_TRIANGLES:
        raise BudgetError(
            f"The meshes of this look have {count:,} triangles.",
            remedy=f"Draw it as meshes of at most {MOST_TRIANGLES:,} in all.",
        )
    own = formed.drawn_with == "own"
    tints = [tint if own else None for *_, tint in meshes]
    standing = [mesh.at(clock) if own else _plain(mesh.at(clock)) for mesh, clock, _ in meshes]
    return _forms.put(key, forms_of(key, standing, tints, [formed.drawn_with == "picture"] * len(meshes)))


def _parts(formed: Formed, stage: Stage, place: Any) -> Forms:
    """Return a prop's parts as forms, each about its own centre."""
    if place is None or not place.counted:
        raise GeometryProblem(
            "These particles are no parts of anything.",
            remedy="Let them be born as parts of a prop, or choose another form.",
        )
    broken, _ = stage.broken_mesh(place)
    prop, mesh = stage.prop(place.prop), mesh_of(stage, place.prop)
    key = repr((stage.parts_key(place), tuple(prop.tint), formed.drawn_with))
    found: Forms | None = _forms.get(key)
    if found is not None:
        return found
    if len(broken.corners) > MOST_TRIANGLES:
        raise BudgetError(
            f"Its parts have {len(broken.corners):,} triangles.",
            remedy=f"Break up a mesh that leaves at most {MOST_TRIANGLES:,}.",
        )
    part = np.repeat(np.arange(len(broken)), np.diff(broken.start))
    corners = broken.corners.copy()
    corners[:, :, :3] -= broken.centre[part][:, None, :]
    tint = np.ones((len(corners), 4), np.float32)
    if formed.drawn_with == "own":
        material = np.clip(mesh.material, 0, len(mesh.colours) - 1)[np.maximum(broken.face, 0)]
        if len(mesh.colours) > 1:
            tint[:, :3] = mesh.colours[material]
        tint[:, :3] *= np.asarray(prop.tint, np.float32)
        tint[:, 3] = np.asarray(mesh.pictures)[material] == 0 if mesh.textures else 0
        if prop.film:
            tint[:, :] = 1
        tint[broken.face < 0, 3] = 0
    elif formed.drawn_with == "plain":
        tint[:, 3] = 0
    flat = corners[:, :, :3].reshape(-1, 3)
    first = broken.start[:-1] * 3
    box = np.stack([np.minimum.reduceat(flat, first), np.maximum.reduceat(flat, first)], axis=1)
    return _forms.put(
        key, Forms(key, np.ascontiguousarray(corners, np.float32), tint, broken.start, box, broken.centre)
    )


def _plain(mesh: Mesh) -> Mesh:
    """Return a mesh with white materials."""
    return Mesh.of(mesh.points, mesh.faces, mesh.uv, mesh.normals)


def mesh_of(stage: Stage, uid: str) -> Mesh:
    """Return the mesh of a prop. Raises GeometryProblem without one."""
    mesh = stage.geometry(uid) if stage.has_prop(uid) else None
    if not isinstance(mesh, Mesh) or not len(mesh.faces):
        raise GeometryProblem(
            "A mesh that this look is drawn as is not here.",
            remedy="Bring it in again, or choose another; the disc stands in.",
        )
    return mesh


def own_pictures(uids: tuple[str, ...], stage: Stage) -> list[Picture] | None:
    """Return the picture of each mesh's material, or the first picture of a picture prop; white where one has none,
    None where none has."""
    if len(uids) == 1 and stage.has_prop(uids[0]) and stage.prop(uids[0]).film:
        shows = stage.picture_at(uids[0], 0.0)
        return None if shows is None else [Picture(shows.no_larger(TEXTURE))]
    textures = [mesh_of(stage, uid).textures for uid in uids]
    if not any(textures):
        return None
    return [Picture(Picture(each[0]).no_larger(TEXTURE)) if each else WHITE for each in textures]
