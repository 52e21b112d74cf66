"""Signatures of all operations: numbers of arguments and results, and kinds of attributes.

What an operation computes is defined by its NumPy function in `engine/operations`.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Beside = Literal["params", "curves", "gradients", "seeds", "queries", "number", "count"]


@dataclass(frozen=True)
class Signature:
    """arguments, outs: numbers of float32 values taken and given (`key` is uint64). beside: kinds of its attributes:
    groups of run-time values that slots stand for, or a number or count that is part of the structure. more: it accepts
    further sets of this many arguments."""

    arguments: int
    outs: int = 1
    beside: tuple[Beside, ...] = ()
    more: int = 0

    def takes(self, count: int) -> bool:
        """Return whether it accepts this many arguments."""
        further = count - self.arguments
        return further == 0 or (self.more > 0 and further > 0 and further % self.more == 0)


def _same(arguments: int, *names: str) -> dict[str, Signature]:
    return {name: Signature(arguments) for name in names}


SIGNATURES: dict[str, Signature] = {
    "const": Signature(0, beside=("number",)),
    "param": Signature(0, beside=("params",)),
    **_same(
        1,
        "neg",
        "sqrt",
        "cbrt",
        "sin",
        "cos",
        "floor",
        "clamp",
        "repeat",
        "mirror",
        "number",
        "normal",
        "abs",
        "sign",
        "ceil",
        "trunc",
        "round",
        "tan",
        "asin",
        "acos",
        "atan",
        "sinh",
        "cosh",
        "tanh",
        "asinh",
        "acosh",
        "atanh",
        "exp",
        "exp2",
        "log",
        "log2",
    ),
    **_same(
        2,
        "add",
        "sub",
        "mul",
        "div",
        "min",
        "max",
        "less",
        "power",
        "decay",
        "relax",
        "creep",
        "guard",
        "less_equal",
        "equal",
        "atan2",
        "pow",
    ),
    **_same(3, "mix", "length", "share", "select"),
    "flight": Signature(3, 3),
    "curve": Signature(1, beside=("curves",)),
    "gradient": Signature(1, 3, ("gradients",)),
    "draw": Signature(1, beside=("seeds",)),
    "redraw": Signature(2, beside=("seeds",)),
    "noise": Signature(6, 1, ("seeds", "count")),
    "curl_noise": Signature(7, 3, ("seeds", "count")),
    "turbulence": Signature(7, 3, ("seeds", "count")),
    "cone_direction": Signature(6, 3),
    "box_surface": Signature(6, 6),
    "prop_matrix": Signature(1, 12, ("queries",)),
    "prop_velocity": Signature(1, 3, ("queries",)),
    "prop_travelled": Signature(1, beside=("queries",)),
    "prop_born": Signature(5, 18, ("queries",)),
    "prop_bound": Signature(7, 18, ("queries",)),
    "prop_held": Signature(7, 3, ("queries",)),
    "prop_turned": Signature(7, 4, ("queries",)),
    "prop_part": Signature(2, 2, ("queries",)),
    "prop_sample": Signature(4, 7, ("queries",)),
    "prop_nearest": Signature(4, 9, ("queries",)),
    "prop_middle": Signature(1, 3, ("queries",)),
    "prop_ridden": Signature(6, 9, ("queries",)),
    "prop_along": Signature(3, 14, ("queries",)),
    "prop_carried": Signature(8, 6, ("queries",)),
    "prop_footing": Signature(4, 3, ("queries",)),
    "prop_footed": Signature(5, 8, ("queries",)),
    "prop_walked": Signature(12, 10, ("queries",)),
    "prop_field": Signature(4, 3, ("queries",)),
    # what comes of contacts; with the velocity after the last touch; with each of the step's first touches
    # (`kernels.contacts`)
    "met": Signature(37, 25, ("queries",), 13),
    "met_cued": Signature(37, 28, ("queries",), 13),
    "met_often": Signature(37, 156, ("queries",), 13),
    "met_colour": Signature(4, 3, ("queries",)),
    "prop_painted": Signature(4, 1, ("queries",)),
    "prop_reach": Signature(7, beside=("queries",)),
    "prop_picture": Signature(3, 4, ("queries",)),
}
