"""Files are read back by independent libraries; the command line does what it says."""

from __future__ import annotations

import csv
import io
import json
import tempfile
import threading
import unittest
import weakref
import zipfile
from pathlib import Path
from unittest import mock

import jsonschema
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from plyfile import PlyData

from demo.lantern_ferry import effects
from kagero.core.document import json_schema, read_effect, write_effect
from kagero.core.errors import Cancelled, RequestError
from kagero.core.formats import pack, unpack
from kagero.core.formats.exporters import EXPORTERS, FramePicture
from kagero.core.simulation import Frame
from kagero.core.workflows import Playing, PlayRequest, bake, exporter_of, play_packets, stream
from tests.making import document, emitter, playing, row, with_
from tests.soak import examples


class Files(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        cls.clip = playing(emitter("a", births__launch__cone=row(1.0)), emitter("b", births__rate=row(20)))
        cls.frames = [cls.clip.particles(n) for n in range(5, 15)]

    def bake(self, kind: str, **more) -> Path:
        path = self.folder / f"out.{kind}"
        bake(self.clip, kind, 5, 14, path, **more)
        return path

    def test_npz(self):
        path = self.bake("npz")
        with np.load(path, allow_pickle=False) as data:
            self.assertEqual(list(data["frame"]), list(range(5, 15)))
            np.testing.assert_allclose(data["seconds"], np.arange(5, 15) / 25)
            self.assertEqual(list(data["emitter_uid"]), ["a", "b"])
            columns = {column.name: column for column in self.clip.stored_columns()}
            self.assertLessEqual(
                {"key", "position", "velocity", "age", "lifespan", "size", "color", "opacity", "rotation", "stretch"},
                set(columns),
            )
            for i, frame in enumerate(self.frames):
                part = slice(data["frame_offset"][i], data["frame_offset"][i + 1])
                for name, column in columns.items():
                    self.assertEqual(data[name].dtype.str, column.kind)
                    self.assertEqual(data[name].shape[1:], (len(column.parts),) if column.parts else ())
                    np.testing.assert_array_equal(data[name][part], frame.arrays[name])
            whole = io.BytesIO()
            np.savez(whole, **{name: data[name] for name in data.files})
        self.assertEqual(path.read_bytes(), whole.getvalue())  # written frame by frame, and as NumPy writes the whole

    def test_manifests_name_columns_units_and_emitters(self):
        with np.load(self.bake("npz")) as data:
            payload = json.loads(str(data["manifest"]))
        with zipfile.ZipFile(self.bake("ply")) as archive:
            other = json.loads(archive.read("manifest.json"))
        self.assertEqual({**payload, "format": "ply"}, other)
        self.assertEqual((payload["first"], payload["last"], payload["frame_rate"]), (5, 14, [25, 1]))
        self.assertEqual([each["uid"] for each in payload["emitters"]], ["a", "b"])
        units = {column["name"]: column["unit"] for column in payload["columns"]}
        self.assertEqual(
            [units[name] for name in ("position", "velocity", "age", "size", "rotation", "opacity")],
            ["m", "m/s", "s", "m", "rad", ""],
        )

    def test_no_exporter_holds_a_frame_it_was_given(self):
        for kind, exporter in EXPORTERS.items():
            writing = exporter_of(self.clip, kind, 5, 14, (64, 64), self.folder)
            writing.open(io.BytesIO())
            for number in (5, 6):
                pictures = exporter.takes == "pictures"
                frame = (
                    FramePicture(number, 0.2, np.zeros((16, 16, 4), np.float32))
                    if pictures
                    else self.clip.particles(number)
                )
                array = weakref.ref(frame.pixels if pictures else frame.arrays["position"])
                writing.frame(frame)
                del frame
                self.assertIsNone(array(), kind)
            writing.abandon()

    def test_ply_read_by_plyfile(self):
        with zipfile.ZipFile(self.bake("ply")) as archive:
            self.assertEqual(archive.namelist(), [*(f"{n:06d}.ply" for n in range(5, 15)), "manifest.json"])
            for name, frame in zip(archive.namelist()[:-1], self.frames, strict=True):
                vertices = PlyData.read(io.BytesIO(archive.read(name)))["vertex"]
                np.testing.assert_array_equal(np.stack([vertices[c] for c in "xyz"], 1), frame.arrays["position"])
                np.testing.assert_array_equal(np.stack([vertices["v" + c] for c in "xyz"], 1), frame.arrays["velocity"])
                np.testing.assert_array_equal(np.stack([vertices[c] for c in "rgb"], 1), frame.arrays["color"])
                key = vertices["key_high"].astype(np.uint64) << np.uint64(32) | vertices["key_low"]
                np.testing.assert_array_equal(key, frame.arrays["key"])

    def test_csv_reads_back_to_the_same_float32(self):
        with np.printoptions(legacy="1.13"):  # somebody else's way of printing must not reach the file
            path = self.bake("csv")
        rows = list(csv.DictReader(io.StringIO(path.read_bytes().decode(), newline="")))
        at = 0
        for frame in self.frames:
            part = rows[at : at + len(frame)]
            at += len(frame)
            self.assertTrue(all(int(r["frame"]) == frame.number for r in part))
            for axis, name in enumerate(("position_x", "position_y", "position_z")):
                np.testing.assert_array_equal(
                    np.array([r[name] for r in part], np.float32), frame.arrays["position"][:, axis]
                )
            self.assertEqual([int(r["key"]) for r in part], [int(k) for k in frame.arrays["key"]])
        self.assertEqual(at, len(rows))

    def test_png_sequence_has_alpha_and_size(self):
        collected = []
        with zipfile.ZipFile(
            self.bake("png", size=(64, 48), progress=lambda done, total: collected.append((done, total)))
        ) as archive:
            picture = Image.open(io.BytesIO(archive.read("000012.png")))
            self.assertEqual((picture.mode, picture.size), ("RGBA", (64, 48)))
            alpha = np.asarray(picture)[..., 3]
            self.assertGreater(alpha.max(), 0)
            self.assertEqual(alpha[0, 0], 0)
        self.assertEqual(collected[-1], (10, 10))

    def test_the_same_effect_gives_the_same_files(self):
        for kind in ("npz", "ply", "csv", "png"):
            first = self.bake(kind, **({"size": (32, 32)} if kind == "png" else {})).read_bytes()
            repeated = Playing(self.clip.effect)
            bake(repeated, kind, 5, 14, self.folder / "again", **({"size": (32, 32)} if kind == "png" else {}))
            self.assertEqual(first, (self.folder / "again").read_bytes(), kind)

    def test_a_cancelled_bake_leaves_nothing(self):
        stop = threading.Event()

        def stopped():
            if stop.is_set():
                raise Cancelled()

        with self.assertRaises(Cancelled):
            bake(
                self.clip,
                "csv",
                0,
                50,
                self.folder / "never.csv",
                progress=lambda done, total: stop.set(),
                stopped=stopped,
            )
        self.assertEqual([p.name for p in self.folder.iterdir() if p.name.startswith("never")], [])

    def test_spans_outside_the_clip_are_refused(self):
        for first, last in ((-1, 3), (3, 2), (0, 51)):
            with self.assertRaises(RequestError):
                bake(self.clip, "npz", first, last, self.folder / "x")

    def test_bytes_that_are_no_checkpoint(self):
        for data in (b"", b"PK", self.clip.frames(3)[0].to_bytes()[:200]):
            with self.assertRaises(RequestError):
                Frame.from_bytes(data)


class Packets(unittest.TestCase):
    @given(
        st.dictionaries(st.text(min_size=1, max_size=5), st.integers(-5, 5) | st.text(max_size=9), max_size=4),
        st.lists(st.tuples(st.sampled_from(["<f4", "<f2", "<u2", "<u8"]), st.integers(0, 9)), max_size=4),
    )
    @settings(max_examples=examples(60))
    def test_unpack_is_the_inverse_of_pack(self, header, kinds):
        header = {k: v for k, v in header.items() if k != "arrays"}
        arrays = {f"a{i}": (np.arange(n * 3) % 7).astype(kind).reshape(n, 3) for i, (kind, n) in enumerate(kinds)}
        packet = pack(header, arrays)
        got_header, got = unpack(packet)
        self.assertEqual(got_header, header)
        for name, array in arrays.items():
            np.testing.assert_array_equal(got[name], array)
        for cut in (0, 5, len(packet) - 1):
            with self.assertRaises(RequestError):
                unpack(packet[:cut])

    def test_the_frame_asked_for_comes_first_and_all_come_once(self):
        clip = playing(last_frame=20)
        packets = [unpack(p) for p in play_packets(clip, 7, PlayRequest())]
        headers = [header for header, _ in packets]
        frames = [h for h in headers if h["type"] == "frame"]
        # the frame on screen, then its live values, which draw nothing, then the rest of the clip
        self.assertEqual([h["frame"] for h in frames], [7, 7, *range(8, 21), *range(7)])
        self.assertEqual(list(packets[1][1]), [])
        self.assertEqual(["measure" in h["emitters"][0] for h in frames[:2]], [False, True])
        self.assertEqual(headers[-1]["emitters"][0]["counts"], [len(clip.frames(n)[0].population) for n in range(21)])

    def test_frames_do_not_wait_for_what_paints_portraits_to_be_compiled(self):
        clips = {}
        for compiled in (True, False):
            with mock.patch.object(stream, "all_compiled", return_value=compiled):
                headers = [unpack(packet)[0] for packet in play_packets(playing(last_frame=5), 2, PlayRequest())]
            clips[compiled] = [number for number, header in enumerate(headers) if header["type"] == "clip"]
        self.assertEqual(clips, {True: [2, 8], False: [7]})

    def test_measures_are_what_the_particles_have(self):
        clip = playing(emitter(births__launch__speed=row(2.0)), last_frame=20)
        (_, arrays), (header, _), *_ = (unpack(p) for p in play_packets(clip, 20, PlayRequest(whole=False)))
        rows = header["emitters"][0]["measure"]["rows"]
        self.assertEqual(rows["births.launch.speed"]["spread"], [[2.0, 2.0, 2.0]])
        self.assertEqual(rows["births.rate"]["spread"], [[50.0, 50.0, 50.0]])
        np.testing.assert_array_equal(arrays["position.0"], clip.particles(20).arrays["position"])


class Distributions(unittest.TestCase):
    def test_histogram_and_shares_outside_against_numpy(self):
        from kagero.core.workflows import measure

        one = emitter(
            births__launch__speed=row(1.0),
            births__rate=row(900),
            look__size=row(
                1.0,
                {
                    "kind": "curve",
                    "uid": "r",
                    "source": {"kind": "age"},
                    "read": "live",
                    "input": [0.2, 0.6],
                    "output": [0, 2],
                    "curve": {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1, "shape": "linear"}]},
                },
            ),
        )
        clip = playing(one)
        population = clip.frames(40)[0].population
        got = measure(clip.effect.emitters[0], clip.plan.emitters[0], population, 1.6)["responses"]["r"]
        age = population.age.astype(float)
        self.assertAlmostEqual(got["below"], np.mean(age < 0.2), delta=0.002)
        self.assertAlmostEqual(got["above"], np.mean(age > 0.6), delta=0.002)
        self.assertAlmostEqual(got["low"], age.min(), places=5)
        self.assertAlmostEqual(got["high"], age.max(), places=5)
        expected, _ = np.histogram(age, bins=48, range=(0.2, 0.6))
        self.assertLess(np.abs(np.array(got["bins"]) - expected).max(), 3)
        self.assertEqual(sum(got["results"]), len(age))


class Schema(unittest.TestCase):
    def test_demo_effects_fit_the_published_schema_by_an_independent_validator(self):
        validator = jsonschema.Draft202012Validator(json_schema())
        validator.check_schema(json_schema())
        for effect in effects().values():
            validator.validate(json.loads(write_effect(effect)))
        self.assertFalse(validator.is_valid(with_(document(), colour="red")))

    def test_writing_and_reading_is_the_identity(self):
        for effect in effects().values():
            self.assertEqual(read_effect(write_effect(effect)), effect)
            self.assertEqual(write_effect(read_effect(write_effect(effect))), write_effect(effect))
