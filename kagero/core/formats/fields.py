"""Fields of vectors from files: NPZ, and VTK image data (the XML of the VTK file formats, VTK User's Guide: `.vti`)."""

from __future__ import annotations

import base64
import binascii
import io
import re
import xml.etree.ElementTree as ElementTree
import zipfile
import zlib
from collections.abc import Iterator
from typing import Any

import numpy as np

from ..errors import GeometryProblem
from ..geometry import VectorField

MOST_POINTS, MOST_BYTES = 16_000_000, 512 * 1024 * 1024
TYPES = {
    "Float32": "f4",
    "Float64": "f8",
    "Int8": "i1",
    "UInt8": "u1",
    "Int16": "i2",
    "UInt16": "u2",
    "Int32": "i4",
    "UInt32": "u4",
    "Int64": "i8",
    "UInt64": "u8",
}
EXPORT_AGAIN = "Export the field again."


def is_field(name: str) -> bool:
    return name.lower().endswith((".npz", ".vti"))


def read_field(name: str, data: bytes) -> VectorField:
    """Return the field that a file holds. Raises GeometryProblem: what is wrong with it, and what to do."""
    if len(data) > MOST_BYTES:
        raise GeometryProblem(
            f"{name[:80]} has {len(data):,} bytes; {MOST_BYTES:,} are allowed.", remedy="Thin the field."
        )
    field = _npz(name, data) if name.lower().endswith(".npz") else _vti(name, data)
    if not (np.isfinite(field.origin).all() and np.isfinite(field.spacing).all() and (field.spacing > 0).all()):
        raise GeometryProblem(
            f"{name[:80]}: its points must be some metres above 0 apart.", remedy="Correct its spacing."
        )
    bad = ~np.isfinite(field.values).all(axis=-1)
    if bad.any():
        z, y, x = (int(i[0]) for i in np.nonzero(bad))
        raise GeometryProblem(
            f"{name[:80]} has {int(bad.sum()):,} of {bad.size:,} vectors that are no numbers, the first at point {x}, "
            f"{y}, {z} (x, y, z, from 0).",
            remedy="Fill them, with 0 where there is nothing, and export again.",
        )
    return field


def _checked(name: str, values: np.ndarray, origin: Any, spacing: Any) -> VectorField:
    if values.size // 3 > MOST_POINTS:
        raise GeometryProblem(
            f"{name[:80]} has {values.size // 3:,} points; {MOST_POINTS:,} are allowed.", remedy="Thin the field."
        )
    if not values.size:
        raise GeometryProblem(f"{name[:80]} is an empty field.", remedy=EXPORT_AGAIN)
    return VectorField(
        np.asarray(origin, np.float64), np.asarray(spacing, np.float64), np.ascontiguousarray(values, np.float32)
    )


# NPZ
# --------------------------------------------------------------------------------------------------------------------
def _npz(name: str, data: bytes) -> VectorField:
    """values (X, Y, Z, 3): by that name, or the one array of such a shape; origin and spacing (3,), in metres: 0 and 1
    without them."""
    remedy = "A field has an array `values` of the shape (X, Y, Z, 3), and `origin` and `spacing` of three metres."
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            size = sum(each.file_size for each in packed.infolist())
        if size > MOST_BYTES:
            raise GeometryProblem(
                f"{name[:80]} unpacks to {size:,} bytes; {MOST_BYTES:,} are allowed.", remedy="Thin the field."
            )
        with np.load(io.BytesIO(data), allow_pickle=False) as found:
            arrays = {key: found[key] for key in found.files}
    except (
        ValueError,
        OSError,
        EOFError,
        zipfile.BadZipFile,
        zlib.error,
        NotImplementedError,
        RuntimeError,
        KeyError,
    ) as problem:
        raise GeometryProblem(
            f"{name[:80]} is no NPZ that can be read: {str(problem)[:100]}.", remedy=remedy
        ) from problem
    fits = [
        key for key, array in arrays.items() if array.ndim == 4 and array.shape[3] == 3 and array.dtype.kind in "fiu"
    ]
    key = "values" if "values" in fits else fits[0] if len(fits) == 1 else None
    if key is None:
        there = ", ".join(f"{key} {array.shape}" for key, array in list(arrays.items())[:8]) or "nothing"
        raise GeometryProblem(f"{name[:80]} holds no field: it has {there}.", remedy=remedy)
    place = {}
    for what, usual in (("origin", 0.0), ("spacing", 1.0)):
        given = np.asarray(arrays.get(what, np.full(3, usual)))
        if given.dtype.kind not in "fiu" or given.size not in (1, 3):
            raise GeometryProblem(f"{name[:80]}: its {what} has the shape {given.shape}.", remedy=remedy)
        place[what] = np.broadcast_to(given.reshape(-1).astype(np.float64), (3,))
    return _checked(name, arrays[key].transpose(2, 1, 0, 3), place["origin"], place["spacing"])


