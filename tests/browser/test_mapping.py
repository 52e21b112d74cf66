"""Mapping in a real browser: examples in a few moves, without the mouse, and seen in the loom, the table and one
life."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from kagero.core.engine import REFERENCE, use_engine
from kagero.server.library.models import Effect
from tests.browser.stage import BrowserCase, drawn, whole


class MappingCase(BrowserCase):
    actions = 0

    def click(
        self,
        *,
        name: str | None = None,
        role: str = "button",
        label: str | None = None,
        at: str | None = None,
        exact: bool = True,
    ) -> None:
        self.actions += 1
        target = (
            self.page.locator(at)
            if at
            else self.page.get_by_label(label, exact=exact)
            if label
            else self.page.get_by_role(role, name=name, exact=exact)
        )
        target.first.click()
        self.page.wait_for_timeout(60)

    def empty(self) -> None:
        """Open a new, empty effect; opening it is not counted."""
        self.begin()

    def saved_document(self) -> dict[str, Any]:
        self.saved()
        return self.as_stored()

    def as_stored(self) -> dict[str, Any]:
        """Return the document as it is stored now."""
        return self.page.evaluate(
            "fetch(location.pathname.replace('/effects', '/api/effects')).then(r => r.json()).then(o => o.document)"
        )

    def pick(self, label: str, value: str) -> None:
        """Choose in a list of a few: one action."""
        self.actions += 1
        self.page.get_by_label(label, exact=True).first.select_option(label=value)
        self.saved()

    def item(self, name: str, role: str = "menuitem") -> None:
        self.click(name=name, role=role)
        self.saved()

    def source(self, text: str, key: str = "Enter") -> None:
        """Type a source's name and take it: one typed value."""
        self.actions += 1
        self.choose(text, key=key)
        self.saved()

    def type(self, text: str) -> None:
        """Type a value into what is open, with Enter: one typed value."""
        self.actions += 1
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type(text)
        self.page.keyboard.press("Enter")
        self.page.wait_for_timeout(80)

    def stored(self, name: str) -> dict[str, Any]:
        self.saved()
        return Effect.objects.get(name=name).document["emitters"][0]

    def in_at_most(self, most: int) -> None:
        self.assertLessEqual(self.actions, most)


class Examples(MappingCase):
    def test_size_to_how_fast_it_turns_small_ones_faster(self):
        page = self.open()
        self.click(label="Add a row to motion")
        self.type("spin")
        self.click(name="Spin: 0 °/s")
        self.type("90")
        self.saved()
        self.click(label="Drive Spin")
        self.source("size")
        self.settle()
        self.actions += 1
        page.get_by_label("Kind of response").select_option("ratio")
        self.saved()
        self.click(name="inverse")
        spin = self.stored("Lantern embers")["motion"]["spin"]
        self.assertAlmostEqual(spin["base"], 1.5708, delta=1e-3)
        response = spin["responses"][0]
        self.assertEqual((response["kind"], response["power"]), ("ratio", -1))
        self.assertTrue(0.01 < response["reference"] < 0.09, response["reference"])  # a typical ember
        self.in_at_most(8)

    def test_a_draw_to_gravity_12_with_a_spread_of_9(self):
        page = self.open("Petal rain")
        self.click(at="[data-response=petals-weight-size]")
        self.click(label="Remove Gravity from size")
        self.click(label="Drive Gravity")
        self.source("around a centre")
        self.click(name="draw A: centre: 1.9", exact=False)
        self.type("12")
        self.click(name="draw A: spread: 0.475", exact=False)
        self.type("9")
        emitter = self.stored("Petal rain")
        draw = emitter["draws"][-1]
        self.assertEqual((draw["kind"], draw["centre"]["base"], draw["spread"]["base"]), ("spread", 12, 9))
        self.assertEqual(
            emitter["forces"][0]["strength"]["base"], {"source": {"kind": "draw", "draw": draw["uid"]}, "read": "once"}
        )
        self.settle()
        low, high = map(float, page.locator("[data-out='forces.petals-weight.strength']").inner_text().split(" – "))
        self.assertTrue(
            3 <= low < 8 and 16 < high <= 21, (low, high)
        )  # of some thirty draws between 3 and 21, anew each time
        self.in_at_most(8)

    @whole
    def test_growth_by_rate_up_to_a_ceiling(self):
        page = self.open()
        self.click(label="Add a row to own attributes")
        self.type("counter")
        self.saved()
        self.click(name="counter: change: 1 /s")
        self.type("0.2")
        self.click(name="counter: not above: 1")
        self.type("0.3")
        self.saved()
        self.click(label="Drive Size")
        self.source("counter", key="Shift+Enter")
        emitter = self.stored("Lantern embers")
        own = emitter["own"][0]
        self.assertEqual(
            (own["memory"], own["held"], own["change"]["base"], own["highest"]["base"]), (True, True, 0.2, 0.3)
        )
        self.assertEqual(emitter["look"]["size"]["base"]["source"]["own"], own["uid"])
        self.settle()
        self.assertIn("0 – 0.3", page.locator(f"[data-own='{own['uid']}']").inner_text())
        self.in_at_most(8)


