"""Particle cache as CSV (RFC 4180): a line a particle and frame. Numbers read back as the same float32."""

from __future__ import annotations

from typing import IO

import numpy as np

from .base import SIMULATED, FileExporter, FrameParticles


class CsvTable(FileExporter):
    """A header of names, then a line a particle and frame; a column of several numbers is one a part: position_x,
    color_r."""

    kind, label, suffix, media = "csv", "CSV", ".csv", "text/csv"
    help = "A line a particle and frame, for any table."
    options = (SIMULATED,)

    def open(self, stream: IO[bytes]) -> None:
        super().open(stream)
        names = ["frame", "seconds"]
        for column in self.about.columns:
            names += [f"{column.name}_{part}" for part in column.parts] or [column.name]
        stream.write((",".join(names) + "\r\n").encode())

    def frame(self, frame: FrameParticles) -> None:
        columns = []
        for column in self.about.columns:
            array = frame.arrays[column.name]
            columns += [array[:, i] for i in range(len(column.parts))] or [array]
        start = f"{frame.number},{frame.seconds:.9g},"
        # str of a NumPy float32 is the shortest text that reads back as the same float32, unless somebody in this
        # process
        # has asked NumPy for an older way of printing
        with np.printoptions(legacy=False):
            texts = [column.astype(str) for column in columns]
        lines = [start + ",".join(values) for values in zip(*texts, strict=True)]
        if lines:
            self.stream.write(("\r\n".join(lines) + "\r\n").encode())
