"""How effects lie in the library: beginnings, copies, names, folders, tags, and what was deleted."""

from __future__ import annotations

import unittest
from datetime import timedelta

from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from kagero.core.beginnings import BEGINNINGS
from kagero.core.errors import RequestError
from kagero.server.library import shelves
from kagero.server.library.models import Effect
from tests.making.server import ApiCase


class Shelves(ApiCase):
    def names(self, path: str = "effects") -> list[str]:
        return [card["name"] for card in self.call("get", path)]

    def test_the_newest_stands_first_and_an_edit_makes_new(self):
        first, _ = self.make(name="first"), self.make(name="second")
        self.assertEqual(self.names(), ["second", "first"])
        self.save(first, clip__seed=9)
        self.assertEqual(self.names(), ["first", "second"])

    def test_a_beginning_becomes_an_effect_of_its_own(self):
        offered = self.call("get", "beginnings")
        self.assertEqual([each["key"] for each in offered], list(BEGINNINGS))
        for key in BEGINNINGS:
            opened = self.call("post", "effects", {"beginning": key, "folder": " Short / Shot 12/"}, 201)
            self.assertEqual(opened["findings"], [])
        self.assertEqual({card["folder"] for card in self.call("get", "effects")}, {"Short/Shot 12"})
        repeated = self.call("post", "effects", {"beginning": "empty"}, 201)
        self.assertEqual(repeated["document"]["name"], "New effect 2")
        self.assertIn("burst", self.call("post", "effects", {"beginning": "fireworks"}, 422)["findings"][0]["remedy"])
        self.assertEqual(self.client.get("/api/beginnings/empty/card.png").content[:4], b"\x89PNG")

    def test_a_copy_lies_where_its_original_does(self):
        opened = self.make(name="Wake")
        path = f"effects/{opened['id']}"
        self.call("patch", path, {"folder": "Shot 3", "tags": ["Water", "night ", "water"]})
        result = self.call("post", f"{path}/copy", status=201)
        self.assertEqual((result["name"], result["folder"], result["tags"]), ("Wake 2", "Shot 3", ["night", "water"]))
        copied = self.call("get", f"effects/{result['id']}")["document"]
        self.assertEqual({**copied, "name": "Wake"}, opened["document"])

    def test_renaming_in_the_library_is_an_edit_that_can_be_undone(self):
        opened = self.make(name="Wake")
        path = f"effects/{opened['id']}"
        self.assertEqual(self.call("patch", path, {"name": "Wake at dawn"})["name"], "Wake at dawn")
        now = self.call("get", path)
        self.assertEqual((now["document"]["name"], now["undo"]), ("Wake at dawn", "Rename the effect"))
        self.save(opened, 409, clip__seed=3)  # who has it open elsewhere is told, and nothing is overwritten
        self.assertEqual(self.call("post", f"{path}/undo", {"revision": now["revision"]})["document"]["name"], "Wake")

    def test_what_was_deleted_can_be_taken_back_until_it_goes_for_good(self):
        one, two = self.make(name="Wake"), self.make(name="Spray")
        one = self.save(one, label="Seed", clip__seed=5)
        self.call("delete", f"effects/{one['id']}", status=204)
        self.assertEqual(self.names(), ["Spray"])
        for method, path, body in (
            ("get", "", None),
            ("put", "/draft", {"revision": 2, "document": one["document"], "label": "x"}),
            ("delete", "", None),
        ):
            self.call(method, f"effects/{one['id']}{path}", body, 404)
        gone = self.call("get", "effects?deleted=true")
        self.assertEqual([card["name"] for card in gone], ["Wake"])
        self.assertIn("T", gone[0]["goes"])
        self.make(name="Wake")  # another takes its name meanwhile
        self.assertEqual(self.call("post", f"effects/{one['id']}/take-back")["name"], "Wake 2")
        back = self.call("get", f"effects/{one['id']}")
        self.assertEqual((back["document"]["clip"]["seed"], self.names("effects?deleted=true")), (5, []))
        self.call("post", f"effects/{one['id']}/take-back", status=404)
        self.call("delete", f"effects/{two['id']}", status=204)
        shelves.expire()
        self.assertEqual(self.names("effects?deleted=true"), ["Spray"], "kept for a month")
        Effect.objects.filter(pk=two["id"]).update(deleted=timezone.now() - timedelta(days=31))
        shelves.expire()
        self.assertFalse(Effect.objects.filter(pk=two["id"]).exists())

    def test_what_is_no_folder_or_tag_is_refused_and_changes_nothing(self):
        opened = self.make()
        path = f"effects/{opened['id']}"
        for body in (
            {"folder": "/".join("abcdefg")},
            {"tags": ["x" * 41]},
            {"tags": [str(i) for i in range(21)]},
            {"name": ""},
            {"colour": "red"},
        ):
            self.call("patch", path, body, 422)
        card = self.call("get", "effects")[0]
        self.assertEqual((card["folder"], card["tags"]), ("", []))

    def test_five_hundred_are_listed_without_reading_their_documents(self):
        opened = self.make()
        effect = Effect.objects.get(pk=opened["id"])
        Effect.objects.bulk_create(
            [
                Effect(name=f"e{i}", document={"no": "document"}, saved=effect.saved, facts=effect.facts)
                for i in range(500)
            ]
        )
        with self.assertNumQueries(1):
            self.assertEqual(len(list(shelves.shown())), 501)
        self.assertEqual(len(self.call("get", "effects")), 501)


class Folders(unittest.TestCase):
    @given(st.text(max_size=60))
    def test_a_folder_is_kept_as_it_will_be_found_again(self, text: str):
        try:
            kept = shelves.folder_in(text)
        except RequestError:
            return
        self.assertEqual(shelves.folder_in(kept), kept)
        self.assertNotIn("//", f"/{kept}" if kept else "")
