"""Props as artists use them: brought in, replaced, drawn, written, followed, looked at from cameras."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path

import trimesh

from .stage import PropsCase, drawn, whole


class Props(PropsCase):
    def setUp(self) -> None:
        super().setUp()
        self.folder = Path(tempfile.mkdtemp())
        trimesh.creation.icosphere(2, 0.5).export(self.folder / "buoy.glb")
        trimesh.creation.box((1, 0.4, 0.4)).export(self.folder / "crate.stl")
        (self.folder / "broken.glb").write_bytes(b"glTF\2\0\0\0\xff\0\0\0")

    @drawn
    def test_a_mesh_is_brought_in_placed_driven_and_replaced(self):
        page = self.page
        self.props()
        page.get_by_label("Bring in a file").set_input_files(self.folder / "buoy.glb")
        row = page.locator("[data-prop]", has_text="buoy.glb")
        row.get_by_text("1.00 × 1.00 × 1.00 m").wait_for(timeout=60_000)
        self.number("Position y", "1.2")
        shown = self.mean()
        page.get_by_label("How buoy is shown").select_option("hidden")
        self.assertGreater(sum(abs(a - b) for a, b in zip(self.mean(), shown, strict=True)), 3)
        page.get_by_label("How buoy is shown").select_option("shaded")
        self.assertLess(sum(abs(a - b) for a, b in zip(self.mean(), shown, strict=True)), 1)
        # its scale is one number for all axes until it is unlocked; then one of them reads a dial, made in one move
        self.number("Scale", "1.5")
        self.assertEqual(self.document()["props"][-1]["scale"]["base"], [1.5, 1.5, 1.5])
        self.number("Scale", "1")
        page.get_by_role("button", name="Give each axis of Scale its own number").click()
        page.get_by_role("button", name=re.compile("^Scale x: ")).click(button="right")
        page.get_by_role("menuitem", name="Make a dial of it", exact=True).click()
        page.locator("[data-part=dials]").get_by_text("sets 1").wait_for()
        page.get_by_label("Close the dials").click()
        self.saved()
        self.expected.append("422")
        page.get_by_label("Replace the file of buoy").set_input_files(self.folder / "broken.glb")
        page.get_by_text("This is no GLB").wait_for()
        row.get_by_text("buoy.glb").first.wait_for()  # the old one stays
        page.get_by_label("Replace the file of buoy").set_input_files(self.folder / "crate.stl")
        page.locator("[data-prop]", has_text="crate.stl").get_by_text("1.00 × 0.40 × 0.40 m").wait_for(timeout=60_000)
        self.saved()
        page.get_by_role("button", name="Undo").click()
        page.locator("[data-prop]", has_text="buoy.glb").wait_for()

    def test_one_undo_is_one_step_also_where_a_file_was_replaced_and_its_prop_removed(self):
        page = self.page
        self.props()
        page.get_by_label("Bring in a file").set_input_files(self.folder / "buoy.glb")
        page.locator("[data-prop]", has_text="buoy.glb").get_by_text("1.00 × 1.00 × 1.00 m").wait_for(timeout=60_000)
        sheet = page.locator("[data-part=prop-sheet]")
        page.get_by_label("Replace the file of buoy").set_input_files(self.folder / "crate.stl")
        page.locator("[data-prop]", has_text="crate.stl").first.wait_for(timeout=60_000)
        sheet.get_by_role("button", name="remove", exact=True).click()
        page.get_by_role("button", name="Undo").click()
        page.locator("[data-prop]", has_text="crate.stl").first.wait_for()
        self.assertEqual(self.document()["props"][-1]["file"]["name"], "crate.stl")
        # removed while another file is on its way: that goes nowhere, and says so
        page.locator("[data-prop]", has_text="crate.stl").get_by_role("button").first.click()
        page.route("**/api/props/files**", lambda route: (page.wait_for_timeout(700), route.continue_()))
        page.get_by_label("Replace the file of buoy").set_input_files(self.folder / "buoy.glb")
        sheet.get_by_role("button", name="remove", exact=True).click()
        page.get_by_text("What buoy.glb was for is gone.").wait_for(timeout=60_000)
        page.get_by_role("button", name="Undo").click()
        page.locator("[data-prop]", has_text="crate.stl").first.wait_for()
        self.assertEqual(self.document()["props"][-1]["file"]["name"], "crate.stl")

    def test_a_path_is_drawn_and_its_points_dragged_on_the_stage(self):
        page = self.page
        self.props()
        self.add("Path")
        before = self.document()["props"][-1]["points"]
        length = page.locator("[data-prop]", has_text=" m long").last.inner_text()
        # the middle point stands a little above the stage's middle: take hold of it
        canvas = page.locator("[data-part=stage] canvas").bounding_box()
        hold = page.evaluate("window.kageroStage.place([0, 1.2, 0.4])")
        page.mouse.move(canvas["x"] + hold[0], canvas["y"] + hold[1])
        page.mouse.down()
        page.mouse.move(canvas["x"] + hold[0] + 60, canvas["y"] + hold[1] + 80, steps=6)
        page.mouse.up()
        after = self.document()["props"][-1]["points"]
        self.assertEqual((after[0], after[2]), (before[0], before[2]))
        self.assertGreater(after[1][0], before[1][0] + 0.2)
        self.assertLess(after[1][1], before[1][1] - 0.2)
        self.assertNotEqual(page.locator("[data-prop]", has_text=" m long").last.inner_text(), length)
        page.get_by_role("button", name="add a point").click()
        self.assertEqual(len(self.document()["props"][-1]["points"]), 4)
        # a double click on the line puts one between two
        half = page.evaluate(
            "([a, b]) => window.kageroStage.place(a.map((v, i) => (v + b[i]) / 2))", [after[0], after[1]]
        )
        page.mouse.dblclick(canvas["x"] + half[0], canvas["y"] + half[1])
        points = self.document()["props"][-1]["points"]
        self.assertEqual((len(points), points[0], points[2]), (5, after[0], after[1]))

    def test_words_are_refilled_and_follow_a_place_on_another_prop(self):
        page = self.page
        self.props("Wheelhouse window")
        self.add("Words")
        words = page.get_by_label("Words of words")
        words.fill("Night")
        words.blur()
        self.saved()
        narrow = page.locator("[data-prop]", has_text="words").last.locator(".mono").first.inner_text()
        words.fill("Night ferry")
        words.blur()
        self.saved()
        page.wait_for_timeout(400)
        self.assertNotEqual(
            page.locator("[data-prop]", has_text="words").last.locator(".mono").first.inner_text(), narrow
        )
        page.get_by_label("What words follows").select_option(label="Bell")
        self.saved()
        bell = page.evaluate("window.kageroStage.place([1.05, 1.55, 0.34])")
        canvas = page.locator("[data-part=stage] canvas").bounding_box()
        page.keyboard.down("Alt")
        page.mouse.click(canvas["x"] + bell[0], canvas["y"] + bell[1])
        page.keyboard.up("Alt")
        page.get_by_text("a place on its surface").wait_for(timeout=5000)
        self.assertEqual(self.document()["props"][-1]["follow"]["at"], "surface")
        # who uses it is said, and removing it warns
        page.locator("[data-prop=bell] > button").click()
        page.locator("[data-prop=bell]").get_by_text("used by words").wait_for()
        page.locator("[data-prop=bell]").get_by_role("button", name="remove", exact=True).click()
        page.get_by_text("It is used by words.").wait_for()
        page.get_by_role("button", name="Remove it").click()
        page.locator("[data-prop=bell]").wait_for(state="detached")
        self.assertIsNone(self.document()["props"][-1]["follow"])

    @whole
    @drawn
    def test_views_are_saved_as_cameras_and_switched(self):
        page = self.page
        self.props("Petal rain")
        own = self.mean()
        page.get_by_role("button", name="Effect's camera").click()
        page.get_by_role("menuitem", name="Quay", exact=True).click()
        self.saved()
        page.wait_for_timeout(300)
        quay = self.mean()
        self.assertGreater(sum(abs(a - b) for a, b in zip(own, quay, strict=True)), 5)
        canvas = page.locator("[data-part=stage] canvas").bounding_box()
        page.mouse.move(canvas["x"] + 420, canvas["y"] + 60)
        page.mouse.down()
        page.mouse.move(canvas["x"] + 520, canvas["y"] + 90, steps=5)
        page.mouse.up()
        page.get_by_role("button", name="Cameras").click()
        page.get_by_role("menuitem", name="A new camera here", exact=True).click()
        self.assertEqual(self.document()["props"][-1]["kind"], "camera")
        page.get_by_role("button", name="camera", exact=True).click()
        page.get_by_role("menuitem", name="The effect's camera", exact=True).click()
        self.saved()
        page.wait_for_timeout(300)
        self.assertLess(
            sum(abs(a - b) for a, b in zip(own, self.mean(), strict=True)), 4
        )  # the new camera itself is seen


class WhatCannotBePlayed(PropsCase):
    def test_every_edit_is_kept_and_the_last_playable_state_goes_on_showing(self):
        page = self.page
        self.expected.append("422")
        self.props("Paper crane unravels")
        before = page.locator("[data-part=alive]").inner_text()
        page.locator("[data-prop]", has_text="Crane").get_by_role("button").first.click()
        page.locator("[data-part=prop-sheet]").get_by_role("button", name="remove", exact=True).click()
        page.get_by_role("button", name="Remove it").click()
        state = page.locator("[data-part=save-state]")
        state.get_by_text("cannot be played yet").wait_for()
        page.get_by_role("radio", name="Sheet", exact=True).click()
        self.assertLessEqual(
            page.evaluate("document.documentElement.scrollWidth"), 1280, "however much there is to say"
        )
        box = page.get_by_role("button", name="Export").bounding_box()
        self.assertLessEqual(box["x"] + box["width"], 1280)
        for label, text in (("Size", "0.031"), ("Opacity", "62")):
            page.get_by_role("button", name=re.compile(f"^{label}: ")).first.click()
            page.keyboard.press("Control+a")
            page.keyboard.type(text)
            page.keyboard.press("Enter")
        saved = self.document()
        look = saved["emitters"][0]["look"]
        self.assertEqual((look["size"]["base"], look["opacity"]["base"]), (0.031, 0.62))
        page.reload()
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        state.get_by_text("cannot be played yet").wait_for()
        page.get_by_text("The last good picture stays").wait_for()
        self.assertEqual(page.locator("[data-part=alive]").inner_text(), before)
        number = self.probe("frame")
        page.get_by_label("One frame on").click()  # not only the picture that was there
        page.wait_for_function(f"() => window.kageroStage.frame === {number + 1}")
        self.assertEqual(self.document(), saved)
        for _ in range(3):
            page.get_by_role("button", name="Undo").click()
            self.saved()
        state.get_by_text("cannot be played yet").wait_for(state="detached")
        self.assertIn("Crane", [prop["name"] for prop in self.document()["props"]])
        page.goto(self.live_server_url)
        page.get_by_label("Open Paper crane unravels").wait_for()
        self.assertEqual(page.get_by_text("cannot be played yet").count(), 0)
