"""Geometry of props, from their documents and files."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable

import numpy as np

from ..engine import prepare_reference
from ..errors import GeometryProblem
from ..formula import figure_points
from ..geometry import ImportedGeometry, Mesh, Path
from ..geometry.brush import apply_stroke
from ..memory import PROCESS
from ..parts.props import PropPart
from ..parts.props.base import Maker
from ..program import Program, ProgramValues
from ..rows.model import fields_of

Content = Callable[[str], ImportedGeometry]


def no_content(content: str) -> ImportedGeometry:
    raise GeometryProblem("A file of this effect is not here.", remedy="Bring it in again.")


def geometry_key(prop: PropPart) -> str:
    """Return a text that is equal for props with equal geometry, wherever they are."""
    return _keys(prop)[-1]


def _keys(prop: PropPart) -> list[str]:
    """Return the keys of a prop without strokes, with its first stroke, its first two, and so on; each is made from the
    one before."""
    shaped = {facts.name for facts in fields_of(type(prop)) if "shaped" in facts.marks}
    data = {"kind": prop.kind, **prop.model_dump(mode="json", include=shaped)}
    here = hashlib.blake2b(json.dumps(data, sort_keys=True).encode(), digest_size=12)
    keys = [here.hexdigest()]
    for stroke in getattr(prop, "strokes", ()):
        here.update(f"{stroke.kind} {stroke.radius!r} {stroke.strength!r} {stroke.on} {stroke.amount!r}".encode())
        here.update(np.asarray(stroke.points, np.float64).tobytes())
        keys.append(here.hexdigest())
    return keys


_known = PROCESS.region("geometry", 1.5)


def geometry(prop: PropPart, content: Content = no_content) -> Mesh | Path | None:
    """Return a prop's geometry in its own space, metres; None for cameras and masks. Raises GeometryProblem for a
    missing file.

    Equal props share one geometry and its cached results.
    """
    if prop.camera or prop.mask:
        return None
    keys = _keys(prop)
    start = len(keys) - 1  # strokes are put on what is known with the most of them
    while start > 0 and (known := _known.get(keys[start])) is None:
        start -= 1
    if start == 0:
        known = _known(keys[0], lambda: prop.geometry(geometry_builder(content)))
    for number, stroke in enumerate(getattr(prop, "strokes", ())[start:], start):
        if isinstance(known, Mesh) and stroke.on and stroke.amount:
            known = apply_stroke(
                known, stroke.kind, stroke.radius, stroke.strength * stroke.amount, np.asarray(stroke.points)
            )
        if number + 2 == len(keys):
            _known.put(keys[-1], known)
    return known


def geometry_builder(content: Content) -> Maker:
    """Return what props use to build their geometry and pictures."""
    return Maker(content, _run)


def _run(program: Program, values: ProgramValues) -> np.ndarray:
    return figure_points(lambda inputs, count: prepare_reference(program).run(values, inputs, count))
