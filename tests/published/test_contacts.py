"""Contacts against closed forms: impact, friction, slopes, what moves; none goes through; meshes against trimesh."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.document import read_effect, upgrade
from kagero.core.engine import current_engine, use_engine
from kagero.core.geometry import Mesh
from kagero.core.workflows import Playing
from kagero.core.workflows.particles import Particles, TableRequest
from tests.making import document, emitter, row
from tests.making.props import prop

G = 9.81
GRAVITY = {"kind": "gravity", "uid": "g", "strength": row(G)}


def formula(text: str) -> dict[str, Any]:
    return {
        "base": {"source": {"kind": "formula", "uid": f"f{abs(hash(text)) % 10**8}", "text": text}, "read": "live"},
        "responses": [],
    }


def once(text: str) -> dict[str, Any]:
    result = formula(text)
    result["base"]["read"] = "once"
    return result


def resolve_contacts_of(
    *contacts: dict[str, Any],
    at: Any = (0.0, 1.1, 0.0),
    speed: float = 0.0,
    along: Any = (1.0, 0.0, 0.0),
    size: float = 0.2,
    count: int = 1,
    forces: Any = (GRAVITY,),
    clip: dict[str, Any] | None = None,
    props: Any = (),
    content: Any = None,
    **more: Any,
) -> Playing:
    """Return an effect of balls that meet things."""
    place = at if isinstance(at, dict) else {"kind": "point", "centre": row(list(at))}
    one = emitter(
        births__rate=row(0.0),
        births__bursts=[{"uid": "b", "frame": 0, "count": count}],
        births__lifespan=row(10_000.0),
        births__launch__speed=row(speed),
        births__launch__cone=row(0.0),
        births__launch__direction=along if isinstance(along, dict) else row(list(along)),
        births__place=place,
        look__size=row(size),
        forces=list(forces),
        contacts=[{"uid": f"c{i}", "thickness": row(1.0), **each} for i, each in enumerate(contacts)],
        **more,
    )
    body = {**document(one), "props": list(props)}
    body["clip"] |= {"frame_rate": [24, 1], "last_frame": 240, **(clip or {})}
    return Playing(read_effect(upgrade(body)), **({"content": content} if content else {}))


def floor(**more: Any) -> dict[str, Any]:
    return {"kind": "plane", "bounce": row(0.0), "friction": row(0.0), **more}


def path(playing: Playing, frames: range) -> np.ndarray:
    """Return where the first particle is at frames, (n, 3)."""
    return np.array([playing.frames(frame)[0].population.floats[2:5, 0] for frame in frames], float)


class Impact(unittest.TestCase):
    def test_ten_bounces_by_the_exact_time_of_each(self):
        """Newton's rule: the height of bounce n is e^(2n) h; between bounces a parabola, whatever the frames are."""
        e, h = 0.9, 1.0
        for rate in ([24, 1], [60, 1]):
            playing = resolve_contacts_of(floor(bounce=row(e)), clip={"frame_rate": rate, "last_frame": 600})
            times = np.arange(1, int(7.0 * rate[0])) / rate[0]
            y = np.full(len(times), np.nan)
            start, speed, at = 0.0, 0.0, h
            bounces = 0
            for k in range(12):
                lands = start + (speed + math.sqrt(speed * speed + 2 * G * at)) / G
                here = (times >= start) & (times < lands)
                y[here] = at + speed * (times[here] - start) - G * (times[here] - start) ** 2 / 2
                start, speed, at = lands, e * math.sqrt(2 * G * h) * e**k, 0.0
                bounces += bool((times >= lands).any())
            self.assertGreaterEqual(bounces, 10)
            values = ~np.isnan(y)
            ours = path(playing, range(1, len(times) + 1))[:, 1] - 0.1
            np.testing.assert_allclose(ours[values], y[values], atol=2e-5)

    def test_the_ball_rests_on_the_floor_and_does_not_tremble(self):
        playing = resolve_contacts_of(floor(bounce=row(0.5), friction=row(0.4)), size=0.3)
        still = path(playing, range(120, 240))
        np.testing.assert_allclose(still[:, 1], 0.15, atol=2e-6)
        self.assertEqual(float(np.ptp(still, axis=0).max()), 0.0)

    def test_a_box_at_bounce_one_keeps_the_energy_over_ten_thousand_contacts(self):
        box = {
            "kind": "box",
            "side": "inside",
            "centre": row([0.0, 1.0, 0.0]),
            "size": row([0.5, 0.4, 0.3]),
            "bounce": row(1.0),
            "friction": row(0.0),
        }
        playing = resolve_contacts_of(
            box,
            at=(0.02, 1.03, 0.01),
            speed=60.0,
            along=(0.6, 0.5, 0.62),
            size=0.02,
            forces=(),
            clip={"last_frame": 860},
        )
        population = playing.frames(860)[0].population
        self.assertGreater(population.carried["touch.count"][0], 10_000)
        self.assertAlmostEqual(float(np.linalg.norm(population.floats[5:8, 0])), 60.0, delta=60e-5)
        inside = np.abs(population.floats[2:5, 0] - [0, 1, 0]) <= np.array([0.24, 0.19, 0.14]) + 1e-5
        self.assertTrue(inside.all())

    def test_the_moment_does_not_depend_on_substeps(self):
        """Straight flight onto a tilted plane: when, how fast, at which angle."""
        wall = floor(point=row([0.9, 0.0, 0.0]), normal=row([-1.0, 0.4, 0.2]), bounce=row(0.5))
        collected = []
        for substeps in (1, 3, 8):
            playing = resolve_contacts_of(
                wall, speed=3.3, forces=(), clip={"substeps": substeps}, look__opacity=formula("touch_speed * touches")
            )
            carried = playing.frames(30)[0].population.carried
            collected.append([float(carried[f"touch.{name}"][0]) for name in ("last", "speed", "angle", "count")])
        np.testing.assert_allclose(collected, [collected[0]] * 3, rtol=3e-6)
        n = np.array([-1.0, 0.4, 0.2]) / np.linalg.norm([-1.0, 0.4, 0.2])
        lands = (0.1 - (np.array([0.0, 1.1, 0.0]) - [0.9, 0, 0]) @ n) / (3.3 * n[0])
        np.testing.assert_allclose(collected[0], [lands, 3.3, math.acos(-n[0]), 1], rtol=3e-6)


