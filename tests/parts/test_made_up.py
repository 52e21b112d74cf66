"""A force, a source, a look and an exporter that are defined in one file of the tests are everywhere at once."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

import jsonschema
import numpy as np
from django.test import Client, TestCase

from kagero.core.__main__ import main
from kagero.core.catalog import catalog_as_dict, check_effect, layout
from kagero.core.document import json_schema, read_effect, upgrade, write_effect
from kagero.core.engine import REFERENCE, current_engine, use_engine
from kagero.core.errors import EffectError
from kagero.core.formats import unpack
from kagero.core.workflows import Particles, Playing, PlayRequest, TableRequest, bake, play_packets
from tests.making import STRAIGHT, document, emitter, response, row, with_
from tests.parts.made_up import registered


def with_made_up(**changes: Any) -> dict[str, Any]:
    """Return a document in which the made-up force is driven from the made-up source, under the made-up look."""
    driven = row(2.0, response("r", "freshness", STRAIGHT))
    tide = {"kind": "tide", "uid": "t", "strength": driven, "middle": row([0.0, 0.4, 0.0]), "way": "in"}
    look = {
        "sprite": "glint",
        "size": row(0.1),
        "opacity": row(1.0),
        "colour": row([1.0, 0.5, 0.25]),
        "glint": row(7.0),
    }
    return with_(upgrade(document()), emitters__0__forces=[{**tide, **changes}], emitters__0__look=look)


class MadeUp(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.enterClassContext(registered())
        cls.effect = read_effect(with_made_up())

    def test_they_fit_the_published_schema_and_come_back_from_a_file(self):
        jsonschema.validate(json.loads(json.dumps(with_made_up())), json_schema())
        written = write_effect(self.effect)
        repeated = read_effect(written)
        self.assertEqual((repeated, write_effect(repeated)), (self.effect, written))
        self.assertEqual((repeated.emitters[0].forces[0].kind, repeated.emitters[0].look.sprite), ("tide", "glint"))
        with self.assertRaises(EffectError):
            read_effect(with_made_up(way="sideways"))

    def test_catalog_and_layout_have_them(self):
        self.assertIn("freshness", [source["kind"] for source in catalog_as_dict()["sources"]])
        laid = layout(self.effect)["emitters"]["one"]
        rows = {each["address"]: each for each in laid["rows"]}
        self.assertLessEqual({"forces.t.strength", "forces.t.middle", "look.glint"}, set(rows))
        part = laid["parts"]["forces.#t"]
        self.assertEqual((part["label"], part["strength"], part["removable"]), ("Tide", "forces.t.strength", True))
        self.assertEqual(
            [(field["offered"]["label"], field["offered"]["kind"]) for field in part["fields"]], [("Runs", "choice")]
        )
        self.assertEqual(
            [(guide["mark"], guide["at"], guide["moved"]) for guide in part["guides"]],
            [("cross", "forces.t.middle", True)],
        )
        self.assertIn("Tide", [add["label"] for band in laid["bands"] for add in band["adds"]])
        self.assertIn("glint", [kind["kind"] for kind in laid["parts"]["look"]["kinds"]])
        self.assertEqual(laid["sources"]["r"]["name"], "freshness")

    def test_both_engines_run_it_and_agree(self):
        shown = {}
        for choice in (REFERENCE, current_engine()):
            with use_engine(choice):
                shown[choice.name] = Playing(self.effect).show(30)[0]
        self.assertEqual(set(shown), {"reference", "native"})
        a, b = shown["reference"], shown["native"]
        np.testing.assert_allclose(a.positions(), b.positions(), atol=1e-6)
        free = Playing(read_effect(document(emitter()))).show(30)[0]
        self.assertGreater(np.abs(free.positions()[:, 1] - a.positions()[:, 1]).max(), 0.05)
        np.testing.assert_array_equal(a.column("glint"), np.full(len(a), 7.0))

    def test_what_it_does_is_what_it_says(self):
        """The level is passed at the time that constant acceleration gives: v²/2a metres above the start, and no
        further."""
        still = with_(with_made_up(strength=row(2.0), middle=row([0.0, -5.0, 0.0])), clip__substeps=8)
        heights = Playing(read_effect(still)).show(49)[0].positions()[:, 1]
        self.assertAlmostEqual(float(heights.max()), 1 / (2 * 2.0), delta=0.01)
        away = (
            Playing(read_effect(with_made_up(strength=row(2.0), middle=row([0.0, -5.0, 0.0]), way="out")))
            .show(49)[0]
            .positions()[:, 1]
        )
        self.assertGreater(float(away.max()), 1.0)

    def test_packets_tables_and_caches_have_its_column(self):
        playing = Playing(self.effect)
        header, arrays = unpack(next(iter(play_packets(playing, 20, PlayRequest(whole=False)))))
        self.assertEqual((arrays["look.glint.0"].dtype.str, set(arrays["look.glint.0"].tolist())), ("|u1", {7}))
        self.assertNotIn("glint", header["emitters"][0]["defaults"])
        table = Particles(playing, "one").table(20, TableRequest())
        self.assertIn("freshness", [column["key"] for column in table["columns"]])
        column = next(column for column in playing.stored_columns() if column.name == "glint")
        self.assertEqual(column.kind, "<f4")
        np.testing.assert_array_equal(playing.particles(20).arrays["glint"], 7)

    def test_the_exporter_is_offered_by_the_command_line_and_writes(self):
        with tempfile.TemporaryDirectory() as folder:
            file, out = Path(folder) / "e.json", Path(folder) / "out.tally.txt"
            file.write_text(write_effect(self.effect))
            self.assertEqual(main(["simulate", str(file), "--frames", "3:5", "--out", str(out)]), 0)
            lines = out.read_text().splitlines()
            self.assertEqual([line.split()[0] for line in lines], ["3", "4", "5", "end"])
            bake(Playing(self.effect), "tally", 3, 5, Path(folder) / "again")
            self.assertEqual((Path(folder) / "again").read_text().splitlines(), lines)


class OverTheWire(TestCase):
    def test_it_is_saved_opened_again_and_its_faults_are_named(self):
        with registered():
            post = lambda path, body: Client().post(f"/api/{path}", json.dumps(body), content_type="application/json")
            opened = post("effects", {"document": with_made_up()})
            self.assertEqual(opened.status_code, 201, opened.content)
            repeated = Client().get(f"/api/effects/{opened.json()['id']}").json()
            self.assertEqual(repeated["document"]["emitters"][0]["forces"][0]["way"], "in")
            self.assertIn("tally", [each["kind"] for each in Client().get("/api/catalog").json()["formats"]])
            wrong = with_made_up(strength=row(2.0, response("r", {"kind": "mask", "mask": "gone"}, STRAIGHT)))
            found = check_effect(read_effect(wrong))
            self.assertTrue(any("forces" in finding.where for finding in found), found)
        with self.assertRaises(EffectError):  # and nothing of them is left behind
            read_effect(with_made_up())
        self.assertNotIn("freshness", [source["kind"] for source in catalog_as_dict()["sources"]])
        self.assertNotIn("tide", json.dumps(json_schema()))
