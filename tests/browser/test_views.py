"""Every view at every size, and by the rules of accessibility."""

from __future__ import annotations

from tests.browser.stage import BrowserCase

AXE = "client/node_modules/axe-core/axe.min.js"
SIZES = (
    (1024, 768),
    (1280, 800),
    (1920, 1080),
    (2560, 1440),
    (640, 400),
    (853, 533),
    (1910, 1194),
)  # the last three: zoomed to 200, 150, 67 %
OVERLAPS = """() => {
  const problems = []
  const page = document.documentElement
  if (page.scrollWidth > innerWidth || page.scrollHeight > innerHeight) problems.push(`page scrolls: ${page.scrollWidth} x ${page.scrollHeight}`)
  const seen = (e) => { const s = getComputedStyle(e); const r = e.getBoundingClientRect(); return r.width && r.height && s.visibility !== 'hidden' && s.opacity !== '0' }
  const parts = [...document.querySelectorAll('[data-part=stage],[data-part=sheet],[data-part=life],[data-part=response],[data-part=transport]')]
  const controls = [...document.querySelectorAll('button, select, input, a, [role=slider]')].filter(seen)
  const inScroller = (e) => e.closest('.overflow-y-auto, .overflow-auto, .overflow-x-auto')
  const visible = (e) => { // what is left of it after its scrollers cut it
    let { left, right, top, bottom } = e.getBoundingClientRect()
    for (let s = inScroller(e); s; s = s.parentElement && inScroller(s.parentElement)) {
      const r = s.getBoundingClientRect()
      ;[left, right, top, bottom] = [Math.max(left, r.left), Math.min(right, r.right), Math.max(top, r.top), Math.min(bottom, r.bottom)]
    }
    return { left, right, top, bottom }
  }
  for (const e of [...parts, ...controls]) {
    const r = e.getBoundingClientRect()
    if (inScroller(e)) continue
    if (r.left < -0.5 || r.top < -0.5 || r.right > innerWidth + 0.5 || r.bottom > innerHeight + 0.5) problems.push(`outside: ${e.outerHTML.slice(0, 120)}`)
    const part = e.closest('[data-part]')
    if (part && part !== e) {
      const p = part.getBoundingClientRect()
      if (r.left < p.left - 1 || r.right > p.right + 1 || r.top < p.top - 1 || r.bottom > p.bottom + 1) problems.push(`out of ${part.dataset.part}: ${e.outerHTML.slice(0, 120)}`)
    }
  }
  for (let i = 0; i < controls.length; i++) for (let j = i + 1; j < controls.length; j++) {
    const [a, b] = [controls[i], controls[j]]
    if (a.contains(b) || b.contains(a) || a.dataset.key !== undefined || b.dataset.key !== undefined || a.dataset.timeKey !== undefined || b.dataset.timeKey !== undefined || a.type === 'color' || b.type === 'color') continue
    const [p, q] = [visible(a), visible(b)]
    const [w, h] = [Math.min(p.right, q.right) - Math.max(p.left, q.left), Math.min(p.bottom, q.bottom) - Math.max(p.top, q.top)]
    if (w > 1 && h > 1) problems.push(`overlap: ${a.outerHTML.slice(0, 90)} / ${b.outerHTML.slice(0, 90)}`)
  }
  for (const e of document.querySelectorAll('h2, dt, label, span, button, p')) {
    if (!seen(e) || e.children.length || !e.textContent.trim() || e.closest('select') || getComputedStyle(e).position === 'absolute') continue
    const clips = e.scrollWidth > e.clientWidth + 1 && getComputedStyle(e).overflowX !== 'visible'
    if (clips) problems.push(`clipped: ${e.textContent.trim().slice(0, 60)}`)
  }
  return problems
}"""


