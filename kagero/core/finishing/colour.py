"""Lift, gain, temperature, saturation.

White of a temperature: the CIE daylight locus (CIE 15:2018, 4.1.2). Adaptation from D65: Bradford's matrix (CIE
159:2004). Primaries and D65: IEC 61966-2-1. Luminance: ITU-R BT.709.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from ..geometry.picture import LUMINANCE
from .shot import RowValues, Shot

D65 = (0.3127, 0.3290)
TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])  # IEC 61966-2-1
BRADFORD = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])


def daylight(kelvin: float) -> tuple[float, float]:
    """Return the chromaticity x, y of daylight at a temperature, 4000 to 25000 K (CIE 15:2018)."""
    t = min(max(kelvin, 4000.0), 25000.0)
    if t <= 7000:
        x = -4.6070e9 / t**3 + 2.9678e6 / t**2 + 0.09911e3 / t + 0.244063
    else:
        x = -2.0064e9 / t**3 + 1.9018e6 / t**2 + 0.24748e3 / t + 0.237040
    return x, -3.0 * x * x + 2.870 * x - 0.275


def white_balance(kelvin: float) -> np.ndarray:
    """Return the matrix that adapts linear sRGB to daylight of a temperature, (3, 3); the identity at 6504 K."""
    neutral = daylight(6504.0)

    def cone(white: tuple[float, float]) -> np.ndarray:
        response: np.ndarray = BRADFORD @ np.array([white[0] / white[1], 1.0, (1 - white[0] - white[1]) / white[1]])
        return response

    ratio = cone(daylight(kelvin)) / cone(neutral)
    matrix: np.ndarray = np.linalg.inv(TO_XYZ) @ np.linalg.inv(BRADFORD) @ np.diag(ratio) @ BRADFORD @ TO_XYZ
    return matrix


def finished(light: np.ndarray, own: RowValues, part: Any, shot: Shot) -> np.ndarray:
    image = light.copy()
    colour, alpha = light[..., :3], light[..., 3:]
    lift = own.colour("lift")
    graded = own.colour("gain") * (colour + lift * (alpha - colour)) if lift.any() else own.colour("gain") * colour
    kelvin, saturation = own.number("temperature"), own.number("saturation")
    if abs(kelvin - 6504.0) > 0.5:
        graded = graded @ white_balance(kelvin).T.astype(np.float32)
    if abs(saturation - 1) > 1e-6:
        grey = (graded @ LUMINANCE.astype(np.float32))[..., None]
        graded = grey + (graded - grey) * np.float32(saturation)
    image[..., :3] = np.maximum(graded, 0) if (colour >= 0).all() else graded
    return image


def stage_uniforms(own: RowValues, part: Any, shot: Shot) -> dict[str, Any]:
    kelvin = own.number("temperature")
    matrix = white_balance(kelvin) if abs(kelvin - 6504.0) > 0.5 else np.eye(3)
    return {
        "matrix": matrix.ravel().tolist(),
        "lift": own.colour("lift").tolist(),
        "gain": own.colour("gain").tolist(),
        "saturation": own.number("saturation"),
    }
