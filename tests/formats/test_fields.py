"""Fields from files, written here as the VTK file formats are described (VTK User's Guide), and read between their
points as `scipy.interpolate.RegularGridInterpolator` does."""

from __future__ import annotations

import base64
import io
import unittest
import zlib

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import RegularGridInterpolator
from scipy.spatial.transform import Rotation

from kagero.core.document import read_effect
from kagero.core.errors import GeometryProblem
from kagero.core.formats.fields import read_field
from kagero.core.formats.importing import from_arrays, import_file
from kagero.core.geometry import VectorField
from kagero.core.workflows import Playing
from tests.making import document, emitter, row
from tests.making.props import prop
from tests.soak import examples

CHANCE = np.random.default_rng(3)
VALUES = CHANCE.normal(size=(4, 5, 6, 3)).astype(np.float32)  # X, Y, Z
ORIGIN, SPACING = np.array([-1.0, 0.5, 2.0]), np.array([0.5, 0.25, 0.2])


def npz(**arrays) -> bytes:
    out = io.BytesIO()
    np.savez(out, **arrays)
    return out.getvalue()


def vti(
    how: str = "ascii",
    packed: bool = False,
    kind: str = "Float32",
    order: str = "LittleEndian",
    header: str = "UInt32",
    cells: bool = False,
    values: np.ndarray = VALUES,
    together: bool = False,
    direction: str = "",
    name: str = "wind",
) -> bytes:
    """Return VTK image data. together: header and data of plain inline arrays encoded as one, as other writers do."""
    x, y, z = values.shape[:3]
    sign = "<" if order == "LittleEndian" else ">"
    data = values.transpose(2, 1, 0, 3).astype(f"{sign}{'f4' if kind == 'Float32' else 'f8'}").tobytes()
    head = np.dtype(f"{sign}{'u4' if header == 'UInt32' else 'u8'}")
    appended, text, format_ = b"", "", how
    if how == "ascii":
        text = " ".join(repr(float(v)) for v in values.transpose(2, 1, 0, 3).ravel())
    else:
        if packed:
            size = 128
            blocks = [data[i : i + size] for i in range(0, len(data), size)]
            pressed = [zlib.compress(b) for b in blocks]
            last = len(blocks[-1]) if len(blocks[-1]) != size else 0
            lead, body = np.array([len(blocks), size, last, *map(len, pressed)], head).tobytes(), b"".join(pressed)
        else:
            lead, body = np.array([len(data)], head).tobytes(), data
        b64 = (
            base64.b64encode(lead + body)
            if together and not packed
            else base64.b64encode(lead) + base64.b64encode(body)
        )
        if how == "binary":
            text = b64.decode()
        else:
            format_, appended = "appended", (b"AAAA" + lead + body if how == "raw" else b"QUFB" + b64)
    extent = f"0 {x - (0 if cells else 1)} 0 {y - (0 if cells else 1)} 0 {z - (0 if cells else 1)}"
    where = "CellData" if cells else "PointData"
    press = ' compressor="vtkZLibDataCompressor"' if packed else ""
    offset = ' offset="4"' if format_ == "appended" else ""
    result = (
        f'<?xml version="1.0"?><VTKFile type="ImageData" version="1.0" byte_order="{order}" '
        f'header_type="{header}"{press}>'
        f'<ImageData WholeExtent="{extent}" Origin="-1 0.5 2" Spacing="0.5 0.25 0.2"{direction}><Piece '
        f'Extent="{extent}">'
        f'<{where} Vectors="{name}"><DataArray type="{kind}" Name="{name}" NumberOfComponents="3" '
        f'format="{format_}"{offset}>{text}</DataArray>'
        f"</{where}></Piece></ImageData>"
    ).encode()
    if format_ == "appended":
        result += (
            f'<AppendedData encoding="{"raw" if how == "raw" else "base64"}">_'.encode() + appended + b"</AppendedData>"
        )
    return result + b"</VTKFile>"