class Friction(unittest.TestCase):
    def test_it_stops_after_v_squared_over_two_mu_g(self):
        for mu, v in ((0.2, 2.0), (0.5, 3.0)):
            at = path(resolve_contacts_of(floor(friction=row(mu)), at=(0.0, 0.1, 0.0), speed=v), range(240))
            self.assertAlmostEqual(at[-1, 0], v * v / (2 * mu * G), delta=2e-4)
            self.assertEqual(at[-1, 0], at[-20, 0])

    def test_on_a_slope_it_slides_where_the_tangent_is_above_mu_and_not_below(self):
        angle = math.radians(25)
        slope = row([math.sin(angle), math.cos(angle), 0.0])
        start = (0.1 * math.sin(angle), 0.1 * math.cos(angle), 0.0)
        for mu in (0.3, 0.45, 0.48, 0.9):
            at = path(resolve_contacts_of(floor(normal=slope, friction=row(mu)), at=start), range(25))
            gone = np.linalg.norm(at[-1] - at[0])
            wanted = max(math.sin(angle) - mu * math.cos(angle), 0) * G / 2 if mu < math.tan(angle) else 0.0
            self.assertAlmostEqual(gone, wanted, delta=1e-4, msg=str(mu))

    def test_full_friction_and_no_bounce_locks_it_where_it_lands(self):
        """Common practice, no source."""
        slope = row([0.5, 1.0, 0.0])
        at = path(resolve_contacts_of(floor(normal=slope, friction=row(1000.0)), speed=2.0), range(240))
        self.assertLess(float(np.ptp(at[60:], axis=0).max()), 1e-6)

    def test_an_impact_takes_along_what_it_presses(self):
        """Coulomb: across the normal the change is mu times that along it, until it stops."""
        for e, mu in ((0.5, 0.2), (0.8, 5.0)):
            playing = resolve_contacts_of(
                floor(bounce=row(e), friction=row(mu)), at=(0.0, 0.6, 0.0), speed=5.0, along=(0.6, -0.8, 0.0), forces=()
            )
            v = playing.frames(24)[0].population.floats[5:8, 0]
            np.testing.assert_allclose(v, [max(3.0 - mu * (1 + e) * 4.0, 0.0), e * 4.0, 0.0], atol=1e-5)

    def test_factors_of_the_emitter_multiply_also_above_one(self):
        playing = resolve_contacts_of(
            floor(bounce=row(0.4)),
            at=(0.0, 0.6, 0.0),
            speed=5.0,
            along=(0.0, -1.0, 0.0),
            forces=(),
            motion={"bounce": row(3.0)},
        )
        self.assertAlmostEqual(float(playing.frames(24)[0].population.velocity[1][0]), 6.0, delta=1e-5)


