"""Particle cache as NPZ: one array a column over all frames, and where each frame starts."""

from __future__ import annotations

import json
import shutil
import tempfile
import zipfile
from typing import IO, Any

import numpy as np

from .base import SIMULATED, FileExporter, FrameParticles


class Npz(FileExporter):
    """key, position, velocity, ... of all frames, frame_offset, frame, seconds, emitter_uid and the manifest as JSON
    text.

    An NPZ is a zip with a file a column, each beginning with how long it is: columns grow in files of their own, and
    are put together at the end. The same bytes as `numpy.savez` of the whole gives.
    """

    kind, label, suffix, media = "npz", "NPZ", ".npz", "application/zip"
    help = "One array a column over all frames, for NumPy."
    options = (SIMULATED,)

    def open(self, stream: IO[bytes]) -> None:
        super().open(stream)
        self._grown: list[IO[bytes]] = [tempfile.TemporaryFile(dir=self.about.scratch) for _ in self.about.columns]  # noqa: SIM115
        self._frames: list[tuple[int, float, int]] = []

    def frame(self, frame: FrameParticles) -> None:
        for column, grown in zip(self.about.columns, self._grown, strict=True):
            grown.write(np.ascontiguousarray(frame.arrays[column.name], column.kind).data)
        self._frames.append((frame.number, frame.seconds, len(frame)))

    def finish(self) -> None:
        counts = [count for _, _, count in self._frames]
        total = sum(counts)
        small = {
            "frame_offset": np.concatenate([[0], np.cumsum(counts)]).astype("<i8"),
            "frame": np.asarray([number for number, _, _ in self._frames], "<i8"),
            "seconds": np.asarray([seconds for _, seconds, _ in self._frames], "<f8"),
            "emitter_uid": np.asarray([uid for uid, _ in self.about.emitters]),
            "manifest": np.asarray(json.dumps(self.about.manifest(self.kind))),
        }
        with zipfile.ZipFile(self.stream, "w", zipfile.ZIP_STORED) as archive:
            for column, grown in zip(self.about.columns, self._grown, strict=True):
                shape = (total, len(column.parts)) if column.parts else (total,)
                header: dict[str, Any] = {"descr": column.kind, "fortran_order": False, "shape": shape}
                with archive.open(f"{column.name}.npy", "w", force_zip64=True) as member:
                    np.lib.format.write_array_header_1_0(member, header)
                    grown.seek(0)
                    shutil.copyfileobj(grown, member, 1 << 20)
            for name, array in small.items():
                with archive.open(f"{name}.npy", "w", force_zip64=True) as member:
                    np.lib.format.write_array(member, array, allow_pickle=False)
        self.abandon()

    def abandon(self) -> None:
        for grown in self._grown:
            grown.close()