class WithoutTheMouse(MappingCase):
    def test_size_from_life_and_from_a_draw(self):
        page = self.open("Petal rain")
        focus = lambda: page.evaluate(
            "document.activeElement.dataset.name ?? document.activeElement.getAttribute('aria-label') ?? "
            "document.activeElement.tagName"
        )
        for source in ("life", "Vary per particle"):
            page.keyboard.press("/")
            page.keyboard.type("size")
            page.keyboard.press("Enter")
            page.wait_for_function("() => document.activeElement?.dataset.name === 'look.size'")
            outline = page.evaluate("getComputedStyle(document.activeElement).outlineStyle")
            self.assertEqual(outline, "solid", "the focus can be seen")
            page.keyboard.press("d")
            self.choose(source)
            self.saved()
            self.assertEqual(focus(), "look.size")  # the keyboard comes back to where it was
        responses = self.stored("Petal rain")["look"]["size"]["responses"]
        self.assertEqual([r["source"]["kind"] for r in responses], ["draw", "life", "draw"])
        page.keyboard.press("Tab")  # on through base and chips; a chip is moved before the one on its left
        for _ in range(8):
            if page.evaluate(f"document.activeElement.dataset.response === '{responses[2]['uid']}'"):
                break
            page.keyboard.press("Tab")
        page.keyboard.press("Alt+ArrowLeft")
        page.keyboard.press("m")
        moved = self.stored("Petal rain")["look"]["size"]["responses"]
        self.assertEqual([r["uid"] for r in moved], [responses[0]["uid"], responses[2]["uid"], responses[1]["uid"]])
        self.assertTrue(moved[1]["muted"])


