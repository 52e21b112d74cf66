"""Drafts, undo, conflicts, imports and errors, through the API."""

from __future__ import annotations

import json
import random
from io import StringIO
from unittest import mock

from django.core.management import call_command
from django.test import Client

from demo.lantern_ferry import effects
from kagero.core.document import read_effect
from kagero.server.library import drafts
from kagero.server.library.models import Edit, Effect
from tests.making import document, emitter, row, with_
from tests.making.server import ApiCase


def _up(parents: dict[int, int], number: int) -> list[int]:
    """Return a state and those it was made from, up to the first."""
    line = [number]
    while line[-1]:
        line.append(parents[line[-1]])
    return line


class Drafts(ApiCase):
    def test_edits_are_kept_and_walked_by_undo_and_redo(self):
        opened = self.make()
        one = self.save(opened, label="Rename to one", name="one")
        two = self.save(one, label="Rename to two", name="two")
        self.assertEqual((two["undo"], two["redo"]), ("Rename to two", None))
        path = f"effects/{opened['id']}"
        back = self.call("post", f"{path}/undo", {"revision": two["revision"]})
        self.assertEqual(
            (back["document"]["name"], back["undo"], back["redo"]), ("one", "Rename to one", "Rename to two")
        )
        back = self.call("post", f"{path}/undo", {"revision": back["revision"]})
        self.assertEqual((back["document"], back["undo"]), (opened["document"], None))
        back = self.call("post", f"{path}/undo", {"revision": back["revision"]})
        self.assertEqual(back["document"], opened["document"])  # at the first edit, undo stays
        repeated = self.call("post", f"{path}/redo", {"revision": back["revision"]})
        self.assertEqual(repeated["document"]["name"], "one")
        other = self.save(repeated, label="Another way", name="three")  # what was undone stays, as a branch
        self.assertEqual((other["undo"], other["redo"]), ("Another way", None))
        self.assertEqual(self.call("get", path)["document"]["name"], "three")

    def test_steps_are_listed_and_walked_to_in_one_move(self):
        opened = self.make()
        path = f"effects/{opened['id']}"
        states = [opened]
        for name in ("one", "two", "three"):
            states.append(self.save(states[-1], label=f"To {name}", name=name))
        self.assertEqual(
            [(s["label"], s["now"]) for s in self.call("get", f"{path}/history")],
            [("Made", False), ("To one", False), ("To two", False), ("To three", True)],
        )
        now = states[-1]
        for number in (1, 3, 0, 2, 2):
            now = self.call("post", f"{path}/walk", {"revision": now["revision"], "number": number})
            self.assertEqual(now["document"], states[number]["document"])
            self.assertEqual([s["now"] for s in self.call("get", f"{path}/history")].index(True), number)
        self.call("post", f"{path}/walk", {"revision": now["revision"], "number": 9}, 404)
        self.call("post", f"{path}/walk", {"revision": 1, "number": 0}, 409)
        self.assertEqual(self.call("get", path)["document"], states[2]["document"])

    def test_what_is_edited_away_stays_as_a_branch_that_can_be_gone_back_to(self):
        opened = self.make()
        path = f"effects/{opened['id']}"
        at = self.save(self.save(opened, label="One", name="one"), label="Two", name="two")
        at = self.call("post", f"{path}/walk", {"revision": at["revision"], "number": 1})
        at = self.save(self.save(at, label="Three", name="three"), label="Four", name="four")

        def reported() -> list[tuple[str, int | None]]:
            return [(step["label"], step["after"]) for step in self.call("get", f"{path}/history")]

        self.assertEqual(reported(), [("Made", None), ("One", None), ("Three", None), ("Four", None), ("Two", 1)])
        at = self.call("post", f"{path}/walk", {"revision": at["revision"], "number": 2})
        self.assertEqual((at["document"]["name"], at["undo"], at["redo"]), ("two", "Two", None))
        self.assertEqual(reported(), [("Made", None), ("One", None), ("Two", None), ("Three", 1), ("Four", 1)])
        at = self.call(
            "post", f"{path}/walk", {"revision": at["revision"], "number": 3}
        )  # its later steps are what redo leads to
        self.assertEqual((at["document"]["name"], at["undo"], at["redo"]), ("three", "Three", "Four"))

    def test_every_state_can_be_gone_to_whatever_was_done_between(self):
        """Against a tree in plain Python: undo goes to what a state was made from, redo along the way last gone."""
        pick = random.Random(34)
        effect = drafts.create(read_effect(document()))
        seeds, parents, now = {0: effect.document["clip"]["seed"]}, {0: 0}, 0
        ahead: list[int] = []  # what redo leads to, the next one last
        for step in range(80):
            what = pick.choice(["save", "save", "undo", "undo", "redo", "walk"])
            if what == "save":
                effect = drafts.save(
                    effect.pk, effect.revision, read_effect(with_(document(), clip__seed=step + 100)), "Seed"
                )
                new = len(seeds)
                seeds[new], parents[new], now, ahead = step + 100, now, new, []
            elif what == "undo":
                effect = drafts.undo(effect.pk, effect.revision)
                if now:
                    ahead.append(now)
                    now = parents[now]
            elif what == "redo":
                effect = drafts.redo(effect.pk, effect.revision)
                now = ahead.pop() if ahead else now
            else:
                to = pick.randrange(len(seeds))
                effect = drafts.walk(effect.pk, effect.revision, to)
                tip = ahead[0] if ahead else now
                back = _up(parents, tip)
                if to not in back:
                    tip = to
                    while later := [child for child, parent in parents.items() if parent == tip and child]:
                        tip = max(later)
                    back = _up(parents, tip)
                now, ahead = to, back[: back.index(to)]
            self.assertEqual(effect.document["clip"]["seed"], seeds[now], what)
            self.assertEqual(drafts.history(effect).redo is not None, bool(ahead))
            self.assertEqual({step["number"] for step in drafts.steps(effect)}, set(seeds))
            self.assertEqual([step["number"] for step in drafts.steps(effect) if step["now"]], [now])

    def test_the_later_of_two_windows_is_told_and_nothing_is_overwritten(self):
        opened = self.make()
        self.save(opened, name="first window")
        problem = self.save(opened, 409, name="second window")
        self.assertEqual((problem["findings"][0]["code"], problem["revision"]), ("conflict", opened["revision"] + 1))
        self.call("post", f"effects/{opened['id']}/undo", {"revision": opened["revision"]}, 409)
        self.assertEqual(self.call("get", f"effects/{opened['id']}")["document"]["name"], "first window")
        copy = self.call("post", "effects", {"document": with_(opened["document"], name="second window (copy)")}, 201)
        self.assertEqual(
            (copy["document"]["name"], copy["document"]["emitters"]),
            ("second window (copy)", opened["document"]["emitters"]),
        )
        self.assertEqual({card["id"] for card in self.call("get", "effects")}, {opened["id"], copy["id"]})

    def test_what_cannot_be_played_is_saved_all_the_same_and_the_last_playable_state_is_kept(self):
        opened = good = self.make()
        for number, change in enumerate(
            ({"emitters__0__births__rate__base": 1e9}, {"emitters__0__births__lifespan__base": 0}, {"name": "Later"})
        ):
            opened = self.save(opened, **change)
            self.assertEqual(
                (opened["playable"]["emitters"], opened["playable"]["name"]),
                (good["document"]["emitters"], good["document"]["name"]),
            )
            self.assertEqual(len(opened["findings"]), min(2, number + 1))
        repeated = self.call("get", f"effects/{opened['id']}")
        self.assertEqual(
            (repeated["document"], repeated["findings"], repeated["undo"]),
            (opened["document"], opened["findings"], opened["undo"]),
        )
        self.assertEqual([card["playable"] for card in self.call("get", "effects")], [False])
        self.assertEqual(
            self.client.get(f"/api/effects/{opened['id']}/card.png").status_code,
            200,
            "the card shows the last playable state",
        )
        for _ in range(2):
            opened = self.call("post", f"effects/{opened['id']}/undo", {"revision": opened["revision"]})
        self.assertEqual(
            [(f["code"], f["where"]) for f in opened["findings"]], [("range", "emitters.0.births.rate.base")]
        )
        opened = self.save(opened, emitters__0__births__rate__base=20.0)
        self.assertEqual((opened["findings"], opened["playable"]), ([], None))
        self.assertEqual([card["playable"] for card in self.call("get", "effects")], [True])

    def test_what_was_never_playable_is_imported_and_can_be_worked_on(self):
        broken = with_(document(), emitters__0__births__place={"kind": "prop", "prop": "gone", "on": "surface"})
        opened = self.call("post", "effects/import", json.dumps(broken), 201)
        self.assertEqual((opened["playable"], opened["findings"][0]["code"]), (None, "link"))
        self.call("get", f"effects/{opened['id']}/card", status=422)
        about = {"document": opened["document"], "emitter": "one"}
        self.assertTrue(self.call("post", "sources", {**about, "frame": 0, "address": "look.size"}))
        fields = self.call("post", "dials/make", {**about, "address": "births.rate", "how": "sets"})
        self.call("post", "dials/delete", {"document": fields["document"], "uid": fields["uid"]})
        self.call("post", "play", {"window": "w", "document": broken, "now": 0}, 422)

    def test_what_is_no_effect_is_refused_and_changes_nothing(self):
        opened = self.make()
        for change in ({"clip__frame_rate": 0}, {"emitters__0__look__size__base": None}, {"more": 1}):
            problem = self.save(opened, 422, **change)
            self.assertTrue(problem["findings"][0]["where"])
            self.assertTrue(problem["findings"][0]["remedy"])
        now = self.call("get", f"effects/{opened['id']}")
        self.assertEqual((now["revision"], now["document"]), (opened["revision"], opened["document"]))

    def test_the_same_document_is_no_edit(self):
        opened = self.make()
        self.assertEqual(self.save(opened)["revision"], opened["revision"])

    def test_only_so_many_edits_are_kept(self):
        effect = drafts.create(read_effect(document()))
        for i in range(drafts.KEPT_EDITS + 5):
            effect = drafts.save(effect.pk, effect.revision, read_effect(with_(document(), clip__seed=i + 10)), "Seed")
        self.assertEqual(Edit.objects.filter(effect=effect).count(), drafts.KEPT_EDITS + 1)
        with mock.patch.object(drafts, "KEPT_EDITS", 3):  # and as many that were edited away
            for i in range(5):
                for _ in range(2):
                    effect = drafts.undo(effect.pk, effect.revision)
                effect = drafts.save(
                    effect.pk, effect.revision, read_effect(with_(document(), clip__seed=i + 2000)), "Seed"
                )
            kept = drafts.steps(effect)
            self.assertLessEqual(sum(step["after"] is None for step in kept), 4)
            self.assertEqual(sum(step["after"] is not None for step in kept), 3)
            self.assertEqual(sum(step["now"] for step in kept), 1)

    def test_saving_costs_few_queries(self):
        effect = drafts.create(read_effect(document()))
        with self.assertNumQueries(6):
            drafts.save(effect.pk, effect.revision, read_effect(document(seed=5)), "Seed")


