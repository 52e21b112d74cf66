"""Glow: Gaussian blurs of bright light, added back.

All blurs at once in the frequency domain: a Gaussian of standard deviation s is exp(-2 pi² s² f²) at frequency f
(cycles a pixel), along both axes; the picture is padded with zeros, so that no light wraps around. Wide blurs are
computed on a downsampled picture and upsampled linearly; the variance that both add is subtracted.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import scipy

from ..kernels.drawing import paint_in_bands
from ..kernels.finishing import add_enlarged, shrink_bright
from .shot import RowValues, Shot

F32 = np.float32
FINE = 4.0  # standard deviations, in pixels put together, down to which the narrowest blur may go
FAR = 3.5  # standard deviations of the widest blur, beyond which its light is left out of regions


def widths(own: RowValues, part: Any, shot: Shot) -> list[tuple[float, float]]:
    """Return each blur's standard deviation, pixels, and its share."""
    first, wider, fainter = (own.number(name) for name in ("width", "wider", "fainter"))
    strength = own.number("strength")
    return [(first * wider**k * shot.scale, strength * fainter**k) for k in range(part.blurs)]


def reach(own: RowValues, part: Any, shot: Shot) -> int:
    most = max(shot.width, shot.height)
    return min(
        math.ceil(FAR * max((width for width, share in widths(own, part, shot) if share > 0), default=0.0)), most
    )


def finished(light: np.ndarray, own: RowValues, part: Any, shot: Shot) -> np.ndarray:
    blurs = [(width, share) for width, share in widths(own, part, shot) if share > 0]
    if not blurs:
        return light
    threshold = max(own.number("threshold"), 0.0)
    knee = min(max(own.number("knee"), 1e-6), max(threshold, 1e-6))
    k = 2 ** max(math.floor(math.log2(max(min(sigma for sigma, _ in blurs) / FINE, 1e-9))), 0)
    # put together as they are of the whole picture, and one more on all sides to lie between
    left = shot.left % k + k
    top = shot.top % k + k
    light = np.ascontiguousarray(light, F32)
    height, width = light.shape[:2]
    small = np.empty((-(-(height + top) // k) + 1, -(-(width + left) // k) + 1, 3), F32)
    paint_in_bands(
        lambda first, last: _shrink(light, small, k, left, top, threshold, knee, first, last), len(small), True
    )
    spread = blurred(small, [(_sigma_at_scale(sigma, k), share) for sigma, share in blurs])
    image, tint = light.copy(), np.ascontiguousarray(own.colour("tint"), F32)
    paint_in_bands(lambda first, last: _lay(image, spread, k, left, top, tint, first, last), height, True)
    return image


_shrink: Any = shrink_bright
_lay: Any = add_enlarged


def _sigma_at_scale(sigma: float, k: int) -> float:
    """Return a blur's standard deviation in pixels k times as large, without what down- and upsampling add."""
    t = np.modf((np.arange(k) + 0.5) / k + 0.5)[0]
    together, between = (k * k - 1) / 12, k * k * float(np.mean(t * (1 - t)))
    return math.sqrt(max(sigma * sigma - together - between, 0.0)) / k


def blurred(source: np.ndarray, blurs: list[tuple[float, float]]) -> np.ndarray:
    """Return the weighted sum of Gaussian blurs of pictures (H, W, C), by standard deviation in pixels and share; zero
    outside."""
    height, width = source.shape[:2]
    pad = math.ceil(4.0 * max(sigma for sigma, _ in blurs))
    tall, wide = (scipy.fft.next_fast_len(side + min(pad, 3 * side), real=True) for side in (height, width))
    y, x = scipy.fft.fftfreq(tall), scipy.fft.rfftfreq(wide)
    transfer = sum(
        share
        * np.exp(-2 * (math.pi * sigma) ** 2 * y * y)[:, None]
        * np.exp(-2 * (math.pi * sigma) ** 2 * x * x)[None, :]
        for sigma, share in blurs
    )
    weight = np.asarray(transfer, F32)
    blurred_rows = np.empty_like(source, F32)
    for c in range(source.shape[2]):
        seen = scipy.fft.rfft2(source[..., c].astype(F32), (tall, wide), workers=2)
        seen *= weight
        blurred_rows[..., c] = scipy.fft.irfft2(seen, (tall, wide), workers=2)[:height, :width]
    return blurred_rows


def stage_uniforms(own: RowValues, part: Any, shot: Shot) -> dict[str, Any]:
    return {
        "blurs": [list(blur) for blur in widths(own, part, shot)],
        "threshold": own.number("threshold"),
        "knee": min(max(own.number("knee"), 1e-6), max(own.number("threshold"), 1e-6)),
        "tint": own.colour("tint").tolist(),
    }
