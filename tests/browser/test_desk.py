"""What an artist does, in a real browser."""

from __future__ import annotations

import json
import re
from pathlib import Path

from kagero.core.document import read_effect
from kagero.server.jobs.models import Export
from kagero.server.library import files
from kagero.server.library.models import Effect, File
from tests.browser.stage import BrowserCase, drawn, frames, whole
from tests.making import with_


class Journey(BrowserCase):
    @frames(61)
    @drawn
    def test_open_play_shape_undo_export_reload(self):
        page = self.open()
        before_play = self.probe("frame")
        page.get_by_label("Play", exact=True).click()
        page.wait_for_function(f"() => window.kageroStage.frame > {before_play + 5}")
        page.get_by_label("Pause").click()
        page.get_by_role("button", name=re.compile("^Frame: ")).press("Enter")
        page.get_by_role("textbox", name="Frame").fill("60")
        page.keyboard.press("Enter")
        first = self.mean()
        self.assertGreater(max(first), 12)  # embers are on the stage, over a ground of about 20, 24, 15

        key = page.locator("[data-key='1']")
        self.drag(key, 60, 80)
        changed = self.mean()
        self.assertGreater(max(abs(a - b) for a, b in zip(first, changed, strict=True)), 1)
        self.saved()

        page.get_by_role("button", name="Undo").click()
        for a, b in zip(first, self.mean(), strict=True):
            self.assertAlmostEqual(a, b, delta=0.05)
        page.get_by_role("button", name="Redo").click()
        for a, b in zip(changed, self.mean(), strict=True):
            self.assertAlmostEqual(a, b, delta=0.05)
        self.saved()

        page.get_by_role("button", name="Export").click()
        with page.expect_download() as download:
            page.get_by_role("button", name="Save the effect").click()
        exported = json.loads(Path(download.value.path()).read_text())
        read_effect(exported)
        page.get_by_label("NPZ").check()
        with page.expect_download() as download:
            page.get_by_role("dialog").get_by_role("button", name="Export", exact=True).click()
        self.assertEqual(Path(download.value.path()).read_bytes()[:2], b"PK")
        page.get_by_role("button", name="Close").last.click()

        page.reload()
        self.saved()
        stored = Effect.objects.get(name="Lantern embers").document
        self.assertEqual(stored, exported)
        self.assertNotEqual(stored["emitters"][0]["look"]["size"]["responses"][0]["curve"]["keys"][1]["x"], 0.14)
        page.get_by_role("button", name="Undo").click()  # undo is kept with the effect
        self.saved()
        self.saved()
        self.assertEqual(
            Effect.objects.get(name="Lantern embers").document["emitters"][0]["look"]["size"]["responses"][0]["curve"][
                "keys"
            ][1]["x"],
            0.14,
        )

        with page.expect_file_chooser() as chooser:  # and what was exported opens again
            page.goto(self.live_server_url)
            page.get_by_role("button", name="Import an effect").click()
        chooser.value.set_files(
            {"name": "embers.json", "mimeType": "application/json", "buffer": json.dumps(exported).encode()}
        )
        self.saved()
        imported = Effect.objects.get(name="Lantern embers 2").document
        self.assertEqual(imported, {**exported, "name": "Lantern embers 2"})

    def test_vary_a_new_force_driven_by_speed_and_a_range_matched_to_data(self):
        page = self.open("Petal rain")
        self.drive("Launch speed", "Vary per particle")
        self.settle()
        out = page.locator("[data-out='births.launch.speed']")
        low, high = map(float, out.inner_text().split(" – "))
        self.assertTrue(
            0.18 < low < 0.22 and 0.28 < high < 0.32, (low, high)
        )  # of some thirty draws within a quarter of 0.25, anew each time
        page.get_by_label("Add a row to motion").click()
        page.get_by_role("option", name="Drag", exact=True).click()
        self.saved()
        self.drive("Drag", "speed")
        self.settle()  # a new response reads what is known of the particles
        self.drive("Opacity", "height")
        self.settle()
        editor = page.locator("[data-part=response]")
        page.get_by_role("radio", name="clip", exact=True).click()
        self.assertIn("Outside: 0 %", editor.inner_text())  # a new response reads what the particles have
        high = page.get_by_role("button", name="From high")
        self.drag(high, -60, 0)
        self.settle()
        self.assertNotIn("Outside: 0 %", editor.inner_text())
        page.get_by_role("button", name="Fit the range").click()
        self.settle()
        self.assertIn("Outside: 0 %", editor.inner_text())
        self.saved()
        result = Effect.objects.get(name="Petal rain").document["emitters"][0]
        self.assertEqual(result["births"]["launch"]["speed"]["responses"][0]["output"], [0.75, 1.25])
        self.assertEqual(result["forces"][-1]["rate"]["responses"][0]["source"], {"kind": "speed"})

    def test_dragging_follows_the_hand_and_ends_at_the_last_value(self):
        page = self.open()
        field = page.get_by_role("button", name="Buoyancy: ")
        before = self.probe("pictures")
        box = field.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for i in range(1, 400):  # that it follows at all, while the hand moves; how fast is the bench's matter
            page.mouse.move(x + i % 90, y)
            page.wait_for_timeout(30)
            if self.probe("pictures") - before > 3:
                break
        else:
            self.fail("no pictures came while the hand was moving")
        page.mouse.move(x + 120, y)
        page.mouse.up()
        self.saved()
        shown = float(field.inner_text().split()[0])
        self.assertEqual(
            Effect.objects.get(name="Lantern embers").document["emitters"][0]["forces"][0]["strength"]["base"], shown
        )
        self.assertAlmostEqual(shown, 0.82 + 120 / 200 * 4, delta=0.05)

    def test_no_digit_is_lost_where_pictures_are_slower_than_the_hand(self):
        page = self.open()
        page.evaluate("window.requestAnimationFrame = (then) => then && setTimeout(() => then(performance.now()), 400)")
        for label in ("Lifespan", "Rate"):
            page.get_by_role("button", name=f"{label}: ").click()
            page.keyboard.press("Control+a")
            page.keyboard.type("12", delay=120)
            page.wait_for_timeout(500)
            page.keyboard.type("5")
            page.keyboard.press("Enter")
            page.get_by_role("button", name=re.compile(f"^{label}: 125 ")).wait_for()
        page.keyboard.press("7")  # a digit on a number begins to type it
        page.wait_for_timeout(500)
        page.keyboard.type("5")
        page.keyboard.press("Enter")
        page.get_by_role("button", name=re.compile("^Rate: 75 ")).wait_for()

    def test_two_windows_never_overwrite_each_other(self):
        self.expected = ["409"]
        page = self.open()
        other = self.new_page()
        other.goto(page.url)
        self.settle(other)
        page.get_by_role("button", name="Buoyancy: ").press("ArrowUp")
        self.saved()
        first = Effect.objects.get(name="Lantern embers").document
        other.get_by_role("button", name="Drag: ").press("ArrowUp")
        other.get_by_role("dialog").get_by_text("Changed in another window").wait_for()
        self.assertEqual(Effect.objects.get(name="Lantern embers").document, first)
        other.get_by_role("button", name="Keep mine as a copy").click()
        other.get_by_role("button", name="Lantern embers (copy)").wait_for()
        self.assertEqual(Effect.objects.get(name="Lantern embers").document, first)
        self.assertNotEqual(Effect.objects.get(name="Lantern embers (copy)").document["emitters"], first["emitters"])

    def test_a_bad_file_is_explained_and_the_library_stays(self):
        self.expected = ["422", "413"]
        page = self.page
        page.goto(self.live_server_url)
        before = Effect.objects.count()
        good = Effect.objects.get(name="Petal rain").document
        bad = with_(good, emitters__0__births__rate__base="many")
        for content, words in (
            (b"{", "line 1"),
            (json.dumps(bad).encode(), "births.rate.base"),
            (b"x" * 10_000_000, "8 MiB"),
        ):
            page.get_by_label("Effect file").set_input_files(
                {"name": "bad.json", "mimeType": "application/json", "buffer": content}
            )
            alert = page.get_by_role("alert").filter(has_text=words)
            alert.wait_for()
            self.assertIn("bad.json was not imported", alert.inner_text())
        self.assertEqual(Effect.objects.count(), before)

    @whole
    def test_a_new_frame_rate_says_what_it_moves_and_keeps_the_seconds(self):
        page = self.open("Bell ring")
        page.get_by_role("button", name=re.compile("a second$")).click()
        page.get_by_role("button", name=re.compile("^Frame rate: ")).click()
        page.keyboard.press("Control+a")
        page.keyboard.type("23.976")
        page.keyboard.press("Enter")
        page.get_by_text("exactly 24000 / 1001").wait_for()
        message = page.locator("[data-part=rate-changed]")
        self.assertIn("3 bursts", message.inner_text())
        message.get_by_role("button", name="Keep their seconds").click()
        message.wait_for(state="detached")
        self.saved()
        now = Effect.objects.get(name="Bell ring").document
        clip, bursts = now["clip"], now["emitters"][0]["births"]["bursts"]
        self.assertEqual(
            (clip["frame_rate"], clip["last_frame"], [b["frame"] for b in bursts]), ([24000, 1001], 115, [6, 35, 63])
        )  # 4.8 s; 0.24, 1.44, 2.64 s
        page.keyboard.press("Escape")
        for _ in range(2):
            page.get_by_role("button", name="Undo").click()
        self.saved()
        self.assertEqual(Effect.objects.get(name="Bell ring").document["clip"]["frame_rate"], [25, 1])

    def test_what_is_kept_besides_effects_is_told_and_taken_away(self):
        page = self.open("Petal rain")
        page.keyboard.press("e")
        dialog = page.get_by_role("dialog")
        for kind in ("CSV", "NPZ"):
            dialog.get_by_label(kind).check()
            with page.expect_download():
                dialog.get_by_role("button", name="Export", exact=True).click()
        earlier = dialog.locator("[data-part=earlier]")
        earlier.get_by_text("CSV, frames 0 to 11").wait_for()
        earlier.get_by_label("Remove CSV of frames 0 to 11").click()
        earlier.wait_for(state="detached")  # the other stands above, as the one just made
        self.assertEqual([job.kind for job in Export.objects.all()], ["npz"])
        content = files.import_file("spare.csv", b"1,2,3\n4,5,6\n")["content"]
        page.goto(self.live_server_url)
        kept = page.locator("[data-part=kept]")
        self.assertIn("1 export", kept.inner_text())
        kept.get_by_role("button").click()
        page.get_by_label("Keep spare.csv longer").click()
        page.get_by_label("Remove spare.csv now").click()
        kept.get_by_role("button").wait_for(state="detached")
        self.assertFalse(File.objects.filter(pk=content).exists())

    def test_an_export_can_be_cancelled(self):
        page = self.open()
        page.get_by_role("button", name="Export").click()
        page.get_by_label("PNG sequence").check()
        width = page.get_by_role("button", name="Picture width")
        width.click()
        page.get_by_role("textbox", name="Picture width").fill("3840")
        page.keyboard.press("Enter")
        page.get_by_role("dialog").get_by_role("button", name="Export", exact=True).click()
        page.get_by_role("button", name="Cancel export").click()
        page.get_by_text("Cancelled; nothing was kept.").wait_for(timeout=20_000)
