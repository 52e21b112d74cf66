"""The props of an effect as they stand: their geometry, and where each is at a time, with what it follows."""

from __future__ import annotations

import hashlib
import json
import math
from functools import lru_cache
from typing import Any

import numpy as np

from ..effect import Effect
from ..engine import prepare
from ..errors import GeometryProblem
from ..formats.svg import Drawing
from ..plan import Plan, compile_figure, figure_points
from ..props import Mesh, Path, Picture, Places, shape
from ..props.outline import filled, solid
from ..props.text import text_mesh
from .play import Content, nothing

GEOMETRY = ("kind", "shape", "radius", "inner", "width", "height", "depth", "profile", "file", "files", "unit", "up", "points", "closed",
            "smooth", "formula", "text", "weight", "align")  # fmt: skip
SIZES = {"disc": ("radius",), "ring": ("inner", "radius"), "sphere": ("radius",), "box": ("width", "height", "depth"), "plane": ("width", "depth"),
         "cylinder": ("radius", "height"), "funnel": ("profile",)}  # fmt: skip


def geometry_key(prop: Any) -> str:
    """Return a text equal for props of equal geometry, wherever they stand."""
    data = {key: value for key, value in prop.model_dump(mode="json").items() if key in GEOMETRY}
    return hashlib.blake2b(json.dumps(data, sort_keys=True).encode(), digest_size=12).hexdigest()


@lru_cache(maxsize=64)
def _made(kind: str, said: str) -> Mesh:
    values = json.loads(said)
    if kind == "text":
        return text_mesh(**values)
    return shape(kind, **values)


def geometry(prop: Any, content: Content = nothing) -> Mesh | Path | None:
    """Return a prop's geometry in its own space, metres; None of a camera. Raises GeometryProblem for a file that is not there."""
    if prop.kind == "shape":
        sizes = {("outer" if prop.shape == "ring" and name == "radius" else name): getattr(prop, name) for name in SIZES[prop.shape]}
        return _made(prop.shape, json.dumps(sizes))
    if prop.kind == "text":
        return _made("text", json.dumps({"text": prop.text, "height": prop.height, "depth": prop.depth, "weight": prop.weight, "align": prop.align}))
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


class StageProps:
    """The props of a compiled effect. content: gives what files hold, by their content hash."""

    def __init__(self, effect: Effect, plan: Plan, content: Content = nothing):
        self.effect, self.plan, self.content = effect, plan, content
        self._programs = {prop.uid: prepare(prop.place) for prop in plan.props}
        self._geometry: dict[str, Mesh | Path | None] = {}

    def geometry(self, uid: str) -> Mesh | Path | None:
        """Return a prop's geometry; None also where its file is not here: the rest of the effect plays."""
        if uid not in self._geometry:
            try:
                self._geometry[uid] = geometry(self._prop(uid), self.content)
            except GeometryProblem:
                self._geometry[uid] = None
        return self._geometry[uid]

    def own(self, uid: str, seconds: float) -> dict[str, float]:
        """Return a prop's own rows at a time: position.0 ... scale.2, and a camera's field_of_view.0."""
        plan = next(prop for prop in self.plan.props if prop.uid == uid)
        out = self._programs[uid].run(plan.values, {"time": np.full(1, seconds, np.float32)}, 1)
        return {name: float(value[0]) for name, value in out.items()}

    def places(self, seconds: float) -> dict[str, np.ndarray]:
        """Return where every prop stands at a time: (4, 4) matrices from its own space to the world."""
        done: dict[str, np.ndarray] = {}

        def place(uid: str) -> np.ndarray:
            if uid not in done:
                prop = self._prop(uid)
                local = self.local(uid, seconds)
                done[uid] = local if prop.follow is None else self._followed(prop.follow, place(prop.follow.prop), seconds) @ local
            return done[uid]

        for prop in self.effect.props:
            place(prop.uid)
        return done

    def local(self, uid: str, seconds: float) -> np.ndarray:
        """Return a prop's own matrix at a time, without what it follows: scaled, rolled about z, tilted about x, turned about y, moved."""
        own = self.own(uid, seconds)
        (x, y, z), scale = ([own[f"{name}.{i}"] for i in range(3)] for name in ("rotation", "scale"))
        made = np.eye(4)
        made[:3, :3] = (turn_y(y) @ turn_x(x) @ turn_z(z)) * scale
        made[:3, 3] = [own[f"position.{i}"] for i in range(3)]
        return made

    def _followed(self, follow: Any, parent: np.ndarray, seconds: float) -> np.ndarray:
        made = parent.copy() if follow.turns else np.eye(4)
        made[:3, 3] = parent[:3, 3]
        if follow.at == "place":
            return made
        mesh = self.geometry(follow.prop)
        if not isinstance(mesh, Mesh) or not len(mesh.faces):
            return made
        mesh = mesh.at(self.clock(follow.prop, seconds))
        if follow.at == "points":
            chosen = [i for i in follow.points if i < len(mesh.points)] or [0]
            made[:3, 3] = parent[:3, :3] @ mesh.points[chosen].mean(axis=0) + parent[:3, 3]
            return made
        places = Places(np.array([min(follow.face, len(mesh.faces) - 1)], np.int32), np.array([follow.bary], np.float64))
        made[:3, 3] = parent[:3, :3] @ mesh.point(places)[0] + parent[:3, 3]
        if follow.turns:
            tangent, _, normal = (v[0] for v in mesh.frame(places))
            along, up = parent[:3, :3] @ tangent, np.linalg.pinv(parent[:3, :3]).T @ normal
            up /= max(np.linalg.norm(up), 1e-300)
            along -= up * (along @ up)
            along /= max(np.linalg.norm(along), 1e-300)
            made[:3, :3] = np.stack([along, up, np.cross(along, up)], axis=1)
        return made

    def clock(self, uid: str, seconds: float) -> float:
        """Return the time of a prop's own animation at a clip time."""
        prop = self._prop(uid)
        if prop.kind == "picture":  # which of a sequence's pictures
            number = math.floor((seconds - prop.start) * self.plan.frame_rate + 1e-6)
            last = len(prop.files) - 1
            return float(number % (last + 1) if prop.loops else min(max(number, 0), last))
        if prop.kind != "mesh":
            return seconds
        mesh = self.geometry(uid)
        at = (seconds - prop.start) * prop.speed
        length = float(mesh.times[-1]) if isinstance(mesh, Mesh) and mesh.times is not None else 0.0
        return at % length if prop.loops and length > 0 else at

    def _prop(self, uid: str) -> Any:
        return next(prop for prop in self.effect.props if prop.uid == uid)


def turn_x(angle: float) -> np.ndarray:
    c, s = np.cos(angle), np.sin(angle)
    return np.array([[1, 0, 0], [0, c, -s], [0, s, c]])


def turn_y(angle: float) -> np.ndarray:
    c, s = np.cos(angle), np.sin(angle)
    return np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])


def turn_z(angle: float) -> np.ndarray:
    c, s = np.cos(angle), np.sin(angle)
    return np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
