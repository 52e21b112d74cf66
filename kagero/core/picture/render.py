"""The software renderer: props, and particles as their looks draw them, seen by a pinhole camera and blended in linear
light."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..errors import BudgetError
from ..kernels.drawing import NO_BODY_TRIANGLES, paint, paint_bodies, paint_in_bands, triangles_of_bodies
from ..kernels.raster import nothing_near, paint_triangles, paint_values
from ..kernels.shading import MAP, Lights
from . import blob, haze
from . import picture as pictures
from .columns import lit_layer
from .cutting import in_front
from .fog import Air
from .items import bodies_of, items_of
from .layers import Layer
from .lights import Lighting
from .solid import Solid, matte
from .viewpoint import NEAR, Viewpoint

MAX_PIXELS, MAX_SIDE = 3840 * 2160, 8192


def check_size(width: int, height: int) -> None:
    """Raise BudgetError for picture sizes that cannot be rendered."""
    if not (1 <= width <= MAX_SIDE and 1 <= height <= MAX_SIDE and width * height <= MAX_PIXELS):
        raise BudgetError(
            f"A picture of {width} x {height} pixels cannot be rendered.",
            where="size",
            remedy=f"Choose 1 to {MAX_SIDE:,} pixels a side, and at most {MAX_PIXELS:,} in all.",
        )


_paint_values: Any = paint_values


@dataclass(frozen=True)
class Window:
    """The visible part of a picture of width x height pixels: its columns and rows from left and top on."""

    width: int
    height: int
    left: int = 0
    top: int = 0
    columns: int = 0
    rows: int = 0

    def project(self, viewpoint: Viewpoint, points: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, float]:
        """As `Viewpoint.project`, in pixels of the window."""
        x, y, depth, focal = viewpoint.project(points, self.width, self.height)
        return x - self.left, y - self.top, depth, focal


def _paint(
    solid: Solid, viewpoint: Viewpoint, window: Window, picture: np.ndarray, depth: np.ndarray, lamps: Lights
) -> None:
    if solid.catches:
        return _receive_shadows(solid, viewpoint, window, picture, depth, lamps)
    reach = float(np.linalg.norm(np.ptp(solid.local, axis=0))) / 2 if len(solid.local) else 1.0
    solid = in_front(solid, window.project(viewpoint, solid.points)[2], NEAR)
    x, y, away, _ = window.project(viewpoint, solid.points)
    axes = viewpoint.axes()
    normals, views = solid.normals @ axes.T, (np.asarray(viewpoint.position, np.float64) - solid.points) @ axes.T
    surface = solid.surface or matte(len(solid.faces))
    laid = np.column_stack([solid.uv, np.ones(len(solid.uv))]).astype(np.float64) if solid.laid is None else solid.laid
    shown = (
        picture,
        depth,
        x,
        y,
        away,
        solid.faces,
        normals,
        views,
        solid.uv.astype(np.float64),
        solid.local.astype(np.float64),
        solid.gone.astype(np.float64),
        solid.colour.astype(np.float64),
        np.ascontiguousarray(solid.texture, np.float32),
        solid.pictured,
        solid.alpha,
        90 / max(reach, 1e-6),
        solid.by_uv,
        solid.lit and solid.shines,
        solid.hides,
        lamps,
        laid,
        solid.laid is not None,
        surface.numbers,
        surface.rough,
        surface.glow,
        surface.mapped,
    )
    paint_in_bands(lambda first, last: paint_triangles(*shown, first, last), picture.shape[0], True)
    if solid.values is not None and solid.hides:
        at: Any = [np.ascontiguousarray(each, np.float64) for each in (x, y, away)]
        _paint_values(
            picture,
            depth,
            *at,
            np.ascontiguousarray(solid.faces, np.int32),
            np.ascontiguousarray(solid.values, np.float64),
        )


def _receive_shadows(
    solid: Solid, viewpoint: Viewpoint, window: Window, picture: np.ndarray, depth: np.ndarray, lamps: Lights
) -> None:
    """Darken what is behind a shadow-catching prop by the light that shadows take from the prop."""
    white = replace(solid.plain(np.ones(3), lit=True), catches=False)
    shaded, free = np.zeros_like(picture), np.zeros_like(picture)
    there = depth.copy()
    rows = lamps[0].copy()
    rows[:, MAP] = -1
    _paint(white, viewpoint, window, free, there, (rows, lamps[1], lamps[2]))
    _paint(white, viewpoint, window, shaded, depth, lamps)
    here = shaded[..., 3] > 0
    dark = 1 - np.clip(shaded[here, :3].sum(axis=1) / np.maximum(free[here, :3].sum(axis=1), 1e-6), 0, 1)
    picture[here, :3] *= (1 - dark)[:, None]
    picture[here, 3] = dark + picture[here, 3] * (1 - dark)


def _occluder_distances(
    solids: Sequence[Solid],
    surfaces: Sequence[Layer],
    viewpoint: Viewpoint,
    window: Window,
    view: tuple[float, float, float],
    lamps: Lights,
) -> np.ndarray | None:
    """Return the distances of what occludes without giving light, metres; None without any."""
    black = [solid for solid in solids if not solid.shines and solid.hides]
    plain = [layer for layer in surfaces if not layer.shines]
    if not black and not plain:
        return None
    scratch, depth = np.zeros((window.rows, window.columns, 4), np.float32), nothing_near(window.rows, window.columns)
    for solid in black:
        _paint(solid, viewpoint, window, scratch, depth, lamps)
    for layer in plain:
        blob.paint(layer, scratch, depth, viewpoint, np.array(view, np.float64), lamps)
    return depth


RANKS = {"behind": 0, "depth": 1, "before": 2}


def drawing_order(
    layers: Sequence[Layer], depth: np.ndarray, of: np.ndarray | None = None, further: np.ndarray | None = None
) -> np.ndarray:
    """Return the order in which particles are painted, concatenated layer by layer.

    First those always behind, then by distance, then those always in front. The further come first; in layers in order
    of birth the older come first, all at the distance of their middle. of, further: triangles of bodies that are
    ordered too, with the number of their particle (counted behind all particles) and their distance.
    """
    rank, away, age = np.empty(len(depth)), depth.astype(np.float64), np.zeros(len(depth))
    at = 0
    for layer in layers:
        here = slice(at, at + len(layer))
        at = here.stop
        drawing = layer.shown.look.drawing
        rank[here] = RANKS[drawing["stands"]]
        if drawing["order"] == "birth":
            away[here] = depth[here].mean()
            age[here] = layer.age()
    if of is None or further is None:
        return np.lexsort((-age, -away, rank))
    together = np.concatenate([np.full(len(layer), layer.shown.look.drawing["order"] == "birth") for layer in layers])[
        of
    ]
    all_away = np.concatenate([away, np.where(together, away[of], further)])
    return np.lexsort(
        (-np.concatenate([depth, further]), -np.append(age, age[of]), -all_away, np.append(rank, rank[of]))
    )


def _projected_halves(layers: Sequence[Layer], places: np.ndarray, viewpoint: Viewpoint, window: Window) -> np.ndarray:
    """Return half of the projected width and height of things fixed in space, pixels, (n, 4); of bands the width; zero
    for all else."""
    across = np.zeros((len(places), 4))
    at = 0
    for layer in layers:
        here, strands = slice(at, at + len(layer)), layer.shown.strands
        at = here.stop
        if strands is not None and strands.across is not None:
            half = strands.across * (layer.column("size") / 2)[:, None]
            (x0, y0, *_), (x1, y1, *_) = (window.project(viewpoint, places[here] + side * half) for side in (-1, 1))
            across[here, :2] = np.stack([x1 - x0, y1 - y0], axis=1) / 2
        elif "turn" in layer.shown.look.given and layer.sheets is not None:
            for k, axis in enumerate(pictures.half_axes(layer, viewpoint.axes()[:2])):
                (x0, y0, *_), (x1, y1, *_) = (window.project(viewpoint, places[here] + side * axis) for side in (-1, 1))
                across[here, 2 * k : 2 * k + 2] = np.stack([x1 - x0, y1 - y0], axis=1) / 2
    return across


def render(
    layers: Sequence[Layer],
    viewpoint: Viewpoint,
    width: int,
    height: int,
    solids: Sequence[Solid] = (),
    ground: Sequence[float] | np.ndarray | None = None,
    region: tuple[int, int, int, int] | None = None,
    lamps: Lighting | np.ndarray | None = None,
    air: Air | None = None,
) -> np.ndarray:
    """Return a picture, (height, width, 4) float32: linear light, premultiplied by alpha, transparent where nothing is.

    layers: the particles of each look, painted from back to front over the solids, but not where one stands before
    them. ground: light behind everything, a colour or one for each visible pixel, (rows, columns, 3); screened and
    multiplied layers need one. It is included in the picture, and alpha says what covers it. region: only these columns
    and rows, (left, top, columns, rows). lamps: lights with shadows, or lamps alone, (L, 7): position in metres, linear
    colour, reach in metres. air: fog. Raises BudgetError by `check_size`.
    """
    check_size(width, height)
    window = Window(width, height, *(region or (0, 0, width, height)))
    picture = np.zeros((window.rows, window.columns, 4), np.float32)
    if ground is not None:
        picture[..., :3] = np.asarray(ground, np.float32)
    surfaces = [layer for layer in layers if layer.shown.surface is not None]
    volumes = [layer for layer in layers if layer.shown.volume is not None]
    layers = [layer for layer in layers if len(layer) and layer.shown.surface is None and layer.shown.volume is None]
    pixels, across, down = viewpoint.middle(width, height)
    view = (pixels, across - window.left, down - window.top)
    lighting = lamps if isinstance(lamps, Lighting) else Lighting.of_lamps(lamps)
    seen_lamps = lighting.seen(viewpoint)
    bodies, hiding, others = bodies_of(layers, viewpoint, view, seen_lamps)
    nearest = nothing_near(window.rows, window.columns) if solids or surfaces or len(hiding) else None
    layers = [lit_layer(layer, viewpoint, seen_lamps) for layer in layers]
    if air is not None:
        layers = [air.dim_layer(layer, viewpoint) for layer in layers]
        volumes = [air.dim_layer(layer, viewpoint) for layer in volumes]
    for solid in sorted(
        solids, key=lambda each: each.alpha < 1 or not each.hides or each.catches
    ):  # those that hide first
        assert nearest is not None
        _paint(solid, viewpoint, window, picture, nearest, seen_lamps)

    def wholes() -> None:
        """Paint what particles form together: surfaces, and haze."""
        for layer in surfaces:
            assert nearest is not None
            blob.paint(layer, picture, nearest, viewpoint, np.array(view, np.float64), seen_lamps)
        if air is not None and nearest is not None:
            air.before(picture, nearest, _occluder_distances(solids, surfaces, viewpoint, window, view, seen_lamps))
        for layer in volumes:
            haze.paint(layer, picture, nearest, viewpoint, np.array(view, np.float64))

    if not layers:
        wholes()
        return picture
    places = np.concatenate([layer.positions() for layer in layers])
    x, y, depth, focal = window.project(viewpoint, places)
    scale = focal / np.maximum(depth, NEAR)
    items, sheets = items_of(
        layers, x, y, depth, scale, _projected_halves(layers, places, viewpoint, window), viewpoint.axes()[:2]
    )
    middle, seen = depth.copy(), depth > NEAR
    at = 0
    for layer in layers:  # a piece of a line stands where its middle is
        here, strands = slice(at, at + len(layer)), layer.shown.strands
        at = here.stop
        if strands is not None:
            ends = np.append(depth[here][1:], 0)
            middle[here] = np.where(strands.joined, (depth[here] + ends) / 2, depth[here])
            seen[here] &= ~strands.joined | (ends > NEAR)
    if nearest is not None and len(hiding):
        paint_bodies(picture, nearest, items, hiding, bodies, sheets)
    wholes()
    triangles = triangles_of_bodies(items, others, bodies) if len(others) else NO_BODY_TRIANGLES
    if len(triangles.item):
        order = drawing_order(layers, middle, triangles.item, triangles.seen[:, 0])
        seen = np.append(seen, np.isfinite(triangles.seen[:, 0]))
    else:
        order = drawing_order(layers, middle)
    paint(picture, items, order[seen[order]], sheets, nearest, bodies, triangles)
    return picture
