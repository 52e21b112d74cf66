"""Fingerprints of what every demo effect simulates and draws, to hold a change of the kernels against what was before.

`python -m tests.laws.fingerprints` compares with `fingerprints.json`; with `--write` it renews the file. Same effect,
same result holds for one engine, lane width, processor family and library version (docs/ENGINE.md): those stand in the
file, and elsewhere nothing is compared. A simulation is hashed whole, at every frame, to the byte. Of pictures (160 x
90, at a third and two thirds of the clip) every pixel's bits are hashed too, and the floats themselves can be kept in a
folder (`--pictures FOLDER`) to measure by how much they differ.
"""

from __future__ import annotations

import argparse
import hashlib
import json
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import llvmlite
import numba
import numpy as np
from llvmlite import binding

from kagero.core.document import read_effect
from kagero.core.engine import current_engine
from kagero.core.workflows import Playing, RenderRequest, files_beside, render_frame

DEMO = Path(__file__).parents[2] / "demo"
KEPT = Path(__file__).with_suffix(".json")
WIDTH, HEIGHT = 160, 90


def here() -> dict[str, str]:
    """Return what a fingerprint depends on besides the effect and Kagero."""
    versions = f"numpy {np.__version__}, numba {numba.__version__}, llvmlite {llvmlite.__version__}"
    return {"engine": str(current_engine().identity), "processor": binding.get_host_cpu_name(), "versions": versions}


def effects() -> list[Path]:
    """Return the demo's effects."""
    return sorted((DEMO / "effects").glob("*.json"))


def opened(path: Path) -> Playing:
    """Return a demo effect with the files of its props."""
    return Playing(read_effect(path.read_bytes()).whole(), content=files_beside(DEMO / "props"))


def simulated(playing: Playing, frames: range | None = None) -> str:
    """Return the hash of all state of all emitters at the frames of a clip, or at some of them."""
    result = hashlib.sha256()
    for number in frames or range(playing.plan.first_frame, playing.plan.last_frame + 1):
        for frame in playing.frames(number):
            result.update(frame.to_bytes())
    return result.hexdigest()[:24]


def pictures(playing: Playing) -> Iterator[tuple[int, np.ndarray]]:
    """Yield the numbers of two frames and their pictures, (HEIGHT, WIDTH, 4) float32."""
    first, last = playing.plan.first_frame, playing.plan.last_frame
    for number in (first + (last - first) // 3, first + (last - first) * 2 // 3):
        yield (
            number,
            np.ascontiguousarray(render_frame(playing, number, RenderRequest(WIDTH, HEIGHT)).over(), np.float32),
        )


def fingerprint(path: Path, kept: Path | None = None) -> dict[str, str]:
    """Return the fingerprints of an effect: of its simulation and of its pictures. kept: a folder for the pictures'
    floats."""
    playing = opened(path)
    result = {"simulation": simulated(playing)}
    for number, picture in pictures(playing):
        result[f"picture {number}"] = hashlib.sha256(picture.tobytes()).hexdigest()[:24]
        if kept is not None:
            np.save(kept / f"{path.stem}-{number}.npy", picture)
    return result


def stored() -> dict[str, Any]:
    """Return what the file holds."""
    return json.loads(KEPT.read_text())


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--write", action="store_true", help="renew the file")
    parser.add_argument("--pictures", type=Path, help="a folder for the pictures' floats")
    options = parser.parse_args()
    if options.pictures:
        options.pictures.mkdir(parents=True, exist_ok=True)
    if not options.write and stored()["here"] != here():
        print(f"The file was written elsewhere: {stored()['here']}, here: {here()}.")
        return 2
    collected = {}
    for path in effects():
        collected[path.stem] = fingerprint(path, options.pictures)
        print(path.stem, *(f"{name} {value}" for name, value in collected[path.stem].items()), flush=True)
    if options.write:
        KEPT.write_text(json.dumps({"here": here(), "effects": collected}, indent=1) + "\n")
        return 0
    before = stored()["effects"]
    differ = [
        f"{stem}: {name}"
        for stem, each in collected.items()
        for name, value in each.items()
        if before.get(stem, {}).get(name) != value
    ]
    print("\n".join(differ) if differ else f"all {len(collected)} effects as before")
    return 1 if differ else 0


if __name__ == "__main__":
    sys.exit(main())
