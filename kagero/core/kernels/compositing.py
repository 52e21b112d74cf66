"""Compositing of light and coverage onto a pixel (Porter and Duff, SIGGRAPH 1984; screen and multiply: W3C Compositing
and Blending Level 1)."""

from __future__ import annotations

import numpy as np

from .compiled import kernel

F32 = np.float32
COVERS, SCREENS, MULTIPLIES, TELLS = 0, 1, 2, 3
MIN_VALUE_COVERAGE = np.float32(0.1)  # how much of a pixel something has to cover to be told there
FAST = {"contract", "arcp", "nsz"}


@kernel(fastmath=FAST, error_model="numpy", _nrt=False)
def blend_pixel(picture, y, x, red, green, blue, c, cover, blend):
    """Blend light and coverage c onto a pixel.

    cover: the share of c that hides what lies behind. blend: one of the blending codes; TELLS replaces the pixel by the
    values, unblended, where coverage is high enough: for passes that carry data instead of light.
    """
    if blend == COVERS:
        hides = c * cover
        keep = F32(1) - hides
        picture[y, x, 0] = red + picture[y, x, 0] * keep
        picture[y, x, 1] = green + picture[y, x, 1] * keep
        picture[y, x, 2] = blue + picture[y, x, 2] * keep
        picture[y, x, 3] = hides + picture[y, x, 3] * keep
    elif blend == SCREENS:
        picture[y, x, 0] = red + picture[y, x, 0] * (F32(1) - min(red, F32(1)))
        picture[y, x, 1] = green + picture[y, x, 1] * (F32(1) - min(green, F32(1)))
        picture[y, x, 2] = blue + picture[y, x, 2] * (F32(1) - min(blue, F32(1)))
    elif blend == TELLS:
        if c >= MIN_VALUE_COVERAGE:
            picture[y, x, 0], picture[y, x, 1], picture[y, x, 2], picture[y, x, 3] = (
                red / c,
                green / c,
                blue / c,
                F32(1),
            )
    else:
        picture[y, x, 0] *= F32(1) - c + red
        picture[y, x, 1] *= F32(1) - c + green
        picture[y, x, 2] *= F32(1) - c + blue
