"""The reference step as a loop in C, built with the system's gcc for the bench alone."""

from __future__ import annotations

import ctypes
import math
import shutil
import subprocess
from pathlib import Path
from typing import Any

import numpy as np

from kagero.core.kernels.noise import GRADIENTS, PERMUTATION, lattice_offsets
from kagero.core.plan import EmitterPlan
from kagero.core.rows.slots import table_of

HERE = Path(__file__).parent
BUILD = HERE / "build"


class HandwrittenStep:
    """step(inputs, time, dt) -> outputs by name, for an emitter of `effects.reference`. Raises OSError without gcc."""

    def __init__(self, plan: EmitterPlan):
        BUILD.mkdir(exist_ok=True)
        library = BUILD / "step.so"
        source = HERE / "step.c"
        if not library.exists() or library.stat().st_mtime < source.stat().st_mtime:
            if shutil.which("gcc") is None:
                raise OSError("gcc is not installed")
            subprocess.run(
                ["gcc", "-O3", "-march=native", "-shared", "-fPIC", "-o", str(library), str(source), "-lm"], check=True
            )
        self._step = ctypes.CDLL(str(library)).step
        values = plan.values
        curves = {each.uid: each for placed in plan.rows.values() for each in placed.row.responses}
        self.lift, self.swirl = (table_of(curves[uid].curve.keys) for uid in ("lift-life", "swirl-life"))
        self.offset = lattice_offsets(
            values.seeds[next(int(op.attrs[0]) for op in plan.step.operations if op.name == "curl_noise")]
        )
        self.permutation, self.gradients = np.ascontiguousarray(PERMUTATION), np.ascontiguousarray(GRADIENTS)

    def __call__(
        self, inputs: dict[str, Any], time: float, dt: float, out: list[np.ndarray] | None = None
    ) -> dict[str, np.ndarray]:
        names = [f"{part}.{axis}" for part in ("position", "velocity") for axis in "xyz"]
        given = [inputs[name] for name in (*names, "age", "lifespan")]
        values = out or [np.empty(len(given[0]), np.float32) for _ in names]
        drag = 0.8
        gain = -math.expm1(-drag * dt) / drag
        settings = np.array(
            [0.8, drag, 1.5, 0, 1, 0.5, 0.25, time, dt, math.exp(-drag * dt), gain, (dt - gain) / drag], np.float32
        )
        pointers = lambda arrays: (ctypes.c_void_p * len(arrays))(*(a.ctypes.data for a in arrays))
        address = lambda array: ctypes.c_void_p(array.ctypes.data)
        self._step(
            ctypes.c_int64(len(given[0])),
            pointers(given),
            pointers(values),
            address(self.lift),
            len(self.lift),
            address(self.swirl),
            len(self.swirl),
            address(settings),
            address(self.offset),
            address(self.permutation),
            address(self.gradients),
        )
        return dict(zip(names, values, strict=True))
