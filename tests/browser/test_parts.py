"""A force that only the tests know is added, driven, set, moved on the stage and exported, with no file of the client
touched."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from kagero.server.library.models import Effect
from tests.browser.stage import FRAMES, BrowserCase
from tests.parts.made_up import registered


class MadeUp(BrowserCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.enterClassContext(registered())

    def stored(self) -> dict[str, Any]:
        self.saved()
        return Effect.objects.get(name="Reed pollen").document["emitters"][0]["forces"][-1]

    def test_a_force_nobody_knew_is_driven_from_life_and_exported(self):
        page = self.open("Reed pollen")
        page.get_by_label("Add a row to motion").click()
        page.get_by_role("option", name=re.compile("^Tide")).click()
        force = self.stored()
        self.assertEqual((force["kind"], force["way"]), ("tide", "in"))
        self.drive("Tide", "life")
        self.assertEqual(self.stored()["strength"]["responses"][0]["source"], {"kind": "life"})
        page.get_by_role("radio", name="out", exact=True).click()
        self.assertEqual(self.stored()["way"], "out")
        # its place stands on the stage, and a hand moves it
        x, y = self.page.evaluate("window.kageroStage.place([0, 0, 0])")
        box = page.locator("canvas").first.bounding_box()
        page.mouse.move(box["x"] + x, box["y"] + y)
        page.mouse.down()
        page.mouse.move(box["x"] + x + 20, box["y"] + y - 30, steps=4)
        page.mouse.up()
        middle = self.stored()["middle"]["base"]
        self.assertGreater(middle[1], 0.05)
        page.get_by_role("button", name="Export").click()
        page.get_by_role("radio", name="Tally").click()
        with page.expect_download() as download:
            page.get_by_role("dialog").get_by_role("button", name="Export", exact=True).click()
        lines = Path(download.value.path()).read_text().splitlines()
        self.assertEqual((len(lines), lines[-1]), (FRAMES + 1, "end"))
        self.assertGreater(int(lines[-2].split()[1]), 0)
