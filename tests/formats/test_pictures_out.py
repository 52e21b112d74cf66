"""Pictures, films, sheets and passes that leave, read back by other libraries: OpenEXR, PyAV's decoders, Pillow; depth,
velocity and normals against what is projected by hand."""

from __future__ import annotations

import io
import json
import math
import os
import tempfile
import unittest
import zipfile
from pathlib import Path
from typing import Any

import av
import numpy as np
import OpenEXR
from PIL import Image

from kagero.core.document import read_effect
from kagero.core.errors import BudgetError, RequestError
from kagero.core.formats.exporters import EXPORTERS
from kagero.core.kernels.colour import srgb_to_linear
from kagero.core.kernels.hashes import murmur3, name_to_float
from kagero.core.workflows import Playing, RenderRequest, estimate, export, exporter_of, render_frame
from kagero.core.workflows.passes import take_passes
from tests.making import document, row
from tests.making.pictures import one

BALL = {
    "kind": "shape",
    "uid": "ball",
    "name": "Ball",
    "shape": "sphere",
    "radius": 0.4,
    "position": row([0.0, 1.0, 0.0]),
}
SIZE = (96, 72)
FOCAL = 72 / (2 * math.tan(0.35))


def played(*emitters: dict[str, Any], **more: Any) -> Playing:
    return Playing(read_effect({**document(*emitters, last_frame=11), **more}))


def written(
    collected: Playing, kind: str, first: int = 0, last: int = 3, size: tuple[int, int] = SIZE, **options: Any
) -> bytes:
    exporter = exporter_of(collected, kind, first, last, size, None, options)
    stream = io.BytesIO()
    exporter.open(stream)
    export(collected, exporter)
    return stream.getvalue()


def scene() -> Playing:
    return played(
        one((-0.6, 1.75, 0.0), (2.0, 0.0, 0.0), size=0.5),
        one((0.5, 1.2, 0.0), size=0.4, uid="two", colour=(0.1, 0.4, 0.9)),
        props=[BALL],
    )


