"""A late note about form: a twist is added, its box moved, raised by a tenth, and nothing is simulated for it."""

from __future__ import annotations

import re

from kagero.core.document import read_effect
from kagero.server.library import drafts
from tests.browser.stage import BrowserCase, drawn
from tests.making import document, emitter, row


class Shaping(BrowserCase):
    def from_nothing(self, *more: dict) -> None:
        """Open an effect of a column that rises through a disc, 2 m high in the end."""
        column = emitter(
            births__place={"kind": "disc", "centre": row([0.0, 0.0, 0.0]), "radius": row(0.5), "on": "inside"},
            births__lifespan=row(2.0),
        )
        effect = drafts.create(read_effect({**document(column, *more), "name": "Column"}))
        self.page.goto(f"{self.live_server_url}/effects/{effect.pk}")
        self.page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)

    def document(self) -> dict:
        self.saved()
        return self.page.evaluate(
            "fetch(location.pathname.replace('/effects', '/api/effects')).then(r => r.json()).then(o => o.document)"
        )

    def add(self, kind: str) -> None:
        self.page.get_by_label("Add a row to shaping").click()
        self.page.keyboard.type(kind)
        self.page.keyboard.press("Enter")
        self.page.locator("[data-mover] [data-address^='shaping.'], [data-name^='shaping.']").first.wait_for()
        self.settle()

    def test_a_twist_is_added_its_box_moved_and_raised_by_a_tenth_without_simulating(self):
        page = self.page
        self.from_nothing()
        self.add("Twist")
        (twist,) = self.document()["emitters"][0]["shaping"]
        self.assertAlmostEqual(
            twist["size"]["base"][1], 2.0, delta=0.05
        )  # it stands about the whole clip, as it was added
        self.assertAlmostEqual(twist["middle"]["base"][1], 1.0, delta=0.05)
        message = page.locator("[data-part=simulated]")
        message.get_by_text("Nothing was simulated").wait_for()
        # its number goes from 90 to 99 degrees
        page.locator(f"[data-mover='{twist['uid']}']").get_by_label(re.compile("^Twist: ")).first.click()
        page.keyboard.press("Control+a")
        page.keyboard.type("99")
        page.keyboard.press("Enter")
        self.settle()
        (raised,) = self.document()["emitters"][0]["shaping"]
        self.assertAlmostEqual(raised["amount"]["base"], twist["amount"]["base"] * 1.1, places=5)
        message.get_by_text("Nothing was simulated").wait_for()
        # the box goes up by a hand on the stage
        x, y = page.evaluate(f"window.kageroStage.place({twist['middle']['base']})")
        canvas = page.locator("[data-part=stage] canvas").first.bounding_box()
        page.mouse.move(canvas["x"] + x, canvas["y"] + y)
        page.mouse.down()
        page.mouse.move(canvas["x"] + x, canvas["y"] + y - 60, steps=4)
        page.mouse.up()
        self.settle()
        (moved,) = self.document()["emitters"][0]["shaping"]
        self.assertGreater(moved["middle"]["base"][1], 1.2)
        message.get_by_text("Nothing was simulated").wait_for()
        page.locator("[data-part=rows]").get_by_label(re.compile("^Rate: ")).first.click()
        page.keyboard.press("Control+a")
        page.keyboard.type("60")
        page.keyboard.press("Enter")
        self.settle()
        message.get_by_text(re.compile(r"\d+ frames were simulated")).wait_for()  # which an edit of births does need

    def test_one_shaping_moves_every_emitter(self):
        page = self.page
        self.from_nothing(emitter("two", births__launch__cone=row(1.0)))
        self.add("Twist")
        page.get_by_role("checkbox", name="All emitters").click()
        self.settle()
        self.assertTrue(self.document()["emitters"][0]["shaping"][0]["everyone"])
        page.locator("[data-part=simulated]").get_by_text("Nothing was simulated").wait_for()
        page.get_by_role("tab", name=re.compile("^Two")).click()
        page.get_by_role("button", name="Twist of One").click()
        page.locator("[data-part=rows]").get_by_label(re.compile("^Twist: ")).first.wait_for()

    @drawn
    def test_holding_a_key_shows_them_as_they_were(self):
        page = self.page
        self.from_nothing()
        plain = self.mean(0.5, 0.1, 0.2, 0.8)
        self.add("Shift")
        page.get_by_label("Along").get_by_role("radio", name="away from a point").click()
        self.settle()
        shifted = self.mean(0.5, 0.1, 0.2, 0.8)
        self.assertGreater(max(abs(a - b) for a, b in zip(plain, shifted, strict=True)), 1)
        page.locator("[data-part=stage] canvas").first.click(position={"x": 20, "y": 200})
        page.keyboard.down("a")
        page.wait_for_function(
            f"() => window.kageroStage.mean(0.5, 0.1, 0.2, 0.8).every((v, i) => Math.abs(v - {plain}[i]) < 0.3)"
        )
        page.keyboard.up("a")
        page.wait_for_function(
            f"() => window.kageroStage.mean(0.5, 0.1, 0.2, 0.8).every((v, i) => Math.abs(v - {shifted}[i]) < 0.3)"
        )
        self.assertEqual(len(self.document()["emitters"][0]["shaping"]), 1)

    def test_a_clip_is_played_backwards_slowed_by_a_number_and_muted_without_simulating(self):
        page = self.page
        self.from_nothing()
        alive = page.locator("[data-part=alive]")

        def go(frame: int) -> str:
            page.locator("[data-part=frame] button").first.click()
            page.keyboard.press("Control+a")
            page.keyboard.type(str(frame))
            page.keyboard.press("Enter")
            page.wait_for_function(f"() => window.kageroStage.frame === {frame}")
            self.settle()
            return alive.inner_text()

        late, early = go(40), go(10)
        self.assertNotEqual(late, early)
        page.get_by_label("Add a row to shaping").click()
        page.keyboard.type("Retiming")
        page.keyboard.press("Enter")
        row = page.locator("[data-part=retiming]")
        row.get_by_role("button", name="backwards").click()
        self.settle()
        message = page.locator("[data-part=simulated]")
        message.get_by_text("Nothing was simulated").wait_for()
        self.assertEqual((go(10), go(40)), (late, early))
        row.get_by_text("now shows").wait_for()
        self.assertIn("0.4", row.get_by_text("now shows").inner_text())
        # its end is taken to the middle of the clip: half as fast
        row.get_by_label(re.compile("^Simulated time of the key: ")).click()
        page.keyboard.press("Control+a")
        page.keyboard.type("1")
        page.keyboard.press("Enter")
        self.settle()
        keys = self.document()["emitters"][0]["retiming"]["keys"]
        self.assertEqual([(key["at"], key["shows"]) for key in keys], [(0.0, 1.0), (2.0, 0.0)])
        message.get_by_text("Nothing was simulated").wait_for()
        self.assertIn("0.2", row.get_by_text("now shows").inner_text())
        row.get_by_label("Mute the retiming").click()
        self.settle()
        self.assertEqual(alive.inner_text(), late)
        row.get_by_role("button", name="remove").click()
        row.wait_for(state="detached")
        self.assertIsNone(self.document()["emitters"][0]["retiming"])

    def test_a_loop_is_filled_by_a_run_up_and_its_seam_is_seen_and_measured(self):
        page = self.page
        self.from_nothing()
        page.get_by_label("Add a row to shaping").click()
        page.keyboard.type("Loop")
        page.keyboard.press("Enter")
        row = page.locator("[data-part=loop]")
        message = page.locator("[data-part=simulated]")
        message.get_by_text("Nothing was simulated").wait_for()
        loop = self.document()["emitters"][0]["loop"]
        self.assertEqual((loop["first"], loop["last"], loop["way"]), (0, 50, "matched"))
        # its particles live 2 s, and nothing is known from before the clip
        cannot = page.locator("[data-part=cannot-go-round]")
        cannot.get_by_text("cannot be carried over").wait_for()
        cannot.get_by_role("button", name=re.compile("run up \\d+ frames more")).click()
        message.get_by_text(re.compile(r"\d+ frames were simulated")).wait_for()
        cannot.wait_for(state="detached")
        self.assertGreaterEqual(self.document()["clip"]["run_up"], 50)
        row.get_by_role("button", name="look at its seam").click()
        seam = row.locator("[data-part=seam]")
        seam.get_by_text("Nobody appears or vanishes there").wait_for(timeout=30_000)
        self.assertEqual(
            [each.get_attribute("alt") for each in seam.locator("img").all()][:2], ["frame 50", "frame 0, after it"]
        )
        for picture in seam.locator("img").all():
            self.assertEqual(picture.evaluate("i => [i.naturalWidth, i.naturalHeight]"), [320, 180])
        # blended with nothing in between it is cut: the seam is measured anew, and says so
        row.get_by_role("radio", name="the end blended in").click()
        self.settle()
        message.get_by_text("Nothing was simulated").wait_for()
        row.get_by_label(re.compile("^Seconds over which")).click()
        page.keyboard.press("Control+a")
        page.keyboard.type("0")
        page.keyboard.press("Enter")
        seam.get_by_text(re.compile(r"\d+ appear and \d+ vanish there")).wait_for(timeout=30_000)
        self.assertEqual(self.document()["emitters"][0]["loop"]["over"], 0)

    @drawn
    def test_the_whole_effect_is_retimed_and_goes_round(self):
        page = self.page
        self.from_nothing()
        for what, part in (("Retiming of all", "retiming-of-all"), ("Loop of all", "loop-of-all")):
            page.get_by_label("Add a row to shaping").click()
            page.keyboard.type(what)
            page.keyboard.press("Enter")
            page.locator(f"[data-part={part}]").wait_for()
            self.settle()
        page.locator("[data-part=retiming-of-all]").get_by_role("button", name="held in the middle").click()
        self.settle()
        stored = self.document()
        self.assertEqual(
            [key["shows"] for key in stored["retiming"]["keys"]][1:3], [stored["retiming"]["keys"][1]["shows"]] * 2
        )
        self.assertEqual(stored["loop"]["last"], 50)
        self.assertIsNone(stored["emitters"][0]["loop"])
        page.locator("[data-part=simulated]").get_by_text("Nothing was simulated").wait_for()
        page.locator("[data-part=loop-of-all]").get_by_role("button", name="remove").click()
        page.locator("[data-part=loop-of-all]").wait_for(state="detached")
        self.assertIsNone(self.document()["loop"])
