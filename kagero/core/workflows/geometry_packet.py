"""A prop's geometry, and pictures, as packets for the stage (docs/FORMATS.md)."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..formats import pack
from ..formats.encoding import rgba_bytes
from ..geometry import Mesh, Picture
from ..staging import Content, fine_mesh, geometry

MOST_SENT = 96 * 1024 * 1024  # bytes of an animation's frames; above, every second, third ... is sent


def geometry_packet(prop: Any, content: Content, fine: bool) -> bytes:
    """Return a prop's geometry in its own space as a packet: points, normals, (u, v) and faces of a mesh, the corners
    of a path, or points. fine: subdivided, for fields and dissolving. Raises GeometryProblem."""
    mesh = geometry(prop, content)
    words = prop.lacks()
    if mesh is None:
        return pack(
            {"type": "geometry", "shape": prop.kind if prop.camera or prop.light else "none", "words": words}, {}
        )
    if not isinstance(mesh, Mesh):
        return pack(
            {"type": "geometry", "shape": "path", "length": mesh.length, "words": words},
            {"points": mesh.corners.astype(np.float32)},
        )
    if not len(mesh.faces):
        return pack(
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
    if fine:
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
            "pixels": stage_pixels(Picture(mesh.textures[0]), 1024),
            "pictured": (np.asarray(mesh.pictures)[mesh.material] == 0).astype(np.float32),
        }
    if mesh.surfaces is not None and mesh.surface_pictures is not None:
        arrays["surfaces"] = mesh.surfaces[np.clip(mesh.material, 0, len(mesh.surfaces) - 1)].astype(np.float32)
        mapped = np.zeros(len(mesh.faces), np.float32)
        for bit, name in enumerate(("rough", "glow")):  # of each the first, as pictures have it
            first = next((int(picture) for picture in mesh.surface_pictures[:, bit] if picture >= 0), -1)
            if first >= 0:
                arrays[f"{name}_pixels"] = stage_pixels(Picture(mesh.textures[first]), 1024)
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
    return pack(head, arrays)


def picture_packet(picture: Picture) -> bytes:
    """Return a picture as a packet: RGBA of 8 bits, sRGB, at most 2,048 pixels a side."""
    return pack({"type": "picture"}, {"pixels": stage_pixels(picture, 2048)})


def stage_pixels(picture: Picture, most: int) -> np.ndarray:
    """Return a picture as the stage shows it, (H, W, 4) uint8, sRGB, straight alpha, at most `most` pixels a side."""
    return rgba_bytes(picture.no_larger(most))
