"""Journeys from an empty effect, counted: a click, a drag, a typed value are an action each. The limits are the Desk's
promise."""

from __future__ import annotations

from tests.browser.test_mapping import MappingCase


class Counted(MappingCase):
    def test_a_bell_of_size_over_life_with_each_ones_own_peak(self):
        self.empty()
        self.click(label="Drive Size")
        self.source("life")
        self.click(label="Preset breath")
        self.click(label="Drive Shift")
        self.source("Vary per particle")
        response = self.saved_document()["emitters"][0]["look"]["size"]["responses"][0]
        self.assertEqual([k["y"] for k in response["curve"]["keys"]], [0, 1, 0])
        self.assertEqual(response["shift"]["responses"][0]["source"]["kind"], "draw")
        self.in_at_most(12)

    def test_gravity_by_size_flipped_a_tenth_left_at_the_end(self):
        self.empty()
        self.click(label="Add a row to motion")
        self.type("gravity")
        self.saved()
        self.click(label="Drive Gravity")
        self.source("size")
        self.click(label="Flip upside down")
        self.click(name="To low: 0", exact=False)
        self.type("0.1")
        response = self.saved_document()["emitters"][0]["forces"][-1]["strength"]["responses"][0]
        self.assertEqual([k["y"] for k in response["curve"]["keys"]], [1, 0])
        self.assertEqual(response["output"], [0.1, 1])
        self.in_at_most(7)

    def test_two_colours_left_and_right_soft_then_sharp_in_the_middle(self):
        self.empty()
        self.click(label="Drive Colour")
        self.source("position x")
        for stop, code in ((1, "#2050ff"), (0, "#ff5020")):
            self.click(at=f"[data-stop='{stop}']")
            self.click(at="[data-part=response] button[aria-label^='Colour: #']")
            self.actions += 1
            self.page.get_by_label("Colour, code").fill(code)
            self.page.keyboard.press("Enter")
        stops = self.saved_document()["emitters"][0]["look"]["colour"]["responses"][0]["gradient"]["stops"]
        self.assertGreater(stops[1]["colour"][2], 0.9)
        self.assertGreater(stops[0]["colour"][0], 0.9)
        self.assertEqual([s["shape"] for s in stops], ["linear", "linear"])
        self.in_at_most(9)
        self.click(at="[data-stop='0']")
        self.click(name="sharp", role="radio")
        last = self.page.locator("[data-stop='1']")
        self.drag(last, -last.bounding_box()["x"] / 4, 0)
        stops = self.saved_document()["emitters"][0]["look"]["colour"]["responses"][0]["gradient"]["stops"]
        self.assertEqual(stops[0]["shape"], "hold")
        self.assertTrue(0.4 < stops[1]["x"] < 0.9, stops[1])

    def test_a_rolling_circle_figure_with_three_dials(self):
        page = self.page
        self.empty()
        self.click(label="Show centre and extent")
        self.click(label="Drive Centre")
        self.source("Write a formula as the base")
        self.actions += 1
        page.locator("[data-part=formula] .cm-content").click()
        page.keyboard.press("Control+a")
        page.keyboard.insert_text(
            "t = clip_time * 3\nturn = (fixed - rolling) / rolling * t\n"
            "vec3((fixed - rolling) * cos(t) + pen * cos(turn), 1 + (fixed - rolling) * sin(t) - pen * sin(turn), 0)"
        )
        for name in ("fixed", "rolling", "pen"):
            page.get_by_text(f"Nothing is called {name} here").first.wait_for()
            self.click(name="make a dial of it")
            page.locator("[data-dial]", has_text="in 1 formula").first.wait_for() if name == "pen" else None
            self.saved()
        for name, value in (("fixed", "0.8"), ("rolling", "0.3"), ("pen", "0.4")):
            self.click(at=f"[data-dial] button[aria-label^='{name}: ']")
            self.type(value)
        stored = self.saved_document()
        text = stored["emitters"][0]["births"]["place"]["centre"]["base"]["source"]["text"]
        self.assertEqual(
            [(d["name"], d["value"]) for d in stored["dials"]], [("fixed", 0.8), ("rolling", 0.3), ("pen", 0.4)]
        )
        self.assertIn("dials.pen * cos(turn)", text)
        self.in_at_most(18)

    def test_words_that_break_up_from_both_ends(self):
        self.empty()
        self.click(name="Props", role="radio")
        self.click(at="[data-part=props] button:has-text('prop')")
        self.item("Words")
        self.click(at="[data-part=props] button:has-text('prop')")
        self.item("Mask…")
        self.item("Box", role="option")
        self.pick("What box mask is fitted to", "words")
        self.actions += 1
        self.page.get_by_label("inverted").first.check()
        self.saved()
        self.click(label="Drive Size")
        self.source("clip time")
        self.click(label="Flip left and right")
        self.click(name="x", role="radio")
        self.saved()
        self.click(at="[data-prop] >> nth=0 >> button >> nth=0")
        self.pick("Which mask words dissolves by", "where box mask is")
        self.click(name="Sheet", role="radio")
        self.pick("Place", "A prop")
        self.click(label="Add a row to births")
        self.type("kept births")
        self.click(label="Drive Kept births")
        self.source("box mask")
        stored = self.saved_document()
        words, mask = stored["props"]
        self.assertEqual(
            (words["dissolve"]["mask"], mask["follow"]["at"], mask["invert"]), (mask["uid"], "bounds", True)
        )
        self.assertEqual(mask["size"]["responses"][0]["component"], "x")
        births = stored["emitters"][0]["births"]
        self.assertEqual(
            (births["place"]["prop"], births["keep"]["responses"][0]["source"]["mask"]), (words["uid"], mask["uid"])
        )
        self.in_at_most(20)

    def test_births_where_a_noise_is_low_on_a_mesh(self):
        self.empty()
        self.click(name="Props", role="radio")
        self.click(at="[data-part=props] button:has-text('prop')")
        self.item("Sphere")
        self.click(name="Sheet", role="radio")
        self.pick("Place", "A prop")
        self.click(label="Add a row to births")
        self.type("kept births")
        self.click(label="Drive Kept births")
        self.source("noise")
        self.click(label="Flip left and right")
        births = self.saved_document()["emitters"][0]["births"]
        response = births["keep"]["responses"][0]
        self.assertEqual((births["place"]["kind"], response["source"]["kind"]), ("prop", "noise"))
        self.assertEqual([k["y"] for k in response["curve"]["keys"]], [1, 0])
        self.in_at_most(14)
