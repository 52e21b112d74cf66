"""Take the pictures in docs/screenshots from a served demo: `python -m demo.screenshots http://localhost:8130`."""

from __future__ import annotations

import re
import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from .browser import CHROMIUM

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


def main(address: str) -> None:
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=CHROMIUM, args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)

        def render_frame(name: str) -> None:
            page.mouse.move(640, 540)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / f"{name}.png")

        page.goto(address)
        page.get_by_text("alive at most").nth(7).wait_for(timeout=240_000)  # the last of those in sight
        page.wait_for_timeout(2500)
        render_frame("library")
        _open(page, "Lantern embers")
        render_frame("desk")
        page.locator("[data-response=embers-colour-life]").click()
        page.evaluate("document.documentElement.dataset.theme = 'day'")
        render_frame("desk-day")
        page.evaluate("document.documentElement.dataset.theme = 'night'")
        page.get_by_role("radio", name="Loom", exact=True).click()
        render_frame("loom")
        page.get_by_role("radio", name="Table", exact=True).click()
        page.locator("[data-part=table] tbody tr").nth(8).click()
        page.wait_for_timeout(800)
        render_frame("table")
        page.get_by_role("radio", name="One life", exact=True).click()
        render_frame("one-life")
        page.get_by_role("radio", name="Sheet", exact=True).click()
        page.goto(address)
        _open(page, "Ink on the deck")
        _frame(page, 150)
        page.get_by_role("radio", name="Finish", exact=True).click()
        page.locator("[data-finish=ink-glow] button[aria-expanded]").click()
        page.locator("[data-part=stage][data-rests]:not([data-rests=''])").wait_for()
        page.wait_for_timeout(600)
        page.screenshot(path=FOLDER / "finish.png")
        page.goto(address)
        _open(page, "Lantern embers")
        page.get_by_role("button", name="Export", exact=True).click()
        page.get_by_role("radio", name="Sprite sheet").click()
        page.locator("[data-part=sheet-preview]").get_by_text(re.compile("pages at")).wait_for(timeout=60_000)
        page.wait_for_timeout(600)
        page.screenshot(path=FOLDER / "export.png")
        page.goto(address)
        _open(page, "Compass rose")
        page.locator("[data-formula='births.place.centre']").click()
        page.locator("[data-part=formula-words]", has_text="Gives").wait_for()
        render_frame("formula")
        page.goto(address)
        _open(page, "Petal rain")
        page.get_by_role("radio", name="Props", exact=True).click()
        page.locator("[data-prop=crane] > button").click()
        page.get_by_text("6.00 × 1.30 × 1.90 m").wait_for()
        render_frame("props")
        page.goto(address)
        _open(page, "Name burning through")
        _frame(page, 62)
        page.get_by_role("radio", name="Props", exact=True).click()
        page.locator("[data-prop=left] > button").click()
        page.get_by_role("button", name="show its value on the stage").click()
        page.locator("[data-part=field-legend]").wait_for()
        page.wait_for_timeout(800)
        render_frame("masks")
        page.goto(address)
        _open(page, "Lantern gathers")
        _frame(page, 78)
        page.get_by_role("button", name="Sequence", exact=True).click()
        page.wait_for_timeout(1500)
        render_frame("sequence")
        page.goto(address)
        _open(page, "Mayfly column")
        _frame(page, 120)
        page.get_by_role("radio", name="Table", exact=True).click()
        page.locator("[data-part=table] tbody tr").nth(12).click()
        page.get_by_role("radio", name="Sheet", exact=True).click()
        for wanted in ("Arrows on the picked particle", "A slice of all pushes"):
            page.get_by_role("button", name="Pushes").first.click()
            page.get_by_role("menuitem", name=wanted).click()
            page.wait_for_timeout(1500)
        render_frame("pushes")
        page.goto(address)
        _open(page, "Name burning through")
        _frame(page, 62)
        page.get_by_role("radio", name="Sheet", exact=True).click()
        page.keyboard.press("Escape")
        page.get_by_label("Show more of the look").click()
        page.locator("[data-name='look.size']").scroll_into_view_if_needed()
        page.wait_for_function("() => window.kageroStage.pictured", timeout=60_000)
        page.wait_for_timeout(1500)
        render_frame("solids")
        page.goto(address)
        _open(page, "Pennant over the prow")
        _frame(page, 90)
        page.locator("[data-mover=wrung] [data-response]").first.click()
        page.get_by_label("Show all of twist").click()
        page.locator("[data-part=simulated]").evaluate("row => row.scrollIntoView({ block: 'start' })")
        page.wait_for_timeout(1500)
        render_frame("shaping")
        page.goto(address)
        _open(page, "Soap bubbles")
        _frame(page, 100)
        page.locator("[data-mover=pop] button[aria-expanded]").first.click()
        page.locator("[data-mover=pop]").get_by_text("add what it does").evaluate(
            "row => row.scrollIntoView({ block: 'end' })"
        )
        page.wait_for_function("() => window.kageroStage.pictured", timeout=60_000)
        page.wait_for_timeout(1500)
        render_frame("cues")
        page.goto(address)
        _open(page, "Mooring fog")
        _frame(page, 100)
        page.get_by_label("Show more of the look").click()
        page.locator("[data-name='look.opacity']").scroll_into_view_if_needed()
        page.wait_for_function("() => window.kageroStage.pictured", timeout=60_000)
        page.wait_for_timeout(1500)
        render_frame("looks")
        page.goto(address)
        _open(page, "Ink in water")
        _frame(page, 84)
        page.get_by_role("button", name="Render", exact=True).click()
        page.wait_for_function(
            "() => document.querySelector('[data-part=render]')?.dataset.scale === '1'", timeout=60_000
        )
        page.get_by_role("button", name="Keep", exact=True).click()
        page.get_by_role("tab", name=re.compile("^Ink")).click()
        page.locator("[data-look^=also]").scroll_into_view_if_needed()
        page.mouse.move(330, 200)
        page.wait_for_timeout(800)
        page.screenshot(path=FOLDER / "render.png")
        page.goto(address)
        _open(page, "Compass rose")
        page.set_viewport_size({"width": 1024, "height": 768})
        page.goto(f"{page.url}/dials")
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        render_frame("dials-page")
        browser.close()


def _open(page: Page, name: str) -> None:
    page.get_by_label(f"Open {name}", exact=True).click()
    page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)


def _frame(page: Page, number: int) -> None:
    page.locator("[data-part=frame] button").first.click()
    page.keyboard.press("Control+a")
    page.keyboard.type(str(number))
    page.keyboard.press("Enter")
    page.wait_for_function(f"() => window.kageroStage.frame === {number}")


if __name__ == "__main__":
    main(sys.argv[1])
