"""Every function and operator of formulas: what it takes, gives and costs, its unit and its words.

Functions that GLSL has are named and defined as there (The OpenGL Shading Language 4.60, chapter 8); what it leaves
undefined is said in `help`.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

# each: component by component, numbers beside vectors serve every component. The others are named by what they take.
Takes = Literal["each", "vectors", "build", "noise", "previous", "choose", "truth", "compare"]
# keep: the first argument's unit; same: all agree; the others say it
UnitRule = Literal[
    "keep",
    "same",
    "plain",
    "product",
    "quotient",
    "power",
    "root",
    "inverse_root",
    "noise",
    "mix",
    "remap",
    "choose",
    "swirl",
]


@dataclass(frozen=True)
class Function:
    """parameters: their names; least: how many must be given. gives: "as given", "number", "vector" or "truth". weight:
    cost a component."""

    name: str
    parameters: tuple[str, ...]
    takes: Takes
    gives: Literal["as given", "number", "vector", "truth"]
    unit: UnitRule
    help: str
    example: str = ""
    least: int = 0
    weight: int = 1
    glsl: bool = True

    @property
    def fewest(self) -> int:
        return self.least or len(self.parameters)


def _each(
    name: str,
    parameters: str,
    unit: UnitRule,
    help: str,
    example: str = "",
    least: int = 0,
    weight: int = 1,
    glsl: bool = True,
) -> Function:
    return Function(name, tuple(parameters.split()), "each", "as given", unit, help, example, least, weight, glsl)


_ALL = [
    _each("sin", "angle", "plain", "Sine of an angle in radians.", "sin(clip_time * 2 * pi)", weight=4),
    _each("cos", "angle", "plain", "Cosine of an angle in radians.", "cos(life * pi)", weight=4),
    _each("tan", "angle", "plain", "Tangent of an angle in radians.", weight=6),
    _each("asin", "x", "plain", "Angle whose sine is x; x from -1 to 1.", weight=6),
    _each("acos", "x", "plain", "Angle whose cosine is x; x from -1 to 1.", weight=6),
    _each(
        "atan",
        "y x",
        "plain",
        "Angle whose tangent is y; with x the angle of (x, y), from -pi to pi.",
        "atan(position.z, position.x)",
        1,
        6,
    ),
    _each("sinh", "x", "plain", "Hyperbolic sine.", weight=6),
    _each("cosh", "x", "plain", "Hyperbolic cosine.", weight=6),
    _each("tanh", "x", "plain", "Hyperbolic tangent: runs from -1 to 1, softly.", weight=6),
    _each("asinh", "x", "plain", "Inverse of sinh.", weight=6),
    _each("acosh", "x", "plain", "Inverse of cosh; x of 1 and above.", weight=6),
    _each("atanh", "x", "plain", "Inverse of tanh; x between -1 and 1.", weight=6),
    _each("radians", "degrees", "plain", "Degrees as radians.", "radians(90)"),
    _each("degrees", "radians", "plain", "Radians as degrees."),
    _each("pow", "x power", "power", "x to a power; the same as x ** power.", "pow(life, 3)", weight=8),
    _each("exp", "x", "plain", "e to the power of x.", "exp(-3 * age)", weight=4),
    _each("log", "x", "plain", "Natural logarithm; x above 0.", weight=4),
    _each("exp2", "x", "plain", "2 to the power of x.", weight=4),
    _each("log2", "x", "plain", "Logarithm to base 2; x above 0.", weight=4),
    _each("sqrt", "x", "root", "Square root; x of 0 and above.", "sqrt(life)"),
    _each("inversesqrt", "x", "inverse_root", "1 / sqrt(x); x above 0.", weight=2),
    _each("abs", "x", "keep", "x without its sign.", "abs(position.x)"),
    _each("sign", "x", "plain", "-1, 0 or 1.", "sign(draws.draw_a - 0.5)"),
    _each("floor", "x", "keep", "Largest whole number not above x.", "floor(life * 8)"),
    _each("ceil", "x", "keep", "Smallest whole number not below x."),
    _each("trunc", "x", "keep", "x without what stands behind the point."),
    _each("round", "x", "keep", "Nearest whole number; halves go to the even one."),
    _each("roundEven", "x", "keep", "Nearest whole number; halves go to the even one."),
    _each("fract", "x", "keep", "x - floor(x): what stands behind the point.", "fract(clip_time)"),
    _each(
        "mod",
        "x y",
        "same",
        "x - y floor(x / y): the rest, with the sign of y; the same as x % y.",
        "mod(clip_time, 2)",
        weight=3,
    ),
    _each("min", "a b c d e f", "same", "Smallest of them.", "min(age, 1)", 2),
    _each("max", "a b c d e f", "same", "Largest of them.", "max(speed, 0.1)", 2),
    _each("clamp", "x low high", "same", "x, but not below low nor above high.", "clamp(height, 0, 1)", weight=2),
    _each(
        "mix",
        "a b share",
        "mix",
        "From a (share 0) to b (share 1): a (1 - share) + b share.",
        "mix(0.1, 0.3, draws.draw_a)",
        weight=3,
    ),
    _each("step", "edge x", "plain", "0 below the edge, 1 from it on.", "step(0.5, life)"),
    _each(
        "smoothstep",
        "edge0 edge1 x",
        "plain",
        "0 below edge0, 1 above edge1, smooth between.",
        "smoothstep(0.2, 0.8, life)",
        weight=5,
    ),
    _each(
        "remap",
        "x from_low from_high to_low to_high",
        "remap",
        "x moved from one range to another, going on beyond both.",
        "remap(height, 0, 2, 1, 0)",
        weight=5,
        glsl=False,
    ),
    Function("length", ("v",), "vectors", "number", "keep", "Length of a vector.", "length(velocity)", weight=3),
    Function(
        "distance",
        ("a", "b"),
        "vectors",
        "number",
        "same",
        "Length of a - b.",
        "distance(position, birth_position)",
        weight=4,
    ),
    Function(
        "dot",
        ("a", "b"),
        "vectors",
        "number",
        "product",
        "a.x b.x + a.y b.y + a.z b.z.",
        "dot(velocity, vec3(0, 1, 0))",
        weight=3,
    ),
    Function(
        "cross",
        ("a", "b"),
        "vectors",
        "vector",
        "product",
        "The vector at right angles to both.",
        "cross(position, vec3(0, 1, 0))",
        weight=3,
    ),
    Function(
        "normalize",
        ("v",),
        "vectors",
        "vector",
        "plain",
        "The direction of a vector: its length becomes 1.",
        "normalize(position)",
        weight=2,
    ),
    Function(
        "reflect",
        ("v", "normal"),
        "vectors",
        "vector",
        "keep",
        "v thrown back from a surface: v - 2 dot(normal, v) normal.",
        weight=3,
    ),
    Function(
        "vec3",
        ("x", "y", "z"),
        "build",
        "vector",
        "same",
        "A vector of three numbers, or of one three times.",
        "vec3(0, height, 0)",
        least=1,
    ),
    Function(
        "noise",
        ("place", "scale", "drift", "number"),
        "noise",
        "number",
        "noise",
        "Noise at a place, from -1 to 1. scale: size of its features (m); drift: how fast it changes (m/s); number: "
        "0, 1, 2 ... "
        "another noise, or a name, noises.fog, under which it is the same noise wherever it is named.",
        "noise(position, 0.5, 0.2)",
        least=1,
        weight=60,
        glsl=False,
    ),
    Function(
        "curl_noise",
        ("place", "scale", "drift", "number"),
        "noise",
        "vector",
        "swirl",
        "A swirling direction field at a place, without sources or sinks.",
        "curl_noise(position, 0.5, 0.2)",
        least=1,
        weight=60,
        glsl=False,
    ),
    Function(
        "previous",
        ("value",),
        "previous",
        "as given",
        "keep",
        "What a value was at the end of the step before; at birth what it starts from.",
        "previous(rows.size) * 0.99",
        weight=2,
        glsl=False,
    ),
]
FUNCTIONS: dict[str, Function] = {f.name: f for f in _ALL}

OPERATORS: dict[str, Function] = {
    f.name: f
    for f in [
        _each("add", "a b", "same", "a + b"),
        _each("sub", "a b", "same", "a - b"),
        _each("mul", "a b", "product", "a * b"),
        _each("div", "a b", "quotient", "a / b"),
        _each("pow", "a b", "power", "a ** b", weight=8),
        _each("mod", "a b", "same", "a % b", weight=3),
        _each("floordiv", "a b", "quotient", "a // b", weight=2),
        _each("neg", "a", "keep", "-a"),
        *(
            Function(name, ("a", "b"), "compare", "truth", "same", f"a {sign} b")
            for name, sign in (
                ("less", "<"),
                ("less_equal", "<="),
                ("greater", ">"),
                ("greater_equal", ">="),
                ("equal", "=="),
                ("not_equal", "!="),
            )
        ),
        *(Function(name, ("a", "b"), "truth", "truth", "plain", f"a {name} b") for name in ("and", "or")),
        Function("not", ("a",), "truth", "truth", "plain", "not a"),
        Function("choose", ("condition", "a", "b"), "choose", "as given", "choose", "a if condition else b"),
    ]
}

CONSTANTS: dict[str, tuple[float, str]] = {
    "pi": (math.pi, "Half a turn in radians: 3.14159."),
    "tau": (2 * math.pi, "A whole turn in radians: 6.28319."),
}
