"""Layers of particles as items to paint: position in the picture, size, light, and the row of the table of looks."""

from __future__ import annotations

from collections.abc import Sequence
from types import ModuleType

import numpy as np

from ..geometry.forms import Forms
from ..geometry.sheet import LEVELS, Sheet
from ..kernels.bodies import NO_BODIES, Bodies
from ..kernels.compositing import COVERS, MULTIPLIES, SCREENS, TELLS
from ..kernels.items import (
    BLEND,
    BODY,
    COLUMNS,
    COVER,
    CULLED,
    DISC,
    EDGES,
    FIRST,
    GLOSS,
    HARD,
    KIND,
    LAID,
    LAST,
    LIT,
    MIN_HALF_WIDTH,
    PAGES,
    PICTURE,
    PIECE,
    REPEATS,
    SHEET,
    SINCE,
    SOFT,
    SPREAD,
    TILES,
    TRAITS,
    Items,
)
from ..kernels.shading import NO_LAMPS, Lights
from ..kernels.sheets import END, HOLD, MIRROR, REPEAT, Sheets
from ..memory import PROCESS
from ..parts.looks import LOOKS
from . import picture as pictures
from . import piece, soft_disc, stand_in, strand
from .layers import Layer
from .viewpoint import Viewpoint

F32 = np.float32
EDGE = {"end": END, "hold": HOLD, "repeat": REPEAT, "mirror": MIRROR}
_joined = PROCESS.region("sheets as one", 0.6)


def drawn_by(layer: Layer) -> ModuleType:
    """Return the module that draws a layer: its look's, or the stand-in where its resources are missing."""
    if layer.shown.strands is not None:
        return strand
    drawing = layer.shown.look.drawing
    kind = LOOKS.kinds[drawing["sprite"]]
    pictured = "sheets" in kind.resources or drawing.get("drawn_with") == "picture"
    lacks = (
        kind.strands
        or kind.surfaces
        or (pictured and layer.sheets is None)
        or ("forms" in kind.resources and layer.forms is None)
    )
    return stand_in if lacks else LOOKS.namesake(drawing["sprite"], __package__ or "")


for _sprite, _kind in LOOKS.kinds.items():  # a look that lacks its module fails at once
    if not (_kind.strands or _kind.surfaces):
        LOOKS.namesake(_sprite, __package__ or "")


def items_of(
    layers: Sequence[Layer],
    x: np.ndarray,
    y: np.ndarray,
    away: np.ndarray,
    scale: np.ndarray,
    bands: np.ndarray | None = None,
    eye: np.ndarray | None = None,
) -> tuple[Items, Sheets]:
    """Return the items of all layers' particles, concatenated, and their sheets.

    x, y: pixels; away: metres; scale: pixels a metre there; each (n,). bands: for items fixed in space, half of their
    projected width and height, pixels, (n, 4). eye: the camera's right and up, (2, 3).
    """
    n = len(x)
    axes, light, traits = np.empty((n, 4), F32), np.empty((n, 4), F32), np.zeros((n, TRAITS), F32)
    traits[:, TILES : TILES + 2] = 1
    which = np.empty(n, np.int32)
    looks = np.full((max(len(layers), 1), COLUMNS), -1, np.int32)
    reach = np.zeros(max(len(layers), 1), F32)
    sheets: list[Sheet] = []
    at = bodies = 0
    for number, layer in enumerate(layers):
        here = slice(at, at + len(layer))
        at = here.stop
        column, module = layer.column, drawn_by(layer)
        which[here] = number
        looks[number] = _table(layer, module, sheets, here.start - bodies)
        bodies += len(layer) if module is piece else 0
        traits[here, COVER], traits[here, SOFT] = column("cover"), column("soft")
        if module is strand:
            flat = None if bands is None else bands[here, :2]
            strand.pieces(layer, x[here], y[here], away[here], scale[here], flat, axes[here], light[here], traits[here])
            continue
        if module is piece:
            axes[here] = 0
            light[here, :3], light[here, 3] = column("colour"), np.where(column("size") > 0, column("opacity"), 0)
            traits[here, LAID:] = SPREAD
            module.traits(layer, traits[here])
            if layer.sheets is not None:
                reach[number] = layer.sheets.reach
            continue
        along, across = (side * scale[here] for side in module.half_sizes(layer))
        turn = column("rotation")
        module.traits(layer, traits[here])
        if module.KIND == DISC:
            along, across, traits[here, HARD], fainter = soft_disc.antialiased(
                along, across, traits[here, HARD].astype(np.float64)
            )
        else:
            fainter = np.minimum(along / MIN_HALF_WIDTH, 1) * np.minimum(across / MIN_HALF_WIDTH, 1)
            along, across = np.maximum(along, MIN_HALF_WIDTH), np.maximum(across, MIN_HALF_WIDTH)
        cosine, sine = np.cos(turn), np.sin(turn)
        axes[here] = np.stack([along * cosine, -along * sine, -across * sine, -across * cosine], axis=1)
        if module is pictures and bands is not None and "turn" in layer.shown.look.given:
            axes[here], fainter = pictures.projected_halves(bands[here])
        light[here, :3], light[here, 3] = column("colour"), column("opacity") * np.where(column("size") > 0, fainter, 0)
        if layer.sheets is not None:
            reach[number] = layer.sheets.reach
        if module is pictures:
            traits[here, LAID:] = pictures.placement_on_particle(layer, eye)
    place = np.stack([x, y, away], axis=1).astype(F32)
    return Items(place, axes, light, traits, which, looks, reach), joined(sheets)


