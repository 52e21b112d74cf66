"""What is done to the picture, against closed forms, quadrature and other libraries."""

from __future__ import annotations

import math
import unittest
from types import SimpleNamespace
from typing import Any

import colour as colour_science
import numpy as np
from scipy import ndimage

from kagero.core.document import read_effect
from kagero.core.finishing import RowValues, Shot, apply_finish
from kagero.core.finishing.colour import white_balance
from kagero.core.finishing.glow import blurred
from kagero.core.finishing.grain import noise
from kagero.core.finishing.moments import picture_samples
from kagero.core.finishing.tone_curve import roll_off
from kagero.core.parts.finish import FINISH
from kagero.core.simulation import between
from kagero.core.workflows import Playing, RenderRequest, render_frame
from tests.making import document, emitter, row
from tests.making.pictures import one

SEEN = RenderRequest(160, 120)
FOV = 0.7


def item(kind: str, uid: str = "", **changes: Any) -> dict[str, Any]:
    fields = {**FINISH.kinds[kind].template(), "uid": uid or kind.replace("_", "-"), "name": kind}
    for name, value in changes.items():
        fields[name] = (
            row(value) if name in FINISH.kinds[kind].model_fields and isinstance(fields.get(name), dict) else value
        )
    return fields


def played(*emitters: dict[str, Any], finish: list[dict[str, Any]] | None = None, **more: Any) -> Playing:
    return Playing(read_effect({**document(*emitters), "finish": finish or [], **more}))


def light(values: Playing, frame: int = 0, wish: RenderRequest = SEEN) -> np.ndarray:
    return render_frame(values, frame, RenderRequest(wish.width, wish.height, alone=True)).light


class MotionBlur(unittest.TestCase):
    """A disc's picture at each moment of the shutter, averaged; the yardstick places it by the closed form of its path,
    400 times."""

    def path(self, collected: Playing, place, blur: dict[str, Any]) -> None:
        opened = {"at": 0.0, "about": -0.5, "before": -1.0}[blur.get("opens", "about")] * blur["share"]["base"]
        here = light(collected, 5)
        truth = np.zeros_like(here)
        count = 400
        for k in range(count):
            at = place(5 + opened + blur["share"]["base"] * (k + 0.5) / count)
            truth += light(played(one(at)))
        truth /= count
        self.assertAlmostEqual(float(here.sum() / truth.sum()), 1, delta=0.004)
        self.assertLess(float(np.abs(here - truth).max()), 0.03 * float(truth.max()))

    def test_a_disc_on_a_line(self):
        blur = item("motion_blur", measured="share", share=1.0, moments=64)
        result = played(one((-1.0, 1.0, 0.0), (4.0, 0.0, 0.0)), finish=[blur])
        self.path(result, lambda frame: (-1.0 + 4.0 * frame / 25, 1.0, 0.0), blur)

    def test_a_disc_on_a_circle_leaves_the_chord(self):
        turn = 12.0  # radians a second: 27 degrees a frame; a spring of that frequency holds it on a circle
        spring = {
            "kind": "spring",
            "uid": "s",
            "to": "point",
            "point": row([0.0, 1.0, 0.0]),
            "strength": row(turn**2),
            "damping": row(0.0),
        }
        blur = item("motion_blur", measured="share", share=2.0, opens="at", moments=96)
        result = played(one((0.6, 1.0, 0.0), (0.0, 0.6 * turn, 0.0), forces=[spring]), finish=[blur])

        def place(frame):
            angle = turn * frame / 25
            return (0.6 * math.cos(angle), 1.0 + 0.6 * math.sin(angle), 0.0)

        between_frames = between(result.runs[0], 5, 0.5)
        np.testing.assert_allclose([float(axis[0]) for axis in between_frames.position], place(5.5), atol=1e-3)
        chord = (np.add(place(5), place(6))) / 2
        self.assertGreater(
            float(np.linalg.norm(chord - place(5.5))), 0.01
        )  # the check would tell a smear along the chord
        self.path(result, place, blur)

    def test_a_shut_shutter_is_none_and_light_is_kept(self):
        still = light(played(one((-0.4, 1.0, 0.0), (3.0, 1.0, 0.0))), 5)
        for measured in ("angle", "share"):
            shut = light(
                played(
                    one((-0.4, 1.0, 0.0), (3.0, 1.0, 0.0)),
                    finish=[item("motion_blur", measured=measured, angle=0.0, share=0.0)],
                ),
                5,
            )
            np.testing.assert_array_equal(still, shut)
        blurred_light = light(
            played(one((-0.4, 1.0, 0.0), (3.0, 1.0, 0.0)), finish=[item("motion_blur", angle=2 * math.pi, moments=32)]),
            5,
        )
        np.testing.assert_allclose(blurred_light.sum(axis=(0, 1)), still.sum(axis=(0, 1)), rtol=2e-3)

    def test_sixteen_moments_are_as_good_as_256(self):
        few, many = (
            light(played(one((-0.4, 1.0, 0.0), (3.0, 1.0, 0.0)), finish=[item("motion_blur", moments=n)]), 5)
            for n in (16, 256)
        )
        self.assertLess(float(np.abs(few - many).sum() / many.sum()), 0.01)

    def test_only_what_is_chosen_moves(self):
        goes, stays = one((-0.8, 1.2, 0.0), (3.0, 0.0, 0.0)), one((-0.8, 0.7, 0.0), (3.0, 0.0, 0.0), uid="two")
        sharp = light(played(goes, stays), 5)
        result = light(played(goes, stays, finish=[item("motion_blur", emitters=["one"])]), 5)
        half = 62  # rows from here on show the second alone
        np.testing.assert_allclose(result[half:], sharp[half:], atol=1e-6)
        self.assertGreater(float(np.abs(result[:half] - sharp[:half]).max()), 0.05)

    def test_births_and_ends_between_frames_are_at_their_own_times(self):
        result = played(emitter(births__rate=row(1000.0), births__lifespan=row(0.1)))
        for after in (0.25, 0.5, 0.9, -0.3):
            there = between(result.runs[0], 20, after)
            when = result.plan.moment(20, after)
            self.assertTrue(bool(((there.birth_time <= when) & (when - there.birth_time < 0.1 + 1e-6)).all()))
            self.assertAlmostEqual(len(there), 100, delta=1)
            np.testing.assert_allclose(there.position[1], when - there.birth_time, atol=2e-6)  # straight up at 1 m/s


