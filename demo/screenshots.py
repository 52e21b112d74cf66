"""Take the pictures in docs/screenshots from a served demo: `python -m demo.screenshots http://localhost:8130`."""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"


def main(address: str) -> None:
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)

        def take(name: str) -> None:
            page.mouse.move(640, 540)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / f"{name}.png")

        page.goto(address)
        page.get_by_text("alive at most").nth(7).wait_for(timeout=120_000)
        page.wait_for_timeout(2500)
        take("library")
        page.get_by_role("button", name="New effect", exact=True).click()
        page.wait_for_timeout(6000)
        take("beginnings")
        page.keyboard.press("Escape")
        _open(page, "Lantern embers")
        take("desk")
        page.locator("[data-response=embers-colour-life]").click()
        page.evaluate("document.documentElement.dataset.theme = 'day'")
        take("desk-day")
        page.evaluate("document.documentElement.dataset.theme = 'night'")
        page.get_by_role("button", name="Time", exact=True).click()
        page.locator("[data-part=cost] section").nth(1).wait_for()
        take("time")
        page.get_by_role("button", name="Close").last.click()
        page.get_by_role("radio", name="Loom", exact=True).click()
        take("loom")
        page.get_by_role("radio", name="Table", exact=True).click()
        page.locator("[data-part=table] tbody tr").nth(8).click()
        page.wait_for_timeout(800)
        take("table")
        page.get_by_role("radio", name="One life", exact=True).click()
        take("one-life")
        page.get_by_role("radio", name="Sheet", exact=True).click()
        page.get_by_label("Drive Curl noise", exact=True).click()
        page.locator("[data-source]").nth(8).wait_for()
        page.keyboard.type("speed")
        page.wait_for_timeout(300)
        page.screenshot(path=FOLDER / "sources.png")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Export").click()
        take("export")
        page.goto(address)
        _open(page, "Petal rain")
        page.locator("[data-response=petals-weight-size]").click()
        page.locator("[data-name='forces.petals-weight.strength']").focus()
        page.keyboard.press("?")
        page.locator("[data-part=card]").wait_for()
        page.wait_for_timeout(6000)
        take("card")
        page.goto(address)
        _open(page, "Compass rose")
        page.locator("[data-formula='births.place.centre']").click()
        page.locator("[data-part=formula-words]", has_text="Gives").wait_for()
        take("formula")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Dials 6").click()
        page.get_by_label("Show the settings of Rolling circle").click()
        page.locator("[data-dial=rose-b] [data-part=trial] img").nth(2).wait_for(timeout=60_000)
        page.locator("[data-part=trial] > .opacity-50").wait_for(state="detached")
        take("dials")
        page.goto(address)
        _open(page, "Petal rain")
        page.get_by_role("radio", name="Props", exact=True).click()
        page.locator("[data-prop=crane] > button").click()
        page.get_by_text("6.00 × 1.30 × 1.90 m").wait_for()
        take("props")
        page.keyboard.press("b")
        page.wait_for_timeout(1500)
        take("two-views")
        page.goto(address)
        _open(page, "Bell ring")
        _frame(page, 16)
        page.get_by_role("button", name="reshape it").click()
        page.locator("[data-part=field-legend]", has_text="m/s").wait_for()
        page.wait_for_timeout(800)
        page.mouse.move(420, 250)
        page.wait_for_timeout(400)
        page.screenshot(path=FOLDER / "guide.png")
        page.goto(address)
        _open(page, "Name burning through")
        _frame(page, 62)
        page.get_by_role("radio", name="Props", exact=True).click()
        page.locator("[data-prop=left] > button").click()
        page.get_by_role("button", name="show its value on the stage").click()
        page.locator("[data-part=field-legend]").wait_for()
        page.wait_for_timeout(800)
        take("masks")
        page.goto(address)
        _open(page, "Frost on the cabin window")
        _frame(page, 64)
        page.get_by_role("button", name="Sequence", exact=True).click()
        page.locator("[data-part=rows]").get_by_text("Place", exact=True).click()
        take("sequence")
        page.goto(address)
        _open(page, "Compass rose")
        page.set_viewport_size({"width": 1024, "height": 768})
        page.goto(f"{page.url}/dials")
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        take("dials-page")
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
