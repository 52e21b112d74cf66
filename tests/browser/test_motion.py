"""What makes things go, made from an empty effect as an artist would: pushes, rides, gathering, moments; and the demos
about it."""

from __future__ import annotations

import re
from typing import Any

import numpy as np

from demo.files import content
from kagero.core.document import read_effect
from kagero.core.workflows import Playing
from tests.browser.stage import frames
from tests.browser.test_mapping import MappingCase


class MotionCase(MappingCase):
    def add(self, band: str, what: str) -> None:
        self.page.get_by_label(f"Add a row to {band}").click()
        self.page.get_by_role("option", name=what, exact=True).click()
        self.saved()

    def act(self, row: str, what: str) -> None:
        """Choose in the menu of a row."""
        self.page.locator(f"[data-name='{row}']").click()
        self.page.get_by_role("menuitem", name=what, exact=True).click()
        self.saved()

    def emitter(self) -> dict[str, Any]:
        return self.saved_document()["emitters"][0]

    def new_prop(self, what: str) -> None:
        page = self.page
        page.get_by_role("radio", name="Props", exact=True).click()
        page.locator("[data-part=props]").get_by_role("button", name="prop", exact=True).click()
        page.get_by_role("menuitem", name=what, exact=True).click()
        page.locator("[data-part=prop-sheet]").wait_for()
        self.saved()
        page.get_by_role("radio", name="Sheet", exact=True).click()


class Pushes(MotionCase):
    def test_wound_round_and_drawn_in_and_which_push_does_what(self):
        page = self.page
        self.empty()
        self.add("draws", "Draw: sign")
        page.keyboard.press("Enter")  # as it is called
        self.add("motion", "Swirl")
        self.drive("Swirl", "draw A")
        self.add("motion", "Pull")
        self.drive("Pull", "life")
        self.settle()
        forces = self.emitter()["forces"]
        self.assertEqual([force["kind"] for force in forces][-2:], ["swirl", "pull"])
        self.assertEqual(forces[-2]["strength"]["responses"][0]["source"]["kind"], "draw")
        shares = page.locator("[data-share]")
        self.assertEqual(shares.count(), len(forces))
        collected = [int(re.search(r"(\d+) %", text).group(1)) for text in shares.all_inner_texts()]
        self.assertAlmostEqual(sum(collected), 100, delta=3)
        # on the stage: arrows of the one that is picked, and a slice of one push
        page.get_by_role("radio", name="Table", exact=True).click()
        page.locator("[data-part=table] tbody tr").nth(5).click()
        page.get_by_role("radio", name="Sheet", exact=True).click()
        page.get_by_role("button", name="Pushes", exact=True).click()
        with page.expect_response("**/api/slice") as slice_:
            page.get_by_role("menuitem", name="A slice of all pushes").click()
        answer = slice_.value.json()
        self.assertEqual(len(answer["points"]), 441)
        self.assertGreater(max(abs(x) for push in answer["pushes"] for x in push), 0.1)
        # only one acts, it is copied to another emitter, and muted
        swirl, pull = (force["uid"] for force in forces[-2:])
        self.act(f"forces.{pull}.strength", "Only pull")
        self.assertEqual([force["muted"] for force in self.emitter()["forces"]][-2:], [True, False])
        self.act(f"forces.{pull}.strength", "Let all of them act")
        self.act(f"forces.{swirl}.strength", "Copy swirl, to put into another emitter")
        page.get_by_label("Add an emitter").click()
        page.get_by_role("menuitem", name=re.compile("^New emitter|^Empty")).first.click()
        self.saved()
        self.add("motion", "The copied push")
        other = self.saved_document()["emitters"][1]
        self.assertEqual(other["forces"][-1]["kind"], "swirl")
        self.assertEqual(
            other["forces"][-1]["strength"]["responses"][0]["source"]["draw"], other["draws"][-1]["uid"]
        )  # what it reads came with it


