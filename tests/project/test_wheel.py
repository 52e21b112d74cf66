"""The wheel: built, installed into an empty environment without Node, and an effect played with it."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import time
import unittest
import urllib.request
import venv
import zipfile
from pathlib import Path

from django.conf import settings

ROOT = Path(settings.BASE_DIR)
MOST = 3_000_000  # bytes


class Wheel(unittest.TestCase):
    def test_it_is_built_installed_and_plays_an_effect(self):
        """Its dependencies are those of this environment, which lie on the new one's path; Kagero itself does not."""
        if not (settings.CLIENT_DIR / "index.html").exists():
            self.skipTest("run `make setup`: the client is not built")
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            self.run_(sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(folder), cwd=ROOT)
            (wheel,) = folder.glob("*.whl")
            self.assertLess(wheel.stat().st_size, MOST)
            inside = zipfile.ZipFile(wheel).namelist()
            for wanted in (
                "kagero/assets/client/index.html",
                "kagero/assets/demo/effects/lantern-embers.json",
                "kagero/assets/docs/DESK.md",
                "kagero/core/geometry/fonts/zen-kaku-700.woff",
            ):
                self.assertTrue(wanted in inside, wanted)
            self.assertEqual(
                [each for each in inside if "screenshots" in each or "/tests/" in each or "__pycache__" in each], []
            )
            venv.create(folder / "env", with_pip=False, symlinks=True)
            python = folder / "env" / "bin" / "python"
            place = Path(self.run_(str(python), "-c", "import sysconfig; print(sysconfig.get_path('purelib'))").strip())
            zipfile.ZipFile(wheel).extractall(place)
            there = next(path for path in sys.path if path.endswith("site-packages"))
            (place / "dependencies.pth").write_text(there + "\n")
            self.plays(python, folder)

    def run_(self, *command: str, cwd: Path | None = None) -> str:
        done = subprocess.run(
            command, cwd=cwd or Path(tempfile.gettempdir()), capture_output=True, text=True, env=self.environment()
        )
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        return done.stdout

    def environment(self, **more: str) -> dict[str, str]:
        """Return an environment in which no checkout, no Node and no data folder is named."""
        kept = {
            key: value
            for key, value in os.environ.items()
            if not key.startswith(("KAGERO_DATA", "PYTHONPATH", "DJANGO"))
        }
        return {**kept, "PATH": "/usr/bin:/bin", **more}

    def plays(self, python: Path, folder: Path) -> None:
        help_ = self.run_(str(python), "-m", "kagero", "--help")
        for command in ("serve", "simulate", "render", "validate", "schema", "ready"):
            self.assertIn(command, help_)
        heavy = (
            "import sys, kagero.__main__; print([name for name in ('numpy', 'django', 'numba') if name in sys.modules])"
        )
        loaded = self.run_(str(python), "-c", heavy)
        self.assertEqual(loaded.strip(), "[]")
        effect = next(folder.glob("env/lib/*/site-packages/kagero/assets/demo/effects/compass-rose.json"))
        self.run_(
            str(python), "-m", "kagero", "simulate", str(effect), "--frames", "0:3", "--out", str(folder / "out.npz")
        )
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        server = subprocess.Popen(
            [str(python), "-m", "kagero", "serve", "--port", str(port)],
            cwd=folder,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            env=self.environment(XDG_DATA_HOME=str(folder / "data")),
        )
        try:
            page = self.answered(server, f"http://127.0.0.1:{port}/")
            self.assertIn("<html", page)
            self.assertEqual(self.answered(server, f"http://127.0.0.1:{port}/api/effects"), "[]")
            self.assertTrue((folder / "data" / "kagero" / "kagero.sqlite3").exists())
        finally:
            server.terminate()
            server.wait(20)
            if server.stdout:
                server.stdout.close()

    def answered(self, server: subprocess.Popen[str], address: str) -> str:
        for _ in range(300):
            self.assertIsNone(server.poll(), "the server ended")
            try:
                with urllib.request.urlopen(address, timeout=10) as answer:
                    return answer.read().decode()
            except OSError:
                time.sleep(0.1)
        self.fail(f"no answer from {address}")