class Views(MappingCase):
    @drawn
    def test_the_loom_filters_mutes_solos_and_fills_a_crossing(self):
        page = self.open()
        page.get_by_role("radio", name="Loom", exact=True).click()
        loom = page.locator("[data-part=loom]")
        loom.get_by_role("button", name="Drive Drag from life").click(force=True)
        loom.get_by_role("button", name="Drag from life", exact=True).wait_for()
        self.assertEqual(self.stored("Lantern embers")["forces"][1]["rate"]["responses"][0]["source"], {"kind": "life"})
        before = self.mean()
        loom.get_by_label("Solo life", exact=True).click()
        self.saved()
        page.get_by_text("Solo: all from life").wait_for()
        self.assertNotEqual(before, self.mean())
        page.get_by_text("End solo").click()
        for a, b in zip(before, self.mean(), strict=True):
            self.assertAlmostEqual(a, b, delta=0.05)
        loom.get_by_label("Mute all from life", exact=True).click()
        self.assertEqual(self.stored("Lantern embers")["muted_sources"], ["life"])
        page.get_by_role("button", name="Undo").click()
        self.saved()
        loom.get_by_role("button", name="life", exact=True).click()
        self.assertIn("Only what life drives: 7 rows", page.locator("[data-part=sheet]").inner_text())
        page.get_by_text("show all rows").click()

    @whole
    def test_a_particle_is_picked_on_the_stage_and_followed(self):
        page = self.open()
        page.locator("[data-part=stage] canvas").click(position={"x": 340, "y": 200})
        page.locator("[data-part=ring]").wait_for()
        page.locator("[data-one='look.size']").wait_for()
        page.get_by_role("radio", name="One life", exact=True).click()
        one = page.locator("[data-part=one]")
        one.get_by_text("At frame 60").wait_for()
        one.locator("svg").first.click(position={"x": 20, "y": 10})
        page.wait_for_function("() => window.kageroStage.frame !== 60")
        page.keyboard.press("Escape")
        one.get_by_text("No particle picked").wait_for()

    @whole
    def test_the_table_sorts_filters_and_picks(self):
        page = self.open("Petal rain")
        page.get_by_role("radio", name="Table", exact=True).click()
        table = page.locator("[data-part=table]")
        table.get_by_role("button", name="speed", exact=False).first.click()
        page.get_by_role("menuitem", name="Largest first").click()
        table.get_by_text("by speed, largest first").wait_for()  # said of the lines that are there
        at = table.locator("thead th").all_inner_texts()
        column = next(i for i, text in enumerate(at) if text.startswith("speed"))
        lines = table.locator("tbody tr[aria-rowindex]").evaluate_all(
            "(rows, k) => rows.slice(0, 20).map(row => row.cells[k].innerText)", column
        )
        speeds = [float(text) for text in lines]
        self.assertEqual(len(speeds), 20)
        self.assertEqual(speeds, sorted(speeds, reverse=True))
        table.get_by_role("button", name="speed", exact=False).first.click()
        page.get_by_role("menuitem", name="Show it as colour on the stage").click()
        page.locator("[data-part=legend]").wait_for()
        region = page.get_by_label("Table of particles")
        region.evaluate("e => e.scrollTop = e.scrollHeight")
        page.wait_for_function(
            "() => Number([...document.querySelectorAll('[data-part=table] "
            "tr[aria-rowindex]')].at(-1).getAttribute('aria-rowindex')) > 400"
        )
        table.locator("tbody tr[aria-rowindex]").last.click()
        page.locator("[data-part=table] tr[aria-selected=true]").wait_for()

    def test_several_keys_move_together_in_the_lanes(self):
        page = self.open()
        page.get_by_label("Taller lanes").click()
        page.wait_for_timeout(200)
        keys = page.locator("[data-lane-key]")
        first = page.locator("[data-lane-key='embers-size-life:1']")
        first.click()
        page.locator("[data-lane-key='embers-opacity-life:2']").click(modifiers=["Shift"])
        page.get_by_text("2 keys chosen").wait_for()
        self.assertGreater(keys.count(), 8)
        self.drag(first, 40, 0)
        look = self.stored("Lantern embers")["look"]
        moved = [
            look["size"]["responses"][0]["curve"]["keys"][1]["x"] - 0.14,
            look["opacity"]["responses"][0]["curve"]["keys"][2]["x"] - 0.55,
        ]
        self.assertAlmostEqual(moved[0], moved[1], delta=1e-3)
        self.assertGreater(moved[0], 0.04)
        page.get_by_role("button", name="Undo").click()
        self.assertEqual(
            self.stored("Lantern embers")["look"]["size"]["responses"][0]["curve"]["keys"][1]["x"], 0.14
        )  # one edit, one undo


