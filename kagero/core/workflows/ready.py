"""Compilation of kernels ahead of time, task by task, in the order in which a first picture needs them.

Kernels with declared signatures are compiled directly. The others are called through small effects that together reach
every kernel (a test holds that none is left). Compiled code is stored (`kernels.compiled`), so all of this happens once
for each state of the kernels.
"""

from __future__ import annotations

import fcntl
import os
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from ..document import read_effect
from ..geometry.streamlines import streamlines
from ..help import CARDS, fixtures, made_up, scenes
from ..help.content import FILES
from ..kernels import compiled
from ..parts.contacts import CONTACTS
from ..parts.pushes import PUSHES
from ..parts.rides import RIDES
from ..rows.writing import STRAIGHT, curve, row, source
from .play import Playing
from .rendering import RenderRequest, render_frame

Report = Callable[[int, int, str], None]
BIRTHS, DRAWN = 0, 1  # the halves of the tasks
# modules whose kernels the stage's first picture needs, then those of the first rendered one; all others follow
COMPILE_FIRST = (
    "random",
    "curves",
    "raster",
    "drawing",
    "bodies",
    "shading",
    "shadows",
    "noise",
    "finishing",
    "surfaces",
)


@dataclass(frozen=True)
class Task:
    """Kernels to compile: what they are for, in a few words, and a function that compiles them."""

    words: str
    run: Callable[[], None]


def compile_tasks() -> tuple[list[Task], list[Task]]:
    """Return tasks for two processes to run side by side, in order; they share hardly any kernels."""
    births = [
        Task("stepping particles", lambda: _play(scenes.part_scene("force", "curl_noise"))),
        Task("births inside meshes", _guided),
        *(
            Task(kind.compiles, partial(_show_card, f"{family}:{tag}"))
            for family, union in (("ride", RIDES), ("force", PUSHES), ("contact", CONTACTS))
            for tag, kind in union.kinds.items()
            if kind.compiles
        ),
        Task("streamlines", _streamlines),
    ]
    declared: dict[str, list[compiled.Kernel]] = {}
    for each in compiled.kernels():
        if each.declared:
            declared.setdefault(each.py_func.__module__.rpartition(".")[2], []).append(each)
    order = sorted(
        declared, key=lambda name: (COMPILE_FIRST.index(name) if name in COMPILE_FIRST else len(COMPILE_FIRST), name)
    )
    drawn = [Task(name, partial(_compile, declared[name])) for name in order]
    drawn.insert(len(COMPILE_FIRST), Task("pictures", _picture))
    drawn.append(
        Task(
            "noise in double precision", partial(_compile, [each for some in declared.values() for each in some], True)
        )
    )
    return births, drawn


def all_compiled(lane: int | None = None) -> bool:
    """Return whether everything is compiled for this state of the kernels."""
    return all(_lane_mark(each).exists() for each in ((BIRTHS, DRAWN) if lane is None else (lane,)))


def compile_ahead(report: Report = lambda done, of, words: None, lane: int | None = None) -> None:
    """Compile what is not compiled yet.

    report: called with the number of tasks done, their total, and what the next one is for. lane: 0 or 1, one half of
    the tasks, for a process that runs beside another and ends with its parent.
    """
    lanes = (BIRTHS, DRAWN) if lane is None else (lane,)
    if all_compiled(lane):
        return
    parent = os.getppid()
    halves = compile_tasks()
    done, of = 0, sum(len(halves[each]) for each in lanes)
    for each in lanes:
        report(done, of, halves[each][0].words)
        with _wait_for_lane(each):
            if all_compiled(each):  # by another process meanwhile
                done += len(halves[each])
                continue
            for task in halves[each]:
                if lane is not None and os.getppid() != parent:
                    return
                report(done, of, task.words)
                task.run()
                done += 1
            with suppress(OSError):  # nothing can be kept: it is compiled when it is needed
                _lane_mark(each).touch()
    report(of, of, "")


