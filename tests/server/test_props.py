"""Files brought in over the wire: read in a process of their own, refused in words, the server unharmed."""

from __future__ import annotations

import json
import shutil
import struct
import subprocess
import sys
import tempfile
import zlib
from pathlib import Path
from urllib.parse import quote

import numpy as np
import trimesh
from django.conf import settings
from django.test import TestCase, override_settings

from kagero.core.errors import GeometryProblem
from kagero.core.formats import unpack
from kagero.core.formats.importing import import_file
from kagero.server.library import files
from kagero.server.library.readers import READERS
from tests.making.bad_files import BAD
from tests.making.films import stage
from tests.making.props import prop


def png(width: int, height: int) -> bytes:
    """A picture that says it is of a size, with next to nothing in it."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
        + chunk(b"IDAT", zlib.compress(b"\0" * 1000))
        + chunk(b"IEND", b"")
    )


def glb(change) -> bytes:
    """A triangle as GLB with its description changed."""
    data = trimesh.Trimesh([[0, 0, 0], [1, 0, 0], [0, 1, 0]], [[0, 1, 2]]).export(file_type="glb")
    length = struct.unpack("<I", data[12:16])[0]
    described = json.loads(data[20 : 20 + length])
    change(described)
    message = json.dumps(described).encode()
    message += b" " * (-len(message) % 4)
    rest = data[20 + length :]
    return (
        b"glTF"
        + struct.pack("<II", 2, 20 + len(message) + len(rest))
        + struct.pack("<I", len(message))
        + b"JSON"
        + message
        + rest
    )


SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10" xmlns:xlink="http://www.w3.org/1999/xlink">%s</svg>'
# name, bytes, what is said: docs/FORMATS.md has this table in words
REFUSED = [
    *[
        (name, data, words)
        for name, data, words in BAD
        if name
        in ("empty.obj", "cut.glb", "nan.obj", "outside.glb", "huge-count.glb", "lies.stl", "lies.ply", "deep.glb")
    ],
    ("bomb.png", png(60_000, 60_000), "pixels"),
    ("wide.png", png(200_000, 3), "pixels"),
    ("cut.png", png(64, 64), "cut off or damaged"),
    ("zip.png", b"PK\x03\x04" + bytes(100), "no mesh that can be read"),
    (
        "entities.svg",
        b'<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]>' + (SVG % "<text>&b;</text>").encode(),
        "entities",
    ),
    ("script.svg", (SVG % "<script>alert(1)</script>").encode(), "a script"),
    ("link.svg", (SVG % '<use xlink:href="http://example.org/a.svg#b"/>').encode(), "outside itself"),
    ("style.svg", (SVG % "<style>@import url(http://example.org/a.css);</style>").encode(), "outside itself"),
    ("fill.svg", (SVG % '<rect width="1" height="1" fill="url(http://example.org/p)"/>').encode(), "outside itself"),
    ("picture.svg", (SVG % '<image href="#a"/>').encode(), "a picture"),
    ("broken.svg", b"<svg><path d='M0 0", "not well-formed"),
    ("nothing.svg", (SVG % "").encode(), "no shapes"),
    (
        "uses.svg",
        (
            SVG
            % (
                '<g id="a0"><path d="M0 0L1 1L2 0"/></g>'
                + "".join(f'<g id="a{k}">' + f'<use xlink:href="#a{k - 1}"/>' * 10 + "</g>" for k in range(1, 9))
                + '<use xlink:href="#a8"/>'
            )
        ).encode(),
        "becomes more than",
    ),
    ("circle.svg", (SVG % '<g id="a"><use xlink:href="#a"/><path d="M0 0L1 1"/></g>').encode(), "within themselves"),
    ("nought.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nf 0 1 2\n", "Line 5"),
    ("nought.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 3/1 2/1 0/1\n", "Line 4"),
    ("material.glb", glb(lambda d: d["meshes"][0]["primitives"][0].update(material=7)), "material"),
    (
        "camera.glb",
        glb(
            lambda d: (
                d.update(cameras=[{"type": "perspective", "perspective": {"yfov": float("nan"), "znear": 0.1}}]),
                d["nodes"][0].update(camera=0),
            )
        ),
        "camera",
    ),
    ("nul\0.glb", b"x", "no name may have"),
    ("new\nline.glb", b"x", "no name may have"),
    ("x" * 300 + ".glb", b"x", "characters"),
    ("words.csv", b"x,y,z\n1,2,3\n1,two,3\n", "Line 3"),
    ("nan.csv", b"1,2,3\nnan,0,0\n", "Line 2"),
    ("none.csv", b"\n# nothing\n", "is empty"),
]
FOLDER = Path(tempfile.mkdtemp())


@override_settings(DATA_DIR=FOLDER)
class Files(TestCase):
    @classmethod
    def tearDownClass(cls):
        super().tearDownClass()
        shutil.rmtree(FOLDER, ignore_errors=True)
        files.contents.clear()

    def bring(self, name: str, data: bytes):
        return self.client.post(f"/api/props/files?name={quote(name)}", data, content_type="application/octet-stream")

    def geometry(self, wanted: dict):
        return self.client.post("/api/props/geometry", json.dumps({"prop": wanted}), content_type="application/json")

    def test_a_mesh_is_kept_by_content_and_drawn(self):
        data = trimesh.creation.icosphere(2).export(file_type="glb")
        first, repeated = self.bring("ball.glb", data), self.bring("another name.glb", data)
        self.assertEqual((first.status_code, first.json()["content"]), (201, repeated.json()["content"]))
        facts = first.json()
        self.assertEqual(
            (facts["kind"], facts["faces"], facts["closed"], facts["unit"], facts["up"]), ("mesh", 320, True, 1, "y")
        )
        header, arrays = unpack(
            self.geometry(
                prop("a", kind="mesh", file={"content": facts["content"], "name": "ball.glb"}, unit=0.5)
            ).content
        )
        self.assertEqual((header["shape"], arrays["faces"].size), ("mesh", 960))
        np.testing.assert_allclose(np.linalg.norm(arrays["points"], axis=1), 0.5, atol=1e-5)
        np.testing.assert_allclose(np.linalg.norm(arrays["normals"], axis=1), 1, atol=1e-5)
        left = [p.name for p in (FOLDER / "props").iterdir() if "-" in p.name]
        self.assertEqual(left, [])

    def test_pictures_drawings_points_shapes_and_words(self):
        from io import BytesIO

        from PIL import Image

        stream = BytesIO()
        Image.fromarray(np.full((8, 16, 3), 128, np.uint8)).save(stream, "PNG")
        picture = self.bring("grey.png", stream.getvalue()).json()
        self.assertEqual((picture["kind"], picture["width"], picture["height"]), ("picture", 16, 8))
        _, arrays = unpack(self.client.get(f"/api/props/pictures/{picture['content']}").content)
        self.assertLessEqual(abs(int(arrays["pixels"][4, 8, 0]) - 128), 1)
        drawing = self.bring(
            "ring.svg", (SVG % '<path fill-rule="evenodd" d="M0 0H10V10H0Z M3 3H7V7H3Z"/>').encode()
        ).json()
        _, arrays = unpack(
            self.geometry(
                prop("d", kind="logo", file={"content": drawing["content"], "name": "ring.svg"}, height=2.0)
            ).content
        )
        corners = arrays["points"].reshape(-1, 3)[arrays["faces"].reshape(-1, 3)]
        area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1).sum() / 2
        self.assertAlmostEqual(area, 4 * (1 - 0.16), places=4)
        points = self.bring("lamps.csv", b"name,x,y,z\na,1,2,3\nb,4,5,6\n").json()
        self.assertEqual((points["kind"], points["points"]), ("points", 2))
        becomes = {each["group"]: each["value"] for each in points["props"]}
        self.assertEqual((set(becomes), becomes["path"]["points"]), ({"points", "path"}, [[1, 2, 3], [4, 5, 6]]))
        header, arrays = unpack(
            self.geometry(prop("p", kind="points", file={"content": points["content"], "name": "lamps.csv"})).content
        )
        self.assertEqual((header["shape"], arrays["points"].tolist()), ("points", [[1, 2, 3], [4, 5, 6]]))
        self.assertEqual(unpack(self.geometry(prop("s")).content)[0]["shape"], "mesh")
        self.assertIn("\u706f", unpack(self.geometry(prop("t", kind="text", text="a\u706f")).content)[0]["words"])
        for wrong in (
            {"kind": "shape"},
            prop("m", kind="mesh", file={"content": "0" * 32, "name": "gone.glb"}),
            prop("x", kind="logo", file={"content": picture["content"], "name": "g"}),
        ):
            answer = self.geometry(wrong)
            self.assertEqual((answer.status_code, bool(answer.json()["findings"][0]["message"])), (422, True))

    def test_what_a_file_of_cameras_offers_follows_its_units_and_upright_axis(self):
        stage_of_props, camera = stage("Z", 0.01)
        camera.AddTranslateOp().Set((100.0, -400.0, 150.0))
        brought = self.bring("shot.usda", stage_of_props.GetRootLayer().ExportToString().encode()).json()
        self.assertEqual((brought["cameras"], brought["unit"], brought["up"]), (1, 0.01, "z"))

        def offered(**wanted: object) -> tuple[int, dict]:
            answer = self.client.post("/api/props/offers", json.dumps(wanted), content_type="application/json")
            return answer.status_code, answer.json()

        for unit, up, place in (
            (0.01, "z", [1.0, 1.5, 4.0]),
            (1.0, "z", [100.0, 150.0, 400.0]),
            (0.1, "y", [10.0, -40.0, 15.0]),
        ):
            status, file = offered(content=brought["content"], unit=unit, up=up)
            self.assertEqual((status, file["ref"], file["cameras"]), (200, brought["ref"], 1))
            np.testing.assert_allclose(file["props"][0]["value"]["position"]["base"], place, atol=1e-9)
        for wrong in (
            {"unit": 0.0, "up": "z"},
            {"unit": 1e9, "up": "z"},
            {"unit": 1.0, "up": "x"},
            {"unit": 1.0, "up": "z", "content": "0" * 32},
            {"unit": 1.0, "up": "z", "content": "../../etc/passwd"},
            {"unit": 1.0, "up": "z", "more": 1},
            {"up": "z"},
        ):
            status, problem = offered(**{"content": brought["content"], **wrong})
            self.assertTrue(400 <= status < 500 and problem["findings"][0]["message"], (wrong, status))

    def test_every_row_of_the_table_is_refused_in_words(self):
        for name, data, message in REFUSED[1:]:
            with self.subTest(name), self.assertRaises(GeometryProblem) as caught:
                import_file(name, data)
            self.assertIn(message, caught.exception.findings[0].message)
            self.assertTrue(caught.exception.findings[0].remedy)

    def test_bad_files_over_the_wire_leave_nothing_behind(self):
        before = sorted(p.name for p in (FOLDER / "props").iterdir()) if (FOLDER / "props").exists() else []
        for name, data, message in [
            row
            for row in REFUSED
            if row[0]
            in (
                "empty.obj",
                "bomb.png",
                "entities.svg",
                "lies.ply",
                "outside.glb",
                "camera.glb",
                "nul\0.glb",
                "uses.svg",
            )
        ]:
            with self.subTest(name):
                answer = self.bring(name, data)
                self.assertEqual(answer.status_code, 422, answer.content[:200])
                finding = answer.json()["findings"][0]
                self.assertIn(message, finding["message"])
                self.assertTrue(finding["remedy"])
        self.assertEqual(sorted(p.name for p in (FOLDER / "props").iterdir()), before)
        self.assertEqual(self.client.get("/api/catalog").status_code, 200)

    def test_a_picture_as_large_as_is_promised_is_read_within_the_memory_of_a_file(self):
        from io import BytesIO

        from PIL import Image

        stream = BytesIO()
        Image.new("L", (8000, 8000), 128).save(stream, "PNG", compress_level=1)
        answer = self.bring("large.png", stream.getvalue())
        self.assertEqual((answer.status_code, answer.json().get("width")), (201, 8000), answer.content[:300])
        held = files.content(answer.json()["content"])
        self.assertLessEqual(held.pixels.nbytes, 8 * 64_000_000)
        np.testing.assert_allclose(held.at(np.array([[0.3, 0.7]]))[0, :3], 0.2158605, atol=2e-4)
        files.contents.clear()

    def test_names_of_contents_reach_nothing_else_on_the_disk(self):
        secret = FOLDER / "secret.npz"
        np.savez(secret, points=np.zeros((3, 3)))
        np.savez(FOLDER / "props" / ("a" * 32 + ".npz"), points=np.array([{"pickled": 1}], object))
        ball = self.bring("ball.glb", trimesh.creation.icosphere(1).export(file_type="glb")).json()["content"]
        for content in (
            "../secret",
            str(secret.with_suffix("")),
            "..%2fsecret",
            "A" * 32,
            ball + "/../" + ball,
            "",
            "a" * 32,
        ):
            for answer in (
                self.client.post(
                    "/api/props/sequences",
                    json.dumps({"contents": [ball, content], "rate": 25}),
                    content_type="application/json",
                ),
                self.client.get(f"/api/props/pictures/{content}"),
            ):
                self.assertIn(answer.status_code, (404, 422), (content, answer.content[:200]))
                self.assertTrue(json.loads(answer.content)["findings"][0]["message"])

    def test_what_takes_too_much_memory_or_time_is_stopped(self):
        field = trimesh.Trimesh(
            np.random.default_rng(1).random((60_000, 3)),
            np.random.default_rng(2).integers(0, 60_000, (120_000, 3)),
            process=False,
        )
        data = field.export(file_type="stl")
        memory, seconds = files.MEMORY, files.SECONDS
        try:
            files.MEMORY = 300 * 1024**2
            answer = self.bring("memory.stl", data)
            self.assertEqual(answer.status_code, 422)
            self.assertRegex(answer.json()["findings"][0]["message"], "memory")
            files.MEMORY, files.SECONDS = memory, 0
            self.assertEqual(self.bring("time.stl", data).status_code, 422)
        finally:
            files.MEMORY, files.SECONDS = memory, seconds
        self.assertEqual(self.bring("field.stl", data).status_code, 201)

    def test_what_a_library_prints_is_no_answer_and_what_ends_amid_a_file_is_told(self):
        says = (
            "def read(name, *_): print('noise', flush=True); return (0, {'kind': name}) if name != 'ends' else "
            "os._exit(0)"
        )
        code = f"import os; from kagero.core.formats import importing\n{says}\nimporting.read = read; importing.serve()"
        asked = "".join(f'["{name}", "", "", 5, {files.MEMORY}]\n' for name in ("one", "ends", "two"))
        ran = subprocess.run(
            [sys.executable, "-c", code], input=asked, capture_output=True, text=True, cwd=settings.BASE_DIR
        )
        self.assertEqual(
            [json.loads(line) for line in ran.stdout.splitlines()],
            [[0, {"kind": "one"}], [-1, None], [0, {"kind": "two"}]],
        )
        self.assertEqual(ran.stderr.count("noise"), 3)

    def test_what_ended_while_it_waited_is_replaced(self):
        self.assertEqual(self.bring("one.png", png(64, 64)).status_code, 422)
        ended = list(READERS._idle)
        self.assertTrue(ended)
        for reader in ended:
            reader.kill()
            reader.wait()
        self.assertEqual(
            self.bring("column.glb", trimesh.creation.cylinder(0.3, 1.7).export(file_type="glb")).status_code, 201
        )
        self.assertFalse(set(ended) & set(READERS._idle))

    def test_an_effect_plays_without_the_files_it_names_and_says_so(self):
        data = {
            "format": "kagero-effect",
            **json.loads((settings.BASE_DIR / "demo/effects/petal-rain.json").read_text()),
        }
        stream = self.client.post(
            "/api/play",
            json.dumps({"window": "w", "document": data, "now": 30, "whole": False, "facts": False}),
            content_type="application/json",
        )
        first, _ = unpack(next(iter(stream.streaming_content)))
        self.assertEqual([p["uid"] for p in first["props"]], ["hull", "name", "crane", "quay"])
        self.assertGreater(first["emitters"][0]["count"], 0)

    def test_a_file_that_is_gone_is_told_and_there_again_once_it_is_brought_in(self):
        data = trimesh.creation.box((0.31, 0.41, 0.59)).export(file_type="glb")
        content = self.bring("crate.glb", data).json()["content"]
        crate = prop("crate", kind="mesh", file={"content": content, "name": "crate.glb"})

        def collected(contents: list[str]) -> list[str]:
            return self.client.post(
                "/api/props/missing", json.dumps({"contents": contents}), content_type="application/json"
            ).json()

        self.assertEqual(collected([content, "0" * 32, "0" * 32]), ["0" * 32])
        (FOLDER / "props" / f"{content}.npz").unlink()
        files.contents.clear()
        self.assertEqual(collected([content]), [content])
        self.assertEqual(self.geometry(crate).status_code, 422)
        self.assertEqual(self.bring("another name.glb", data).json()["content"], content)
        self.assertEqual((collected([content]), self.geometry(crate).status_code), ([], 200))
        refused = self.client.post(
            "/api/props/missing", json.dumps({"contents": ["../secret"]}), content_type="application/json"
        )
        self.assertEqual(refused.status_code, 422)
