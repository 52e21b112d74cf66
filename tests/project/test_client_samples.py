"""The client draws curves, writes names and reads frame rates by itself: samples of the core's, which its own tests
read, are kept current here."""

from __future__ import annotations

import json
import unittest
from pathlib import Path

import numpy as np

from kagero.core.catalog import CURVE_PRESETS
from kagero.core.document import exact_rate
from kagero.core.formula import identifier
from kagero.core.kernels.curves import SHAPES, curve_into, curve_table

FILE = Path(__file__).parents[2] / "client/src/controls/curve.samples.json"
NAMES_FILE = FILE.parents[1] / "effect/names.samples.json"
NAMES = [
    "flicker",
    "Draw A",
    "  Wind 2 ",
    "8 points",
    "Höhe",
    "--",
    "dials.height",
    "UPPER_case",
    "a  b",
    "\u212aelvin",
    "灯",
]
RATES_FILE = FILE.parents[1] / "effect/rate.samples.json"
RATES = [1, 12.5, 14.286, 15, 23.976, 23.98, 24, 25, 29.97, 33.333, 47.952, 48, 50, 59.94, 60, 119.88, 120, 239.5, 240]
T = np.linspace(0, 1, 41).astype(np.float32)


def samples() -> list[dict]:
    generator = np.random.default_rng(5)
    outcome = list(CURVE_PRESETS.values())
    for count in (1, 2, 3, 5, 9):
        x = np.sort(generator.choice(1000, count, replace=False)) / 1000
        outcome.append(
            [
                (float(a), float(b), str(s))
                for a, b, s in zip(
                    x, generator.random(count).round(3), generator.choice(list(SHAPES), count), strict=True
                )
            ]
        )
    result = []
    for keys in outcome:
        out = np.empty(len(T), np.float32)
        curve_into(curve_table([k[0] for k in keys], [k[1] for k in keys], [SHAPES[k[2]] for k in keys]), T, out)
        result.append(
            {
                "keys": [{"x": x, "y": y, "shape": s} for x, y, s in keys],
                "t": T.round(6).tolist(),
                "y": out.round(6).tolist(),
            }
        )
    handled = [
        {"x": 0.1, "y": 0.2, "shape": "free", "out": [0.3, 0.6]},
        {"x": 0.6, "y": 0.9, "shape": "free", "into": [-0.05, -0.5], "out": [0.2, 0.4]},
        {"x": 1.0, "y": 0.0, "shape": "hold", "into": [0, 0.3]},
    ]
    out = np.empty(len(T), np.float32)
    pairs = [(tuple(k["into"]) if "into" in k else None, tuple(k["out"]) if "out" in k else None) for k in handled]
    curve_into(
        curve_table([k["x"] for k in handled], [k["y"] for k in handled], [SHAPES[k["shape"]] for k in handled], pairs),
        T,
        out,
    )
    result.append({"keys": handled, "t": T.round(6).tolist(), "y": out.round(6).tolist()})
    return result


def names() -> dict[str, str]:
    return {name: identifier(name) for name in NAMES}


def rates() -> list[list]:
    return [[typed, list(exact_rate(typed))] for typed in RATES]


class Samples(unittest.TestCase):
    def test_are_current(self):
        text = json.dumps(samples())
        self.assertEqual(
            json.loads(FILE.read_text()), json.loads(text), "run: python -m tests.project.test_client_samples"
        )
        self.assertEqual(
            json.loads(RATES_FILE.read_text()), rates(), "run: python -m tests.project.test_client_samples"
        )
        self.assertEqual(
            json.loads(NAMES_FILE.read_text()), names(), "run: python -m tests.project.test_client_samples"
        )


if __name__ == "__main__":
    RATES_FILE.write_text(json.dumps(rates()) + "\n")
    NAMES_FILE.write_text(json.dumps(names(), indent=1) + "\n")
    FILE.write_text(json.dumps(samples()) + "\n")
