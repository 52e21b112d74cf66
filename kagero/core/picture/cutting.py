"""Triangles that reach behind what sees them, cut where it begins to see."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .solid import Solid


@dataclass(frozen=True)
class Cut:
    """What is left of triangles. faces: (F, 3), which may name new points, numbered from the old ones on; of: which triangle each is from, (F,);
    first, second, share: between which two points each new one lies, and how far from the first, (K,)."""

    faces: np.ndarray
    of: np.ndarray
    first: np.ndarray
    second: np.ndarray
    share: np.ndarray

    def points(self, values: np.ndarray) -> np.ndarray:
        """Return values of points, (V, ...), with those of the new ones."""
        share = self.share.reshape(-1, *[1] * (values.ndim - 1))
        return np.concatenate([values, values[self.first] * (1 - share) + values[self.second] * share])


def cut(away: np.ndarray, faces: np.ndarray, near: float) -> Cut | None:
    """Return what is left of triangles, (F, 3), in front of a plane so far away; None where none is cut. away: of each point, (V,), metres.

    Sutherland and Hodgman, "Reentrant polygon clipping", Communications of the ACM 17(1), 1974: of one plane.
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
    """Return what of a prop is at least so far ahead. away: of each of its points, (V,)."""
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
