"""Particle cache as NPZ: one array a column over all frames, and where each frame starts."""

from __future__ import annotations

from typing import IO

import numpy as np

from .cache import COLUMNS, FrameParticles


class NpzWriter:
    """Collects frames; `close` writes key, position, velocity, ... of all frames, frame_offset, frame and seconds."""

    def __init__(self, stream: IO[bytes], emitters: list[str], compress: bool = False):
        self._stream, self._emitters, self._compress = stream, emitters, compress
        self._frames: list[FrameParticles] = []

    def add(self, frame: FrameParticles) -> None:
        self._frames.append(frame)

    def close(self) -> None:
        arrays: dict[str, np.ndarray] = {}
        for name, kind, components in COLUMNS:
            shape = (0,) if components == 1 else (0, components)
            parts = [np.asarray(frame.arrays[name], kind) for frame in self._frames]
            arrays[name] = np.concatenate(parts) if parts else np.empty(shape, kind)
        counts = [len(frame) for frame in self._frames]
        arrays["frame_offset"] = np.concatenate([[0], np.cumsum(counts)]).astype("<i8")
        arrays["frame"] = np.asarray([frame.number for frame in self._frames], "<i8")
        arrays["seconds"] = np.asarray([frame.seconds for frame in self._frames], "<f8")
        arrays["emitter_uid"] = np.asarray(self._emitters)
        (np.savez_compressed if self._compress else np.savez)(self._stream, **arrays)  # type: ignore[arg-type]