class Between(unittest.TestCase):
    @given(st.integers(0, 2**32 - 1))
    @settings(max_examples=20)
    def test_trilinear_as_the_reference_library_has_it(self, seed):
        chance = np.random.default_rng(seed)
        field = VectorField(ORIGIN, SPACING, np.ascontiguousarray(VALUES.transpose(2, 1, 0, 3)))
        axes = [ORIGIN[k] + SPACING[k] * np.arange(VALUES.shape[k]) for k in range(3)]
        low, high = field.bounds
        points = chance.uniform(low - 0.2, high + 0.2, (200, 3))
        wanted = RegularGridInterpolator(axes, VALUES.astype(float), bounds_error=False, fill_value=0.0)
        np.testing.assert_allclose(field.at(points), wanted(points), atol=1e-6)
        np.testing.assert_allclose(field.at(points, True), wanted(np.clip(points, low, high)), atol=1e-6)
        np.testing.assert_allclose(
            field.at(np.stack(np.meshgrid(*axes, indexing="ij"), -1).reshape(-1, 3)), VALUES.reshape(-1, 3), atol=1e-6
        )


class Files(unittest.TestCase):
    def same(self, field: VectorField, values=VALUES, origin=ORIGIN, spacing=SPACING):
        np.testing.assert_array_equal(field.values.transpose(2, 1, 0, 3), values.astype(np.float32))
        np.testing.assert_allclose(field.origin, origin)
        np.testing.assert_allclose(field.spacing, spacing)

    def test_npz(self):
        self.same(read_field("a.npz", npz(values=VALUES, origin=ORIGIN, spacing=SPACING)))
        self.same(read_field("a.npz", npz(velocity=VALUES.astype(np.float64))), VALUES, np.zeros(3), np.ones(3))

    def test_vtk_image_data_in_every_encoding(self):
        for how in ("ascii", "binary", "raw", "base64"):
            for packed in (False, True):
                for kind, order, header in (
                    ("Float32", "LittleEndian", "UInt32"),
                    ("Float64", "BigEndian", "UInt64"),
                    ("Float32", "LittleEndian", "UInt64"),
                ):
                    for together in (False, True):
                        with self.subTest(how=how, packed=packed, kind=kind, together=together):
                            self.same(read_field("a.vti", vti(how, packed, kind, order, header, together=together)))

    def test_values_of_cells_stand_in_their_middles(self):
        self.same(read_field("a.vti", vti(cells=True)), origin=ORIGIN + SPACING / 2)

    def test_what_is_brought_in_is_kept(self):
        arrays, facts = import_file("wind.vti", vti("binary", True))
        self.assertEqual((facts["kind"], facts["count"], facts["points"]), ("field", [4, 5, 6], 120))
        self.same(from_arrays(arrays))

    def test_bad_ones_are_refused_with_what_and_where_and_a_way_out(self):
        wrong = VALUES.copy()
        wrong[2, 1, 3, 0] = np.nan
        cases = {
            "no field: it has height (4, 5)": ("a.npz", npz(height=np.zeros((4, 5)))),
            "no field: it has one (2, 2, 2, 3), two (2, 2, 2, 3)": (
                "a.npz",
                npz(one=np.zeros((2, 2, 2, 3)), two=np.zeros((2, 2, 2, 3))),
            ),
            "1 of 120 vectors that are no numbers, the first at point 2, 1, 3": ("a.npz", npz(values=wrong)),
            "its spacing has the shape (2,)": ("a.npz", npz(values=VALUES, spacing=np.ones(2))),
            "must be some metres above 0 apart": ("a.npz", npz(values=VALUES, spacing=np.zeros(3))),
            "empty field": ("a.npz", npz(values=np.zeros((0, 2, 2, 3)))),
            "no NPZ that can be read": ("a.npz", b"PK\x03\x04nothing"),
            "not well-formed": ("a.vti", b"<VTKFile"),
            "no VTK image data": ("a.vti", b'<VTKFile type="PolyData"><PolyData/></VTKFile>'),
            "defines entities": ("a.vti", b'<!DOCTYPE x [<!ENTITY a "b">]><VTKFile/>'),
            "360 numbers were expected and 357 found": ("a.vti", _shorter(vti())),
            "packed by vtkLZ4DataCompressor": ("a.vti", vti("binary", True).replace(b"vtkZLib", b"vtkLZ4")),
            "no array of three components: it has wind with 1": (
                "a.vti",
                vti().replace(b'NumberOfComponents="3"', b'NumberOfComponents="1"'),
            ),
            "turned grid": ("a.vti", vti(direction=' Direction="0 1 0 1 0 0 0 0 1"')),
            "16,000,000 are": ("a.vti", vti().replace(b"0 3 0 4 0 5", b"0 3000 0 4000 0 5000")),
        }
        for words, (name, data) in cases.items():
            with self.subTest(words), self.assertRaises(GeometryProblem) as caught:
                read_field(name, data)
            if "16,000,000" in words:
                self.assertIn("16,000,000", str(caught.exception))
            else:
                self.assertIn(words, str(caught.exception))
            self.assertTrue(caught.exception.findings[0].remedy)

    @given(st.binary(max_size=400), st.integers(0, 900))
    @settings(max_examples=examples(60))
    def test_changed_at_random_it_is_read_or_refused(self, noise, at):
        for data in (vti("binary", True), vti("raw", True), npz(values=VALUES)):
            try:
                read_field("a.npz" if data[:2] == b"PK" else "a.vti", data[:at] + noise + data[at + len(noise) :])
            except GeometryProblem as problem:
                self.assertTrue(problem.findings[0].remedy)