class Lens(unittest.TestCase):
    def test_the_places_on_a_lens_are_spread_evenly_over_it(self):
        """Vogel 1979: as many within a radius as its circle has of the lens, so that the mean of r² is 1/2 and no
        direction is preferred."""
        for count in (1, 7, 64, 501):
            places = np.array(
                [each.lens for each in picture_samples([(SimpleNamespace(gathers="lens", moments=count), None)])]
            )
            radii = np.hypot(*places.T)
            self.assertAlmostEqual(float((radii**2).mean()), 0.5, places=9)
            for radius in (0.25, 0.5, 0.75):
                self.assertAlmostEqual(int((radii < radius).sum()), count * radius**2, delta=1)
            if count > 50:
                self.assertLess(float(np.abs(places.mean(axis=0)).max()), 0.03)

    def test_a_point_is_spread_over_the_circle_of_confusion(self):
        """Of a thin lens of radius r focused at f a point at d is spread over a disc of radius r |d - f| / d in the
        plane of focus."""
        for away, focus in ((4.0, 2.0), (4.0, 8.0), (4.0, 4.0)):
            lens = item("depth_of_field", focus=focus, f_number=0.2, moments=256)
            result = light(played(one(size=0.02), finish=[lens]), 0, RenderRequest(240, 180))[..., 0]
            radius = 0.024 / (2 * math.tan(FOV / 2)) / 0.2 / 2
            pixels = 180 / (2 * math.tan(FOV / 2)) / focus
            y, x = np.indices(result.shape)
            middle = [float((result * axis).sum() / result.sum()) for axis in (x, y)]
            spread = math.sqrt(float((result * ((x - middle[0]) ** 2 + (y - middle[1]) ** 2)).sum() / result.sum()))
            expected = radius * abs(away - focus) / away * pixels / math.sqrt(2)  # of an even disc
            self.assertAlmostEqual(spread, math.hypot(expected, 0.6), delta=0.06 * expected + 0.25)