class Passes(unittest.TestCase):
    def test_depth_is_how_far_away_things_are_along_the_view(self):
        result = played(one((-0.8, 1.0, 1.0), size=0.5), props=[BALL])
        depth = take_passes(result, 0, RenderRequest(*SIZE), ("depth",)).arrays["depth"][..., 0]
        x = 48 + FOCAL * -0.8 / 3.0
        self.assertAlmostEqual(float(depth[36, round(x)]), 3.0, places=4)  # the camera stands at z = 4
        self.assertAlmostEqual(float(depth[36, 48]), 3.6, delta=0.01)  # the ball's front
        self.assertTrue(np.isinf(depth[2, 2]))

    def test_velocity_is_how_far_it_goes_in_the_picture_from_frame_to_frame(self):
        moving = {**BALL, "position": row([0.0, 1.0, 0.0])}
        moving["position"]["responses"] = [
            {
                "kind": "curve",
                "uid": "m",
                "source": {"kind": "clip_time"},
                "operation": "set",
                "component": "y",
                "input": [0, 1],
                "curve": {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1, "shape": "linear"}]},
                "output": [1.0, 2.5],
            }
        ]
        result = played(one((-0.8, 0.7, 0.0), (2.5, 0.0, 0.0), size=0.5), props=[moving])
        found = take_passes(result, 4, RenderRequest(*SIZE), ("velocity",)).arrays["velocity"]
        x, y = 48 + FOCAL * (-0.8 + 2.5 * 4 / 25) / 4, 36 + FOCAL * 0.3 / 4
        np.testing.assert_allclose(found[round(y), round(x)], [FOCAL * 2.5 / 25 / 4, 0], atol=1e-3)
        ball = 36 - FOCAL * (1.5 * 4 / 25) / 4
        self.assertAlmostEqual(
            float(found[round(ball), 48, 1]), -FOCAL * 1.5 / 25 / 3.6, delta=0.02
        )  # upward is against the rows
        self.assertEqual(float(np.abs(found[2, 2]).max()), 0)

    def test_the_cameras_own_motion_is_in_it(self):
        camera = {
            "kind": "camera",
            "uid": "cam",
            "name": "cam",
            "position": row([0.0, 1.0, 4.0]),
            "field_of_view": row(0.7),
        }
        camera["position"]["responses"] = [
            {
                "kind": "curve",
                "uid": "m",
                "source": {"kind": "clip_time"},
                "operation": "set",
                "component": "x",
                "input": [0, 1],
                "curve": {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1, "shape": "linear"}]},
                "output": [0.0, 1.0],
            }
        ]
        result = played(one((0.0, 1.0, 0.0), size=0.5), props=[camera], frame={"camera": "cam"})
        found = take_passes(result, 4, RenderRequest(*SIZE), ("velocity",)).arrays["velocity"]
        self.assertAlmostEqual(float(found[36, round(48 - FOCAL * 0.16 / 4), 0]), -FOCAL / 25 / 4, delta=0.01)

    def test_normals_of_a_ball_and_of_what_faces_the_camera(self):
        result = played(one((-1.0, 1.0, 0.0), size=0.4), props=[BALL])
        found = take_passes(result, 0, RenderRequest(*SIZE), ("normal",)).arrays["normal"]
        np.testing.assert_allclose(found[36, 48], [0, 0, 1], atol=0.06)
        right = found[36, round(48 + FOCAL * 0.28 / 3.72)]
        np.testing.assert_allclose(right, [0.28 / 0.4, 0, math.sqrt(1 - 0.49)], atol=0.08)
        self.assertGreater(float(found[36 - 5, 48, 1]), 0.3)  # above its middle it faces up
        np.testing.assert_allclose(found[36, round(48 - FOCAL / 4)], [0, 0, 1], atol=1e-5)

    def test_life_and_who_is_hidden(self):
        result = played(one((0.0, 1.0, -1.0), size=0.5), one((-0.9, 1.0, 0.0), size=0.4, uid="two"), props=[BALL])
        arrays = take_passes(result, 10, RenderRequest(*SIZE), ("life", "emitters")).arrays
        self.assertAlmostEqual(float(arrays["life"][36, round(48 - FOCAL * 0.9 / 4), 0]), 10 / 25 / 100, places=5)
        self.assertLess(float(arrays["emitter.One"][..., 3].max()), 1e-6)  # behind the ball: held out
        self.assertGreater(float(arrays["emitter.Two"][..., 3].max()), 0.9)

    def test_emitters_passes_are_gathered_through_the_shutter_and_add_up_to_the_picture(self):
        scene = [
            one((-0.6, 1.0, 0.0), (3.0, 0.0, 0.0), size=0.3),
            one((-0.5, 0.5, 0.0), (0.0, 2.0, 0.0), size=0.3, uid="two"),
        ]
        blurred = [
            {"kind": "motion_blur", "uid": "b", "name": "b", "measured": "share", "share": row(1.0), "moments": 6}
        ]
        for finish in ([], blurred):
            result = played(*scene, finish=finish)
            arrays = take_passes(result, 3, RenderRequest(*SIZE), ("emitters",)).arrays
            together = arrays["emitter.One"] + arrays["emitter.Two"]
            np.testing.assert_allclose(
                together, render_frame(result, 3, RenderRequest(*SIZE, alone=True)).light, atol=2e-5
            )

    def test_names_are_hashed_and_shares_add_up(self):
        """MurmurHash3_x86_32's known values (Appleby's smhasher); ranks of the open specification of ID mattes."""
        self.assertEqual(
            [murmur3(b""), murmur3(b"test"), murmur3(b"Hello, world!"), murmur3(b"", 1)],
            [0, 0xBA6BD213, 0xC0363E43, 0x514E28B7],
        )
        for name in ("One", "Two", "Ball", "x" * 31):
            value, bits = name_to_float(name)
            self.assertTrue(np.isfinite(value) and np.float32(value).view(np.uint32) == bits)
        found = take_passes(scene(), 2, RenderRequest(*SIZE), ("id",))
        array = found.arrays["id"]
        self.assertEqual(set(found.names["id"]), {"One", "Two", "Ball"})
        self.assertTrue(bool((array[..., 1] >= array[..., 3]).all()))
        cover = array[..., 1::2].sum(axis=2)
        alpha = render_frame(scene(), 2, RenderRequest(*SIZE, alone=True)).light[..., 3]
        np.testing.assert_allclose(cover, alpha, atol=2e-3)
        middle = np.float32(array[36, 48, 0]).view(np.uint32)
        self.assertEqual(f"{middle:08x}", found.names["id"]["Ball"])


