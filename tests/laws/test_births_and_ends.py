"""Births and ends are told by events with their exact times, and who lives, and whose children are born, follows from
them."""

from __future__ import annotations

import unittest
from typing import Annotated, Any, Literal

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.engine import REFERENCE, current_engine, use_engine
from kagero.core.parts.pushes import PUSHES, PushPart
from kagero.core.rows.model import Driven
from kagero.core.rows.reader import Reader
from kagero.core.rows.responses import NumberRow
from kagero.core.rows.step import Phase, StepState
from kagero.core.rows.union import with_more_kinds
from kagero.core.rows.units import METRES
from kagero.core.simulation import BORN, ENDED
from kagero.core.workflows import Playing
from tests.making import emitter, playing, response, row
from tests.making.births import from_particles

LAST = 20
RATE = 187.3  # births of a parent a second, so that none falls on a frame but the first


class Ceiling(PushPart):
    """A level at which particles end, on their way up."""

    label = "Ceiling"

    kind: Literal["ceiling"] = "ceiling"
    level: Annotated[NumberRow, Driven("Ceiling", METRES, -100, 100, 1, 1.0, "How high particles come.")]

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase == "turn":
            b, level = at.builder, at.row(f"forces.{self.uid}.level")[0]
            before, after = state.before[0][1], state.position[1]
            share = b.op("div", b.op("sub", level, before), b.op("sub", after, before))
            state.end(b.op("less", level, after), share)


def under(uid: str = "one", level: float = 0.3, **changes: Any) -> dict[str, Any]:
    """Return an emitter whose particles rise at 1 to 2 m/s and end at a level, or of age."""
    speed = row(1.0, response("s", "draw:d1", [(0.0, 0.0), (1.0, 1.0)], operation="add", read="once"))
    return emitter(
        uid, forces=[{"kind": "ceiling", "uid": "c", "level": row(level)}], births__launch__speed=speed, **changes
    )


def events_of(playing_: Playing, index: int, what: int) -> dict[int, float]:
    """Return the times of all happenings of a sort up to LAST, by key."""
    run, result = playing_.runs[index], {}
    for number in range(run.earliest, LAST + 1):
        events = run.events(number).only(what)
        result.update(zip(events.key.tolist(), events.time.tolist(), strict=True))
    return result


class BirthsAndEnds(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.enterClassContext(with_more_kinds((PUSHES, Ceiling)))

    @given(st.floats(0.05, 0.9), st.floats(0.1, 0.8), st.integers(1, 3), st.integers(0, 9))
    @settings(max_examples=12, deadline=None)
    def test_who_lives_at_a_frame_are_those_born_and_not_ended(
        self, level: float, lifespan: float, substeps: int, run_up: int
    ):
        clip = playing(under(level=level, births__lifespan=row(lifespan)), substeps=substeps, run_up=run_up)
        born, ended = events_of(clip, 0, BORN), events_of(clip, 0, ENDED)
        for number in range(LAST + 1):
            now = clip.plan.seconds(number)
            wanted = {key for key, time in born.items() if time <= now and ended.get(key, np.inf) > now}
            self.assertEqual(set(clip.frames(number)[0].population.key.tolist()), wanted, number)
        for key, time in ended.items():
            self.assertLessEqual(born[key], time)
            self.assertLessEqual(time, born[key] + np.float64(np.float32(lifespan)) + 1e-9)

    def test_an_end_within_a_step_has_its_own_time(self):
        """Straight up without forces, y = v (t - birth): the level is passed at birth + level / v, wherever in a step
        that is."""
        for choice in (REFERENCE, current_engine()):
            with use_engine(choice):
                clip = playing(under(level=0.3))
                everybody = playing(under(level=99.0))
                speed = {
                    k: float(v) for n in range(0, LAST + 1, 5) for k, v in zip(*_speeds(everybody, n), strict=True)
                }
                born, ended = events_of(clip, 0, BORN), events_of(clip, 0, ENDED)
                self.assertGreater(len(ended), 20)
                for key, time in ended.items():
                    if key in speed:
                        self.assertAlmostEqual(time, born[key] + 0.3 / speed[key], delta=2e-6)

    def test_a_child_is_born_only_of_a_parent_that_lives(self):
        child = from_particles("c", "p", row(RATE), births__lifespan=row(1000.0))
        clip = playing(under("p", level=0.3), child)
        born, ended = events_of(clip, 0, BORN), events_of(clip, 0, ENDED)
        children = events_of(clip, 1, BORN)
        ends = {key: ended.get(key, np.inf) for key in born}
        expected = sum(len(_births(born[key], ends[key], clip.plan.seconds(LAST))) for key in born)
        self.assertEqual(len(children), expected)
        self.assertGreater(expected, 500)
        longer = playing(under("p", level=99.0), child)
        self.assertGreater(len(events_of(longer, 1, BORN)), 1.5 * expected)  # the same parents, living on, leave more


def _speeds(result: Playing, number: int) -> tuple[list[int], list[float]]:
    population = result.frames(number)[0].population
    return population.key.tolist(), population.velocity[1].tolist()


def _births(born: float, end: float, last: float) -> list[float]:
    """Return the births of a parent: at once, then evenly while it lives, up to a frame and in it."""
    return [
        time for n in range(int((last - born) * RATE) + 2) if (time := born + n / RATE) < end and time <= last + 1e-9
    ]
