"""Playing and exporting through the API: order of packets, cancellation, progress, files."""

from __future__ import annotations

import errno
import io
import time
from unittest import mock

import numpy as np
from django.db import OperationalError
from django.db.models import QuerySet
from django.test import Client, TransactionTestCase

from kagero.core.document import read_effect
from kagero.core.formats import unpack
from kagero.core.workflows import PlayRequest
from kagero.server.frames import play, ready
from kagero.server.jobs import exports
from kagero.server.jobs.models import Export
from kagero.server.library import drafts
from tests.making import document, emitter, playing, row, with_
from tests.making.server import packets, post


class Play(TransactionTestCase):
    def test_streams_the_core_s_frames(self):
        response = post("play", {"window": "w", "document": document(), "now": 20, "whole": True})
        got = packets(b"".join(response.streaming_content))
        frames = {h["frame"]: arrays for h, arrays in got if h["type"] == "frame"}
        self.assertEqual(got[0][0]["frame"], 20)
        self.assertEqual(sorted(frames), list(range(51)))
        np.testing.assert_array_equal(frames[33]["position.0"], playing().particles(33).arrays["position"])

    def test_nothing_unchanged_is_sent_twice(self):
        """Of two emitters one is edited: the other's arrays stay away, and of the edited one its places after a look
        edit."""
        both = lambda **changes: document(with_(emitter("one"), **changes), emitter("two"), last_frame=6)

        def sent(body: dict, held: list) -> dict[int, tuple]:
            response = post(
                "play",
                {
                    "window": "w",
                    "document": body,
                    "now": 3,
                    "whole": True,
                    "facts": False,
                    "measured": False,
                    "held": held,
                },
            )
            return {
                h["frame"]: (h, {name for name in arrays if not name.startswith("portrait")})
                for h, arrays in packets(b"".join(response.streaming_content))
                if h["type"] == "frame"
            }

        first = sent(both(), [])
        looks = [{f"look.{name}.{i}" for name in ("size", "colour", "opacity")} for i in (0, 1)]
        everything = {"position.0", "position.1", *looks[0], *looks[1]}
        self.assertEqual({frozenset(names) for _, names in first.values()}, {frozenset(everything)})
        held = [
            {"uid": e["uid"], "motion": e["motion"], "look": e["look"], "first": 0, "last": 6}
            for e in first[3][0]["emitters"]
        ]
        for changes, wanted in (
            ({}, set()),
            ({"look__size": row(0.2)}, looks[0]),
            ({"births__launch__speed": row(2.0)}, {"position.0", *looks[0]}),
        ):
            for number, (_, names) in sent(both(**changes), held).items():
                self.assertEqual(names, wanted, (number, changes))
        some = [{**h, "last": 2} for h in held]
        self.assertEqual({n for n, (_, names) in sent(both(), some).items() if names}, {3, 4, 5, 6})

    def test_a_newer_run_of_the_same_window_stops_the_older(self):
        effect = ready(read_effect(document(last_frame=400)))
        older = play(effect, "same", 0, PlayRequest(), lambda: False)
        next(older)
        newer = play(effect, "same", 5, PlayRequest(whole=False), lambda: False)
        other = play(effect, "other", 5, PlayRequest(whole=False), lambda: False)
        next(other)
        self.assertEqual(unpack(next(newer))[0]["frame"], 5)
        self.assertLess(len(list(older)), 3)
        self.assertEqual(
            [unpack(packet)[0]["type"] for packet in other], ["frame", "clip"]
        )  # its live values, and what the clip tells

    def test_a_run_nobody_listens_to_stops(self):
        gone = [False]
        run = play(ready(read_effect(document(last_frame=400))), "w", 0, PlayRequest(), lambda: gone[0])
        next(run)
        gone[0] = True
        self.assertLess(len(list(run)), 3)

    def test_errors_come_as_findings(self):
        for body, status in (
            ({"document": document(frame_rate=0)}, 422),
            ({"document": document(), "now": 99}, 422),
            ({"document": {}}, 422),
            ({"document": document(emitter(births__rate=row(1_000_000)), last_frame=2000)}, 422),
        ):
            response = post("play", {"window": "w", "now": 0, "whole": True, **body})
            self.assertEqual(response.status_code, status)
            self.assertTrue(response.json()["findings"][0]["message"])


