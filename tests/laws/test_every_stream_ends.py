"""No valid document's stream ends early, whatever its numbers do: every frame comes, then a clip packet that knows all
of them."""

from __future__ import annotations

import json
import unittest

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st

from demo.parts import gradient, row, written
from kagero.core.catalog import check_effect
from kagero.core.document import read_effect
from kagero.core.engine import REFERENCE, use_engine
from kagero.core.errors import BudgetError
from kagero.core.formats import unpack
from kagero.core.workflows import Playing, PlayRequest, play_packets
from tests.making import document, emitter
from tests.soak import examples

LAST = 6
extreme = st.one_of(st.sampled_from([0.0, 1.0, -1.0, 1e-30, -1e9, 1e9, 1e-6, 0.5]), st.floats(-1e6, 1e6))
source = st.sampled_from(
    [{"kind": kind} for kind in ("age", "life", "speed", "lifespan", "number", "clip_time", "height", "size")]
    + [{"kind": "draw", "draw": "d"}]
)
row_name = st.sampled_from(
    [
        "look.size",
        "look.opacity",
        "births.keep",
        "births.lifespan",
        "births.launch.speed",
        "motion.spin",
        "births.rate",
        "births.mass",
    ]
)


@st.composite
def responses(draw, uid: str):
    kind = draw(st.sampled_from(["curve", "curve", "ratio"]))
    fields = {
        "kind": kind,
        "uid": uid,
        "source": draw(source),
        "read": draw(st.sampled_from(["once", "live"])),
        "operation": draw(st.sampled_from(["multiply", "add", "set", "at_most", "at_least"])),
        "amount": draw(st.sampled_from([1.0, 0.0, 0.3])),
    }
    if kind == "ratio":
        return fields | {"reference": draw(extreme), "power": draw(st.sampled_from([-8.0, -1.0, 0.5, 8.0]))}
    return fields | {
        "input": [draw(extreme), draw(extreme)],
        "output": [draw(extreme), draw(extreme)],
        "exponent": draw(st.sampled_from([-16.0, -1.0, 0.0, 0.3, 16.0])),
        "shift": draw(st.sampled_from([0.0, 0.5, -3.0])),
        "beyond": draw(st.sampled_from(["hold", "repeat", "mirror"])),
        "curve": {
            "keys": [
                {"x": 0, "y": draw(st.floats(-1, 2)), "shape": "smooth"},
                {"x": 1, "y": draw(st.floats(-1, 2)), "shape": "linear"},
            ]
        },
    }


def put(one: dict, address: str, base, collected: list) -> None:
    *direction, last = address.split(".")
    target = one
    for part in direction:
        target = target.setdefault(part, {})
    before = target.get(last) or row(1.0)
    target[last] = (
        {**before, "responses": [*before.get("responses", []), *collected]}
        if base is None
        else {**row(base), "responses": collected}
    )


@st.composite
def documents(draw):
    one = emitter(
        draws=[{"kind": "uniform", "uid": "d", "name": "luck", "low": row(-1.0), "high": row(1.0)}],
        births__rate=row(draw(st.sampled_from([0.0, 30.0, 400.0]))),
    )
    for k in range(draw(st.integers(0, 3))):
        put(one, draw(row_name), None, [draw(responses(f"r{k}"))])
    if draw(st.booleans()):
        put(one, draw(row_name), None, [])
        one["look"]["opacity"] = written(
            "f",
            draw(
                st.sampled_from(
                    ["1 / (age - age)", "sqrt(age - 9)", "1e30 * 1e30", "log(life)", "age", "speed / 0", "0 ** -1"]
                )
            ),
        )
    if draw(st.booleans()):
        one["look"]["colour"] = row([1.0, 0.5, 0.2], gradient("g", "life", [(0, (0, 0, 0)), (1, (1, 1, 1))]))
    return document(one, last_frame=LAST)


def kept_with_a_negative_exponent():
    one = emitter(draws=[{"kind": "uniform", "uid": "d", "name": "luck", "low": row(0.0), "high": row(1.0)}])
    put(
        one,
        "births.keep",
        None,
        [
            {
                "kind": "curve",
                "uid": "r",
                "source": {"kind": "draw", "draw": "d"},
                "read": "once",
                "operation": "multiply",
                "input": [0.6, 1],
                "output": [0, 1],
                "exponent": -1,
                "curve": {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1, "shape": "linear"}]},
            }
        ],
    )
    return document(one, last_frame=LAST)


class Streams(unittest.TestCase):
    @settings(max_examples=examples(300))
    @given(documents())
    @example(kept_with_a_negative_exponent())
    def test_every_frame_comes_and_then_what_the_clip_tells(self, body):
        effect = read_effect(body)
        if check_effect(effect):
            return  # it cannot be played, and says why
        with use_engine(REFERENCE), np.errstate(all="ignore"):
            try:
                packets = [unpack(packet) for packet in play_packets(Playing(effect), 3, PlayRequest())]
            except BudgetError:
                return  # refused in words before it begins
        heads = [header for header, _ in packets]
        self.assertEqual({head["frame"] for head in heads if head["type"] == "frame"}, set(range(LAST + 1)))
        self.assertEqual(heads[-1]["type"], "clip")
        self.assertTrue(all(count is not None for each in heads[-1]["emitters"] for count in each["counts"]))
        json.dumps(heads, allow_nan=False)
        for _, arrays in packets:
            for name, array in arrays.items():
                self.assertTrue(np.isfinite(array).all(), name)