class Moving(unittest.TestCase):
    def test_what_rests_is_carried_and_what_moves_pushes(self):
        """A lift that rises and goes aside takes along who stands on it; a wall pushes who stands before it."""
        lift = prop("lift", position=formula("vec3(0.5 * clip_time, 0.3 * clip_time, 0)"))
        on = {"kind": "plane", "space": "lift", "bounce": row(0.0), "friction": row(1000.0)}
        at = path(resolve_contacts_of(on, at=(0.0, 0.1, 0.0), props=[lift]), range(49))
        np.testing.assert_allclose(at[48], [1.0, 0.1 + 0.6, 0.0], atol=5e-3)
        wall = {"kind": "plane", "space": "lift", "normal": row([1.0, 0.0, 0.0]), "bounce": row(0.0)}
        at = path(resolve_contacts_of(wall, at=(0.4, 5.0, 0.0), forces=(), props=[lift]), range(49))
        np.testing.assert_allclose(at[48, 0], 1.0 + 0.1, atol=1e-4)

    def test_a_stuck_one_goes_along_with_what_turns(self):
        turns = prop("lift", rotation=formula("vec3(0, clip_time, 0)"))
        ball = {
            "kind": "sphere",
            "space": "lift",
            "centre": row([0.0, 0.0, 0.0]),
            "radius": row(0.5),
            "stick": row(1.0),
        }
        at = path(
            resolve_contacts_of(ball, at=(0.2, 2.0, 0.1), size=0.1, props=[turns], look__opacity=formula("touches")),
            range(1, 120),
        )
        landed = 20
        local = np.array(
            [
                [
                    math.cos(k / 24) * p[0] - math.sin(k / 24) * p[2],
                    p[1],
                    math.sin(k / 24) * p[0] + math.cos(k / 24) * p[2],
                ]
                for k, p in enumerate(at, 1)
            ]
        )[landed:]
        np.testing.assert_allclose(local, np.broadcast_to(local[0], local.shape), atol=1e-5)


def ripple(across: int = 100) -> Mesh:
    """Return a thin wavy sheet of 2 x across² triangles, 4 m wide."""
    u, v = (g.ravel() for g in np.meshgrid(np.linspace(-2, 2, across + 1), np.linspace(-2, 2, across + 1)))
    points = np.stack([u, 0.1 * np.sin(3 * u) * np.cos(2 * v), v], 1)
    i, j = (g.ravel() for g in np.meshgrid(np.arange(across), np.arange(across)))
    a = j * (across + 1) + i
    faces = np.concatenate(
        [np.stack([a, a + across + 1, a + 1], 1), np.stack([a + 1, a + across + 1, a + across + 2], 1)]
    )
    return Mesh.of(points.astype(np.float32), faces.astype(np.int32))


