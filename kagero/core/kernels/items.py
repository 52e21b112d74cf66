"""What is painted of particles, as arrays: items with traits, each drawn by a row of the table of looks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .compositing import COVERS
from .sheets import END

F32 = np.float32
DISC, PICTURE, PIECE, BODY = 0, 1, 2, 3
MIN_HALF_WIDTH = 0.75  # pixels: nothing is drawn thinner than twice this; it is as much fainter
# traits of an item: how much it hides of its opacity, over how many metres it fades into what it cuts, and what its
# kind needs
COVER = 0
SOFT = 1
HARD = 2
PAGE = 2
TILES = 3
OFFSET = 5
TURNED = 7
CUT = 8
RIM_COLOUR = 11
MIX = 14
TONED = 15
DARK = 16
BRIGHT = 19
LAID = 22
TRAITS = 28
SPREAD = (
    0.0,
    0.5,
    0.0,
    0.0,
    0.0,
    0.5,
)  # LAID of a picture that lies on its item: where (a, b) is from its middle, across and up, in shares of it
# of a piece of a line, in place of what pictures need: half of the band's width at its far end, as a vector; colour and
# opacity there; where the
# picture lies at both ends; half of the width at both, pixels; how far away its far end is, metres; whether it is the
# first or last of its line
WIDE, LIGHT, LIES, HALVES, AWAY, ENDS = 3, 5, 9, 11, 13, 14
FIRST_PIECE, LAST_PIECE = 1, 2
# columns of the table of looks: `Sheets` by number, -1 for none
# and of bodies: from which item on these are, whether they are lit, whether back faces are left out, how much they
# gleam, in thousandths
KIND, BLEND, SHEET, MOTION, CUTTER, MIXED, PAGES, FIRST, LAST, REPEATS, EDGES, SINCE, LIT, CULLED, GLOSS, COLUMNS = (
    range(16)
)


@dataclass(frozen=True)
class Items:
    """Items to paint, in no order.

    place: x and y in pixels and depth in metres, (n, 3). axes: half of its width to its right and half of its height
    upward, pixels, (n, 4); of a line's segment the vector to its far end and half of its width. light: linear colour
    and opacity, (n, 4). traits: (n, TRAITS). look: its row of `looks`, (n,) int32. looks: (L, COLUMNS) int32. reach:
    (L,), displacement at full motion, as a share of a page's width.
    """

    place: np.ndarray
    axes: np.ndarray
    light: np.ndarray
    traits: np.ndarray
    look: np.ndarray
    looks: np.ndarray
    reach: np.ndarray


def blank_items(n: int, kind: int = DISC) -> Items:
    """Return n items of one look; everything is zero except full coverage."""
    looks = np.full((1, COLUMNS), -1, np.int32)
    looks[0, : EDGES + 1] = (kind, COVERS, -1, -1, -1, -1, 1, 0, 0, 0, END)
    traits = np.zeros((n, TRAITS), F32)
    traits[:, COVER] = 1
    traits[:, LAID:] = SPREAD
    return Items(
        np.zeros((n, 3), F32),
        np.zeros((n, 4), F32),
        np.zeros((n, 4), F32),
        traits,
        np.zeros(n, np.int32),
        looks,
        np.zeros(1, F32),
    )
