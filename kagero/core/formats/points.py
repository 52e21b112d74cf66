"""Points from tables: CSV with x, y, z, by their names or as the first three columns."""

from __future__ import annotations

import re

import numpy as np

from ..errors import GeometryProblem

MOST_ROWS, MOST_BYTES = 4_000_000, 256 * 1024 * 1024


def read_points(name: str, data: bytes) -> np.ndarray:
    """Return points (n, 3) float32. A first line that is no numbers names the columns. Raises GeometryProblem with the
    line that is wrong."""
    if len(data) > MOST_BYTES:
        raise GeometryProblem(
            f"{name[:80]} has {len(data):,} bytes; {MOST_BYTES:,} are allowed.", remedy="Thin the points."
        )
    try:
        lines = data.decode("utf-8-sig").splitlines()
    except UnicodeDecodeError as problem:
        raise GeometryProblem(f"{name[:80]} is not text in UTF-8.", remedy="Save it as CSV.") from problem
    lines = [line for line in lines if line.strip() and not line.lstrip().startswith("#")]
    if not lines:
        raise GeometryProblem(f"{name[:80]} is empty.", remedy="Give it lines of x, y, z.")
    if len(lines) > MOST_ROWS:
        raise GeometryProblem(
            f"{name[:80]} has {len(lines):,} lines; {MOST_ROWS:,} are allowed.", remedy="Thin the points."
        )
    split = re.compile(r"\s*[,;\t]\s*|\s+")
    first = split.split(lines[0].strip())
    columns = [0, 1, 2]
    start = 0
    if not all(_number(word) for word in first[:3]):
        named = {word.strip("\"' ").lower(): i for i, word in enumerate(first)}
        for names in (
            ("x", "y", "z"),
            ("px", "py", "pz"),
            ("position.x", "position.y", "position.z"),
            ("position_x", "position_y", "position_z"),
        ):
            if all(n in named for n in names):
                columns = [named[n] for n in names]
        start = 1
    points = np.empty((len(lines) - start, 3))
    for row, line in enumerate(lines[start:]):
        words = split.split(line.strip())
        try:
            points[row] = [float(words[c]) for c in columns]
        except (ValueError, IndexError):
            raise GeometryProblem(
                f"Line {row + start + 1} of {name[:80]} has no three numbers: {line[:40]!r}.",
                remedy="Correct it there.",
            ) from None
    if not len(points):
        raise GeometryProblem(f"{name[:80]} has no points.", remedy="Give it lines of x, y, z.")
    if not np.isfinite(points).all() or np.abs(points).max() > 1e7:
        bad = int(np.flatnonzero((~np.isfinite(points)).any(axis=1) | (np.abs(points) > 1e7).any(axis=1))[0])
        raise GeometryProblem(
            f"Line {bad + start + 1} of {name[:80]} is no place: {lines[bad + start][:40]!r}.",
            remedy="Correct it there.",
        )
    return points.astype(np.float32)


def _number(word: str) -> bool:
    try:
        float(word)
    except ValueError:
        return False
    return True
