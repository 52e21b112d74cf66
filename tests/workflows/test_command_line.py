"""The command line: frames, files beside the effect, and what it says of faults."""

from __future__ import annotations

import io
import json
import shutil
import tempfile
import unittest
import zipfile
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path

import numpy as np
from PIL import Image

from demo.lantern_ferry import EFFECTS
from demo.parts import written
from kagero.core.__main__ import main
from tests.making import document, emitter, with_

PROPS = EFFECTS.parent / "props"


class CommandLine(unittest.TestCase):
    def run_main(self, *arguments) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            code = main([str(a) for a in arguments])
        return code, out.getvalue(), err.getvalue()

    def test_simulate_render_validate_schema(self):
        embers = EFFECTS / "lantern-embers.json"
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            self.assertEqual(self.run_main("simulate", embers, "--frames", "0:30", "--out", folder / "a.npz")[0], 0)
            with np.load(folder / "a.npz") as data:
                self.assertEqual(len(data["frame_offset"]), 32)
                self.assertEqual(data["position"].shape, (data["frame_offset"][-1], 3))
            self.assertEqual(
                self.run_main("render", embers, "--frames", "20", "--size", "80x60", "--out", folder / "p")[0], 0
            )
            self.assertEqual(Image.open(folder / "p" / "000020.png").size, (80, 60))
            (folder / "bad.json").write_text(json.dumps(with_(document(), emitters__0__births__lifespan__base=0)))
            code, _, err = self.run_main("validate", folder / "bad.json")
            self.assertEqual(code, 1)
            self.assertIn("emitters.0.births.lifespan.base", err)
            for wrong in (
                ("simulate", embers, "--out", folder / "x.abc"),
                ("simulate", embers, "--frames", "a:b", "--out", folder / "x.npz"),
                ("render", embers, "--size", "big", "--out", folder / "q"),
                ("validate", folder / "absent.json"),
            ):
                code, _, err = self.run_main(*wrong)
                self.assertEqual((code, bool(err)), (1, True))
        self.assertEqual(self.run_main("validate", embers)[0], 0)
        self.assertEqual(json.loads(self.run_main("schema")[1])["title"], "Kagero effect")

    def test_spans_may_begin_before_nought_and_be_open(self):
        with tempfile.TemporaryDirectory() as name:
            effect, out = Path(name) / "e.json", Path(name) / "a.npz"
            effect.write_text(json.dumps(document(first_frame=-20, last_frame=40)))
            for text, first, last in (
                ("-10:5", -10, 5),
                ("-5", -5, -5),
                ("30:", 30, 40),
                (":-18", -20, -18),
                (":", -20, 40),
                ("7", 7, 7),
            ):
                for written in (["--frames", text], [f"--frames={text}"]):
                    self.assertEqual(self.run_main("simulate", effect, *written, "--out", out)[0], 0, text)
                    with np.load(out) as data:
                        self.assertEqual((data["frame"][0], data["frame"][-1]), (first, last), text)
            for text in ("5:-3", "a", "", "1:2:3", "0:400", "-"):
                code, _, err = self.run_main("simulate", effect, f"--frames={text}", "--out", out)
                self.assertEqual((code, err[:8]), (1, "request:"), text)

    def test_results_that_were_replaced_are_told_by_row_frame_and_particle(self):
        broken = document(emitter(look__opacity=written("x", "1 / (age - age) if age < 0.5 and age > 0.3 else 1")))
        with tempfile.TemporaryDirectory() as name:
            effect, out = Path(name) / "e.json", Path(name) / "a.npz"
            effect.write_text(json.dumps(broken))
            code, _, err = self.run_main("simulate", effect, "--out", out)
            self.assertEqual(code, 0)
            self.assertRegex(
                err,
                r"^replaced: emitters\.0\.look\.opacity: [\d,]+ numbers of .* were not finite and became 0, first at "
                r"frame 8 for particle [0-9a-f]{16}\.",
            )
            self.assertEqual(self.run_main("simulate", effect, "--strict", "--out", out)[0], 1)
            self.assertEqual(
                self.run_main("simulate", effect, "--strict", "--frames", "0:5", "--out", out)[0],
                0,
                "nothing is amiss there",
            )

    def test_files_come_from_the_folder_or_a_package_beside_the_effect_and_missing_ones_are_told(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            effect, out, zipped = folder / "e.json", folder / "a.npz", folder / "files.zip"
            shutil.copy(EFFECTS / "paper-crane-unravels.json", effect)
            frames = ("--frames", "6")
            code, message, err = self.run_main("simulate", effect, *frames, "--out", out)
            self.assertEqual((code, err.split(":")[0], "props.0.file" in err), (0, "missing_file", True))
            self.assertEqual(self.run_main("simulate", effect, *frames, "--strict", "--out", out)[0], 1)
            self.assertEqual(self.run_main("validate", effect, "--strict")[0], 1)
            found = []
            with zipfile.ZipFile(zipped, "w") as archive:
                archive.write(PROPS / "paper-crane.glb", "inside/another name.glb")
            for files in (["--files", PROPS], ["--files", zipped]):
                code, message, err = self.run_main("simulate", effect, *frames, *files, "--strict", "--out", out)
                self.assertEqual((code, err), (0, ""))
                found.append(out.read_bytes())
            shutil.copy(PROPS / "paper-crane.glb", folder / "crane.glb")
            self.assertEqual(self.run_main("simulate", effect, *frames, "--strict", "--out", out)[::2], (0, ""))
            self.assertEqual({out.read_bytes(), *found}, {found[0]})
            self.assertNotIn(" 0 particles", message)

    def test_files_of_one_name_in_two_folders_are_two_files(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            effect, out, zipped = folder / "e.json", folder / "a.npz", folder / "files.zip"
            shutil.copy(EFFECTS / "paper-crane-unravels.json", effect)
            for inside, source in (("a", "lantern.glb"), ("b", "paper-crane.glb"), ("c", "reeds.glb")):
                (folder / "files" / inside).mkdir(parents=True)
                shutil.copy(PROPS / source, folder / "files" / inside / "mesh.glb")
            with zipfile.ZipFile(zipped, "w") as archive:
                for path in (folder / "files").rglob("*.glb"):
                    archive.write(path, str(path.relative_to(folder)))
            for files in (folder / "files", zipped):
                code, _, err = self.run_main(
                    "simulate", effect, "--frames", "2", "--files", files, "--strict", "--out", out
                )
                self.assertEqual((code, err), (0, ""))

    def test_validate_reads_the_formula_of_a_line(self):
        with tempfile.TemporaryDirectory() as name:
            effect = Path(name) / "e.json"
            for formula_text, code, words in (
                ("vec3(t, 1, 0)", 0, ""),
                ("vec3(t,", 1, "formula: props.0.formula: Line 1, column"),
                ("t", 1, "needs a vector"),
                ("vec3(1 / (t - t), 0, 0)", 0, "geometry: props.0: "),
            ):
                path = {"kind": "path", "uid": "p", "name": "Line", "points": [[0, 0, 0]], "formula": formula_text}
                effect.write_text(json.dumps({**document(), "props": [path]}))
                got, _, err = self.run_main("validate", effect)
                self.assertEqual((got, words in err), (code, True), (formula_text, err))
