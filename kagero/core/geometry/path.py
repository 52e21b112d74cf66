"""A path: a line through space with a length, places along it evenly by that length, and a frame that turns no more
than it must."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..kernels import lines

PER_SPAN = 24  # points a span between two of the points somebody drew
JOINED = 1e-6  # of a path's length: points that are nearer to each other are one


@dataclass(frozen=True)
class Path:
    """points: (N, 3) float64, metres, N of at least 1; closed: the last point goes on to the first."""

    points: np.ndarray
    closed: bool = False

    @staticmethod
    def of(points: np.ndarray, closed: bool = False) -> Path:
        """Return the path from point to point (n, 3), n of at least 1. Points that follow each other within JOINED of
        its length are one, also the last and the first where it is closed: the direction between them is that of their
        rounding."""
        points = np.asarray(points, np.float64).reshape(-1, 3)
        apart = np.linalg.norm(np.diff(points, axis=0), axis=1)
        ends = float(np.linalg.norm(points[0] - points[-1]))
        near = JOINED * (float(apart.sum()) + (ends if closed else 0.0))
        if (apart <= near).any():
            kept = [0]
            for i in range(1, len(points)):
                if np.linalg.norm(points[i] - points[kept[-1]]) > near:
                    kept.append(i)
            if kept[-1] != len(points) - 1 and not closed and len(kept) > 1:
                kept[-1] = len(points) - 1  # an open path ends where its last point is
            points = points[kept]
        if closed and len(points) > 2 and np.linalg.norm(points[0] - points[-1]) <= near:
            points = points[:-1]
        return Path(points, closed)

    @staticmethod
    def through(points: np.ndarray, closed: bool = False) -> Path:
        """Return a smooth path through points (n, 3): a centripetal Catmull-Rom curve, which makes no loops or cusps
        within a span (Yuksel, Schaefer and Keyser, "On the parameterization of Catmull-Rom curves", 2009)."""
        points = np.asarray(points, np.float64).reshape(-1, 3)
        points = Path.of(points, closed).points if len(points) else np.zeros((1, 3))
        if len(points) < 3:
            return Path(points)
        before, after = (
            (points[-1], points[:2]) if closed else (2 * points[0] - points[1], [2 * points[-1] - points[-2]])
        )
        row = np.concatenate([[before], points, np.reshape(after, (-1, 3))])
        knots = np.concatenate([[0.0], np.cumsum(np.sqrt(np.linalg.norm(np.diff(row, axis=0), axis=1)))])
        spans = []
        for i in range(1, len(row) - 2):
            t = np.linspace(knots[i], knots[i + 1], PER_SPAN, endpoint=False)[:, None]
            a = [_knot_lerp(row[i - 1 + k], row[i + k], knots[i - 1 + k], knots[i + k], t) for k in range(3)]
            b = [_knot_lerp(a[k], a[k + 1], knots[i - 1 + k], knots[i + 1 + k], t) for k in range(2)]
            spans.append(_knot_lerp(b[0], b[1], knots[i], knots[i + 1], t))
        points_of_spans = np.concatenate(spans)
        return Path(points_of_spans if closed else np.concatenate([points_of_spans, points[-1:]]), closed)

    @cached_property
    def corners(self) -> np.ndarray:
        """The points, with the first once more at the end of a closed path."""
        return np.ascontiguousarray(
            np.concatenate([self.points, self.points[:1]]) if self.closed else self.points, np.float64
        )

    @cached_property
    def along(self) -> np.ndarray:
        """Metres from the start to each corner."""
        return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(self.corners, axis=0), axis=1))])

    @property
    def length(self) -> float:
        return float(self.along[-1])

    def _spot(self, share: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return the span of each share of the length, and the share of that span."""
        share = np.asarray(share, np.float64)
        share = share % 1.0 if self.closed else np.clip(share, 0, 1)
        if len(self.corners) < 2:
            return np.zeros(len(share), np.int64), np.zeros(len(share))
        at = share * self.length
        i = np.clip(np.searchsorted(self.along, at, side="right") - 1, 0, len(self.along) - 2)
        span = self.along[i + 1] - self.along[i]
        return i, np.where(span > 0, (at - self.along[i]) / np.where(span > 0, span, 1), 0.0)

    def point(self, share: np.ndarray) -> np.ndarray:
        """Return where shares of the length lie, (n, 3): 0 at the start, 1 at the end; beyond, a closed path goes
        round."""
        i, part = self._spot(share)
        if len(self.corners) < 2:
            return np.broadcast_to(self.corners[0], (len(i), 3)).copy()
        return self.corners[i] * (1 - part[:, None]) + self.corners[i + 1] * part[:, None]

    @cached_property
    def _tangents(self) -> np.ndarray:
        c = self.corners
        if len(c) < 2:
            return np.array([[1.0, 0.0, 0.0]])
        spans = np.diff(c, axis=0)
        spans = spans / np.maximum(np.linalg.norm(spans, axis=1, keepdims=True), 1e-300)
        before, after = np.concatenate([spans[:1], spans]), np.concatenate([spans, spans[-1:]])
        if self.closed:
            before[0], after[-1] = spans[-1], spans[0]
        total = before + after
        lost = np.linalg.norm(total, axis=1) < 1e-9  # the path turns back on itself
        total[lost] = after[lost]
        return total / np.maximum(np.linalg.norm(total, axis=1, keepdims=True), 1e-300)

    @cached_property
    def _ups(self) -> np.ndarray:
        """Normals carried along without twist: Wang et al., "Computation of rotation minimizing frames", 2008, by two
        reflections. A closed path's remaining twist is spread over its length, so that start and end meet."""
        c, t = self.corners, self._tangents
        up = np.zeros_like(t)
        axis = np.zeros(3)
        axis[1 if abs(t[0, 1]) < 0.9 else 2] = 1
        up[0] = axis - t[0] * (axis @ t[0])
        up[0] /= np.linalg.norm(up[0])
        for i in range(len(t) - 1):
            v1 = c[i + 1] - c[i]
            c1 = v1 @ v1
            if c1 < 1e-24:
                up[i + 1] = up[i]
                continue
            mirrored = up[i] - (2 / c1) * (v1 @ up[i]) * v1
            turned = t[i] - (2 / c1) * (v1 @ t[i]) * v1
            v2 = t[i + 1] - turned
            c2 = v2 @ v2
            up[i + 1] = mirrored if c2 < 1e-24 else mirrored - (2 / c2) * (v2 @ mirrored) * v2
            up[i + 1] -= t[i + 1] * (up[i + 1] @ t[i + 1])
            up[i + 1] /= max(np.linalg.norm(up[i + 1]), 1e-300)
        if self.closed and len(t) > 2:
            twist = np.arctan2(np.cross(up[-1], up[0]) @ t[0], up[-1] @ up[0])
            turn = (twist * self.along / max(self.length, 1e-300))[:, None]
            up = up * np.cos(turn) + np.cross(t, up) * np.sin(turn)
        return up

    def frame(self, share: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return tangent, normal and binormal at shares of the length, (n, 3) each: orthonormal, right-handed, without
        twist."""
        i, part = self._spot(share)
        if len(self.corners) < 2:
            i = np.zeros_like(i)
            tangent, up = self._tangents[i], self._ups[i]
        else:
            tangent, up = (
                values[i] * (1 - part[:, None]) + values[i + 1] * part[:, None]
                for values in (self._tangents, self._ups)
            )
        tangent = tangent / np.maximum(np.linalg.norm(tangent, axis=1, keepdims=True), 1e-300)
        up = up - tangent * np.einsum("ij,ij->i", up, tangent)[:, None]
        up = up / np.maximum(np.linalg.norm(up, axis=1, keepdims=True), 1e-300)
        return tangent, up, np.cross(tangent, up)

    def standing(self, share: np.ndarray, matrices: np.ndarray) -> np.ndarray:
        """Return point, tangent, normal and binormal at shares of the length (n,), as matrices (1 or n, 4, 4) place the
        path: (12, n) float64."""
        columns = np.empty((12, len(share)))
        matrices = np.ascontiguousarray(matrices, np.float64)
        corners, tangents, ups, along = self.corners, self._tangents, self._ups, self.along
        if len(corners) < 2:  # it is one point
            corners = np.repeat(corners, 2, 0)
            tangents = np.repeat(tangents, 2, 0)
            ups = np.repeat(ups, 2, 0)
            along = np.zeros(2)
        lines.frames_into(
            np.ascontiguousarray(share, np.float64), along, corners, tangents, ups, self.closed, matrices, columns
        )
        return columns

    def nearest(self, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return the share of the length nearest to points (n, 3), and how far it is, metres."""
        points = np.asarray(points, np.float64)
        c = self.corners
        if len(c) < 2 or self.length == 0:
            return np.zeros(len(points)), np.linalg.norm(points - c[0], axis=1)
        points = np.ascontiguousarray(points)
        span, part, away = np.empty(len(points), np.int64), np.empty(len(points)), np.empty(len(points))
        lines.nearest_into(points, c, *self._boxes, span, part, away)
        return (self.along[span] + part * (self.along[span + 1] - self.along[span])) / self.length, away

    @cached_property
    def _boxes(self) -> tuple[np.ndarray, np.ndarray]:
        low, high = np.empty((2, -(-(len(self.corners) - 1) // lines.GROUP), 3))
        lines.boxes_into(self.corners, low, high)
        return low, high


def _knot_lerp(a: np.ndarray, b: np.ndarray, start: float, end: float, t: np.ndarray) -> np.ndarray:
    return a + (b - a) * ((t - start) / (end - start))
