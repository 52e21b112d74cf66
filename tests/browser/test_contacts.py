"""Contacts and cues as artists use them, from an empty effect: a floor, and none below it; a bubble that pops and bears droplets; the demos about it."""

from __future__ import annotations

import re

import numpy as np

from demo.files import content
from kagero.core.document import read_effect
from kagero.core.workflows import Playing
from tests.browser.test_motion import MotionCase

DEMOS = ("Soap bubbles", "Wake spray", "Ink on the deck", "Beads in the gutter")


class Contacts(MotionCase):
    def alive(self) -> int:
        text = self.page.locator("text=/\\d+ alive/").first.inner_text()
        return int(re.sub(r"[^\d]", "", text))

    def last(self) -> np.ndarray:
        """Return where the first emitter's particles are at the last frame, as the core has the saved document."""
        effect = read_effect(self.made())
        who = Playing(effect, content=content).frames(effect.clip.last_frame)[0].population
        return np.stack(who.position, 1)

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

    def test_one_jumps_to_where_a_cue_happens(self):
        """How often it does stands beneath its name; its frames on the transport; its menu leads to the first and the next."""
        page = self.page
        self.open("Soap bubbles")
        self.settle()
        told = page.locator("[data-happens]").first
        self.assertGreater(int(told.get_attribute("data-happens")), 3)
        self.assertEqual(page.locator("[data-fired=pop]").count() > 3, True)
        playing = Playing(read_effect(self.made()), content=content)
        frames = [frame for frame in range(201) if len(playing.runs[0].happened(frame, "pop"))]
        self.act("cues.pop.touches", "To the first time it happens")
        self.assertEqual(self.probe("frame"), frames[0])
        self.act("cues.pop.touches", "To the next time it happens")
        self.assertEqual(self.probe("frame"), frames[1])
        self.assertIn("now", told.inner_text())
        self.act("cues.pop.touches", "To the last time it happens")
        self.assertEqual(self.probe("frame"), frames[-1])

    def test_the_demos_play_without_a_word_of_complaint(self):
        for name in DEMOS:
            self.open(name)
            self.assertEqual(self.page.locator("[data-part=rows] [role=note]").count(), 0, name)
            self.assertGreater(self.alive(), 10, name)
