"""The software renderer: soft discs seen by a pinhole camera, blended in linear light."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass

import numpy as np
from PIL import Image

from ..errors import BudgetError
from ..kernels.colour import linear_to_srgb
from ..kernels.raster import nothing_near, paint_triangles
from ..kernels.splat import splat_discs

MAX_PIXELS, MAX_SIDE = 3840 * 2160, 8192
NEAR = 0.02  # metres; nothing closer is drawn


@dataclass(frozen=True)
class Viewpoint:
    """A pinhole camera: position and target in metres, y up; field_of_view: vertical, radians."""

    position: tuple[float, float, float]
    target: tuple[float, float, float]
    field_of_view: float

    def axes(self) -> np.ndarray:
        """Return the unit vectors to the right, up and back, (3, 3) by rows."""
        eye = np.asarray(self.position, np.float64)
        forward = np.asarray(self.target, np.float64) - eye
        forward /= np.linalg.norm(forward)
        up = np.array([0.0, 1.0, 0.0]) if abs(forward[1]) < 0.9999 else np.array([0.0, 0.0, -math.copysign(1, forward[1])])
        right = np.cross(forward, up)
        right /= np.linalg.norm(right)
        return np.stack([right, np.cross(right, forward), -forward])

    def project(self, points: np.ndarray, width: int, height: int) -> tuple[np.ndarray, np.ndarray, np.ndarray, float]:
        """Return pixel x and y (n,), depth in metres (n,), and pixels per metre at one metre's depth."""
        right, above, back = self.axes()
        relative = points.astype(np.float64) - np.asarray(self.position, np.float64)
        depth = -(relative @ back)
        focal = height / (2 * math.tan(self.field_of_view / 2))
        safe = np.maximum(depth, NEAR)
        x = width / 2 + focal * (relative @ right) / safe
        y = height / 2 - focal * (relative @ above) / safe
        return x, y, depth, focal


def check_size(width: int, height: int) -> None:
    """Raise BudgetError for pictures that cannot be rendered."""
    if not (1 <= width <= MAX_SIDE and 1 <= height <= MAX_SIDE and width * height <= MAX_PIXELS):
        raise BudgetError(
            f"A picture of {width} x {height} pixels cannot be rendered.", where="size",
            remedy=f"Choose 1 to {MAX_SIDE:,} pixels a side, and at most {MAX_PIXELS:,} in all.",
        )  # fmt: skip


@dataclass(frozen=True)
class Solid:
    """A prop as it is drawn. points, normals: in the world, (V, 3); uv: (V, 2); local: (V, 3); gone: 0..1, (V,); faces: (F, 3) int32;
    colour: linear, (F, 3); texture: (H, W, 4) linear, of the faces where pictured. alpha: below 1 it hides nothing. lit: by the stage's
    light. by_uv: it falls apart by (u, v), not by its places."""

    points: np.ndarray
    normals: np.ndarray
    uv: np.ndarray
    local: np.ndarray
    gone: np.ndarray
    faces: np.ndarray
    colour: np.ndarray
    texture: np.ndarray
    pictured: np.ndarray
    alpha: float = 1.0
    lit: bool = True
    by_uv: bool = False


def _paint(solid: Solid, viewpoint: Viewpoint, picture: np.ndarray, depth: np.ndarray) -> None:
    height, width = depth.shape
    x, y, away, _ = viewpoint.project(solid.points, width, height)
    axes = viewpoint.axes()
    normals, views = solid.normals @ axes.T, (np.asarray(viewpoint.position, np.float64) - solid.points) @ axes.T
    reach = float(np.linalg.norm(np.ptp(solid.local, axis=0))) / 2 if len(solid.local) else 1.0
    paint_triangles(picture, depth, x, y, away, solid.faces, normals, views, solid.uv.astype(np.float64), solid.local.astype(np.float64),
                    solid.gone.astype(np.float64), solid.colour.astype(np.float64), np.ascontiguousarray(solid.texture, np.float32),
                    solid.pictured, solid.alpha, 90 / max(reach, 1e-6), solid.by_uv, solid.lit)  # fmt: skip


def render(shown: list, viewpoint: Viewpoint, width: int, height: int, solids: list[Solid] | None = None) -> np.ndarray:
    """Return a (height, width, 4) float32 picture: linear light, premultiplied by alpha, transparent where nothing is.

    shown: `simulation.Shown` of each emitter to draw. Particles of all are painted from back to front, over the solids but not
    where one stands before them. Raises BudgetError by `check_size`.
    """
    check_size(width, height)
    picture = np.zeros((height, width, 4), np.float32)
    nearest = nothing_near(height, width) if solids else None
    for solid in sorted(solids or [], key=lambda each: each.alpha < 1 or not each.lit):  # those that hide first
        assert nearest is not None
        _paint(solid, viewpoint, picture, nearest)
    shown = [part for part in shown if len(part)]
    if not shown:
        return picture
    position = np.concatenate([part.positions() for part in shown])
    size, opacity, colour, stretch, rotation = (np.concatenate([part.column(name) for part in shown])
                                                for name in ("size", "opacity", "colour", "stretch", "rotation"))  # fmt: skip
    add = np.concatenate([np.full(len(part), part.add) for part in shown])
    shape = np.stack([stretch, rotation], axis=1)
    x, y, depth, focal = viewpoint.project(position, width, height)
    order = np.argsort(-depth, kind="stable")
    order = order[depth[order] > NEAR]
    radius = size[order] / 2 * focal / depth[order]
    splat_discs(picture, x[order].astype(np.float32), y[order].astype(np.float32), radius.astype(np.float32),
                np.ascontiguousarray(colour[order]), opacity[order], add[order], np.ascontiguousarray(shape[order], np.float32),
                depth[order], nearest)  # fmt: skip
    return picture


def to_png(picture: np.ndarray, background: tuple[float, float, float] | None = None) -> bytes:
    """Return an 8-bit sRGB PNG with straight alpha; over `background` (linear light) it is opaque.

    Added light covers nothing, which straight alpha cannot say: there a pixel's alpha is raised to its brightest
    channel, so that over black the picture is as rendered.
    """
    if background is not None:
        flat = picture[..., :3] + np.asarray(background, np.float32) * (1 - picture[..., 3:])
        encoded = (linear_to_srgb(flat) * 255 + 0.5).astype(np.uint8)
    else:
        rgb = picture[..., :3]
        alpha = np.clip(np.maximum(picture[..., 3], rgb.max(axis=-1)), 0, 1)
        straight = rgb / np.maximum(alpha, 1e-6)[..., None]
        encoded = np.empty((*alpha.shape, 4), np.uint8)
        encoded[..., :3] = linear_to_srgb(straight) * 255 + 0.5
        encoded[..., 3] = alpha * 255 + 0.5
    stream = io.BytesIO()
    Image.fromarray(encoded).save(stream, "PNG", compress_level=4)
    return stream.getvalue()