@contextmanager
def _wait_for_lane(lane: int) -> Iterator[None]:
    """Wait until no other process compiles this half of the tasks; where nothing can be stored, return at once."""
    try:
        compiled.folder().mkdir(parents=True, exist_ok=True)
        stream = (compiled.folder() / f"ready-{lane}.lock").open("w")
    except OSError:
        yield
        return
    with stream:
        fcntl.flock(stream, fcntl.LOCK_EX)
        yield


def compile_in_processes(report: Report, niceness: int = 0) -> bool:
    """Compile what is not compiled yet in processes of their own, one for each half of the tasks if there are cores,
    and return whether they succeeded. niceness: how far they stand back behind other processes."""
    if all_compiled():
        return True
    lanes: list[str] = ["0", "1"] if (os.cpu_count() or 1) > 1 else [""]
    state: dict[str, tuple[int, int, str]] = {}
    lock = threading.Lock()
    code = (
        "import os, sys; os.nice(int(sys.argv[2])); from kagero.core.workflows import compile_ahead; "
        "compile_ahead(lambda *report: print(*report, flush=True), int(sys.argv[1]) if sys.argv[1] else None)"
    )
    processes = [
        subprocess.Popen([sys.executable, "-c", code, lane, str(niceness)], stdout=subprocess.PIPE, text=True)
        for lane in lanes
    ]

    def follow(lane: str, process: subprocess.Popen[str]) -> None:
        for line in process.stdout or ():
            done, of, words = line.rstrip("\n").split(" ", 2)
            with lock:
                state[lane] = (int(done), int(of), words)
                working = ", ".join(each for _, _, each in state.values() if each)
                report(sum(each for each, _, _ in state.values()), sum(each for _, each, _ in state.values()), working)

    threads = [threading.Thread(target=follow, args=each, daemon=True) for each in zip(lanes, processes, strict=True)]
    for thread in threads:
        thread.start()
    try:
        ended = [process.wait() for process in processes]
        for thread in threads:
            thread.join()
    finally:
        for process in processes:
            process.kill()
    return not any(ended)


def _lane_mark(lane: int) -> Path:
    return compiled.folder() / f"ready-{lane}-{compiled.stamp_of_all()}"


def _play(document: dict[str, Any], frames: int = 3) -> None:
    Playing(read_effect(document), content=made_up).show(frames)


def _show_card(key: str) -> None:
    """Play the effect of a card."""
    effect = CARDS[key].effect()
    assert effect is not None, key
    Playing(effect, content=made_up).show(3)


def _guided() -> None:
    """Run births inside a scaled mesh, guided by it, seen within it: trees, nearest points, rays, inside tests."""
    wide = curve("wide", source("clip_time"), STRAIGHT, input=(0, fixtures.SECONDS), output=(1, 2), operation="set") | {
        "component": "x"
    }
    file = {"content": FILES["mesh"], "name": "guide.glb"}
    guide = {"kind": "mesh", "uid": "guide", "name": "guide", "file": file, "scale": row([1.0, 1.0, 1.0], wide)}
    mask = {"kind": "mask", "shape": "mesh", "uid": "within", "name": "within", "of": "guide", "falloff": row(0.1)}
    births = {
        **fixtures.fountain()["births"],
        "place": {"kind": "prop", "prop": "guide", "on": "inside"},
        "launch": {"aim": "guided", "guide": "guide", "cone": row(0.1)},
    }
    inside = curve("inside", source("mask", mask="within", part="value"), STRAIGHT)
    look = {**fixtures.fountain()["look"], "opacity": row(1.0, inside)}
    _play(fixtures.document(fixtures.fountain(births=births, look=look), props=[guide, mask]), 10)


def _compile(kernels: list[compiled.Kernel], all_signatures: bool = False) -> None:
    """Compile the first declared signature of kernels (single precision where there are several), or all of them."""
    for each in kernels:
        if all_signatures:
            each.compile_declared()
        else:
            each.compile(each.declared[0])


def _picture() -> None:
    """Render a picture with a solid prop in it."""
    render_frame(Playing(read_effect(scenes.contact_scene("prop")), content=made_up), 2, RenderRequest(64, 36))


def _streamlines() -> None:
    streamlines(np.ones((3, 3, 2)), 1.0)
