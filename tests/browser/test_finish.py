"""The finish in a real browser: the stage does to its picture what the core does, on all and on some; built by hand
from an empty effect."""

from __future__ import annotations

import base64
import io
import json
import re
import zipfile
from pathlib import Path
from typing import Any

import av
import numpy as np
from PIL import Image
from pxr import UsdGeom
from skimage.metrics import structural_similarity

from kagero.core.document import Effect, read_effect
from kagero.core.kernels.colour import linear_to_srgb
from kagero.core.parts.finish import FINISH
from kagero.core.workflows import Playing, RenderRequest, render_frame
from kagero.server.library import drafts
from tests.browser.stage import PropsCase, drawn
from tests.browser.test_looks import alike, apart
from tests.making import document, emitter, row
from tests.making.films import a_film, stage

BALL = {
    "kind": "shape",
    "uid": "ball",
    "name": "ball",
    "shape": "sphere",
    "radius": 0.3,
    "position": row([-0.8, 0.5, -0.4]),
}


def item(kind: str, **changes: Any) -> dict[str, Any]:
    fields = {**FINISH.kinds[kind].template(), "uid": f"{kind}-x".replace("_", "-"), "name": kind}
    for name, value in changes.items():
        fields[name] = row(value) if isinstance(fields.get(name), dict) else value
    return fields


def scene(*finish: dict[str, Any]) -> dict[str, Any]:
    sparks = emitter(
        "one",
        births__rate=row(60),
        births__launch__cone=row(0.9),
        births__launch__speed=row(2.0),
        look__colour=row([3.0, 1.2, 0.4]),
    )
    leaves = emitter(
        "two",
        births__rate=row(30),
        births__place__centre=row([0.6, 0.2, 0.0]),
        births__launch__cone=row(0.5),
        look={
            "sprite": "picture",
            "shelf": "petal",
            "size": row(0.3),
            "opacity": row(1.0),
            "colour": row([0.2, 0.7, 0.9]),
        },
    )
    return {**document(sparks, leaves, last_frame=30), "props": [BALL], "finish": list(finish)}


def seen(effect: Effect, size: tuple[int, int], frame: int, plain: bool = False) -> np.ndarray:
    """Return the core's finished picture, (H, W, 3) of 0 to 255."""
    light = render_frame(Playing(effect), frame, RenderRequest(*size, plain=plain)).over()[..., :3]
    return np.floor(linear_to_srgb(light) * 255 + 0.5)


