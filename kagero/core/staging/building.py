"""The geometry of a prop as its document describes it, from files and from what stands there."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from typing import Any

import numpy as np

from ..engine import prepare
from ..errors import GeometryProblem
from ..geometry import Drawing, Mesh, Path, Picture, shape
from ..geometry.brush import brushed
from ..geometry.outline import filled, solid
from ..geometry.text import text_mesh
from ..memory import PROCESS
from ..plan import compile_figure, figure_points

Content = Callable[[str], Mesh | Picture | Drawing]


def nothing(content: str) -> Mesh | Picture | Drawing:
    raise GeometryProblem("A file of this effect is not here.", remedy="Bring it in again.")


GEOMETRY = ("kind", "shape", "radius", "inner", "width", "height", "depth", "profile", "file", "files", "unit", "up", "points", "closed",
            "smooth", "formula", "text", "weight", "align", "strokes")  # fmt: skip
SIZES = {"disc": ("radius",), "ring": ("inner", "radius"), "sphere": ("radius",), "box": ("width", "height", "depth"), "plane": ("width", "depth"),
         "cylinder": ("radius", "height"), "funnel": ("profile",)}  # fmt: skip


def sizes(prop: Any) -> dict[str, Any]:
    """Return a built-in shape's sizes by the names its function takes them under."""
    return {("outer" if prop.shape == "ring" and name == "radius" else name): getattr(prop, name) for name in SIZES[prop.shape]}


def geometry_key(prop: Any) -> str:
    """Return a text equal for props of equal geometry, wherever they stand."""
    return _keys(prop)[-1]


def _keys(prop: Any) -> list[str]:
    """Return the key of a prop without strokes, with its first, its first two ...: each from the one before and its own stroke."""
    data = prop.model_dump(mode="json", include={name for name in GEOMETRY if name != "strokes"} & set(type(prop).model_fields))
    here = hashlib.blake2b(json.dumps(data, sort_keys=True).encode(), digest_size=12)
    made = [here.hexdigest()]
    for stroke in getattr(prop, "strokes", ()):
        here.update(f"{stroke.kind} {stroke.radius!r} {stroke.strength!r}".encode())
        here.update(np.asarray(stroke.points, np.float64).tobytes())
        made.append(here.hexdigest())
    return made


_known = PROCESS.shelf("geometry", 1.5)


def geometry(prop: Any, content: Content = nothing) -> Mesh | Path | None:
    """Return a prop's geometry in its own space, metres; None of cameras and masks. Raises GeometryProblem for a file that is not there.

    Equal props share one, with all that has been found out about it.
    """
    if prop.kind in ("camera", "mask"):
        return None
    keys = _keys(prop)
    start = len(keys) - 1  # strokes are put on what is known with the most of them
    while start > 0 and (made := _known.get(keys[start])) is None:
        start -= 1
    if start == 0:
        made = _known(keys[0], lambda: _built(prop, content))
    for number, stroke in enumerate(getattr(prop, "strokes", ())[start:], start):
        if isinstance(made, Mesh):
            made = brushed(made, stroke.kind, stroke.radius, stroke.strength, np.asarray(stroke.points))
        if number + 2 == len(keys):
            _known.put(keys[-1], made)
    return made  # type: ignore[no-any-return]


def _built(prop: Any, content: Content) -> Mesh | Path | None:
    if prop.kind == "shape":
        return shape(prop.shape, **sizes(prop))
    if prop.kind == "text":
        return text_mesh(text=prop.text, height=prop.height, depth=prop.depth, weight=prop.weight, align=prop.align)
    if prop.kind == "path" and prop.formula:
        program, values = compile_figure(prop.formula)
        points = figure_points(lambda inputs, count: prepare(program).run(values, inputs, count))
        if not np.isfinite(points).all() or np.abs(points).max() > 1e6:
            raise GeometryProblem("This formula leaves the world for some t.", remedy="Guard what it divides by: a if c else b.")
        return Path(points, prop.closed)
    if prop.kind == "path":
        points = np.asarray(prop.points, np.float64)
        return Path.through(points, prop.closed) if prop.smooth else Path(points, prop.closed and len(points) > 2)
    if prop.kind == "picture":
        picture = content(prop.files[0].content)
        width, height = picture.size if isinstance(picture, Picture) else (1, 1)
        flat = shape("plane", width=width / height, depth=1.0)
        upright = np.stack([flat.points[:, 0], -flat.points[:, 2], np.zeros(len(flat.points))], 1)
        return Mesh.of(upright, flat.faces, flat.uv)
    if prop.kind == "logo":
        drawing = content(prop.file.content)
        if not isinstance(drawing, Drawing):
            raise GeometryProblem(f"{prop.file.name} is no drawing.", remedy="Bring in SVG.")
        rings = [ring for shape_rings in drawing.rings for ring in shape_rings]
        if not rings:
            raise GeometryProblem(f"{prop.file.name} fills nothing.", remedy="Turn strokes into filled paths.")
        every = np.concatenate(rings)
        low, high = every.min(axis=0), every.max(axis=0)
        scale = prop.height / max(float(high[1] - low[1]), 1e-12)
        middle = np.array([(low[0] + high[0]) / 2, low[1]])
        polygons = [polygon for each, rule in zip(drawing.rings, drawing.rules, strict=True)
                    for polygon in filled([(ring - middle) * scale for ring in each], rule)]  # type: ignore[arg-type]  # fmt: skip
        return solid(polygons, prop.depth)
    if prop.kind in ("mesh", "points"):
        found = content(prop.file.content)
        if not isinstance(found, Mesh):
            raise GeometryProblem(f"{prop.file.name} is a picture, not a mesh.", remedy="Bring in a mesh.")
        return converted(found, prop.unit, prop.up)
    return None


def converted(mesh: Mesh, unit: float, up: str) -> Mesh:
    """Return a mesh of a file's own unit and upright axis in metres with y up."""
    if unit == 1 and up == "y":
        return mesh

    def turned(points: np.ndarray, scale: float) -> np.ndarray:
        points = points * np.float32(scale)
        return np.ascontiguousarray(np.stack([points[..., 0], points[..., 2], -points[..., 1]], axis=-1) if up == "z" else points, np.float32)

    return Mesh(turned(mesh.points, unit), mesh.faces, mesh.uv, mesh.material, mesh.colours, mesh.pictures,
                None if mesh.frames is None else turned(mesh.frames, unit), mesh.times,
                None if mesh.given_normals is None else turned(mesh.given_normals, 1.0), mesh.textures)  # fmt: skip
