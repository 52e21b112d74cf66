"""Isosurface of a field on a grid, as triangles (Lorensen and Cline, "Marching cubes", SIGGRAPH 1987).

A cube's triangles follow from its faces alone. On an ambiguous face the inside is cut off corner by corner, so that
neighbouring cubes agree and the surface has no holes (the ambiguity found by Duerst, "Additional reference to marching
cubes", Computer Graphics 22, 1988).
"""

from __future__ import annotations

import numpy as np

from .compiled import kernel

# a cube's corners by their bits: x, y, z; its edges by their two corners, along x, y and z; its faces against the
# clock, seen from outside
EDGES = [(a, a | bit) for bit in (1, 2, 4) for a in range(8) if not a & bit]
FACES = [(0, 4, 6, 2), (1, 3, 7, 5), (0, 1, 5, 4), (2, 6, 7, 3), (0, 2, 3, 1), (4, 5, 7, 6)]
MOST = 5  # triangles of a cube


def _table() -> np.ndarray:
    """Return the cube edges on which the corners of each case's triangles lie, (256, 5, 3) int8, -1 for none. Bit k of
    a case's number says whether corner k is inside."""
    number = {frozenset(edge): i for i, edge in enumerate(EDGES)}
    table = np.full((256, MOST, 3), -1, np.int8)
    for cube in range(256):
        follows: dict[int, int] = {}
        for face in FACES:
            inside = [bool(cube >> corner & 1) for corner in face]
            cross = [number[frozenset((face[k], face[(k + 1) % 4]))] for k in range(4)]
            for k in range(4):
                if not inside[k] and inside[(k + 1) % 4]:  # a run of inside corners begins; to where it ends
                    end = (k + 1) % 4
                    while inside[(end + 1) % 4]:
                        end = (end + 1) % 4
                    follows[cross[end]] = cross[k]
        count = 0
        while follows:
            first, at = next(iter(follows.items()))
            loop = [first]
            del follows[first]
            while at != first:
                loop.append(at)
                at = follows.pop(at)
            for k in range(1, len(loop) - 1):
                table[cube, count] = loop[0], loop[k + 1], loop[k]
                count += 1
    return table


TABLE = _table()
COUNTS = (TABLE[:, :, 0] >= 0).sum(axis=1).astype(np.int64)
_ENDS = np.array(EDGES, np.int64)


def surface(field: np.ndarray, level: float, origin: np.ndarray, cell: float) -> tuple[np.ndarray, np.ndarray]:
    """Return points (V, 3) float32, metres, and triangles (T, 3) int32 of an isosurface, counter-clockwise seen from
    outside (where the field is lower).

    field: (nx, ny, nz) float32, its points `cell` metres apart from origin (3,) on; the surface ends at the grid's
    border.
    """
    field = np.ascontiguousarray(field, np.float32)
    points, triangles = _count(field, np.float32(level), COUNTS)
    vertices, faces = np.empty((points, 3), np.float32), np.empty((triangles, 3), np.int32)
    if triangles:
        _fill(
            field, np.float32(level), np.asarray(origin, np.float64), float(cell), TABLE, COUNTS, _ENDS, vertices, faces
        )
    return vertices, faces


@kernel("Tuple((int64, int64))(float32[:,:,::1], float32, int64[::1])")
def _count(field, level, counts):
    """Return the numbers of points and triangles."""
    nx, ny, nz = field.shape
    points, triangles = 0, 0
    for i in range(nx):
        for j in range(ny):
            for k in range(nz):
                here = field[i, j, k] >= level
                if i + 1 < nx and here != (field[i + 1, j, k] >= level):
                    points += 1
                if j + 1 < ny and here != (field[i, j + 1, k] >= level):
                    points += 1
                if k + 1 < nz and here != (field[i, j, k + 1] >= level):
                    points += 1
                if i + 1 < nx and j + 1 < ny and k + 1 < nz:
                    cube = 0
                    for corner in range(8):
                        if field[i + (corner & 1), j + (corner >> 1 & 1), k + (corner >> 2)] >= level:
                            cube |= 1 << corner
                    triangles += counts[cube]
    return points, triangles


@kernel(
    "void(float32[:,:,::1], float32, float64[::1], float64, int8[:,:,::1], int64[::1], int64[:,::1], float32[:,::1], "
    "int32[:,::1])",
)
def _fill(field, level, origin, cell, table, counts, ends, points, faces):
    """Write points and triangles, one slab of cubes at a time, so that the memory for shared edges stays small."""
    nx, ny, nz = field.shape
    known = np.full((2, ny, nz, 3), -1, np.int32)  # of edges that begin at places of two layers, along x, y and z
    vertices, count = 0, 0
    for i in range(nx - 1):
        if i > 0:
            known[0] = known[1]
            known[0, :, :, 0] = -1
        known[1] = -1
        for j in range(ny - 1):
            for k in range(nz - 1):
                cube = 0
                for corner in range(8):
                    if field[i + (corner & 1), j + (corner >> 1 & 1), k + (corner >> 2)] >= level:
                        cube |= 1 << corner
                for n in range(counts[cube]):
                    for c in range(3):
                        edge = table[cube, n, c]
                        axis = edge // 4
                        a, b = ends[edge, 0], ends[edge, 1]
                        di, dj, dk = a & 1, a >> 1 & 1, a >> 2
                        number = known[di, j + dj, k + dk, axis]
                        if number < 0:
                            number = vertices
                            vertices += 1
                            known[di, j + dj, k + dk, axis] = number
                            x, y = field[i + di, j + dj, k + dk], field[i + (b & 1), j + (b >> 1 & 1), k + (b >> 2)]
                            share = min(max((level - x) / (y - x), np.float32(0.0)), np.float32(1.0))
                            points[number, 0] = origin[0] + cell * (i + di + (share if axis == 0 else np.float32(0.0)))
                            points[number, 1] = origin[1] + cell * (j + dj + (share if axis == 1 else np.float32(0.0)))
                            points[number, 2] = origin[2] + cell * (k + dk + (share if axis == 2 else np.float32(0.0)))
                        faces[count, c] = number
                    count += 1
