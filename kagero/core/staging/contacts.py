"""Queries of contacts: their geometry over a step, and the contacts' responses."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np

from ..geometry import Mesh, Places
from ..kernels import bvh, contact_broad_phase, contact_columns, contact_shapes, contacts
from ..memory import PROCESS
from ..program import PropQuery
from ..work_limits import claim, spend
from .prop_places import transform_points
from .rides import RideQueries

F64 = np.float64
BLOCK = 4_096  # particles whose columns stay in the processor's cache
SKIN = 2e-5  # of a mesh's size: how thin a particle is at least that meets it
TRIANGLE = 400  # bytes of a triangle as a contact over a step, while it is made
_contact_geometry = PROCESS.region("contacts", 1.0)
_STANDING_STILL = np.tile(np.array([1.0, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0]), (2, 1))


class HalfSpace(NamedTuple):
    """Everything behind a plane. point: on it; normal: away from it; each (3,)."""

    point: np.ndarray
    normal: np.ndarray


@dataclass(frozen=True)
class ContactGeometry:
    """Contacts over a step, as `kernels.contacts.resolve_contacts` reads them. meshes: by contact, a mesh with the
    number of its first triangle."""

    kinds: np.ndarray
    sides: np.ndarray
    frames: np.ndarray
    scales: np.ndarray
    roots: np.ndarray
    boxes: np.ndarray
    links: np.ndarray
    order: np.ndarray
    one: np.ndarray
    other: np.ndarray
    sways: np.ndarray
    skins: np.ndarray
    turns: np.ndarray
    meshes: dict[int, tuple[Mesh, int]]

    def bounds(self, c: int, shape: np.ndarray) -> HalfSpace | tuple[np.ndarray, np.ndarray] | None:
        """Return the half-space or the axis-aligned box, low and high corner, in which a contact lies at the step's
        start; None: unbounded. shape: its numbers. Motion during the step is not included."""
        if self.kinds[c] == contact_shapes.MESH:
            box = self.boxes[self.roots[c]]
            return box[:3], box[3:]
        if self.sides[c] < 0 or self.turns[c] > 0:
            return None
        turn, place = self.frames[c, 0, :9].reshape(3, 3), self.frames[c, 0, 9:]
        middle = place + turn @ (shape[:3] * self.scales[c])
        within = contact_shapes.MODULES[self.kinds[c]].enclosure(shape, float(self.scales[c].max()))
        if isinstance(within, np.ndarray):
            return HalfSpace(middle, turn @ within)
        return middle - within, middle + within

    @property
    def nbytes(self) -> int:
        return self.boxes.nbytes + self.links.nbytes + self.order.nbytes + self.one.nbytes + self.other.nbytes


class ContactQueries(RideQueries):
    """Queries that contacts make about props. Arrays in and out are float64."""

    def resolve_contacts(
        self, query: PropQuery, args: list[Any], keys: np.ndarray, length: float, until: float, outs: list[np.ndarray]
    ) -> None:
        """Write the results of a step of `length` seconds that ends at a clip time, for particles that may meet
        contacts: 25 arrays of (n,) float32.

        They are: position, velocity, whether it touches, number of touches; of the last touch: time before the step's
        end (negative: not in this step), speed, angle, normal, contact (from 1 on, 0 none), u, v, triangle; contact it
        sticks to (0 none) and where (3); position at the last touch. With three more, the velocity after that touch;
        with 16 more for each of the step's first touches: time, speed, angle, normal, contact, u, v, triangle, position
        and velocity after it.

        args: as in `kernels.contacts`, a number or (n,) float32 each. keys: (n,) uint64. query.detail: the contacts, in
        order.
        """
        stands, n = self._obstacles(query, length, until), len(outs[0])
        columns = [k for k, arg in enumerate(args) if isinstance(arg, np.ndarray)]
        where = np.full(len(args), -1, np.int64)
        numbers = np.array([0.0 if isinstance(arg, np.ndarray) else float(arg) for arg in args])
        where[columns] = np.arange(len(columns))
        keys, room = np.broadcast_to(keys, (n,)), contact_columns.workspace_for(len(stands.kinds))
        free = (
            *args[contact_columns.X1 : contact_columns.X1 + 6],
            0.0,
            args[contact_columns.COUNT],
            -1.0,
            *[0.0] * (len(outs) - 9),
        )  # of whoever meets nothing
        free = tuple(-1.0 if k in self._moments(len(outs)) else value for k, value in enumerate(free))
        for output, value in zip(outs, free, strict=True):
            output[...] = value
        standing = (stands.kinds, stands.sides, stands.frames, stands.scales, stands.roots, stands.boxes)
        for start in range(0, n, BLOCK):
            size = min(BLOCK, n - start)
            candidates = self._may_meet(stands, args, numbers, where, slice(start, start + size), size)
            count = size if candidates is None else len(candidates)
            if not count:
                continue
            those = slice(start, start + size) if candidates is None or count == size else candidates + start
            near = np.empty((max(len(columns), 1), count), np.float32)
            for row, k in enumerate(columns):
                near[row] = args[k][those]
            out = np.empty((len(outs), count), np.float32)
            for k, value in enumerate(free):
                out[k] = value[those] if isinstance(value, np.ndarray) else value
            contacts.resolve_contacts(
                where,
                numbers,
                near,
                np.ascontiguousarray(keys[those]),
                *standing,
                stands.links,
                stands.order,
                stands.one,
                stands.other,
                stands.sways,
                stands.skins,
                stands.turns,
                length,
                *room,
                out,
            )
            for output, value in zip(outs, self._with_uv(stands, out), strict=True):
                output[those] = value

    @staticmethod
    def _may_meet(
        stands: ContactGeometry, args: list[Any], numbers: np.ndarray, where: np.ndarray, here: slice, size: int
    ) -> np.ndarray | None:
        """Return which particles of a block may meet a contact in a step, stick to one, or have no step; None: any of
        them may."""

        def column(k: int) -> np.ndarray:
            return args[k][here] if where[k] >= 0 else np.full(size, numbers[k], np.float32)

        span = (
            column(contact_columns.DT)
            if where[contact_columns.DT] >= 0
            else numbers[contact_columns.DT : contact_columns.DT + 1]
        )
        dt, near = np.float32(span.max()), np.zeros(size, np.bool_)
        ways = [column(k) for first in (contact_columns.X0, contact_columns.X1) for k in range(first, first + 6)]
        for c in range(len(stands.kinds)):
            base = contact_columns.FIRST_CONTACT_COLUMN + contact_columns.COLUMNS_PER_CONTACT * c
            fixed = (where[base + contact_columns.SHAPE : base + contact_columns.COLUMNS_PER_CONTACT] < 0).all()
            radius = (
                float(column(base + contact_columns.RADIUS).max())
                if where[base + contact_columns.RADIUS] >= 0
                else numbers[base + contact_columns.RADIUS]
            )
            reach = max(radius, stands.skins[c]) + stands.sways[c]
            bounds = (
                stands.bounds(c, numbers[base + contact_columns.SHAPE : base + contact_columns.COLUMNS_PER_CONTACT])
                if fixed
                else None
            )
            if bounds is None:
                return None
            one, other = (np.asarray(each, np.float32) for each in bounds)
            large = 1e-5 * (1 + float(np.abs(one).max()) + float(np.abs(other).max()))
            kernels: Any = contact_broad_phase
            if isinstance(bounds, HalfSpace):
                kernels.near_plane(*ways, dt, one, other, np.float32(reach + large), near)
                continue
            here_too = np.zeros(size, np.bool_)
            kernels.near_box(*ways, dt, one, other, np.float32(reach + large), here_too)
            if stands.kinds[c] == contact_shapes.MESH and here_too.any():
                within = max(radius, stands.skins[c]) + large
                kernels.near_tree(
                    *ways,
                    dt,
                    stands.boxes,
                    stands.links,
                    stands.roots[c],
                    within,
                    np.empty(contact_columns.STACK_DEPTH, np.int64),
                    here_too,
                )
            near |= here_too
        if where[contact_columns.STUCK] >= 0:
            near |= args[contact_columns.STUCK][here] != 0
        if not span.min() > 0:
            near |= ~(span > 0)
        return np.flatnonzero(near)

    @staticmethod
    def _with_uv(stands: ContactGeometry, out: np.ndarray) -> np.ndarray:
        """Replace triangles and corner shares by u and v."""
        for which in (first + 6 for first in ContactQueries._moments(len(out))):
            report = out[which + 1 : which + 4]
            for c, (mesh, first) in stands.meshes.items():
                here = np.flatnonzero(out[which] == c + 1)
                if len(here):
                    b1, b2 = report[1, here].astype(F64), report[2, here].astype(F64)
                    face = np.clip(report[0, here].astype(np.int64) - first, 0, len(mesh.faces) - 1)
                    report[:2, here] = mesh.uv_at(Places(face, np.column_stack([1 - b1 - b2, b1, b2]))).T
                    report[2, here] = face
            if len(stands.meshes) < len(stands.kinds):
                flat = ~np.isin(out[which], [c + 1 for c in stands.meshes]) if stands.meshes else slice(None)
                report[:, flat] = 0
        return out

    @staticmethod
    def _moments(rows: int) -> tuple[int, ...]:
        """Return which output arrays hold the times of touches."""
        return contact_columns.LAST, *range(contact_columns.OUT, rows, contact_columns.TOUCH)

    def contact_colours(self, query: PropQuery, which: np.ndarray, face: np.ndarray, uv: np.ndarray) -> np.ndarray:
        """Return the linear colour at touched points, (n, 3): of a prop's surface, white for anything else. which,
        face: (n,), uv: (n, 2), as in `resolve_contacts`."""
        colours = np.ones((len(which), 3))
        for c, each in enumerate(query.detail):
            here = np.flatnonzero(which == c + 1)
            mesh = self.geometry(each.prop) if each.shape is None and each.prop and self.has_prop(each.prop) else None
            if len(here) and isinstance(mesh, Mesh) and len(mesh.faces):
                triangle = np.clip(face[here].astype(np.int64), 0, len(mesh.faces) - 1)
                colours[here] = self._colours(self.prop(each.prop), mesh, triangle, uv[here])[:, :3]
        return colours

    def _colours(self, prop: Any, mesh: Mesh, face: np.ndarray, uv: np.ndarray) -> np.ndarray:
        """Return colour and alpha of a mesh's materials at points, (n, 4)."""
        raise NotImplementedError

    def _obstacles(self, query: PropQuery, length: float, until: float) -> ContactGeometry:
        key = (
            query.digest,
            query.detail,
            length,
            until,
            *(self.key(each.prop) for each in query.detail if each.prop and self.has_prop(each.prop)),
        )
        found: ContactGeometry | None = _contact_geometry.get(key)
        if found is None:
            found = _contact_geometry.put(key, self._build_obstacles(query, np.array([until - length, until])))
        return found

    def _build_obstacles(self, query: PropQuery, times: np.ndarray) -> ContactGeometry:
        standing = query.detail
        count = len(standing)
        kinds = np.array(
            [contact_shapes.MESH if each.shape is None else contact_shapes.NUMBERS[each.shape] for each in standing],
            np.int64,
        )
        sides = np.array([each.side for each in standing], F64)
        frames = np.tile(_STANDING_STILL, (count, 1, 1))
        scales = np.ones((count, 3))
        roots = np.full(count, -1, np.int64)
        sways, skins, turns = np.zeros(count), np.zeros(count), np.zeros(count)
        boxes: list[np.ndarray] = []
        links: list[np.ndarray] = []
        order: list[np.ndarray] = []
        one: list[np.ndarray] = []
        other: list[np.ndarray] = []
        meshes: dict[int, tuple[Mesh, int]] = {}
        nodes = faces = 0
        for c, each in enumerate(standing):
            if each.prop is None or not self.has_prop(each.prop):
                kinds[c] = kinds[c] if each.prop is None else contact_shapes.MESH
                continue
            matrices = np.broadcast_to(self.matrices(each.prop, times), (2, 4, 4))
            if each.shape is not None:
                scales[c] = np.linalg.norm(matrices[1, :3, :3], axis=0)
                for k in range(2):
                    axes = np.linalg.norm(matrices[k, :3, :3], axis=0)
                    frames[c, k, :9] = (matrices[k, :3, :3] / np.maximum(axes, 1e-12)).reshape(-1)
                    frames[c, k, 9:] = matrices[k, :3, 3]
                sways[c] = float(np.linalg.norm(frames[c, 1, 9:] - frames[c, 0, 9:]))
                turns[c] = float(np.linalg.norm(frames[c, 1, :9] - frames[c, 0, :9]))
                continue
            mesh = self.geometry(each.prop)
            if not isinstance(mesh, Mesh) or not len(mesh.faces):
                continue
            clocks = np.broadcast_to(self.clocks(each.prop, times) if mesh.moves else np.zeros(2), (2,))
            ends = [
                transform_points(matrices[k : k + 1], mesh.points_at(float(clocks[k])).astype(F64)) for k in range(2)
            ]
            claim(
                TRIANGLE * (faces + len(mesh.faces)),
                "Contacts with meshes",
                remedy="Let them meet fewer meshes, or of fewer triangles.",
            )
            spend(60 * len(mesh.faces))
            corners = [np.ascontiguousarray(points[mesh.faces]) for points in ends]
            tree, joints, listed = mesh._tree
            both, low = tree.copy(), tree.copy()
            bvh.refit(low, joints, listed, corners[0])
            bvh.refit(both, joints, listed, corners[1])
            both[:, :3], both[:, 3:] = np.minimum(both[:, :3], low[:, :3]), np.maximum(both[:, 3:], low[:, 3:])
            roots[c] = nodes
            meshes[c] = (mesh, faces)
            inner = joints[:, :1] >= 0
            first = np.where(inner, joints + nodes, joints - np.array([faces, 0]))
            links.append(first.astype(np.int32))
            order.append((listed + faces).astype(np.int64))
            boxes.append(both)
            one.append(corners[0])
            other.append(corners[1])
            nodes, faces = nodes + len(joints), faces + len(mesh.faces)
            sways[c] = float(np.linalg.norm(ends[1] - ends[0], axis=1).max(initial=0))
            skins[c] = SKIN * float(np.linalg.norm(np.ptp(ends[1], axis=0))) + 1e-6
        gone = (kinds == contact_shapes.MESH) & (roots < 0)
        if gone.any():  # a mesh that is not there: a box round nothing, which nobody comes near
            roots[gone] = nodes
            boxes.append(np.array([[1e30, 1e30, 1e30, 1e30, 1e30, 1e30]]))
            links.append(np.array([[-1, 0]], np.int32))
            order.append(np.zeros(0, np.int64))
        void = np.zeros((1, 3, 3))
        return ContactGeometry(
            kinds,
            sides,
            frames,
            scales,
            roots,
            np.concatenate([*boxes, np.zeros((0, 6))]),
            np.concatenate([*links, np.zeros((0, 2), np.int32)]),
            np.concatenate([*order, np.zeros(0, np.int64)]),
            np.concatenate([*one, void]),
            np.concatenate([*other, void]),
            sways,
            skins,
            turns,
            meshes,
        )