class Exr(unittest.TestCase):
    def test_every_channel_is_named_and_read_back(self):
        result = scene()
        data = written(result, "exr", 2, 2, passes=["depth", "velocity", "normal", "life", "light", "emitters", "id"])
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            self.assertEqual(sorted(archive.namelist()), ["000002.exr", "manifest.json"])
            self.assertIn("premultiplied", json.loads(archive.read("manifest.json"))["colour"])
            folder = tempfile.TemporaryDirectory()
            self.addCleanup(folder.cleanup)
            path = Path(archive.extract("000002.exr", folder.name))
        file = OpenEXR.File(str(path), separate_channels=True)
        channels, header = file.channels(), file.header()
        wanted = {
            "R",
            "G",
            "B",
            "A",
            "depth.Z",
            "velocity.x",
            "velocity.y",
            "normal.x",
            "normal.y",
            "normal.z",
            "life.V",
            "emitter.One.R",
            "emitter.One.A",
            "emitter.Two.R",
            "light.R",
            *(f"id{k:02d}.{c}" for k in range(3) for c in "RGBA"),
        }
        self.assertLessEqual(wanted, set(channels))
        self.assertEqual(
            (channels["R"].pixels.dtype, channels["depth.Z"].pixels.dtype, channels["id00.R"].pixels.dtype),
            (np.float16, np.float32, np.float32),
        )
        (left, top), (right, bottom) = header["dataWindow"]
        light = render_frame(result, 2, RenderRequest(*SIZE, alone=True)).light[top : bottom + 1, left : right + 1]
        for k, channel in enumerate("RGBA"):
            np.testing.assert_allclose(channels[channel].pixels, light[..., k], atol=2e-3)
        self.assertEqual(tuple(map(int, header["displayWindow"][1])), (SIZE[0] - 1, SIZE[1] - 1))
        self.assertGreater(left + top, 0)  # the data window is what is not empty
        manifest = next(
            value for key, value in header.items() if key.startswith("cryptomatte/") and key.endswith("/manifest")
        )
        self.assertEqual(set(json.loads(manifest)), {"One", "Two", "Ball"})
        self.assertIn("BT.709", header["comments"])

    def test_passes_in_files_of_their_own(self):
        data = written(scene(), "exr", 0, 1, passes=["depth", "emitters"], split=True, bits="float")
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = set(archive.namelist())
        self.assertLessEqual({"beauty/000000.exr", "depth/000001.exr", "emitter-One/000000.exr"}, names)


