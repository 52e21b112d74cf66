"""Formulas and dials as artists use them, and as those who only turn dials do."""

from __future__ import annotations

import re

from .stage import BrowserCase, drawn


class Formulas(BrowserCase):
    def write(self, text: str) -> None:
        """Write into the formula that is open, with its completion closed."""
        page = self.page
        page.locator("[data-part=formula] .cm-content").click()
        page.keyboard.press("Control+a")
        page.keyboard.insert_text(text)
        page.keyboard.press("Escape")

    def words(self, text: str) -> str:
        box = self.page.locator("[data-part=formula-words]", has_text=text)
        box.wait_for(timeout=5000)
        return box.inner_text()

    def drive(self, row: str) -> None:
        page = self.page
        page.get_by_label(f"Drive {row}", exact=True).click()
        page.locator("[data-source=formula]").wait_for()
        page.keyboard.type("formula")
        page.keyboard.press("Enter")
        page.locator("[data-part=formula] .cm-content").wait_for()

    @drawn
    def test_a_formula_with_a_mistake_is_read_and_corrected_while_the_last_good_one_runs(self):
        page = self.open()
        self.drive("Opacity")
        self.write("0.5 + 0.5 * sin(height * 20)")
        self.words("Gives a number")
        page.wait_for_timeout(1500)
        bright = self.mean()
        self.write("wave = sin(height * 20)\n0.5 + 0.5 * wavy")
        message = self.words("Nothing is called wavy")
        self.assertIn("Line 2, column 13", message)
        self.assertIn("Did you mean wave?", message)
        page.locator(".cm-lintRange-error", has_text="wavy").wait_for()
        page.wait_for_timeout(1500)
        self.assertEqual(self.mean(), bright)  # the last good one runs
        # nothing is lost by leaving: the draft opens again as it was
        page.reload()
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        page.get_by_label(re.compile("Opacity multiply from formula")).click()
        self.assertIn("wavy", page.locator("[data-part=formula] .cm-content").inner_text())
        self.write("wave = sin(height * 20)\n0.1 * wave + 0.1")
        self.words("Gives a number")
        page.wait_for_timeout(1500)
        self.assertLess(sum(self.mean()), sum(bright))
        values = page.locator("[data-part=formula-values]").inner_text()
        self.assertRegex(values, r"wave\s+-?[\d.]+ – [\d.]+")
        page.get_by_role("button", name="Undo").click()
        self.saved()
        page.locator("[data-part=formula] .cm-content", has_text="wavy").wait_for()

    def test_completion_offers_names_with_live_values_and_says_why_not(self):
        page = self.open()
        self.drive("Rate")
        page.wait_for_timeout(400)
        page.keyboard.press("Control+a")
        page.keyboard.type("spe", delay=30)
        option = page.locator(".cm-tooltip-autocomplete li", has_text="speed").first
        option.wait_for()
        self.assertIn("not here", option.inner_text())
        page.keyboard.press("Control+a")
        page.keyboard.type("clip_t", delay=30)
        page.locator(".cm-tooltip-autocomplete li", has_text="clip_time").wait_for()
        page.wait_for_timeout(200)  # what has just been offered is not taken by accident
        page.keyboard.press("Tab")
        page.keyboard.type(" > 1")
        page.keyboard.press("Escape")
        self.words("Gives a condition")
        self.saved()

    def test_a_base_an_example_and_a_division_by_nought(self):
        page = self.open()
        page.get_by_label("Drive Size", exact=True).click()
        page.locator("[data-source=formula]").wait_for()
        page.keyboard.type("formula")
        page.keyboard.press("Shift+Enter")
        page.locator("[data-part=formula] .cm-content", has_text="0.085").wait_for()
        page.get_by_role("button", name="Examples").click()
        example = page.locator("[data-part=examples] article", has_text="Grow step by step")
        example.get_by_role("button", name="Put it in").click()
        self.words("Gives a number, m")
        page.wait_for_timeout(1500)
        self.saved()
        self.write("0.02 / (age - age)")
        page.wait_for_timeout(1500)
        self.settle()
        warning = page.locator("[data-part=stage] [role=status]", has_text="not finite")
        warning.wait_for()
        self.assertIn("Size, frame 6", warning.inner_text())
        warning.get_by_role("button", name="show the first particle").first.click()
        page.locator("[data-part=ring]").wait_for()


