"""Glow: Gaussian blurs of what is bright, added back.

All blurs at once by their transfer functions: a Gaussian of standard deviation s is exp(-2 pi² s² f²) at frequency f (cycles a pixel), of both
directions one after the other; the picture is padded with nothing, so that no light comes round from the other side.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from scipy import fft

from .shot import Own, Shot

F32 = np.float32
FAR = 3.5  # standard deviations of the widest blur, beyond which its light is left out of regions


def widths(own: Own, part: Any, shot: Shot) -> list[tuple[float, float]]:
    """Return the standard deviation of each blur, pixels, and how much of it is added."""
    first, wider, fainter = (own.number(name) for name in ("width", "wider", "fainter"))
    strength = own.number("strength")
    return [(first * wider**k * shot.scale, strength * fainter**k) for k in range(part.blurs)]


def reach(own: Own, part: Any, shot: Shot) -> int:
    most = max(shot.width, shot.height)
    return min(math.ceil(FAR * max((width for width, share in widths(own, part, shot) if share > 0), default=0.0)), most)


def bright(light: np.ndarray, threshold: float, knee: float) -> np.ndarray:
    """Return of premultiplied light what glows, (H, W, 3): by its brightest colour, setting in over the knee on both sides of the threshold."""
    colours = np.maximum(light[..., :3], 0)
    if threshold <= 0:
        return colours
    most = colours.max(axis=-1)
    knee = min(max(knee, 1e-6), threshold)
    soft = np.clip(most - threshold + knee, 0, 2 * knee)
    counts = np.where(most > threshold + knee, most - threshold, soft * soft / (4 * knee))
    return colours * (counts / np.maximum(most, 1e-9))[..., None]


def finished(light: np.ndarray, own: Own, part: Any, shot: Shot) -> np.ndarray:
    blurs = [(width, share) for width, share in widths(own, part, shot) if share > 0]
    if not blurs:
        return light
    source = bright(light, own.number("threshold"), own.number("knee"))
    made = light.copy()
    made[..., :3] += blurred(source, blurs) * own.colour("tint")
    return made


def blurred(source: np.ndarray, blurs: list[tuple[float, float]]) -> np.ndarray:
    """Return the sum of Gaussian blurs of pictures (H, W, C), each by its standard deviation, pixels, and share; outside is nothing."""
    height, width = source.shape[:2]
    pad = math.ceil(4.0 * max(sigma for sigma, _ in blurs))
    tall, wide = (fft.next_fast_len(side + min(pad, 3 * side), real=True) for side in (height, width))
    y, x = fft.fftfreq(tall), fft.rfftfreq(wide)
    transfer = sum(share * np.exp(-2 * (math.pi * sigma) ** 2 * y * y)[:, None] * np.exp(-2 * (math.pi * sigma) ** 2 * x * x)[None, :]
                   for sigma, share in blurs)  # fmt: skip
    weight = np.asarray(transfer, F32)
    made = np.empty_like(source, F32)
    for c in range(source.shape[2]):
        seen = fft.rfft2(source[..., c].astype(F32), (tall, wide), workers=2)
        seen *= weight
        made[..., c] = fft.irfft2(seen, (tall, wide), workers=2)[:height, :width]
    return np.maximum(made, 0)


def told(own: Own, part: Any, shot: Shot) -> dict[str, Any]:
    return {
        "blurs": [list(blur) for blur in widths(own, part, shot)],
        "threshold": own.number("threshold"),
        "knee": min(max(own.number("knee"), 1e-6), max(own.number("threshold"), 1e-6)),
        "tint": own.colour("tint").tolist(),
    }
