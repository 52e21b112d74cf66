"""Import of files, each in a process of its own with limits on time and memory: `python -m
kagero.core.formats.importing` (see `serve`)."""

from __future__ import annotations

import hashlib
import io
import json
import os
import re
import resource
import sys
import traceback
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from ..errors import GeometryProblem, KageroError
from ..geometry import Drawing, ImportedGeometry, Mesh, Picture, VectorField
from .cameras import camera_facts, remarks_on
from .fields import is_field, read_field
from .films import film_of, is_film, read_film
from .gltf import read_glb
from .meshes import check_mesh, mesh_kind, read_mesh
from .pictures import picture_kind, read_picture
from .points import read_points
from .svg import is_svg, read_svg
from .usd import is_usd, read_usd

MOST_NAME = 200


def import_file(name: str, data: bytes) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    """Return the arrays and the facts of a file. Raises GeometryProblem."""
    check_name(name)
    if picture_kind(data):
        picture = read_picture(name, data)
        width, height = picture.size
        return {"pixels": np.asarray(picture.pixels, np.float16)}, {"kind": "picture", "width": width, "height": height}
    if is_film(data):
        return read_film(name, data)
    if is_svg(data):
        drawing = read_svg(name, data)
        line = thin_points(np.column_stack([drawing.lines[0], np.zeros(len(drawing.lines[0]))]))
        flat = [ring for rings in drawing.rings for ring in rings]
        arrays = {
            "rings": np.concatenate(flat) if flat else np.zeros((0, 2)),
            "lengths": np.array([len(r) for r in flat], np.int64),
            "shapes": np.array([len(rings) for rings in drawing.rings], np.int64),
            "rules": np.array([rule == "evenodd" for rule in drawing.rules]),
        }
        return arrays, {"kind": "drawing", "line": line, "shapes": len(drawing.rings)}
    if is_field(name):
        field = read_field(name, data)
        low, high = field.bounds
        facts = {
            "kind": "field",
            "points": int(np.prod(field.count)),
            "count": list(field.count),
            "strongest": float(f"{field.strongest:.4g}"),
            "size": (high - low).round(6).tolist(),
            "unit": 1.0,
            "up": "y",
        }
        return {"field": field.values, "origin": field.origin, "spacing": field.spacing}, facts
    if name.lower().endswith((".csv", ".txt", ".xyz")):
        points = read_points(name, data)
        low, high = points.min(axis=0), points.max(axis=0)
        return {"cloud": points}, {
            "kind": "points",
            "points": len(points),
            "size": (high - low).astype(float).round(6).tolist(),
            "line": thin_points(points),
            **guess_unit_and_axis(name, low, high),
        }
    if is_usd(name, data):
        found, unit, up = read_usd(name, data)
        return {"cloud": np.zeros((0, 3), np.float32)}, {
            "kind": "cameras",
            "cameras": [camera_facts(camera) for camera in found],
            "unit": unit,
            "up": up,
            "remarks": remarks_on(found),
        }
    cameras: list[dict[str, Any]] = []
    remarks: list[str] = []
    if mesh_kind(name, data) == "glb":
        read = read_glb(data)
        cameras, remarks = [camera_facts(camera) for camera in read.cameras], remarks_on(read.cameras)
        mesh = with_picture(check_mesh(read.mesh, name), read.images, name)
    elif mesh_kind(name, data) == "ply" and (cloud := points_of_ply(data)) is not None:
        low, high = cloud.min(axis=0), cloud.max(axis=0)
        return {"cloud": cloud}, {
            "kind": "points",
            "points": len(cloud),
            "size": (high - low).astype(float).round(6).tolist(),
            "line": thin_points(cloud),
            **guess_unit_and_axis(name, low, high),
        }
    else:
        mesh = read_mesh(name, data)
    low, high = mesh.bounds
    facts = {
        "kind": "mesh",
        "faces": len(mesh.faces),
        "points": len(mesh.points),
        "size": (high - low).round(6).tolist(),
        "low": low.round(6).tolist(),
        "closed": mesh.is_closed,
        "uv": bool(np.ptp(mesh.uv, axis=0).any()),
        "moves": mesh.moves,
        "cameras": cameras,
        "remarks": remarks,
        "seconds": float(mesh.times[-1]) if mesh.times is not None else 0.0,
        **guess_unit_and_axis(name, low, high),
    }
    return arrays_of(mesh), facts