# VTK image data
# ---------------------------------------------------------------------------------------------------------
def _vti(name: str, data: bytes) -> VectorField:
    head, raw = data, b""
    at = re.search(rb"<AppendedData[^>]*encoding\s*=\s*[\"'](raw|base64)[\"'][^>]*>", data)
    encoding = ""
    if at is not None:  # what follows may be bytes that are no XML
        encoding = at.group(1).decode()
        start = data.index(b"_", at.end()) + 1 if b"_" in data[at.end() :] else len(data)
        stop = data.rfind(b"</AppendedData>")
        raw, head = data[start : stop if stop >= start else len(data)], data[: at.start()] + b"</VTKFile>"
    if b"<!DOCTYPE" in head or b"<!ENTITY" in head:
        raise GeometryProblem(f"{name[:80]} defines entities, which may hide anything.", remedy=EXPORT_AGAIN)
    try:
        root = ElementTree.fromstring(head)  # expat, without a document type: nothing is fetched or expanded
    except (ElementTree.ParseError, ValueError, RecursionError) as problem:
        raise GeometryProblem(f"{name[:80]} is not well-formed: {str(problem)[:80]}.", remedy=EXPORT_AGAIN) from problem
    image = root.find("ImageData")
    if root.tag != "VTKFile" or image is None:
        raise GeometryProblem(
            f"{name[:80]} is no VTK image data.",
            remedy="Export the field as image data (.vti): a grid with even spacing.",
        )
    try:
        return _image(name, root, image, _Blocks(root, raw, encoding))
    except (ValueError, IndexError, zlib.error, binascii.Error, KeyError, OverflowError) as problem:
        raise GeometryProblem(
            f"{name[:80]} cannot be read as VTK image data: {str(problem)[:100]}.", remedy=EXPORT_AGAIN
        ) from problem


def _image(name: str, root: ElementTree.Element, image: ElementTree.Element, blocks: _Blocks) -> VectorField:
    whole = _numbers(image.get("WholeExtent", ""), 6).astype(np.int64)
    origin, spacing = (_numbers(image.get(key, usual), 3) for key, usual in (("Origin", "0 0 0"), ("Spacing", "1 1 1")))
    turn = _numbers(image.get("Direction", "1 0 0 0 1 0 0 0 1"), 9).reshape(3, 3)
    if not np.allclose(turn, np.eye(3), atol=1e-6):
        raise GeometryProblem(
            f"{name[:80]} is a turned grid.", remedy="Export it with its axes along x, y and z, and turn the prop."
        )
    low, cells = whole[::2], whole[1::2] - whole[::2]
    if (cells < 0).any():
        raise ValueError(f"its extent is {image.get('WholeExtent')}")
    values: np.ndarray | None = None
    on_cells = False
    for piece in image.findall("Piece"):
        extent = _numbers(piece.get("Extent", image.get("WholeExtent", "")), 6).astype(np.int64)
        array, on_cells = _vectors(name, piece)
        size = (extent[1::2] - extent[::2]) + (0 if on_cells else 1)
        total = np.maximum(cells, 1) if on_cells else cells + 1
        if (size < 1).any() or int(total.prod()) > MOST_POINTS:
            raise GeometryProblem(
                f"{name[:80]} has {int(total.prod()):,} points; up to {MOST_POINTS:,} are read.",
                remedy="Thin the field.",
            )
        flat = blocks.read(array, int(size.prod()) * 3)
        if values is None:
            values = np.zeros((*total[::-1], 3), np.float32)
        x, y, z = extent[::2] - low
        values[z : z + size[2], y : y + size[1], x : x + size[0]] = flat.reshape(size[2], size[1], size[0], 3)
    if values is None:
        raise ValueError("it has no piece")
    return _checked(name, values, origin + spacing * (low + (0.5 if on_cells else 0.0)), spacing)


