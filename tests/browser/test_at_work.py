"""At the Desk all day: units, several rows at once, colours, keys where the hand is, help that is tried, why nothing is
seen, many emitters."""

from __future__ import annotations

import re

from tests.browser.stage import PropsCase, drawn, whole


class AtWork(PropsCase):
    def test_numbers_are_shown_and_typed_as_the_clip_says_and_into_several_rows_at_once(self):
        page = self.open("Petal rain")
        page.get_by_role("button", name="a second").click()
        for choice in ("cm", "frames"):
            page.locator("dialog").get_by_role("radio", name=choice, exact=True).click()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Lifespan: 180 f").wait_for()
        page.get_by_role("button", name="Size: 16 cm").click()
        page.keyboard.press("Control+a")
        page.keyboard.type("0.2 m")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Size: 20 cm").wait_for()
        for row in ("look.size", "births.launch.speed"):
            page.locator(f"[data-name='{row}']").click(modifiers=["Control"])
        page.get_by_role("button", name="Size: 20 cm").click()
        page.keyboard.type("*1.5")
        page.keyboard.press("Enter")
        emitter = self.document()["emitters"][0]
        self.assertAlmostEqual(emitter["look"]["size"]["base"], 0.3)
        self.assertAlmostEqual(emitter["births"]["launch"]["speed"]["base"], 0.375)
        page.get_by_role("button", name="last to the clip’s end").click()
        lifespan = self.document()["emitters"][0]["births"]["lifespan"]["base"]
        self.assertEqual((lifespan["source"]["kind"], lifespan["read"]), ("clip_left", "once"))

    @drawn
    def test_a_colour_is_taken_from_the_stage_and_stands_among_the_last_ones(self):
        page = self.open("Bell ring")
        self.settle()
        page.locator("[data-row='look.colour'] button[aria-haspopup=dialog]").first.click()
        page.get_by_label("Colour, code").fill("#3fa0d8")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Take a colour from the stage").click()
        x, y = self.probe("place([0, 0.95, 0])")  # the bell
        box = page.locator("[data-part=stage] canvas").bounding_box()
        page.mouse.click(box["x"] + x, box["y"] + y)
        red, _, blue = self.document()["emitters"][0]["look"]["colour"]["base"]
        self.assertGreater(red, blue)  # brass
        page.locator("[data-row='look.colour'] button[aria-haspopup=dialog]").first.click()
        page.get_by_role("group", name="Used last").get_by_label("#3fa0d8").wait_for()

    @whole
    def test_a_handle_and_a_typed_number_write_keys_at_this_frame_which_stand_on_the_transport(self):
        page = self.page
        self.props("Petal rain")
        self.add("Sphere")
        page.locator("[data-name='place.position']").click()
        page.get_by_role("menuitem", name="Key it over the clip").click()
        self.saved()
        page.locator("[data-part=frame] button").first.click()
        page.keyboard.type("60")
        page.keyboard.press("Enter")
        self.number("Position y", "2")
        prop = self.document()["props"][-1]
        keys = {r["component"]: r["curve"]["keys"] for r in prop["position"]["responses"]}
        self.assertEqual([len(keys[axis]) for axis in "xyz"], [1, 2, 1])
        page.locator("[data-time-key]").nth(1).wait_for()
        self.assertEqual(
            [each.get_attribute("data-time-key") for each in page.locator("[data-time-key]").all()], ["60", "90"]
        )
        page.locator("[data-time-key='60']").focus()
        page.keyboard.press("Control+ArrowLeft")  # a copy goes
        page.locator("[data-time-key='59']").wait_for()
        self.assertEqual(page.locator("[data-time-key]").count(), 3)
        page.get_by_role("button", name="Undo").click()
        page.locator("[data-time-key='59']").wait_for(state="detached")
        page.get_by_role("button", name="Undo").click()
        page.locator("[data-time-key='60']").wait_for(state="detached")
        self.assertEqual(page.locator("[data-time-key]").count(), 1)

    def test_a_card_shows_what_a_row_does_and_its_example_is_tried_and_taken_back(self):
        page = self.open("Lantern embers")
        before = self.document()
        page.locator("[data-name='look.opacity']").focus()
        page.keyboard.press("?")
        card = page.locator("[data-part=card]")
        card.get_by_text("Usually").wait_for()
        picture = page.locator(
            "[role=dialog] [style*='/api/help/cards/row%3Alook.opacity/card.png']"
        )  # what it shows is tested over the wire
        self.assertEqual(picture.count(), 1)
        card.get_by_role("button", name="Try: each one's own").click()
        card.get_by_text("Tried.").wait_for()
        self.assertEqual(
            len(self.document()["emitters"][0]["look"]["opacity"]["responses"]),
            len(before["emitters"][0]["look"]["opacity"]["responses"]) + 1,
        )
        card.get_by_role("button", name="Take it back").click()
        card.get_by_text("Tried.").wait_for(state="detached")
        self.assertEqual(self.document(), before)
        page.keyboard.press("Escape")
        # the handbook, inside
        page.goto(f"{self.live_server_url}/docs")
        page.get_by_label("Search the handbook").fill("falloff")
        page.locator("nav a[href^='/docs/BIRTHS']").first.click()
        page.get_by_role("heading", name=re.compile("^Masks")).wait_for()

    def test_the_stage_says_why_nothing_is_seen_and_leads_to_the_row(self):
        page = self.open("Petal rain")
        self.number("Size", "0")
        message = page.locator("[data-part=unseen]")
        message.get_by_text("have no size").wait_for()
        message.get_by_role("button", name="Size").click()
        page.wait_for_function("() => document.activeElement?.closest('[data-row]')?.dataset.row === 'look.size'")
        page.get_by_role("button", name="Undo").click()
        message.wait_for(state="detached")

    def test_many_emitters_stand_in_a_list_with_folders_and_one_is_soloed(self):
        page = self.open("Lantern embers")
        for _ in range(5):
            page.get_by_role("button", name="Add an emitter").click()
            page.get_by_role("menuitem", name="New emitter").click()
            self.saved()
        emitters = page.locator("[data-part=emitters]")
        emitters.wait_for()
        first = emitters.locator("[data-emitter]").first
        first.locator("[data-pick]").click(button="right")
        page.get_by_role("menuitem", name="Into a folder").click()
        page.keyboard.type("Fire")
        page.keyboard.press("Enter")
        emitters.get_by_role("button", name="Fire 1").wait_for()
        emitters.get_by_role("button", name="Solo Ash").click()
        page.get_by_text("only Ash is on the stage").wait_for()
        emitters.locator("[data-pick]").nth(1).focus()
        page.keyboard.press("Alt+ArrowDown")
        stored = self.document()["emitters"]
        self.assertEqual((stored[0]["folder"], len(stored)), ("Fire", 7))
        self.assertEqual([e["visible"] for e in stored], [True] * 7)  # a solo is nothing of the effect

    def test_a_prop_is_painted_duplicated_and_fitted(self):
        page = self.page
        self.props("Petal rain")
        self.add("Sphere")
        self.number("Position y", "1.5")
        page.get_by_role("button", name="paint on it").click()
        page.locator("[data-part=brush]").get_by_text("Paint on").wait_for()
        page.locator("[data-part=field-legend]").wait_for()
        self.settle()
        box = page.locator("[data-part=stage] canvas").bounding_box()
        x, y = self.probe("place([0, 1.5, 0.4])")
        page.mouse.move(box["x"] + x, box["y"] + y)
        page.mouse.down()
        page.mouse.move(box["x"] + x + 12, box["y"] + y + 4, steps=4)
        page.mouse.up()
        page.get_by_role("button", name="1 painted stroke").wait_for()
        props = self.document()["props"]
        self.assertEqual(
            (props[-2]["paint"][0]["kind"], props[-1]["shape"], props[-1]["of"]), ("paint", "painted", props[-2]["uid"])
        )
        row = page.locator(f"[data-prop='{props[-2]['uid']}']").get_by_role("button").first
        row.focus()
        page.keyboard.press("Control+d")
        page.locator("[data-prop]", has_text="sphere 2").wait_for()
        copy = next(p for p in self.document()["props"] if p["name"] == "sphere 2")
        self.assertEqual(len(copy["paint"]), 1)
        page.get_by_label("What sphere 2 is fitted to").select_option(label="sphere")
        fitted = next(p for p in self.document()["props"] if p["name"] == "sphere 2")
        self.assertEqual(
            (fitted["follow"]["at"], fitted["radius"], fitted["position"]["base"]), ("bounds", 0.5, [0, 0, 0])
        )