def content_hash(data: bytes) -> str:
    """Return the content hash under which documents name a file: 128 bits of BLAKE2b (RFC 7693)."""
    return hashlib.blake2b(data, digest_size=16).hexdigest()


def check_name(name: str) -> None:
    """Raise GeometryProblem for text that is not a file name: empty, too long, or with forbidden characters."""
    if not name.strip() or len(name) > MOST_NAME:
        raise GeometryProblem(
            f"A file's name has 1 to {MOST_NAME} characters; this has {len(name)}.", remedy="Call it something shorter."
        )
    if any(ord(letter) < 32 or 0x7F <= ord(letter) < 0xA0 or 0xD800 <= ord(letter) < 0xE000 for letter in name):
        raise GeometryProblem(
            "This file's name holds characters that no name may have.", remedy="Call it something else."
        )


def thin_points(points: np.ndarray, most: int = 400) -> list[list[float]]:
    """Return points as a line that can be edited: an even selection of at most `most`, six digits each."""
    pick = np.unique(np.linspace(0, len(points) - 1, min(most, len(points))).astype(int))
    return [[float(f"{x:.6g}") for x in points[i]] for i in pick]


def with_picture(mesh: Mesh, images: tuple[bytes, ...], name: str) -> Mesh:
    """Return a mesh with its materials' pictures read. Raises GeometryProblem for one that cannot be read."""
    others = mesh.surface_pictures if mesh.surface_pictures is not None else np.zeros((0, 2), np.int32)
    used = sorted({picture for picture in (*mesh.pictures, *others.ravel().tolist()) if 0 <= picture < len(images)})
    renumbered = np.array(
        [used.index(picture) if picture in used else -1 for picture in others.ravel().tolist()], np.int32
    ).reshape(-1, 2)
    pictures = tuple(used.index(picture) if picture in used else -1 for picture in mesh.pictures)
    textures = tuple(read_picture(f"Picture {picture + 1} of {name}", images[picture]).pixels for picture in used)
    return replace(
        mesh, pictures=pictures, textures=textures, surface_pictures=renumbered if mesh.surfaces is not None else None
    )


def points_of_ply(data: bytes) -> np.ndarray | None:
    """Return the points of a PLY without faces, otherwise None."""
    end = data.find(b"end_header")
    if end < 0 or re.search(rb"element\s+face\s+[1-9]", data[:end]):
        return None
    import trimesh  # slow to load, and only needed here

    try:
        found: Any = trimesh.load(io.BytesIO(data), file_type="ply", process=False)
        points = np.asarray(found.vertices, np.float32)
    except MemoryError:
        raise
    except Exception:  # what is wrong is said where it is read as a mesh
        return None
    return points if len(points) and np.isfinite(points).all() else None


def guess_unit_and_axis(name: str, low: np.ndarray, high: np.ndarray) -> dict[str, Any]:
    """Return the probable unit and up axis of a mesh. Common practice, no source: sizes of hundreds are centimetres or
    millimetres; STL has z up, the other formats y."""
    largest = float((high - low).max())
    unit = 1.0 if largest < 50 else 0.01 if largest < 1500 else 0.001
    return {"unit": unit, "up": "z" if name.lower().endswith(".stl") else "y"}


def mesh_sequence(meshes: list[Mesh], rate: float) -> Mesh:
    """Return numbered meshes as one moving mesh, one for each frame at `rate` a second. Raises GeometryProblem where
    their triangles differ."""
    first = meshes[0]
    for number, mesh in enumerate(meshes):
        if len(mesh.points) != len(first.points) or not np.array_equal(mesh.faces, first.faces):
            words = (
                f"File {number + 1} of the sequence has {len(mesh.points):,} points and {len(mesh.faces):,} triangles; "
                "the first has "
            )
            raise GeometryProblem(
                f"{words}{len(first.points):,} and {len(first.faces):,}, or they are joined otherwise.",
                remedy="Export the sequence with the same points in every file.",
            )
    frames = np.stack([mesh.points for mesh in meshes]).astype(np.float32)
    return Mesh(
        first.points,
        first.faces,
        first.uv,
        first.material,
        first.colours,
        first.pictures,
        frames,
        np.arange(len(meshes)) / rate,
    )


