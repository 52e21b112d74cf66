"""The props of an effect as they stand: their geometry, and where each is at a time, with what it follows."""

from __future__ import annotations

import hashlib
import json
import threading
from collections.abc import Callable
from typing import Any

import numpy as np

from ..effect import Effect
from ..engine import prepare
from ..errors import GeometryProblem
from ..formats.svg import Drawing
from ..memory import PROCESS
from ..plan import Plan, compile_figure, figure_points, prop_digest
from ..props import Mesh, Path, Picture, Places, shape
from ..props.brush import brushed
from ..props.mesh import between
from ..props.outline import filled, solid
from ..props.text import text_mesh

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


FEW, STOOD = 16, 192  # times that are kept at once; how often
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


class StageProps:
    """The props of a compiled effect. content: gives what files hold, by their content hash."""

    def __init__(self, effect: Effect, plan: Plan, content: Content = nothing):
        self.effect, self.plan, self.content = effect, plan, content
        self._programs = {prop.uid: prepare(prop.place, np.float64) for prop in plan.props}
        self._geometry: dict[str, Mesh | Path | None] = {}
        self._keys: dict[str, str] = {}
        self._still: dict[str, bool] = {}
        self._stood: dict[tuple[str, bytes], np.ndarray] = {}
        self._lock = threading.Lock()

    def key(self, uid: str) -> str:
        """Return the text that is equal for equal geometry, of one of the props."""
        if uid not in self._keys:
            self._keys[uid] = geometry_key(self._prop(uid))
        return self._keys[uid]

    def geometry(self, uid: str) -> Mesh | Path | None:
        """Return a prop's geometry; None also where its file is not here: the rest of the effect plays."""
        if uid not in self._geometry:
            try:
                self._geometry[uid] = geometry(self._prop(uid), self.content)
            except GeometryProblem:
                self._geometry[uid] = None
        return self._geometry[uid]

    def lacks(self, uid: str) -> bool:
        """Return whether a prop's geometry is not here, though it has one."""
        return self._prop(uid).kind not in ("camera", "mask") and self.geometry(uid) is None

    def own(self, uid: str, seconds: float) -> dict[str, float]:
        """Return a prop's own rows at a time: position.0 ... scale.2, and a camera's field_of_view.0."""
        return {name: float(value[0]) for name, value in self.rows(uid, np.full(1, seconds)).items()}

    def extent(self, mask: Any, seconds: float) -> dict[str, Any]:
        """Return a mask's radius, size and falloff at a time, metres before it is scaled; the falloff is in metres of the world."""
        own = self.own(mask.uid, seconds)
        size = [own.get(f"size.{i}", 0.0) for i in range(3)]
        return {"radius": own.get("radius.0", 0.0), "size": size, "falloff": own.get("falloff.0", 0.0)}

    def rows(self, uid: str, seconds: np.ndarray) -> dict[str, np.ndarray]:
        """Return a prop's own rows at times (n,), each (n,)."""
        plan = next(prop for prop in self.plan.props if prop.uid == uid)
        return self._programs[uid].run(plan.values, {"time": np.asarray(seconds, np.float64)}, len(seconds))

    def digest(self, uid: str) -> str:
        """Return a text equal where a prop is the same, stands and moves the same."""
        return prop_digest(self.effect, uid, {})

    def places(self, seconds: float) -> dict[str, np.ndarray]:
        """Return where every prop stands at a time: (4, 4) matrices from its own space to the world."""
        return {prop.uid: self.matrices(prop.uid, np.full(1, seconds))[0] for prop in self.effect.props}

    def matrices(self, uid: str, times: np.ndarray) -> np.ndarray:
        """Return where a prop stands at times (n,), seconds: (n, 4, 4), with all that it follows; (1, 4, 4) where it stands still."""
        if len(times) > 1 and self.still(uid):
            times = times[:1]
        key = (uid, times.tobytes()) if len(times) <= FEW else None
        if key is not None and key in self._stood:
            return self._stood[key]
        prop = self._prop(uid)
        with self._lock:
            made = self._local(uid, times)
        if prop.follow is not None:
            made = self._followed(prop.follow, times) @ made
        if key is not None:
            if len(self._stood) > STOOD:
                self._stood.clear()
            self._stood[key] = made
        return made

    def still(self, uid: str) -> bool:
        """Return whether a prop never moves as a whole."""
        if uid not in self._still:
            prop = self._prop(uid)
            follow, still = prop.follow, "time" not in self._programs[uid].program.inputs
            if still and follow is not None:
                mesh = self.geometry(follow.prop)
                still = self.still(follow.prop) and (follow.at == "place" or not (isinstance(mesh, Mesh) and mesh.moves))
            self._still[uid] = still
        return self._still[uid]

    def _local(self, uid: str, times: np.ndarray) -> np.ndarray:
        """Return a prop's own matrices, without what it follows: scaled, rolled about z, tilted about x, turned about y, moved."""
        own, n = self.rows(uid, times), len(times)

        def three(name: str, instead: float) -> np.ndarray:
            return np.stack([own.get(f"{name}.{i}", np.full(n, instead)) for i in range(3)], axis=1).astype(np.float64)

        turn, scale = three("rotation", 0.0), three("scale", 1.0)
        made = np.zeros((n, 4, 4))
        made[:, :3, :3] = (turn_y(turn[:, 1]) @ turn_x(turn[:, 0]) @ turn_z(turn[:, 2])) * scale[:, None, :]
        made[:, :3, 3], made[:, 3, 3] = three("position", 0.0), 1
        return made

    def _followed(self, follow: Any, times: np.ndarray) -> np.ndarray:
        parent = np.broadcast_to(self.matrices(follow.prop, times), (len(times), 4, 4))
        made = parent.copy() if follow.turns else np.broadcast_to(np.eye(4), parent.shape).copy()
        made[:, :3, 3] = parent[:, :3, 3]
        mesh = self.geometry(follow.prop)
        if follow.at == "place" or not isinstance(mesh, Mesh) or not len(mesh.faces):
            return made
        point, along, up = self._rider(follow, mesh, self.clocks(follow.prop, times))
        made[:, :3, 3] = np.einsum("nij,nj->ni", parent[:, :3, :3], point) + parent[:, :3, 3]
        if follow.at != "points" and follow.turns:
            along, up = np.einsum("nij,nj->ni", parent[:, :3, :3], along), np.einsum("nji,nj->ni", np.linalg.pinv(parent[:, :3, :3]), up)
            up /= np.maximum(np.linalg.norm(up, axis=1, keepdims=True), 1e-300)
            along = along - up * np.einsum("ij,ij->i", along, up)[:, None]
            along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-300)
            made[:, :3, :3] = np.stack([along, up, np.cross(along, up)], axis=2)
        return made

    def _rider(self, follow: Any, mesh: Mesh, clocks: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return the point that is followed, and the tangent and normal there, (n, 3), at times of the mesh's own animation: of a
        mesh that moves, those of its frames, and between them in proportion."""
        frames = mesh.frames if mesh.moves else mesh.points[None]
        assert frames is not None
        if follow.at == "points":
            chosen = [i for i in follow.points if i < len(mesh.points)] or [0]
            stops = [frames[:, chosen].mean(axis=1, dtype=np.float64)] * 3
        else:
            face = min(follow.face, len(mesh.faces) - 1)
            about = np.flatnonzero(np.isin(mesh.faces, mesh.faces[face]).any(axis=1))
            places = Places(np.array([int(np.searchsorted(about, face))], np.int32), np.array([follow.bary], np.float64))
            found = []
            for points in frames:
                still = Mesh.of(points, mesh.faces[about], mesh.uv, None if mesh.moves else mesh.given_normals)
                tangent, _, normal = still.frame(places)
                found.append((still.point(places)[0], tangent[0], normal[0]))
            stops = [np.array(column) for column in zip(*found, strict=True)]
        if not mesh.moves:
            return tuple(np.broadcast_to(stop[0], (len(clocks), 3)) for stop in stops)  # type: ignore[return-value]
        assert mesh.times is not None
        i, share = between(mesh.times, clocks)
        return tuple(stop[i] * (1 - share[:, None]) + stop[i + 1] * share[:, None] for stop in stops)  # type: ignore[return-value]

    def clock(self, uid: str, seconds: float) -> float:
        """Return the time of a prop's own animation at a clip time."""
        return float(self.clocks(uid, np.full(1, seconds))[0])

    def clocks(self, uid: str, times: np.ndarray, after: float = 0.0) -> np.ndarray:
        """Return the times of a prop's own animation at clip times (n,); of a sequence of pictures, which of them. after: by
        how many seconds of the clip to go on from there without coming round."""
        prop = self._prop(uid)
        if prop.kind == "picture":
            number = np.floor((times - prop.start) * float(self.plan.frame_rate) + 1e-6)
            last = len(prop.files) - 1
            return number % (last + 1) if prop.loops else np.clip(number, 0, last)  # type: ignore[no-any-return]
        if prop.kind != "mesh":
            return times
        mesh = self.geometry(uid)
        at = (times - prop.start) * prop.speed
        length = float(mesh.times[-1]) if isinstance(mesh, Mesh) and mesh.times is not None else 0.0
        return (at % length if prop.loops and length > 0 else at) + after * prop.speed  # type: ignore[no-any-return]

    def _prop(self, uid: str) -> Any:
        return next(prop for prop in self.effect.props if prop.uid == uid)


def turn_x(angle: np.ndarray) -> np.ndarray:
    """Return turns about x by angles (n,), (n, 3, 3)."""
    return _turned(angle, 1, 2)


def turn_y(angle: np.ndarray) -> np.ndarray:
    return _turned(angle, 2, 0)


def turn_z(angle: np.ndarray) -> np.ndarray:
    return _turned(angle, 0, 1)


def _turned(angle: np.ndarray, i: int, j: int) -> np.ndarray:
    made = np.broadcast_to(np.eye(3), (len(angle), 3, 3)).copy()
    made[:, i, i] = made[:, j, j] = np.cos(angle)
    made[:, j, i] = np.sin(angle)
    made[:, i, j] = -made[:, j, i]
    return made
