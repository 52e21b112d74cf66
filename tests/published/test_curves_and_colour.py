"""Curves, sRGB and blending against reference libraries and published definitions."""

from __future__ import annotations

import math
import unittest

import colour
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

from kagero.core.document import read_effect
from kagero.core.formats.exporters.png import to_png
from kagero.core.kernels.colour import linear_to_srgb, srgb_to_linear
from kagero.core.kernels.curves import (
    FREE,
    HOLD,
    LINEAR,
    SMOOTH,
    curve_into,
    curve_table,
    gradient_into,
    gradient_table,
)
from kagero.core.kernels.drawing import paint as paint_items
from kagero.core.kernels.items import COVER, HARD, blank_items
from kagero.core.picture.soft_disc import EDGE, antialiased, light_of_hardness
from kagero.core.workflows import Playing
from kagero.core.workflows.bake import render_pixels
from tests.making import document, emitter, row
from tests.soak import examples

T = np.linspace(0, 1, 501).astype(np.float32)


@st.composite
def keys(draw, least=2, most=12):
    x = sorted(draw(st.lists(st.integers(0, 1000), min_size=least, max_size=most, unique=True)))
    y = draw(st.lists(st.floats(0, 1), min_size=len(x), max_size=len(x)))
    return [v / 1000 for v in x], y


def curve(x, y, shape) -> np.ndarray:
    out = np.empty(len(T), np.float32)
    curve_into(curve_table(list(x), list(y), [shape] * len(x)), T, out)
    return out


class Curves(unittest.TestCase):
    @given(keys())
    def test_smooth_is_pchip(self, result):
        """Fritsch and Butland 1984, as in scipy.interpolate.PchipInterpolator; outside the keys held."""
        x, y = result
        expected = PchipInterpolator(x, y)(np.clip(T.astype(float), x[0], x[-1]))
        np.testing.assert_allclose(curve(x, y, SMOOTH), expected, atol=2e-4)

    @given(keys())
    def test_linear_is_interp(self, result):
        np.testing.assert_allclose(curve(*result, LINEAR), np.interp(T, *result), atol=2e-4)

    @given(keys())
    def test_hold_keeps_the_last_key(self, result):
        x, y = result
        at = np.maximum(np.searchsorted(np.asarray(x, np.float32), T, side="right") - 1, 0)
        np.testing.assert_array_equal(curve(x, y, HOLD), np.asarray(y, np.float32)[at])

    @given(keys())
    def test_smooth_never_overshoots_its_keys(self, result):
        x, y = result
        values = curve(x, y, SMOOTH)
        self.assertGreaterEqual(values.min(), min(y) - 1e-4)
        self.assertLessEqual(values.max(), max(y) + 1e-4)

    def css(self, x1: float, y1: float, x2: float, y2: float) -> np.ndarray:
        """Return cubic-bezier(x1, y1, x2, y2) of CSS Easing Functions Level 1 at T: y where x(t) = T, solved by
        brentq."""
        at = lambda t, a, b: 3 * (1 - t) ** 2 * t * a + 3 * (1 - t) * t**2 * b + t**3
        return np.array(
            [
                at(brentq(lambda t, x=x: at(t, x1, x2) - x, 0, 1, xtol=1e-14), y1, y2) if 0 < x < 1 else x
                for x in T.astype(float)
            ]
        )

    def free(self, x1: float, y1: float, x2: float, y2: float) -> np.ndarray:
        out = np.empty(len(T), np.float32)
        curve_into(
            curve_table([0.0, 1.0], [0.0, 1.0], [FREE, FREE], [(None, (x1, y1)), ((x2 - 1, y2 - 1), None)]), T, out
        )
        return out

    def test_free_pieces_are_css_cubic_bezier(self):
        """The keywords ease, ease-in, ease-out and ease-in-out of CSS Easing Functions Level 1."""
        for points in ((0.25, 0.1, 0.25, 1), (0.42, 0, 1, 1), (0, 0, 0.58, 1), (0.42, 0, 0.58, 1)):
            np.testing.assert_allclose(self.free(*points), self.css(*points), atol=2e-3, err_msg=str(points))

    @given(st.floats(0.02, 1), st.floats(-0.5, 1.5), st.floats(0, 0.98), st.floats(-0.5, 1.5))
    @settings(max_examples=examples(60))
    def test_free_pieces_follow_any_handles(self, x1, y1, x2, y2):
        np.testing.assert_allclose(self.free(x1, y1, x2, y2), self.css(x1, y1, x2, y2), atol=0.03)

    @given(keys(least=3))
    def test_free_pieces_without_handles_are_smooth(self, result):
        np.testing.assert_allclose(curve(*result, FREE), curve(*result, SMOOTH), atol=5e-4)

    @given(st.floats(0, 1), st.floats(0, 1))
    def test_smooth_gradients_go_as_glsl_smoothstep(self, a, b):
        """smoothstep(0, 1, t) = t² (3 - 2 t), GLSL 4.60 section 8.3; mix(a, b, t) = a (1 - t) + b t."""
        out = [np.empty(len(T), np.float32) for _ in range(3)]
        gradient_into(gradient_table([0.0, 1.0], [(a,) * 3, (b,) * 3], [SMOOTH, SMOOTH]), T, *out)
        t = T.astype(float) ** 2 * (3 - 2 * T.astype(float))
        np.testing.assert_allclose(out[1], a * (1 - t) + b * t, atol=1e-6)

    def test_gradients_mix_in_linear_light(self):
        table = gradient_table([0.0, 0.5, 1.0], [(0, 0, 0), (4, 2, 1), (1, 1, 1)])
        out = [np.empty(3, np.float32) for _ in range(3)]
        gradient_into(table, np.array([0.25, 0.5, 0.75], np.float32), *out)
        np.testing.assert_allclose(np.stack(out, 1), [[2, 1, 0.5], [4, 2, 1], [2.5, 1.5, 1]], rtol=1e-6)