class Copying(MappingCase):
    def test_responses_sentences_and_emitters_go_to_other_rows_and_effects(self):
        page = self.open()
        page.set_viewport_size(
            {"width": 1280, "height": 940}
        )  # what is dragged and where it goes are in sight together
        page.locator("[data-response=embers-size-life]").click()
        page.keyboard.press("Control+c")
        page.wait_for_function("() => JSON.parse(localStorage.getItem('kagero.piece'))?.kind === 'responses'")
        page.locator("[data-name='forces.embers-air.rate']").focus()
        page.keyboard.press("Control+v")
        page.locator("[data-row='forces.embers-air.rate'] [data-response]").wait_for()
        rate = self.stored("Lantern embers")["forces"][1]["rate"]["responses"]
        self.assertEqual([r["source"]["kind"] for r in rate], ["life"])
        self.assertNotEqual(rate[0]["uid"], "embers-size-life")
        page.locator(f"[data-response='{rate[0]['uid']}']").drag_to(
            page.locator("[data-row='look.opacity'] [data-out]")
        )
        page.locator("[data-row='look.opacity'] [data-response]").nth(1).wait_for()
        emitter = self.stored("Lantern embers")
        self.assertEqual(
            (len(emitter["forces"][1]["rate"]["responses"]), len(emitter["look"]["opacity"]["responses"])), (0, 2)
        )
        page.get_by_label("What one can do with Embers").click()
        page.get_by_role("menuitem", name="Copy", exact=True).click()
        page.wait_for_function("() => JSON.parse(localStorage.getItem('kagero.piece'))?.kind === 'emitter'")
        self.open("Petal rain")
        page.get_by_label("Add an emitter").click()
        page.get_by_role("menuitem", name="Paste the copied emitter").click()
        page.get_by_role("tab", name="Embers").wait_for()
        self.saved()
        both = Effect.objects.get(name="Petal rain").document["emitters"]
        self.assertEqual([e["name"] for e in both], ["Petals", "Embers"])
        self.assertNotEqual(both[1]["uid"], "embers")
        page.get_by_role("tab", name="Petals").dblclick()
        page.get_by_label("Emitter name").fill("Blossom")
        page.keyboard.press("Enter")
        page.get_by_role("tab", name="Embers").click()
        page.get_by_label("Hide Embers").click()
        page.get_by_label("What one can do with Embers").click()
        page.get_by_role("menuitem", name="Duplicate").click()
        page.get_by_role("tab", name="Embers 2").wait_for()
        self.saved()
        page.get_by_label("What one can do with Embers 2").click()
        page.get_by_role("menuitem", name="Delete").click()
        self.saved()
        names = [(e["name"], e["visible"]) for e in Effect.objects.get(name="Petal rain").document["emitters"]]
        self.assertEqual(names, [("Blossom", True), ("Embers", False)])
        page.get_by_role("button", name="Undo").click()
        self.saved()
        self.saved()
        self.assertEqual(len(Effect.objects.get(name="Petal rain").document["emitters"]), 3)


class Engines(MappingCase):
    def test_where_the_time_goes_is_told_row_by_row(self):
        page = self.open()
        self.assertEqual(page.locator("[data-part=engine]").count(), 0)
        page.get_by_role("button", name="Time", exact=True).click()
        panel = page.locator("[data-part=cost]")
        panel.get_by_text("Curl noise: the field").first.wait_for()
        self.assertRegex(panel.inner_text(), r"23 particles: [\d.]+ ms to step, [\d.]+ ms for the look")

    @drawn
    def test_without_machine_code_everything_works_and_a_badge_says_why(self):
        with use_engine(replace(REFERENCE, reason="Machine code cannot be made here: a test says so.")):
            page = self.open()
            badge = page.locator("[data-part=engine]")
            self.assertEqual(
                (badge.inner_text(), badge.get_attribute("title")),
                ("NumPy engine", "Machine code cannot be made here: a test says so."),
            )
            before = self.mean()
            self.drag(page.locator("[data-key='1']"), 60, 80)
            self.assertNotEqual(before, self.mean())