class Rides(MotionCase):
    def test_along_a_path_with_its_rails_and_let_go_late(self):
        page = self.page
        self.empty()
        self.new_prop("Path")
        with page.expect_response(lambda r: r.url.endswith("/api/rails") and len(r.json()) > 0) as rails:
            self.add("motion", "Path ride")
        line = rails.value.json()[0]["lines"][0]
        self.assertGreater(len(line), 50)
        ride = self.emitter()["rides"][0]
        self.assertEqual(ride["prop"], self.saved_document()["props"][0]["uid"])
        self.assertEqual(ride["place"]["responses"][0]["source"]["kind"], "life")
        self.drive("Path ride grip", "life")
        self.settle()
        response = self.emitter()["rides"][0]["grip"]["responses"][0]
        self.assertEqual(response["source"]["kind"], "life")
        page.get_by_label("Flip left and right").click()  # held at first, free at the end
        self.settle()
        self.assertEqual(page.locator("[data-mover]").last.get_attribute("data-mover"), ride["uid"])

    def test_gathered_on_a_body_from_a_moment_on(self):
        page = self.page
        self.empty()
        self.new_prop("Sphere")
        self.add("motion", "Toward its target")
        page.get_by_text("This emitter has no targets yet: add them.").wait_for()
        self.add("motion", "Targets")
        self.assertEqual(page.get_by_text("This emitter has no targets yet").count(), 0)
        self.add("motion", "Sit at target")
        stored = self.emitter()
        self.assertEqual(
            (stored["target"]["prop"], stored["rides"][0]["kind"]), (self.saved_document()["props"][0]["uid"], "target")
        )
        page.get_by_role("button", name="Sequence", exact=True).click()
        page.get_by_role("button", name=re.compile("^add one at frame")).click()
        page.keyboard.type("Gather")
        page.keyboard.press("Enter")
        self.saved()
        moment = self.saved_document()["moments"][0]
        self.assertEqual(moment["name"], "Gather")
        self.drive("Toward target", "since Gather")
        self.pick("Births start after", "after Gather")
        self.assertEqual(self.emitter()["births"]["after"], moment["uid"])
        self.drag(page.locator(f"[data-moment='{moment['uid']}']"), 60, 0)
        self.saved()
        later = self.saved_document()["moments"][0]["frame"]
        self.assertGreater(later, moment["frame"])
        self.expected.append("422")
        page.locator(f"[data-moment='{moment['uid']}']").focus()
        page.keyboard.press("Delete")  # a row reads it: that is said, and nothing is lost
        page.get_by_text("reads Gather").wait_for()
        page.keyboard.press("Escape")
        self.assertEqual(len(self.saved_document()["moments"]), 1)

    def test_round_a_post_slid_in_and_let_go(self):
        """Whoever is not born on it climbs it over life; that is turned round with one move, and what was made goes
        where it should."""
        page = self.page
        self.empty()
        self.new_prop("Cylinder")
        self.add("motion", "Surface ride")
        ride = self.emitter()["rides"][0]
        self.assertEqual((ride["v"]["responses"][0]["source"]["kind"], ride["u"]["base"]), ("life", 0))
        page.locator(f"[data-row='rides.{ride['uid']}.v'] [data-response]").click()
        self.click(label="Flip left and right")  # down instead of up
        self.drive("Ride u", "Vary per particle")
        page.get_by_role("button", name=re.compile("^Travel u: ")).click()
        self.type("0.2")
        self.drive("Stand-off", "life")
        self.click(label="Flip left and right")  # off it at first, on it in the end
        self.settle()
        stored = self.saved_document()
        radius, high = stored["props"][0]["radius"], stored["props"][0]["height"]
        off = stored["emitters"][0]["rides"][0]["out"]["responses"][0]["output"][1]
        shown = Playing(read_effect(stored), content=content).show(80)[0]
        life, (x, y, z) = shown.population.age / shown.population.lifespan, shown.positions().T.astype(float)
        np.testing.assert_allclose(np.hypot(x, z), radius + off * (1 - life), atol=2e-3)
        np.testing.assert_allclose(y - y.min(), high * (1 - life) - (high * (1 - life)).min(), atol=2e-3)
        self.assertGreater(np.ptp(np.arctan2(z, x)), 3)
        self.drive("Surface ride grip", "life")
        self.click(label="Flip left and right")  # held at first, let go in the end
        grip = self.emitter()["rides"][0]["grip"]["responses"][0]
        self.assertEqual([key["y"] for key in grip["curve"]["keys"]], [1, 0])

    def test_crawling_on_a_ball_in_the_wind(self):
        page = self.page
        self.empty()
        self.new_prop("Sphere")
        self.pick("Place", "A prop")
        self.add("motion", "Crawl")
        self.add("motion", "Wind")
        page.get_by_role("button", name=re.compile("^Air velocity x|^Wind x|^Wind")).first.click()
        page.keyboard.press("Control+a")
        page.keyboard.type("2")
        page.keyboard.press("Enter")
        self.settle()
        stored = self.saved_document()
        self.assertEqual(
            (stored["emitters"][0]["rides"][0]["kind"], stored["emitters"][0]["forces"][-1]["kind"]), ("crawl", "wind")
        )
        played = Playing(read_effect(stored), content=content)
        first, last = (played.show(frame)[0] for frame in (30, 60))
        for shown in (first, last):
            np.testing.assert_allclose(
                np.linalg.norm(shown.positions() - stored["props"][0]["position"]["base"], axis=1),
                stored["props"][0]["radius"],
                rtol=0.02,
            )
        both = np.intersect1d(first.population.key, last.population.key)
        went = (
            last.positions()[np.isin(last.population.key, both)]
            - first.positions()[np.isin(first.population.key, both)]
        )
        self.assertGreater(np.abs(went).max(), 0.05)

    def test_a_ring_of_spray_that_rises_goes_round_and_ends_high(self):
        """Births only outside an inner radius, heights by a clamped normal draw, an end above a height: an eddy's main
        moves."""
        page = self.page
        self.empty()
        self.new_prop("Disc")
        self.pick("Place", "A prop")
        self.add("births", "Kept births")
        self.drive("Kept births", "birth v")
        self.click(label="Preset stairs")
        self.add("draws", "Draw: evenly between")
        page.keyboard.press("Enter")
        self.pick("Kind of draw A", "normal")  # another kind of the same draw
        page.get_by_label("held").check()
        self.saved()
        self.add("motion", "Surface ride")
        self.drive("Stand-off", "draw A")
        page.get_by_role("button", name=re.compile("^Travel u: ")).click()
        self.type("0.3")
        self.add("endings", "Ends where")
        self.drive("Ends where", "height")
        self.settle()
        stored = self.saved_document()
        one = stored["emitters"][0]
        self.assertEqual((one["draws"][0]["kind"], one["draws"][0]["clamped"]), ("normal", True))
        disc, ends = stored["props"][0], one["ending"]["where"]["responses"][0]
        self.assertEqual(ends["output"], [0, 1])  # half of it is reached
        middle = sum(ends["input"]) / 2
        played = Playing(read_effect(stored), content=content)
        for frame in (20, 60, 100):
            shown = played.show(frame)[0]
            x, y, z = shown.positions().T.astype(float)
            self.assertGreater(np.hypot(x, z).min(), 0.25 * disc["radius"] - 0.01)
            self.assertLessEqual(y[shown.population.age > 0.05].max(initial=0), middle + 0.01)
        self.assertGreater(len(shown), 10)


class Demos(MotionCase):
    @frames(41)
    def test_somebody_who_never_opens_a_formula_turns_the_eddy(self):
        page = self.open("Eddy at the pier")
        page.get_by_role("button", name=re.compile("^Dials")).click()
        page.get_by_role("button", name=re.compile("^Height: ")).first.click()
        page.keyboard.press("Control+a")
        page.keyboard.type("0.3")
        page.keyboard.press("Enter")
        self.kept()  # its dials are tried at both ends meanwhile, which takes long and is not waited for
        stored = self.as_stored()
        self.assertEqual(stored["dials"][0]["value"], 0.3)
        highest = []
        for value in (0.3, 1.0):
            stored["dials"][0]["value"] = value
            shown = Playing(read_effect(stored), content=content).show(40)[0]
            highest.append(float(shown.positions()[shown.population.age < 1.5][:, 1].max()))
        self.assertLess(highest[0], 0.5 * highest[1])