class Srgb(unittest.TestCase):
    """IEC 61966-2-1, against colour-science."""

    def test_encode_and_decode(self):
        x = np.linspace(0, 1, 4001)
        np.testing.assert_allclose(linear_to_srgb(x), colour.models.eotf_inverse_sRGB(x), atol=2e-7)
        np.testing.assert_allclose(srgb_to_linear(x), colour.models.eotf_sRGB(x), atol=2e-7)

    @given(st.floats(0, 1))
    def test_there_and_back(self, x):
        self.assertAlmostEqual(float(srgb_to_linear(linear_to_srgb(np.array(x)))), x, places=6)


def disc(picture: np.ndarray, x: float, y: float, radius: float, hardness: float) -> None:
    items = blank_items(1)
    items.place[:], items.axes[:], items.light[:] = (x, y, 1), (radius, 0, 0, -radius), 1
    items.traits[:, HARD] = min(hardness, 1 - 1.5 / radius)
    paint_items(picture, items, np.arange(1))


def paint(*discs, size=9) -> np.ndarray:
    """Paint discs (colour, opacity, cover) on one spot, the first at the back; return the middle pixel."""
    n = len(discs)
    picture = np.zeros((size, size, 4), np.float32)
    items = blank_items(n)
    items.place[:], items.axes[:] = (size / 2, size / 2, 1), (1000, 0, 0, -1000)
    items.light[:, :3], items.light[:, 3], items.traits[:, COVER] = ([d[k] for d in discs] for k in range(3))
    paint_items(picture, items, np.arange(n))
    return picture[size // 2, size // 2]


class Small(unittest.TestCase):
    """A disc gives light by its area and its profile's integral, however few pixels it has: area sampling (Catmull,
    SIGGRAPH 1978)."""

    def test_light_is_that_of_the_disc_however_small_it_is(self):
        height, away, count = 360, 5.0, 400
        for pixels in (0.3, 0.7, 1.0, 2.0, 3.0, 5.0, 12.0, 40.0):
            for hardness in (0.0, 0.5, 1.0):
                size = pixels / (height / (2 * math.tan(0.35))) * away
                one = emitter(
                    births__rate=row(0.0),
                    births__bursts=[{"uid": "b", "frame": 0, "count": count}],
                    births__lifespan=row(9.0),
                    births__place={"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([3.0, 2.0, 0.0])},
                    births__launch__speed=row(0.0),
                )
                one["look"] |= {
                    "sprite": "soft_disc",
                    "size": row(size),
                    "hardness": row(hardness),
                    "opacity": row(1e-3),
                }
                camera = {"position": [0.0, 1.0, away], "target": [0.0, 1.0, 0.0], "field_of_view": 0.7}
                clip = Playing(read_effect({**document(one), "camera": camera}))
                got = float(render_pixels(clip, 0, 640, height)[..., 3].sum(dtype=np.float64))
                soft = 1 - hardness
                light = hardness**2 + 2 * soft * (8 / 15 * hardness + soft / 6)
                self.assertAlmostEqual(
                    got / (count * 1e-3 * math.pi / 4 * pixels**2 * light),
                    1,
                    delta=0.01,
                    msg=f"{pixels} px, {hardness}",
                )

    def test_edges_are_as_steep_as_asked_where_pixels_can_show_it_and_opacity_never_grows(self):
        chance = np.random.default_rng(5)
        along, hardness = np.exp(chance.uniform(-4, 5, 3000)), chance.uniform(0, 1, 3000)
        across = along * chance.uniform(0.05, 1, 3000)
        long, wide, full, share = antialiased(along, across, hardness)
        given = long * wide * share * light_of_hardness(full)
        np.testing.assert_allclose(given, along * across * light_of_hardness(hardness), rtol=1e-9)
        self.assertTrue((share <= 1).all() and ((1 - full) * wide >= EDGE * 0.999).all())
        plain = (1 - hardness) * across >= EDGE
        np.testing.assert_array_equal(
            np.stack([long, wide, full])[:, plain], np.stack([along, across, hardness])[:, plain]
        )


colours = st.tuples(*[st.floats(0, 2)] * 3)
shares = st.floats(0, 1)


class Blending(unittest.TestCase):
    @given(st.floats(0, 0.8), st.floats(40, 90))
    @settings(max_examples=examples(30))
    def test_a_disc_covers_what_the_integral_of_its_profile_says(self, hardness, radius):
        """Full up to h, then (1 - q²)² with q = (r - h) / (1 - h): h² + 2 (1 - h) (8 h / 15 + (1 - h) / 6) of its
        circle; half way out 9/16."""
        picture = np.zeros((200, 200, 4), np.float32)
        disc(picture, 100.0, 100.0, radius, hardness)
        full, rest = hardness, 1 - hardness
        wanted = full**2 + 2 * rest * (8 / 15 * full + rest / 6)
        self.assertAlmostEqual(float(picture[..., 3].sum()) / (math.pi * radius**2), wanted, delta=2e-3)
        away = np.hypot(np.arange(100) + 0.5, 0.5)  # of the middles of a row's pixels
        between = np.interp(radius * (full + rest / 2), away, picture[100, 100:, 3])
        self.assertAlmostEqual(float(between), 9 / 16, delta=0.02 * 20 / (radius * rest))

    """Porter and Duff, SIGGRAPH 1984: A over B = A + (1 - alpha A) B on premultiplied colours; plus = A + B."""

    @given(colours, shares, colours, shares)
    def test_over(self, back, a, front, b):
        got = paint((back, a, 1), (front, b, 1))
        colour_ = np.array(front) * b + (1 - b) * np.array(back) * a
        np.testing.assert_allclose(got, [*colour_, b + (1 - b) * a], atol=1e-4)

    @given(colours, shares, colours, shares)
    def test_added_light_covers_nothing(self, back, a, front, b):
        got = paint((back, a, 1), (front, b, 0))
        np.testing.assert_allclose(got, [*(np.array(front) * b + np.array(back) * a), a], atol=1e-4)

    @given(colours, shares, colours, shares, shares)
    def test_between_over_and_plus_is_between_their_results(self, back, a, front, b, cover):
        over, plus, got = (paint((back, a, 1), (front, b, part)) for part in (1, 0, cover))
        np.testing.assert_allclose(got, cover * over + (1 - cover) * plus, atol=1e-4)

    def test_falloff_and_total_light(self):
        """Coverage is (1 - q²)²; over a disc of radius r it sums to pi r² / 3 (its integral). Full up to a share h of
        its radius it sums to pi r² (h² + 2 (1 - h) (8 h / 15 + (1 - h) / 6)); a sharp edge is a pixel and a half
        wide."""
        picture = np.zeros((200, 200, 4), np.float32)
        disc(picture, 100.25, 99.5, 60, 0)
        self.assertAlmostEqual(picture[..., 3].sum() / (np.pi * 60**2 / 3), 1, places=3)
        q = 30 / 60
        self.assertAlmostEqual(float(picture[99, 130, 3]), (1 - ((130.5 - 100.25) ** 2 / 60**2)) ** 2, places=5)
        self.assertLess(abs(float(picture[99, 130, 3]) - (1 - q * q) ** 2), 0.02)
        for wanted in (0.25, 0.7, 1.0):
            picture[:] = 0
            disc(picture, 100.25, 99.5, 60, wanted)
            h = min(wanted, 1 - 1.5 / 60)
            self.assertAlmostEqual(
                picture[..., 3].sum() / (np.pi * 60**2 * (h * h + 2 * (1 - h) * (8 * h / 15 + (1 - h) / 6))),
                1,
                places=3,
            )
            self.assertEqual(float(picture[99, 100 + int(58 * h), 3]), 1)

    def test_png_over_black_is_as_rendered(self):
        import io

        from PIL import Image

        picture = np.zeros((1, 3, 4), np.float32)
        picture[0] = [(0.5, 0.25, 0.1, 0), (0.2, 0.1, 0.05, 0.4), (0, 0, 0, 0)]  # added light; laid over; nothing
        png = np.asarray(Image.open(io.BytesIO(to_png(picture)))).astype(float) / 255
        over_black = srgb_to_linear(png[0, :, :3]) * png[0, :, 3:]
        np.testing.assert_allclose(over_black, picture[0, :, :3], atol=0.005)
        np.testing.assert_allclose(png[0, :, 3], [0.5, 0.4, 0], atol=0.003)
