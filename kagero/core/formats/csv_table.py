"""Particle cache as CSV (RFC 4180): a line a particle and frame. Numbers read back as the same float32."""

from __future__ import annotations

from typing import IO

import numpy as np

from .cache import COLUMNS, FrameParticles

_COMPONENTS = {"position": "xyz", "velocity": "xyz", "color": "rgb"}


class CsvWriter:
    def __init__(self, stream: IO[bytes], emitters: list[str]):
        self._stream = stream
        names = ["frame", "seconds"]
        for name, _kind, components in COLUMNS:
            names += [name] if components == 1 else [f"{name}_{c}" for c in _COMPONENTS[name]]
        stream.write((",".join(names) + "\r\n").encode())

    def add(self, frame: FrameParticles) -> None:
        columns = []
        for name, _kind, components in COLUMNS:
            array = frame.arrays[name]
            columns += [array] if components == 1 else [array[:, i] for i in range(components)]
        start = f"{frame.number},{frame.seconds:.9g},"
        # str of a NumPy float32 is the shortest text that reads back as the same float32, unless somebody in this process
        # has asked NumPy for an older way of printing
        with np.printoptions(legacy=False):
            texts = [column.astype(str) for column in columns]
        lines = [start + ",".join(values) for values in zip(*texts, strict=True)]
        if lines:
            self._stream.write(("\r\n".join(lines) + "\r\n").encode())

    def close(self) -> None:
        pass