def _table(layer: Layer, module: ModuleType, sheets: list[Sheet], since: int) -> np.ndarray:
    """Return a layer's row of the table of looks, and append its sheets to those there are. since: its first item, less
    the number of bodies before it."""
    row = np.full(COLUMNS, -1, np.int32)
    drawing = layer.shown.look.drawing
    row[KIND], row[BLEND] = (
        module.KIND,
        {"screen": SCREENS, "multiply": MULTIPLIES, "tell": TELLS}.get(drawing["blend"], COVERS),
    )
    if module.KIND == PIECE and layer.sheets is not None:
        row[SHEET] = len(sheets)
        sheets.append(layer.sheets.main)
        row[EDGES] = REPEAT
    if module is piece:
        row[SINCE], row[LIT], row[CULLED], row[GLOSS] = (
            since,
            drawing["lit"],
            not drawing["both"],
            round(1000 * drawing["gloss"]),
        )
    if module.KIND in (PICTURE, BODY) and layer.sheets is not None:
        for column, each in enumerate(layer.sheets.all, SHEET):
            if each is not None:
                row[column] = len(sheets)
                sheets.append(each)
        row[PAGES], row[FIRST], row[LAST] = drawing["pages"], drawing["first"], drawing["last"]
        row[REPEATS], row[EDGES] = drawing["repeats"], EDGE[drawing["edges"]]
    return row


def bodies_of(
    layers: Sequence[Layer], viewpoint: Viewpoint, window: tuple[float, float, float], lamps: Lights = NO_LAMPS
) -> tuple[Bodies, np.ndarray, np.ndarray]:
    """Return the bodies of layers, and the items of `items_of` that are opaque bodies and see-through bodies. window:
    pixels a metre at a depth of one metre, and the middle of the view in pixels."""
    stand, turn, form, ball, corners, tint, hiding, open_ = [], [], [], [], [], [], [], []
    at = triangles = 0
    for layer in layers:
        here = np.arange(at, at + len(layer))
        at += len(layer)
        if drawn_by(layer) is not piece:
            continue
        assert isinstance(layer.forms, Forms)
        which = piece.form_numbers(layer)
        a, b = piece.body_matrices(layer, viewpoint)
        stand.append(a.reshape(-1, 12))
        turn.append(b.reshape(-1, 9))
        form.append(np.stack([layer.forms.start[which], layer.forms.start[which + 1]], axis=1) + triangles)
        low, high = layer.forms.box[which, 0], layer.forms.box[which, 1]
        ball.append(np.column_stack([(low + high) / 2, np.linalg.norm(high - low, axis=1) / 2]))
        corners.append(layer.forms.corners)
        tint.append(layer.forms.tint)
        triangles += layer.forms.triangles
        seen = (layer.column("opacity") > 0) & (layer.column("size") > 0) & np.isfinite(a).all(axis=(1, 2))
        hides = piece.is_opaque(layer)
        hiding.append(here[seen & hides])
        open_.append(here[seen & ~hides])
    if not stand:
        return NO_BODIES, np.empty(0, np.int64), np.empty(0, np.int64)
    stands, turns, forms, points, tints = (
        np.ascontiguousarray(np.concatenate(parts)) for parts in (stand, turn, form, corners, tint)
    )
    bodies = Bodies(stands, turns, forms, points, tints, np.array(window, np.float64), np.concatenate(ball), lamps)
    return bodies, np.concatenate(hiding), np.concatenate(open_)


def joined(sheets: list[Sheet]) -> Sheets:
    """Return sheets concatenated as painting reads them; cached for equal sheets."""
    key = tuple(id(each) for each in sheets)
    kept = _joined.get(key)
    if kept is not None and all(a is b for a, b in zip(kept[1], sheets, strict=True)):
        return kept[0]
    info = np.zeros((max(len(sheets), 1), 4), np.int64)
    plates = np.zeros((max(len(sheets), 1), LEVELS, 4), F32)
    start = 0
    for i, each in enumerate(sheets):
        info[i] = (start, each.texels.shape[1], each.across, len(each.plates))
        plates[i, : len(each.plates)] = each.plates
        start += each.texels.shape[0] * each.texels.shape[1]
    texels = np.concatenate([each.texels.reshape(-1, 4) for each in sheets] or [np.zeros((1, 4), F32)])
    result = Sheets(texels, info, plates)
    _joined.put(key, (result, list(sheets)))
    return result
