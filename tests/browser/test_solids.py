"""Bodies as artists use them: discs become pieces, words are broken up and written anew, blobs run together as dials
are turned."""

from __future__ import annotations

import re

from demo.parts import row
from kagero.core.document import read_effect, upgrade
from kagero.server.library import drafts
from tests.browser.stage import PropsCase
from tests.making import document, emitter


class Solids(PropsCase):
    def layers(self, emitter: int = 0) -> list[dict]:
        """Return what the stage draws of an emitter: the kind of each look, how many points a surface has."""
        return self.page.evaluate("(i) => window.kageroStage.layers(i)", emitter)

    def bodies(self) -> tuple[int, int]:
        """Return how many triangles the stage draws of bodies: those that hide what is behind them, and the others."""
        return tuple(self.page.evaluate("window.kageroStage.bodies()"))

    def pick(self, what: str, option: str) -> None:
        self.page.get_by_label(what, exact=True).and_(self.page.locator("select")).select_option(label=option)
        self.saved()

    def test_discs_become_pieces_that_fade_among_the_others(self):
        """Two moves from discs to leaves; where they are thin, they are drawn among the others, triangle by
        triangle."""
        page = self.begin()
        self.settle()
        self.assertEqual(self.bodies(), (0, 0))
        self.pick("Drawn as", "Piece")
        page.wait_for_function(
            "() => window.kageroStage.pictured && window.kageroStage.bodies()[0] > 0", timeout=60_000
        )
        solid, thin = self.bodies()
        self.assertEqual((solid % 56, thin), (0, 0))  # a leaf is 56 triangles
        self.assertEqual(page.get_by_role("note").count(), 0)
        self.number("Opacity", "60")
        page.wait_for_function("() => window.kageroStage.bodies()[1] > 0", timeout=60_000)
        self.assertEqual(self.bodies(), (0, solid))
        for _ in range(2):
            page.keyboard.press("Control+z")
        self.settle()
        self.assertEqual(self.bodies(), (0, 0))

    def test_words_are_broken_up_and_written_anew(self):
        """From the prop, one move; its letters stand where they stood, then fall; other words are other letters of the
        same emitter."""
        body = upgrade(
            {
                **document(emitter(births__rate=row(0.0)), last_frame=40),
                "props": [
                    {
                        "kind": "text",
                        "uid": "word",
                        "name": "Word",
                        "text": "Ao",
                        "height": 0.5,
                        "depth": 0.1,
                        "position": row([0.0, 0.8, 0.0]),
                    }
                ],
            }
        )
        page = self.page
        page.goto(f"{self.live_server_url}/effects/{drafts.create(read_effect({**body, 'name': 'Broken'})).pk}")
        self.settle()
        page.get_by_role("radio", name="Props", exact=True).click()
        page.locator("[data-prop=word] > button").click()
        page.get_by_role("button", name="break it up").click()
        self.saved()
        page.wait_for_function(
            "() => window.kageroStage.pictured && window.kageroStage.bodies()[0] > 0", timeout=60_000
        )
        two = self.bodies()[0]
        box = page.get_by_label("Words of Word")
        box.fill("Hotaru")
        box.blur()
        self.saved()
        self.settle()
        page.wait_for_function(
            "(two) => window.kageroStage.pictured && window.kageroStage.bodies()[0] > 2 * two", arg=two, timeout=60_000
        )
        self.assertEqual(len(self.document()["emitters"]), 2)

    def test_blobs_run_together_as_the_level_is_turned(self):
        """One emitter, one surface; a lower level makes more of it, one above all is said beside the look."""
        one = emitter(
            births__rate=row(0.0),
            births__bursts=[{"uid": "all", "frame": 0, "count": 12}],
            births__launch__speed=row(0.0),
            births__lifespan=row(100.0),
            births__place={"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([0.8, 0.5, 0.3])},
            look={
                "sprite": "blob",
                "size": row(0.3),
                "opacity": row(1.0),
                "colour": row([0.8, 0.5, 0.2]),
                "cell": 0.03,
            },
        )
        page = self.page
        page.goto(
            f"{self.live_server_url}/effects/{drafts.create(read_effect({**upgrade(document(one, last_frame=4)), 'name': 'Drops'})).pk}"
        )
        self.settle()
        (before,) = self.layers()
        self.assertEqual(before["sprite"], "blob")
        self.assertGreater(before["points"], 500)
        self.number("Level", "40")
        self.settle()
        self.assertGreater(self.layers()[0]["points"], 1.1 * before["points"])
        self.number("Level", "4000")
        page.get_by_text(re.compile("above what these reach")).wait_for()
        page.keyboard.press("Control+z")
        page.get_by_text(re.compile("above what these reach")).wait_for(state="detached")
