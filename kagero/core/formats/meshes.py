"""Meshes in: OBJ, PLY and STL by trimesh, GLB by our own reader; all checked before anything is made of them."""

from __future__ import annotations

import io
import re
from typing import Any

import numpy as np

from ..errors import GeometryProblem
from ..geometry import Mesh
from .gltf import read_glb

MOST_FACES, MOST_POINTS, MOST_BYTES = 2_000_000, 4_000_000, 256 * 1024 * 1024
_OBJ = (b"#", b"v", b"vt", b"vn", b"f", b"o", b"g", b"s", b"mtllib", b"usemtl")
_ZERO = re.compile(
    rb"^[ \t]*f[ \t](?:[^\n]*[ \t])?(0+)(?=[ \t/\r\n]|$)", re.MULTILINE
)  # a face with an index of nought
KINDS = ("obj", "ply", "stl", "glb")


def mesh_kind(name: str, data: bytes) -> str:
    """Return which of KINDS a file is, by what it holds rather than by its name. Raises GeometryProblem."""
    head = data[:1024]
    suffix = name.rsplit(".", 1)[-1].lower()
    if head[:4] == b"glTF":
        return "glb"
    if head[:3] == b"ply":
        return "ply"
    if len(data) >= 84 and len(data) == 84 + 50 * int.from_bytes(data[80:84], "little"):
        return "stl"
    if head.lstrip()[:5].lower() == b"solid" and b"facet" in data[:4096].lower():
        return "stl"
    if suffix == "stl" and len(data) >= 84 and b"\0" in head:
        return "stl"  # cut off or lying about its length: that is said when it is read
    lines = [line.split(None, 1)[0] for line in head.splitlines()[:-1] if line.split()]
    if (suffix == "obj" and b"\0" not in head) or (lines and all(word in _OBJ for word in lines)):
        return "obj"
    if suffix in KINDS:
        raise GeometryProblem(
            f"{name[:80]} is called {suffix.upper()} but holds something else.",
            remedy="Check the file, or export it again.",
        )
    raise GeometryProblem(f"{name[:80]} is no mesh that can be read here.", remedy="Bring in OBJ, PLY, STL or GLB.")


def read_mesh(name: str, data: bytes) -> Mesh:
    """Return the mesh in a file, (u, v) with v up; triangles without area and points of no triangle stay. Raises
    GeometryProblem."""
    if not data:
        raise GeometryProblem(f"{name[:80]} is empty.", remedy="Export it again.")
    if len(data) > MOST_BYTES:
        raise GeometryProblem(
            f"{name[:80]} has {len(data):,} bytes; {MOST_BYTES:,} are allowed.", remedy="Thin the mesh."
        )
    kind = mesh_kind(name, data)
    mesh = read_glb(data).mesh if kind == "glb" else _by_trimesh(name, data, kind)
    return check_mesh(mesh, name)


def check_mesh(mesh: Mesh, name: str) -> Mesh:
    """Return the mesh, or raise GeometryProblem where it cannot be used: nothing in it, too much, or what is no
    number."""
    if not len(mesh.faces):
        raise GeometryProblem(f"{name[:80]} has no triangles.", remedy="Check what was exported.")
    if len(mesh.faces) > MOST_FACES or len(mesh.points) > MOST_POINTS:
        raise GeometryProblem(
            f"{name[:80]} has {len(mesh.faces):,} triangles; {MOST_FACES:,} may be.", remedy="Thin the mesh."
        )
    if not np.isfinite(mesh.points).all() or (mesh.frames is not None and not np.isfinite(mesh.frames).all()):
        bad = int((~np.isfinite(mesh.points)).any(axis=1).sum())
        raise GeometryProblem(
            f"{bad or 'Some'} points of {name[:80]} are no numbers.", remedy="Repair the mesh, or export it again."
        )
    others = [part for part in (mesh.uv, mesh.colours, mesh.given_normals, mesh.times) if part is not None]
    if not all(np.isfinite(part).all() for part in others):
        raise GeometryProblem(
            f"Normals, colours or (u, v) of {name[:80]} are no numbers.", remedy="Repair the mesh, or export it again."
        )
    if len(mesh.material) and not 0 <= mesh.material.min() <= mesh.material.max() < len(mesh.colours):
        raise GeometryProblem(f"Triangles of {name[:80]} name a material that is not there.", remedy="Export it again.")
    if np.abs(mesh.points).max() > 1e7:
        words = f"{name[:80]} reaches {np.abs(mesh.points).max():.3g} units from its origin."
        raise GeometryProblem(words, remedy="Move it nearer, or check its unit.")
    if not float(mesh.areas.sum()) > 0:
        raise GeometryProblem(f"The triangles of {name[:80]} have no area.", remedy="Check what was exported.")
    return mesh


def _by_trimesh(name: str, data: bytes, kind: str) -> Mesh:
    import trimesh  # slow to load, and only needed here

    if kind == "stl" and data[:5].lower() != b"solid" and len(data) >= 84:
        stated = int.from_bytes(data[80:84], "little")
        if len(data) != 84 + 50 * stated:
            words = f"{name[:80]} says {stated:,} triangles and has bytes for {(len(data) - 84) // 50:,}."
            raise GeometryProblem(words, remedy="Export it again.")
    if kind == "obj" and (zero := _ZERO.search(data)):
        line = data.count(b"\n", 0, zero.start(1)) + 1
        raise GeometryProblem(
            f"Line {line} of {name[:80]} names point 0; OBJ counts from 1.", remedy="Export it again."
        )
    try:
        # no resolver: nothing that the file names is opened
        found: Any = trimesh.load(io.BytesIO(data), file_type=kind, process=False, skip_materials=True)
        if isinstance(found, trimesh.Scene):
            found = found.to_geometry() if len(found.geometry) else None
    except MemoryError:
        raise
    except Exception as problem:  # a reader of many formats raises whatever it meets
        raise GeometryProblem(
            f"{name[:80]} cannot be read as {kind.upper()}: it is cut off or damaged.", remedy="Export it again."
        ) from problem
    if not isinstance(found, trimesh.Trimesh):
        raise GeometryProblem(f"{name[:80]} has no triangles.", remedy="Check what was exported.")
    faces = np.asarray(found.faces)
    if len(faces) and (faces.min() < 0 or faces.max() >= len(found.vertices)):
        raise GeometryProblem(f"Triangles of {name[:80]} name points that are not there.", remedy="Export it again.")
    uv = getattr(found.visual, "uv", None)
    uv = None if uv is None or len(uv) != len(found.vertices) else np.nan_to_num(np.asarray(uv)[:, :2])
    normals = found.vertex_normals if "vertex_normals" in found._cache and kind != "stl" else None
    return Mesh.of(np.asarray(found.vertices), faces, uv, None if normals is None else np.asarray(normals, np.float32))