def _shorter(data: bytes) -> bytes:
    """Return ASCII data with three numbers less."""
    start = data.index(b'format="ascii">') + len(b'format="ascii">')
    stop = data.index(b"</DataArray>")
    return data[:start] + b" ".join(data[start:stop].split()[:-3]) + data[stop:]


class Pushing(unittest.TestCase):
    def blown(self, frame: int, values: np.ndarray, by: str, content=None, **more) -> np.ndarray:
        """Return place and velocity of a particle that starts at (1, 0, 0) in the middle of a field that stands there,
        turned by 90° about y."""
        air = prop(
            "air",
            kind="field",
            file={"content": "5" * 32, "name": "wind.npz"},
            position=row([1, 0, 0]),
            rotation=row([0, np.pi / 2, 0]),
            scale=row([2.0, 2.0, 2.0]),
        )
        push = {"kind": "field", "uid": "f", "prop": "air", "by": by, "strength": row(1.0), **more}
        one = emitter(
            births__rate=row(0),
            births__bursts=[{"uid": "b", "frame": 0, "count": 1}],
            births__lifespan=row(90.0),
            births__launch__speed=row(0.0),
            births__place__centre=row([1.0, 0.0, 0.0]),
            forces=[push],
        )
        field = VectorField(np.full(3, -5.0), np.full(3, 5.0), values)
        clip = Playing(read_effect({**document(one), "props": [air]}), content=content or (lambda _: field))
        now = clip.frames(frame)[0].population
        return np.array([c[0] for c in now.position] + [c[0] for c in now.velocity], float)

    def test_an_even_field_pushes_or_carries_turned_as_its_prop_and_not_grown(self):
        even = np.broadcast_to(np.float32([0.5, 0.2, 0.0]), (3, 3, 3, 3)).copy()
        direction = Rotation.from_euler("y", np.pi / 2).apply([0.5, 0.2, 0.0])
        found = self.blown(25, even, "push")
        np.testing.assert_allclose(found[3:], direction, atol=1e-5)  # a t
        np.testing.assert_allclose(found[:3] - [1, 0, 0], direction / 2, atol=1e-5)  # a t² / 2
        found = self.blown(25, even, "speed", coupling=row(3.0))
        np.testing.assert_allclose(found[3:], direction * (1 - np.exp(-3)), atol=1e-5)

    def test_a_field_whose_file_is_gone_does_nothing_and_the_clip_goes_on(self):
        def gone(content):
            raise GeometryProblem("A file of this effect is not here.", remedy="Bring it in again.")

        np.testing.assert_array_equal(self.blown(25, VALUES, "push", content=gone), [1, 0, 0, 0, 0, 0])


if __name__ == "__main__":
    unittest.main()
