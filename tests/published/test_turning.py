"""Turning in space: spin, torque and drag against closed forms and SciPy's rotations; bodies unlike about their axes
against Euler's equations."""

from __future__ import annotations

import itertools
import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.spatial.transform import Rotation

from kagero.core.document import read_effect
from kagero.core.simulation import FrameStore
from kagero.core.workflows import Playing, render_pixels
from tests.making import document, emitter, row

PAPER = {
    "sprite": "picture",
    "shelf": "tile",
    "faces": "space",
    "size": row(0.8),
    "opacity": row(1.0),
    "colour": row([1.0, 1.0, 1.0]),
}


def body(look: dict[str, Any] | None = None, **turning: Any) -> dict[str, Any]:
    """Return an emitter with one particle that stands still and turns; vectors in degrees."""
    rows = {
        name: row([math.radians(x) if name != "inertia" else x for x in value] if isinstance(value, list) else value)
        for name, value in turning.items()
    }
    one = emitter(
        births__rate=row(0.0),
        births__bursts=[{"uid": "one", "frame": 0, "count": 1}],
        births__launch__speed=row(0.0),
        births__lifespan=row(1000.0),
        births__place__centre=row([0.0, 1.0, 0.0]),
        motion={"turning": rows},
    )
    return {**one, "look": look or PAPER}


def turned(collected: dict[str, Any], frame: int, **clip: Any) -> Rotation:
    """Return how the particle is turned at a frame."""
    carried = (
        Playing(read_effect(document(collected, last_frame=max(frame, 50), **clip))).frames(frame)[0].population.carried
    )
    q = np.array([carried[f"turned.{i}"][0] for i in range(4)], float)
    assert abs(np.linalg.norm(q) - 1) < 1e-6, q
    return Rotation.from_quat(q)


def apart(one: Rotation, other: Rotation) -> float:
    """Return by which angle two turns differ, degrees."""
    return math.degrees((one.inv() * other).magnitude())


class Spin(unittest.TestCase):
    @given(st.tuples(*[st.floats(-720, 720)] * 3), st.tuples(*[st.floats(-180, 180)] * 3))
    @settings(max_examples=10, deadline=None)
    def test_a_body_alike_about_its_axes_spins_evenly(self, spin: tuple[float, ...], start: tuple[float, ...]):
        """R(t) = exp(t w) R(0), w in the world; it begins turned about y, then its own x, then its own z, as props
        are."""
        begun = Rotation.from_euler("YXZ", [start[1], start[0], start[2]], degrees=True)
        result = body(spin=list(spin), start=list(start))
        self.assertLess(apart(turned(result, 0), begun), 0.02)
        self.assertLess(apart(turned(result, 25), Rotation.from_rotvec(np.radians(spin)) * begun), 0.05)

    def test_torque_and_drag_are_exact_where_they_are_constant(self):
        """About one axis: w' = T - k w, so that the angle is T/k t - (T/k - w0)(1 - exp(-k t))/k."""
        k, torque, w0, t = 1.7, 300.0, 90.0, 2.0
        angle = torque / k * t - (torque / k - w0) * (1 - math.exp(-k * t)) / k
        for rate, most in ((25, 0.4), (50, 0.1)):  # the mean of two velocities: of order two
            result = turned(
                body(spin=[0.0, w0, 0.0], torque=[0.0, torque, 0.0], damping=k), round(t * rate), frame_rate=[rate, 1]
            )
            self.assertLess(apart(result, Rotation.from_euler("y", angle, degrees=True)), most)
        free = turned(body(spin=[0.0, w0, 0.0], torque=[0.0, torque, 0.0]), 50)
        self.assertLess(apart(free, Rotation.from_euler("y", w0 * t + torque * t * t / 2, degrees=True)), 0.05)

    def test_it_stays_a_turn_over_thousands_of_steps(self):
        result = turned(body(spin=[400.0, 300.0, 200.0], inertia=[1.0, 2.0, 3.0]), 40, substeps=64)
        self.assertAlmostEqual(float(np.linalg.norm(result.as_quat())), 1.0, delta=1e-6)


