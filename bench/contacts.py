"""What contacts and cues take: `python -m bench.contacts`. Steps of 100,000 particles on one thread, interleaved;
yardstick: the step without them."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from typing import Any

import numpy as np

from demo.parts import row
from kagero.core.document import SCHEMA_VERSION, read_effect
from kagero.core.workflows import Playing

from .bounds import within
from .effects import reference
from .motion import RUNS, SPHERE, ball, step_of, took

COUNT = 100_000
MOST = {"a plane, none near": 5.0, "the same, a twentieth near": 350.0, "ten cues": 10.0}  # ns
FLOOR = {"kind": "plane", "uid": "floor"}
BALL = {"uid": "ball", "name": "Ball", "kind": "mesh", "file": SPHERE, "position": row([0.0, 1.0, 0.0])}


def scene(
    contacts: list[Any], high: float, props: Sequence[Any] = (), count: int = COUNT, frames: int = 12, **more: Any
) -> Playing:
    """Return particles of 1 cm that fall, born evenly in a box a metre high about a height."""
    data = {**reference(count, frames), "schema_version": SCHEMA_VERSION, "props": list(props)}
    emitter = data["emitters"][0]
    emitter |= {"forces": [{"kind": "gravity", "uid": "g", "strength": row(9.81)}], "contacts": contacts, **more}
    emitter["births"] |= {"place": {"kind": "box", "centre": row([0.0, high, 0.0]), "size": row([2.0, 1.0, 2.0])}}
    emitter["births"]["launch"] |= {"aim": "direction", "speed": row(0.0)}
    emitter["look"] |= {"sprite": "soft_disc", "size": row(0.01)}
    return Playing(read_effect(data), content=lambda _: ball())


def drops() -> None:
    """Throw 200,000 drops at 50 m/s at a thin mesh that moves, and say how many went through."""
    moves = {
        **BALL,
        "position": {
            "base": {"source": {"kind": "formula", "uid": "m", "text": "vec3(0, sin(7 * clip_time), 0)"}},
            "responses": [],
        },
    }
    data = {**reference(200_000, 6), "schema_version": SCHEMA_VERSION, "props": [moves]}
    emitter = data["emitters"][0]
    emitter |= {"forces": [], "contacts": [{"kind": "prop", "uid": "m", "prop": "ball", "bounce": row(0.2)}]}
    emitter["births"]["place"] = {"kind": "box", "centre": row([0.0, 5.0, 0.0]), "size": row([1.2, 4.0, 1.2])}
    emitter["births"]["launch"] = {
        "aim": "direction",
        "direction": row([0.0, -1.0, 0.0]),
        "cone": row(0.0),
        "speed": row(50.0),
    }
    emitter["look"] |= {"sprite": "soft_disc", "size": row(0.002)}
    playing = Playing(read_effect(data), content=lambda _: ball())
    start = playing.frames(0)[0].population
    whole = np.hypot(start.position[0], start.position[2]) > 0.004  # the ball is open at its poles
    through = 0
    for frame in range(1, 7):
        population = playing.frames(frame)[0].population
        middle = playing.stage.places(playing.plan.seconds(frame))["ball"][:3, 3]
        through += int((whole & (np.linalg.norm(np.stack(population.position, 1) - middle, axis=1) < 0.99)).sum())
    print(
        f"200,000 drops at 50 m/s onto {len(ball().faces):,} triangles that move, 6 frames: {through} went "
        f"through{within('drops through a mesh', through, most=0, unit='')}"
    )


def works() -> dict[str, Playing]:
    """Return what is stepped, by name."""
    cue = lambda k: {"kind": "test", "uid": f"c{k}", "name": f"cue {k}", "value": row(0.5 + k / 20)}
    return {
        "without": scene([], 1.0),
        "a plane, none near": scene([FLOOR], 1.0),
        "a plane, one in twenty touches": scene([FLOOR], 0.45),
        "a mesh of 20,000 triangles, none near": scene([{"kind": "prop", "uid": "m", "prop": "ball"}], 3.0, [BALL]),
        "the same, a twentieth near": scene([{"kind": "prop", "uid": "m", "prop": "ball"}], 2.45, [BALL]),
        "each other, a heap of balls": scene([FLOOR, {"kind": "others", "uid": "o"}], 0.45, count=COUNT),
        "ten cues": scene([], 1.0, cues=[cue(k) for k in range(10)]),
    }


def main() -> None:
    times = took({name: step_of(each) for name, each in works().items()}, 2)
    plain = statistics.median(times["without"])
    print(
        f"a step of {COUNT:,} particles, one thread, medians of {RUNS} (lowest to highest), ns a particle, and what "
        "is more than without"
    )
    for name, each in times.items():
        low, middle, high = (t / COUNT * 1e9 for t in (min(each), statistics.median(each), max(each)))
        more = middle - plain / COUNT * 1e9
        late = (
            within(f"{name}, a particle and step more than without", more, most=MOST[name], unit="ns")
            if name in MOST
            else ""
        )
        print(f"{name:>40} {middle:>8.1f} ({low:.1f} to {high:.1f}) {more:>+8.1f}{late}")
    drops()


if __name__ == "__main__":
    main()
