"""Light props and the shadows in their light, against closed forms: Lambert's cosine, where a shadow falls, how much
light particles leave."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np

from kagero.core.document import read_effect
from kagero.core.workflows import Playing, RenderRequest, render_frame
from tests.making import document, row
from tests.making.pictures import DOWN, FAR, FLOOR, SIZE, at, from_above, light, one


class Lambert(unittest.TestCase):
    def test_a_sun_gives_its_colour_times_the_cosine(self):
        for tilt in (0.0, 0.5, 1.2):
            result = from_above(
                light(
                    "sun",
                    rotation=[-math.pi / 2 + tilt, 0.0, 0.0],
                    strength=2.0,
                    light_colour=[1.0, 0.5, 0.25],
                    shadows=False,
                )
            )
            np.testing.assert_allclose(
                at(result, 0.3, 0.4), 2.0 * math.cos(tilt) * np.array([1.0, 0.5, 0.25]), rtol=1e-3
            )

    def test_light_from_all_around_is_the_same_everywhere_and_the_stages_own_is_out(self):
        result = from_above(light("around", strength=0.3))
        np.testing.assert_allclose(at(result, 0.0, 0.0), 0.3, rtol=1e-4)
        np.testing.assert_allclose(at(result, 1.4, -1.0), 0.3, rtol=1e-4)

    def test_a_spot_shines_within_its_cone_as_far_as_it_reaches(self):
        cone, reach, high = 0.8, 4.0, 2.0
        result = from_above(
            light("spot", position=[0.0, high, 0.0], rotation=DOWN, cone=cone, edge=0.0001, reach=reach, shadows=False)
        )
        self.assertAlmostEqual(float(at(result, 0.0, 0.0)[0]), (1 - (high / reach) ** 2) ** 2, delta=2e-3)
        rim = high * math.tan(cone / 2)
        beside = 0.9 * rim
        square = high * high + beside * beside
        self.assertAlmostEqual(
            float(at(result, beside, 0.0)[0]), high / math.sqrt(square) * (1 - square / reach**2) ** 2, delta=0.01
        )
        self.assertEqual(float(at(result, 1.15 * rim, 0.0)[0]), 0.0)

    def test_an_unlit_prop_shows_its_colour(self):
        floor = {**FLOOR, "lit": False, "tint": [0.3, 0.2, 0.1]}
        body = {**document(one(FAR)), "props": [floor, light("around", strength=5.0)]}
        body["camera"] = {"position": [0.0, 10.0, 0.0], "target": [0.0, 0.0, 0.0], "field_of_view": 0.4}
        picture = render_frame(Playing(read_effect(body)), 0, RenderRequest(40, 40, alone=True)).light
        np.testing.assert_allclose(picture[20, 20, :3], [0.3, 0.2, 0.1], rtol=1e-4)

    def test_a_lamp_follows_with_its_offset(self):
        moves = {
            "kind": "shape",
            "uid": "boat",
            "name": "boat",
            "shape": "sphere",
            "radius": 0.01,
            "shown": "lines",
            "position": row([-1.0, 0.5, 0.0]),
        }
        moves["position"]["responses"] = [
            {
                "kind": "curve",
                "uid": "m",
                "source": {"kind": "clip_time"},
                "operation": "set",
                "component": "x",
                "input": [0, 0.8],
                "curve": {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1, "shape": "linear"}]},
                "output": [-1.0, 1.0],
            }
        ]
        lamp = light(
            "point", follow={"prop": "boat", "at": "place", "turns": False}, position=[0.0, 0.5, 0.3], reach=3.0
        )
        for frame, x in ((0, -1.0), (20, 1.0)):
            result = from_above(moves, lamp, light("around", "sky", strength=0.0), frame=frame)
            row_, column = np.unravel_index(int(result[..., 0].argmax()), result.shape[:2])
            self.assertAlmostEqual((100 - column) / 50, x, delta=0.06)
            self.assertAlmostEqual((100 - row_) / 50, 0.3, delta=0.06)


class Shadows(unittest.TestCase):
    BALL = {
        "kind": "shape",
        "uid": "ball",
        "name": "ball",
        "shape": "sphere",
        "radius": 0.25,
        "position": row([0.0, 1.0, 0.0]),
    }

    def sun(self, tilt: float = 0.6, **more: Any) -> dict[str, Any]:
        return light("sun", rotation=[-math.pi / 2 + tilt, 0.0, 0.0], reach=3.0, **more)

    def test_a_balls_shadow_falls_where_the_sun_puts_it_and_is_as_wide(self):
        """The light comes from z = tan(tilt) for a metre of height: there its shadow is on the other side, an ellipse
        of 0.25 by 0.25 / cos(tilt)."""
        tilt = 0.6
        result = from_above(self.BALL, self.sun(tilt, blur=0.0))
        lit = math.cos(tilt)
        for sign in (-1, 1):
            if float(at(result, 0.0, sign * math.tan(tilt))[0]) < 0.5 * lit:
                middle = sign * math.tan(tilt)
        self.assertAlmostEqual(float(at(result, 0.0, middle)[0]), 0.0, delta=0.01)
        self.assertAlmostEqual(float(at(result, 0.0, -middle)[0]), lit, delta=0.01)
        line = result[:, 100, 0][np.abs((100 - np.arange(200)) / 50 - middle) < 0.4]
        self.assertAlmostEqual(float((line < lit / 2).sum()) / 50, 2 * 0.25 / math.cos(tilt), delta=0.05)
        without = from_above({**self.BALL, "casts": False}, self.sun(tilt))
        self.assertAlmostEqual(float(at(without, 0.0, middle)[0]), lit, delta=0.01)

    def test_soft_shadows_spread_about_the_same_edge(self):
        hard, soft = (from_above(self.BALL, self.sun(blur=blur))[:, 100, 0] for blur in (0.0, 0.15))
        edge = lambda line: int(((line > 0.05) & (line < 0.7)).sum())
        self.assertGreater(edge(soft), edge(hard) + 5)
        self.assertAlmostEqual(float(hard.sum()), float(soft.sum()), delta=0.03 * float(hard.sum()))

    def test_particles_leave_what_they_do_not_cover(self):
        """A disc is (1 - q²)² of its opacity: in its middle 1 - 0.6 is left, half way out 1 - 0.6 x 0.5625."""
        disc = one((0.0, 1.5, 0.0), size=1.2)
        disc["look"] |= {"opacity": row(0.6), "hardness": row(0.0)}
        fields = from_above(light("sun", rotation=DOWN, reach=3.0, blur=0.0), emitter={**disc, "visible": True})
        alone = from_above(light("sun", rotation=DOWN, reach=3.0, blur=0.0))
        hidden = take_floor(disc)
        self.assertAlmostEqual(float(hidden[100, 100, 0]), 1 - 0.6, delta=0.02)
        self.assertAlmostEqual(float(hidden[100, 100 + 15, 0]), 1 - 0.6 * (1 - 0.25) ** 2, delta=0.02)
        self.assertAlmostEqual(float(at(alone, 0.0, 0.0)[0]), 1.0, delta=1e-3)
        self.assertGreater(float(fields[100, 100, 3]), 0.99)

    def test_a_ground_that_only_catches_shadows(self):
        """Over a backplate nothing of it is seen but the shadow: alpha 1 there, none elsewhere."""
        floor = {**FLOOR, "catches": True}
        body = {**document(one(FAR)), "props": [floor, {**self.BALL, "in_pictures": True}, self.sun(blur=0.0)]}
        body["camera"] = {"position": [0.0, 10.0, 0.0], "target": [0.0, 0.0, 0.0], "field_of_view": 2 * math.atan(0.2)}
        picture = render_frame(Playing(read_effect(body)), 0, RenderRequest(*SIZE, alone=True)).light
        middle = max((-math.tan(0.6), math.tan(0.6)), key=lambda z: float(picture[round(100 + z * 50), 100, 3]))
        self.assertAlmostEqual(float(picture[round(100 + middle * 50), 100, 3]), 1.0, delta=0.02)
        self.assertAlmostEqual(float(picture[round(100 + middle * 50), 100, :3].max()), 0.0, delta=0.02)
        self.assertEqual(float(picture[20, 20, 3]), 0.0)


def take_floor(disc: dict[str, Any]) -> np.ndarray:
    """Return a floor under a particle that throws a shadow on it, seen from below the particle: from beside it, which
    is not in the picture."""
    body = {**document(disc), "props": [FLOOR, light("sun", rotation=DOWN, reach=3.0, blur=0.0)]}
    body["camera"] = {"position": [0.0, 1.4, 0.0], "target": [0.0, 0.0, 0.0], "field_of_view": 2 * math.atan(2.0 / 1.4)}
    return render_frame(Playing(read_effect(body)), 0, RenderRequest(*SIZE, alone=True)).light


class Haze(unittest.TestCase):
    def seen(self, *props: dict[str, Any], finish: list[dict[str, Any]] | None = None) -> np.ndarray:
        """Return the light of one thin puff of white haze before the camera, in the middle of the picture."""
        puff = one((0.0, 1.0, 0.0), size=1.2)
        puff["look"] = {
            "sprite": "haze",
            "how": "lit",
            "size": row(1.2),
            "opacity": row(1.0),
            "colour": row([1.0, 1.0, 1.0]),
            "density": row(0.05),
            "cell": 0.08,
        }
        body = {**document(puff, last_frame=2), "props": list(props), "finish": finish or []}
        body["camera"] = {"position": [0.0, 1.0, 4.0], "target": [0.0, 1.0, 0.0], "field_of_view": 0.5}
        return render_frame(Playing(read_effect(body)), 0, RenderRequest(80, 80, alone=True)).light[40, 40]

    def test_thin_haze_sends_on_the_light_that_falls_on_it(self):
        """Hardly anything lies before any of it: of each light its colour, as often as it covers."""
        around = self.seen(light("around", strength=0.5, light_colour=[1.0, 0.5, 0.25]))
        np.testing.assert_allclose(around[:3] / around[3], [0.5, 0.25, 0.125], rtol=2e-3)
        sun = self.seen(light("sun", rotation=[-0.4, 0.5, 0.0], strength=2.0, shadows=False))
        np.testing.assert_allclose(sun[:3] / sun[3], 2.0, rtol=0.03)
        both = self.seen(
            light("sun", rotation=[-0.4, 0.5, 0.0], strength=2.0),
            light("around", "sky", strength=0.5, light_colour=[1.0, 0.5, 0.25]),
        )
        np.testing.assert_allclose(both[:3], around[:3] + sun[:3], rtol=2e-3)
        spot = light("spot", position=[0.0, 4.0, 0.0], rotation=DOWN, cone=1.0, reach=10.0)
        away = {**spot, "rotation": row([math.pi / 2, 0.0, 0.0])}
        self.assertGreater(float(self.seen(spot)[0]), 0.5 * float(self.seen(spot)[3]))
        self.assertLess(float(self.seen(away)[0]), 1e-6)

    def test_air_lies_before_haze(self):
        """Beer and Lambert over the 4 m to it."""
        fog = {
            "kind": "fog",
            "uid": "fog",
            "name": "fog",
            "density": row(0.3),
            "begins": row(0.0),
            "fog_colour": row([0.0, 0.0, 0.4]),
        }
        sky = light("around", strength=1.0)
        clear, foggy = self.seen(sky), self.seen(sky, finish=[fog])
        left = math.exp(-0.3 * 4.0)
        np.testing.assert_allclose(
            foggy[:3] / foggy[3],
            clear[:3] / clear[3] * left + np.array([0.0, 0.0, 0.4]) * (1 - left),
            rtol=0.05,
            atol=2e-3,
        )


class Surfaces(unittest.TestCase):
    def test_a_blob_throws_the_shadow_of_its_surface(self):
        """A ball of one particle, a metre above: as wide a shadow under a sun that stands above it."""
        drop = one((0.0, 1.0, 0.0), size=0.4)
        drop["look"] = {
            "sprite": "blob",
            "size": row(0.4),
            "opacity": row(1.0),
            "colour": row([1.0, 1.0, 1.0]),
            "cell": 0.02,
        }
        sun = light("sun", rotation=[-math.pi / 2 + 0.6, 0.0, 0.0], blur=0.005, reach=5.0)
        fields, free = (from_above({**sun, "shadows": shadows}, emitter=drop)[..., 0] for shadows in (True, False))
        dark = fields < 0.5 * free
        dark[82:118] = False  # the drop itself
        self.assertGreater(dark.sum(), 150)
        columns = np.flatnonzero(dark.any(axis=0))
        rows = np.flatnonzero(dark.any(axis=1))
        # as much longer than wide as the sun is slanted
        self.assertAlmostEqual((rows[-1] - rows[0]) / (columns[-1] - columns[0]), 1 / math.cos(0.6), delta=0.12)
