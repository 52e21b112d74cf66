"""Clipping of triangles against the near plane."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .solid import Solid


@dataclass(frozen=True)
class Cut:
    """Clipped triangles. faces: (F, 3); new points are numbered after the old ones. of: original triangle of each,
    (F,). first, second, share: for each new point, the two points it lies between, and its share of the way, (K,)."""

    faces: np.ndarray
    of: np.ndarray
    first: np.ndarray
    second: np.ndarray
    share: np.ndarray

    def points(self, values: np.ndarray) -> np.ndarray:
        """Return values of points, (V, ...), with interpolated values of the new ones."""
        share = self.share.reshape(-1, *[1] * (values.ndim - 1))
        return np.concatenate([values, values[self.first] * (1 - share) + values[self.second] * share])


def cut(away: np.ndarray, faces: np.ndarray, near: float) -> Cut | None:
    """Return triangles, (F, 3), clipped against a plane at depth `near`; None where none is cut. away: depth of each
    point, (V,), metres.

    Sutherland and Hodgman, "Reentrant polygon clipping", Communications of the ACM 17(1), 1974, for one plane.
    """
    ahead = (away >= near)[faces]
    many = ahead.sum(axis=1)
    crossing = (many == 1) | (many == 2)
    if not crossing.any():
        return None
    whole = np.flatnonzero(many == 3)
    pieces, of, first, second = [faces[whole]], [whole], [], []
    new = len(away)
    for count in (1, 2):
        which = np.flatnonzero(many == count)
        if not len(which):
            continue
        # turned so that the one that differs comes first
        lone = np.argmax(ahead[which] if count == 1 else ~ahead[which], axis=1)
        a, b, c = (faces[which, (lone + k) % 3] for k in range(3))
        to_b, to_c = np.arange(len(which)) + new, np.arange(len(which)) + new + len(which)
        new += 2 * len(which)
        first += [a, a]
        second += [b, c]
        if count == 1:
            pieces.append(np.stack([a, to_b, to_c], axis=1))
            of.append(which)
        else:
            pieces += [np.stack([to_b, b, c], axis=1), np.stack([to_b, c, to_c], axis=1)]
            of += [which, which]
    one, other = np.concatenate(first), np.concatenate(second)
    share = (near - away[one]) / (away[other] - away[one])
    return Cut(np.concatenate(pieces).astype(np.int32), np.concatenate(of), one, other, share)


def in_front(solid: Solid, away: np.ndarray, near: float) -> Solid:
    """Return the part of a prop beyond a depth. away: depth of each of its points, (V,), metres."""
    found = cut(away, solid.faces, near * (1 + 1e-9))
    if found is None:
        return solid
    surface, laid, values = solid.surface, solid.laid, solid.values
    return replace(
        solid,
        faces=found.faces,
        points=found.points(solid.points),
        normals=found.points(solid.normals),
        uv=found.points(solid.uv),
        local=found.points(solid.local),
        gone=found.points(solid.gone),
        colour=solid.colour[found.of],
        pictured=solid.pictured[found.of],
        values=None if values is None else found.points(values),
        laid=None if laid is None else found.points(laid),
        surface=None
        if surface is None
        else replace(surface, numbers=surface.numbers[found.of], mapped=surface.mapped[found.of]),
    )