class Films(unittest.TestCase):
    def light(self, rgb: np.ndarray) -> np.ndarray:
        return srgb_to_linear(rgb / 255)

    def test_films_are_what_was_rendered(self):
        """VP9 with alpha by libvpx, AV1 by dav1d: as many frames, the rate, the colours within what they lose."""
        result = scene()
        truth = render_frame(result, 3, RenderRequest(*SIZE)).over()[..., :3]
        for kind, options in (("webm", {"behind": "frame", "quality": "fine"}), ("mp4", {"quality": "fine"})):
            with av.open(io.BytesIO(written(result, kind, 0, 5, **options))) as film:
                track = film.streams.video[0]
                self.assertEqual(track.average_rate, 25)
                frames = [frame.to_ndarray(format="rgb24") for frame in film.decode(video=0)]
                self.assertEqual(len(frames), 6)
                self.assertIn("sRGB", str(film.metadata))
                self.assertEqual(
                    (
                        track.codec_context.color_primaries,
                        track.codec_context.color_trc,
                        track.codec_context.colorspace,
                    ),
                    (1, 13, 1),
                )
            self.assertLess(
                float(np.abs(self.light(frames[3].astype(float)) - np.clip(truth, 0, 1)).mean()), 0.01, kind
            )
            self.assertGreater(float(np.abs(frames[5].astype(float) - frames[0]).mean()), 0.5)

    def test_an_encoder_leaves_the_priority_of_threads_as_it_is(self):
        """SVT-AV1 asks for real-time turns: what is started after it would have them, and starve all else on a machine
        with few processors."""
        before = os.sched_getscheduler(0)
        written(scene(), "mp4", 0, 2)
        self.assertEqual({os.sched_getscheduler(int(thread)) for thread in os.listdir("/proc/self/task")}, {before})

    def test_webm_keeps_alpha(self):
        data = written(scene(), "webm", 0, 2, quality="fine")
        with av.open(io.BytesIO(data)) as film:
            decoder = av.CodecContext.create("libvpx-vp9", "r")
            frames = [
                frame for packet in film.demux(video=0) for frame in decoder.decode(packet if packet.size else None)
            ]
            pixels = frames[1].to_ndarray(format="rgba")
        truth = render_frame(scene(), 1, RenderRequest(*SIZE, alone=True)).light
        self.assertLess(float(np.abs(pixels[..., 3] / 255 - truth[..., 3]).mean()), 0.02)
        self.assertEqual(int(pixels[2, 2, 3]), 0)

    def test_animated_pictures_by_pillow(self):
        result = played(
            one((-0.6, 1.0, 0.0), (2.0, 0.0, 0.0), size=0.5), one((0.5, 1.2, 0.0), size=0.4, uid="two"), props=[BALL]
        )  # it goes behind the ball
        for kind in ("apng", "webp"):
            image = Image.open(
                io.BytesIO(written(result, kind, 0, 4, **({"quality": "fine"} if kind == "webp" else {})))
            )
            self.assertEqual(image.n_frames, 5)
            image.seek(4)
            pixels = np.asarray(image.convert("RGBA"), float)
            truth = render_frame(result, 4, RenderRequest(*SIZE, alone=True)).light
            self.assertLess(float(np.abs(pixels[..., 3] / 255 - truth[..., 3]).max()), 0.02, kind)
            colour = self.light(pixels[..., :3]) * pixels[..., 3:] / 255
            self.assertLess(float(np.abs(colour - truth[..., :3]).max()), 0.02, kind)

    def test_sixteen_bits_tell_more_and_say_what_they_are(self):
        result = scene()
        with zipfile.ZipFile(io.BytesIO(written(result, "png", 1, 1, bits="16"))) as archive:
            data = archive.read("000001.png")
        self.assertIn(b"sRGB", data[:60])
        with av.open(io.BytesIO(data)) as file:
            frame = next(file.decode(video=0))
            self.assertEqual(frame.format.name, "rgba64be")
            pixels = frame.to_ndarray().astype(float) / 65535
        truth = render_frame(result, 1, RenderRequest(*SIZE, alone=True)).light
        np.testing.assert_allclose(srgb_to_linear(pixels[..., :3]) * pixels[..., 3:], truth[..., :3], atol=2e-4)

    def test_pixels_that_are_not_square(self):
        """Squeezed by two: as wide a disc has half as many columns, and as much light."""
        square, squeezed = (
            written(
                played(one((0.0, 1.0, 0.0), size=1.0), frame={"pixel": pixel}), "exr", 0, 0, (96, 96), passes=["depth"]
            )
            for pixel in (1.0, 2.0)
        )
        wide = []
        for data in (square, squeezed):
            with zipfile.ZipFile(io.BytesIO(data)) as archive, tempfile.TemporaryDirectory() as folder:
                file = OpenEXR.File(archive.extract("000000.exr", folder), separate_channels=True)
                alpha, deep = file.channels()["A"].pixels, file.channels()["depth.Z"].pixels
                wide.append(
                    ((alpha > 0.5).any(axis=0).sum(), (alpha > 0.5).any(axis=1).sum(), (deep < 10).any(axis=0).sum())
                )
        self.assertAlmostEqual(float(wide[0][0]) / float(wide[1][0]), 2, delta=0.15)
        self.assertEqual(wide[0][1], wide[1][1])
        self.assertAlmostEqual(float(wide[0][2]) / float(wide[1][2]), 2, delta=0.15)

    def test_odd_sizes_and_what_is_too_large_are_said(self):
        with self.assertRaisesRegex(RequestError, "even width"):
            exporter_of(scene(), "mp4", 0, 1, (95, 72))
        for size in ((2, 2), (62, 64), (8192, 2), (4096, 16)):  # at the last the encoder would never end
            with self.assertRaisesRegex(RequestError, "64 to 8,192 pixels a side"):
                exporter_of(scene(), "mp4", 0, 1, size)
            exporter_of(scene(), "webm", 0, 1, size)
        exporter_of(scene(), "mp4", 0, 1, (64, 8192))
        with self.assertRaisesRegex(BudgetError, "a side may have"):
            exporter_of(scene(), "sheet", 0, 11, (2048, 2048), None, {"columns": 12})
        for options in ({"bits": "12"}, {"glitter": 1}, {"camera": "nobody"}, {"emitter": "nobody"}):
            with self.assertRaises(RequestError):
                exporter_of(scene(), "png", 0, 1, SIZE, None, options)


