"""A film, and an effect with it."""

from __future__ import annotations

import io
from fractions import Fraction
from functools import cache
from typing import Any

import av
import numpy as np
from pxr import Usd, UsdGeom

from kagero.core.formats.exporters.film import one_encoder

RATE = Fraction(24000, 1001)


COUNT = 20


def film(codec: str, alpha: bool = False, size: tuple[int, int] = (64, 48)) -> bytes:
    """Return a film whose pictures grow lighter, red by eight a picture; with alpha 128."""
    stream = io.BytesIO()
    with av.open(stream, "w", format="mp4" if codec == "libsvtav1" else "webm") as file:
        track = file.add_stream(codec, rate=RATE, options={"crf": "8", "g": "6"})
        track.width, track.height, track.pix_fmt = *size, "yuva420p" if alpha else "yuv420p"
        for n in range(COUNT):
            pixels = np.full((size[1], size[0], 4), 128, np.uint8)
            pixels[..., 0], pixels[..., 3] = 40 + 8 * n, 128 if alpha else 255
            frame = av.VideoFrame.from_ndarray(
                pixels if alpha else pixels[..., :3].copy(), format="rgba" if alpha else "rgb24"
            )
            with one_encoder():
                file.mux(track.encode(frame))
        file.mux(track.encode())
    return stream.getvalue()


@cache
def a_film(kind: str) -> bytes:
    return film("libsvtav1" if kind == "av1" else "libvpx-vp9", alpha=kind == "alpha")


def stage(up: str = "Z", unit: float = 0.01) -> tuple[Any, Any]:
    result = Usd.Stage.CreateInMemory()
    UsdGeom.SetStageUpAxis(result, up)
    UsdGeom.SetStageMetersPerUnit(result, unit)
    result.SetStartTimeCode(1)
    result.SetEndTimeCode(25)
    result.SetTimeCodesPerSecond(24)
    camera = UsdGeom.Camera.Define(result, "/rig/shot")
    camera.GetFocalLengthAttr().Set(35.0)
    camera.GetVerticalApertureAttr().Set(24.0)
    camera.GetHorizontalApertureAttr().Set(24.0 * 16 / 9)
    return result, camera
