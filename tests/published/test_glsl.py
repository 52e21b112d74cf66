"""Functions that GLSL has, against The OpenGL Shading Language 4.60, chapter 8: definitions and their edges."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from kagero.core.engine import Prepared
from tests.making.formulas import written

ordinary = st.floats(-100, 100, width=32)


def value(text: str, a: float = 0.0, b: float = 0.0, c: float = 0.0) -> float:
    """Return a formula of a, b, c as the engine that defines results computes it."""
    program, values = written([text])
    inputs = {name: np.full(1, x, np.float32) for name, x in (("a", a), ("b", b), ("c", c))}
    literals = {f"literal {k}": np.full(1, x, np.float32) for k, x in enumerate(values.params)}
    return float(Prepared(program).run(values, {n: (inputs | literals)[n] for n in program.inputs}, 1)["0.0"][0])


class Glsl(unittest.TestCase):
    def test_step_smoothstep_and_clamp_at_their_edges(self):
        # 8.3: step returns 0.0 if x < edge, otherwise 1.0
        self.assertEqual([value("step(a, b)", 0.5, x) for x in (0.4999999, 0.5, 0.6)], [0, 1, 1])
        # 8.3: smoothstep: t = clamp((x - edge0) / (edge1 - edge0), 0, 1); return t * t * (3 - 2 * t)
        self.assertEqual(
            [value("smoothstep(1, 3, a)", x) for x in (0.5, 1, 1.5, 2, 2.5, 3, 4)], [0, 0, 0.15625, 0.5, 0.84375, 1, 1]
        )
        # 8.3: clamp: min(max(x, minVal), maxVal)
        self.assertEqual([value("clamp(a, 2, 5)", x) for x in (1, 2, 3.5, 5, 6)], [2, 2, 3.5, 5, 5])

    def test_mix_is_exact_at_both_ends(self):
        # 8.3: x * (1 - a) + y * a
        self.assertEqual([value("mix(a, b, c)", 3.1, 1e7, t) for t in (0, 1)], [np.float32(3.1), 1e7])
        self.assertEqual(value("mix(10, 20, 0.25)"), 12.5)

    def test_rounding(self):
        # 8.3: floor, ceil, trunc (not larger in size), fract x - floor(x), roundEven: 3.5 and 4.5 give 4
        xs = (-1.5, -1.0, -0.25, 0.0, 0.25, 1.5, 2.5)
        for name, wanted in [
            ("floor", (-2, -1, -1, 0, 0, 1, 2)),
            ("ceil", (-1, -1, 0, 0, 1, 2, 3)),
            ("trunc", (-1, -1, 0, 0, 0, 1, 2)),
            ("fract", (0.5, 0, 0.75, 0, 0.25, 0.5, 0.5)),
            ("sign", (-1, -1, -1, 0, 1, 1, 1)),
        ]:
            self.assertEqual([value(f"{name}(a)", x) for x in xs], list(wanted), name)
        self.assertEqual([value("roundEven(a)", x) for x in (3.5, 4.5, -0.5, 2.4)], [4, 4, 0, 2])

    @given(ordinary, ordinary.filter(lambda y: abs(y) > 1e-3))
    def test_mod_has_the_sign_of_its_divisor(self, x, y):
        # 8.3: x - y * floor(x / y)
        q = math.floor(np.float32(np.float32(x) / np.float32(y)))
        self.assertAlmostEqual(value("mod(a, b)", x, y), x - y * q, delta=2e-5 * max(1, abs(x)))
        self.assertEqual(value("mod(a, b)", x, y), value("a % b", x, y))

    def test_angles_and_exponentials(self):
        # 8.1: atan(y, x) is the angle whose tangent is y / x, in its own quadrant, from -pi to pi; radians: degrees pi
        # / 180
        for y, x in [(1, 1), (1, -1), (-1, -1), (-1, 1), (0, -1), (1, 0), (-1, 0)]:
            self.assertAlmostEqual(value("atan(a, b)", y, x), math.atan2(y, x), places=6)
        self.assertAlmostEqual(value("radians(180)"), math.pi, places=6)
        self.assertAlmostEqual(value("degrees(pi)"), 180, places=4)
        # 8.2
        self.assertAlmostEqual(value("inversesqrt(a)", 16), 0.25)
        self.assertEqual([value("exp2(a)", x) for x in (-1, 0, 10)], [0.5, 1, 1024])
        self.assertEqual([value("log2(a)", x) for x in (0.5, 1, 1024)], [-1, 0, 10])
        self.assertEqual([value("pow(a, 3)", x) for x in (-2, 0, 2)], [-8, 0, 8])
        for name in ("sin", "cos", "tan", "asin", "acos", "atan", "sinh", "cosh", "tanh", "asinh", "atanh", "exp"):
            for x in (-0.9, -0.1, 0.0, 0.3, 0.95):
                self.assertAlmostEqual(value(f"{name}(a)", x), getattr(math, name)(np.float32(x)), places=6, msg=name)
        for x in (1.0, 1.5, 20.0):
            self.assertAlmostEqual(value("acosh(a)", x), math.acosh(x), places=5)
            self.assertAlmostEqual(value("log(a)", x), math.log(x), places=5)

    def test_vectors(self):
        # 8.5: dot, cross, normalize, reflect: I - 2 dot(N, I) N
        self.assertEqual(value("dot(vec3(1, 2, 3), vec3(4, -5, 6))"), 12)
        self.assertEqual([value(f"cross(vec3(1, 2, 3), vec3(4, 5, 6)).{c}") for c in "xyz"], [-3, 6, -3])
        self.assertAlmostEqual(value("length(normalize(vec3(3, 4, 12)))"), 1, places=6)
        self.assertEqual(value("distance(vec3(1, 1, 1), vec3(1, 4, 5))"), 5)
        self.assertEqual([value(f"reflect(vec3(1, -1, 0), vec3(0, 1, 0)).{c}") for c in "xyz"], [1, 1, 0])

    def test_domain_errors_are_what_ieee_754_says_and_never_silent_numbers(self):
        for text in (
            "sqrt(0 - 1)",
            "log(0 - 1)",
            "acos(2)",
            "asin(2)",
            "atanh(2)",
            "acosh(0)",
            "(0 - 8) ** (1 / 3)",
            "0 / 0",
            "mod(1, 0)",
        ):
            self.assertTrue(math.isnan(value(text)), text)
        self.assertEqual(
            [value(t) for t in ("1 / 0", "log(0)", "inversesqrt(0)", "0 - 1 / 0")],
            [math.inf, -math.inf, math.inf, -math.inf],
        )