class Stage(PropsCase):
    def shown(self, body: dict[str, Any], name: str) -> tuple[np.ndarray, int]:
        page = self.page
        page.set_viewport_size({"width": 1024, "height": 768})
        page.goto(f"{self.live_server_url}/effects/{drafts.create(read_effect({**body, 'name': name})).pk}/dials")
        page.wait_for_function("() => window.kageroStage?.complete && window.kageroStage.pictured", timeout=60_000)
        page.wait_for_timeout(100)
        page.wait_for_function("() => window.kageroStage.quiet", timeout=60_000)
        page.wait_for_timeout(200)
        shown = page.evaluate("window.kageroStage.picture()")
        pixels = np.frombuffer(base64.b64decode(shown["pixels"]), np.uint8).reshape(shown["height"], shown["width"], 4)
        return pixels[::-1, :, :3].astype(float), self.probe("frame")

    @drawn
    def test_the_stage_does_what_the_core_does(self):
        cases = {
            "glow": [item("glow", strength=0.8, width=10.0, threshold=0.6, knee=0.3, tint=[1.0, 0.8, 0.9])],
            "glow on one": [
                item("glow", strength=1.0, width=12.0, emitters=["two"], props=["ball"]),
                item("exposure", stops=0.4),
            ],
            "graded": [
                item("exposure", stops=0.7, plate=True),
                item("colour", temperature=4800.0, saturation=1.3, gain=[1.1, 1.0, 0.9], lift=[0.02, 0.02, 0.03]),
                item("vignette", amount=0.6),
                item("tone_curve", white=4.0),
            ],
            "grain": [item("grain", amount=0.2, size=2.0)],
        }
        for name, finish in cases.items():
            body = scene(*finish)
            stage, frame = self.shown(body, f"Finish {name}")
            size = (stage.shape[1], stage.shape[0])
            core, plain = (seen(read_effect(body), size, frame, plain) for plain in (False, True))
            self.assertGreater(float(np.abs(core - plain).mean()), 0.3, name)
            likeness = structural_similarity(core, stage, channel_axis=2, data_range=255)
            self.assertGreater(likeness, 0.95, name)
            self.assertLessEqual(float(np.percentile(np.abs(core - stage), 99)), 6, name)
            if name.startswith("glow"):
                self.assertTrue(alike(core, stage), f"{name}: light and error apart by {apart(core, stage)}")
            self.assertFalse(alike(plain, stage), name)

    @drawn
    def test_the_stage_shows_what_props_are_made_of_and_lit_looks_as_the_core_does(self):
        """Metal and plain matter with a gleam, a glow by a picture's levels, a picture that a camera lays on; discs and
        a line that are lit."""
        at = lambda x, z: row([x, 0.35, z])
        ball = {"kind": "shape", "shape": "sphere", "radius": 0.35, "tint": [0.6, 0.35, 0.2]}
        pattern = {"kind": "made", "uid": "cells", "name": "cells", "in_pictures": False, "shown": "hidden"}
        props = [
            {
                **ball,
                "uid": "metal",
                "name": "metal",
                "position": at(-0.9, 0.0),
                "metal": row(1.0),
                "roughness": row(0.35),
            },
            {**ball, "uid": "plain", "name": "plain", "position": at(0.0, -0.3), "roughness": row(0.4)},
            {
                **ball,
                "uid": "glows",
                "name": "glows",
                "position": at(0.9, 0.0),
                "glow": row(1.5),
                "glow_by": "cells",
                "glow_from": 0.7,
                "glow_to": 0.3,
            },
            {
                "kind": "shape",
                "uid": "floor",
                "name": "floor",
                "shape": "plane",
                "width": 30.0,
                "depth": 30.0,
                "covering": "cells",
                "laid_by": "eye",
            },
            {
                "kind": "camera",
                "uid": "eye",
                "name": "eye",
                "position": row([0.5, 3.0, 2.0]),
                "rotation": row([-1.1, 0.2, 0.0]),
                "shown": "hidden",
            },
            {
                "kind": "light",
                "uid": "sun",
                "name": "sun",
                "shines": "sun",
                "shadows": False,
                "rotation": row([-0.8, 0.6, 0.0]),
                "shown": "hidden",
            },
            {
                "kind": "light",
                "uid": "sky",
                "name": "sky",
                "shines": "around",
                "strength": row(0.15),
                "shown": "hidden",
            },
            pattern,
        ]
        discs = emitter(
            "one",
            births__rate=row(40),
            births__launch__cone=row(0.9),
            births__launch__speed=row(2.0),
            look__size=row(0.2),
            look__lit=True,
        )
        lines = emitter(
            "two",
            births__rate=row(8),
            births__launch__cone=row(0.7),
            births__launch__speed=row(2.5),
            look={
                "sprite": "trail",
                "size": row(0.05),
                "opacity": row(1.0),
                "colour": row([0.9, 0.9, 0.4]),
                "lit": True,
            },
        )
        body = {**document(discs, lines, last_frame=30), "props": props}
        stage, frame = self.shown(body, "Made of")
        size = (stage.shape[1], stage.shape[0])
        core = seen(read_effect(body), size, frame)
        self.assertGreater(structural_similarity(core, stage, channel_axis=2, data_range=255), 0.95)
        self.assertLessEqual(float(np.percentile(np.abs(core - stage), 98)), 8)
        matte = {
            **body,
            "props": [{k: v for k, v in prop.items() if k not in ("metal", "glow", "roughness")} for prop in props],
        }
        self.assertGreater(float(np.percentile(np.abs(seen(read_effect(matte), size, frame) - stage), 98)), 40)


