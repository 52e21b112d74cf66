"""The stage and the core's renderer draw each look alike.

Structural similarity alone is blind to what matters (an empty picture scores 0.94): over drawn pixels, the light in all
agrees within 2 %, and the 95th percentile of the error is at most 4 of 255. Each deliberate fault below has to fall
short.
"""

from __future__ import annotations

import base64
import io
import math
import re
from typing import Any

import numpy as np
from PIL import Image

from demo.parts import STRAIGHT, gradient, response, row
from kagero.core.document import Effect, read_effect, upgrade
from kagero.core.finishing import BACKGROUNDS
from kagero.core.formats.exporters.png import to_png
from kagero.core.kernels.colour import srgb_to_linear
from kagero.core.parts.looks import LOOKS
from kagero.core.workflows import Playing, render_pixels
from kagero.server.library import drafts
from tests.browser.stage import BrowserCase, drawn
from tests.making import document, emitter, with_

LUCK, LEAN = "draw:d1", "draw:d3"


def still_effect(sprite: str) -> dict[str, Any]:
    """Return an effect that stands still and shows all that a look does: sizes, colours, blendings, turned ones, and
    its own rows."""
    collected = [
        still(uid, {"sprite": sprite, "blend": blend, "added": spread(f"{uid}-added", LEAN, 0, 1), **more}, at)
        for uid, blend, at, more in SCENES[sprite]
    ]
    noise = {
        "kind": "made",
        "uid": "noise",
        "name": "noise",
        "pattern": "noise",
        "count": row(3.0),
        "contrast": row(2.0),
        "shown": "hidden",
    }
    throws = {
        "kind": "camera",
        "uid": "throws",
        "name": "throws",
        "position": row([1.0, 2.0, 2.5]),
        "rotation": row([-0.4, 0.3, 0.1]),
    }
    plank = {
        "kind": "shape",
        "uid": "plank",
        "name": "plank",
        "shape": "box",
        "width": 0.5,
        "height": 1.0,
        "depth": 0.1,
        "tint": [0.5, 0.3, 0.1],
    }
    bead = {"kind": "shape", "uid": "bead", "name": "bead", "shape": "sphere", "tint": [0.2, 0.4, 0.6]}
    hidden = [{**each, "shown": "hidden", "in_pictures": False} for each in (plank, bead)]
    return upgrade(
        {**document(*collected, last_frame=2, run_up=24 if sprite == "trail" else 0), "props": [noise, throws, *hidden]}
    )


def spread(uid: str, source: str, low: float, high: float) -> dict[str, Any]:
    """Return a row that a draw takes from low to high."""
    span = (0, math.pi) if source == LEAN else (0, 1)
    return row(1.0, response(uid, source, STRAIGHT, input=span, output=(low, high), read="once", shape="linear"))


def still(uid: str, look: dict[str, Any], at: float) -> dict[str, Any]:
    look = {
        "size": spread(f"{uid}-size", LUCK, 0.03, 0.3),
        "opacity": spread(f"{uid}-thin", "draw:d2", 0.24, 0.8),
        "colour": row(
            [1.0, 1.0, 1.0],
            gradient(f"{uid}-tint", "draw:d2", [(0, (1.2, 0.4, 0.05)), (1, (0.05, 0.4, 0.7))], read="once"),
        ),
        **look,
    }
    changes = {name: look.pop(name) for name in list(look) if name.startswith(("births__", "also", "motion", "light"))}
    one = emitter(
        uid,
        look=look,
        draws=[
            {"uid": "d1", "name": "one", "kind": "uniform"},
            {"uid": "d2", "name": "two", "kind": "uniform"},
            {"uid": "d3", "name": "lean", "kind": "uniform", "low": row(0.0), "high": row(math.pi)},
        ],
        births__rate=row(0.0),
        births__bursts=[{"uid": f"{uid}-all", "frame": 0, "count": 70}],
        births__lifespan=row(1000.0),
        births__launch__speed=row(0.0),
        births__rotation={"base": {"source": {"kind": "draw", "draw": "d3"}, "read": "once"}, "responses": []},
        births__place={"kind": "box", "centre": row([at, 1.0, 0.0]), "size": row([0.8, 0.9, 0.8])},
    )
    return with_(one, **changes)