def _vectors(name: str, piece: ElementTree.Element) -> tuple[ElementTree.Element, bool]:
    """Return the array of vectors of a piece, and whether it is of its cells, not its points."""
    seen = []
    for where in ("PointData", "CellData"):
        group = piece.find(where)
        arrays = [] if group is None else group.findall("DataArray")
        chosen = None if group is None else group.get("Vectors")
        for array in sorted(arrays, key=lambda each: each.get("Name") != chosen):
            if array.get("NumberOfComponents") == "3":
                return array, where == "CellData"
        seen += [f"{array.get('Name', '?')} with {array.get('NumberOfComponents', '1')}" for array in arrays]
    there = f": it has {', '.join(seen[:6])}" if seen else ""
    raise GeometryProblem(
        f"{name[:80]} has no array of three components{there}.",
        remedy="Export the vectors as one array of three components.",
    )


def _numbers(text: str, count: int) -> np.ndarray:
    numbers = np.array([float(word) for word in text.split()])
    if len(numbers) != count:
        raise ValueError(f"{count} numbers were expected in {text[:40]!r}")
    return numbers


class _Blocks:
    """Reads data arrays: as text, inline or appended, plain or compressed by zlib."""

    def __init__(self, root: ElementTree.Element, raw: bytes, encoding: str):
        self.order = ">" if root.get("byte_order", "LittleEndian") == "BigEndian" else "<"
        self.header = np.dtype(f"{self.order}{TYPES.get(root.get('header_type', 'UInt32'), 'u4')}")
        packed = root.get("compressor")
        if packed not in (None, "", "vtkZLibDataCompressor"):
            raise ValueError(f"it is packed by {str(packed)[:40]}; plain and zlib are read")
        self.packed, self.raw, self.encoding = bool(packed), raw, encoding

    def read(self, array: ElementTree.Element, count: int) -> np.ndarray:
        """Return so many numbers of a data array, float64 or as they are."""
        kind = TYPES.get(array.get("type", ""))
        if kind is None:
            raise ValueError(f"its numbers are {array.get('type')!r}")
        how = array.get("format", "ascii")
        if how == "ascii":
            numbers = np.array((array.text or "").split(), np.float64)
        else:
            if how == "appended":
                start = int(array.get("offset", "0"))
                data = self.raw[start:] if self.encoding == "raw" else b"".join(_decoded(self.raw[start:]))
            else:
                data = b"".join(_decoded((array.text or "").strip().encode()))
            numbers = np.frombuffer(self._block(data, count * np.dtype(kind).itemsize), np.dtype(f"{self.order}{kind}"))
        if len(numbers) != count:
            raise ValueError(f"{count:,} numbers were expected and {len(numbers):,} found")
        return numbers

    def _block(self, data: bytes, expected: int) -> bytes:
        size = self.header.itemsize
        if not self.packed:
            length = int(np.frombuffer(data[:size], self.header)[0])
            if length != expected:
                raise ValueError(f"{expected:,} bytes were expected and {length:,} announced")
            return data[size : size + length]
        blocks, each, last = (int(n) for n in np.frombuffer(data[: 3 * size], self.header))
        total = blocks * each if not last else (blocks - 1) * each + last
        if total != expected:
            raise ValueError(f"{expected:,} bytes were expected and {total:,} announced")
        sizes = np.frombuffer(data[3 * size : (3 + blocks) * size], self.header).astype(np.int64)
        chunks, at = [], (3 + blocks) * size
        for length in sizes.tolist():
            chunks.append(zlib.decompressobj().decompress(data[at : at + length], each))
            at += length
        return b"".join(chunks)


def _decoded(text: bytes) -> Iterator[bytes]:
    """Yield what base64 stands for. A header before packed data ends with padding of its own: what follows begins
    anew."""
    text = b"".join(text.split())
    end = text.find(b"<")
    for piece in re.findall(rb"[A-Za-z0-9+/]+={0,2}", text if end < 0 else text[:end]):
        yield base64.b64decode(piece + b"=" * (-len(piece) % 4))
