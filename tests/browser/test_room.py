"""The Desk's room: edges that drag and are kept, what folds away, the stage alone and in a second window, many window
sizes."""

from __future__ import annotations

from kagero.server.library.models import Effect
from tests.browser.stage import BrowserCase, drawn


class Room(BrowserCase):
    def width(self, part: str) -> float:
        return self.page.locator(f"[data-part={part}]").bounding_box()["width"]

    def test_edges_drag_are_kept_and_given_back(self):
        page = self.open()
        edge = page.get_by_label("Edge between the stage and the sheet")
        before = self.width("stage")
        self.drag(edge, -160, 0)
        self.assertAlmostEqual(self.width("stage"), before - 160, delta=6)
        canvas = page.locator("[data-part=stage] canvas").bounding_box()
        self.assertAlmostEqual(canvas["width"], before - 160, delta=6)
        edge.focus()
        page.keyboard.press("ArrowRight")  # as well as by hand
        page.keyboard.press("ArrowRight")
        moved = self.width("stage")
        # what is kept comes a moment later, for each move: it is there once it says what is seen
        page.wait_for_function(
            r"""() => {
              const [stage, sheet] = ['stage', 'sheet'].map((part) => document.querySelector(`[data-part=${part}]`).getBoundingClientRect().width)
              const kept = Object.entries(localStorage).find(([name]) => name.includes('kagero.main'))?.[1] ?? ''
              return (kept.match(/[\d.]+/g) ?? []).some((share) => Math.abs(share - (100 * stage) / (stage + sheet)) < 0.4)
            }"""
        )
        self.assertGreater(moved, before - 160)
        page.reload()
        self.saved()
        self.assertAlmostEqual(self.width("stage"), moved, delta=2)
        page.get_by_label("Edge between the stage and the sheet").dblclick()
        self.assertAlmostEqual(self.width("stage"), before, delta=3)
        page.set_viewport_size({"width": 1024, "height": 700})  # nothing keeps its size under the sheet
        page.wait_for_timeout(200)
        stage, sheet = (page.locator(f"[data-part={part}]").bounding_box() for part in ("stage", "sheet"))
        self.assertLessEqual(stage["x"] + stage["width"], sheet["x"] + 1)
        self.assertLessEqual(page.locator("[data-part=stage] canvas").bounding_box()["width"], stage["width"] + 1)

    def test_the_response_folds_away_and_the_stage_stands_alone(self):
        page = self.open()
        height = page.locator("[data-part=sheet]").bounding_box()["height"]
        page.get_by_role("radio", name="Props", exact=True).click()
        page.get_by_role("button", name="Lantern").first.click()
        page.get_by_role("radio", name="Sheet", exact=True).click()
        page.locator("[data-response=embers-opacity-life]").click()
        page.keyboard.press("Delete")
        page.wait_for_timeout(150)
        self.assertGreater(page.locator("[data-part=sheet]").bounding_box()["height"], height + 100)
        page.locator("[data-response=embers-size-life]").click()
        page.wait_for_timeout(150)
        self.assertAlmostEqual(page.locator("[data-part=sheet]").bounding_box()["height"], height, delta=3)
        page.locator("[data-part=stage] canvas").click(position={"x": 20, "y": 200})
        for key, part, other in (("w", "stage", "sheet"), ("Shift+W", "sheet", "stage")):
            page.keyboard.press(key)
            page.locator(f"[data-part={other}]").wait_for(state="hidden")
            self.assertEqual(self.width(part), 1280)
            page.keyboard.press(key)
            page.locator(f"[data-part={other}]").wait_for()

    @drawn
    def test_a_second_window_shows_the_stage_in_step(self):
        page = self.open()
        with self.context.expect_page() as opened:
            page.keyboard.press("Shift+B")
        other = opened.value
        other.get_by_text("frame 6").wait_for()
        page.keyboard.press(".")
        other.wait_for_function("() => window.kageroStage.frame === 7")
        other.wait_for_function("() => window.kageroStage.complete")
        before = other.evaluate("window.kageroStage.mean(0.25, 0.1, 0.5, 0.8)")
        self.drag(page.locator("[data-key='1']"), 60, 80)
        self.saved()
        other.wait_for_function(
            "before => window.kageroStage.mean(0.25, 0.1, 0.5, 0.8).some((v, i) => Math.abs(v - before[i]) > 0.5)",
            arg=before,
        )
        other.keyboard.press(",")
        page.wait_for_function("() => window.kageroStage.frame === 6")
        other.reload()
        other.get_by_text("frame 6").wait_for()