ANY_WAY = row(
    [0.4, 0.0, 0.0],
    {
        **response(
            "any-way", LEAN, STRAIGHT, input=(0, math.pi), output=(0, 3), operation="add", read="once", shape="linear"
        ),
        "component": "all",
    },
)
BODY = {
    "size": spread("body", LUCK, 0.1, 0.4),
    "faces": "world",
    "births__bursts": [{"uid": "some", "frame": 0, "count": 24}],
}
NARROW = {"size": spread("narrow", LUCK, 0.02, 0.09)}
FEW = {"births__bursts": [{"uid": "few", "frame": 0, "count": 9}]}
MOVING = {
    "births__bursts": [],
    "births__rate": row(40.0),
    "births__launch__speed": row(0.9),
    "births__launch__cone": row(2.0),
    "births__lifespan": row(1.5),
}


SCENES: dict[str, list[tuple[str, str, float, dict[str, Any]]]] = {
    "soft_disc": [
        (
            uid,
            blend,
            at,
            {
                "hardness": spread(f"{uid}-hard", LEAN, 0, 1),
                "stretch": row(
                    1.0,
                    response(
                        f"{uid}-long", LUCK, [(0, 0), (0.5, 0), (1, 1)], output=(1, 3), read="once", shape="linear"
                    ),
                ),
            },
        )
        for uid, blend, at in (
            ("over", "over", -0.45),
            ("add", "add", 0.45),
            ("between", "between", 0.0),
            ("screen", "screen", 0.2),
        )
    ],
    "picture": [
        (
            "puffs",
            "over",
            -0.6,
            {
                "shelf": "puffs",
                "page": spread("puffs-page", LUCK, 0, 1),
                "toned": row(0.7),
                "dark": row([0.1, 0.0, 0.2]),
                "size": spread("puffs-size", LEAN, 0.1, 0.7),
            },
        ),
        (
            "petals",
            "between",
            -0.2,
            {"shelf": "petal", "order": "birth", "wide": spread("petals-wide", LUCK, 0.3, 1), "tall": row(1.2)},
        ),
        (
            "tiles",
            "over",
            0.2,
            {
                "shelf": "tile",
                "edges": "repeat",
                "tiles_across": spread("tiles-u", LUCK, 1, 3),
                "tiles_down": row(2.0),
                "turned": spread("tiles-turned", LEAN, 0, 2),
                "offset_across": row(0.3),
            },
        ),
        (
            "ash",
            "over",
            0.6,
            {
                "shelf": "scrap",
                "cut": spread("ash-cut", LUCK, 0, 0.9),
                "cut_by": "noise",
                "rim": row(0.15),
                "edges": "end",
                "mixed": "noise",
                "mix": row(0.3),
            },
        ),
        (
            "wall",
            "over",
            -0.3,
            {
                "shelf": "puffs",
                "page": row(0.6),
                "lies": "camera",
                "thrown_by": "throws",
                "tiles_across": row(1.6),
                "edges": "mirror",
                "turned": row(0.4),
            },
        ),
        (
            "paper",
            "over",
            0.5,
            {"shelf": "tile", "faces": "space", "wide": row(0.6), "motion": {"turning": {"start": ANY_WAY}}},
        ),
        ("glow", "screen", 0.0, {"shelf": "spark", "cover_by": "brightness", "stands": "before"}),
        ("shade", "multiply", 0.4, {"shelf": "disc", "stands": "behind"}),
    ],
    "piece": [
        (
            "shards",
            "over",
            -0.6,
            {**BODY, "form": "shard", "faces": "space", "motion": {"turning": {"start": ANY_WAY}}, "opacity": row(1.0)},
        ),
        (
            "boards",
            "over",
            -0.2,
            {
                **BODY,
                "meshes": ["plank", "bead"],
                "which": spread("which", LUCK, 0, 1),
                "pivots": "base",
                "both": False,
                "wide": spread("boards-wide", LEAN, 0.4, 1),
                "deep": row(0.5),
                "yaw": row(0.7),
                "opacity": row(1.0),
            },
        ),
        (
            "leaves",
            "over",
            0.2,
            {
                **BODY,
                "form": "leaf",
                "faces": "camera",
                "roll": spread("leaves-roll", LEAN, 0, 6),
                "drawn_with": "plain",
            },
        ),
        (
            "cards",
            "over",
            0.5,
            {
                **BODY,
                "form": "card",
                "drawn_with": "picture",
                "shelf": "petal",
                "pitch": spread("cards-pitch", LEAN, 0, 3),
                "yaw": row(0.5),
                "pivot": row([0.0, 0.5, 0.0]),
            },
        ),
        (
            "swept",
            "add",
            0.0,
            {
                **BODY,
                "form": "sweep",
                "drawn_with": "picture",
                "shelf": "tile",
                "edges": "repeat",
                "tiles_across": row(4.0),
                "offset_across": spread("swept-off", LUCK, 0, 1),
                "cut": spread("swept-cut", LEAN, 0, 0.8),
                "cut_by": "noise",
                "rim": row(0.2),
                "lit": False,
                "pitch": row(0.6),
                "wide": row(1.0),
            },
        ),
    ],
    "blob": [
        (
            "drops",
            "over",
            -0.4,
            {
                "size": spread("drops-size", LUCK, 0.12, 0.4),
                "cell": 0.03,
                "opacity": row(1.0),
                "drawn_with": "picture",
                "shelf": "tile",
                "tiles_across": row(2.0),
                "offset_across": spread("drops-u", LUCK, 0, 1),
                "offset_down": spread("drops-v", LEAN, 0, 1),
                "births__bursts": [{"uid": "few", "frame": 0, "count": 24}],
                "light": {"strength": spread("drops-light", LUCK, 0, 3), "reach": row(0.6)},
            },
        ),
        (
            "foam",
            "between",
            0.4,
            {
                "size": spread("foam-size", LUCK, 0.1, 0.3),
                "cell": 0.03,
                "gloss": 1.5,
                "smooth": row(2.2),
                "level": row(1.3),
                "births__bursts": [{"uid": "some", "frame": 0, "count": 24}],
            },
        ),
        ("shards", "over", 0.0, {**BODY, "sprite": "piece", "form": "shard", "opacity": row(1.0), "gloss": 0.8}),
    ],
    "haze": [
        (
            "dust",
            "over",
            -0.4,
            {"size": spread("dust-size", LUCK, 0.2, 0.6), "density": spread("dust-much", LEAN, 1, 6), "cell": 0.06},
        ),
        ("glow", "over", 0.5, {"size": row(0.4), "density": row(0.6), "how": "adding", "cell": 0.06}),
        ("shards", "over", 0.0, {**BODY, "sprite": "piece", "form": "shard", "opacity": row(1.0)}),
        ("sparks", "add", 0.2, {"sprite": "soft_disc", "light": {"strength": row(0.4), "reach": row(0.8)}}),
    ],
    "streak": [
        (
            "rays",
            "over",
            -0.5,
            {
                "lies_along": "direction",
                "long_by": "length",
                "length": spread("rays-long", LUCK, 0.1, 0.6),
                "stands_at": row(0.5),
                "direction": row([1.0, 0.6, 0.3]),
                "hardness": row(1.0),
                **NARROW,
            },
        ),
        (
            "glint",
            "add",
            0.0,
            {
                "lies_along": "direction",
                "long_by": "length",
                "length": row(0.5),
                "drawn_with": "shelf",
                "shelf": "spark",
                **NARROW,
            },
        ),
        (
            "leaf",
            "over",
            0.5,
            {
                "lies_along": "direction",
                "long_by": "length",
                "length": row(0.6),
                "faces": "flat",
                "toward": row([0.2, 0.6, 1.0]),
                "taper": row(0.0),
                "hardness": spread("leaf-hard", LEAN, 0, 1),
                **NARROW,
            },
        ),
    ],
    "trail": [
        ("comets", "over", -0.4, {**MOVING, **NARROW, "seconds": row(0.6), "taper": row(0.7)}),
        (
            "bands",
            "between",
            0.4,
            {
                **MOVING,
                **NARROW,
                "seconds": row(0.4),
                "faces": "flat",
                "toward": row([0.0, 0.3, 1.0]),
                "drawn_with": "shelf",
                "shelf": "tile",
                "tiles": row(3.0),
                "repeats": "metre",
                "fade": row(0.5),
            },
        ),
        (
            "both",
            "over",
            0.0,
            {
                **MOVING,
                **NARROW,
                "seconds": row(0.3),
                "also": [
                    {
                        "sprite": "soft_disc",
                        "uid": "too",
                        "size": row(0.1),
                        "opacity": row(0.6),
                        "colour": row([0.2, 0.9, 0.4]),
                    }
                ],
            },
        ),
    ],
    "ribbon": [
        ("silk", "over", -0.4, {**FEW, **NARROW, "hardness": row(0.8)}),
        (
            "paper",
            "over",
            0.3,
            {
                **FEW,
                **NARROW,
                "faces": "flat",
                "toward": row([0.0, 1.0, 0.4]),
                "drawn_with": "shelf",
                "shelf": "feather",
                "tiles": row(5.0),
            },
        ),
        ("straight", "add", 0.0, {**FEW, **NARROW, "rounded": False, "taper": row(0.5), "fade": row(1.0)}),
    ],
}