def arrays_of(mesh: Mesh) -> dict[str, np.ndarray]:
    arrays = {f"texture.{k}": texture.astype(np.float16) for k, texture in enumerate(mesh.textures)}
    arrays |= {
        "points": mesh.points,
        "faces": mesh.faces,
        "uv": mesh.uv,
        "material": mesh.material,
        "colours": mesh.colours,
        "pictures": np.asarray(mesh.pictures, np.int32),
    }
    if mesh.frames is not None and mesh.times is not None:
        arrays |= {"frames": mesh.frames, "times": mesh.times}
    if mesh.surfaces is not None and mesh.surface_pictures is not None:
        arrays |= {"surfaces": mesh.surfaces, "surface_pictures": mesh.surface_pictures}
    return arrays if mesh.given_normals is None else {**arrays, "normals": mesh.given_normals}


def from_arrays(arrays: dict[str, np.ndarray]) -> ImportedGeometry:
    """Return the geometry that `import_file` stored as arrays; points alone become a mesh without triangles."""
    if "rings" in arrays:
        flat = np.split(arrays["rings"], np.cumsum(arrays["lengths"])[:-1]) if len(arrays["lengths"]) else []
        ends = np.cumsum(arrays["shapes"])
        rings = tuple(tuple(flat[e - n : e]) for e, n in zip(ends.tolist(), arrays["shapes"].tolist(), strict=True))
        return Drawing(rings, tuple("evenodd" if rule else "nonzero" for rule in arrays["rules"].tolist()), ())
    if "film" in arrays:
        return film_of(arrays)
    if "field" in arrays:
        return VectorField(arrays["origin"], arrays["spacing"], arrays["field"])
    if "cloud" in arrays:
        return Mesh.of(arrays["cloud"], np.zeros((0, 3)))
    if "pixels" in arrays:
        return Picture(arrays["pixels"])
    return Mesh(
        arrays["points"],
        arrays["faces"],
        arrays["uv"],
        arrays["material"],
        arrays["colours"],
        tuple(arrays["pictures"].tolist()),
        arrays.get("frames"),
        arrays.get("times"),
        arrays.get("normals"),
        tuple(arrays[name] for name in sorted(arrays, key=_number) if name.startswith("texture.")),
        arrays.get("surfaces"),
        arrays.get("surface_pictures"),
    )


def _number(name: str) -> int:
    """Return the number at the end of an array's name."""
    return int(re.sub(r"\D", "", name) or 0)


def read(name: str, source: str, target: str) -> tuple[int, dict[str, Any]]:
    """Write the contents of a file to `target`; return 0 and its facts, or 2 and {"findings": ...} when it is
    refused."""
    try:
        arrays, facts = import_file(name, Path(source).read_bytes())
        json.dumps(facts, allow_nan=False)
    except MemoryError:
        problem: KageroError = GeometryProblem(
            f"{name[:80]} needs more memory than a file may.", remedy="Make it smaller."
        )
    except KageroError as error:
        problem = error
    except Exception as error:  # a fault of a reader: the file cannot be used all the same, and its words go to the log
        traceback.print_exc()
        words = f"{name[:80]} holds something that was not expected ({type(error).__name__})."
        problem = GeometryProblem(words, remedy="Export it again, or in another format.")
    else:
        with Path(target).open("wb") as stream:  # under just this name
            np.savez(stream, **arrays)  # type: ignore[arg-type]
        return 0, facts
    return 2, {"findings": [finding.as_dict() for finding in problem.findings]}


def serve() -> None:
    """Read files as requested by lines of the input, each in a child process that never returns here.

    A line is JSON [name, file, target, seconds, bytes]: limits of the child's processor time and memory, and of the
    size of its files. The answer is a line of JSON [code, the result of `read`]; code -1 and null where the child did
    not finish.
    """
    import trimesh  # noqa: F401  # here, so that no child loads it again

    os.nice(5)
    for line in sys.stdin:
        name, source, target, seconds, most = json.loads(line)
        out, into = os.pipe()
        child = os.fork()
        if not child:
            ended = 1
            try:
                os.close(out)
                os.dup2(sys.stderr.fileno(), sys.stdout.fileno())  # what a library prints is no answer
                resource.setrlimit(resource.RLIMIT_AS, (most, most))
                resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 5))
                resource.setrlimit(resource.RLIMIT_FSIZE, (most, most))
                answer = json.dumps(read(name, source, target))
                with os.fdopen(into, "w") as stream:
                    stream.write(answer)
                ended = 0
            except BaseException:  # even of memory for these words
                traceback.print_exc()
            finally:
                os._exit(ended)
        os.close(into)
        with os.fdopen(out) as stream:
            answer = stream.read()
        _, status = os.waitpid(child, 0)
        print(answer if status == 0 and answer else "[-1, null]", flush=True)


if __name__ == "__main__":
    serve()
