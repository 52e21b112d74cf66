"""Hue, saturation and lightness of colours, against Python's colorsys and examples of CSS Color Module Level 4, section
7."""

from __future__ import annotations

import colorsys
import math
import unittest
from functools import lru_cache
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.document import read_effect
from kagero.core.engine import current_engine, prepare_for_engine, prepare_reference
from kagero.core.kernels.colour import linear_to_srgb, srgb_to_linear
from kagero.core.parts.looks.shift import shifted
from kagero.core.program import Builder
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, response, row
from tests.soak import examples

shares = st.integers(0, 255).map(
    lambda step: step / 255
)  # so near to black or white that nothing is left of a hue, HSL says nothing
NAMES = ("r", "g", "b", "hue", "saturation", "lightness")


@lru_cache
def prepared() -> tuple[Builder, Any, Any]:
    b = Builder()
    r, g, bl, *by = (b.input(name) for name in NAMES)
    program = b.finish(dict(zip("xyz", shifted(b, (r, g, bl), *by), strict=True)))
    return b, prepare_reference(program), prepare_for_engine(program, current_engine())


def shift(colours: np.ndarray, by: np.ndarray, hot: bool = False) -> np.ndarray:
    """Return linear colours (n, 3) shifted by (n, 3): radians, and shares."""
    b, plain, machine = prepared()
    inputs = {
        name: np.ascontiguousarray(column, np.float32)
        for name, column in zip(NAMES, np.concatenate([colours, by], axis=1).T, strict=True)
    }
    result = (machine if hot else plain).run(b.slots.values(None), inputs, len(colours))
    return np.stack([result[axis] for axis in "xyz"], axis=1).astype(float)


class Shifts(unittest.TestCase):
    @settings(max_examples=examples(100), deadline=None)
    @given(shares, shares, shares, st.floats(-math.pi, math.pi), st.floats(-1, 3), st.floats(-1, 1), st.floats(1, 50))
    def test_as_colorsys_has_it_and_brighter_than_white_keeps_its_brightness(
        self, r, g, b, hue, saturation, lightness, bright
    ):
        h, light, s = colorsys.rgb_to_hls(r, g, b)
        light, s = min(max(light + lightness, 0), 1), min(max(s * (1 + saturation), 0), 1)
        wanted = np.array(colorsys.hls_to_rgb((h + hue / math.tau) % 1, light, s))
        linear = srgb_to_linear(np.array([[r, g, b]]))
        for hot in (False, True):
            got = shift(linear, np.array([[hue, saturation, lightness]]), hot)
            np.testing.assert_allclose(linear_to_srgb(got)[0], np.clip(wanted, 0, 1), atol=4e-4)
        top = linear / max(linear.max(), 1e-6) * bright  # its brightest component is this bright
        if linear.max() > 1e-3:
            alone = shift(top / bright, np.array([[hue, saturation, lightness]]))
            np.testing.assert_allclose(
                shift(top, np.array([[hue, saturation, lightness]])), alone * bright, rtol=2e-3, atol=2e-3
            )

    def test_examples_of_the_standard(self):
        """hsl(120deg 100% 25%) is green, #008000; hsl(30deg 100% 50%) is orange, #ff8000; from red, hsl(0 100% 50%)."""
        red = np.array([[1.0, 0, 0]])
        for by, wanted in (
            ((math.radians(120), 0, -0.25), (0, 128, 0)),
            ((math.radians(30), 0, 0), (255, 128, 0)),
            ((0, -1, 0), (128, 128, 128)),
        ):
            np.testing.assert_allclose(linear_to_srgb(shift(red, np.array([by])))[0] * 255, wanted, atol=0.51)

    def test_nothing_shifted_is_the_same_colour_to_the_bit(self):
        one = emitter(draws=[{"uid": "d", "name": "d", "kind": "uniform"}])
        tint = response("t", "draw:d", STRAIGHT, output=(-0.3, 0.3), operation="add", read="once", shape="linear")
        plain = Playing(read_effect(document(one))).show(20)[0].column("colour")
        still = (
            Playing(read_effect(document({**one, "look": {**one["look"], "hue": row(0.0)}})))
            .show(20)[0]
            .column("colour")
        )
        np.testing.assert_array_equal(plain, still)
        turned = (
            Playing(read_effect(document({**one, "look": {**one["look"], "hue": row(0.0, tint)}})))
            .show(20)[0]
            .column("colour")
        )
        self.assertGreater(len(np.unique(turned.round(4), axis=0)), 5)


if __name__ == "__main__":
    unittest.main()
