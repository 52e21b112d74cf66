"""Motion against closed forms (any mechanics handbook) and against scipy's integrator."""

from __future__ import annotations

import unittest

import numpy as np
from scipy.integrate import solve_ivp

from tests.making import emitter, playing, row
from tests.making.pushes import G, K, drag, gravity


def thrown(forces: list[dict], substeps: int = 1, frame: int = 40, speed: float = 3.0, direction=(0.6, 0.8, 0.0)):
    """Return position and velocity at a frame of one particle born at frame 0; float64, metres, metres a second."""
    one = emitter(
        forces=forces,
        births__rate=row(0),
        births__bursts=[{"uid": "b", "frame": 0, "count": 1}],
        births__lifespan=row(100),
        births__launch__speed=row(speed),
        births__launch__direction=row(list(direction)),
    )
    population = playing(one, substeps=substeps).frames(frame)[0].population
    return np.array([c[0] for c in population.position], float), np.array([c[0] for c in population.velocity], float)


class Ballistic(unittest.TestCase):
    t = 40 / 25

    def test_velocity_is_exact(self):
        _, velocity = thrown([gravity()])
        np.testing.assert_allclose(velocity, [1.8, 2.4 - G * self.t, 0], rtol=1e-5, atol=1e-5)

    def test_position_is_exact(self):
        """x = v0 t + g t² / 2, whatever the step."""
        exact = np.array([1.8 * self.t, 2.4 * self.t - G * self.t**2 / 2, 0])
        for substeps in (1, 2, 8):
            np.testing.assert_allclose(thrown([gravity()], substeps)[0], exact, atol=1e-5)

    def test_without_forces_the_path_is_straight(self):
        position, velocity = thrown([])
        np.testing.assert_allclose(position, np.array([1.8, 2.4, 0]) * self.t, rtol=1e-5)
        np.testing.assert_allclose(velocity, [1.8, 2.4, 0], rtol=1e-6)


class LinearDrag(unittest.TestCase):
    t = 40 / 25

    def test_velocity_decays_exactly_whatever_the_step(self):
        """v = v0 exp(-k t): the exponential is exact, so that the number of steps does not matter."""
        for substeps in (1, 3, 16):
            _, velocity = thrown([drag()], substeps)
            np.testing.assert_allclose(
                velocity, np.array([1.8, 2.4, 0]) * np.exp(-K * self.t), rtol=1e-4, atol=1e-6
            )  # 640 roundings

    def test_terminal_velocity(self):
        """Falling with drag k ends at g / k; on the way v = (g / k)(exp(-k t) - 1) + v0 exp(-k t)."""
        _, velocity = thrown([gravity(), drag(4.0)], frame=50, speed=0)
        self.assertAlmostEqual(velocity[1], -G / 4 * (1 - np.exp(-4 * 2.0)), places=4)

    def test_two_drags_are_one_of_their_sum(self):
        np.testing.assert_allclose(
            thrown([drag(0.3), {**drag(0.5), "uid": "k2"}])[1], thrown([drag(0.8)])[1], rtol=1e-6
        )

    def test_wind_carries_along(self):
        """dv/dt = c (w - v): v tends to w, exactly v = w + (v0 - w) exp(-c t)."""
        wind = {"kind": "wind", "uid": "w", "velocity": row([2.0, 0.0, -1.0]), "coupling": row(0.9)}
        _, velocity = thrown([wind])
        w, v0 = np.array([2.0, 0, -1.0]), np.array([1.8, 2.4, 0])
        np.testing.assert_allclose(velocity, w + (v0 - w) * np.exp(-0.9 * self.t), rtol=1e-4, atol=1e-5)

    def test_agrees_with_an_independent_integrator(self):
        """Gravity, drag and wind together against scipy.integrate.solve_ivp (DOP853, rtol 1e-10)."""
        wind = {"kind": "wind", "uid": "w", "velocity": row([2.0, 0.5, -1.0]), "coupling": row(0.9)}
        lift = {"kind": "buoyancy", "uid": "l", "strength": row(1.5)}

        def slope(_t, y):
            x, v = y[:3], y[3:]
            del x
            return np.concatenate([v, [0, 1.5 - G, 0] - K * v + 0.9 * (np.array([2.0, 0.5, -1.0]) - v)])

        solved = solve_ivp(slope, (0, self.t), [0, 0, 0, 1.8, 2.4, 0], method="DOP853", rtol=1e-10, atol=1e-12).y[:, -1]
        for substeps in (1, 4, 16):  # constant pushes and couplings: exact, whatever the step
            position, velocity = thrown([gravity(), drag(), wind, lift], substeps)
            np.testing.assert_allclose(velocity, solved[3:], rtol=1e-4, atol=1e-4)
            np.testing.assert_allclose(position, solved[:3], rtol=1e-5, atol=2e-5)


class Frames(unittest.TestCase):
    """Common practice in the trade, no source: lifespan in seconds x frames a second = frames."""

    def test_lifespan_times_rate_is_frames(self):
        for seconds, rate, frames in ((1, 25, 25), (4, 25, 100), (4, 30, 120)):
            one = emitter(
                births__rate=row(0),
                births__bursts=[{"uid": "b", "frame": 3, "count": 7}],
                births__lifespan=row(seconds),
            )
            clip = playing(one, frame_rate=rate, last_frame=130)
            seen = [number for number in range(131) if len(clip.frames(number)[0].population)]
            self.assertEqual(seen, list(range(3, 3 + frames)))

    def test_a_births_a_frame_for_b_frames_makes_a_times_b(self):
        """a births a frame while frame < b, from frame 0, makes a x b: common practice, no source."""
        for a, b, rate in ((5, 9, 25), (3, 90, 30), (7, 24, 24)):
            one = emitter(births__rate=row(a * rate), births__duration=b / rate, births__lifespan=row(1000))
            self.assertEqual(len(playing(one, frame_rate=rate, last_frame=120).frames(120)[0].population), a * b)
