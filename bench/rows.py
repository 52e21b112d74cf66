"""What is timed when two trees are compared: each row makes its work ready once and gives what is timed. `python -m
bench.rows` serves a tree."""

from __future__ import annotations

import json
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

try:
    from kagero.core.document import read_effect
except ImportError:  # a tree from before the document had its room
    from kagero.core.effect import read_effect  # type: ignore[import-not-found, no-redef]
from kagero.core import workflows
from kagero.core.engine import current_engine, prepare_for_engine
from kagero.core.simulation import FrameStore
from kagero.core.workflows import Packets, Playing
from kagero.core.workflows import measure as measure_rows

from .effects import mapped, reference

PlayRequest: Any = getattr(workflows, "PlayRequest", None) or workflows.RenderRequest  # type: ignore[attr-defined]  # as older trees call it
DEMO = Path(__file__).parents[1] / "demo" / "effects"


def _step(alive: int) -> Callable[[], Any]:
    clip = Playing(read_effect(reference(alive, frames=12)))
    plan = clip.plan.emitters[0]
    inputs = {**clip.frames(10)[0].population.inputs(), "dt": 0.04, "time": 0.44, "middle": 0.42}
    prepared = prepare_for_engine(plan.step, current_engine())
    turns = max(1, 100_000 // alive)

    def work() -> None:
        for _ in range(turns):
            prepared.run(plan.values, inputs, alive)

    return work


def _clip() -> Callable[[], Any]:
    document = read_effect(reference(5_000))
    return lambda: Playing(document, FrameStore()).frames(60)


def _edit() -> Callable[[], Any]:
    document, store = mapped(5_000), FrameStore()
    numbers = iter(np.linspace(0.5, 1.5, 100_000).tolist())

    def work() -> None:
        document["emitters"][0]["forces"][0]["strength"]["base"] = next(numbers)
        clip = Playing(read_effect(document), store)
        Packets(clip, PlayRequest()).frame(12, measured=True)

    return work


def _look() -> Callable[[], Any]:
    clip = Playing(read_effect(mapped(20_000)))
    clip.frames(30)
    return lambda: clip.show(30)


def _measured() -> Callable[[], Any]:
    clip = Playing(read_effect(mapped(5_000)))
    frame = clip.frames(60)[0]
    return lambda: measure_rows(clip.effect.emitters[0], clip.plan.emitters[0], frame.population, 2.4)


def _demo(name: str, frame: int) -> Callable[[], Any]:
    from demo.files import content

    effect = read_effect((DEMO / f"{name}.json").read_bytes())
    return lambda: Playing(effect, FrameStore(), content).frames(frame)


def _picture(name: str, frame: int) -> Callable[[], Any]:
    from demo.files import content
    from kagero.core.workflows import RenderRequest, render_frame

    effect = read_effect((DEMO / f"{name}.json").read_bytes())
    clip = Playing(effect, FrameStore(), content)
    clip.frames(frame)
    return lambda: render_frame(clip, frame, RenderRequest(320, 180))


def _contact(name: str) -> Callable[[], Any]:
    from .contacts import works
    from .motion import step_of

    work = step_of(works()[name])

    def turns() -> None:
        for _ in range(4):
            work()

    return turns


ROWS: dict[str, Callable[[], Callable[[], Any]]] = {
    "a step of 2,000": lambda: _step(2_000),
    "a step of 100,000": lambda: _step(100_000),
    "60 frames of 5,000": _clip,
    "an edit with 20 responses": _edit,
    "a look of 20,000": _look,
    "measuring 5,000": _measured,
    "births on a mesh": lambda: _demo("paper-crane-unravels", 8),
    "births from particles": lambda: _demo("petal-rain", 40),
    "masks and fields": lambda: _demo("name-burning-through", 25),
    "contacts with a mesh": lambda: _demo("beads-in-the-gutter", 40),
    "contacts with shapes": lambda: _demo("soap-bubbles", 40),
    "steps over a plane": lambda: _contact("a plane, none near"),
    "steps at a mesh": lambda: _contact("the same, a twentieth near"),
    "crawling and riding": lambda: _demo("mist-up-the-mooring-post", 30),
    "an eddy with neighbours": lambda: _demo("eddy-at-the-pier", 20),
    "a picture of streaks": lambda: _picture("lantern-embers", 60),
    "a picture of sprites": lambda: _picture("petal-rain", 60),
    "a picture of bodies": lambda: _picture("deck-in-the-wind", 60),
    "a picture of haze": lambda: _picture("mooring-fog", 60),
}


def main() -> None:
    """Answer lines on standard input, the names of rows, with seconds: made ready at the first, timed at each."""
    ready: dict[str, Callable[[], Any]] = {}
    for line in sys.stdin:
        name = json.loads(line)
        if name not in ready:
            ready[name] = ROWS[name]()
            begun, runs = time.perf_counter(), 0
            while runs < 8 or time.perf_counter() - begun < 2.0:  # compiled, and its optimised code in its place
                ready[name]()
                runs += 1
        started = time.perf_counter()
        ready[name]()
        print(json.dumps(time.perf_counter() - started), flush=True)


if __name__ == "__main__":
    main()