SHEET, BALL = {"content": "7a" * 16, "name": "sheet.glb"}, {"content": "7b" * 16, "name": "ball.glb"}


class Meshes(unittest.TestCase):
    def test_of_ten_thousand_fast_drops_none_goes_through_a_thin_moving_mesh(self):
        """50 m/s, 2 m a frame, onto 20,000 triangles that move and turn; drops of 2 mm and of no size."""
        sheet = prop(
            "sheet",
            kind="mesh",
            file=SHEET,
            position=formula("vec3(0.3 * sin(4 * clip_time), sin(7 * clip_time), 0)"),
            rotation=formula("vec3(0.2 * sin(3 * clip_time), 0, 0.2 * cos(3 * clip_time))"),
        )
        for size in (0.002, 0.0):
            place = {"kind": "box", "centre": row([0.0, 6.0, 0.0]), "size": row([2.4, 4.0, 2.4])}
            playing = resolve_contacts_of(
                {"kind": "prop", "prop": "sheet", "bounce": row(0.2), "friction": row(0.1)},
                at=place,
                speed=50.0,
                along=(0.0, -1.0, 0.0),
                size=size,
                count=10_000,
                props=[sheet],
                content=lambda _: ripple(),
                clip={"last_frame": 12},
            )
            for frame in range(1, 13):
                population = playing.frames(frame)[0].population
                matrix = playing.stage.places(frame / 24)["sheet"]
                local = (np.stack(population.position, 1) - matrix[:3, 3]) @ matrix[:3, :3]
                over = (np.abs(local[:, 0]) < 1.95) & (np.abs(local[:, 2]) < 1.95)
                height = local[:, 1] - 0.1 * np.sin(3 * local[:, 0]) * np.cos(2 * local[:, 2])
                self.assertGreater(float(height[over].min()), -1e-3, (size, frame))

    def test_where_and_when_as_rays_meet_it(self):
        """Points without size onto a sphere of triangles, straight on: against trimesh."""
        ball = trimesh.creation.icosphere(3, radius=0.7)
        rng = np.random.default_rng(4)
        for start in rng.normal(size=(12, 3)):
            start = start / np.linalg.norm(start) * 2.5
            direction = rng.normal(size=3) * 0.3 - start
            direction /= np.linalg.norm(direction)
            places, _, _ = ball.ray.intersects_location([start], [direction], multiple_hits=False)
            shape = {"kind": "prop", "prop": "sheet", "bounce": row(0.0), "friction": row(1000.0)}
            playing = resolve_contacts_of(
                shape,
                at=start,
                along=direction,
                speed=4.0,
                size=0.0,
                forces=(),
                props=[prop("sheet", kind="mesh", file=BALL)],
                content=lambda _: Mesh.of(ball.vertices, ball.faces),
                look__opacity=formula("touches"),
            )
            population = playing.frames(48)[0].population
            if len(places):
                far = float(np.linalg.norm(places[0] - start))
                self.assertAlmostEqual(float(population.carried["touch.last"][0]), far / 4.0, delta=5e-5)
                np.testing.assert_allclose(np.array(population.floats[2:5, 0]), places[0], atol=2e-4)
            else:
                self.assertEqual(float(population.carried["touch.count"][0]), 0.0)

    @given(st.integers(0, 1000))
    @settings(max_examples=8, deadline=None)
    def test_shapes_are_met_where_geometry_says(self, seed: int):
        """A ball of radius r meets a sphere where its middle is R + r from the other's; a box, a cylinder where it is r
        from its surface."""
        rng = np.random.default_rng(seed)
        start = rng.normal(size=3)
        start = start / np.linalg.norm(start) * 2.0
        direction = rng.normal(size=3) * 0.2 - start
        direction /= np.linalg.norm(direction)
        shapes = {
            "sphere": {"centre": row([0.0, 0.0, 0.0]), "radius": row(0.5)},
            "box": {"centre": row([0.0, 0.0, 0.0]), "size": row([1.0, 0.6, 0.8])},
            "cylinder": {"centre": row([0.0, 0.0, 0.0]), "radius": row(0.4), "height": row(0.9)},
        }

        def away(kind: str, p: np.ndarray) -> float:
            if kind == "sphere":
                return float(np.linalg.norm(p) - 0.5)
            q = (
                np.abs(p) - [0.5, 0.3, 0.4]
                if kind == "box"
                else np.array([np.hypot(p[0], p[2]) - 0.4, abs(p[1]) - 0.45])
            )
            return float(np.linalg.norm(np.maximum(q, 0)) + min(q.max(), 0.0))

        for kind, shape in shapes.items():
            playing = resolve_contacts_of(
                {"kind": kind, **shape, "bounce": row(0.0), "friction": row(1000.0)},
                at=start,
                along=direction,
                speed=2.0,
                size=0.1,
                forces=(),
                look__opacity=formula("touches"),
            )
            population = playing.frames(48)[0].population
            ts = np.linspace(0, 4.0, 4001)
            gaps = np.array([away(kind, start + direction * t) for t in ts]) - 0.05
            if gaps.min() < -1e-4:
                self.assertAlmostEqual(away(kind, population.floats[2:5, 0].astype(float)), 0.05, delta=1e-5)
                self.assertAlmostEqual(
                    float(population.carried["touch.last"][0]) * 2.0, ts[np.argmax(gaps < 0)], delta=2e-3
                )
            elif gaps.min() > 1e-4:
                self.assertEqual(float(population.carried["touch.count"][0]), 0.0)

    def test_what_bends_carries_and_a_pushed_through_one_is_on_its_side_again(self):
        """Born in what is closed, they stay within it: the side that they are on never changes."""
        ball = trimesh.creation.icosphere(3, radius=0.7)
        shape = {"kind": "prop", "prop": "sheet", "bounce": row(0.9), "friction": row(0.0)}
        place = {"kind": "sphere", "centre": row([0.0, 1.0, 0.0]), "radius": row(0.3), "on": "inside"}
        playing = resolve_contacts_of(
            shape,
            at=place,
            speed=3.0,
            along={"base": [0.0, 1.0, 0.0], "responses": []},
            size=0.05,
            count=200,
            props=[prop("sheet", kind="mesh", file=BALL, position=formula("vec3(0.4 * sin(5 * clip_time), 1, 0)"))],
            content=lambda _: Mesh.of(ball.vertices, ball.faces),
            clip={"last_frame": 96},
        )
        for frame in (12, 48, 96):
            population, middle = playing.frames(frame)[0].population, playing.stage.places(frame / 24)["sheet"][:3, 3]
            self.assertLess(float(np.linalg.norm(np.stack(population.position, 1) - middle, axis=1).max()), 0.7 - 0.02)


