"""The whole benchmark suite: `python -m bench [PART ...] [--slower FACTOR]`. Each part runs in a process of its own;
figures out of bounds are named at the end.

`--slower 2` is the deliberate fault: every figure with a bound is told as if it were twice as slow, so that figures
near their bounds must be named.
"""

from __future__ import annotations

import argparse
import json
import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from .bounds import RECORD, SLOWER

PARTS = (
    "engine",
    "profile",
    "props",
    "births",
    "motion",
    "contacts",
    "looks",
    "solids",
    "finish",
    "shaping",
    "players",
    "browser",
)


def yardstick() -> float:
    """Return the seconds that this machine takes for ten million turns of a loop in plain Python: 0.75 s on the cores
    that the aims were set on."""
    started, total = time.perf_counter(), 0
    for i in range(10_000_000):
        total += i * i
    return time.perf_counter() - started


def main() -> int:
    """Run the parts, print what was out of bounds, and return 1 where a part failed or a figure was out of bounds."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("parts", nargs="*", metavar="PART", help=f"{', '.join(PARTS)}; without one, all")
    parser.add_argument("--slower", type=float, default=1.0)
    options = parser.parse_args()
    if unknown := [part for part in options.parts if part not in PARTS]:
        parser.error(f"there is no part {', '.join(unknown)}; there are {', '.join(PARTS)}")
    started, failed = time.perf_counter(), []
    with tempfile.TemporaryDirectory() as folder:
        record = Path(folder) / "figures"
        record.touch()
        around = {**os.environ, RECORD: str(record), SLOWER: str(options.slower)}
        for part in options.parts or PARTS:
            print(f"\n{part}: yardstick {yardstick():.2f} s", flush=True)
            began = time.perf_counter()
            if subprocess.run([sys.executable, "-W", "ignore", "-m", f"bench.{part}"], env=around).returncode:
                failed.append(part)
            print(f"{part} took {time.perf_counter() - began:.0f} s", flush=True)
        figures = [json.loads(line) for line in record.read_text().splitlines()]
    return conclude(figures, failed, time.perf_counter() - started)


def conclude(figures: list[dict[str, object]], failed: list[str], seconds: float) -> int:
    """Print the figures out of their bounds and the parts that failed; return 1 where there is one of either, otherwise
    0."""
    out = [figure for figure in figures if not figure["fine"]]
    print(
        f"\n{len(figures)} figures with a bound, {len(out)} out of bounds; {seconds:.0f} s, yardstick "
        f"{yardstick():.2f} s"
    )
    for figure in out:
        print(f"  {figure['name']}: {figure['value']:.4g} {figure['unit']}; bound: {figure['bound']}")
    for part in failed:
        print(f"  {part} ended with an error: see above")
    return 1 if out or failed else 0


if __name__ == "__main__":
    sys.exit(main())