class ByHand(PropsCase):
    def finish(self, kind: str) -> None:
        self.page.locator("[data-part=finish]").get_by_role("button", name="finish", exact=True).click()
        self.page.keyboard.type(kind)
        self.page.get_by_role("option", name=re.compile(f"^{kind}")).first.wait_for()
        self.page.keyboard.press("Enter")
        self.page.locator("[data-part=held-sheet]").wait_for()
        self.saved()

    @drawn
    def test_a_glow_on_one_emitter_and_motion_blur(self):
        """From an empty effect: a finish, its emitter ticked; its light spreads. Motion blur: the stage rests as the
        core's own picture."""
        page = self.page
        body = {
            **document(
                emitter(
                    "one",
                    births__launch__cone=row(0.6),
                    births__launch__speed=row(4.0),
                    look__colour=row([4.0, 2.0, 0.5]),
                )
            ),
            "name": "By hand",
        }
        page.goto(f"{self.live_server_url}/effects/{drafts.create(read_effect(body)).pk}")
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        page.get_by_role("radio", name="Finish", exact=True).click()
        dark = self.mean()
        self.finish("Glow")
        self.number("Width", "30")
        bright = self.mean()
        self.assertGreater(sum(bright), sum(dark) * 1.1)
        page.get_by_role("checkbox", name="on emitters of glow: One").click()
        self.assertAlmostEqual(sum(self.mean()), sum(bright), delta=0.02 * sum(bright))
        page.get_by_label("Mute glow").click()
        self.assertAlmostEqual(sum(self.mean()), sum(dark), delta=0.5)
        page.get_by_label("Let glow act").click()
        self.finish("Motion blur")
        page.locator("[data-part=stage][data-rests]:not([data-rests=''])").wait_for()
        stored = self.document()
        self.assertEqual(
            [(each["kind"], each["emitters"]) for each in stored["finish"]], [("glow", ["one"]), ("motion_blur", [])]
        )
        shown = page.evaluate("window.kageroStage.picture()")
        stage = (
            np.frombuffer(base64.b64decode(shown["pixels"]), np.uint8)
            .reshape(shown["height"], shown["width"], 4)[::-1, :, :3]
            .astype(float)
        )
        core = seen(read_effect(stored), (shown["width"], shown["height"]), self.probe("frame"))
        there = np.abs(core - core[0, 0]).max(axis=2) > 8  # the rest has the grid and handles over it
        self.assertLess(float(np.median(np.abs(stage - core)[there])), 2)
        still = seen(
            read_effect({**stored, "finish": stored["finish"][:1]}),
            (shown["width"], shown["height"]),
            self.probe("frame"),
        )
        self.assertGreater(float(np.abs(still - core)[there].mean()), 1.5)
        page.keyboard.press("Control+z")
        self.saved()
        self.assertEqual(len(self.document()["finish"]), 1)

    @drawn
    def test_a_lamp_that_follows_lights_what_it_passes(self):
        """A lamp is added among the props, follows a ball, an offset above it: the floor near the ball is brighter than
        far from it."""
        floor = {"kind": "shape", "uid": "floor", "name": "floor", "shape": "plane", "width": 4.0, "depth": 4.0}
        body = {
            **document(emitter(births__rate=row(0.0))),
            "name": "Lamp",
            "props": [{**BALL, "position": row([-1.0, 0.3, 0.0]), "radius": 0.1}, floor],
        }
        page = self.page
        page.goto(f"{self.live_server_url}/effects/{drafts.create(read_effect(body)).pk}")
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        page.get_by_role("radio", name="Props", exact=True).click()
        self.add("Light from all around")
        self.number("Strength", "0.02")
        dark = self.mean()
        self.add("Lamp")
        page.get_by_label("What lamp follows").select_option(label="ball")
        self.saved()
        stored = self.document()
        lamp = next(prop for prop in stored["props"] if prop["name"] == "lamp")
        self.assertEqual((lamp["follow"]["prop"], lamp["shines"]), ("ball", "point"))
        self.assertGreater(sum(self.mean()), sum(dark) + 6)
        near, far = self.mean(0.2, 0.55, 0.15, 0.3), self.mean(0.75, 0.55, 0.15, 0.3)
        self.assertGreater(sum(near), sum(far))

    def test_a_sprite_sheet_and_a_film_are_made_and_opened_again(self):
        page = self.page
        body = {**document(emitter(births__launch__cone=row(0.5)), last_frame=8), "name": "Taken out"}
        page.goto(f"{self.live_server_url}/effects/{drafts.create(read_effect(body)).pk}")
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        page.get_by_role("button", name="Export", exact=True).click()
        dialog = page.get_by_role("dialog")

        def result(kind: str, press: Any = None) -> bytes:
            dialog.get_by_role("radio", name=kind).click()
            for label, text in (("Picture width", "96"), ("Picture height", "64")):
                dialog.get_by_role("button", name=re.compile(f"^{label}: ")).click()
                page.keyboard.press("Control+a")
                page.keyboard.type(text)
                page.keyboard.press("Enter")
            if press is not None:
                press()
            dialog.locator("[data-part=estimate]").get_by_text(re.compile(r"pictures?, about")).wait_for()
            with page.expect_download() as download:
                dialog.get_by_role("button", name="Export", exact=True).click()
            return Path(download.value.path()).read_bytes()

        data = result("Sprite sheet", lambda: dialog.get_by_role("radio", name="square").click(force=True))
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            facts = json.loads(archive.read("sheet.json"))
            sheet = Image.open(io.BytesIO(archive.read("sheet.png")))
        self.assertEqual((facts["columns"], facts["rows"], len(facts["frames"])), (3, 3, 9))
        self.assertEqual(sheet.size, (3 * 100, 3 * 100))
        dialog.locator("[data-part=sheet-preview]").get_by_text(re.compile("^9 pages at 25")).wait_for()
        film = result("WebM film")
        with av.open(io.BytesIO(film)) as opened:
            frames = [frame.to_ndarray(format="rgb24") for frame in opened.decode(video=0)]
        self.assertEqual((len(frames), frames[0].shape[:2]), (9, (64, 96)))