def rendered(effect: Effect, size: tuple[int, int], frame: int = 0) -> np.ndarray:
    """Return the core's picture over the stage's ground, (H, W, 3) of 0 to 255."""
    png = to_png(render_pixels(Playing(effect), frame, *size, ground=BACKGROUNDS["ink"]), BACKGROUNDS["ink"])
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGB"), float)


def apart(one: np.ndarray, other: np.ndarray) -> tuple[float, float]:
    """Return how far apart two pictures are where either shows anything: the light in all, as a share, and the 95th
    percentile of the error."""
    ground = one[0, 0]
    there = (np.abs(one - ground).max(axis=2) > 2) | (np.abs(other - ground).max(axis=2) > 2)
    light = [
        srgb_to_linear(each[there] / 255).sum() - srgb_to_linear(ground / 255).sum() * there.sum()
        for each in (one, other)
    ]
    return abs(light[1] / light[0] - 1), float(np.percentile(np.abs(one - other)[there], 95))


def alike(one: np.ndarray, other: np.ndarray) -> bool:
    light, error = apart(one, other)
    return light <= 0.02 and error <= 4


class Looks(BrowserCase):
    @drawn
    def test_dots_show_everybody_alike_whatever_the_look(self):
        """Also whoever has no size and no opacity; and the look is as it was afterwards."""
        body = document(
            emitter(
                births__rate=row(0.0),
                births__bursts=[{"uid": "b", "frame": 0, "count": 40}],
                births__launch__speed=row(0.0),
                births__place={"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([1.5, 1.0, 0.0])},
                look__size=row(0.0),
                look__opacity=row(0.0),
            ),
            last_frame=2,
        )
        page = self.page
        page.goto(
            f"{self.live_server_url}/effects/{drafts.create(read_effect({**upgrade(body), 'name': 'Unseen'})).pk}"
        )
        self.settle()

        def lit() -> float:
            page.wait_for_timeout(200)
            shown = page.evaluate("window.kageroStage.picture()")
            pixels = np.frombuffer(base64.b64decode(shown["pixels"]), np.uint8).reshape(-1, 4)
            return float((pixels[:, 0] > 150).sum())

        before = lit()
        for name in ("dots", "the look"):
            page.get_by_role("button", name=re.compile("^Show: ")).click()
            page.get_by_role("option", name=name, exact=True).click()
            if name == "dots":
                page.get_by_role("button", name="Show: dots").wait_for()
                self.assertGreater(lit() - before, 40 * 4)
        self.assertEqual(lit(), before)

    @drawn
    def test_the_stage_draws_each_look_as_the_core_does(self):
        """Each look as it is, shifted by a pixel, and with one of three faults that must be seen; all of these are seen
        on some."""
        for number, sprite in enumerate(LOOKS.kinds):
            body = still_effect(sprite)
            effect = drafts.create(read_effect({**body, "name": f"Look {sprite}"}))
            page = self.page
            page.set_viewport_size({"width": 1024, "height": 768})
            page.goto(f"{self.live_server_url}/effects/{effect.pk}/dials")
            page.wait_for_function("() => window.kageroStage?.complete && window.kageroStage.pictured", timeout=60_000)
            page.wait_for_timeout(200)
            shown = page.evaluate("window.kageroStage.picture()")
            size = (shown["width"], shown["height"])
            stage = (
                np.frombuffer(base64.b64decode(shown["pixels"]), np.uint8)
                .reshape(size[1], size[0], 4)[::-1, :, :3]
                .astype(float)
            )
            frame = self.probe("frame")
            core = rendered(read_effect(body), size, frame)
            self.assertGreater((np.abs(core - core[0, 0]).max(axis=2) > 2).mean(), 0.02)
            self.assertTrue(alike(core, stage), f"{sprite}: light and error apart by {apart(core, stage)}")

            def changed(
                change: Any, body: dict[str, Any] = body, size: tuple[int, int] = size, frame: int = frame
            ) -> np.ndarray:
                effect = read_effect(body).model_copy(deep=True)
                for each in effect.emitters:
                    change(each.look)
                return rendered(effect, size, frame)

            def larger(look: Any) -> None:
                look.size.base *= 1.05

            def fainter(look: Any) -> None:
                look.opacity.base *= 0.9

            def green(look: Any) -> None:
                look.colour.responses[0].gradient.stops[0].colour = (0.4, 1.2, 0.05)

            fault = (larger, fainter, green)[number % 3]
            for wrong in (changed(fault), np.roll(core, 1, axis=1), np.full_like(core, core[0, 0])):
                self.assertFalse(alike(wrong, stage), f"{sprite}, {fault.__name__}")

    @drawn
    def test_from_nothing_to_smoke_from_a_book_of_pictures(self):
        """An empty effect, drawn as a picture, puffs from the shelf, their pages over life: seven moves; undone, the
        disc is back."""
        page = self.begin()
        self.settle()

        def choose(what: str, option: str) -> None:
            page.get_by_label(what, exact=True).and_(page.locator("select")).select_option(label=option)
            self.saved()

        before = self.colours()
        choose("Drawn as", "Picture")
        page.get_by_role("button", name=re.compile("^From the shelf: ")).click()
        page.get_by_role("option", name="puffs of smoke").click()
        self.saved()
        self.settle()
        page.wait_for_function("() => window.kageroStage.pictured", timeout=60_000)
        self.assertGreater(np.abs(self.colours() - before).max(), 30)
        self.drive("Through the pages", "life")
        page.get_by_label("Show more of the look").click()
        self.assertTrue(page.get_by_text("After the last page").is_visible())
        self.assertEqual(page.get_by_role("note").count(), 0)
        for _ in range(3):
            page.keyboard.press("Control+z")
        self.settle()
        self.assertLess(np.abs(self.colours() - before).max(), 3)

    @drawn
    def test_a_trail_is_added_to_what_moves_tapered_over_its_own_length_and_hidden(self):
        """Two moves put a trail behind the particles of a new effect, as they are themselves; its width is driven along
        it; its eye hides it."""
        page = self.begin("sparks")
        self.settle()
        before = self.colours()
        page.get_by_label("Add a row to look").click()
        page.get_by_role("option", name=re.compile("^Also a trail")).click()
        page.locator("[data-look^=also]").wait_for()
        self.until(lambda now: (now.sum(axis=2) > before.sum(axis=2) + 30).sum() > 500)
        page.get_by_label("Do not draw the trail").click()
        self.until(lambda now: np.abs(now - before).max() < 3)
        page.get_by_label("Draw the trail").click()
        self.until(lambda now: (now.sum(axis=2) > before.sum(axis=2) + 30).sum() > 500)
        whole = self.colours().mean()
        self.drive("Trail: width", "along it")
        self.until(lambda now: abs(now.mean() - whole) > 0.2)
        for _ in range(4):
            page.keyboard.press("Control+z")
        page.locator("[data-look^=also]").wait_for(state="detached")

    @drawn
    def test_a_graphics_card_that_is_taken_away_and_comes_back_shows_what_it_did(self):
        """As after the sleep of a laptop, a driver that starts anew, or software GL that was given up while a machine
        was busy."""
        self.open("Petal rain")
        self.settle()
        stage = self.page.get_by_label("Stage, arrows walk")

        def seen() -> np.ndarray:
            return np.asarray(
                Image.open(io.BytesIO(stage.screenshot())).convert("RGB"), float
            )  # what is on screen, nothing drawn for it

        before = seen()
        self.page.evaluate(
            "window.lost = document.querySelector('canvas').getContext('webgl2').getExtension('WEBGL_lose_context')"
        )
        self.page.evaluate("lost.loseContext()")
        self.page.wait_for_timeout(200)
        self.assertGreater(np.abs(seen() - before).max(), 60, "nothing was taken away")
        self.page.evaluate("lost.restoreContext()")
        for _ in range(100):
            if np.abs(seen() - before).max() < 3:
                return
            self.page.wait_for_timeout(100)
        self.fail("the picture did not come back")

    def until(self, holds: Any) -> None:
        """Wait until something holds of the stage's picture: as soon as this frame is there, whatever else of the clip
        is on its way."""
        for _ in range(600):
            if holds(self.colours()):
                return
            self.page.wait_for_timeout(100)
        self.fail("the stage never showed it")

    @drawn
    def test_two_renders_are_compared_by_the_wipe(self):
        """Render, keep it, change one number, render again, and look from one to the other; a region by drag; the light
        of a pixel."""
        page = self.open()
        page.get_by_role("button", name="Render", exact=True).click()
        view = page.locator("[data-part=render]")

        def rendered_whole() -> None:
            self.saved()
            page.wait_for_function(
                "() => { const v = document.querySelector('[data-part=render]'); return v.dataset.busy === 'false' && "
                "v.dataset.scale === '1' }"
            )
            page.wait_for_timeout(100)

        def seen() -> np.ndarray:
            page.wait_for_timeout(150)
            return np.asarray(Image.open(io.BytesIO(view.screenshot())).convert("RGB"), float)[90:-60]

        def wiped(key: str) -> np.ndarray:
            page.get_by_role("slider", name="Wipe").press(key)
            return seen()

        rendered_whole()
        stage, core = wiped("Home"), wiped("End")
        self.assertLess(np.percentile(np.abs(stage - core)[:, 24:-24], 99), 12)  # the stage under it, without its grid
        page.get_by_role("button", name="Keep", exact=True).click()
        self.set_number("Size", "0.3")
        rendered_whole()
        larger = seen()
        self.assertGreater(np.abs(larger - core).mean(), 1)
        page.get_by_role("radio", name=re.compile("^Compare with frame")).click()
        self.assertLess(np.abs(wiped("Home") - core)[:, 24:-24].max(), 3)
        self.assertLess(np.abs(wiped("End") - larger)[:, 24:-24].max(), 3)
        box = view.bounding_box()
        page.mouse.move(box["x"] + 150, box["y"] + 120)
        page.mouse.down()
        page.mouse.move(box["x"] + 300, box["y"] + 220, steps=4)
        page.mouse.up()
        page.get_by_role("button", name="Whole picture").wait_for()
        rendered_whole()
        within = np.abs(seen() - larger)[35:125, 155:295]
        self.assertLess(np.percentile(within, 99), 3)
        page.mouse.move(box["x"] + 220, box["y"] + 170)
        self.assertRegex(page.locator("[data-part=pixel]").inner_text(), r"\d+, \d+ px[\s\S]*linear[\s\S]*#[0-9a-f]{6}")
        page.get_by_role("button", name="Close", exact=True).click()
        self.assertEqual(view.count(), 0)
        page.reload()
        page.get_by_role("button", name="Render", exact=True).click()  # what was kept is there until it is thrown away
        page.get_by_role("radio", name=re.compile("^Compare with frame")).click()
        rendered_whole()
        self.assertLess(np.abs(wiped("Home") - core)[:, 24:-24].max(), 3)
        page.get_by_role("button", name=re.compile("^Throw frame .* away$")).click()
        page.reload()
        page.get_by_role("button", name="Render", exact=True).click()
        rendered_whole()
        self.assertEqual(page.get_by_role("radio", name=re.compile("^Compare with frame")).count(), 0)

    def set_number(self, row: str, text: str) -> None:
        self.page.get_by_role("button", name=re.compile(f"^{row}: ")).first.click()
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type(text)
        self.page.keyboard.press("Enter")
        self.saved()

    def colours(self) -> np.ndarray:
        shown = self.page.evaluate("window.kageroStage.picture()")
        return (
            np.frombuffer(base64.b64decode(shown["pixels"]), np.uint8)
            .reshape(shown["height"], shown["width"], 4)[..., :3]
            .astype(float)
        )
