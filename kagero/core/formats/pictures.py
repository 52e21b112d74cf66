"""Pictures in: PNG, JPEG and EXR as linear light. A file is measured before it is unpacked, so that a small one cannot
fill the memory."""

from __future__ import annotations

import io
import tempfile
import warnings
from pathlib import Path

import numpy as np
from PIL import Image, UnidentifiedImageError

from ..errors import GeometryProblem
from ..geometry import Picture

STRIP = 256  # rows that are converted at once
LARGEST = 65504.0  # of float16
MOST_PIXELS, MOST_SIDE, MOST_BYTES = 64_000_000, 16_384, 256 * 1024 * 1024


def picture_kind(data: bytes) -> str:
    """Return png, jpeg or exr by what a file holds, or an empty string."""
    if data[:8] == b"\x89PNG\r\n\x1a\n":
        return "png"
    if data[:3] == b"\xff\xd8\xff":
        return "jpeg"
    return "exr" if data[:4] == b"\x76\x2f\x31\x01" else ""


def read_picture(name: str, data: bytes) -> Picture:
    """Return the picture in a file in linear light: 8 and 16 bit by sRGB's curve, EXR as it is. Raises
    GeometryProblem."""
    if len(data) > MOST_BYTES:
        raise GeometryProblem(
            f"{name[:80]} has {len(data):,} bytes; {MOST_BYTES:,} are allowed.", remedy="Make it smaller."
        )
    kind = picture_kind(data)
    if not kind:
        raise GeometryProblem(f"{name[:80]} is no picture that can be read here.", remedy="Bring in PNG, JPEG or EXR.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            return _exr(name, data) if kind == "exr" else _by_pillow(name, data, kind)
    except GeometryProblem:
        raise
    except (
        OSError,
        UnidentifiedImageError,
        ValueError,
        SyntaxError,
        EOFError,
        Image.DecompressionBombError,
        RuntimeError,
        KeyError,
    ) as problem:
        raise GeometryProblem(f"{name[:80]} is cut off or damaged.", remedy="Save it again.") from problem


def check_size(name: str, width: int, height: int) -> None:
    """Raise GeometryProblem for a picture of a size that is not allowed."""
    if width * height > MOST_PIXELS or max(width, height) > MOST_SIDE or min(width, height) < 1:
        words = f"{name[:80]} has {width:,} x {height:,} pixels; {MOST_PIXELS:,} and {MOST_SIDE:,} a side are allowed."
        raise GeometryProblem(words, remedy="Make it smaller.")


def _by_pillow(name: str, data: bytes, kind: str) -> Picture:
    Image.MAX_IMAGE_PIXELS = None  # measured here
    with Image.open(io.BytesIO(data), formats=[kind.upper()]) as image:
        check_size(name, *image.size)
        image.load()
        deep = image.mode.startswith("I")
        width, height = image.size
        linear = np.empty((height, width, 4), np.float16)
        shares = np.linspace(0, 1, 256, dtype=np.float32).astype(np.float16)  # of the 256 values there are
        levels = (
            Picture.from_srgb(np.linspace(0, 1, 256, dtype=np.float32)[None, :, None].repeat(3, axis=2))
            .pixels[0, :, 0]
            .astype(np.float16)
        )
        for top in range(0, height, STRIP):  # so that little more is held than the picture itself
            strip = image.crop((0, top, width, min(top + STRIP, height)))
            if deep:
                grey = np.asarray(strip, np.float32)[:, :, None] / 65535
                linear[top : top + STRIP] = Picture.from_srgb(np.repeat(grey, 3, axis=2)).pixels
            else:
                pixels = np.asarray(strip.convert("RGBA"))
                linear[top : top + STRIP, :, :3] = levels[pixels[:, :, :3]]
                linear[top : top + STRIP, :, 3] = shares[pixels[:, :, 3]]
        return Picture(linear)


def _exr(name: str, data: bytes) -> Picture:
    import OpenEXR  # slow to load, and only needed here

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "picture.exr"
        path.write_bytes(data)
        with OpenEXR.File(str(path), header_only=True) as head:
            low, high = head.header()["dataWindow"]
            check_size(name, int(high[0] - low[0]) + 1, int(high[1] - low[1]) + 1)
        with OpenEXR.File(str(path), separate_channels=True) as file:
            channels = {key: value.pixels for key, value in file.channels().items()}
    if not channels:
        raise GeometryProblem(f"{name[:80]} has no channels.", remedy="Save it again.")
    first = channels.get("R", channels.get("Y", next(iter(channels.values()))))
    pixels = np.ones((*first.shape, 4), np.float16)
    for k, key in enumerate("RGBA"):
        given = channels.get(key, first if k < 3 else None)
        if given is not None:
            np.clip(
                np.nan_to_num(np.asarray(given, np.float32), posinf=LARGEST, neginf=0),
                -LARGEST,
                LARGEST,
                out=pixels[:, :, k],
                casting="unsafe",
            )
    return Picture(pixels)