class Library(ApiCase):
    def test_demo_is_loaded_once(self):
        call_command("load_demo", stdout=StringIO())
        call_command("load_demo", stdout=StringIO())
        self.assertEqual(
            sorted(e["name"] for e in self.call("get", "effects")), sorted(effect.name for effect in effects().values())
        )

    def test_import_gives_back_what_was_exported_under_a_free_name(self):
        opened = self.make(name="Embers")
        exported = json.dumps(opened["document"])
        imported = self.call("post", "effects/import", exported, 201)
        self.assertEqual(imported["document"], {**opened["document"], "name": "Embers 2"})

    def test_bad_files_are_refused_and_the_server_lives_on(self):
        files = [
            b"",
            b"{",
            b"\xff\xfe\x00",
            b"[]",
            b'{"format": "x"}',
            json.dumps(with_(document(), colour="red")).encode(),
            b"[" * 200_000,
        ]
        for data in files:
            with self.subTest(data=data[:30]):
                problem = self.call("post", "effects/import", data, 422)
                self.assertTrue(problem["findings"][0]["message"])
        problem = self.call("post", "effects/import", b'{"x": "' + b"a" * 30_000_000 + b'"}', 413)
        self.assertIn("8 MiB", problem["findings"][0]["message"])
        self.assertEqual(self.call("get", "effects"), [])

    def test_requests_that_are_none(self):
        opened = self.make()
        path = f"effects/{opened['id']}"
        self.call("put", f"{path}/draft", "{not json", 400)
        self.call("put", f"{path}/draft", {"revision": 1}, 422)
        self.call("put", f"{path}/draft", {"revision": 1, "document": {}, "label": "x", "more": 1}, 422)
        for missing in ("effects/999", "effects/999/card", "exports/999"):
            self.assertEqual(self.call("get", missing, status=404)["findings"][0]["code"], "missing")
        self.call("delete", path, status=204)
        self.call("delete", path, status=404)
        self.assertEqual(self.call("get", "effects"), [])

    def test_other_sites_may_change_nothing(self):
        response = Client().post(
            "/api/effects",
            json.dumps({"document": document()}),
            content_type="application/json",
            headers={"Origin": "https://elsewhere.example"},
        )
        self.assertEqual(response.status_code, 403)
        self.assertEqual(Effect.objects.count(), 0)

    def test_pages_load_nothing_from_elsewhere(self):
        self.assertIn("default-src 'self'", Client().get("/api/catalog")["Content-Security-Policy"])

    def test_the_catalog_and_schema_are_served(self):
        catalog = self.call("get", "catalog")
        self.assertIn("life", [source["kind"] for source in catalog["sources"]])
        laid = self.call("post", "layout", {"document": document()})
        self.assertIn("births.rate", [r["address"] for each in laid["emitters"].values() for r in each["rows"]])
        self.assertIn("$defs", self.call("get", "schema"))

    def test_the_clients_types_are_those_of_the_api(self):
        from django.conf import settings

        from kagero.server.api.routes import api

        stored = json.loads((settings.BASE_DIR / "client/src/wire/openapi.json").read_text())
        self.assertEqual(stored, json.loads(json.dumps(api.get_openapi_schema(), default=str)), "run `make types`")

    def test_cards_have_pictures_and_counts(self):
        opened = self.make(emitters=[emitter(births__rate=row(20))])
        facts = self.call("get", f"effects/{opened['id']}/card")
        self.assertEqual(len(facts["counts"]), 51)
        picture = Client().get(f"/api/effects/{opened['id']}/card.png")
        self.assertEqual(picture.content[:8], b"\x89PNG\r\n\x1a\n")
