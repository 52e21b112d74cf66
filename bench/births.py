"""Births by a picture and masks at 400,000 particles, as ratios within one run: medians of three."""

from __future__ import annotations

import statistics
import time
from typing import Any

import numpy as np

from demo.parts import STRAIGHT, prop, response, row
from kagero.core.document import read_effect
from kagero.core.geometry import Picture
from kagero.core.workflows import Playing

COUNT, RUNS = 400_000, 3


def effect(place: dict[str, Any], masks: list[Any], *size: Any, **more: Any) -> dict[str, Any]:
    """Return an effect of so many particles that are born in its first frame and live on, drifting."""
    emitter = {
        "uid": "e",
        "name": "E",
        "births": {
            "rate": row(0.0),
            "bursts": [{"uid": "b", "frame": 0, "count": COUNT}],
            "place": place,
            "lifespan": row(100.0),
            "launch": {"direction": row([0.0, 1.0, 0.0]), "cone": row(3.0), "speed": row(0.4)},
        },
        "forces": [{"kind": "drag", "uid": "d", "rate": row(0.4, *size)}],
        "look": {"size": row(0.02), "opacity": row(1.0), "colour": row([1.0, 1.0, 1.0])},
        **more,
    }
    props = [
        prop("plane", "Plane", "shape", shape="plane", width=4.0, depth=4.0),
        prop("ball", "Ball", "shape", shape="sphere", radius=1.0),
        prop("map", "Map", "picture", files=[{"content": "0" * 32, "name": "map.png"}], shown="hidden"),
        *masks,
    ]
    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": "Bench",
        "clip": {"frame_rate": [25, 1], "first_frame": 0, "last_frame": 6},
        "camera": {"position": [0, 1, 4], "target": [0, 1, 0]},
        "props": props,
        "emitters": [emitter],
    }


def took(document: dict[str, Any], picture: Picture) -> tuple[float, float]:
    """Return seconds for the births, and for a step of all."""
    births, steps = [], []
    for run in range(RUNS + 1):
        playing = Playing(read_effect(document), None, lambda content: picture)
        started = time.perf_counter()
        playing.frames(0)
        born = time.perf_counter()
        playing.frames(1)
        first = time.perf_counter()
        playing.frames(3)
        if run:  # the first one compiles
            births.append(born - started)
            steps.append((time.perf_counter() - first) / 2)
    return statistics.median(births), statistics.median(steps)


def main() -> None:
    rng = np.random.default_rng(1)
    picture = Picture(
        np.concatenate([np.repeat(rng.random((512, 512, 1)), 3, 2), np.ones((512, 512, 1))], 2).astype(np.float32)
    )
    box = {"kind": "box", "centre": row([0.0, 0.0, 0.0]), "size": row([4.0, 0.1, 4.0])}

    def on(**more: Any) -> dict[str, Any]:
        return {"kind": "prop", "prop": "plane", "on": "surface", **more}

    def mask(uid: str, shape: str, **more: Any) -> dict[str, Any]:
        return prop(uid, uid.title(), "mask", shape=shape, falloff=row(0.5), **more)

    sphere, noise = mask("m", "sphere", radius=row(1.5)), prop("n", "N", "mask", shape="noise")
    joined = [
        sphere,
        mask("b", "box", size=row([2.0, 2.0, 2.0])),
        prop("u", "U", "mask", shape="union", masks=["m", "b"]),
    ]

    def by(uid: str, part: str = "value") -> dict[str, Any]:
        return response("r", {"kind": "mask", "mask": uid, "part": part}, STRAIGHT)

    print(
        f"births and masks: {COUNT:,} particles; seconds for all births, and for one step; times what a box without "
        "masks takes"
    )
    plain = took(effect(box, []), picture)
    for name, document in (
        ("in a box, no mask", effect(box, [])),
        ("on a mesh by area", effect(on(), [])),
        ("on a mesh by a picture of 512 x 512", effect(on(density={"picture": "map"}), [])),
        ("drag within a sphere", effect(box, [sphere], by("m"))),
        ("drag within a union of two", effect(box, joined, by("u"))),
        ("drag within noise", effect(box, [noise], by("n"))),
        ("drag once touched by a sphere", effect(box, [sphere], by("m", "latched"))),
        ("drag within a mesh", effect(box, [mask("w", "mesh", of="ball")], by("w"))),
        ("held to a mesh", effect(on(), [], motion={"grip": row(5.0)})),
    ):
        births, step = took(document, picture)
        print(f"{name:>40} {births:>7.2f} s {births / plain[0]:>6.1f}x {step:>8.3f} s {step / plain[1]:>6.1f}x")


if __name__ == "__main__":
    main()
