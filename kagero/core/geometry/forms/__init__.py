"""Forms: meshes made ready to be drawn on particles, triangle by triangle; and those that ship, a module each: its
words and what makes it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from importlib import import_module
from typing import Literal, get_args

import numpy as np

from ..mesh import Mesh

FormName = Literal["card", "leaf", "shard", "block", "ball", "sweep"]
NAMES: tuple[FormName, ...] = get_args(FormName)
F32 = np.float32


@dataclass(frozen=True)
class Forms:
    """Meshes that particles are drawn as, one behind the other.

    key: equal for equal forms. corners: of each triangle places in metres, normals and (u, v), (T, 3, 8) float32; tint:
    of each linear colour, and 1 where a picture shows, (T, 4) float32. start: where each form begins, and after the
    last where it ends, (F + 1,) int64. box: lowest and highest corner of each, (F, 2, 3) float64. home: where each
    stands where it was a part of something, else nought, (F, 3) float64.
    """

    key: str
    corners: np.ndarray
    tint: np.ndarray
    start: np.ndarray
    box: np.ndarray
    home: np.ndarray

    def __len__(self) -> int:
        return len(self.box)

    @property
    def triangles(self) -> int:
        return len(self.corners)


def forms_of(
    key: str, meshes: Sequence[Mesh], tints: Sequence[Sequence[float] | None], pictured: Sequence[bool]
) -> Forms:
    """Return meshes as forms, each as it stands in its own space. tints: a colour for all of each, beside that of its
    materials; pictured: whether all of each shows a picture; else those triangles whose material has one do."""
    corners, colours, boxes = [], [], []
    for mesh, tint, whole in zip(meshes, tints, pictured, strict=True):
        corners.append(corners_of(mesh.points, mesh.normals, mesh.uv, mesh.faces))
        material = np.clip(mesh.material, 0, len(mesh.colours) - 1)
        colour = np.ones((len(material), 3), F32) if len(mesh.colours) < 2 else mesh.colours[material].astype(F32)
        colour *= np.ones(3, F32) if tint is None else np.asarray(tint, F32)
        shows = np.asarray(mesh.pictures)[material] == 0 if mesh.textures else np.zeros(len(material))
        colours.append(np.column_stack([colour, np.ones(len(material)) if whole else shows]).astype(F32))
        boxes.append(mesh.bounds)
    start = np.cumsum([0, *(len(part) for part in corners)]).astype(np.int64)
    return Forms(
        key,
        np.ascontiguousarray(np.concatenate(corners)),
        np.ascontiguousarray(np.concatenate(colours)),
        start,
        np.array(boxes, np.float64),
        np.zeros((len(boxes), 3)),
    )


def corners_of(points: np.ndarray, normals: np.ndarray, uv: np.ndarray, faces: np.ndarray) -> np.ndarray:
    """Return triangles by their corners, as in `Forms`."""
    return np.concatenate([points[faces], normals[faces], uv[faces]], axis=2).astype(F32)


def stock_form(name: str) -> Mesh:
    """Return a form that ships, by one of NAMES: its longest side is a metre."""
    return import_module(f"{__name__}.{name}").build()


def label_and_help(name: str) -> tuple[str, str]:
    """Return its label and what it is good for."""
    module = import_module(f"{__name__}.{name}")
    return module.LABEL, module.HELP
