"""Words as outlines, in the font that ships with Kagero: Zen Kaku Gothic New (SIL Open Font License 1.1)."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np

from .mesh import Mesh
from .outline import bezier, extrude, fill_rings

FONTS = Path(__file__).parent / "fonts"
WEIGHTS = {"regular": 400, "medium": 500, "bold": 700}
LINE = 1.45  # of the font's size, from one line to the next


@lru_cache(maxsize=3)
def _font(weight: str) -> Any:
    from fontTools.ttLib import TTFont  # slow to load, and only needed here

    return TTFont(FONTS / f"zen-kaku-{WEIGHTS[weight]}.woff", lazy=False)


def missing_characters(text: str, weight: str = "bold") -> str:
    """Return the characters of a text that the font does not have, each once."""
    known = _font(weight).getBestCmap()
    return "".join(dict.fromkeys(c for c in text if c not in "\n\r\t " and ord(c) not in known))


def text_mesh(text: str, height: float, depth: float = 0.0, weight: str = "bold", align: str = "middle") -> Mesh:
    """Return words as a mesh that looks along z, standing on y = 0; lines go down from there.

    height: of a capital letter, metres. align: where x = 0 is: at the left end, in the middle, at the right end.
    Characters the font does not have are left out, as wide as a space.
    """
    font = _font(weight)
    glyphs, known = font.getGlyphSet(), font.getBestCmap()
    scale = height / (font["OS/2"].sCapHeight or 0.7 * font["head"].unitsPerEm)
    space = glyphs[known[ord(" ")]].width
    polygons: list[Any] = []
    for number, line in enumerate(text.replace("\r", "").replace("\t", "    ").split("\n")):
        widths = [glyphs[known[ord(c)]].width if ord(c) in known else space for c in line]
        x = {"left": 0.0, "middle": -sum(widths) / 2, "right": -float(sum(widths))}[align]
        y = -number * LINE * font["head"].unitsPerEm
        for character, width in zip(line, widths, strict=True):
            if ord(character) in known:
                rings = [(ring + np.array([x, y])) * scale for ring in _rings(glyphs, known[ord(character)])]
                polygons += fill_rings(rings)
            x += width
    return extrude(polygons, depth)


def _rings(glyphs: Any, name: str) -> list[np.ndarray]:
    from fontTools.pens.recordingPen import DecomposingRecordingPen

    pen = DecomposingRecordingPen(glyphs)
    glyphs[name].draw(pen)
    rings: list[np.ndarray] = []
    here: list[np.ndarray] = []
    for step, args in pen.value:
        if step == "moveTo":
            here = [np.array([args[0]], float)]
        elif step == "lineTo":
            here.append(np.array([args[0]], float))
        elif step == "curveTo":
            here.append(bezier([tuple(here[-1][-1]), *args]))
        elif step == "qCurveTo":
            *offs, end = args
            for i, off in enumerate(offs):  # on-curve points between two off-curve ones are implied
                to = end if i + 1 == len(offs) else tuple((np.array(off) + np.array(offs[i + 1])) / 2)
                here.append(bezier([tuple(here[-1][-1]), off, to]))
            if not offs:
                here.append(np.array([end], float))
        elif step in ("closePath", "endPath") and here:
            rings.append(np.concatenate(here))
            here = []
    return rings
