"""OpenEXR: linear light, premultiplied, with passes as named channels."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import Any

import numpy as np

from ...kernels.hashes import murmur3
from .base import BEHIND, FramePicture, Option, Sequence

PASSES = (
    ("depth", "depth"),
    ("velocity", "velocity"),
    ("normal", "normal"),
    ("life", "life"),
    ("light", "light alone"),
    ("emitters", "each emitter by itself"),
    ("id", "ID mattes"),
)
# CIE x, y of red, green, blue and white: ITU-R BT.709, whose primaries sRGB has
BT709 = (0.64, 0.33, 0.30, 0.60, 0.15, 0.06, 0.3127, 0.3290)
FULL = ("depth", "id")  # always full float: what half a float would spoil


class ExrSequence(Sequence):
    """A picture a frame, with its passes as channels of one file: R, G, B, A; depth.Z; velocity.x ...; NAME.R of each
    emitter; ID mattes as their open specification has them. The data window is what is not empty."""

    kind, label, suffix, ending, packed, takes = "exr", "EXR sequence", ".exr.zip", ".exr", False, "pictures"
    colour = "linear light, BT.709 primaries, premultiplied"
    help = "Linear light, premultiplied, with passes as channels: for compositing."
    options = (
        BEHIND,
        Option(
            "bits",
            "Numbers",
            "Half floats hold light well; full ones everything.",
            "half",
            (("half", "half floats"), ("float", "full floats")),
        ),
        Option("passes", "Passes", "What goes along as channels of the same file.", (), PASSES),
        Option(
            "attributes",
            "Attributes",
            "What particles have, as channels of the same file: a draw, a speed, anything that rows can read.",
            (),
        ),
        Option("split", "In files of their own", "Each pass in a file of its own, instead of all in one.", False),
    )

    def passes(self) -> tuple[str, ...]:
        return (*self.about.options.get("passes", ()), *self.about.options.get("attributes", ()))

    def frame(self, frame: FramePicture) -> None:
        groups = {"": {"RGBA": frame.pixels}, **{name: {name: array} for name, array in frame.passes.items()}}
        if not self.about.options.get("split"):
            self._put(f"{frame.number:06d}.exr", self._file(frame, {"RGBA": frame.pixels, **frame.passes}), False)
            return
        for name, arrays in groups.items():
            plain = "".join(c if c.isalnum() else "-" for c in name)
            self._put(f"{plain or 'beauty'}/{frame.number:06d}.exr", self._file(frame, arrays), False)

    def _file(self, frame: FramePicture, arrays: dict[str, np.ndarray]) -> bytes:
        import OpenEXR  # slow to load, and only needed here

        height, width = frame.pixels.shape[:2]
        left, top, right, bottom = window_of(arrays.values())
        channels: dict[str, np.ndarray] = {}
        for name, array in arrays.items():
            small = (
                np.float32 if self.about.options.get("bits") == "float" or name.split(".")[0] in FULL else np.float16
            )
            for channel, k in channels_of(name, array.shape[2]):
                numbers = array[top : bottom + 1, left : right + 1, k]
                if small is np.float16:
                    numbers = np.where(np.isfinite(numbers), np.clip(numbers, -65504, 65504), numbers)
                channels[channel] = np.ascontiguousarray(numbers, small)
        rate = self.about.frame_rate
        header: dict[str, Any] = {
            "compression": OpenEXR.ZIP_COMPRESSION,
            "type": OpenEXR.scanlineimage,
            "chromaticities": BT709,
            "framesPerSecond": rate[0] / rate[1],
            "displayWindow": (np.array([0, 0], np.int32), np.array([width - 1, height - 1], np.int32)),
            "dataWindow": (np.array([left, top], np.int32), np.array([right, bottom], np.int32)),
            "comments": f"{self.about.effect}: {self.colour}",
        }
        for name in arrays:
            if name in frame.names:
                header |= matte_header(name, frame.names[name])
        with tempfile.TemporaryDirectory(dir=self.about.scratch) as folder:
            path = Path(folder) / "frame.exr"
            OpenEXR.File(header, channels).write(str(path))
            return path.read_bytes()


def channels_of(name: str, count: int) -> list[tuple[str, int]]:
    """Return the names of a pass's channels, each with its number in the array."""
    if name == "RGBA":
        return [("R", 0), ("G", 1), ("B", 2), ("A", 3)]
    if name == "depth":
        return [("depth.Z", 0)]
    if name == "id":  # two ranks a layer of four channels
        return [(f"id{k // 4:02d}.{'RGBA'[k % 4]}", k) for k in range(count)]
    parts = {1: ("V",), 2: ("x", "y"), 3: ("x", "y", "z")}.get(count, ("R", "G", "B", "A"))
    return [(f"{name}.{part}", k) for k, part in enumerate(parts)]


def matte_header(name: str, names: dict[str, str]) -> dict[str, str]:
    """Return what tells readers of ID mattes who is who: by the published open specification, version 1.2.0."""
    key = f"cryptomatte/{murmur3(name.encode()):08x}"[: len("cryptomatte/") + 7]
    return {
        f"{key}/name": name,
        f"{key}/hash": "MurmurHash3_32",
        f"{key}/conversion": "uint32_to_float32",
        f"{key}/manifest": json.dumps(names, ensure_ascii=True, separators=(",", ":")),
    }


def window_of(arrays: Any) -> tuple[int, int, int, int]:
    """Return the first and last column and row, (left, top, right, bottom), within which anything differs from nothing,
    and at least one pixel."""
    there: Any = None
    for array in arrays:
        here = ((array != 0) & np.isfinite(array)).any(axis=2)
        there = here if there is None else there | here
    rows, columns = np.flatnonzero(there.any(axis=1)), np.flatnonzero(there.any(axis=0))
    if not len(rows):
        return 0, 0, 0, 0
    return int(columns[0]), int(rows[0]), int(columns[-1]), int(rows[-1])
