"""What is kept on disk: swept after a kill, stopped with its effect, counted, removed after a notice; and disks that
are full or may not be written."""

from __future__ import annotations

import errno
import io
import json
import os
import signal
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.http import UnreadablePostError
from django.test import Client, TransactionTestCase, override_settings
from django.utils import timezone

from demo.parts import file as named_file
from kagero.core.document import read_effect
from kagero.server.jobs import cleanup, exports
from kagero.server.jobs.models import Export
from kagero.server.library import disk, drafts, files
from kagero.server.library.models import File
from tests.making import document, emitter, row, with_

PROPS = Path(settings.BASE_DIR) / "demo" / "props"


class StorageCase(TransactionTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        changed = override_settings(DATA_DIR=self.folder)
        changed.enable()
        self.addCleanup(changed.disable)

    def send(self, method: str, path: str, body=None, status: int = 200):
        response = getattr(Client(raise_request_exception=False), method)(
            f"/api/{path}", *([json.dumps(body)] if body is not None else []), content_type="application/json"
        )
        self.assertEqual(response.status_code, status, response.content[:400])
        return json.loads(response.content) if response.content else None

    def left(self) -> list[str]:
        return sorted(p.name for p in self.folder.rglob("*") if p.is_file() and "sqlite" not in p.name)


class HalfWritten(StorageCase):
    def test_what_a_killed_process_left_goes_and_what_is_being_written_stays(self):
        code = f"""
import django, os, sys, time
from django.conf import settings
settings.configure(DATA_DIR=__import__('pathlib').Path({str(self.folder)!r}))
from kagero.server.library.disk import atomic_write
with atomic_write(settings.DATA_DIR / "props" / "big") as part:
    part.write_bytes(b"half")
    print("written", flush=True)
    time.sleep(60)
"""
        other = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, cwd=settings.BASE_DIR)
        self.addCleanup(other.stdout.close)
        self.assertEqual(other.stdout.readline().strip(), b"written")
        (self.folder / "exports").mkdir()
        (self.folder / "exports" / "7.npz.part").write_bytes(b"half")
        with disk.atomic_write(self.folder / "mine") as part:
            part.write_bytes(b"x")
            cleanup.sweep()
            self.assertEqual(len(self.left()), 3, "all three may still be written to")
            os.kill(other.pid, signal.SIGKILL)
            other.wait()
            self.assertEqual(len(cleanup.sweep()), 1)
            self.assertEqual(len(cleanup.sweep(starting=True)), 1)
        self.assertEqual(self.left(), ["mine"])

    def test_after_an_error_nothing_is_left(self):
        with self.assertRaises(ZeroDivisionError), disk.atomic_write(self.folder / "a") as part:
            part.write_bytes(b"x" * (1 // 0))
        self.assertEqual(self.left(), [])


class Exported(StorageCase):
    def effect(self, **clip):
        return drafts.create(read_effect(document(emitter(births__rate=row(3000)), **clip)))

    def start(self, effect, kind: str = "csv", last: int = 10) -> dict:
        return self.send(
            "post",
            f"effects/{effect.pk}/exports",
            {"kind": kind, "first": 0, "last": last, "document": effect.document},
            201,
        )

    def finished(self, job: dict) -> dict:
        until = time.monotonic() + 60
        while (state := self.send("get", f"exports/{job['id']}"))["state"] in ("waiting", "running"):
            self.assertLess(time.monotonic(), until)
            time.sleep(0.02)
        return state

    def test_deleting_an_effect_stops_its_exports_and_leaves_no_file(self):
        effect = self.effect(last_frame=2000)
        self.finished(self.start(effect))
        running, waiting = self.start(effect, last=2000), self.start(effect, last=2000)
        until = time.monotonic() + 60
        while self.send("get", f"exports/{running['id']}")["done"] < 1:
            self.assertLess(time.monotonic(), until)
        self.send("delete", f"effects/{effect.pk}", status=204)
        self.assertEqual(Export.objects.count(), 0)
        while exports._stops:  # both jobs end
            self.assertLess(time.monotonic(), until)
            time.sleep(0.02)
        self.send("get", f"exports/{waiting['id']}", status=404)
        self.assertEqual(self.left(), [])

    def test_exports_say_when_they_go_and_go_then(self):
        effect = self.effect()
        state = self.finished(self.start(effect))
        listed = self.send("get", f"effects/{effect.pk}/exports")
        self.assertEqual([each["id"] for each in listed], [state["id"]])
        self.assertGreater(listed[0]["bytes"], 1000)
        self.assertEqual(
            listed[0]["goes"][:10], (timezone.now() + timedelta(days=settings.KEEP_EXPORTS_DAYS)).isoformat()[:10]
        )
        cleanup.sweep()
        self.assertEqual(len(self.left()), 1)
        Export.objects.update(finished=timezone.now() - timedelta(days=settings.KEEP_EXPORTS_DAYS, hours=1))
        cleanup.sweep()
        self.assertEqual((self.left(), self.send("get", f"effects/{effect.pk}/exports")), ([], []))
        repeated = self.finished(self.start(effect))
        self.send("delete", f"exports/{repeated['id']}", status=204)
        self.assertEqual(self.left(), [])

    def test_an_export_has_the_files_of_props_and_says_what_was_missing(self):
        crane = read_effect((PROPS.parent / "effects" / "paper-crane-unravels.json").read_bytes())
        effect = drafts.create(crane)
        state = self.finished(self.start(effect))
        self.assertIn("crane.glb", state["message"])
        lines = (self.folder / "exports" / f"{state['id']}.csv").read_bytes().count(b"\n")
        files.import_file("crane.glb", (PROPS / "paper-crane.glb").read_bytes())
        files.contents.clear()
        state = self.finished(self.start(effect))
        self.assertEqual(state["message"], "")
        self.assertGreater((self.folder / "exports" / f"{state['id']}.csv").read_bytes().count(b"\n"), lines)


class Counted(StorageCase):
    def setUp(self):
        super().setUp()
        File.objects.all().delete()  # those that the migration found

    def test_files_stay_as_long_as_any_edit_refers_to_them_and_then_for_a_while(self):
        brought = files.import_file("crane.glb", (PROPS / "paper-crane.glb").read_bytes())
        other = files.import_file("lantern.glb", (PROPS / "lantern.glb").read_bytes())
        self.assertEqual(brought["content"], named_file("paper-crane.glb")["content"])
        names = lambda: [each["name"] for each in self.send("get", "storage")["unused"]]
        self.assertEqual(names(), ["crane.glb", "lantern.glb"])
        prop = {
            "kind": "mesh",
            "uid": "p",
            "name": "Crane",
            "file": {"content": brought["content"], "name": "crane.glb"},
        }
        plain = document()
        effect = drafts.create(read_effect(plain))
        effect = drafts.save(effect.pk, effect.revision, read_effect({**plain, "props": [prop]}), "Bring it in")
        self.assertEqual(names(), ["lantern.glb"])
        effect = drafts.save(effect.pk, effect.revision, read_effect(plain), "Take it away")
        files.review()
        self.assertEqual(names(), ["lantern.glb"], "undo may want it back")
        with mock.patch.object(drafts, "KEPT_EDITS", 2):
            for seed in range(3):
                effect = drafts.save(
                    effect.pk, effect.revision, read_effect(with_(plain, clip__seed=seed + 50)), "Seed"
                )
        files.review()
        self.assertEqual(names(), ["crane.glb", "lantern.glb"])
        # the last state that could be played goes on showing, and keeps its files, however many edits ago it was
        effect = drafts.save(effect.pk, effect.revision, read_effect({**plain, "props": [prop]}), "Bring it in again")
        broken = with_(plain, emitters__0__births__lifespan=row(0.0))
        with mock.patch.object(drafts, "KEPT_EDITS", 2):
            for seed in range(4):
                effect = drafts.save(
                    effect.pk, effect.revision, read_effect(with_(broken, clip__seed=seed + 80)), "Seed"
                )
        self.assertEqual([p["name"] for p in effect.playable["props"]], ["Crane"])
        files.review()
        self.assertEqual(names(), ["lantern.glb"])
        with mock.patch.object(drafts, "KEPT_EDITS", 2):
            for seed in range(4):
                effect = drafts.save(
                    effect.pk, effect.revision, read_effect(with_(plain, clip__seed=seed + 90)), "Seed"
                )
        files.review()
        self.assertEqual(names(), ["crane.glb", "lantern.glb"])
        # the notice: until then it can be kept, or removed at once; what is used can be neither
        late = timezone.now() - timedelta(days=settings.KEEP_DAYS - 1)
        File.objects.update(unused=late)
        files.review()
        self.assertEqual(names(), ["crane.glb", "lantern.glb"])
        self.send("post", f"storage/files/{other['content']}/keep", status=204)
        File.objects.filter(pk=brought["content"]).update(unused=late - timedelta(days=2))
        files.review()
        self.assertEqual(names(), ["lantern.glb"])
        self.assertFalse([name for name in self.left() if brought["content"] in name])
        effect = drafts.save(
            effect.pk,
            effect.revision,
            read_effect({**plain, "props": [with_(prop, file__content=other["content"])]}),
            "Use it",
        )
        self.send("delete", f"storage/files/{other['content']}", status=404)
        drafts.find(effect.pk).delete()
        self.send("delete", f"storage/files/{other['content']}", status=204)
        self.assertEqual(self.left(), [])


class FullOrReadOnly(StorageCase):
    """SQLite itself is made to refuse: by its page limit (SQLITE_FULL) and by query_only (SQLITE_READONLY); files by
    the errors of the system."""

    def test_an_edit_on_a_full_disk_and_on_a_read_only_one(self):
        opened = self.send("post", "effects", {"document": document()}, 201)
        # longer than what pages have room for
        body = {
            "revision": opened["revision"],
            "document": with_(opened["document"], note="".join(chr(33 + (i * i) % 90) for i in range(4000))),
            "label": "Note",
        }
        path = f"effects/{opened['id']}/draft"
        with connection.cursor() as cursor:
            cursor.execute("VACUUM")
            pages = cursor.execute("PRAGMA page_count").fetchone()[0]
            cursor.execute(f"PRAGMA max_page_count={pages}")
            for _ in range(40):  # until free pages are used up
                body = {
                    **body,
                    "revision": self.send("get", f"effects/{opened['id']}")["revision"],
                    "document": with_(body["document"], clip__seed=body["document"]["clip"]["seed"] + 1),
                }
                response = Client(raise_request_exception=False).put(
                    f"/api/{path}", json.dumps(body), content_type="application/json"
                )
                if response.status_code != 200:
                    break
            self.assertEqual((response.status_code, response.json()["findings"][0]["code"]), (507, "disk"))
            self.assertIn("full", response.json()["findings"][0]["message"])
            cursor.execute("PRAGMA max_page_count=1073741823")
            cursor.execute("PRAGMA query_only=ON")
            try:
                problem = self.send("put", path, body, 503)
            finally:
                cursor.execute("PRAGMA query_only=OFF")
        self.assertIn("may not write", problem["findings"][0]["message"])
        self.send("put", path, body)  # nothing was lost: the same edit is taken now

    def test_a_file_that_finds_no_room(self):
        data = (PROPS / "lantern.glb").read_bytes()
        for number, status in ((errno.ENOSPC, 507), (errno.EROFS, 503), (errno.EACCES, 503), (errno.EIO, 503)):
            with mock.patch.object(Path, "write_bytes", side_effect=OSError(number, os.strerror(number))):
                response = Client(raise_request_exception=False).post(
                    "/api/props/files?name=a.glb", data, content_type="application/octet-stream"
                )
            self.assertEqual((response.status_code, response.json()["findings"][0]["code"]), (status, "disk"))
        self.assertEqual(self.left(), [])

    def test_a_request_that_is_cut_off_is_no_fault_of_the_disk_and_neither_is_a_file_s_name(self):
        for error, status, code in (
            (UnreadablePostError("gone"), 408, "request"),
            (ConnectionResetError(errno.ECONNRESET, "reset"), 408, "request"),
            (FileNotFoundError(errno.ENOENT, "No such file", "/a/beautiful/full.glb"), 503, "disk"),
        ):
            with mock.patch.object(files, "import_file", side_effect=error):
                response = Client(raise_request_exception=False).post(
                    "/api/props/files?name=a.glb", b"x", content_type="application/octet-stream"
                )
            self.assertEqual((response.status_code, response.json()["findings"][0]["code"]), (status, code), error)

    def test_many_may_ask_at_once_whether_the_folder_can_be_written_to(self):
        with ThreadPoolExecutor(8) as pool:
            self.assertEqual(set(pool.map(lambda _: disk.disk_problem(), range(200))), {""})
        self.assertEqual(self.left(), [])

    def test_cards_that_nobody_renewed_go(self):
        cards = self.folder / "cards"
        cards.mkdir()
        for name, days in (("old.png", settings.KEEP_DAYS + 1), ("new.png", 1)):
            (cards / name).write_bytes(b"x")
            os.utime(cards / name, (time.time() - days * 86_400,) * 2)
        cleanup.sweep()
        self.assertEqual(self.left(), ["new.png"])

    def test_the_server_says_at_its_start_what_is_wrong_with_its_folder(self):
        self.assertEqual(disk.disk_problem(), "")
        with mock.patch.object(
            disk.tempfile, "TemporaryFile", side_effect=OSError(errno.EROFS, "Read-only file system")
        ):
            self.assertIn("cannot be written to (Read-only file system)", disk.disk_problem())
            self.assertTrue(self.send("get", "storage")["trouble"])
        with mock.patch.object(disk, "LOW_SPACE", 1 << 60):
            self.assertIn("MB are free", disk.disk_problem())
        (self.folder / "plain").write_bytes(b"")
        env = {
            **os.environ,
            "KAGERO_DATA": str(self.folder / "plain" / "under"),
            "DJANGO_SETTINGS_MODULE": "kagero.server.settings",
        }
        ran = subprocess.run(
            [sys.executable, "manage.py", "migrate", "-v0"],
            capture_output=True,
            text=True,
            cwd=settings.BASE_DIR,
            env=env,
        )
        self.assertEqual(
            (ran.returncode, "cannot be written to" in ran.stderr, "Traceback" in ran.stderr),
            (1, True, False),
            ran.stderr,
        )


class OneServer(StorageCase):
    def test_a_second_server_on_the_folder_is_refused_and_told_who_has_it_until_the_first_ends(self):
        with disk.claim_folder("http://localhost:8130"):
            with self.assertRaisesRegex(disk.Served, f"process {os.getpid()} at http://localhost:8130"):
                disk.claim_folder("http://localhost:8131")
            call_command(
                "backup", str(self.folder / "beside.zip"), stdout=io.StringIO()
            )  # a command line takes no lock
        with disk.claim_folder("http://localhost:8131"):
            self.assertIn("8131", (self.folder / "server.lock").read_text())
