"""What operations of plans ask of the stage: births on props, places held there, nearest places, rays and pictures, many at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import scipy

from ..errors import BudgetError, GeometryProblem, KageroError
from ..geometry import Mesh, Path, Picture, Places, VectorField
from ..geometry.breaking import Breaking, Broken, broken
from ..geometry.brush import painted
from ..geometry.emission import Ground
from ..geometry.shapes import reach as closed_reach
from ..geometry.subdivision import finer
from ..kernels import bvh
from ..kernels.curves import curve_into
from ..memory import PROCESS
from ..program import PropQuery
from ..rows.slots import table_of
from ..work_limits import spend
from .building import maker
from .contacts import Meeting
from .prop_places import APART, H, inverse, moved

F64 = np.float64


Near = Callable[[Any, Any, np.ndarray, np.ndarray], list[np.ndarray]]
_once, _moment = PROCESS.region("stage", 1.0), PROCESS.region("moments", 0.5)


class Stage(Meeting):
    """The props of an effect, as the operations of its programs ask for them (`program.StageQueries`). Arrays in and out are float64."""

    # births -----------------------------------------------------------------------------------------------------------
    def born(self, query: PropQuery, uvw: np.ndarray, times: np.ndarray, offset: np.ndarray) -> list[np.ndarray]:
        """Return what births on a prop are, in the order of `operations.stage.BORN`. uvw: uniform numbers (n, 3); offset: metres, (n,)."""
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

    def bound(self, query: PropQuery, binding: np.ndarray, offset: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return the same of births whose binding and offset are known."""
        return self._stands(query.prop, self._ground(query.prop), binding, offset, times, np.ones(len(binding)))

    def held(self, uid: str, binding: np.ndarray, offset: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return where bindings stand at clip times, (n, 3)."""
        ground = self._ground(uid)
        return self._at(uid, ground, binding, offset, times)

    def turned(self, uid: str, binding: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return how bindings are turned at clip times since their prop was at rest, unit quaternions (n, 4): with its triangles, and with it."""
        matrix = np.broadcast_to(self.matrices(uid, times)[:, :3, :3], (len(binding), 3, 3))
        u, _, vt = np.linalg.svd(matrix[:1] if len(times) == 1 else matrix)
        turn = np.broadcast_to(u @ vt, (len(binding), 3, 3))
        ground = self._ground(uid)
        if ground is not None and isinstance(ground.geometry, Mesh) and ground.geometry.moves:
            turn = turn @ ground.turned(binding, self.clocks(uid, times))
        return scipy.spatial.transform.Rotation.from_matrix(turn).as_quat()

    # parts that a prop falls into -------------------------------------------------------------------------------------------
    def broken(self, place: Any) -> tuple[Broken, np.ndarray]:
        """Return the parts that a prop falls into, as large as it is stretched at the clip's beginning, and that stretch, (3, 3). Raises
        GeometryProblem or BudgetError where it cannot be broken so."""
        mesh = self.geometry(place.prop) if self.there(place.prop) else None
        if not isinstance(mesh, Mesh) or not len(mesh.faces):
            raise GeometryProblem(
                "What falls apart is not here.", remedy="Bring its file in again, or choose another prop."
            )
        stretch = self._stretch(place.prop)
        picture = self._picture(place.finer, int(self.clock(place.finer, 0.0))) if place.pictures_asked() else None
        dense = None if picture is None else lambda uv: picture.channel(uv, "luminance", "tile")

        def compute() -> Broken:
            spend(200_000)
            shows = self.picture_at(place.prop, 0.0) if self.prop(place.prop).film else None
            how = Breaking(
                place.into,
                place.count,
                place.seed,
                place.splinters,
                place.closing,
                dense,
                None if shows is None else shows.pixels,
            )
            return broken(
                replace(
                    mesh,
                    points=(mesh.points @ stretch).astype(np.float32),
                    frames=None,
                    times=None,
                    given_normals=mesh.normals @ np.linalg.pinv(stretch),
                ),
                how,
            )

        return _once(("broken", self.parts_key(place)), compute), stretch

    def _stretch(self, uid: str) -> np.ndarray:
        """Return how a prop is stretched at the clip's beginning, (3, 3), its turn apart."""
        _, size, vt = np.linalg.svd(self.matrices(uid, np.zeros(1))[0, :3, :3])
        stretch: np.ndarray = (vt.T * size) @ vt
        return np.eye(3) if np.allclose(stretch, np.eye(3), atol=1e-9) else stretch

    def parts_key(self, place: Any) -> str:
        """Return a text equal where a prop falls into the same parts: its geometry, how it breaks and is stretched, and the pictures that say so."""
        pictures = [*place.pictures_asked(), *([place.prop] if self.prop(place.prop).film else [])]
        shown = [self.picture_key(uid, int(self.clock(uid, 0.0))) for uid in pictures if self.there(uid)]
        return repr((self.key(place.prop), place.asked(), shown, self._stretch(place.prop).round(9).tolist()))

    def part_facts(self, place: Any, number: np.ndarray) -> list[np.ndarray]:
        """Return how much of the prop each of some parts is, by its volume or area against the mean of all, and how long its longest side is,
        metres, (n,)."""
        try:
            parts, _ = self.broken(place)
        except (GeometryProblem, BudgetError):
            return [np.zeros(len(number)), np.zeros(len(number))]
        which = number.astype(np.int64) % max(len(parts), 1)
        return [parts.amount[which] / max(float(parts.amount.mean()), 1e-300), parts.longest[which]]

    def part_count(self, place: Any) -> int:
        """Return how many parts a prop falls into; none where it cannot be broken so."""
        try:
            return len(self.broken(place)[0])
        except (GeometryProblem, BudgetError):
            return 0

    def _parts_born(self, query: PropQuery, number: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return births as parts of a prop, by their numbers, in the order of `operations.stage.BORN`."""
        place, ground, n = query.detail, self._ground(query.prop), len(number)
        try:
            parts, stretch = self.broken(place)
        except (GeometryProblem, BudgetError):
            return self._stands(query.prop, ground, np.zeros((n, 3)), np.zeros((n, 3)), times, np.zeros(n, bool))
        assert ground is not None
        centres = parts.centre @ np.linalg.pinv(stretch)
        binding, offset = _once(("parts bound", self.parts_key(place)), lambda: ground.near(centres))
        which = number.astype(np.int64) % max(len(parts), 1)
        return self._stands(query.prop, ground, binding[which], offset[which], times, np.ones(n, bool))

    def _at(
        self,
        uid: str,
        ground: Ground | None,
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
        return moved(self.matrices(uid, times + after), local)

    def _stands(
        self,
        uid: str,
        ground: Ground | None,
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
            self._at(uid, ground, binding, offset, times, H) - self._at(uid, ground, binding, offset, times, -H)
        ) / (2 * H)
        return [*place.T, *normal.T, *uv.T, *binding.T, *offset.T, *velocity.T, found]

    def _ground(self, uid: str) -> Ground | None:
        """Return what births happen on; None where there is no geometry, or its file is not here."""
        geometry = self.geometry(uid)
        if geometry is None:
            return None
        prop = self.prop(uid)
        marked = np.asarray(prop.points, F64) if prop.kind == "path" and not prop.formula else None
        return _once(("ground", self.key(prop.uid)), lambda: Ground(geometry, marked))

    def _dense(self, ground: Ground, uid: str, place: Any, number: int) -> tuple[Any, np.ndarray | None]:
        """Return what a picture of a density makes of the surface, or of the points."""
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
            return None, _once(key, lambda: ground.weighed_points(dense))
        return (
            (_once(key, lambda: ground.divided(dense, picture.size)), None) if place.on == "surface" else (None, None)
        )

    @staticmethod
    def _density(density: Any, picture: Picture) -> Callable[[np.ndarray], np.ndarray]:
        """Return what gives the density, 0 or more, at (u, v), (n, 2)."""
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
        """Return how dense births are at (u, v) of a prop by its picture, (n,), 0 or more; None without a picture."""
        if place.density is None:
            return None
        picture = self._picture(place.density.picture, int(self.clock(place.density.picture, seconds)))
        return None if picture is None else self._density(place.density, picture)(uv)

    # near, hit ------------------------------------------------------------------------------------------------------
    def sample(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return distance, u, v, red, green, blue, alpha of a prop's nearest places, (n,) each.

        Distance: metres, negative inside a closed mesh. A picture is seen along its own axis; beside it there is nothing.
        """
        geometry, n = self.geometry(uid), len(points)
        if geometry is None or (isinstance(geometry, Mesh) and not len(geometry.points)):
            away = np.linalg.norm(points - self.matrices(uid, times)[:, :3, 3], axis=1)
            return [away, *(np.zeros(n) for _ in range(6))]
        found, own = self._asked(uid, geometry, points, times, self._near, 7)
        if own is not None:
            found[0] = found[0] * np.linalg.norm(own[:, :3, 0], axis=1)
        return found

    def nearest(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return a prop's places nearest to points: x, y, z, which way it faces there (of a path: which way it runs), how far it is
        (0 or more), u and v; (n,) each. Of a prop without geometry, where it stands."""
        geometry, n = self.geometry(uid), len(points)
        if geometry is None or (isinstance(geometry, Mesh) and not len(geometry.points)):
            matrices = self.matrices(uid, times)
            there = np.broadcast_to(matrices[:, :3, 3], (n, 3))
            up = np.broadcast_to(
                matrices[:, :3, 1] / np.maximum(np.linalg.norm(matrices[:, :3, 1], axis=1, keepdims=True), 1e-300),
                (n, 3),
            )
            return [*there.T, *up.T, np.linalg.norm(points - there, axis=1), np.zeros(n), np.zeros(n)]
        found, own = self._asked(uid, geometry, points, times, _nearest_place, 8)
        place, facing = np.stack(found[:3], axis=1), np.stack(found[3:6], axis=1)
        if own is not None:
            place = moved(own, place)
            facing = np.einsum("nij,nj->ni", np.broadcast_to(own[:, :3, :3], (n, 3, 3)), facing)
            facing /= np.maximum(np.linalg.norm(facing, axis=1, keepdims=True), 1e-300)
        return [*place.T, *facing.T, np.linalg.norm(points - place, axis=1), *found[6:]]

    def footing(self, uid: str, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return the places of a mesh nearest to points: triangle, shares of its second and third corner, (n,) each; noughts where there is none."""
        geometry = self.geometry(uid)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            return [np.zeros(len(points))] * 3

        def near(prop: Any, standing: Mesh | Path, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
            assert isinstance(standing, Mesh)
            places, _ = standing.nearest(points)
            return [places.face.astype(F64), places.bary[:, 1], places.bary[:, 2]]

        return self._asked(uid, geometry, points, times, near, 3)[0]

    def middle(self, uid: str, times: np.ndarray) -> np.ndarray:
        """Return the middle of a prop's bounds at clip times, (n, 3); of one without geometry, where it stands."""
        geometry, matrices = self.geometry(uid), self.matrices(uid, times)
        if geometry is None or not len(geometry.points):
            return matrices[:, :3, 3]
        return (matrices @ self._bounds(uid, geometry, times))[:, :3, 3]

    def painted(self, uid: str, points: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return the share that is painted onto a prop at its places nearest to points, (n,): between the points of its fine mesh at rest."""
        geometry, prop = self.geometry(uid), self.prop(uid)
        strokes = [(s.kind, s.radius, s.strength, np.asarray(s.points)) for s in prop.paint if s.on]
        if not isinstance(geometry, Mesh) or not len(geometry.faces) or not strokes:
            return np.zeros(len(points))
        rest = geometry

        def know() -> tuple[scipy.spatial.cKDTree, np.ndarray]:
            spots = finer(rest).points.astype(F64)
            return scipy.spatial.cKDTree(spots), painted(spots, strokes)

        tree, shares = _once(("painted", self.key(uid), repr(prop.paint)), know)

        def near(prop: Any, standing: Mesh | Path, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
            assert isinstance(standing, Mesh)
            places, _ = standing.nearest(points)
            away, index = tree.query(rest.point(places), k=min(3, tree.n))
            weight = 1 / np.maximum(away.reshape(len(points), -1), 1e-9)
            return [(shares[index].reshape(len(points), -1) * weight).sum(axis=1) / weight.sum(axis=1)]

        return self._asked(uid, geometry, points, times, near, 1)[0][0]

    def _asked(
        self, uid: str, geometry: Mesh | Path, points: np.ndarray, times: np.ndarray, near: Near, count: int
    ) -> tuple[list[np.ndarray], np.ndarray | None]:
        """Return what `near` gives of a prop as it stands at points and times, `count` arrays of (n,); and where the prop stands, (n or 1, 4, 4),
        where it was asked in its own space (None: in the world)."""
        prop, n = self.prop(uid), len(points)
        if isinstance(geometry, Mesh) and not geometry.moves and self._rigid(uid, times):
            matrices = self.matrices(uid, times)
            return near(prop, geometry, moved(inverse(matrices), points), np.broadcast_to(times, (n,))), matrices
        moments = (
            np.broadcast_to(times, (n,)) if len(times) == 1 else np.round(np.broadcast_to(times, (n,)) / APART) * APART
        )
        out = np.empty((count, n))
        for moment in np.unique(moments):
            here = moments == moment
            spend(int(here.sum()) * 100)
            now = np.full(1, moment)
            matrix, clock = self.matrices(uid, now), self.clocks(uid, now)
            if isinstance(geometry, Path):
                standing: Mesh | Path = Path(moved(matrix, geometry.points), geometry.closed)
            else:
                standing = _moment(
                    ("stands", self.key(prop.uid), matrix.tobytes(), clock.tobytes() if geometry.moves else b""),
                    lambda: self._world(geometry, matrix, float(clock[0])),
                )  # noqa: B023
            out[:, here] = near(prop, standing, points[here], moments[here])
        return list(out), None

    def _rigid(self, uid: str, times: np.ndarray) -> bool:
        """Return whether a prop is as wide as it is high and deep at these times: then it is asked in its own space."""
        axes = np.linalg.norm(self.matrices(uid, times)[:, :3, :3], axis=1)
        return bool((np.ptp(axes, axis=1) <= 1e-6 * axes.max(axis=1)).all() and axes.min() > 1e-9)

    @staticmethod
    def _world(mesh: Mesh, matrix: np.ndarray, clock: float) -> Mesh:
        """Return a mesh as it stands; its tree is that of the mesh at rest, fitted anew."""
        points = moved(matrix, mesh.points_at(clock))
        placed = replace(mesh, points=points.astype(np.float32), frames=None, times=None, given_normals=None)
        boxes, links, order = mesh._tree
        boxes = boxes.copy()
        bvh.refit(boxes, links, order, placed.corners)
        turned = mesh.turned_out * (-1 if np.linalg.det(matrix[0, :3, :3]) < 0 else 1)
        placed.__dict__.update(
            _tree=(boxes, links, order), is_closed=mesh.is_closed, turned_out=turned
        )  # as long as nothing else is known of it
        return placed

    def _near(self, prop: Any, geometry: Mesh | Path, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        n = len(points)
        tint = [np.full(n, float(c)) for c in prop.tint] + [np.ones(n)]
        if isinstance(geometry, Path):
            share, away = geometry.nearest(points)
            return [away, share, np.zeros(n), *tint]
        if not len(geometry.faces):
            tree = _once(("tree", id(geometry)), lambda: (scipy.spatial.cKDTree(geometry.points), geometry))[0]
            away, index = tree.query(points)
            return [away, *geometry.uv[index].T.astype(F64), *tint]
        if prop.film:
            return self._before_picture(prop, geometry, points, times)
        places, away = geometry.nearest(points)
        signed = away * np.where(_within(geometry, places, points), -1.0, 1.0) if geometry.is_closed else away
        uv = geometry.uv_at(places)
        return [signed, *uv.T, *self._colours(prop, geometry, places.face, uv).T]

    def _before_picture(self, prop: Any, geometry: Mesh, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
        """Return the places of a picture that points stand before or behind."""
        c = geometry.points.astype(F64)
        corner, right, up = (
            c[np.argmin(np.abs(geometry.uv - np.asarray(uv, np.float32)).sum(axis=1))]
            for uv in ((0, 0), (1, 0), (0, 1))
        )
        gap = points - corner
        uv = np.stack([gap @ side / max(side @ side, 1e-300) for side in (right - corner, up - corner)], axis=1)
        _, away = geometry.nearest(points)
        colour = np.zeros((len(points), 4))
        inside = ((uv >= 0) & (uv <= 1)).all(axis=1)
        colour[inside] = self.picture(prop.uid, uv[inside], times[inside])
        return [away, *np.clip(uv, 0, 1).T, *colour.T]

    def _colours(self, prop: Any, mesh: Mesh, face: np.ndarray, uv: np.ndarray) -> np.ndarray:
        """Return colour and alpha of a mesh's materials at places, (n, 4): their pictures times their colours, else the prop's tint."""
        out = np.ones((len(face), 4))
        if prop.kind != "mesh":
            out[:, :3] = prop.tint
            return out
        material = np.clip(mesh.material[face], 0, len(mesh.colours) - 1)
        out[:, :3] = mesh.colours[material]
        for number in np.unique(material):
            picture = mesh.pictures[number] if number < len(mesh.pictures) else -1
            if 0 <= picture < len(mesh.textures):
                here = material == number
                found = _once(("texture", id(mesh.textures[picture])), lambda: (Picture(mesh.textures[picture]), mesh))[
                    0
                ].at(uv[here])  # noqa: B023
                out[here, :3] *= found[:, :3]
                out[here, 3] *= found[:, 3]
        return out

    def reach(self, uid: str, origins: np.ndarray, directions: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return how far rays (n, 3) go until they meet a prop from either side, metres; 0 where they do not. Directions are of length 1."""
        geometry, n = self.geometry(uid), len(origins)
        if not isinstance(geometry, Mesh) or not len(geometry.faces):
            return np.zeros(n)
        back = inverse(self.matrices(uid, times))
        origins, directions = (
            moved(back, origins),
            np.einsum("nij,nj->ni", np.broadcast_to(back[:, :3, :3], (n, 3, 3)), directions),
        )
        prop = self.prop(uid)
        if prop.kind == "shape" and not prop.strokes:
            reach = closed_reach(prop.shape, origins, directions, **prop.sizes())
        elif not geometry.moves:
            reach = geometry.hits(origins, directions)[1]
        else:
            clocks = np.broadcast_to(np.round(self.clocks(uid, times) / APART) * APART, (n,))
            reach = np.empty(n)
            for clock in np.unique(clocks):
                here = clocks == clock
                spend(int(here.sum()) * 100)
                key = ("at", self.key(uid), float(clock))
                standing = _moment(key, lambda: self._world(geometry, np.eye(4)[None], float(clock)))  # noqa: B023
                reach[here] = standing.hits(origins[here], directions[here])[1]
        return np.where(np.isfinite(reach), reach, 0.0)

    # pictures -------------------------------------------------------------------------------------------------------
    def picture(self, uid: str, uv: np.ndarray, times: np.ndarray) -> np.ndarray:
        """Return colour and alpha of a prop's picture at (u, v), (n, 4): of a mesh, its first material's; its tint where it has none."""
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
        """Return the vectors of a field at points in the world, (n, 3), turned as the prop is. query.detail: the push, whose `outside` says what
        there is beside the field. Of a prop whose file is not here, nothing."""
        prop = self.prop(query.prop)
        try:
            found = self.content(prop.file.content) if prop.field else None
        except KageroError:
            found = None
        if not isinstance(found, VectorField):
            return np.zeros((len(points), 3))
        matrices = self.matrices(query.prop, times)
        values = found.at(moved(inverse(matrices), points) / prop.unit, query.detail.outside == "edge")
        turns = matrices[:, :3, :3] / np.maximum(np.linalg.norm(matrices[:, :3, :3], axis=1, keepdims=True), 1e-300)
        return np.einsum("nij,nj->ni", np.broadcast_to(turns, (len(points), 3, 3)), values)

    def picture_at(self, uid: str, seconds: float) -> Picture | None:
        """Return what a picture prop shows at a time; None where its file is not here."""
        return self._picture(uid, int(self.clock(uid, seconds)))

    def picture_key(self, uid: str, number: int) -> str:
        """Return a text equal for equal pictures, of one of a picture prop's by its number."""
        return self.prop(uid).picture_key(number, self._own_at(uid, number))

    def _picture(self, uid: str, number: int) -> Picture | None:
        prop = self.prop(uid)
        try:
            found = prop.picture(maker(self.content), number, self._own_at(uid, number))
        except KageroError:
            return None
        return found if isinstance(found, Picture) else None

    def _own_at(self, uid: str, number: int) -> dict[str, float]:
        """Return the rows of a picture prop at the time of one of its pictures, whose numbers are frames of clip time where they differ."""
        return self.own(uid, number / float(self.plan.frame_rate))


def _nearest_place(prop: Any, geometry: Mesh | Path, points: np.ndarray, times: np.ndarray) -> list[np.ndarray]:
    """Return place, facing, u and v nearest to points, in the space of the geometry."""
    if isinstance(geometry, Path):
        share, _ = geometry.nearest(points)
        return [*geometry.point(share).T, *geometry.frame(share)[0].T, share, np.zeros(len(points))]
    if not len(geometry.faces):
        tree = _once(("tree", id(geometry)), lambda: (scipy.spatial.cKDTree(geometry.points), geometry))[0]
        _, index = tree.query(points)
        return [
            *geometry.points[index].T.astype(F64),
            *geometry.normals[index].T.astype(F64),
            *geometry.uv[index].T.astype(F64),
        ]
    places, _ = geometry.nearest(points)
    return [*geometry.point(places).T, *geometry.normal(places).T, *geometry.uv_at(places).T]


def _within(mesh: Mesh, places: Places, points: np.ndarray) -> np.ndarray:
    """Return whether points lie inside a closed mesh: by the normal where the nearest place is within a triangle (Baerentzen and Aanaes,
    "Signed distance computation using the angle weighted pseudonormal", 2005), else by the winding number."""
    clear = (places.bary > 1e-6).all(axis=1) if mesh.turned_out != 0 else np.zeros(len(points), bool)
    inside = np.zeros(len(points), bool)
    if clear.any():
        gap = points[clear] - mesh.point(Places(places.face[clear], places.bary[clear]))
        inside[clear] = np.einsum("ij,ij->i", gap, mesh.face_normals[places.face[clear]]) * mesh.turned_out < 0
    if not clear.all():
        inside[~clear] = mesh.inside(points[~clear])
    return inside
