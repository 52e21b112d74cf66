"""Is this tree as fast as another? `python -m bench.compare FOLDER`: 31 interleaved pairs a row, a process each, this
bench in both, or with --its-bench each tree's own.

A row falls short where the 95 % interval of its ratio (this / other, medians of pairs, bootstrapped) lies above 1.05;
all do where the geometric mean of the ratios lies above 1.02. --slower 1.1 makes this tree so much slower, to see that
it would be found.
"""

from __future__ import annotations

import argparse
import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from .rows import ROWS

PAIRS, MOST, MOST_ALL = 31, 1.05, 1.02
HERE = Path(__file__).parents[1]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("other", type=Path, help="the folder of the other tree")
    parser.add_argument("--pairs", type=int, default=PAIRS)
    parser.add_argument("--slower", type=float, default=1.0, help="a deliberate fault")
    parser.add_argument("--rows", nargs="+", choices=ROWS, default=list(ROWS), metavar="ROW", help="only these")
    parser.add_argument(
        "--its-bench", action="store_true", help="the other tree with its own bench: names have changed"
    )
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        other = Path(name) / "other"  # its core, with this bench
        shutil.copytree(options.other / "kagero", other / "kagero", ignore=shutil.ignore_patterns("__pycache__"))
        shutil.copytree(options.other / "demo", other / "demo", ignore=shutil.ignore_patterns("__pycache__"))
        bench = (options.other if options.its_bench else HERE) / "bench"
        shutil.copytree(bench, other / "bench", ignore=shutil.ignore_patterns("__pycache__"))
        ours, theirs = _serve(HERE), _serve(other)
        print(f"{options.pairs} pairs; {os.cpu_count()} cores; this / other, median and 95 % interval")
        short, ratios = [], []
        for row in options.rows:
            try:
                _ask(ours, row), _ask(theirs, row)
            except (ValueError, BrokenPipeError):
                print(f"{row:>28}  not in the other tree")
                theirs.kill()
                theirs = _serve(other)
                continue
            pairs = []
            for k in range(options.pairs):
                pair = [0.0, 0.0]
                for which in ((0, 1), (1, 0))[k % 2]:
                    pair[which] = _ask((ours, theirs)[which], row, options.slower if which == 0 else 1.0)
                pairs.append(pair[0] / pair[1])
            low, high = _interval(pairs)
            middle = float(np.median(pairs))
            ratios.append(middle)
            short += [row] if low > MOST else []
            print(f"{row:>28}  {middle:6.3f}  {low:6.3f} to {high:6.3f}{'   falls short' if low > MOST else ''}")
        mean = float(np.exp(np.mean(np.log(ratios))))
        fine = not short and mean <= MOST_ALL
        print(f"{'geometric mean':>28}  {mean:6.3f}{'' if mean <= MOST_ALL else '   falls short'}")
        for each in (ours, theirs):
            each.kill()
    return 0 if fine else 1


def _serve(tree: Path) -> subprocess.Popen[str]:
    return subprocess.Popen(
        [sys.executable, "-W", "ignore", "-m", "bench.rows"],
        cwd=tree,
        text=True,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        env={**os.environ, "PYTHONPATH": str(tree)},
    )


def _ask(server: subprocess.Popen[str], row: str, slower: float = 1.0) -> float:
    assert server.stdin and server.stdout
    server.stdin.write(json.dumps(row) + "\n")
    server.stdin.flush()
    seconds = float(json.loads(server.stdout.readline()))
    if slower > 1:
        time.sleep(seconds * (slower - 1))
    return seconds * slower


def _interval(ratios: list[float]) -> tuple[float, float]:
    chance = np.random.default_rng(1)
    medians = np.median(chance.choice(ratios, (4000, len(ratios))), axis=1)
    return float(np.percentile(medians, 2.5)), float(np.percentile(medians, 97.5))


if __name__ == "__main__":
    sys.exit(main())
