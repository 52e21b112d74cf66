"""Where, when and within what: births by a picture, a guide reshaped, a mask swept and latched, a prop dissolved, a
sequence dragged."""

from __future__ import annotations

import re

import numpy as np

from kagero.core.document import read_effect
from kagero.core.staging import geometry, no_content

from .stage import PropsCase, drawn, frames, whole


class Births(PropsCase):
    def frame(self, number: int) -> None:
        page = self.page
        page.locator("[data-part=frame] button").first.click()
        page.keyboard.press("Control+a")
        page.keyboard.type(str(number))
        page.keyboard.press("Enter")
        page.wait_for_function(f"() => window.kageroStage.frame === {number}")
        page.wait_for_timeout(150)

    @whole
    @drawn
    def test_births_follow_a_picture_that_is_inverted_and_taken_away(self):
        page = self.open("Frost on the cabin window")
        self.frame(130)
        middle, rim = (0.42, 0.55, 0.06, 0.1), (0.215, 0.12, 0.03, 0.5)
        before = sum(self.mean(*middle)), sum(self.mean(*rim))
        page.get_by_text("inverted").click()
        self.saved()
        self.frame(130)
        after = sum(self.mean(*middle)), sum(self.mean(*rim))
        self.assertGreater(after[0], before[0] + 4)
        self.assertLess(after[1], before[1] - 4)
        page.get_by_label("Picture of how dense births are").select_option("")
        self.assertIsNone(self.document()["emitters"][0]["births"]["place"]["density"])
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("button", name="Undo").click()
        self.saved()
        self.frame(130)
        self.assertAlmostEqual(sum(self.mean(*middle)), before[0], delta=1)
        # shown on the prop that it belongs to
        page.get_by_role("button", name="show it", exact=True).click()
        page.locator("[data-part=field-legend]", has_text="density").wait_for()

    @frames(24)
    @drawn
    def test_the_guide_of_a_burst_is_reshaped_on_the_stage_and_undone_to_the_byte(self):
        page = self.open("Bell ring")
        self.frame(20)
        before = self.document()
        alive = self.mean(0.1, 0.2, 0.8, 0.6)
        page.get_by_role("button", name="reshape it").click()
        page.locator("[data-part=brush]").wait_for()
        legend = page.locator("[data-part=field-legend]", has_text="m/s")
        legend.wait_for()
        self.settle()
        fastest = float(re.findall(r"([\d.]+) m/s", legend.inner_text())[0])
        box = page.locator("[data-part=stage] canvas").bounding_box()
        x, y = self.probe("place([0.3, 0.95, 0.95])")
        page.mouse.move(box["x"] + x, box["y"] + y)
        page.mouse.down()
        for i in range(12):
            page.mouse.move(box["x"] + x - 4 * i, box["y"] + y + i % 3)
            page.wait_for_timeout(60)
        page.mouse.up()
        strokes = self.document()["props"][1]["strokes"]
        self.assertEqual((len(strokes), strokes[-1]["kind"]), (4, "pull"))
        self.assertGreater(len(strokes[-1]["points"]), 1)
        page.wait_for_timeout(500)
        self.assertGreaterEqual(float(re.findall(r"([\d.]+) m/s", legend.inner_text())[0]), fastest)
        # what the brush touched of the guide is further out than it was, and nothing else moved
        after, was = (
            geometry(read_effect(body).props[1], no_content).points.astype(float) for body in (self.document(), before)
        )
        moved = np.linalg.norm(after - was, axis=1) > 1e-6
        self.assertTrue(0 < moved.sum() < len(was) / 2)
        self.assertGreater((np.linalg.norm(after, axis=1) - np.linalg.norm(was, axis=1))[moved].min(), -1e-6)
        self.assertGreater((np.linalg.norm(after, axis=1) - np.linalg.norm(was, axis=1)).max(), 0.02)
        self.assertNotEqual(self.mean(0.1, 0.2, 0.8, 0.6), alive)
        page.get_by_role("button", name="Undo").click()
        self.assertEqual(self.document()["props"], before["props"])

    @whole
    @drawn
    def test_a_mask_is_made_swept_over_the_petals_and_latched(self):
        page = self.page
        self.props("Petal rain")
        page.locator("[data-part=props]").get_by_role("button", name="prop", exact=True).click()
        page.get_by_role("menuitem", name="Mask…", exact=True).click()
        page.get_by_role("option", name=re.compile("^Slab")).click()
        page.locator("[data-part=mask-settings]").wait_for()
        self.number("Position y", "0")
        self.drive("Position", "clip time")  # it rises over the clip
        self.number("Falloff", "0")
        page.get_by_role("button", name="show its value on the stage").click()
        page.locator("[data-part=field-legend]", has_text="slab").wait_for()
        page.get_by_role("radio", name="Sheet", exact=True).click()
        page.locator("[data-part=field-legend] button").click()
        self.saved()
        self.frame(60)
        before = sum(self.mean())
        self.drive("Opacity", "slab mask once touched")
        self.frame(60)
        touched = sum(self.mean())
        self.assertLess(touched, before - 2)  # those that it has not reached are gone
        self.assertGreater(touched, 3 * self.mean(0.0, 0.0, 0.02, 0.02)[0] + 1)  # and those that it has are still there
        emitter = self.document()["emitters"][0]
        source = emitter["look"]["opacity"]["responses"][-1]["source"]
        self.assertEqual((source["kind"], source["part"]), ("mask", "latched"))
        page.get_by_role("radio", name="Table", exact=True).click()
        page.get_by_text("slab mask once touched").first.wait_for()
        # used, it cannot be taken away unseen
        page.get_by_role("radio", name="Props", exact=True).click()
        page.locator("[data-prop]", has_text="mask: slab").get_by_role("button").first.click()
        page.get_by_role("button", name="remove", exact=True).click()
        page.get_by_text("It is used by Petals").wait_for()

    @frames(61)
    @drawn
    def test_a_prop_dissolves_and_another_name_burns_as_well(self):
        page = self.page
        self.props("Name burning through")
        self.frame(60)
        burnt = sum(self.mean(0.1, 0.4, 0.2, 0.3))
        page.locator("[data-prop]", has_text="words").get_by_role("button").first.click()
        page.get_by_label("Which mask Name dissolves by").select_option("")
        self.saved()
        self.frame(60)
        whole = sum(self.mean(0.1, 0.4, 0.2, 0.3))
        self.assertGreater(whole, burnt + 5)
        page.get_by_label("Which mask Name dissolves by").select_option(label="where Both fronts is")
        page.get_by_label("Words of Name").fill("Kagero")
        page.keyboard.press("Tab")
        self.saved()
        self.frame(60)
        self.assertLess(sum(self.mean(0.1, 0.4, 0.2, 0.3)), whole)
        self.assertEqual(self.document()["props"][0]["text"], "Kagero")

    @whole
    def test_a_sequence_is_dragged_on_the_transport(self):
        page = self.open()
        page.get_by_role("button", name="Sequence", exact=True).click()
        bar = page.locator("[data-bar]").nth(1)
        bar.wait_for()
        width = page.locator("[data-part=sequence] [data-bar]").nth(0).bounding_box()["width"]
        box = bar.bounding_box()
        self.drag(bar, width * 25 / 120, 0)
        self.saved()
        births = self.document()["emitters"][1]["births"]
        self.assertAlmostEqual(births["start"], 0.6 + 1.0, delta=0.081)
        self.assertAlmostEqual(births["start"] * 25, round(births["start"] * 25), places=6)
        end = bar.locator("[data-end=end]")
        at = end.bounding_box()
        page.mouse.move(at["x"] + 3, at["y"] + 6)
        page.mouse.down()
        page.mouse.move(at["x"] + 3 - width / 4, at["y"] + 6, steps=6)
        page.mouse.up()
        self.saved()
        births = self.document()["emitters"][1]["births"]
        self.assertAlmostEqual(births["start"] + births["duration"], 4.8 * 0.75, delta=0.1)
        self.assertLess(bar.bounding_box()["width"], box["width"])
        bar.focus()
        page.keyboard.press("ArrowLeft")
        self.saved()
        self.assertAlmostEqual(self.document()["emitters"][1]["births"]["start"], births["start"] - 1 / 25, places=5)
