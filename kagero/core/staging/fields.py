"""Fields that props show: dissolved share, mask values, density of births, speed by a guide."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy

from ..document import Effect
from ..engine import EngineChoice, Prepared, prepare_for_engine, prepare_reference
from ..geometry import Mesh
from ..geometry.subdivision import subdivide
from ..memory import PROCESS
from ..plan import Plan, compile_births, compile_mask
from ..program import ProgramValues, digest
from ..work_limits import spend
from .building import geometry_key
from .prop_places import transform_points
from .stage import Stage

F32 = np.float32
# places along a side of the squares about a mask; how far they reach where the mask has no extent, metres
SQUARE = 33
REACH = 2.0
BIRTHS = 2_000  # births whose speeds colour a guide
_fine, _gone = PROCESS.region("stage", 1.0), PROCESS.region("dissolved", 0.5)


@dataclass(frozen=True)
class FieldRequest:
    """A field to show on props. kind: mask or paint (of: uid of the mask or prop), or of an emitter keep, begins,
    density, speed (of: its uid)."""

    kind: str
    of: str

    @staticmethod
    def read(text: str) -> FieldRequest | None:
        kind, _, of = text.partition(":")
        return (
            FieldRequest(kind, of) if kind in ("mask", "paint", "keep", "begins", "density", "speed") and of else None
        )


def fine_mesh(prop: Any, mesh: Mesh) -> Mesh:
    """Return a prop's mesh, subdivided as the stage draws it where it shows a field or dissolves."""
    return _fine(geometry_key(prop), lambda: subdivide(mesh))


