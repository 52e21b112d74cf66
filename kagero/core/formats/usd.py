"""Cameras of USD files (.usd, .usda, .usdc, .usdz). Universal Scene Description: UsdGeom's cameras, transforms,
metersPerUnit and upAxis, by the format's own library."""

from __future__ import annotations

import math
import tempfile
from pathlib import Path
from typing import Any

import numpy as np

from ..errors import GeometryProblem
from .cameras import FileCamera

MOST_TIMES, MOST_CAMERAS = 2000, 64


def is_usd(name: str, data: bytes) -> bool:
    """Return whether a file is USD, by its name and how it begins: text, crate, or a package of them."""
    return name.lower().endswith((".usd", ".usda", ".usdc", ".usdz")) and data[:8].startswith(
        (b"#usda", b"PXR-USDC", b"PK\x03\x04")
    )


def read_usd(name: str, data: bytes) -> tuple[tuple[FileCamera, ...], float, str]:
    """Return a file's cameras, how long one of its units is, metres, and its upright axis. Raises GeometryProblem."""
    from pxr import Tf, UsdGeom  # slow to load, and only needed here

    suffix = {b"#usd": ".usda", b"PXR-": ".usdc", b"PK\x03\x04": ".usdz"}[data[:4]]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"file{suffix}"
        path.write_bytes(data)
        try:
            stage = _opened(name, str(path))
            codes = _times(stage)
            cameras = tuple(
                _camera(UsdGeom.Camera(prim), codes) for prim in stage.Traverse() if prim.IsA(UsdGeom.Camera)
            )[: MOST_CAMERAS + 1]
        except Tf.ErrorException:  # which cannot be handed on
            raise _damaged(name) from None
        if not cameras:
            raise GeometryProblem(
                f"{name[:80]} holds no cameras; of USD only these are read.", remedy="Export its meshes as GLB."
            )
        if len(cameras) > MOST_CAMERAS:
            raise GeometryProblem(
                f"{name[:80]} holds more than {MOST_CAMERAS} cameras.", remedy="Export those that you need."
            )
        for camera in cameras:
            if not np.isfinite(camera.places).all() or not math.isfinite(camera.field_of_view or 0):
                raise GeometryProblem(
                    f"The camera {camera.name!r} of {name[:80]} stands or looks where there are no numbers.",
                    remedy="Export it again.",
                )
        unit = float(UsdGeom.GetStageMetersPerUnit(stage))
        return (
            cameras,
            unit if 0 < unit <= 10_000 else 1.0,
            "z" if UsdGeom.GetStageUpAxis(stage) == UsdGeom.Tokens.z else "y",
        )


def _damaged(name: str) -> GeometryProblem:
    return GeometryProblem(
        f"{name[:80]} is damaged, or of a kind of USD that cannot be read.", remedy="Export it again."
    )


def _opened(name: str, path: str) -> Any:
    """Return a stage of one file that points to none outside itself."""
    from pxr import Sdf, Usd

    layer = Sdf.Layer.FindOrOpen(path)
    if layer is None:
        raise _damaged(name)
    if layer.GetCompositionAssetDependencies():
        raise GeometryProblem(
            f"{name[:80]} points to files outside itself.", remedy="Export it flattened, as one file."
        )
    return Usd.Stage.Open(layer)


def _times(stage: Any) -> np.ndarray:
    """Return the time codes at which a file's motion is read: each frame of its range."""
    from pxr import Usd

    first, last = stage.GetStartTimeCode(), stage.GetEndTimeCode()
    if not stage.HasAuthoredTimeCodeRange() or not last > first:
        return np.array([first if stage.HasAuthoredTimeCodeRange() else Usd.TimeCode.Default().GetValue()])
    return np.linspace(first, last, min(int(last - first) + 1, MOST_TIMES))


def _camera(camera: Any, codes: np.ndarray) -> FileCamera:
    from pxr import Usd, UsdGeom

    rate = camera.GetPrim().GetStage().GetTimeCodesPerSecond()
    moves = UsdGeom.Xformable(camera).TransformMightBeTimeVarying() or any(
        UsdGeom.Xformable(prim).TransformMightBeTimeVarying() for prim in _above(camera.GetPrim())
    )
    if not moves:
        codes = codes[:1]
    places = []
    for code in codes:
        at = Usd.TimeCode.Default() if math.isnan(code) else Usd.TimeCode(float(code))
        places.append(
            np.array(UsdGeom.Xformable(camera).ComputeLocalToWorldTransform(at)).T
        )  # USD's rows are columns here
    focal, height, kind = camera.GetFocalLengthAttr(), camera.GetVerticalApertureAttr(), camera.GetProjectionAttr()
    at = Usd.TimeCode.EarliestTime()
    view, left_out = None, ""
    if kind.Get() == UsdGeom.Tokens.orthographic:
        left_out = "it sees without perspective in this file, which there is not here."
    elif focal.HasAuthoredValue() and focal.Get(at) and float(focal.Get(at)) > 0:
        view = 2 * math.atan(float(height.Get(at)) / (2 * float(focal.Get(at))))
        if focal.ValueMightBeTimeVarying():
            left_out = "its lens moves in this file; here it is as at first. Drive its field of view."
    return FileCamera(
        camera.GetPrim().GetName()[:80],
        view,
        np.nan_to_num(codes - codes[0]) / max(rate, 1e-6),
        np.array(places),
        left_out,
    )


def _above(prim: Any) -> list[Any]:
    from pxr import UsdGeom

    found = []
    while (prim := prim.GetParent()) and not prim.IsPseudoRoot():
        if prim.IsA(UsdGeom.Xformable):
            found.append(prim)
    return found
