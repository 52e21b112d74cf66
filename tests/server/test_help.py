"""Help over the wire: cards, their pictures, examples; the pages of the handbook, found by what they say."""

from __future__ import annotations

import json
import re

from django.conf import settings
from django.test import TestCase

from kagero.core.beginnings import begin


class Cards(TestCase):
    def test_a_card_its_pictures_and_its_example(self):
        cards = {card["key"]: card for card in self.client.get("/api/help/cards").json()}
        self.assertEqual((cards["source:life"]["label"], cards["source:life"]["unit"]["symbol"]), ("life", "%"))
        picture = self.client.get("/api/help/cards/draw:normal/card.png")
        self.assertEqual((picture.status_code, picture.content[:4]), (200, b"\x89PNG"))
        document = json.loads(begin("sparks").model_dump_json())
        body = {"document": document, "emitter": "sparks", "key": "source:height", "number": 0}
        data = self.client.post("/api/help/try", json.dumps(body), content_type="application/json")
        self.assertEqual(data.status_code, 200)
        self.assertEqual(
            data.json()["document"]["emitters"][0]["look"]["size"]["responses"][-1]["source"]["kind"], "height"
        )
        for wrong, status in (
            ({**body, "key": "source:nothing"}, 422),
            ({**body, "number": 4}, 422),
            ({**body, "emitter": "nobody"}, 422),
        ):
            answer = self.client.post("/api/help/try", json.dumps(wrong), content_type="application/json")
            self.assertEqual(answer.status_code, status)
            self.assertTrue(answer.json()["findings"][0]["message"])
        self.assertEqual(self.client.get("/api/help/cards/row:nothing/card.png").status_code, 422)


class Pages(TestCase):
    def test_every_page_of_docs_is_there_and_its_links_lead_somewhere(self):
        pages = self.client.get("/api/docs").json()
        self.assertEqual({page["name"] for page in pages}, {path.stem for path in settings.DOCS_DIR.glob("*.md")})
        self.assertEqual(pages[0]["name"], "DESK")
        for page in pages:
            text = self.client.get(f"/api/docs/{page['name']}").json()["html"]
            self.assertIn("<h1", text)
            self.assertEqual(re.findall(r'href="[^"]*\.md|>[A-Z_]+\.md<', text), [])
            for name in re.findall(r'href="/docs/([A-Z_]+)', text):
                self.assertIn(name, {each["name"] for each in pages})
        self.assertEqual(self.client.get("/api/docs/NOTHING").status_code, 422)

    def test_places_are_found_by_every_word_headings_first(self):
        found = self.client.get("/api/docs/search", {"words": "falloff noise"}).json()
        self.assertIn(("BIRTHS", "Masks"), [(place["name"], place["heading"]) for place in found])
        for place in found:
            page = self.client.get(f"/api/docs/{place['name']}").json()["html"]
            self.assertTrue(not place["anchor"] or f'id="{place["anchor"]}"' in page)
        self.assertEqual(
            self.client.get("/api/docs/search", {"words": "the keys over"}).json()[0]["heading"], "Keys over the clip"
        )
        self.assertEqual(self.client.get("/api/docs/search", {"words": "  "}).json(), [])
