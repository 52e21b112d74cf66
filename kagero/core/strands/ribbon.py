"""Ribbons: bands through several particles in order of birth, the youngest at the head; or from each particle to its
parent."""

from __future__ import annotations

import numpy as np

from ..errors import GeometryProblem
from ..parts.looks.ribbon import PARENT
from ..simulation import join_keys
from .course import StrandPoints, StrandRequest, within_budget
from .streak import CURVED, bends

ROUNDED = 4  # pieces between two particles of a rounded ribbon


def course(asked: StrandRequest) -> StrandPoints:
    shown, settings = asked.shown, asked.settings
    n = len(shown)
    if not n:
        return StrandPoints.nowhere()
    points = shown.positions().astype(np.float64)
    if settings.joins == "all":
        youngest = np.arange(n)[::-1]
        return through(asked, points, youngest, np.ones(n - 1, bool))
    carried = shown.population.carried
    if PARENT[0] not in carried or asked.run.parent is None:
        raise GeometryProblem(
            "Its particles have no parents: they are born by themselves.",
            remedy="Let it join all of them; the disc stands in.",
        )
    parent = join_keys([carried[name] for name in PARENT])
    where, lives = parents(asked, parent)
    if settings.joins == "parent":
        count = CURVED if bends(settings) else 2
        within_budget(int(lives.sum()) * count, f"{int(lives.sum()):,} ribbons", "Let fewer particles live.")
        share = np.linspace(0, 1, count)[None, :, None]
        lines = StrandPoints.of_each(points[lives][:, None, :] * (1 - share) + where[lives][:, None, :] * share)
        return StrandPoints(lines.points, lines.joined, np.flatnonzero(lives)[lines.owner])
    order = np.lexsort((-np.arange(n), parent))
    if settings.to_parent:  # where the parent is stands before its youngest
        first = np.ones(n, bool)
        first[1:] = parent[order[1:]] != parent[order[:-1]]
        heads = np.flatnonzero(first & lives[order])
        points = np.concatenate([points, where[order[heads]]])
        stands_for = np.concatenate([np.arange(n), order[heads]])
        order = np.insert(order, heads, n + np.arange(len(heads)))
    else:
        stands_for = np.arange(n)
    same = parent[stands_for[order[1:]]] == parent[stands_for[order[:-1]]]
    return through(asked, points, order, same, stands_for)


def parents(asked: StrandRequest, parent: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the positions of the particles with some keys, (n, 3) float64, and whether they live, (n,)."""
    assert asked.run.parent is not None
    living = asked.population(asked.run.parent)
    if not len(living):
        return np.zeros((len(parent), 3)), np.zeros(len(parent), bool)
    order = np.argsort(living.key, kind="stable")
    at = order[np.minimum(np.searchsorted(living.key[order], parent), len(living) - 1)]
    return np.stack(living.position, axis=1)[at].astype(np.float64), living.key[at] == parent


def through(
    asked: StrandRequest,
    points: np.ndarray,
    order: np.ndarray,
    joined: np.ndarray,
    stands_for: np.ndarray | None = None,
) -> StrandPoints:
    """Return the bands through points in an order. joined: whether each may be connected to the next, (n - 1,).
    stands_for: the particle of each point, where that is not its index."""
    settings = asked.settings
    there, whose = points[order], order if stands_for is None else stands_for[order]
    gone = np.linalg.norm(np.diff(there, axis=0), axis=1)
    if settings.gap > 0:
        joined = joined & (gone <= settings.gap)
    pieces = ROUNDED if settings.rounded else 1
    within_budget(
        len(order) + int(joined.sum()) * (pieces - 1),
        "Its ribbons",
        "Let fewer particles live, or let it go straight from one to the next.",
    )
    if pieces == 1:
        return StrandPoints(there.astype(np.float32), np.append(joined, False), whose)
    return rounded(there, joined, whose, gone)


def rounded(points: np.ndarray, joined: np.ndarray, whose: np.ndarray, gone: np.ndarray) -> StrandPoints:
    """Return smooth bands through points: centripetal Catmull-Rom splines, which do not overshoot (Yuksel, Schaefer and
    Keyser, "Parameterization and applications of Catmull-Rom curves", 2011)."""
    n = len(points)
    span = np.sqrt(np.maximum(gone, 1e-12))
    slope = np.diff(points, axis=0) / span[:, None]
    ahead, behind = np.append(joined, False), np.insert(joined, 0, False)
    tangent = np.zeros((n, 3))
    both = ahead & behind
    i = np.flatnonzero(both)
    tangent[i] = (slope[i - 1] * span[i, None] + slope[i] * span[i - 1, None]) / (span[i] + span[i - 1])[:, None]
    i = np.flatnonzero(ahead & ~behind)
    tangent[i] = slope[i]
    i = np.flatnonzero(behind & ~ahead)
    tangent[i] = slope[i - 1]
    count = np.where(ahead, ROUNDED, 1)
    start = np.repeat(np.arange(n), count)
    within = np.arange(len(start)) - np.repeat(np.cumsum(count) - count, count)
    u = within / ROUNDED
    after = np.minimum(start + 1, n - 1)
    h = np.append(span, 0)[start]
    w = u[:, None]
    curve_points = (
        points[start] * (1 + 2 * w) * (1 - w) ** 2
        + points[after] * w * w * (3 - 2 * w)
        + (tangent[start] * w * (1 - w) ** 2 - tangent[after] * w * w * (1 - w)) * h[:, None]
    )
    curve = ahead[start]
    places = np.where(curve[:, None], curve_points, points[start]).astype(np.float32)
    return StrandPoints(places, curve, whose[start], whose[after], np.where(curve, u, 0).astype(np.float32))