class FilesByHand(PropsCase):
    """Files as artists bring them in: a film behind all, cameras whose units are asked for once."""

    def bring(self, name: str, data: bytes) -> None:
        self.page.get_by_label("Bring in a file").set_input_files(
            {"name": name, "mimeType": "application/octet-stream", "buffer": data}
        )

    def from_nothing(self, name: str) -> None:
        body = {**document(emitter(births__rate=row(0.0)), last_frame=30), "name": name}
        self.page.goto(f"{self.live_server_url}/effects/{drafts.create(read_effect(body)).pk}")
        self.page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        self.page.get_by_role("radio", name="Props", exact=True).click()

    @drawn
    def test_a_film_is_brought_in_and_stands_behind_all(self):
        page = self.page
        self.from_nothing("Film")
        self.bring("water.webm", a_film("vp9"))
        page.locator("[data-part=props]").get_by_text("20 pictures at 23.976 a second").wait_for(timeout=30_000)
        page.locator("[data-part=prop-sheet]").get_by_label("in pictures", exact=False).first.uncheck()
        page.get_by_role("radio", name="Finish", exact=True).click()
        page.locator("[data-finish=frame] button[aria-expanded]").first.click()
        page.get_by_label("Behind all of frame").get_by_role("radio", name="a backplate").click()
        self.saved()
        page.get_by_label("Backplate of frame").select_option(label="water")
        self.saved()
        page.locator("[data-part=stage][data-rests]:not([data-rests=''])").wait_for()
        stored = self.document()
        self.assertEqual((stored["frame"]["behind"], stored["props"][0]["file"]["pictures"]), ("plate", 20))
        reds = []
        for frame in (2, 16):
            page.locator("[data-part=frame] button").first.click()
            page.keyboard.press("Control+a")
            page.keyboard.type(str(frame))
            page.keyboard.press("Enter")
            page.wait_for_function(f"() => window.kageroStage.frame === {frame}")
            self.settle()
            page.wait_for_timeout(400)
            page.locator("[data-part=stage][data-rests]:not([data-rests=''])").wait_for()
            reds.append(self.mean(0.05, 0.3, 0.2, 0.3)[0])
        self.assertGreater(reds[1] - reds[0], 60)  # eight a picture

    @drawn
    def test_what_is_hidden_on_the_stage_is_hidden_at_rest_too(self):
        """A lamp's shadows make the stage rest as the core's own picture, which shows what pictures show."""
        page = self.page
        lamp = {"kind": "light", "uid": "lamp", "name": "lamp", "position": row([0.5, 2.0, 1.0])}
        ball = {**BALL, "position": row([0.0, 1.0, 0.0]), "radius": 0.6}
        body = {**document(emitter(births__rate=row(0.0)), last_frame=5), "name": "Hidden", "props": [ball, lamp]}
        page.goto(f"{self.live_server_url}/effects/{drafts.create(read_effect(body)).pk}")
        page.wait_for_function("() => window.kageroStage?.complete", timeout=60_000)
        page.get_by_role("radio", name="Props", exact=True).click()
        page.locator("[data-prop]", has_text="ball").first.click()
        rests = page.locator("[data-part=stage][data-rests]:not([data-rests=''])")
        rests.wait_for()
        shown = self.mean()
        page.get_by_label("How ball is shown").select_option("hidden")
        self.saved()
        rests.wait_for()
        self.assertGreater(sum(shown) - sum(self.mean()), 20)

    def test_cameras_are_asked_for_their_units_once_and_a_lens_that_lacks_is_said(self):
        page = self.page
        stage_of_props, camera = stage("Z", 0.01)
        camera.AddTranslateOp().Set((100.0, -400.0, 150.0))
        UsdGeom.Camera.Define(stage_of_props, "/plain")
        self.from_nothing("Cameras")
        self.bring("shot.usda", stage_of_props.GetRootLayer().ExportToString().encode())
        dialog = page.get_by_role("dialog")
        dialog.get_by_text("2 cameras stand").wait_for(timeout=30_000)
        dialog.get_by_text("plain has no lens").wait_for()
        self.assertEqual(dialog.get_by_role("radio", name="centimetre").get_attribute("aria-checked"), "true")
        self.assertEqual(dialog.get_by_role("radio", name="z axis").get_attribute("aria-checked"), "true")
        dialog.get_by_role("radio", name="metre", exact=True).click()
        dialog.get_by_role("radio", name="centimetre").click()
        dialog.get_by_role("button", name="Bring in", exact=True).click()
        page.locator("[data-part=props]").get_by_text("plain").first.wait_for()
        shot, plain = self.document()["props"]
        self.assertEqual((shot["name"], plain["name"]), ("shot", "plain"))
        self.assertEqual(shot["position"]["base"], [1.0, 1.5, 4.0])
        self.bring("shot.usda", stage_of_props.GetRootLayer().ExportToString().encode())
        dialog.get_by_text("2 cameras stand").wait_for(timeout=30_000)
        page.keyboard.press("Escape")  # is to leave it too, and it can be brought in again
        dialog.wait_for(state="hidden")
        self.bring("shot.usda", stage_of_props.GetRootLayer().ExportToString().encode())
        dialog.get_by_role("button", name="Leave it").click()
        dialog.wait_for(state="hidden")
        self.assertEqual(len(self.document()["props"]), 2)