class Sheets(unittest.TestCase):
    def opened(self, data: bytes) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            facts = json.loads(archive.read("sheet.json"))
            return facts, {
                name: np.asarray(Image.open(io.BytesIO(archive.read(name))))
                for name in archive.namelist()
                if name.endswith(".png")
            }

    def test_every_page_is_where_the_json_says(self):
        result = scene()
        facts, pictures = self.opened(
            written(result, "sheet", 0, 7, every=2, columns=3, padding=3, shape="trimmed", motion=True, second="depth")
        )
        self.assertEqual([each["frame"] for each in facts["frames"]], [0, 2, 4, 6])
        self.assertEqual((facts["columns"], facts["rows"]), (3, 2))
        self.assertLess(facts["width"], SIZE[0])
        for page in facts["frames"]:
            x, y, wide, tall = (page[name] for name in ("x", "y", "width", "height"))
            shown = pictures["sheet.png"][y : y + tall, x : x + wide]
            truth = render_frame(result, page["frame"], RenderRequest(*SIZE, alone=True)).light[
                page["top"] : page["top"] + tall, page["left"] : page["left"] + wide
            ]
            self.assertLess(float(np.abs(shown[..., 3] / 255 - truth[..., 3]).max()), 0.004)
            np.testing.assert_array_equal(
                pictures["sheet.png"][y - 1, x : x + wide], shown[0]
            )  # the padding is the page's edge
            moves = (
                (pictures["motion.png"][y : y + tall, x : x + wide, 0].astype(float) / 255 - 0.5)
                * 2
                * facts["motion"]["reach"]
                * wide
            )
            goes = FOCAL * 2.0 / 25 / 4 * 2  # pixels until the page after the next frame
            self.assertAlmostEqual(
                float(moves[truth[..., 0] > 0.5].max(initial=0)),
                goes,
                delta=0.06 * goes + facts["motion"]["reach"] * wide / 120,
            )
        self.assertEqual(pictures["depth.png"].shape, pictures["sheet.png"].shape[:2])

    def test_a_loop_is_told_from_what_jumps(self):
        jumps, _ = self.opened(written(scene(), "sheet", 0, 9))
        self.assertGreater(jumps["seam"], 1.5)
        still, _ = self.opened(written(played(one((0.0, 1.0, 0.0))), "sheet", 0, 4))
        self.assertLess(still["seam"], 1.5)

    def test_an_estimate_counts_and_is_near(self):
        result = scene()
        reported = estimate(result, "sheet", 0, 11, SIZE, {"every": 3})
        self.assertEqual(reported.pictures, 4)
        real = len(written(result, "png", 0, 3))
        self.assertLess(abs(math.log(estimate(result, "png", 0, 3, SIZE).bytes / real)), math.log(2))
        self.assertEqual(
            {kind for kind, each in EXPORTERS.items() if each.takes == "pictures"},
            {"png", "exr", "sheet", "webm", "mp4", "apng", "webp"},
        )
