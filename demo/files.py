"""What the demo's own files hold, for scripts and tests that play its effects without a server."""

from __future__ import annotations

from functools import cache
from typing import Any

from demo.parts import PROPS
from kagero.core.errors import GeometryProblem
from kagero.core.formats.importing import content_hash, from_arrays, import_file


@cache
def content(wanted: str) -> Any:
    """Return the mesh or picture of a file in demo/props by its content's hash. Raises GeometryProblem where there is
    none."""
    for path in sorted(PROPS.iterdir()):
        data = path.read_bytes()
        if content_hash(data) == wanted:
            return from_arrays(import_file(path.name, data)[0])
    raise GeometryProblem("A file of this effect is not among the demo's.")