class Views(BrowserCase):
    def test_nothing_overlaps_or_is_clipped_at_any_size(self):
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_text("alive at most").first.wait_for()

        def right(what: str, size: tuple[int, int]) -> None:
            page.wait_for_timeout(120)
            self.assertEqual(page.evaluate(OVERLAPS), [], f"{what} at {size[0]} x {size[1]}")

        for size in SIZES:
            page.set_viewport_size({"width": size[0], "height": size[1]})
            right("library", size)
        self.open()
        for size in SIZES:
            page.set_viewport_size({"width": size[0], "height": size[1]})
            page.wait_for_timeout(60)
            narrow = page.get_by_role("radiogroup", name="What is seen")
            for pane in ("Stage", "Response", "Sheet") if narrow.count() else ("Desk",):
                if narrow.count():
                    narrow.get_by_role("radio", name=pane).click()
                right(pane, size)
                if pane in ("Desk", "Stage"):
                    page.keyboard.press("f")
                    right(f"{pane}, looked around", size)
                    page.keyboard.press("q")
            for view in ("Loom", "Table", "One life", "Props", "Sheet") if size in SIZES[:1] + SIZES[4:6] else ():
                page.locator("[data-part=sheet]").get_by_role("radio", name=view, exact=True).click()
                right(view, size)
        page.set_viewport_size({"width": 1280, "height": 800})
        chips = page.locator("[data-response]")
        for i in range(chips.count()):
            chips.nth(i).click()
            page.wait_for_timeout(30)
            self.assertEqual(page.evaluate(OVERLAPS), [], chips.nth(i).get_attribute("aria-label"))
        # numbers in other units are longer
        page.get_by_role("button", name="a second").click()
        for choice in ("mm", "frames", "per frame"):
            page.locator("dialog").get_by_role("radio", name=choice, exact=True).click()
        page.keyboard.press("Escape")
        self.saved()
        self.assertEqual(page.evaluate(OVERLAPS), [])

    def test_no_serious_finding_of_axe_on_any(self):
        """axe-core's rules of WCAG 2 A and AA; findings it calls serious or critical. What opens over the Desk is
        looked at by itself."""
        page = self.open()

        def check(view: str, part: str = "body", rules: str = "['wcag2a', 'wcag2aa']") -> None:
            if not page.evaluate("!!window.axe"):
                page.add_script_tag(path=AXE)
            found = page.evaluate(f"axe.run('{part}', {{ runOnly: {rules}, resultTypes: ['violations'] }})")[
                "violations"
            ]
            serious = [
                f"{each['id']}: {each['nodes'][0]['html'][:140]}"
                for each in found
                if each["impact"] in ("serious", "critical")
            ]
            self.assertEqual(serious, [], view)

        check("sheet")
        page.evaluate("document.documentElement.dataset.theme = 'day'")
        check("by day", rules="['color-contrast']")
        page.evaluate("document.documentElement.dataset.theme = 'night'")
        page.locator("[data-row='look.colour'] button[aria-haspopup=dialog]").first.click()
        page.locator("[data-part=colour]").wait_for()
        check("colour", "[data-part=colour]")
        page.keyboard.press("Escape")
        page.get_by_label("Drive Drag", exact=True).click()
        page.locator("[data-source]").nth(8).wait_for()
        check("list of sources", "[popover]")
        page.keyboard.press("Escape")
        page.locator("[data-name='look.size']").click()
        page.get_by_role("menu").wait_for()
        check("menu", "[role=menu]")
        page.keyboard.press("Escape")
        page.locator("[data-name='look.size']").focus()
        page.keyboard.press("?")
        page.locator("[data-part=card]").wait_for()
        check("card", "[data-part=card]")
        page.keyboard.press("Escape")
        for view in ("Loom", "Table", "One life", "Props", "Finish"):
            page.get_by_role("radio", name=view, exact=True).click()
            page.wait_for_timeout(300)
            if view == "Table":
                page.locator("[data-part=table] tbody tr").nth(3).click()
                page.wait_for_timeout(200)
            check(view, "[data-part=sheet]")
        for path, there in (("/docs", "article h1"), ("/", "[data-card]")):
            page.goto(f"{self.live_server_url}{path}")
            page.locator(there).first.wait_for()
            check(path)
