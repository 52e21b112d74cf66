"""Pushes against closed forms, an independent integrator and published formulas. Sources stand beside each check."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
from scipy.integrate import solve_ivp

from kagero.core.engine import prepare_reference
from kagero.core.kernels.noise import curl_noise_into, lattice_offsets, turbulence_into
from tests.making import emitter, playing, row
from tests.making.pushes import G, drag, gravity
from tests.oracles import perlin


def one_of(forces: list[dict[str, Any]], place=(0.0, 0.0, 0.0), velocity=(0.0, 0.0, 0.0)) -> dict[str, Any]:
    """Return an emitter of one particle, born at frame 0, that lives long."""
    speed = math.hypot(*velocity)
    direction = list(velocity) if speed else [0.0, 1.0, 0.0]
    return emitter(
        forces=forces,
        births__rate=row(0),
        births__bursts=[{"uid": "b", "frame": 0, "count": 1}],
        births__lifespan=row(10_000),
        births__place__centre=row(list(place)),
        births__launch__speed=row(speed),
        births__launch__direction=row(direction),
    )


def flown(forces, frame, place=(0.0, 0.0, 0.0), velocity=(0.0, 0.0, 0.0), **clip):
    """Return position and velocity at a frame, float64."""
    p = playing(one_of(forces, place, velocity), **{"last_frame": frame, **clip}).frames(frame)[0].population
    return np.array([c[0] for c in p.position], float), np.array([c[0] for c in p.velocity], float)


def push(kind: str, uid: str = "p", **fields: Any) -> dict[str, Any]:
    """Return a push: numbers and triples are rows, words are settings."""
    rows = {
        name: value if isinstance(value, str) else row(list(value) if isinstance(value, tuple) else value)
        for name, value in fields.items()
    }
    return {"kind": kind, "uid": uid, **rows}


class Falling(unittest.TestCase):
    def test_free_flight_is_exact_at_any_frame_rate(self):
        """x = v0 t + g t² / 2 (any handbook of mechanics), to float32, after 2 s at 12, 24 and 60 frames a second."""
        for rate in (12, 24, 60):
            position, _ = flown([gravity()], 2 * rate, velocity=(1.0, 4.0, 0.0), frame_rate=rate)
            np.testing.assert_allclose(position, [2.0, 8.0 - G * 2, 0], atol=2e-5)

    def test_gravity_has_a_direction(self):
        _, velocity = flown([{**gravity(5.0), "direction": row([3.0, 0.0, 4.0])}], 25)
        np.testing.assert_allclose(velocity, [3.0, 0, 4.0], rtol=1e-5, atol=1e-6)

    def test_terminal_velocity_of_a_body(self):
        """Falling with drag k v² ends at sqrt(g / k), and v = v_t tanh(g t / v_t) on the way (any handbook of
        mechanics)."""
        k = 0.4
        end = math.sqrt(G / k)
        errors = []
        for substeps in (1, 2, 4):
            _, velocity = flown([gravity(), push("drag", rate=0.0, squared=k)], 12, substeps=substeps)
            errors.append(abs(-velocity[1] - end * math.tanh(G * 12 / 25 / end)))
        self.assertLess(errors[0], 0.02)
        np.testing.assert_allclose(np.log2(np.array(errors[:-1]) / errors[1:]), 2, atol=0.3)
        self.assertAlmostEqual(flown([gravity(), push("drag", rate=0.0, squared=k)], 100)[1][1], -end, places=4)

    def test_drag_of_a_body_alone(self):
        """v = v0 / (1 + k v0 t); with wind, of the speed against it."""
        for wind in (0.0, 2.0):
            forces = [push("wind", velocity=(wind, 0.0, 0.0), coupling=0.0, squared=0.5)]
            _, velocity = flown(forces, 25, velocity=(6.0, 0.0, 0.0))
            self.assertAlmostEqual(velocity[0], wind + (6 - wind) / (1 + 0.5 * (6 - wind)), places=2)


class Kepler(unittest.TestCase):
    """Kepler's laws (any textbook of mechanics), for a pull with the power -2."""

    def orbit(self, mu: float, radius: float, speed: float, turns: float, steps: int):
        period = 2 * math.pi * math.sqrt(radius**3 / mu)  # of the circle there
        pull = push("pull", strength=mu, fades="power", power=-2.0, core=0.0, point=(0.0, 0.0, 0.0))
        rate = 60
        frames = round(turns * period * rate)
        clip = playing(
            one_of([pull], (radius, 0.0, 0.0), (0.0, 0.0, speed)),
            last_frame=min(frames, 20_000),
            frame_rate=rate,
            substeps=max(1, round(steps / (period * rate))),
        )
        return clip, frames

    def test_energy_over_a_hundred_orbits(self):
        mu, radius = 4 * math.pi**2, 1.0  # a turn a second, in 60 steps
        result, frames = self.orbit(mu, radius, 2 * math.pi * 1.1, 100, 60)
        energies = []
        for frame in range(0, frames + 1, frames // 50):
            p = result.frames(frame)[0].population
            r = math.sqrt(sum(float(c[0]) ** 2 for c in p.position))
            energies.append(sum(float(c[0]) ** 2 for c in p.velocity) / 2 - mu / r)
        whole = (2 * math.pi * 1.1) ** 2 / 2 - mu
        self.assertLess(np.abs(np.array(energies) / whole - 1).max(), 4e-3)  # it swings within an orbit,
        self.assertLess(abs(np.mean(energies[-10:]) / np.mean(energies[:10]) - 1), 1e-3)  # and does not drift

    def test_third_law(self):
        """The square of the period goes with the cube of the radius."""
        periods = []
        for radius in (1.0, 2.0):
            speed = math.sqrt(4 * math.pi**2 / radius)
            result, frames = self.orbit(4 * math.pi**2, radius, speed, 1.2, 120)
            angles = np.unwrap(
                [
                    math.atan2(float(p.position[2][0]), float(p.position[0][0]))
                    for p in (result.frames(f)[0].population for f in range(frames + 1))
                ]
            )
            periods.append(np.interp(2 * math.pi, np.abs(angles), np.arange(frames + 1) / 60))
        self.assertAlmostEqual(periods[1] / periods[0], 2**1.5, places=2)


class Springs(unittest.TestCase):
    """x'' = -k x' - s x (any textbook of mechanics): exact whatever the step, underdamped, critical, overdamped."""

    def exact(self, s: float, k: float, t: float, x0: float, v0: float) -> tuple[float, float]:
        roots = np.roots([1, k, s]).astype(complex)
        if abs(roots[0] - roots[1]) < 1e-9:
            a, b, r = x0, v0 - roots[0] * x0, roots[0]
            return float(((a + b * t) * np.exp(r * t)).real), float(((b + r * (a + b * t)) * np.exp(r * t)).real)
        c1 = (v0 - roots[1] * x0) / (roots[0] - roots[1])
        c2 = x0 - c1
        e = np.exp(roots * t)
        return float((c1 * e[0] + c2 * e[1]).real), float((c1 * roots[0] * e[0] + c2 * roots[1] * e[1]).real)

    def test_one_step_or_many(self):
        for s, k in ((40.0, 0.0), (40.0, 2.0), (16.0, 8.0), (9.0, 30.0), (1e5, 3.0), (4e4, 400.0), (1e6, 5e4)):
            with self.subTest(stiffness=s, damping=k):
                spring = push("spring", strength=s, damping=k, point=(0.0, 0.0, 0.0))
                for rate, frame in ((1, 2), (25, 50)):
                    x, v = flown([spring], frame, (1.0, 0.0, 0.0), (0.0, 0.0, 0.5), frame_rate=rate)
                    wanted = [self.exact(s, k, 2.0, 1.0, 0.0), self.exact(s, k, 2.0, 0.0, 0.5)]
                    turns = math.sqrt(s) * 2 * 4e-6 * (8 if rate > 1 else 1)  # a phase of so many radians, in float32
                    np.testing.assert_allclose([x[0], x[2]], [w[0] for w in wanted], atol=2e-5 + turns)
                    np.testing.assert_allclose(
                        [v[0], v[2]], [w[1] for w in wanted], atol=(2e-5 + turns) * max(1, math.sqrt(s))
                    )

    def test_it_rests_where_gravity_balances_it(self):
        x, _ = flown([push("spring", strength=50.0, damping=20.0, point=(0.0, 2.0, 0.0)), gravity()], 200)
        self.assertAlmostEqual(x[1], 2 - G / 50, places=5)

    def test_to_where_it_was_born(self):
        x, _ = flown([push("spring", strength=100.0, damping=20.0, to="birth")], 100, (1.0, 2.0, 3.0), (5.0, 0.0, 0.0))
        np.testing.assert_allclose(x, [1, 2, 3], atol=1e-4)


def alone(force: dict[str, Any], places: np.ndarray, velocity=(0.0, 0.0, 0.0), seconds: float = 0.0) -> np.ndarray:
    """Return the acceleration that one push gives at places (n, 3), m/s²."""
    clip = playing(one_of([force]))
    plan = clip.plan.emitters[0]
    n = len(places)
    inputs: dict[str, Any] = {
        "key": np.arange(n, dtype=np.uint64),
        "age": np.zeros(n, np.float32),
        "lifespan": np.ones(n, np.float32),
    }
    inputs |= {f"position.{axis}": places[:, i].astype(np.float32) for i, axis in enumerate("xyz")}
    inputs |= {f"velocity.{axis}": np.full(n, velocity[i], np.float32) for i, axis in enumerate("xyz")}
    inputs |= {"birth_time": np.zeros(n), "time": seconds, **{name: np.zeros(n, np.float32) for name in plan.carried}}
    program = plan.pushes.program
    out = prepare_reference(program).run(plan.values, {name: inputs[name] for name in program.inputs}, n)
    return np.stack([out[f"{force['uid']}.{i}"] for i in range(3)], axis=1).astype(float)


class Fields(unittest.TestCase):
    places = np.random.default_rng(4).uniform(-3, 3, (400, 3))

    def test_a_pulls_strength_over_the_distance(self):
        """s (r² + c²)^(p / 2) r / sqrt(r² + c²): Plummer's softened pull (Monthly Notices of the R.A.S. 71, 1911) where
        p is -2."""
        r = np.linalg.norm(self.places, axis=1)
        for power, core, reach in ((-2.0, 0.0, 1.0), (-2.0, 0.3, 1.0), (1.0, 0.0, 2.0), (0.5, 0.2, 0.5)):
            result = alone(
                push("pull", strength=3.0, fades="power", power=power, core=core, reach=reach, point=(0.0, 0.0, 0.0)),
                self.places,
            )
            soft = np.sqrt(r * r + core * core)
            np.testing.assert_allclose(
                result, -self.places * (3.0 * (soft / reach) ** power / soft)[:, None], rtol=1e-4, atol=1e-5
            )

    def test_a_pull_to_a_line_points_straight_at_it(self):
        direction = np.array([1.0, 2.0, -1.0]) / math.sqrt(6)
        result = alone(
            push("pull", strength=1.0, to="line", core=0.0, point=(0.5, 0.0, 0.0), direction=(1.0, 2.0, -1.0)),
            self.places,
        )
        gap = np.array([0.5, 0, 0]) - self.places
        gap = gap - (gap @ direction)[:, None] * direction
        np.testing.assert_allclose(result, gap / np.linalg.norm(gap, axis=1, keepdims=True), rtol=2e-4, atol=1e-4)

    def test_a_swirls_streamlines_are_circles(self):
        """No part of it lies along the radius or the axis; with the power -1 and a core it is v = s r / (r² + c²):
        Kaufmann 1962, Scully 1975."""
        axis = np.array([1.0, 3.0, 0.5]) / np.linalg.norm([1.0, 3.0, 0.5])
        force = push(
            "swirl", strength=2.0, fades="power", power=-1.0, core=0.4, middle=(0.2, 0.1, 0.0), axis=(1.0, 3.0, 0.5)
        )
        result = alone(force, self.places)
        gap = self.places - np.array([0.2, 0.1, 0.0])
        out = gap - (gap @ axis)[:, None] * axis
        r = np.linalg.norm(out, axis=1)
        self.assertLess(np.abs(np.einsum("ij,ij->i", result, out)).max(), 1e-5)
        self.assertLess(np.abs(result @ axis).max(), 1e-5)
        np.testing.assert_allclose(np.linalg.norm(result, axis=1), 2.0 * r / (r * r + 0.16), rtol=1e-4)
        np.testing.assert_allclose(
            np.cross(np.broadcast_to(axis, out.shape), out) @ np.eye(3) * (2.0 / (r * r + 0.16))[:, None],
            result,
            rtol=1e-3,
            atol=1e-5,
        )

    def test_turning_air_takes_particles_round_in_circles(self):
        force = push("swirl", by="speed", strength=1.0, core=0.0, coupling=2000.0, inward=0.0)
        x, v = flown(
            [force, push("pull", "q", strength=1.0, to="line", core=0.0, point=(0.0, 0.0, 0.0))], 50, (1.0, 0.0, 0.0)
        )
        self.assertAlmostEqual(np.linalg.norm(v), 1.0, places=2)
        self.assertAlmostEqual(x[1], 0.0, places=5)

    def test_octaves_and_roughness(self):
        """Musgrave, in Ebert et al., "Texturing and Modeling", 3rd ed., ch. 16: the sum of noise(2^i x) gain^i, with
        gain = 2^-H."""
        offsets = lattice_offsets(5)
        one = lambda value: np.full(1, value, np.float32)
        columns = [np.ascontiguousarray(self.places[:60, i], np.float32) for i in range(3)]
        out = [np.empty(60, np.float32) for _ in range(3)]
        turbulence_into(*columns, one(0), one(0.7), one(0), one(0.35), offsets, 4, *out)
        for i in range(60):
            x, y, z = (float(c[i]) / 0.7 for c in columns)
            wanted = sum(
                0.35**k * perlin.noise(2**k * x + offsets[0], 2**k * y + offsets[1], 2**k * z + offsets[2])
                for k in range(4)
            )
            self.assertAlmostEqual(float(out[0][i]), wanted, places=4)
        rough, smooth = ([np.empty(60, np.float32) for _ in range(3)] for _ in range(2))
        curl_noise_into(*columns, one(0), one(1), one(0), one(0), offsets, 5, *smooth)
        curl_noise_into(*columns, one(0), one(1), one(0), one(0.5), offsets, 1, *rough)
        np.testing.assert_array_equal(rough, smooth)  # without roughness only the first octave is left


class Together(unittest.TestCase):
    def test_noise_drag_and_pull_converge_at_order_two(self):
        """Against scipy.integrate.solve_ivp (DOP853, rtol 1e-9) in the same field, evaluated by the same kernel in
        double precision."""
        forces = [
            push("curl_noise", "n", strength=2.0, scale=0.8, evolution=0.0),
            drag(0.7),
            push("pull", "q", strength=1.5, core=0.3, point=(0.4, 0.5, -0.2)),
        ]
        clip = playing(one_of(forces))
        plan = clip.plan.emitters[0]
        seed = plan.values.seeds[next(int(op.attrs[0]) for op in plan.step.operations if op.name == "curl_noise")]
        offsets = lattice_offsets(seed)
        one = lambda value: np.full(1, value)

        def slope(_t, y):
            swirl = [np.empty(1) for _ in range(3)]
            curl_noise_into(*(one(c) for c in y[:3]), one(0.0), one(0.8), one(0.0), one(0.5), offsets, 1, *swirl)
            gap = np.array([0.4, 0.5, -0.2]) - y[:3]
            return np.concatenate(
                [y[3:], 2 * np.array([s[0] for s in swirl]) - 0.7 * y[3:] + 1.5 * gap / math.sqrt(gap @ gap + 0.09)]
            )

        start = [0.1, 0.2, 0.3, 1.0, 0.5, 0.0]
        solved = solve_ivp(slope, (0, 1.2), start, method="DOP853", rtol=1e-9, atol=1e-11).y[:3, -1]
        errors = [np.linalg.norm(flown(forces, 30, start[:3], start[3:], substeps=n)[0] - solved) for n in (1, 2, 4)]
        self.assertLess(errors[0], 3e-3)
        np.testing.assert_allclose(np.log2(np.array(errors[:-1]) / errors[1:]), 2, atol=0.35)


class Limits(unittest.TestCase):
    def test_no_faster_and_no_slower(self):
        self.assertAlmostEqual(np.linalg.norm(flown([gravity(), push("limit", limit=2.0)], 50)[1]), 2.0, places=5)
        slow = flown(
            [push("limit", limit=0.0), push("limit", "l2", side="below", limit=1.5)], 10, velocity=(0.3, 0.0, 0.4)
        )[1]
        self.assertAlmostEqual(np.linalg.norm(slow), 0.0, places=5)  # who stands has no way to go faster
        self.assertAlmostEqual(
            np.linalg.norm(flown([push("limit", side="below", limit=1.5)], 10, velocity=(0.3, 0.0, 0.4))[1]),
            1.5,
            places=5,
        )

    def test_softly(self):
        """What is beyond goes by exp(-rate t), whatever the step."""
        for substeps in (1, 5):
            _, v = flown([push("limit", limit=1.0, rate=2.0)], 25, velocity=(3.0, 0.0, 0.0), substeps=substeps)
            self.assertAlmostEqual(v[0], 1 + 2 * math.exp(-2.0), places=4)


class Shares(unittest.TestCase):
    def test_a_share_of_a_push_is_so_much_of_it(self):
        half = flown(
            [
                {**gravity(8.0), "share": row(0.5)},
                {**push("wind", "w", velocity=(2.0, 0.0, 0.0), coupling=3.0), "share": row(0.25)},
            ],
            25,
        )
        whole = flown([gravity(4.0), push("wind", "w", velocity=(2.0, 0.0, 0.0), coupling=0.75)], 25)
        np.testing.assert_allclose(half, whole, rtol=1e-5, atol=1e-6)
        nothing = flown(
            [{**push("spring", "s", strength=50.0, damping=9.0), "share": row(0.0)}], 25, velocity=(1.0, 0.0, 0.0)
        )
        np.testing.assert_allclose(nothing[0], [1, 0, 0], atol=1e-6)
