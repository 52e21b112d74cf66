"""From nothing: a first effect by the artist's own hand, a beginning with its remarks, and the Library that keeps
them."""

from __future__ import annotations

import re

from kagero.server.library.models import Effect
from tests.browser.stage import BrowserCase
from tests.soak import share

DEMOS = (
    "Soap bubbles",
    "Mayfly column",
    "Wake spray",
    "Fireflies along the rope",
    "Ink on the deck",
    "Mist up the mooring post",
    "Eddy at the pier",
    "Lantern gathers",
    "Beads in the gutter",
    "Deck in the wind",
)


class Demos(BrowserCase):
    def test_they_play_without_a_word_of_complaint(self):
        for name in share(DEMOS, 3):
            page = self.open(name)
            self.assertEqual(page.locator("[data-part=rows] [role=note]").count(), 0, name)
            self.assertRegex(page.locator("[data-part=alive]").inner_text(), r"^[1-9]\d* alive")


class First(BrowserCase):
    def test_a_first_effect_is_made_in_six_steps(self):
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_role("button", name="Make my first effect").click()
        steps = page.locator("[data-part=first]")

        def step(number: int) -> None:
            steps.get_by_text(f"{number} of 6").wait_for()
            if number < 6:
                page.locator("[data-pointed]").first.wait_for()

        def on() -> None:
            steps.get_by_text("Done.").wait_for()
            steps.get_by_role("button", name="On", exact=True).click()

        step(1)
        page.get_by_role("button", name="Rate: ").click()
        page.keyboard.press("Control+a")
        page.keyboard.type("120")
        page.keyboard.press("Enter")
        on()
        step(2)
        self.drive("Size", "life")
        on()
        step(3)
        page.get_by_label("Preset breath").click()
        on()
        step(4)
        self.drive("Launch speed", "Vary per particle")
        on()
        page.reload()  # it is taken up again where it was
        step(5)
        page.get_by_label("Add a row to motion").click()
        page.get_by_role("option", name="Gravity", exact=True).click()
        on()
        step(6)
        page.keyboard.press("Space")
        on()
        steps.get_by_role("button", name="Close").click()
        steps.wait_for(state="detached")
        self.saved()
        result = Effect.objects.get(name="New effect").document["emitters"][0]
        self.assertEqual((result["births"]["rate"]["base"], result["forces"][0]["kind"]), (120, "gravity"))
        page.get_by_text("Library", exact=True).click()
        page.get_by_label("Open New effect").wait_for()
        self.assertEqual(page.get_by_role("button", name="Make my first effect").count(), 0)


class Library(BrowserCase):
    def test_a_beginning_says_why_and_its_remarks_can_be_changed(self):
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_role("button", name="New effect", exact=True).click()
        page.get_by_role("button", name="Fountain of sparks").click()
        page.locator("[data-remark='births.lifespan']").wait_for()
        page.locator("[data-remark='births.lifespan']").click()
        page.get_by_label("Remark on lifespan").fill("Longer than the first take.")
        page.keyboard.press("Enter")
        page.locator("[data-name='look.opacity']").click()
        page.get_by_role("menuitem", name="Write a remark…").click()
        page.get_by_label("Remark on opacity").fill("Fades late.")
        page.keyboard.press("Enter")
        self.saved()
        remarks = Effect.objects.get(name="Fountain of sparks").document["emitters"][0]["sheet"]["remarks"]
        message = {each["row"]: each["text"] for each in remarks}
        self.assertEqual(
            (message["births.lifespan"], message["look.opacity"]), ("Longer than the first take.", "Fades late.")
        )
        page.get_by_role("button", name="Undo").click()
        page.locator("[data-remark='look.opacity']").wait_for(state="detached")

    def test_copies_folders_tags_search_and_what_was_deleted(self):
        page = self.page
        page.goto(self.live_server_url)
        cards = page.locator("[data-card] h2")
        page.get_by_label("Open Petal rain").wait_for()
        page.get_by_label("Duplicate Petal rain").click()
        page.get_by_label("Open Petal rain 2").wait_for()
        names = cards.all_inner_texts()
        self.assertEqual(names.index("Petal rain 2"), names.index("Petal rain") + 1, "beside its original")
        page.get_by_label("Open Petal rain 2").press("F2")
        page.get_by_label("Name of the effect").fill("Petals at dawn")
        page.keyboard.press("Enter")
        page.get_by_label("Arrange Petals at dawn").click()
        page.get_by_label("Folder", exact=True).fill("Short / Shot 12")
        page.get_by_label("Tags", exact=True).fill("dawn, Petals")
        page.get_by_role("button", name="Keep", exact=True).click()
        page.locator("[data-folder=Short]").click()
        page.get_by_role("button", name=re.compile("^dawn")).first.wait_for()
        self.assertEqual(cards.all_inner_texts(), ["Petals at dawn"])
        page.get_by_label("Search the library").fill("no such")
        page.get_by_role("button", name="Show everything").click()
        page.get_by_label("Search the library").fill("lantern embers")
        page.get_by_label("Open Petal rain").wait_for(state="detached")
        self.assertEqual(cards.all_inner_texts(), ["Lantern embers"])
        page.get_by_label("Search the library").fill("")
        page.get_by_label("Order").select_option("name")
        page.get_by_label("Open Reed pollen").wait_for()
        self.assertEqual(cards.first.inner_text(), "Beads in the gutter")
        page.get_by_label("Delete Bell ring").click()
        page.get_by_role("status").get_by_role("button", name="Take it back").click()
        page.get_by_label("Open Bell ring").wait_for()
        page.get_by_label("Delete Bell ring").click()
        page.reload()
        page.locator("[data-part=deleted]").click()
        page.get_by_role("button", name="Take back Bell ring").click()
        page.get_by_label("Open Bell ring").wait_for()
        page.wait_for_function(
            "() => !document.querySelector('dialog[open]')"
        )  # before it has closed it lies over the cards
        self.assertEqual(Effect.objects.get(name="Petals at dawn").folder, "Short/Shot 12")
        page.locator("[data-card]", has_text="Petals at dawn").drag_to(
            page.get_by_role("button", name="Everything", exact=True)
        )
        page.locator("[data-folder=Short]").wait_for(state="detached")
        self.assertEqual(Effect.objects.get(name="Petals at dawn").folder, "")