class Light(unittest.TestCase):
    def setUp(self):
        self.picture = np.zeros((90, 120, 4), np.float32)
        self.picture[30:50, 40:70] = (1.5, 0.75, 0.2, 1.0)
        self.picture[60, 20] = (6.0, 6.0, 6.0, 0.0)
        self.shot = Shot(120, 90)

    def act(self, kind: str, picture: np.ndarray | None = None, shot: Shot | None = None, **rows: Any) -> np.ndarray:
        part = read_effect({**document(), "finish": [item(kind, **rows)]}).finish[0]
        values = {}
        for name in FINISH.kinds[kind].model_fields:
            base = getattr(getattr(part, name), "base", None)
            if base is not None:
                values |= {f"{name}.{i}": float(v) for i, v in enumerate(np.atleast_1d(base))}
        return apply_finish(self.picture if picture is None else picture, part, RowValues(values), shot or self.shot)

    def test_a_stop_doubles(self):
        np.testing.assert_array_equal(self.act("exposure", stops=1.0)[..., :3], self.picture[..., :3] * 2)
        np.testing.assert_array_equal(self.act("exposure", stops=3.0)[..., 3], self.picture[..., 3])

    def test_glow_is_what_gaussians_are(self):
        """scipy.ndimage.gaussian_filter, cut at six standard deviations, nothing outside."""
        for first in (2.0, 4.0, 8.0, 11.0, 16.0):  # wide ones are made of pixels put together
            image = self.act("glow", width=first, blurs=3, strength=0.8)[..., :3] - self.picture[..., :3]
            blurs = [
                ndimage.gaussian_filter(
                    self.picture[..., :3].astype(np.float64), (s, s, 0), mode="constant", truncate=6
                )
                for s in (first, 2 * first, 4 * first)
            ]
            truth = 0.8 * (blurs[0] + 0.5 * blurs[1] + 0.25 * blurs[2])
            self.assertLess(float(np.abs(image - truth).max()), 0.01 * float(truth.max()), first)
            wrong = 0.8 * (blurs[0] + 0.5 * blurs[1] + 0.5 * blurs[2])
            self.assertGreater(float(np.abs(image - wrong).max()), 0.01 * float(truth.max()), first)

    def test_glow_sets_in_over_its_knee_and_scales_with_the_picture(self):
        below = self.act("glow", threshold=7.0, knee=0.5)
        np.testing.assert_allclose(below, self.picture, atol=1e-6)
        only = (
            self.act("glow", threshold=2.0, knee=0.1, strength=1.0, blurs=1, width=3.0)[..., :3] - self.picture[..., :3]
        )
        self.assertAlmostEqual(
            float(only.sum()), 3 * (6.0 - 2.0), delta=0.05
        )  # all of the dot above the threshold, nothing of the block
        large = np.kron(self.picture, np.ones((2, 2, 1), np.float32))
        whole = self.act("glow", picture=large, shot=Shot(240, 180, scale=2.0), width=6.0)
        small = self.act("glow", width=6.0)
        halved = whole.reshape(90, 2, 120, 2, 4).mean(axis=(1, 3))
        self.assertLess(float(np.abs(halved - small).max()), 0.02)

    def test_blurs_do_not_come_round_from_the_other_side(self):
        edge = np.zeros((40, 200, 1), np.float32)
        edge[:, 0] = 1
        self.assertLess(float(blurred(edge, [(12.0, 1.0)])[:, 150:].max()), 1e-5)

    def test_temperatures_are_those_of_daylight(self):
        """colour-science: CIE daylight locus, Bradford."""
        space = colour_science.RGB_COLOURSPACES["sRGB"]

        def white(kelvin):
            return colour_science.xy_to_XYZ(colour_science.temperature.CCT_to_xy_CIE_D(kelvin))

        for kelvin in (4500.0, 5500.0, 9000.0):
            adapted = colour_science.adaptation.matrix_chromatic_adaptation_VonKries(
                white(6504.0), white(kelvin), transform="Bradford"
            )
            truth = space.matrix_XYZ_to_RGB @ adapted @ space.matrix_RGB_to_XYZ
            np.testing.assert_allclose(white_balance(kelvin), truth, atol=6e-3)
        self.assertGreater(
            float(white_balance(4500.0)[0].sum()), float(white_balance(4500.0)[2].sum())
        )  # lower is warmer

    def test_colour(self):
        grey = self.act("colour", saturation=0.0)[40, 50, :3]
        np.testing.assert_allclose(
            grey, np.full(3, 1.5 * 0.2126 + 0.75 * 0.7152 + 0.2 * 0.0722), rtol=1e-4
        )  # ITU-R BT.709
        lifted = self.act("colour", lift=[0.1, 0.1, 0.1], gain=[2.0, 2.0, 2.0])
        self.assertAlmostEqual(float(lifted[40, 50, 2]), 2 * (0.2 + 0.1 * (1 - 0.2)), places=5)
        self.assertEqual(float(lifted[0, 0].sum()), 0.0)  # where nothing is, nothing is lifted
        np.testing.assert_allclose(self.act("colour"), self.picture, atol=1e-6)

    def test_the_tone_curve(self):
        """Reinhard and others 2002, equation 4: white becomes 1, small light stays, half of it by hand."""
        self.assertAlmostEqual(float(roll_off(np.float64(8.0), 8.0)), 1.0)
        self.assertAlmostEqual(float(roll_off(np.float64(1.0), 2.0)), 1 * (1 + 1 / 4) / 2)
        self.assertAlmostEqual(float(roll_off(np.float64(1e-4), 8.0)), 1e-4, places=7)
        kept = self.act("tone_curve", on="luminance", white=16.0)[40, 50, :3]
        np.testing.assert_allclose(kept / kept[0], np.array([1.5, 0.75, 0.2]) / 1.5, rtol=1e-4)

    def test_vignettes_and_regions(self):
        flat = np.ones((90, 120, 4), np.float32)
        image = self.act("vignette", picture=flat, amount=0.6, begins=0.0, softness=1.0)
        self.assertAlmostEqual(float(image[45, 60, 0]), 1, places=3)
        self.assertAlmostEqual(float(image[0, 0, 0]), 0.4, delta=0.01)
        part = self.act(
            "vignette", picture=flat[10:30, 20:60], shot=Shot(120, 90, 20, 10), amount=0.6, begins=0.0, softness=1.0
        )
        np.testing.assert_allclose(part, image[10:30, 20:60], atol=1e-6)

    def test_grain_goes_by_the_root_of_light_and_is_the_same_again(self):
        """Counted light varies by its root (Poisson)."""
        spread = []
        for level in (0.25, 1.0):
            flat = np.full((200, 200, 4), level, np.float32)
            image = self.act("grain", picture=flat, amount=0.05, size=1.0, shot=Shot(200, 200, frame=3))
            np.testing.assert_array_equal(
                image, self.act("grain", picture=flat, amount=0.05, size=1.0, shot=Shot(200, 200, frame=3))
            )
            self.assertFalse(
                np.array_equal(
                    image, self.act("grain", picture=flat, amount=0.05, size=1.0, shot=Shot(200, 200, frame=4))
                )
            )
            spread.append(float(image[..., 0].std()))
            self.assertAlmostEqual(float(image[..., 0].mean()), level, delta=0.002)
        self.assertAlmostEqual(spread[1], 0.05, delta=0.002)
        self.assertAlmostEqual(spread[1] / spread[0], 2, delta=0.08)
        self.assertAlmostEqual(float(noise(0, 0, 400, 400, 3.7, 9).std()), 1, delta=0.05)


