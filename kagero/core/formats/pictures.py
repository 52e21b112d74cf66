"""Pictures in: PNG, JPEG and EXR as linear light. A file is measured before it is unpacked, so that a small one cannot fill the memory."""

from __future__ import annotations

import io
import tempfile
import warnings
from pathlib import Path

import numpy as np
from PIL import Image, UnidentifiedImageError

from ..errors import GeometryProblem
from ..props import Picture

MOST_PIXELS, MOST_SIDE, MOST_BYTES = 64_000_000, 16_384, 256 * 1024 * 1024


def picture_kind(data: bytes) -> str:
    """Return png, jpeg or exr by what a file holds, or an empty string."""
    if data[:8] == b"\x89PNG\r\n\x1a\n":
        return "png"
    if data[:3] == b"\xff\xd8\xff":
        return "jpeg"
    return "exr" if data[:4] == b"\x76\x2f\x31\x01" else ""


def read_picture(name: str, data: bytes) -> Picture:
    """Return the picture in a file in linear light: 8 and 16 bit by sRGB's curve, EXR as it is. Raises GeometryProblem."""
    if len(data) > MOST_BYTES:
        raise GeometryProblem(f"{name[:80]} has {len(data):,} bytes; {MOST_BYTES:,} are allowed.", remedy="Make it smaller.")
    kind = picture_kind(data)
    if not kind:
        raise GeometryProblem(f"{name[:80]} is no picture that can be read here.", remedy="Bring in PNG, JPEG or EXR.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            return _exr(name, data) if kind == "exr" else _by_pillow(name, data, kind)
    except GeometryProblem:
        raise
    except (OSError, UnidentifiedImageError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError, RuntimeError, KeyError) as problem:
        raise GeometryProblem(f"{name[:80]} is cut off or damaged.", remedy="Save it again.") from problem


def _measured(name: str, width: int, height: int) -> None:
    if width * height > MOST_PIXELS or max(width, height) > MOST_SIDE or min(width, height) < 1:
        words = f"{name[:80]} has {width:,} x {height:,} pixels; {MOST_PIXELS:,} and {MOST_SIDE:,} a side are allowed."
        raise GeometryProblem(words, remedy="Make it smaller.")


def _by_pillow(name: str, data: bytes, kind: str) -> Picture:
    Image.MAX_IMAGE_PIXELS = None  # measured here
    with Image.open(io.BytesIO(data), formats=[kind.upper()]) as image:
        _measured(name, *image.size)
        image.load()
        if image.mode.startswith("I;16") or image.mode == "I":
            grey = np.asarray(image, np.float32)[:, :, None] / 65535
            return Picture.from_srgb(np.repeat(grey, 3, axis=2))
        return Picture.from_srgb(np.asarray(image.convert("RGBA"), np.float32) / 255)


def _exr(name: str, data: bytes) -> Picture:
    import OpenEXR  # slow to load, and only needed here

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "picture.exr"
        path.write_bytes(data)
        with OpenEXR.File(str(path), header_only=True) as head:
            low, high = head.header()["dataWindow"]
            _measured(name, int(high[0] - low[0]) + 1, int(high[1] - low[1]) + 1)
        with OpenEXR.File(str(path), separate_channels=True) as file:
            channels = {key: np.asarray(value.pixels, np.float32) for key, value in file.channels().items()}
    if not channels:
        raise GeometryProblem(f"{name[:80]} has no channels.", remedy="Save it again.")
    first = channels.get("R", channels.get("Y", next(iter(channels.values()))))
    colour = [channels.get(key, first) for key in ("R", "G", "B")]
    made = np.stack([*colour, channels.get("A", np.ones_like(first))], axis=2)
    return Picture(np.nan_to_num(made, posinf=65504, neginf=0).astype(np.float32))
