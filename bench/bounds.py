"""The bounds of the benchmark's figures. Each figure that has one is compared where it is printed, and `python -m
bench` names those out of bounds again.

The milliseconds are aims of this project (docs/ENGINE.md, *Speed*) for two cores at rest; ratios hold on any machine.
"""

from __future__ import annotations

import json
import os
from pathlib import Path

RECORD, SLOWER = (
    "KAGERO_BENCH_RECORD",
    "KAGERO_BENCH_SLOWER",
)  # environment: the file that keeps compared figures; the deliberate fault


def within(name: str, value: float, *, most: float | None = None, least: float | None = None, unit: str = "ms") -> str:
    """Compare a figure with its bound, and return words to print behind it: empty where it is within its bound.

    :param value: the figure, in `unit`
    :param most: its upper bound; `least`: its lower bound; one of the two
    """
    slower = float(os.environ.get(SLOWER, "1"))
    if most is not None:
        value, bound, fine = value * slower, f"at most {most:g} {unit}", value * slower <= most
    elif least is not None:
        value, bound, fine = value / slower, f"at least {least:g} {unit}", value / slower >= least
    else:
        raise ValueError(f"{name} has no bound: give `most` or `least`")
    bound = bound.strip()
    if record := os.environ.get(RECORD):
        with Path(record).open("a") as file:
            file.write(json.dumps({"name": name, "value": value, "unit": unit, "bound": bound, "fine": fine}) + "\n")
    return "" if fine else f"  out of bounds: {bound}"