class Fields:
    """Values at the points of props' fine meshes, (V,) float32, at a time. wanted: the field to show, if any."""

    def __init__(self, effect: Effect, plan: Plan, stage: Stage, engine: EngineChoice, wanted: str = ""):
        self.effect = effect
        self.plan = plan
        self.stage = stage
        self.engine = engine
        self.wanted = FieldRequest.read(wanted)
        self._masks: dict[str, tuple[Prepared, ProgramValues, str]] = {}

    @property
    def by_share(self) -> bool:
        """Whether the shown field goes from 0 to 1."""
        return self.wanted is not None and self.wanted.kind != "speed"

    def gone(self, prop: Any, frame: int) -> np.ndarray | None:
        """Return the dissolved share of each point of a prop at a frame, 0 to 1; None where it does not dissolve."""
        mesh = self._mesh(prop) if prop.dissolve is not None else None
        if mesh is None:
            return None
        plan = self.plan
        if not prop.dissolve.latched:
            return self._mask(prop.dissolve.mask, self._standing(prop, mesh, plan.scene(frame)), plan.scene(frame))
        if (
            plan.retimed is not None or plan.loop is not None
        ):  # what was touched up to the frame of the scene that is seen
            frame = plan.first_frame + int(plan.scene(frame) * float(plan.frame_rate) + 1e-9)
        same = self._program(prop.dissolve.mask)[2]
        stands = self.stage.digest(prop.uid)
        first = plan.first_frame - plan.run_up
        key = (self.engine.identity, same, self.stage.key(prop.uid), stands, plan.frame_rate, first)
        known: dict[int, np.ndarray] = _gone(key, dict)
        start = max((number for number in known if number <= frame), default=None)
        most = known[start] if start is not None else np.zeros(len(mesh.points), np.uint8)
        for number in range(first if start is None else start + 1, frame + 1):
            seconds = plan.seconds(number)
            spend(len(mesh.points) * 100)
            value = self._mask(prop.dissolve.mask, self._standing(prop, mesh, seconds), seconds)
            most = known[number] = np.maximum(most, np.rint(value * 255).astype(np.uint8))
        return most.astype(F32) / F32(255)

    def shown(self, prop: Any, frame: int) -> np.ndarray | None:
        """Return the requested field on a prop at a frame; None where it does not concern it."""
        wanted, plan = self.wanted, self.plan
        if wanted is None:
            return None
        mesh, seconds = self._mesh(prop), plan.scene(frame)
        if mesh is None or (wanted.kind == "mask" and prop.uid == wanted.of):
            return None
        if wanted.kind == "paint":
            return (
                self.stage.painted_share(prop.uid, self._standing(prop, mesh, seconds), np.full(1, seconds)).astype(F32)
                if prop.uid == wanted.of
                else None
            )
        if wanted.kind == "mask":
            there = any(other.uid == wanted.of and other.kind == "mask" for other in self.effect.props)
            return self._mask(wanted.of, self._standing(prop, mesh, seconds), seconds) if there else None
        emitter = next((emitter for emitter in self.effect.emitters if emitter.uid == wanted.of), None)
        if emitter is None:
            return None
        if wanted.kind == "speed":
            return (
                self._speeds(emitter, prop, mesh, seconds)
                if getattr(emitter.births.launch, "guide", None) == prop.uid
                else None
            )
        place = emitter.births.place
        if place.prop_on() != prop.uid:
            return None
        if wanted.kind == "density":
            found = self.stage.density_at(place, seconds, mesh.uv.astype(np.float64))
            return None if found is None else (found / max(float(found.max()), 1e-9)).astype(F32)
        program, values = compile_births(self.effect, emitter, wanted.kind)
        values.stage = self.stage
        standing = self._standing(prop, mesh, seconds)
        matrix = self.stage.matrices(prop.uid, np.full(1, seconds))[0, :3, :3]
        normals = mesh.normals @ np.linalg.pinv(matrix)
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-300)
        n = len(standing)
        given = {
            "key": np.arange(n, dtype=np.uint64),
            "birth_time": np.full(n, seconds, F32),
            "u": mesh.uv[:, 0],
            "v": mesh.uv[:, 1],
        }
        given |= {f"position.{axis}": standing[:, i].astype(F32) for i, axis in enumerate("xyz")}
        given |= {f"normal.{axis}": normals[:, i].astype(F32) for i, axis in enumerate("xyz")}
        return prepare_reference(program).run(
            values, {name: np.ascontiguousarray(given[name]) for name in program.inputs}, n
        )["value"]

    def around(self, frame: int) -> np.ndarray | None:
        """Return points around the requested mask with its value, (n, 4) float32: x, y, z in metres, and 0 to 1, on a
        vertical and a horizontal square through its place. None without a mask."""
        wanted = self.wanted
        mask = next(
            (prop for prop in self.effect.props if wanted is not None and prop.uid == wanted.of and prop.mask), None
        )
        if mask is None or wanted is None or wanted.kind != "mask":
            return None
        seconds = self.plan.scene(frame)
        extent = self.stage.extent(mask, seconds)
        matrix = self.stage.matrices(mask.stands_at() or mask.uid, np.full(1, seconds))[0]
        scale = float(np.linalg.norm(matrix[:3, :3], axis=0).max())
        reach = 1.4 * (scale * max(extent["radius"], *(0.5 * side for side in extent["size"])) + extent["falloff"])
        along = np.linspace(-1, 1, SQUARE) * (reach if reach > 0.05 else REACH)
        across, up = (each.ravel() for each in np.meshgrid(along, along))
        flat = np.zeros_like(across)
        spots = np.concatenate([np.stack([across, up, flat], 1), np.stack([across, flat, up], 1)]) + matrix[:3, 3]
        spend(len(spots) * 100)
        return np.column_stack([spots, self._mask(mask.uid, spots, seconds)]).astype(F32)

    def _speeds(self, emitter: Any, prop: Any, mesh: Mesh, seconds: float) -> np.ndarray | None:
        """Return the launch speed towards each point of a guide: that of the birth whose direction from the origin is
        nearest."""
        compiled = next(each for each in self.plan.emitters if each.uid == emitter.uid)
        if compiled.parent is not None:
            return None
        n = BIRTHS
        out = prepare_reference(compiled.birth).run(
            compiled.values, {"key": np.arange(n, dtype=np.uint64), "birth_time": np.full(n, seconds, F32)}, n
        )
        place, velocity = (
            np.stack([out[f"{name}.{axis}"] for axis in "xyz"], 1).astype(np.float64)
            for name in ("position", "velocity")
        )
        origin = np.asarray(
            emitter.births.launch.origin.base if isinstance(emitter.births.launch.origin.base, tuple) else (0, 0, 0),
            np.float64,
        )
        towards = _unit(self._standing(prop, mesh, seconds) - origin)
        _, nearest = scipy.spatial.cKDTree(_unit(place - origin)).query(towards)
        return np.linalg.norm(velocity, axis=1)[nearest].astype(F32)

    def _mesh(self, prop: Any) -> Mesh | None:
        mesh = self.stage.geometry(prop.uid)
        return fine_mesh(prop, mesh) if isinstance(mesh, Mesh) and len(mesh.faces) else None

    def _standing(self, prop: Any, mesh: Mesh, seconds: float) -> np.ndarray:
        matrices = self.stage.matrices(prop.uid, np.full(1, seconds))
        return transform_points(matrices, mesh.points_at(self.stage.clock(prop.uid, seconds)))

    def _program(self, uid: str) -> tuple[Prepared, ProgramValues, str]:
        if uid not in self._masks:
            program, values = compile_mask(self.effect, uid)
            values.stage = self.stage
            self._masks[uid] = (prepare_for_engine(program, self.engine), values, digest(values, [program]))
        return self._masks[uid]

    def _mask(self, uid: str, points: np.ndarray, seconds: float) -> np.ndarray:
        program, values, _ = self._program(uid)
        given: dict[str, Any] = {
            f"position.{axis}": np.ascontiguousarray(points[:, i], F32) for i, axis in enumerate("xyz")
        }
        given["time"] = seconds
        return program.run(values, {name: given[name] for name in program.program.inputs}, len(points))["value"]


def _unit(vectors: np.ndarray) -> np.ndarray:
    return vectors / np.maximum(np.linalg.norm(vectors, axis=1, keepdims=True), 1e-12)