class Exports(TransactionTestCase):
    def setUp(self):
        self.effect = drafts.create(read_effect(document(emitter(births__rate=row(60)))))

    def start(self, kind: str, status: int = 201, **more) -> dict:
        body = {
            "kind": kind,
            "first": 0,
            "last": 20,
            "width": 64,
            "height": 48,
            "document": self.effect.document,
            **more,
        }
        response = post(f"effects/{self.effect.pk}/exports", body)
        self.assertEqual(response.status_code, status, response.content)
        return response.json()

    def finish(self, job: dict) -> dict:
        until = time.monotonic() + 30
        while (state := Client().get(f"/api/exports/{job['id']}").json())["state"] in ("waiting", "running"):
            self.assertLess(time.monotonic(), until)
            time.sleep(0.02)
        return state

    def test_every_format_becomes_a_file(self):
        for kind, head in (("npz", b"PK"), ("ply", b"PK"), ("png", b"PK"), ("csv", b"frame,")):
            state = self.finish(self.start(kind))
            self.assertEqual((state["state"], state["done"]), ("done", 21), state)
            response = Client().get(f"/api/exports/{state['id']}/file")
            data = b"".join(response.streaming_content)
            self.assertTrue(data.startswith(head))
            self.assertIn('filename="test-0-20.', response["Content-Disposition"])
            if kind == "npz":
                expected = playing(emitter(births__rate=row(60))).particles(20).arrays["position"]
                with np.load(io.BytesIO(data)) as arrays:
                    np.testing.assert_array_equal(arrays["position"][arrays["frame_offset"][20] :], expected)

    def test_cancelled_work_stops_and_leaves_no_file(self):
        job = self.start("png", last=50, width=1920, height=1080)
        self.assertEqual(post(f"exports/{job['id']}/cancel", {}).status_code, 200)
        self.assertEqual(self.finish(job)["state"], "cancelled")
        self.assertEqual(Client().get(f"/api/exports/{job['id']}/file").status_code, 409)

    def test_wrong_wishes_are_refused_at_once(self):
        for wrong in ({"first": 5, "last": 2}, {"last": 51}, {"width": 100_000}, {"width": 0}, {"document": {}}):
            self.assertTrue(self.start("png", 422, **wrong)["findings"][0]["message"])
        self.assertEqual(self.start("mp3", 422)["findings"][0]["where"], "kind")

    def test_what_a_stopped_server_left_is_marked(self):
        job = Export.objects.create(effect=self.effect, document={}, kind="npz", first=0, last=1, state="running")
        exports.tidy()
        job.refresh_from_db()
        self.assertEqual(job.state, "failed")
        self.assertIn("Start the export again", job.message)

    def test_a_disk_that_fills_under_an_export_is_said_though_it_cannot_be_written_down(self):
        """Neither the file nor the row of the job can be written: the job failed visibly all the same, once and for
        good, and the log has the cause."""
        full = False
        written = QuerySet.update

        def update(rows, **fields):
            if full and rows.model is Export:
                raise OperationalError("database or disk is full")
            return written(rows, **fields)

        def bake(*args, progress, **more):
            nonlocal full
            full = True
            time.sleep(0.25)
            progress(3, 21)
            raise OSError(errno.ENOSPC, "No space left on device")

        with (
            mock.patch.object(QuerySet, "update", update),
            mock.patch.object(exports, "bake", bake),
            self.assertLogs("kagero.exports", "WARNING") as logged,
        ):
            state = self.finish(self.start("png"))
            self.assertEqual(state["state"], "failed", state)
            self.assertIn("No space left", state["message"])
            self.assertEqual(post(f"exports/{state['id']}/cancel", {}).json()["state"], "failed")
            self.assertEqual(Export.objects.get(pk=state["id"]).state, "running")
            full = False
            self.assertEqual(Client().get(f"/api/exports/{state['id']}").json()["state"], "failed")
        self.assertIn("No space left", "".join(logged.output))
        self.assertEqual((Export.objects.get(pk=state["id"]).state, exports._unsaved), ("failed", {}))

    def test_a_job_that_nothing_works_on_can_be_cancelled_and_a_fault_is_logged(self):
        left = Export.objects.create(effect=self.effect, document={}, kind="npz", first=0, last=1, state="running")
        self.assertEqual(post(f"exports/{left.pk}/cancel", {}).json()["state"], "cancelled")
        with (
            mock.patch.object(exports, "bake", side_effect=ZeroDivisionError("by nought")),
            self.assertLogs("kagero.exports", "ERROR") as logged,
        ):
            state = self.finish(self.start("npz"))
        self.assertEqual(state["state"], "failed")
        self.assertIn("by nought", "".join(logged.output))
