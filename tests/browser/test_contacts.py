"""Contacts and cues as artists use them, from an empty effect: a floor, and none below it; a bubble that pops and bears
droplets; the demos about it."""

from __future__ import annotations

import re

import numpy as np

from demo.files import content
from kagero.core.document import read_effect
from kagero.core.workflows import Playing
from tests.browser.stage import whole
from tests.browser.test_motion import MotionCase


class Contacts(MotionCase):
    def alive(self) -> int:
        text = self.page.locator("text=/\\d+ alive/").first.inner_text()
        return int(re.sub(r"[^\d]", "", text))

    def last(self) -> np.ndarray:
        """Return where the first emitter's particles are at the last frame, as the core has the saved document."""
        effect = read_effect(self.saved_document())
        clip = Playing(effect, content=content).frames(effect.clip.last_frame)[0].population
        return np.stack(clip.position, 1)

    def test_a_floor_is_added_and_none_is_below_it_then_what_touches_it_pops(self):
        """Two moves to a floor; two more until whoever touches it ends; taken back one by one."""
        page = self.page
        self.empty()
        if not any(force["kind"] == "gravity" for force in self.emitter()["forces"]):
            self.add("motion", "Gravity")
        self.settle()
        self.assertLess(float(self.last()[:, 1].min()), -0.5)
        self.add("contacts", "Plane")
        self.settle()
        size = float(self.emitter()["look"]["size"]["base"])
        self.assertGreater(float(self.last()[:, 1].min()), 0.0)
        self.assertLess(float(self.last()[:, 1].min()), size)
        page.keyboard.press("End")
        self.settle()
        before = self.alive()
        self.add("cues", "When it touches")
        self.settle()
        self.assertEqual(self.alive(), before)
        cue = self.emitter()["cues"][0]
        page.locator(f"[data-mover='{cue['uid']}']").get_by_label("Ends the particle").check()
        self.saved()
        self.settle()
        self.assertTrue(self.emitter()["cues"][0]["ends"])
        self.assertLess(self.alive(), before)
        for _ in range(3):
            page.keyboard.press("Control+z")
            self.saved()
        self.settle()
        self.assertEqual((self.emitter()["cues"], self.emitter()["contacts"]), ([], []))

    @whole
    def test_one_jumps_to_where_a_cue_happens(self):
        """How often it does stands beneath its name; its frames on the transport; its menu leads to the first and the
        next."""
        page = self.page
        self.open("Soap bubbles")
        self.settle()
        message = page.locator("[data-happens]").first
        self.assertGreater(int(message.get_attribute("data-happens")), 3)
        self.assertEqual(page.locator("[data-fired=pop]").count() > 3, True)
        playing = Playing(read_effect(self.saved_document()), content=content)
        frames = [frame for frame in range(201) if len(playing.runs[0].cue_times(frame, "pop"))]
        self.act("cues.pop.touches", "To the first time it happens")
        self.assertEqual(self.probe("frame"), frames[0])
        self.act("cues.pop.touches", "To the next time it happens")
        self.assertEqual(self.probe("frame"), frames[1])
        self.assertIn("now", message.inner_text())
        self.act("cues.pop.touches", "To the last time it happens")
        self.assertEqual(self.probe("frame"), frames[-1])

    def test_the_value_of_a_test_is_dragged_on_the_spread_of_what_it_looks_at(self):
        """Two moves to the test; dragged to the right fewer pass, as many as the core counts; and one press takes it
        back."""
        page = self.page
        self.empty()
        page.keyboard.press("End")
        self.add("cues", "When a number is")
        self.settle()
        spread = page.locator("[data-test]")
        spread.scroll_into_view_if_needed()
        box = spread.bounding_box()
        assert box is not None
        before = self.emitter()["cues"][0]["value"]["base"]
        passed = int(page.locator("[data-passes]").get_attribute("data-passes") or 0)
        page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + 12)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] * 0.8, box["y"] + 12, steps=5)
        page.mouse.up()
        self.saved()
        self.settle()
        value = self.emitter()["cues"][0]["value"]["base"]
        self.assertGreater(value, before + 0.1)
        fewer = int(page.locator("[data-passes]").get_attribute("data-passes") or 0)
        self.assertLess(fewer, passed)
        effect = read_effect(self.saved_document())
        clip = Playing(effect, content=content).frames(effect.clip.last_frame)[0].population
        self.assertAlmostEqual(fewer, int((clip.age / clip.lifespan >= value).sum()), delta=max(3, 0.03 * len(clip)))
        page.keyboard.press("Control+z")
        self.saved()
        self.assertEqual(self.emitter()["cues"][0]["value"]["base"], before)

    def test_who_pops_is_told_and_one_press_lets_them_fade(self):
        page = self.page
        self.empty()
        self.settle()
        for what, fix in (("appear", "fade in"), ("are gone", "fade out")):
            message = page.locator(f"[data-check='{what}']")
            message.scroll_into_view_if_needed()
            message.get_by_role("button", name=fix).click()
            self.saved()
            self.settle()
            page.wait_for_function(f"() => !document.querySelector(\"[data-check='{what}']\")")
        page.locator("[data-check=quiet]").wait_for()
        passing = self.emitter()["passing"]
        self.assertGreater(passing["first"]["base"], 0.01)
        self.assertGreater(passing["last"]["base"], 0.01)
