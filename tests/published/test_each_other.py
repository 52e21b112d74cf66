"""Particles that meet each other: two in closed form, momentum of a crowd, heaps that do not lie in each other, and the
same bytes for any threads."""

from __future__ import annotations

import itertools
import unittest
from typing import Any

import numpy as np

from kagero.core.document import read_effect, upgrade
from kagero.core.engine import current_engine, use_engine
from kagero.core.workflows import Playing
from tests.making import document, emitter, row
from tests.making.cues import formula as live


def formula(text: str) -> dict[str, Any]:
    result = live(text)
    return {**result, "base": {**result["base"], "read": "once"}}


GRAVITY = {"kind": "gravity", "uid": "g", "strength": row(9.81)}
FLOOR = {"kind": "plane", "uid": "f", "point": row([0.0, 0.0, 0.0]), "bounce": row(0.0), "friction": row(0.6)}


def crowd(
    count: int,
    place: str | None = None,
    velocity: str = "vec3(0, 0, 0)",
    size: float = 0.1,
    forces: Any = (),
    beside: Any = (),
    clip: dict[str, Any] | None = None,
    mass: Any = None,
    **contact: Any,
) -> Playing:
    """Return particles that are set at age nought by formulas over their number, and meet each other."""
    where = {"kind": "point", "centre": row([0.0, 0.0, 0.0]) if place is None else formula(place)}
    one = emitter(
        births__rate=row(0.0),
        births__bursts=[{"uid": "b", "frame": 0, "count": count}],
        births__lifespan=row(100.0),
        births__place=where,
        births__launch__speed=formula(f"length({velocity})"),
        births__launch__cone=row(0.0),
        births__launch__direction=formula(f"{velocity} + vec3(0.0000001, 0, 0)"),
        look__size=row(size),
        forces=list(forces),
        contacts=[*beside, {"kind": "others", "uid": "o", **contact}],
        **({"births__mass": mass} if mass else {}),
    )
    body = document(one)
    body["clip"] |= {"frame_rate": [24, 1], "last_frame": 96, **(clip or {})}
    return Playing(read_effect(upgrade(body)))


def state(playing: Playing, frame: int) -> tuple[np.ndarray, np.ndarray]:
    floats = playing.frames(frame)[0].population.floats.astype(np.float64)
    return floats[2:5].T, floats[5:8].T


def overlap(place: np.ndarray, size: float) -> float:
    """Return how deep the two that are nearest lie in each other, of their size."""
    away = np.linalg.norm(place[:, None] - place[None], axis=2)[np.triu_indices(len(place), 1)]
    return float(1 - away.min() / size)


class Two(unittest.TestCase):
    def test_head_on_they_change_their_velocities_by_their_masses(self):
        """v1' = ((m1 - e m2) v1 + (1 + e) m2 v2) / (m1 + m2), any handbook of mechanics."""
        for bounce, heavy in itertools.product((1.0, 0.5, 0.0), (1.0, 4.0)):
            mass = formula(f"1 if number < 1 else {heavy}")
            playing = crowd(
                2,
                "vec3(number * 0.5, 0, 0)",
                "vec3(1 - number * 3, 0, 0)",
                bounce=row(bounce),
                friction=row(0.0),
                mass=mass,
                clip={"substeps": 6},
            )
            _, v = state(playing, 12)
            m1, m2, v1, v2 = 1.0, heavy, 1.0, -2.0
            wanted = [
                ((m1 - bounce * m2) * v1 + (1 + bounce) * m2 * v2) / (m1 + m2),
                ((m2 - bounce * m1) * v2 + (1 + bounce) * m1 * v1) / (m1 + m2),
            ]
            np.testing.assert_allclose(v[:, 0], wanted, atol=1e-5)
            np.testing.assert_allclose(v[:, 1:], 0, atol=1e-6)

    def test_a_glancing_one_is_turned_along_the_line_of_both_only(self):
        """Without friction what is along the line between them is exchanged, all else stays."""
        playing = crowd(
            2,
            "vec3(number * 0.5, number * 0.05, 0)",
            "vec3(1 - number, 0, 0)",
            bounce=row(1.0),
            friction=row(0.0),
            clip={"substeps": 16},
        )
        _, v = state(playing, 24)
        self.assertAlmostEqual(float(np.sum(v**2)), 1.0, places=4)
        np.testing.assert_allclose(v.sum(0), [1, 0, 0], atol=1e-5)
        line = v[1] / np.linalg.norm(v[1])
        self.assertAlmostEqual(float(v[0] @ line), 0.0, delta=1e-4)
        self.assertAlmostEqual(abs(float(line[1])), 0.5, delta=0.03)


class Crowds(unittest.TestCase):
    def test_momentum_is_kept_and_energy_does_not_grow(self):
        playing = crowd(
            400,
            "vec3(number % 8, (number // 8) % 8, number // 64) * 0.11",
            "vec3(sin(number * 7.1), sin(number * 3.3), cos(number)) * 2",
            bounce=row(0.9),
            friction=row(0.3),
        )
        _, before = state(playing, 0)
        last = float(np.sum(before**2))
        for frame in (6, 24, 60):
            _, v = state(playing, frame)
            np.testing.assert_allclose(v.sum(0), before.sum(0), atol=2e-3)
            self.assertLessEqual(float(np.sum(v**2)), last * (1 + 1e-4))
            last = float(np.sum(v**2))
        self.assertGreater(float(np.abs(v[:, 1]).max()), 0.05)  # they did meet

    def test_a_heap_lies_on_the_floor_and_not_in_itself_and_comes_to_rest(self):
        """Sixty balls that fall on each other: none more than a tenth of its size within another, none in the floor,
        nearly none moves."""
        place = "vec3((number % 4) * 0.09, 0.2 + (number // 4) * 0.12, ((number * 7) % 5) * 0.03)"
        playing = crowd(
            60,
            place,
            forces=[GRAVITY],
            beside=[FLOOR],
            bounce=row(0.0),
            friction=row(0.5),
            rounds=12,
            clip={"last_frame": 240, "substeps": 4},
        )
        x, v = state(playing, 240)
        self.assertLess(overlap(x, 0.1), 0.1)
        self.assertGreater(float(x[:, 1].min()), 0.05 - 2e-3)
        self.assertLess(float(np.median(np.linalg.norm(v, axis=1))), 0.05)
        self.assertGreater(float(x[:, 1].max()), 0.1)
        touched = playing.frames(240)[0].population.carried["jostle.count"]
        self.assertGreater(float(touched.mean()), 2)

    def test_threads_change_no_byte_and_nobody_is_moved_where_a_share_meets_nobody(self):
        collected = []
        for threads in (1, 2):
            with use_engine(type(current_engine())(**{**current_engine().__dict__, "threads": threads})):
                playing = crowd(
                    6_000,
                    "vec3(sin(number), cos(number * 1.7), sin(number * 2.3)) * 0.8",
                    size=0.05,
                    clip={"last_frame": 6},
                )
                collected.append(playing.frames(6)[0].population.floats.tobytes())
        self.assertEqual(collected[0], collected[1])
        alone = crowd(2, "vec3(number * 0.02, 0, 0)", share=row(0.0))
        np.testing.assert_allclose(state(alone, 10)[0], [[0, 0, 0], [0.02, 0, 0]], atol=1e-6)
        both = crowd(2, "vec3(number * 0.02, 0, 0)")
        self.assertAlmostEqual(overlap(state(both, 10)[0], 0.1), 0.0, places=4)
