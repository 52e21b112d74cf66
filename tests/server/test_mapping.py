"""Mapping over the wire."""

from __future__ import annotations

import json
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from django.conf import settings
from django.test import TestCase, override_settings
from django.utils import timezone

from demo.lantern_ferry import effects
from kagero.core.document import SCHEMA_VERSION
from kagero.server.frames import card
from kagero.server.library.models import Edit, Effect
from tests.making.server import packets


class Mapping(TestCase):
    """Sources, table, one life, pieces and presets over the wire."""

    def setUp(self):
        self.document = effects()["lantern-embers"].model_dump(mode="json")
        self.about = {"document": self.document, "emitter": "embers", "frame": 60}

    def post(self, path: str, **body):
        return self.client.post(f"/api/{path}", json.dumps(body), content_type="application/json")

    def test_sources_with_live_ranges_and_reasons(self):
        listed = {c["key"]: c for c in self.post("sources", **self.about, address="births.rate").json()}
        self.assertEqual(listed["clip_time"]["refusal"], "")
        self.assertIn("exists only on a particle", listed["life"]["refusal"])
        self.assertEqual(len(listed["speed"]["now"]), 3)
        self.assertEqual(self.post("sources", **self.about, address="nothing").status_code, 422)

    def test_table_and_one_life(self):
        table = self.post("table", **self.about, sort="speed", descending=True, count=3).json()
        self.assertEqual((len(table["rows"]), table["total"] > 400), (3, True))
        key = table["rows"][0][0]
        by_key, by_index = (
            self.post("one-life", **self.about, key=key).json(),
            self.post("one-life", **self.about, index=table["rows"][0][1]).json(),
        )
        self.assertEqual(by_key, by_index)
        self.assertIn(60, by_key["frames"])
        for bad in ({"key": "99999999999999999999"}, {"key": "7777777"}, {"index": 10**7}, {"index": -1}):
            answer = self.post("one-life", **self.about, **bad)
            self.assertEqual(answer.status_code, 422)
            self.assertTrue(answer.json()["findings"][0]["message"])

    def test_pieces_are_copied_and_put(self):
        piece = self.post(
            "pieces/copy", document=self.document, emitter="embers", kind="responses", uids=["embers-size-life"]
        ).json()["piece"]
        changed = self.post(
            "pieces/paste", document=self.document, emitter="ash", address="look.size", piece=piece
        ).json()
        self.assertEqual(changed["document"]["emitters"][1]["look"]["size"]["responses"][0]["uid"], changed["uids"][0])
        refused = self.post(
            "pieces/paste", document=self.document, emitter="embers", address="births.lifespan", piece=piece
        )
        self.assertEqual(refused.status_code, 422)
        self.assertIn("settled at birth", refused.json()["findings"][0]["message"])
        self.assertEqual(
            self.post(
                "pieces/copy", document=self.document, emitter="embers", kind="responses", uids=["x"]
            ).status_code,
            422,
        )

    def test_presets_are_kept_replaced_and_forgotten(self):
        keys = {"keys": [{"x": 0, "y": 0}, {"x": 1, "y": 1}]}
        one = self.post("presets", name="mine", kind="curve", data=keys)
        repeated = self.post("presets", name="mine", kind="curve", data={"keys": [{"x": 0, "y": 1}]})
        self.assertEqual((one.status_code, repeated.json()["id"]), (201, one.json()["id"]))
        self.assertEqual([len(p["data"]["keys"]) for p in self.client.get("/api/presets").json()], [1])
        for bad in ({"keys": []}, {"stops": []}, {"keys": [{"x": 2, "y": 0}]}):
            self.assertEqual(self.post("presets", name="bad", kind="curve", data=bad).status_code, 422)
        self.assertEqual(self.client.delete(f"/api/presets/{one.json()['id']}").status_code, 204)
        self.assertEqual(self.client.delete(f"/api/presets/{one.json()['id']}").status_code, 404)

    def test_a_picked_particle_and_a_shade_come_with_the_frame(self):
        key = self.post("table", **self.about, count=1).json()["rows"][0][0]
        stream = self.post(
            "play",
            window="w",
            document=self.document,
            now=60,
            whole=False,
            facts=False,
            picked={"emitter": "embers", "key": key},
            shade="speed",
        )
        drawn, measured = packets(b"".join(stream.streaming_content))
        header, arrays = measured[0], drawn[1]
        entry = header["emitters"][0]
        self.assertEqual(entry["one"]["key"], key)
        self.assertEqual(len(arrays["shade.0"]), entry["count"])
        self.assertEqual(entry["shade"], [float(arrays["shade.0"].min()), float(arrays["shade.0"].max())])

    def test_an_effect_stored_in_an_older_schema_opens(self):
        old = json.loads((settings.BASE_DIR / "tests/samples/embers-schema-1.json").read_text())
        effect = Effect.objects.create(name="Old", document=old, saved=timezone.now())
        effect.edits.create(number=0, label="Made", packed=Edit.pack(old))
        opened = self.client.get(f"/api/effects/{effect.pk}").json()["document"]
        self.assertEqual(opened["schema_version"], SCHEMA_VERSION)
        saved = self.client.put(
            f"/api/effects/{effect.pk}/draft",
            json.dumps({"revision": 1, "document": {**opened, "note": "new"}, "label": "Note"}),
            content_type="application/json",
        )
        self.assertEqual(saved.status_code, 200)
        back = self.post(f"effects/{effect.pk}/undo", revision=2)
        self.assertEqual((back.status_code, back.json()["document"]["schema_version"]), (200, SCHEMA_VERSION))

    def test_the_cost_of_a_frame_is_that_of_its_rows(self):
        data = self.post("cost", document=self.document, frame=60).json()
        embers = data["emitters"][0]
        self.assertGreater(embers["step"], 0)
        self.assertAlmostEqual(
            sum(row["step"] for row in embers["rows"]), embers["step"], delta=1e-6 * max(1, embers["step"])
        )
        self.assertAlmostEqual(
            sum(row["look"] for row in embers["rows"]), embers["look"], delta=1e-6 * max(1, embers["look"])
        )
        self.assertIn("Buoyancy", [row["label"] for row in embers["rows"]])
        self.assertEqual(self.post("cost", document=self.document, frame=6000).status_code, 422)


class Cards(TestCase):
    def test_two_requests_may_make_one_card_at_once(self):
        effect = effects()["petal-rain"]
        with (
            tempfile.TemporaryDirectory() as folder,
            override_settings(DATA_DIR=Path(folder)),
            ThreadPoolExecutor(4) as pool,
        ):
            result = list(pool.map(lambda _: card(effect), range(4)))
            self.assertEqual({picture for picture, _ in result}, {result[0][0]})
            self.assertEqual([p.suffix for p in sorted((Path(folder) / "cards").iterdir())], [".json", ".png"])