class Keys(BrowserCase):
    def test_everything_is_found_by_its_name_and_keys_can_be_changed(self):
        page = self.open()
        page.locator("[data-response=embers-size-life]").click()
        page.keyboard.press("Space")  # plays also while a chip has the focus
        page.get_by_label("Pause").wait_for()
        page.keyboard.press("Space")
        page.keyboard.press("Control+k")
        page.keyboard.type("stage alone")
        page.keyboard.press("Enter")
        page.locator("[data-part=sheet]").wait_for(state="hidden")
        page.keyboard.press("Escape")
        page.keyboard.press("?")
        page.get_by_role("button", name="Key of Loop: L").click()
        page.keyboard.press("w")
        page.get_by_text("W was for: The stage alone, and back. That has no key now.").wait_for()
        page.reload()
        self.saved()
        loop = page.get_by_role("button", name="Loop", exact=True)
        self.assertEqual(loop.get_attribute("aria-pressed"), "true")
        page.keyboard.press("w")
        self.assertEqual(loop.get_attribute("aria-pressed"), "false")
        page.keyboard.press("?")
        page.get_by_role("button", name="All keys as at first").click()
        page.keyboard.press("Escape")
        page.keyboard.press("w")
        page.locator("[data-part=sheet]").wait_for(state="hidden")

    def test_a_drag_can_be_given_up_and_every_step_gone_back_to(self):
        page = self.open()
        field = page.get_by_role("button", name="Lifespan: ")
        for typed, shown in (("2", "2 s"), ("*1.1", "2.2 s")):
            field.click()
            page.keyboard.press("Control+a")
            page.keyboard.type(typed)
            page.keyboard.press("Enter")
            self.assertEqual(field.inner_text(), shown)
        self.saved()
        before = page.locator("[data-part=stage] canvas").count()
        box = field.bounding_box()
        page.mouse.move(box["x"] + 10, box["y"] + 8)
        page.mouse.down()
        page.mouse.move(box["x"] + 90, box["y"] + 8, steps=4)
        self.assertNotEqual(field.inner_text(), "2.2 s")
        page.get_by_text("Esc gives up").wait_for()
        page.keyboard.press("Escape")
        page.mouse.move(box["x"] + 140, box["y"] + 8)
        page.mouse.up()
        self.assertEqual((field.inner_text(), before), ("2.2 s", 1))
        self.saved()
        page.get_by_role("button", name="Steps").click()
        page.get_by_role("option", name="Demo loaded").click()
        page.get_by_role("button", name="Lifespan: 2.6 s").wait_for()
        page.keyboard.press("h")
        page.get_by_role("listbox", name="Steps").get_by_role("option").first.click()
        page.get_by_role("button", name="Lifespan: 2.2 s").wait_for()
        undo = page.get_by_role("button", name="Undo")
        undo.click()  # what was given up is no step of its own
        page.get_by_role("button", name="Lifespan: 2 s").wait_for()


class Eye(BrowserCase):
    def at(self, point: str) -> list[float]:
        return self.page.evaluate(f"window.kageroStage.place({point})")

    def test_all_is_framed_looked_at_from_sides_and_the_effects_camera_never_moves_by_itself(self):
        page = self.open("Petal rain")
        camera = Effect.objects.get(name="Petal rain").document["camera"]
        box = page.locator("[data-part=stage] canvas").bounding_box()
        self.settle()
        page.keyboard.press("f")
        for key, right, up in (
            ("z", "[1, 0, 0]", "[0, 1, 0]"),
            ("x", "[0, 0, -1]", "[0, 1, 0]"),
            ("y", "[1, 0, 0]", "[0, 0, -1]"),
        ):
            page.keyboard.press(key)
            page.wait_for_timeout(120)
            origin, along, above = (self.at(each) for each in ("[0, 0, 0]", right, up))
            self.assertGreater(along[0], origin[0] + 5, key)
            self.assertLess(above[1], origin[1] - 5, key)
            x, y = self.at("[0, 2, 0]")  # what rains is in the picture, whole
            self.assertTrue(0 < x < box["width"] and 0 < y < box["height"], key)
        page.get_by_role("button", name="Keep this view").click()
        page.get_by_role("menuitem", name="As a new camera").click()
        self.saved()
        kept = Effect.objects.get(name="Petal rain").document
        self.assertEqual((kept["camera"], kept["props"][-1]["kind"]), (camera, "camera"))
        page.keyboard.press("q")
        page.get_by_role("button", name="Effect's camera").wait_for()
        self.drag(page.locator("[data-part=stage] canvas"), 80, 20)
        page.get_by_role("button", name="Keep this view").click()
        page.get_by_role("menuitem", name="In place of the effect's camera").click()
        self.saved()
        self.assertNotEqual(Effect.objects.get(name="Petal rain").document["camera"], camera)
        page.get_by_role("button", name="Undo").click()
        self.saved()
        self.assertEqual(Effect.objects.get(name="Petal rain").document["camera"], camera)

    def test_a_reload_and_the_way_back_find_where_one_was(self):
        page = self.open()
        page.get_by_role("tab", name="Ash").click()
        page.keyboard.press(".")
        page.locator("[data-response=ash-opacity-life]").click()
        page.get_by_role("radio", name="Loom", exact=True).click()
        page.keyboard.press("x")
        page.wait_for_timeout(120)
        before = self.at("[0, 1, 0.5]")
        for repeated in (
            lambda: page.reload(),
            lambda: (page.get_by_text("Library", exact=True).click(), page.go_back()),
        ):
            repeated()
            page.wait_for_function("() => window.kageroStage?.frame === 7")
            page.get_by_text("Opacity from life").first.wait_for()
            self.assertEqual(page.get_by_role("radio", name="Loom", exact=True).get_attribute("aria-checked"), "true")
            self.assertEqual(page.get_by_role("tab", name="Ash").get_attribute("aria-selected"), "true")
            for a, b in zip(self.at("[0, 1, 0.5]"), before, strict=True):
                self.assertAlmostEqual(a, b, delta=1)