class DialsJourney(BrowserCase):
    def make(self, number: str, item: str) -> None:
        page = self.page
        page.get_by_role("button", name=re.compile(f"^{number}: ")).first.click(button="right")
        page.get_by_role("menuitem", name=item, exact=True).click()
        page.locator("[data-part=dials]").wait_for()
        page.wait_for_timeout(200)
        page.get_by_label("Close the dials").click()
        self.saved()

    def test_three_dials_are_turned_on_their_page_one_is_accepted_one_thrown_away(self):
        page = self.open()
        address = page.url
        self.make("Rate", "Make a dial that multiplies it")
        self.make("Buoyancy", "Make a dial of it")
        self.make("Size", "Make a dial that limits it")
        self.settle()
        alive = page.locator("[data-part=alive]").inner_text()

        turner = self.new_page()
        turner.set_viewport_size({"width": 820, "height": 1180})
        turner.goto(f"{address}/dials")
        turner.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        self.assertEqual(turner.get_by_role("slider").count(), 4)  # three dials and the clip's time
        # by the keyboard alone: to the name, then from dial to dial
        turner.get_by_label("Whose values").focus()
        turner.keyboard.type("Night crew")
        turner.keyboard.press("Tab")
        for name, key, times in (("Rate", "ArrowLeft", 60), ("Buoyancy", "ArrowRight", 40), ("Size", "Home", 1)):
            for _ in range(12):
                if turner.evaluate("document.activeElement.getAttribute('aria-label')") == f"Turn {name}":
                    break
                turner.keyboard.press("Tab")
            for _ in range(times):
                turner.keyboard.press(key)
        turner.get_by_text("Kept as “Night crew”").wait_for(timeout=8000)
        turner.keyboard.press("c")
        turner.get_by_role("button", name="See yours again").wait_for()
        turner.close()

        page.reload()
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        self.assertEqual(page.locator("[data-part=alive]").inner_text(), alive)  # the artist's values are as they were
        page.get_by_role("button", name=re.compile("^Dials")).click()
        overlay = page.locator("[data-overlay='Night crew']")
        overlay.wait_for()
        overlay.get_by_role("button", name="See theirs").click()
        self.settle()
        self.assertNotEqual(page.locator("[data-part=alive]").inner_text(), alive)
        overlay.get_by_role("button", name="See mine").click()
        self.settle()
        self.assertEqual(page.locator("[data-part=alive]").inner_text(), alive)
        page.get_by_label("Accept Rate of Night crew").click()
        page.get_by_label("Throw away Size of Night crew").click()
        page.get_by_label("Throw away Size of Night crew").wait_for(state="detached")
        self.assertEqual(overlay.get_by_role("button", name=re.compile("^Accept ")).count(), 1)
        self.saved()
        values = page.evaluate(
            "fetch(location.pathname.replace('/effects', '/api/effects')).then(r => r.json()).then(o => "
            "o.document.dials.map(d => [d.name, d.value]))"
        )
        self.assertEqual([v[0] for v in values], ["Rate", "Buoyancy", "Size"])
        self.assertAlmostEqual(values[0][1], 0.4, places=6)
        self.assertEqual([v[1] for v in values[1:]], [0.82, 0.085])

    def test_a_dial_is_tried_renamed_with_its_formulas_and_removed_with_a_warning(self):
        page = self.open("Compass rose")
        page.get_by_role("button", name=re.compile("^Dials")).click()
        page.get_by_label("Show the settings of Rolling circle").click()
        page.locator("[data-dial=rose-b] [data-part=trial] img").nth(2).wait_for(timeout=30_000)
        page.get_by_label("Name of the dial: Rolling circle").click()
        page.keyboard.press("Control+a")
        page.keyboard.type("Small wheel")
        page.keyboard.press("Enter")
        page.locator("[data-dial=rose-b]", has_text="Small wheel").wait_for()
        self.saved()
        page.get_by_role("button", name="Centre").last.click()
        page.locator("[data-part=formula] .cm-content", has_text="dials.small_wheel").wait_for()
        page.locator("[data-part=formula-words]", has_text="Gives a vector").wait_for()
        page.get_by_role("button", name=re.compile("^Dials")).click()
        page.get_by_role("button", name="remove Small wheel").click()
        page.get_by_text("is read by the formula of Pen, Centre").wait_for()
        page.get_by_role("button", name="Remove it").click()
        page.locator("[data-dial=rose-b]").wait_for(state="detached")
        self.saved()
        self.assertIn("b = 3.0", page.locator("[data-part=formula] .cm-content").inner_text())
        page.get_by_role("button", name="Undo").click()
        page.locator("[data-dial=rose-b]").wait_for()
        self.saved()
