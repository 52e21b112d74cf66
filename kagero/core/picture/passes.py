"""Data passes: values in place of light, at each pixel those of the nearest thing with enough coverage; and ID mattes
with shares of coverage."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from ..kernels.hashes import name_to_float
from ..kernels.shading import AROUND, COLOUR, LIGHT, MAP, SUN, WHAT
from ..simulation import Surface
from .columns import as_occluder, with_columns, with_surface_values, with_values
from .layers import Layer
from .lights import Lighting
from .render import render
from .solid import Solid
from .viewpoint import Viewpoint

F32 = np.float32
Region = tuple[int, int, int, int] | None
OfParticles = Callable[[Layer], np.ndarray | None]  # three values of each particle of a layer, (n, 3)
OfPoints = Callable[[Solid], np.ndarray | None]  # of each point of a prop, (V, 3)
WHITE = np.ones(3)
RANKS = 6  # how many are told apart at a pixel


def nearest_values(
    layers: Sequence[Layer],
    solids: Sequence[Solid],
    viewpoint: Viewpoint,
    width: int,
    height: int,
    region: Region,
    particles: OfParticles,
    points: OfPoints,
    surface: OfParticles | None = None,
) -> np.ndarray:
    """Return three values at each pixel and whether there are any, (rows, columns, 4) float32.

    particles, points: give the values of a layer's particles and of a prop's points; None leaves them out. surface:
    gives those of surfaces that particles form; without it they are left out.
    """
    kept: list[Layer] = []
    for layer in layers:
        if layer.shown.surface is not None:
            values = surface(layer) if surface is not None else None
            shown = None if values is None else with_values(with_surface_values(layer, values), values)
        else:
            values = particles(layer)
            shown = None if values is None else with_values(layer, values)
        if shown is not None:
            kept.append(shown)
    stand = [replace(solid.as_occluder(), values=points(solid)) for solid in solids]
    return render(kept, viewpoint, width, height, [each for each in stand if each.values is not None], None, region)


def depth(
    layers: Sequence[Layer],
    solids: Sequence[Solid],
    viewpoint: Viewpoint,
    width: int,
    height: int,
    region: Region = None,
) -> np.ndarray:
    """Return the distance along the view, metres, (rows, columns); infinite where nothing is."""
    back = viewpoint.axes()[2]

    def away(places: np.ndarray) -> np.ndarray:
        far = -((places.astype(np.float64) - np.asarray(viewpoint.position)) @ back)
        return np.repeat(far[:, None], 3, axis=1)

    drawn = nearest_values(
        layers,
        solids,
        viewpoint,
        width,
        height,
        region,
        lambda layer: away(layer.positions()),
        lambda solid: away(solid.points),
        lambda layer: away(_surface(layer).points),
    )
    return np.where(drawn[..., 3] > 0.5, drawn[..., 0], np.inf).astype(F32)


def velocity(
    layers: Sequence[Layer],
    solids: Sequence[Solid],
    later: Sequence[Solid],
    before: Viewpoint,
    after: Viewpoint,
    viewpoint: Viewpoint,
    step: float,
    width: int,
    height: int,
    region: Region = None,
) -> np.ndarray:
    """Return the motion in pixels a frame to the right and down, (rows, columns, 2), of particles, props and the camera
    about the frame.

    solids, later: the props half a frame before and after, in the same order. before, after: the viewpoints then. step:
    seconds a frame.
    """

    def motion(one: np.ndarray, other: np.ndarray) -> np.ndarray:
        (x0, y0, *_), (x1, y1, *_) = before.project(one, width, height), after.project(other, width, height)
        return np.stack([x1 - x0, y1 - y0, np.zeros_like(x0)], axis=1)

    def of(places: np.ndarray, moves: np.ndarray) -> np.ndarray:
        half = moves.astype(np.float64) * step / 2
        return motion(places - half, places + half)

    there = {solid.uid: (one, other) for solid, one, other in zip(solids, solids, later, strict=True)}
    middle = [replace(one, points=(one.points + other.points) / 2) for one, other in there.values()]
    drawn = nearest_values(
        layers,
        middle,
        viewpoint,
        width,
        height,
        region,
        lambda layer: of(_places(layer), layer.shown.velocities()),
        lambda solid: motion(there[solid.uid][0].points, there[solid.uid][1].points),
        lambda layer: of(_surface(layer).points, _surface(layer).velocity),
    )
    return np.where(drawn[..., 3:] > 0.5, drawn[..., :2], 0).astype(F32)


def normal(
    layers: Sequence[Layer],
    solids: Sequence[Solid],
    viewpoint: Viewpoint,
    width: int,
    height: int,
    region: Region = None,
) -> np.ndarray:
    """Return unit normals towards right, up and the camera, (rows, columns, 3); (0, 0, 1) for what faces the camera,
    zero where nothing is. Computed from light from three directions, whose cosines are the components, and from the
    opposite three."""
    axes, sides = viewpoint.axes(), []
    for sign in (1.0, -1.0):
        rows = np.zeros((4, LIGHT))
        rows[:3, WHAT], rows[3, WHAT], rows[:, MAP] = SUN, AROUND, -1
        for k in range(3):
            rows[k, :3], rows[k, COLOUR + k] = axes[k] * sign, 1.0
        lit = [lit_in_white(layer) for layer in layers if layer.shown.volume is None]
        white = [solid.plain(np.ones(3), lit=True) for solid in solids if solid.hides]
        sides.append(render(lit, viewpoint, width, height, white, None, region, Lighting(rows)))
    there = np.maximum(sides[0][..., 3], sides[1][..., 3])
    normals = sides[0][..., :3] - sides[1][..., :3]
    long = np.linalg.norm(normals, axis=2, keepdims=True)
    facing = np.zeros_like(normals)
    facing[..., 2] = 1
    normals = np.where(long > 1e-4, normals / np.maximum(long, 1e-9), facing)
    return np.where(there[..., None] > 0.1, normals, 0).astype(F32)


def lit_in_white(layer: Layer) -> Layer:
    """Return a layer in white: bodies and surfaces lit, everything else black, since it faces the camera."""
    drawing = layer.shown.look.drawing
    if layer.forms is not None:
        white = np.ones((len(layer), 3), F32)
        look = replace(
            layer.shown.look, drawing={**drawing, "lit": True, "gloss": 0.0, "drawn_with": "plain", "blend": "over"}
        )
        return with_columns(replace(layer, sheets=None, shown=replace(layer.shown, look=look)), {"colour": white})
    if layer.shown.surface is not None:
        look = replace(layer.shown.look, drawing={**drawing, "lit": True, "gloss": 0.0, "blend": "over"})
        return with_surface_values(
            replace(layer, shown=replace(layer.shown, look=look)), np.ones((len(_surface(layer).points), 3))
        )
    return as_occluder(layer)


def attribute(
    layers: Sequence[Layer],
    solids: Sequence[Solid],
    viewpoint: Viewpoint,
    width: int,
    height: int,
    values: OfParticles,
    region: Region = None,
) -> np.ndarray:
    """Return a particle attribute, (rows, columns); zero for props and where nothing is. values: gives a layer's
    values, (n,), or None."""

    def three(layer: Layer) -> np.ndarray | None:
        found = values(layer)
        return None if found is None else np.repeat(np.asarray(found, F32)[:, None], 3, axis=1)

    drawn = nearest_values(
        layers, solids, viewpoint, width, height, region, three, lambda solid: np.zeros((len(solid.points), 3))
    )
    return np.where(drawn[..., 3] > 0.5, drawn[..., 0], 0).astype(F32)


def mattes(
    groups: Sequence[tuple[str, Callable[[Layer], bool], Callable[[Solid], bool]]],
    layers: Sequence[Layer],
    solids: Sequence[Solid],
    viewpoint: Viewpoint,
    width: int,
    height: int,
    region: Region = None,
) -> tuple[np.ndarray, dict[str, str]]:
    """Return ID mattes, (rows, columns, 2 x RANKS) float32: hash of a name and its coverage, largest first; and the
    hashes in hexadecimal. groups: names, each with tests for its layers and props. The published open specification of
    ID mattes, version 1.2.0."""
    most: np.ndarray | None = None  # the largest coverages of each pixel, the largest first, and whose they are
    whose = np.zeros(0, np.int32)
    for at in range(0, len(groups), 3):  # three at once: red, green and blue
        here = groups[at : at + 3]

        def share(matches: list[bool]) -> np.ndarray:
            return np.array([1.0 if each else 0.0 for each in matches] + [0.0] * (3 - len(matches)))

        shown = []
        for layer in layers:
            tint = share([of_layer(layer) for _, of_layer, _ in here])
            shown.append(coverage_layer(layer, tint))
        stand = [solid.plain(share([of_solid(solid) for *_, of_solid in here]), lit=False) for solid in solids]
        picture = render(shown, viewpoint, width, height, stand, None, region)
        if most is None:
            most, whose = np.zeros((RANKS, *picture.shape[:2]), F32), np.zeros((RANKS, *picture.shape[:2]), np.int32)
        for k in range(len(here)):
            _insert_coverage(most, whose, np.clip(picture[..., k], 0, 1), at + k)
    hashes = [name_to_float(name) for name, *_ in groups]
    if most is None:
        most = np.zeros((RANKS, height, width), F32)
    out = np.zeros((*most.shape[1:], 2 * RANKS), F32)
    values = np.array([value for value, _ in hashes], F32)
    for rank in range(min(RANKS, len(groups))):
        out[..., 2 * rank] = np.where(most[rank] > 1e-4, values[whose[rank]], 0)
        out[..., 2 * rank + 1] = np.where(most[rank] > 1e-4, most[rank], 0)
    return out, {name: f"{bits:08x}" for (name, *_), (_, bits) in zip(groups, hashes, strict=True)}


def _insert_coverage(most: np.ndarray, whose: np.ndarray, cover: np.ndarray, which: int) -> None:
    """Insert a coverage, (rows, columns), into the sorted largest ones of each pixel, behind equal ones; the smallest
    is dropped."""
    before, of, more = cover, np.full(cover.shape, which, np.int32), np.zeros(cover.shape, bool)
    for rank in range(len(most)):
        more |= cover > most[rank]  # from where it belongs on, each moves down by one
        most[rank], before = np.where(more, before, most[rank]), np.where(more, most[rank], before)
        whose[rank], of = np.where(more, of, whose[rank]), np.where(more, whose[rank], of)


def coverage_layer(layer: Layer, tint: np.ndarray = WHITE) -> Layer:
    """Return a layer that gives one colour of light by its coverage, whatever it is painted with; additive light covers
    as its opacity says."""
    shown = layer.shown
    if shown.surface is not None:
        dark = as_occluder(replace(layer, sheets=None))
        return with_surface_values(dark, np.broadcast_to(tint, (len(_surface(layer).points), 3)))
    if shown.volume is not None:
        grid = shown.volume.grid.copy()
        grid[..., :3] = grid[..., 3:] * tint.astype(F32)
        return replace(layer, shown=replace(shown, volume=replace(shown.volume, grid=grid, adding=False)))
    plain = replace(shown.look, drawing={**shown.look.drawing, "lit": False, "blend": "over", "gloss": 0.0})
    names = {column.name for column in shown.look.columns}
    columns = {
        name: np.broadcast_to(tint.astype(F32), (len(layer), 3)).copy() for name in names & {"colour", "dark", "bright"}
    }
    columns["cover"] = np.ones(len(layer), F32)
    if "toned" in names:
        columns["toned"] = np.ones(len(layer), F32)
    return with_columns(replace(layer, shown=replace(shown, look=plain)), columns)


def _places(layer: Layer) -> np.ndarray:
    """Return the positions of a layer's particles, (n, 3); for lines, that of each point's particle."""
    return layer.shown.positions()


def _surface(layer: Layer) -> Surface:
    assert layer.shown.surface is not None
    return layer.shown.surface