class Reported(unittest.TestCase):
    def test_several_contacts_and_threads_give_the_same_bytes(self):
        contacts = (
            floor(bounce=row(0.6)),
            {"kind": "sphere", "centre": row([0.3, 0.2, 0.0]), "radius": row(0.3), "roughness": row(0.5)},
            {
                "kind": "cylinder",
                "side": "inside",
                "radius": row(1.5),
                "height": row(9.0),
                "centre": row([0.0, 1.0, 0.0]),
                "stick": row(0.2),
            },
        )
        place = {"kind": "box", "centre": row([0.0, 2.0, 0.0]), "size": row([1.0, 1.0, 1.0])}
        collected = []
        for threads in (1, 2):
            with use_engine(type(current_engine())(**{**current_engine().__dict__, "threads": threads})):
                playing = resolve_contacts_of(
                    *contacts,
                    at=place,
                    count=20_000,
                    size=0.05,
                    clip={"last_frame": 30},
                    look__opacity=formula("touches + touch_normal.x"),
                )
                collected.append(playing.frames(30)[0].population.floats.tobytes())
        self.assertEqual(collected[0], collected[1])

    def test_table_and_one_life_tell_of_touches_also_where_no_row_reads_them(self):
        """It bounces four times within the clip: each is an event of its life, at its frame."""
        playing = resolve_contacts_of(
            floor(bounce=row(0.5)),
            size=0.1,
            forces=(GRAVITY,),
            clip={"last_frame": 60},
            cues=[{"kind": "touch", "uid": "c", "name": "lands", "touches": row(2.0)}],
        )
        particles = Particles(playing, playing.effect.emitters[0].uid)
        table = particles.table(30, TableRequest())
        self.assertIn("touch.speed", [column["key"] for column in table["columns"]])
        counts = [float(playing.frames(n)[0].population.carried["touch.count"][0]) for n in range(61)]
        life = particles.one_life(30, int(table["rows"][0][0]))
        touches = [event for event in life["events"] if event["name"].startswith("touches")]
        self.assertEqual([event["frame"] for event in touches], (np.flatnonzero(np.diff(counts) > 0) + 1).tolist())
        cue = next(event for event in life["events"] if event["name"] == "lands")
        self.assertEqual(cue["frame"], counts.index(next(n for n in counts if n >= 2)))

    def test_where_nothing_reads_it_particles_remember_only_whether_and_how_often(self):
        playing = resolve_contacts_of(floor(bounce=row(0.5)), size=0.1, forces=(GRAVITY,), clip={"last_frame": 30})
        particles = Particles(playing, playing.effect.emitters[0].uid)
        keys = {column["key"] for column in particles.table(20, TableRequest())["columns"]}
        self.assertTrue({"touch.touching", "touch.count"} <= keys and "touch.speed" not in keys)
        self.assertTrue(particles.one_life(20, particles.key_at(20, 0))["events"])

    def test_each_touch_draws_anew_whether_it_sticks(self):
        """Independent draws: of those who touch k times, (1 - s)^k are free. Balls that bounce as high as they fell
        touch at t, 3t, 5t, ..."""
        count, stick = 4_000, 0.25
        place = {"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([2.0, 0.0, 2.0])}
        playing = resolve_contacts_of(floor(stick=row(stick), bounce=row(1.0)), at=place, count=count, size=0.02)
        fall = math.sqrt(2 * (1.0 - 0.01) / G)
        for touches in (1, 2, 3, 4):
            frame = round(
                2 * touches * fall * 24
            )  # about half way between two touches, when those who are free are high up
            free = (playing.frames(frame)[0].population.position[1] > 0.5).mean()
            share = (1 - stick) ** touches
            self.assertAlmostEqual(
                free, share, delta=4 * math.sqrt(share * (1 - share) / count), msg=f"after {touches}"
            )

    def test_a_share_meets_it_and_a_share_sticks(self):
        place = {"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([1.0, 0.2, 1.0])}
        playing = resolve_contacts_of(
            floor(share=row(0.5), stick=row(0.25), bounce=row(0.3), friction=row(0.0)),
            at=place,
            count=4_000,
            size=0.02,
            forces=(GRAVITY, {"kind": "wind", "uid": "w", "velocity": row([3.0, 0.0, 0.0]), "coupling": row(2.0)}),
            clip={"last_frame": 48},
        )
        population = playing.frames(48)[0].population
        through = population.position[1] < -0.1
        self.assertAlmostEqual(float(through.mean()), 0.5, delta=0.03)
        stuck = population.carried["stuck.which"] > 0
        self.assertGreater(float(stuck[~through].mean()), 0.25 - 0.04)
        self.assertEqual(float(np.abs(population.floats[5:8, stuck]).max()), 0.0)
        np.testing.assert_allclose(population.position[1][stuck], 0.01, atol=1e-6)
