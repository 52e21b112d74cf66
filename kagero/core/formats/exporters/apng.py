"""Animated PNG, every frame whole: FFmpeg's writer, which keeps only what changed, left traces of what moved behind
something (`tests.formats`).

PNG, third edition (W3C 2025), clauses 11.3.6.1 to 3: acTL, fcTL, fdAT; the pictures themselves are Pillow's.
"""

from __future__ import annotations

import io
import struct
from collections.abc import Iterator
from typing import IO

from PIL import Image

from ..encoding import to_bytes
from ..png_chunks import HEADER, chunk
from .base import BEHIND, FileExporter, FramePicture, Option

COLOUR = "sRGB, straight alpha"
LOOPS = Option("loops", "Plays", "How often it plays before it stays at its last frame; 0: for ever.", 0, (), 0, 10_000)


class AnimatedPng(FileExporter):
    """Frames with alpha in one PNG, of which nothing is lost."""

    kind, label, suffix, media, takes, colour = "apng", "Animated PNG", ".apng", "image/apng", "pictures", COLOUR
    help = "With alpha, nothing lost; large."
    options = (BEHIND, LOOPS)

    def open(self, stream: IO[bytes]) -> None:
        super().open(stream)
        self.number, self.first = 0, True

    def frame(self, frame: FramePicture) -> None:
        buffer = io.BytesIO()
        Image.fromarray(to_bytes(frame.pixels)).save(buffer, "PNG", compress_level=4)
        data = buffer.getvalue()
        width, height = self.about.size
        if self.first:
            count = self.about.last - self.about.first + 1
            self.stream.write(
                data[:HEADER] + chunk(b"sRGB", b"\0") + chunk(b"tEXt", b"Description\0" + COLOUR.encode())
            )
            self.stream.write(chunk(b"acTL", struct.pack(">II", count, self.about.options["loops"])))
        rate = self.about.frame_rate
        delay = (rate[1], rate[0]) if rate[0] < 65536 and rate[1] < 65536 else (round(1000 * rate[1] / rate[0]), 1000)
        self._put(
            b"fcTL", struct.pack(">IIIIHHBB", width, height, 0, 0, *delay, 0, 0)
        )  # as it is, in place of what was there
        for body in bodies(data):
            if self.first:
                self.stream.write(chunk(b"IDAT", body))
            else:
                self._put(b"fdAT", body)
        self.first = False

    def _put(self, kind: bytes, body: bytes) -> None:
        """Write a chunk with its number in order."""
        self.stream.write(chunk(kind, struct.pack(">I", self.number) + body))
        self.number += 1

    def finish(self) -> None:
        self.stream.write(chunk(b"IEND", b""))


def bodies(data: bytes) -> Iterator[bytes]:
    """Yield what the IDAT chunks of a PNG hold."""
    at = 8
    while at < len(data):
        length = struct.unpack(">I", data[at : at + 4])[0]
        if data[at + 4 : at + 8] == b"IDAT":
            yield data[at + 8 : at + 8 + length]
        at += 12 + length
