"""Queries that operations make about props, many at once: births, bindings, nearest points, rays, pictures and
fields."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import scipy

from ..errors import BudgetError, GeometryProblem, KageroError
from ..geometry import Mesh, Path, Picture, VectorField
from ..geometry.breaking import BreakSettings, BrokenMesh, break_mesh
from ..geometry.emission import EmissionSurface
from ..geometry.shapes import reach as closed_reach
from ..kernels.curves import curve_into
from ..program import PropQuery
from ..rows.slots import table_of
from ..work_limits import spend
from .building import geometry_builder
from .nearest import NearestQueries, _per_prop, _per_time
from .prop_places import DEFORM_STEP, DERIVATIVE_STEP, inverse, transform_points

F64 = np.float64


class Stage(NearestQueries):
    """The props of an effect, as its programs' operations query them (`program.StageQueries`). Arrays in and out are
    float64."""

    # births -----------------------------------------------------------------------------------------------------------
    def births_on(self, query: PropQuery, uvw: np.ndarray, times: np.ndarray, offset: np.ndarray) -> list[np.ndarray]:
        """Return births on a prop, in the order of `operations.stage.BORN`. uvw: uniform numbers (n, 3). offset: from
        the surface, metres, (n,)."""
        place, ground = query.detail, self._ground(query.prop)
        n = len(uvw)
        spend(n * 100)
        if ground is None:
            return self._stands(query.prop, None, np.zeros((n, 3)), np.zeros((n, 3)), times, np.zeros(n))
        binding, away, found = np.zeros((n, 3)), np.zeros((n, 3)), np.zeros(n, bool)
        if getattr(place, "counted", False):
            return self._parts_born(query, uvw[:, 0], times)
        density = place.density
        if density is None or isinstance(ground.geometry, Path):
            binding, away, found = ground.bind(place.on, uvw, offset)
        else:
            which = np.broadcast_to(self.clocks(density.picture, times), (n,)).astype(np.int64)
            for number in np.unique(which):
                here = which == number
                small, shares = self._dense(ground, query.prop, place, int(number))
                binding[here], away[here], found[here] = ground.bind(place.on, uvw[here], offset[here], small, shares)
        return self._stands(query.prop, ground, binding, away, times, found)

    def births_bound_to(
        self, query: PropQuery, binding: np.ndarray, offset: np.ndarray, times: np.ndarray
    ) -> list[np.ndarray]:
        """Return the same for births with known binding and offset."""
        return self._stands(query.prop, self._ground(query.prop), binding, offset, times, np.ones(len(binding)))

    def binding_positions(self, uid: str, binding: np.ndarray, offset: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return the positions of bindings at clip times, (n, 3)."""
        ground = self._ground(uid)
        return self._at(uid, ground, binding, offset, times)

    def binding_rotations(self, uid: str, binding: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return the rotations of bindings at clip times relative to the prop at rest, unit quaternions (n, 4),
        including the rotation of their triangles."""
        matrix = np.broadcast_to(self.matrices(uid, times)[:, :3, :3], (len(binding), 3, 3))
        u, _, vt = np.linalg.svd(matrix[:1] if len(times) == 1 else matrix)
        turn = np.broadcast_to(u @ vt, (len(binding), 3, 3))
        ground = self._ground(uid)
        if ground is not None and isinstance(ground.geometry, Mesh) and ground.geometry.moves:
            turn = turn @ ground.turned(binding, self.clocks(uid, times))
        return scipy.spatial.transform.Rotation.from_matrix(turn).as_quat()

    # parts that a prop falls into
    # -------------------------------------------------------------------------------------------
    def broken_mesh(self, place: Any) -> tuple[BrokenMesh, np.ndarray]:
        """Return the parts into which a prop breaks, at its scale at the clip's start, and that scale, (3, 3). Raises
        GeometryProblem or BudgetError where it cannot be broken so."""
        mesh = self.geometry(place.prop) if self.has_prop(place.prop) else None
        if not isinstance(mesh, Mesh) or not len(mesh.faces):
            raise GeometryProblem(
                "What falls apart is not here.", remedy="Bring its file in again, or choose another prop."
            )
        stretch = self._stretch(place.prop)
        picture = self._picture(place.finer, int(self.clock(place.finer, 0.0))) if place.pictures_asked() else None
        dense = None if picture is None else lambda uv: picture.channel(uv, "luminance", "tile")

        def compute() -> BrokenMesh:
            spend(200_000)
            shows = self.picture_at(place.prop, 0.0) if self.prop(place.prop).film else None
            how = BreakSettings(
                place.into,
                place.count,
                place.seed,
                place.splinters,
                place.closing,
                dense,
                None if shows is None else shows.pixels,
            )
            return break_mesh(
                replace(
                    mesh,
                    points=(mesh.points @ stretch).astype(np.float32),
                    frames=None,
                    times=None,
                    given_normals=mesh.normals @ np.linalg.pinv(stretch),
                ),
                how,
            )

        return _per_prop(("broken", self.parts_key(place)), compute), stretch

    def _stretch(self, uid: str) -> np.ndarray:
        """Return a prop's scale at the clip's start without its rotation, (3, 3)."""
        _, size, vt = np.linalg.svd(self.matrices(uid, np.zeros(1))[0, :3, :3])
        stretch: np.ndarray = (vt.T * size) @ vt
        return np.eye(3) if np.allclose(stretch, np.eye(3), atol=1e-9) else stretch

    def parts_key(self, place: Any) -> str:
        """Return a text that is equal where a prop breaks into the same parts: geometry, settings, scale and
        pictures."""
        pictures = [*place.pictures_asked(), *([place.prop] if self.prop(place.prop).film else [])]
        shown = [self.picture_key(uid, int(self.clock(uid, 0.0))) for uid in pictures if self.has_prop(uid)]
        return repr((self.key(place.prop), place.asked(), shown, self._stretch(place.prop).round(9).tolist()))

    def part_facts(self, place: Any, number: np.ndarray) -> list[np.ndarray]:
        """Return each part's volume or area relative to the mean, and the longest side of its box in metres, (n,)."""
        try:
            parts, _ = self.broken_mesh(place)
        except (GeometryProblem, BudgetError):
            return [np.zeros(len(number)), np.zeros(len(number))]
        which = number.astype(np.int64) % max(len(parts), 1)
        return [parts.amount[which] / max(float(parts.amount.mean()), 1e-300), parts.longest[which]]

    def part_count(self, place: Any) -> int:
        """Return the number of parts of a prop; 0 where it cannot be broken so."""
        try:
            return len(self.broken_mesh(place)[0])
        except (GeometryProblem, BudgetError):
            return 0

    def _parts_born(self, query: PropQuery, number: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return births as parts of a prop, by number, in the order of `operations.stage.BORN`."""
        place, ground, n = query.detail, self._ground(query.prop), len(number)
        try:
            parts, stretch = self.broken_mesh(place)
        except (GeometryProblem, BudgetError):
            return self._stands(query.prop, ground, np.zeros((n, 3)), np.zeros((n, 3)), times, np.zeros(n, bool))
        assert ground is not None
        centres = parts.centre @ np.linalg.pinv(stretch)
        binding, offset = _per_prop(("parts bound", self.parts_key(place)), lambda: ground.near(centres))
        which = number.astype(np.int64) % max(len(parts), 1)
        return self._stands(query.prop, ground, binding[which], offset[which], times, np.ones(n, bool))

    def _at(
        self,
        uid: str,
        ground: EmissionSurface | None,
        binding: np.ndarray,
        offset: np.ndarray,
        times: np.ndarray,
        after: float = 0.0,
    ) -> np.ndarray:
        local = (
            np.zeros((len(binding), 3))
            if ground is None
            else ground.stand(binding, offset, self.clocks(uid, times, after))
        )
        return transform_points(self.matrices(uid, times + after), local)

    def _stands(
        self,
        uid: str,
        ground: EmissionSurface | None,
        binding: np.ndarray,
        offset: np.ndarray,
        times: np.ndarray,
        found: np.ndarray,
    ) -> list[np.ndarray]:
        place = self._at(uid, ground, binding, offset, times)
        if ground is None:
            normal, uv = np.broadcast_to([0.0, 1.0, 0.0], place.shape), np.zeros((len(place), 2))
        else:
            inverse = np.linalg.pinv(self.matrices(uid, times)[:, :3, :3])
            normal = np.einsum(
                "nji,nj->ni",
                np.broadcast_to(inverse, (len(place), 3, 3)),
                ground.normal(binding, self.clocks(uid, times)),
            )
            normal = normal / np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-300)
            uv = ground.uv(binding)
        if self.still(uid) and (ground is None or isinstance(ground.geometry, Path) or not ground.geometry.moves):
            return [*place.T, *normal.T, *uv.T, *binding.T, *offset.T, *np.zeros((3, 1)), found]
        velocity = (
            self._at(uid, ground, binding, offset, times, DERIVATIVE_STEP)
            - self._at(uid, ground, binding, offset, times, -DERIVATIVE_STEP)
        ) / (2 * DERIVATIVE_STEP)
        return [*place.T, *normal.T, *uv.T, *binding.T, *offset.T, *velocity.T, found]

    def _ground(self, uid: str) -> EmissionSurface | None:
        """Return the surface on which births happen; None without geometry or file."""
        geometry = self.geometry(uid)
        if geometry is None:
            return None
        prop = self.prop(uid)
        drawn = prop.drawn_points()
        marked = None if drawn is None else np.asarray(drawn, F64)
        return _per_prop(("ground", self.key(prop.uid)), lambda: EmissionSurface(geometry, marked))

    def _dense(self, ground: EmissionSurface, uid: str, place: Any, number: int) -> tuple[Any, np.ndarray | None]:
        """Return the weighting of the surface, or of its points, by a density picture."""
        picture = self._picture(place.density.picture, number)
        if picture is None or not isinstance(ground.geometry, Mesh):
            return None, None
        density = place.density
        key = (
            "density",
            self.key(uid),
            place.on,
            self.picture_key(density.picture, number),
            density.model_dump_json(exclude={"picture"}),
        )
        dense = self._density(density, picture)
        if place.on == "points":
            return None, _per_prop(key, lambda: ground.weighed_points(dense))
        return (
            (_per_prop(key, lambda: ground.divided(dense, picture.size)), None)
            if place.on == "surface"
            else (None, None)
        )

    @staticmethod
    def _density(density: Any, picture: Picture) -> Callable[[np.ndarray], np.ndarray]:
        """Return a function that gives the density, 0 or more, at (u, v), (n, 2)."""
        table = None if density.curve is None else table_of(density.curve.keys)

        def dense(uv: np.ndarray) -> np.ndarray:
            value = picture.channel(uv, density.channel, "tile")
            value = 1 - value if density.invert else value
            if table is not None:
                out = np.empty(len(value), np.float32)
                curve_into(table, np.ascontiguousarray(value, np.float32), out)
                value = out.astype(F64)
            return np.maximum(value, 0)

        return dense

    def density_at(self, place: Any, seconds: float, uv: np.ndarray) -> np.ndarray | None:
        """Return the density of births at (u, v) of a prop by its picture, (n,), 0 or more; None without a picture."""
        if place.density is None:
            return None
        picture = self._picture(place.density.picture, int(self.clock(place.density.picture, seconds)))
        return None if picture is None else self._density(place.density, picture)(uv)

    # rays, pictures, fields ---------------------------------------------------------------------------------------
    def _colours(self, prop: Any, mesh: Mesh, face: np.ndarray, uv: np.ndarray) -> np.ndarray:
        """Return colour and alpha of a mesh's materials at points, (n, 4): their pictures times their colours,
        otherwise the prop's tint."""
        out = np.ones((len(face), 4))
        if not prop.materials:
            out[:, :3] = prop.tint
            return out
        material = np.clip(mesh.material[face], 0, len(mesh.colours) - 1)
        out[:, :3] = mesh.colours[material]
        for number in np.unique(material):
            picture = mesh.pictures[number] if number < len(mesh.pictures) else -1
            if 0 <= picture < len(mesh.textures):
                here = material == number
                found = _per_prop(
                    ("texture", id(mesh.textures[picture])),
                    lambda: (Picture(mesh.textures[picture]), mesh),  # noqa: B023
                )[0].at(uv[here])
                out[here, :3] *= found[:, :3]
                out[here, 3] *= found[:, 3]
        return out

    def reach(self, uid: str, origins: np.ndarray, directions: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return the distance at which rays (n, 3) meet a prop from either side, metres; 0 where they miss. Directions
        have length 1."""
        geometry, n = self.geometry(uid), len(origins)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            return np.zeros(n)
        back = inverse(self.matrices(uid, times))
        origins = transform_points(back, origins)
        directions = np.einsum("nij,nj->ni", np.broadcast_to(back[:, :3, :3], (n, 3, 3)), directions)
        prop = self.prop(uid)
        if (exact := prop.exact_shape()) is not None:
            reach = closed_reach(exact[0], origins, directions, **exact[1])
        elif not geometry.moves:
            reach = geometry.hits(origins, directions)[1]
        else:
            clocks = np.broadcast_to(np.round(self.clocks(uid, times) / DEFORM_STEP) * DEFORM_STEP, (n,))
            reach = np.empty(n)
            for clock in np.unique(clocks):
                here = clocks == clock
                spend(int(here.sum()) * 100)
                key = ("at", self.key(uid), float(clock))
                standing = _per_time(key, lambda: self._world(geometry, np.eye(4)[None], float(clock)))  # noqa: B023
                reach[here] = standing.hits(origins[here], directions[here])[1]
        return np.where(np.isfinite(reach), reach, 0.0)

    # pictures -------------------------------------------------------------------------------------------------------
    def picture(self, uid: str, uv: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return colour and alpha of a prop's picture at (u, v), (n, 4): of a mesh's first material; the tint where it
        has none."""
        prop, n = self.prop(uid), len(uv)
        if prop.film:
            out = np.zeros((n, 4))
            which = np.broadcast_to(self.clocks(uid, times), (n,)).astype(np.int64)
            for number in np.unique(which):
                found = self._picture(uid, int(number))
                if found is not None:
                    out[which == number] = found.at(uv[which == number], "tile")
            return out
        geometry = self.geometry(uid)
        if isinstance(geometry, Mesh) and len(geometry.faces):
            textured = next((m for m, picture in enumerate(geometry.pictures) if picture >= 0), 0)
            face = int(np.argmax(geometry.material == textured))
            return self._colours(prop, geometry, np.full(n, face), uv)
        return np.broadcast_to([*prop.tint, 1.0], (n, 4)).astype(F64)

    # fields ---------------------------------------------------------------------------------------------------------
    def field(self, query: PropQuery, points: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return a field's vectors at world points, (n, 3), rotated with the prop. query.detail: the push, whose
        `outside` says what holds beside the field. Zero where the prop's file is missing."""
        prop = self.prop(query.prop)
        try:
            found = self.content(prop.file.content) if prop.field else None
        except KageroError:
            found = None
        if not isinstance(found, VectorField):
            return np.zeros((len(points), 3))
        matrices = self.matrices(query.prop, times)
        values = found.at(transform_points(inverse(matrices), points) / prop.unit, query.detail.outside == "edge")
        turns = matrices[:, :3, :3] / np.maximum(np.linalg.norm(matrices[:, :3, :3], axis=1, keepdims=True), 1e-300)
        return np.einsum("nij,nj->ni", np.broadcast_to(turns, (len(points), 3, 3)), values)

    def picture_at(self, uid: str, seconds: float) -> Picture | None:
        """Return the picture that a picture prop shows at a time; None where its file is missing."""
        return self._picture(uid, int(self.clock(uid, seconds)))

    def picture_key(self, uid: str, number: int) -> str:
        """Return a text that is equal for equal pictures, for a picture prop's picture by number."""
        return self.prop(uid).picture_key(number, self._own_at(uid, number))

    def _picture(self, uid: str, number: int) -> Picture | None:
        prop = self.prop(uid)
        try:
            found = prop.picture(geometry_builder(self.content), number, self._own_at(uid, number))
        except KageroError:
            return None
        return found if isinstance(found, Picture) else None

    def _own_at(self, uid: str, number: int) -> dict[str, float]:
        """Return the rows of a picture prop at the time of one of its pictures, by number (a frame of the clip, where
        pictures differ over time)."""
        return self.own(uid, number / float(self.plan.frame_rate))