class Together(unittest.TestCase):
    def test_alpha_over_any_backplate_is_rendering_with_it_in_place(self):
        """Porter and Duff, SIGGRAPH 1984: of what is laid over and added."""
        scene = [
            one((-0.3, 1.0, 0.0)),
            one((0.1, 1.1, -0.5), uid="two", blend="add"),
            one((0.0, 0.9, 0.3), uid="three", colour=(0.1, 0.6, 0.9)),
        ]
        finish = [item("glow", width=6.0), item("exposure", stops=0.5), item("colour", saturation=1.4)]
        result = played(*scene, finish=finish)
        alone = light(result)
        for plate in ((0.02, 0.03, 0.05), (0.9, 0.5, 0.1)):
            with_it = render_frame(result, 0, RenderRequest(SEEN.width, SEEN.height, behind=plate)).over()
            put = alone[..., :3] + (1 - alone[..., 3:]) * np.asarray(plate, np.float32)
            np.testing.assert_allclose(with_it[..., :3], put, atol=2e-5)

    def test_a_glow_on_one_emitter_takes_its_light_alone_and_what_stands_before_it_hides_it(self):
        scene = [
            one((-0.35, 1.0, 0.0), colour=(4.0, 2.0, 1.0)),
            one((0.35, 1.0, 0.0), uid="two", colour=(4.0, 4.0, 4.0)),
        ]
        plain = light(played(*scene))
        result = light(played(*scene, finish=[item("glow", width=3.0, emitters=["one"])]))
        gain = (result - plain)[..., :3].sum(axis=(0, 1))
        np.testing.assert_allclose(
            gain / gain[0], [1.0, 0.5, 0.25], rtol=1e-3
        )  # its own colour, none of the other's white
        hidden = [
            one((0.0, 1.0, 0.0), colour=(4.0, 2.0, 1.0)),
            one((0.0, 1.0, 0.5), uid="two", size=1.2, colour=(0.2, 0.2, 0.2)),
        ]
        np.testing.assert_allclose(
            light(played(*hidden, finish=[item("glow", emitters=["one"])])), light(played(*hidden)), atol=1e-4
        )

    def test_what_is_far_goes_into_fog(self):
        near, far = (
            light(
                played(
                    one((0.0, 1.0, z), size=0.6),
                    finish=[item("fog", density=0.3, begins=1.0, fog_colour=[0.1, 0.2, 0.3])],
                )
            )
            for z in (1.0, -4.0)
        )
        for result, away in ((near, 3.0), (far, 8.0)):
            left = math.exp(-0.3 * (away - 1.0))
            middle = result[60, 80, :3] / result[60, 80, 3]
            np.testing.assert_allclose(
                middle, np.array([0.8, 0.4, 0.2]) * left + np.array([0.1, 0.2, 0.3]) * (1 - left), rtol=1e-3
            )

    def test_fog_shines_with_what_it_lies_before_alone(self):
        """Light of a selection: the air before what only covers gives none, and all selections together give what is
        seen."""
        scene = [one((-0.3, 1.0, -2.0), size=0.6), one((0.3, 1.0, -1.0), uid="two", size=0.6)]
        ball = {
            "kind": "shape",
            "uid": "ball",
            "name": "ball",
            "shape": "sphere",
            "radius": 0.4,
            "position": row([0.0, 1.4, -1.5]),
            "lit": False,
        }
        fog = item("fog", density=0.4, begins=0.5, fog_colour=[0.1, 0.2, 0.3])
        plain = light(played(*scene, props=[ball], finish=[fog]))
        twice = item("exposure", stops=1.0)
        gains = [
            light(played(*scene, props=[ball], finish=[fog, {**twice, **only}])) - plain
            for only in ({"emitters": ["one"]}, {"emitters": ["two"]}, {"props": ["ball"]})
        ]
        np.testing.assert_allclose(sum(gains)[..., :3], plain[..., :3], atol=3e-4)

    def test_a_region_is_that_part_of_the_finished_whole(self):
        result = played(
            one((-0.3, 1.0, 0.0), (2.0, 0.0, 0.0), colour=(5.0, 3.0, 1.0)),
            finish=[item("motion_blur", moments=4), item("glow"), item("vignette"), item("grain")],
        )
        whole = render_frame(result, 3, RenderRequest(160, 120)).over()
        part = render_frame(result, 3, RenderRequest(160, 120, region=(50, 30, 60, 40))).over()
        np.testing.assert_allclose(part, whole[30:70, 50:110], atol=3e-3)

    def test_a_backplate_fills_the_frame_as_its_numbers_say(self):
        made_picture = {"kind": "made", "uid": "plate", "name": "plate", "shown": "hidden"}
        frame = {"behind": "plate", "plate": "plate", "plate_stops": row(1.0)}
        lit = render_frame(played(one((9.0, 9.0, 0.0)), props=[made_picture], frame=frame), 0, SEEN).over()
        dark = render_frame(
            played(one((9.0, 9.0, 0.0)), props=[made_picture], frame={**frame, "plate_stops": row(0.0)}), 0, SEEN
        ).over()
        self.assertGreater(float(dark[..., :3].std()), 0.01)
        np.testing.assert_allclose(lit[..., :3], dark[..., :3] * 2, rtol=1e-4)
        linear = render_frame(
            played(
                one((9.0, 9.0, 0.0)), props=[made_picture], frame={**frame, "plate_stops": row(0.0), "space": "linear"}
            ),
            0,
            SEEN,
        ).over()
        self.assertGreater(float(linear[..., :3].mean()), float(dark[..., :3].mean()))
        gone = render_frame(
            played(one((9.0, 9.0, 0.0)), frame={"behind": "colour", "plate_colour": row([0.3, 0.2, 0.1])}), 0, SEEN
        ).over()
        np.testing.assert_allclose(gone[..., :3].reshape(-1, 3).mean(axis=0), [0.3, 0.2, 0.1], atol=1e-4)

    def test_what_the_frame_names_and_is_not_there_is_said_and_the_clip_plays_on(self):
        lost = {"kind": "picture", "uid": "lost", "name": "lost", "files": [{"content": "0" * 32, "name": "dusk.png"}]}
        result = played(one(), props=[lost], frame={"camera": "gone", "behind": "plate", "plate": "lost"})
        message = [(finding.where, finding.message) for finding in result.lacking()]
        self.assertEqual([where for where, _ in message], ["frame.camera", "props.0.files.0"])
        self.assertIn("dusk.png", message[1][1])
        np.testing.assert_allclose(
            render_frame(result, 0, SEEN).over()[..., :3],
            render_frame(played(one()), 0, SEEN).over()[..., :3],
            atol=1e-6,
        )
        self.assertEqual(
            [f.where for f in played(one(), frame={"behind": "plate", "plate": "gone"}).lacking()], ["frame.plate"]
        )
