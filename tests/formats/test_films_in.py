"""Films and cameras in: films against PyAV's own decoding in order, cameras of USD against the format's own library."""

from __future__ import annotations

import io
import math
import unittest
from typing import Any

import av
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from pxr import Gf, UsdGeom

from kagero.core.catalog import props_of_file
from kagero.core.document import read_effect
from kagero.core.errors import GeometryProblem
from kagero.core.formats.importing import from_arrays, import_file
from kagero.core.workflows import Playing, RenderRequest, render_frame
from tests.making import document
from tests.making.films import COUNT, RATE, a_film, film, stage
from tests.making.pictures import one

FILMS = ("alpha", "av1", "vp9")


def brought(kind: str) -> tuple[Any, dict[str, Any]]:
    arrays, facts = import_file("water.mp4" if kind == "av1" else "water.webm", a_film(kind))
    return from_arrays(arrays), facts


class Films(unittest.TestCase):
    def test_facts(self):
        for kind in FILMS:
            _, facts = brought(kind)
            self.assertEqual((facts["kind"], facts["pictures"], facts["rate"]), ("film", COUNT, [24000, 1001]), kind)
            self.assertEqual((facts["width"], facts["height"]), (64, 48))

    @settings(max_examples=12, deadline=None)
    @given(order=st.lists(st.integers(0, COUNT - 1), min_size=1, max_size=12), kind=st.sampled_from(FILMS))
    def test_any_picture_at_any_time_is_that_of_the_whole_film_in_order(self, order, kind):
        found, _ = brought(kind)
        with av.open(io.BytesIO(a_film(kind))) as file:
            if kind == "alpha":
                decoder = av.CodecContext.create("libvpx-vp9", "r")
                truth = [
                    f.to_ndarray(format="rgba")
                    for p in file.demux(video=0)
                    for f in decoder.decode(p if p.size else None)
                ]
            else:
                truth = [f.to_ndarray(format="rgba") for f in file.decode(video=0)]
        self.assertEqual(len(truth), COUNT)
        for number in order:
            pixels = found.picture(number).pixels.astype(np.float64)
            encoded = np.where(
                pixels[..., :3] <= 0.0031308, pixels[..., :3] * 12.92, 1.055 * pixels[..., :3] ** (1 / 2.4) - 0.055
            )
            np.testing.assert_allclose(encoded * 255, truth[number][..., :3], atol=0.6)
            np.testing.assert_allclose(pixels[..., 3] * 255, truth[number][..., 3], atol=0.3)

    def test_damaged_ones_are_refused_in_words(self):
        for name, data, words in (
            ("cut.webm", a_film("vp9")[:200], "damaged"),
            ("cut.mp4", a_film("av1")[: len(a_film("av1")) // 2], "no pictures"),
            ("none.webm", b"\x1a\x45\xdf\xa3" + bytes(400), "damaged"),
            ("large.webm", film("libvpx-vp9", size=(16_400, 16)), "16,400"),
        ):
            with self.assertRaises(GeometryProblem, msg=name) as caught:
                import_file(name, data)
            self.assertIn(words, caught.exception.findings[0].message)

    def test_a_film_is_a_backplate_that_moves_at_its_own_rate(self):
        found, facts = brought("vp9")
        (offer,) = props_of_file({**facts, "content": "a" * 32, "name": "water.webm"})
        plate = {**offer["value"], "uid": "plate", "shown": "hidden"}
        body = {
            **document(one((9.0, 9.0, 0.0)), last_frame=40),
            "props": [plate],
            "frame": {"behind": "plate", "plate": "plate", "fit": "stretch"},
        }
        playing = Playing(read_effect(body), content=lambda _: found)
        rate = float(playing.plan.frame_rate)
        for frame in (0, 7, 19, 33):
            number = math.floor(frame / rate * RATE + 1e-6) % COUNT  # it loops
            seen = render_frame(playing, frame, RenderRequest(64, 48)).over()[24, 32, :3]
            np.testing.assert_allclose(
                seen, found.picture(number).pixels[24, 32, :3].astype(float), atol=2e-3, err_msg=str(frame)
            )


def renamed(held: dict[str, Any], name: str) -> dict[str, Any]:
    """Return a row whose responses have uids of their own, as the interface gives them."""
    return {**held, "responses": [{**each, "uid": f"{name}-{k}"} for k, each in enumerate(held["responses"])]}


class Usds(unittest.TestCase):
    def test_what_a_camera_sees_is_where_the_formats_own_library_puts_it(self):
        for up, unit in (("Z", 0.01), ("Y", 1.0)):
            stage_of_props, camera = stage(up, unit)
            op = camera.AddTransformOp()
            about = Gf.Vec3d(0, 0, 1) if up == "Z" else Gf.Vec3d(0, 1, 0)
            for code in (1, 25):
                look = Gf.Matrix4d().SetLookAt(
                    Gf.Vec3d(1.5 + code / 50, 2.0, 1.8) / unit, Gf.Vec3d(0.1, -0.2, 0.3) / unit, about
                )
                op.Set(look.GetInverse(), code)
            _, facts = import_file("shot.usda", stage_of_props.GetRootLayer().ExportToString().encode())
            (offer,) = props_of_file({**facts, "content": "a" * 32, "name": "shot.usda"})
            eye = {**offer["value"], "uid": "eye", "rotation": renamed(offer["value"]["rotation"], "turn")}
            for code in (1, 13, 25):
                point = Gf.Vec3d(0.2, 0.1, 0.4)
                frustum = camera.GetCamera(code).frustum
                truth = (frustum.ComputeViewMatrix() * frustum.ComputeProjectionMatrix()).Transform(point / unit)
                place = (point[0], point[2], -point[1]) if up == "Z" else tuple(point)
                scene = {
                    **document(one(place, size=0.05), frame_rate=[24, 1], last_frame=30),
                    "props": [eye],
                    "frame": {"camera": "eye"},
                }
                seen = render_frame(Playing(read_effect(scene)), code - 1, RenderRequest(640, 360, alone=True)).light[
                    ..., 3
                ]
                rows, columns = np.indices(seen.shape)
                x, y = ((each * seen).sum() / seen.sum() + 0.5 for each in (columns, rows))
                np.testing.assert_allclose(
                    [x, y],
                    [(truth[0] + 1) * 320, (1 - truth[1]) * 180],
                    atol=0.6 if code != 13 else 1.5,
                    err_msg=f"{up} {code}",
                )  # between keys the library goes straight in matrices, a camera here in angles

    def test_a_camera_without_a_lens_is_named(self):
        stage_of_props, _ = stage()
        UsdGeom.Camera.Define(stage_of_props, "/plain")
        _, facts = import_file("shot.usda", stage_of_props.GetRootLayer().ExportToString().encode())
        (remark,) = facts["remarks"]
        self.assertIn("plain has no lens", remark)

    def test_what_cannot_be_read_is_refused_in_words(self):
        meshes, _ = stage()
        meshes.RemovePrim("/rig/shot")
        pointing, _ = stage()
        pointing.GetRootLayer().subLayerPaths.append("/etc/other.usda")
        for data, words in (
            (meshes.GetRootLayer().ExportToString().encode(), "no cameras"),
            (pointing.GetRootLayer().ExportToString().encode(), "outside itself"),
            (b"#usda 1.0\ndef Camera {", "damaged"),
            (b"PXR-USDC" + bytes(90), "damaged"),
        ):
            with self.assertRaises(GeometryProblem) as caught:
                import_file("shot.usda", data)
            self.assertIn(words, caught.exception.findings[0].message)

    def test_units_and_axes_as_they_are_said_to_be(self):
        """The same file, said to be in metres with y up: a hundred times as far, along other axes."""
        stage_of_props, camera = stage()
        camera.AddTranslateOp().Set((100.0, 200.0, 300.0))
        _, facts = import_file("shot.usda", stage_of_props.GetRootLayer().ExportToString().encode())
        file = {**facts, "content": "a" * 32, "name": "shot.usda"}
        self.assertEqual(props_of_file(file)[0]["value"]["position"]["base"], [1.0, 3.0, -2.0])
        self.assertEqual(
            props_of_file({**file, "unit": 1.0, "up": "y"})[0]["value"]["position"]["base"], [100.0, 200.0, 300.0]
        )