class Euler(unittest.TestCase):
    INERTIA = np.array([1.0, 2.0, 3.0])

    def wanted(self, spin: list[float], t: float) -> Rotation:
        """Solve I w' = -w x I w in the body, and q' = q w / 2, by an eighth-order method (any handbook of
        mechanics)."""

        def change(_: float, y: np.ndarray) -> np.ndarray:
            q, w = y[:4], y[4:]
            (x, yy, z, s), (a, b, c) = q, w
            turning = 0.5 * np.array(
                [s * a + yy * c - z * b, s * b + z * a - x * c, s * c + x * b - yy * a, -x * a - yy * b - z * c]
            )
            return np.concatenate([turning, -np.cross(w, self.INERTIA * w) / self.INERTIA])

        found = solve_ivp(change, (0, t), [0, 0, 0, 1, *np.radians(spin)], method="DOP853", rtol=1e-10, atol=1e-12)
        return Rotation.from_quat(found.y[:4, -1])

    def test_a_free_body_wobbles_as_it_must_and_twice_as_fine_steps_are_four_times_as_near(self):
        spin = [40.0, 300.0, 30.0]  # about its middle axis: it flips over
        errors = [
            apart(turned(body(spin=spin, inertia=self.INERTIA.tolist()), 25, substeps=substeps), self.wanted(spin, 1.0))
            for substeps in (2, 4, 8)
        ]
        self.assertLess(errors[2], 0.6)
        for coarse, fine in itertools.pairwise(errors):
            self.assertAlmostEqual(coarse / fine, 4, delta=0.8)
        tipped = self.wanted(spin, 2.0).apply([0, 1, 0])[1]
        self.assertLess(tipped, 0.5)

    def test_without_torque_angular_momentum_stays(self):
        clip = Playing(read_effect(document(body(spin=[200.0, 100.0, 50.0], inertia=[1.0, 2.0, 3.0]))))
        first, last = (clip.frames(n)[0].population.carried for n in (0, 50))
        for i in range(3):
            self.assertEqual(float(first[f"swing.{i}"][0]), float(last[f"swing.{i}"][0]))


class Seen(unittest.TestCase):
    def covered(
        self, start: list[float], look: dict[str, Any] | None = None, also: dict[str, Any] | None = None
    ) -> float:
        fields = {**body(look, start=start), **(also or {})}
        return float(render_pixels(Playing(read_effect(document(fields))), 2, 160, 120)[..., 3].sum())

    def test_a_sheet_is_seen_as_it_is_turned_from_both_sides(self):
        """Its area goes with the cosine of the angle (nearly: it is near enough to see perspective); edge on it is a
        hair."""
        flat = self.covered([0.0, 0.0, 0.0])
        camera = self.covered([0.0, 0.0, 0.0], {**PAPER, "faces": "camera"})
        self.assertAlmostEqual(flat / camera, 1, delta=0.005)
        self.assertAlmostEqual(self.covered([0.0, 60.0, 0.0]) / flat, 0.5, delta=0.02)
        self.assertAlmostEqual(self.covered([0.0, 180.0, 0.0]) / flat, 1, delta=0.01)
        self.assertLess(self.covered([0.0, 90.0, 0.0]), 0.05 * flat)

    def test_its_axes_are_sources(self):
        for i, part in enumerate("xyz"):
            source = {"kind": "own_axis", "own": "z", "part": part}
            look = {**PAPER, "size": {"base": {"source": source, "read": "live"}, "responses": []}}
            shown = Playing(read_effect(document(body(look, start=[-30.0, 40.0, 20.0], spin=[0.0, 30.0, 0.0])))).show(
                25
            )[0]
            wanted = Rotation.from_quat([shown.population.carried[f"turned.{k}"][0] for k in range(4)]).apply([0, 0, 1])
            self.assertGreater(wanted[i], 0.2)
            self.assertAlmostEqual(float(shown.column("size")[0]), wanted[i], places=5)
        fast = body(
            {**PAPER, "size": {"base": {"source": {"kind": "tumbling"}, "read": "live"}, "responses": []}},
            spin=[0.0, 90.0, 0.0],
        )
        self.assertAlmostEqual(
            float(Playing(read_effect(document(fast))).show(9)[0].column("size")[0]), math.pi / 2, places=5
        )

    def test_a_look_steps_nothing_and_turning_is_simulated(self):
        store = FrameStore()
        address = lambda clip: Playing(read_effect(document(clip)), store).runs[0].address
        first = address(body(spin=[10.0, 0.0, 0.0]))
        self.assertEqual(address(body({**PAPER, "faces": "camera"}, spin=[10.0, 0.0, 0.0])), first)
        self.assertNotEqual(address(body(spin=[20.0, 0.0, 0.0])), first)
