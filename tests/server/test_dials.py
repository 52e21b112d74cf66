"""Dials, overlays and formulas over the wire."""

from __future__ import annotations

import base64
import json

from django.test import TestCase

from kagero.core.document import read_effect
from kagero.server.library.drafts import create
from tests.making import document, emitter, row
from tests.making.dials import dial
from tests.making.formulas import formula


class Wire(TestCase):
    def setUp(self):
        self.document = {
            **document(emitter(look__size=formula("0.1 * dials.height"))),
            "dials": [dial(), dial("w", "Width")],
        }
        self.effect = create(read_effect(self.document))

    def post(self, path: str, **body):
        return self.client.post(f"/api/{path}", json.dumps(body), content_type="application/json")

    def check(self, text: str, address: str = "look.size", **more):
        return self.post(
            "formulas/check", document=self.document, emitter="one", address=address, text=text, **more
        ).json()

    def test_a_formula_is_checked_where_it_stands(self):
        good = self.check("half = life / 2\nhalf * dials.height")
        self.assertEqual((good["problems"], good["kind"], [s["name"] for s in good["steps"]]), ([], "number", ["half"]))
        bad = self.check("half = lief / 2\nhalf * dials.height")["problems"][0]
        self.assertEqual(
            (bad["line"], bad["column"], bad["end_column"], bad["remedy"]),
            (1, 8, 12, "Did you mean life or clip_left?"),
        )
        self.assertIn("whole emitter", self.check("life", "births.rate")["problems"][0]["message"])
        self.assertIn("This gives m/s; Size takes m", self.check("speed")["note"])
        self.assertIn(
            "needs a vector", self.check("1", "births.launch.direction", read="once")["problems"][0]["message"]
        )
        self.assertEqual(self.check("1", "births.launch.direction", read="once", response=True)["problems"], [])
        self.assertEqual(
            self.post("formulas/check", document=self.document, emitter="one", address="nothing", text="1").status_code,
            422,
        )
        self.assertIn("characters", self.check("life + " * 2500 + "1")["problems"][0]["message"])

    def test_names_come_with_live_values_and_reasons(self):
        names = {
            n["name"]: n
            for n in self.post(
                "formulas/names", document=self.document, emitter="one", address="births.rate", frame=20
            ).json()
        }
        self.assertIn("whole emitter", names["life"]["refused"])
        self.assertEqual((names["dials.height"]["refused"], names["dials.height"]["now"]), ("", [1, 1, 1]))
        self.assertEqual(len(names["speed"]["now"]), 3)

    def test_dials_are_made_used_renamed_tried_and_taken_away(self):
        data = self.post(
            "dials/make", document=self.document, emitter="one", address="births.rate", how="multiplies"
        ).json()
        uses = self.post("dials/uses", document=data["document"]).json()
        self.assertEqual([u["how"] for u in uses[data["uid"]]], ["multiplies"])
        self.assertEqual([u["how"] for u in uses["h"]], ["is read by the formula of"])
        renamed = self.post("names/rename", document=data["document"], kind="dial", uid="h", name="Tall").json()[
            "document"
        ]
        self.assertEqual(renamed["emitters"][0]["look"]["size"]["base"]["source"]["text"], "0.1 * dials.tall")
        trial = self.post("dials/try", document=renamed, uid=data["uid"]).json()
        self.assertEqual([t["words"] for t in trial["tried"]], ["Nobody is alive.", "", ""])
        self.assertTrue(base64.b64decode(trial["tried"][1]["picture"]).startswith(b"\x89PNG"))
        without = self.post("dials/delete", document=renamed, uid="h").json()["document"]
        self.assertEqual(without["emitters"][0]["look"]["size"]["base"]["source"]["text"], "0.1 * 1.0")
        for path, body in [
            ("dials/make", {"emitter": "one", "address": "look.none", "how": "sets"}),
            ("dials/delete", {"uid": "x"}),
            ("names/rename", {"kind": "draw", "uid": "x", "name": "y"}),
            ("dials/try", {"uid": "x"}),
        ]:
            answer = self.post(path, document=self.document, **body)
            self.assertEqual((answer.status_code, bool(answer.json()["findings"][0]["remedy"])), (422, True), path)

    def test_overlays_stand_beside_the_artists_values(self):
        address = f"/api/effects/{self.effect.pk}/overlays"

        def keep(name, values):
            return self.client.put(
                address, json.dumps({"name": name, "values": values}), content_type="application/json"
            )

        first = keep("Night crew", {"h": 1.5, "w": 0.25}).json()
        keep("Day crew", {"h": 0.5})
        repeated = keep("Night crew", {"h": 1.75, "w": 0.25}).json()
        self.assertEqual((first["id"], repeated["values"]), (repeated["id"], {"h": 1.75, "w": 0.25}))
        self.assertEqual([o["name"] for o in self.client.get(address).json()], ["Night crew", "Day crew"])
        opened = self.client.get(f"/api/effects/{self.effect.pk}").json()
        self.assertEqual(([d["value"] for d in opened["document"]["dials"]], opened["revision"]), ([1, 1], 1))
        self.assertEqual(
            self.post(f"effects/{self.effect.pk}/overlays/{first['id']}/take-out", uids=["h"]).status_code, 204
        )
        self.assertEqual(self.client.get(address).json()[0]["values"], {"w": 0.25})
        self.post(f"effects/{self.effect.pk}/overlays/{first['id']}/take-out", uids=["w"])
        self.assertEqual([o["name"] for o in self.client.get(address).json()], ["Day crew"])
        for bad in ({"h": 9}, {"gone": 1}, {}):
            self.assertEqual(keep("Bad", bad).status_code, 422)
        self.assertEqual(keep("  ", {"h": 1}).status_code, 422)
        self.assertEqual(self.client.get("/api/effects/999/overlays").status_code, 404)
        self.assertEqual(self.post(f"effects/{self.effect.pk}/overlays/999/take-out").status_code, 404)

    def test_the_page_of_dials_is_an_address_of_its_own(self):
        self.assertEqual(self.client.get(f"/effects/{self.effect.pk}/dials").status_code, 200)
        self.assertEqual(self.client.get(f"/effects/{self.effect.pk}/else").status_code, 404)

    def test_a_draft_that_cannot_run_is_kept_and_plays_no_part(self):
        size = {
            "base": {"source": {"kind": "formula", "uid": "f", "text": "0.1", "draft": "0.1 * lief"}, "read": "live"},
            "responses": [],
        }
        fields = {**self.document, "emitters": [emitter(look__size=size, births__rate=row(10))]}
        saved = self.client.put(
            f"/api/effects/{self.effect.pk}/draft",
            json.dumps({"revision": 1, "document": fields, "label": "Begin"}),
            content_type="application/json",
        )
        self.assertEqual(saved.status_code, 200)
        self.assertEqual(
            saved.json()["document"]["emitters"][0]["look"]["size"]["base"]["source"]["draft"], "0.1 * lief"
        )
