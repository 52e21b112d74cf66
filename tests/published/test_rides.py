"""Rides, targets and an emitter's space against geometry done another way. Sources stand beside each check."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from kagero.core.catalog import check_effect
from kagero.core.document import read_effect
from kagero.core.errors import GeometryProblem
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, response, row
from tests.making.formulas import formula
from tests.making.props import prop, stage, swinging

BROUGHT_MESH = {"content": "0" * 32, "name": "made.glb"}
HELIX = "vec3(cos(3 * tau * t), 2 * t, sin(3 * tau * t))"
BODY = prop(
    "body",
    kind="mesh",
    file=BROUGHT_MESH,
    position=formula("vec3(sin(clip_time), clip_time, 0)"),
    rotation=formula("vec3(clip_time, 0.3, 0)", uid="g"),
)


def rider(ride: dict[str, Any], count: int = 40, **more: Any) -> dict[str, Any]:
    """Return an emitter whose particles are all born at frame 0, still, live long, and ride."""
    base = {
        "births__rate": row(0),
        "births__bursts": [{"uid": "b", "frame": 0, "count": count}],
        "births__lifespan": row(100.0),
        "births__launch__speed": row(0.0),
        "rides": [ride],
    }
    return emitter(**{**base, **more})


def on(kind: str, prop: str | None = None, **fields: Any) -> dict[str, Any]:
    rows = {name: row(value) if isinstance(value, (int, float)) else value for name, value in fields.items()}
    return {"kind": kind, "uid": "r", **({"prop": prop} if prop else {}), **rows}


def played(one: dict[str, Any], *props: dict[str, Any], **clip: Any) -> Playing:
    return Playing(read_effect({**document(one, **clip), "props": list(props)}), content=lambda _: swinging())


def at(result: Playing, frame: int):
    return result.frames(frame)[0].population


def places(population) -> np.ndarray:
    return np.stack([np.asarray(c, float) for c in population.position], axis=1)


def velocities(population) -> np.ndarray:
    return np.stack([np.asarray(c, float) for c in population.velocity], axis=1)


def line(uid: str = "p", points=((0.0, 0.0, 0.0), (10.0, 0.0, 0.0)), **more: Any) -> dict[str, Any]:
    return prop(uid, kind="path", points=[list(p) for p in points], smooth=False, **more)


def helix(uid: str = "p") -> dict[str, Any]:
    return prop(uid, kind="path", points=[[0.0, 0.0, 0.0]], smooth=False, formula=HELIX)


class OnASurface(unittest.TestCase):
    def test_at_full_grip_it_sits_on_a_surface_that_moves_turns_and_bends_at_any_frame_rate(self):
        u, v = formula("fract(draws.flicker * 7)", "once", "u"), formula("0.1 + 0.8 * draws.flicker", "once", "v")
        one = rider(
            on("surface", "body", u=u, v=v, travel_u=0.3),
            births__place={"kind": "prop", "prop": "body", "on": "surface"},
        )
        for rate in (12, 24, 60, 120):
            result = played(one, BODY, frame_rate=rate, last_frame=2 * rate)
            for frame in (0, 1, rate // 3, 2 * rate):
                t = frame / rate
                shown = result.show(frame)[0]
                mesh = swinging().at(result.stage.clocks("body", np.full(1, t))[0])
                matrix = stage(result.effect).matrices("body", np.full(1, t))[0]
                near, far = mesh.nearest(
                    (np.linalg.inv(matrix) @ np.c_[places(shown.population), np.ones(len(shown))].T).T[:, :3]
                )
                self.assertLess(far.max(), 1e-4, (rate, frame))
                if frame == 0:
                    first = mesh.uv_at(near)
                else:  # where it came to: 0.3 a second further round, at the same height
                    now = mesh.uv_at(near)
                    turned = np.abs((now[:, 0] - first[:, 0] - 0.3 * t + 0.5) % 1 - 0.5)
                    self.assertLess(turned.max(), 2e-4)
                    np.testing.assert_allclose(now[:, 1], first[:, 1], atol=2e-4)

    def test_down_a_surface_in_a_life_and_round_it_as_the_trade_reckons(self):
        """A lifespan of 6 s at 25 frames a second goes from v 1 to 0 once in 150 frames; u rising by 0.015 a frame is
        2.25 turns in those (common practice, no source)."""
        post = prop("post", shape="cylinder", radius=0.5, height=2.0)
        falls = row(0.0, response("v", "life", STRAIGHT, output=(1, 0), shape="linear", operation="set"))
        result = played(
            rider(on("surface", "post", u=0.0, v=falls, travel_u=0.015 * 25), 1, births__lifespan=row(6.0)),
            post,
            last_frame=150,
        )
        found = [places(at(result, frame))[0] for frame in range(150)]
        heights = np.array(found)[:, 1]
        np.testing.assert_allclose(heights - heights[0], -2.0 * np.arange(150) / 150, atol=1e-4)
        self.assertEqual(len(at(result, 150)), 0)
        turns = np.unwrap(np.arctan2(np.array(found)[:, 2], np.array(found)[:, 0]))
        self.assertAlmostEqual(abs(turns[-1] - turns[0]) / (2 * math.pi) * 150 / 149, 2.25, delta=2e-3)

    def test_the_stand_off_is_in_the_surfaces_own_frame(self):
        post = prop(
            "post", shape="cylinder", radius=0.5, height=2.0, position=row([3, 0, 0]), rotation=row([0, 0, 0.4])
        )
        matrix = np.eye(4)
        matrix[:3, :3], matrix[:3, 3] = Rotation.from_euler("z", 0.4).as_matrix(), (3, 0, 0)

        def stands(**aside):
            result = played(rider(on("surface", "post", u=0.3, v=0.5, **aside), 1), post)
            return (np.linalg.inv(matrix) @ np.append(places(at(result, 3))[0], 1))[:3]

        foot = stands()
        radial = np.array([foot[0], 0, foot[2]])
        radius = np.linalg.norm(radial)
        np.testing.assert_allclose(
            stands(out=0.2) - foot, 0.2 * radial / radius, atol=2e-3
        )  # the normals are the facets'
        np.testing.assert_allclose(stands(along_v=0.2) - foot, [0, 0.2, 0], atol=1e-5)
        aside = stands(along_u=0.2) - foot
        self.assertAlmostEqual(np.linalg.norm(aside), 0.2, places=5)
        self.assertLess(abs(aside @ radial), 5e-3)
        further = stands()  # growing u is that way
        result = played(rider(on("surface", "post", u=0.31, v=0.5), 1), post)
        self.assertGreater(((np.linalg.inv(matrix) @ np.append(places(at(result, 3))[0], 1))[:3] - further) @ aside, 0)

    def test_closed_directions_go_round_and_open_ones_as_chosen(self):
        post = prop("post", shape="cylinder", radius=0.5, height=2.0)
        ends = {"hold": 1.0, "wrap": 0.25, "turn": 0.75}
        for edge, v in ends.items():
            result = played(rider(on("surface", "post", u=1.3, v=1.25, edge=edge), 1), post)
            other = played(rider(on("surface", "post", u=0.3, v=v), 1), post)
            np.testing.assert_allclose(places(at(result, 2)), places(at(other, 2)), atol=1e-6)
        result = played(
            rider(on("surface", "post", u=0.3, v=0.5, travel_v=0.5, edge="release"), 1), post, last_frame=60
        )
        before, after = at(result, 24), at(result, 50)
        np.testing.assert_allclose(velocities(after), velocities(before), rtol=1e-4)  # let go at the top: on it flies
        self.assertAlmostEqual(places(after)[0, 1] - places(before)[0, 1], 26 / 25, delta=1e-3)

    def test_whoever_is_let_go_keeps_the_velocity_it_had_and_pushes_take_over(self):
        post = prop("post", shape="cylinder", radius=0.5, height=2.0, position=formula("vec3(clip_time, 0, 0)"))
        grip = row(1000.0, response("g", "life", STRAIGHT, output=(1, 0), input=(0.499, 0.5), shape="linear"))
        for forces in ([], [{"kind": "gravity", "uid": "w", "strength": row(2.0)}]):
            one = rider(
                on("surface", "post", u=0.2, v=0.5, travel_v=0.1, grip=grip),
                3,
                births__lifespan=row(2.0),
                forces=forces,
            )
            result = played(one, post)
            held, free, later = at(result, 24), at(result, 26), at(result, 40)
            np.testing.assert_allclose(velocities(held), [[1, 0.2, 0]] * 3, rtol=2e-5, atol=2e-6)
            falls = 2.0 if forces else 0.0
            # let go at frame 25, over a whole step of which it flies
            np.testing.assert_allclose(
                velocities(free), velocities(held) - [0, falls * (26 - 24) / 25, 0], atol=0.09 if forces else 2e-6
            )
            np.testing.assert_allclose(velocities(later) - velocities(free), [[0, -falls * 14 / 25, 0]] * 3, atol=2e-6)

    def test_a_partial_grip_is_the_same_in_one_substep_and_in_eight(self):
        found = []
        for substeps in (1, 8):
            result = played(rider(on("path", "p", place=0.1, travel=2.0, grip=4.0), 3), line(), substeps=substeps)
            found.append(places(at(result, 20)))
        np.testing.assert_allclose(found[0], found[1], atol=1e-4)


class Crawling(unittest.TestCase):
    """Straightest ways on surfaces: great circles on a sphere, helices on a cylinder (any handbook of geometry)."""

    def crawler(self, at_, direction, speed: float = 1.0, forces=(), count: int = 1, **ride: Any) -> dict[str, Any]:
        return rider(
            {"kind": "crawl", "uid": "r", "prop": "post", **ride},
            count,
            births__place__centre=row(list(at_)),
            births__launch__speed=row(speed),
            births__launch__direction=row(list(direction)),
            forces=list(forces),
        )

    def test_a_great_circle_at_the_same_speed_over_every_edge_and_seam(self):
        ball = prop("post", shape="sphere", radius=1.0)
        # in one plane with the middle and with its start, over both poles' fans and the seam of (u, v)
        result = played(self.crawler((0.8, 0.3, 0.52), (0.2, 1.0, -0.4)), ball, last_frame=200)
        found = np.array([places(at(result, f))[0] for f in range(1, 200)])
        speeds = [np.linalg.norm(velocities(at(result, f))[0]) for f in range(1, 200)]
        self.assertLess(np.ptp(speeds), 2e-5)
        self.assertAlmostEqual(np.linalg.norm(found, axis=1).mean(), 1.0, delta=0.01)
        apart = np.linalg.norm(np.diff(found, axis=0), axis=1)
        self.assertLess(np.ptp(apart), 2e-3)  # chords over edges
        values = np.linalg.svd(found - 0)[1]
        self.assertLess(values[2] / values[0], 0.06)  # facets bend it a little

    def test_a_helix_about_a_turned_cylinder_and_pushes_act_along_it_alone(self):
        post = prop("post", shape="cylinder", radius=0.5, height=50.0, position=row([1, 0, 0]))
        result = played(self.crawler((1.5, 20.0, 0.0), (0.0, 1.0, 1.0), 2.0), post)
        found = np.array([places(at(result, f))[0] - [1, 0, 0] for f in range(51)])
        np.testing.assert_allclose(np.diff(found[1:, 1]), np.diff(found[1:, 1]).mean(), atol=1e-5)
        angles = np.unwrap(np.arctan2(found[1:, 2], found[1:, 0]))
        self.assertAlmostEqual(
            abs(angles[-1] - angles[0]), found[-1, 1] / 0.5 * abs(math.sqrt(2) * 49 / 25 / (found[-1, 1])), delta=0.05
        )
        pressed = [
            {"kind": "wind", "uid": "w", "velocity": row([-30.0, 0, 0]), "coupling": row(1.0)},
            {"kind": "gravity", "uid": "g", "strength": row(2.0)},
        ]
        result = played(self.crawler((1.5, 20.0, 0.0), (0.0, 1.0, 0.0), 0.0, pressed[1:]), post)
        self.assertAlmostEqual(
            places(at(result, 25))[0, 1] - places(at(result, 0))[0, 1], -1.0, delta=1e-3
        )  # g t² / 2 along it
        result = played(self.crawler((1.5, 20.0, 0.0), (0.0, 1.0, 0.0), 0.0, pressed[:1]), post)
        end = places(at(result, 50))[0] - [1, 0, 0]
        self.assertAlmostEqual(np.hypot(end[0], end[2]), 0.5, delta=0.01)  # blown against it, it stays on it

    def test_at_an_open_edge(self):
        sheet = prop("post", shape="plane")
        for edge in ("hold", "turn", "release"):
            result = played(self.crawler((0.0, 0.0, 0.0), (1.0, 0.0, 0.3), 1.0, edge=edge), sheet, last_frame=30)
            size = np.abs(result.stage.geometry("post").points).max(axis=0)
            place, velocity = places(at(result, 25))[0], velocities(at(result, 25))[0]
            speed = np.array([1.0, 0.0, 0.3]) / math.hypot(1.0, 0.3)
            if edge == "release":
                np.testing.assert_allclose(velocity, speed, atol=1e-5)
                self.assertGreater(place[0], size[0] + 0.1)
            elif edge == "turn":
                np.testing.assert_allclose(velocity, speed * [-1, 1, 1], atol=1e-5)
                self.assertAlmostEqual(place[0], 2 * size[0] - speed[0], delta=1e-4)
            else:
                np.testing.assert_allclose(velocity, speed * [0, 1, 1], atol=1e-5)
                self.assertAlmostEqual(place[0], size[0], delta=1e-5)

    def test_it_stays_on_a_body_that_moves_turns_and_bends_and_is_carried_by_it(self):
        one = self.crawler((0.0, 0.0, 0.0), (0.0, 1.0, 0.0), 0.7, count=60, grip=row(1000.0))
        one["births"]["place"] = {"kind": "prop", "prop": "body", "on": "surface"}
        one["births"]["launch"]["direction"] = row([0.3, 1.0, 0.2])
        one["rides"][0]["prop"] = "body"
        for rate, substeps in ((24, 1), (24, 8), (120, 1)):
            result = played(one, BODY, frame_rate=rate, last_frame=2 * rate, substeps=substeps)
            for frame in (rate // 2, 2 * rate):
                now = np.full(1, frame / rate)
                mesh, matrix = (
                    swinging().at(result.stage.clocks("body", now)[0]),
                    stage(result.effect).matrices("body", now)[0],
                )
                inside = (np.linalg.inv(matrix) @ np.c_[places(at(result, frame)), np.ones(60)].T).T[:, :3]
                self.assertLess(mesh.nearest(inside)[1].max(), 1e-4)


class AlongAPath(unittest.TestCase):
    def test_by_length_from_any_response(self):
        """place = life / draw: low draws go far, high ones stay."""
        far = formula("clamp(life / (20 * draws.flicker + 0.01), 0, 1)", "live", "far")
        one = rider(
            on("path", "p", place=far), 50, births__lifespan=row(2.0), look__size=formula("draws.flicker", "once", "s")
        )
        result = played(one, line())
        for frame in (0, 5, 31):
            shown = result.show(frame)[0]
            wanted = np.clip(frame / 50 / (20 * shown.column("size").astype(float) + 0.01), 0, 1)
            np.testing.assert_allclose(places(shown.population)[:, 0], 10 * wanted, atol=2e-5)
            self.assertGreater(np.ptp(wanted) if frame else 1, 0.3)

    def test_held_fast_it_has_the_velocity_of_its_place_at_the_frame(self):
        """Evenly round a circle of 1 m, and round a line at 3 rad/s: the velocity is the closed form's at the frame,
        with an error of the second order; the mean over a step lags by half of it."""
        circle = prop(
            "p", kind="path", points=[[0.0, 0.0, 0.0]], formula="vec3(cos(tau * t), 0, sin(tau * t))", closed=True
        )
        for ride, thing, speed in (
            (on("path", "p", place=0.0, travel=2.0), circle, 2.0),
            (on("path", "p", place=0.5, radius=1.0, turning=3.0), line(), 3.0),
        ):
            errors = []
            for rate in (30, 60, 120):
                result = played(rider(ride, 1), thing, frame_rate=rate, last_frame=rate)
                middle = np.array([0.0, 0, 0]) if thing is circle else np.array([5.0, 0, 0])
                worst = 0.0
                for frame in range(3, rate, rate // 30):
                    population = at(result, frame)
                    out = places(population)[0] - middle
                    axis = np.array([0.0, -1, 0]) if thing is circle else np.array([1.0, 0, 0])
                    worst = max(worst, float(np.linalg.norm(velocities(population)[0] - speed * np.cross(axis, out))))
                errors.append(worst)
            self.assertLess(errors[0], 0.02 * speed)
            self.assertLess(errors[2], max(errors[0] / 4, 0.005))  # the circle's path has corners

    def test_where_a_place_starts_and_stops_its_velocity_never_overshoots(self):
        moves = row(
            0.0,
            response("r", {"kind": "age"}, [(0, 0), (0.25, 0), (0.75, 1), (1, 1)], output=(0.0, 1.0), shape="linear")
            | {"operation": "add", "input": [0.0, 1.0]},
        )
        result = played(rider(on("path", "p", place=moves), 1), line(), frame_rate=24, last_frame=24)
        speeds = [float(velocities(at(result, frame))[0, 0]) for frame in range(1, 24)]
        self.assertLess(max(speeds), 20.5)
        self.assertGreater(min(speeds), -0.5)
        self.assertAlmostEqual(speeds[10], 20.0, delta=0.05)

    def test_a_helix_and_a_circle_by_arc_length(self):
        """Arc length of a helix: s = t sqrt(r² w² + c²) (any handbook of geometry)."""
        rate = math.hypot(3 * 2 * math.pi, 2.0)
        result = played(rider(on("path", "p", travel=1.5), 1), helix())
        for frame in (0, 10, 50):
            t = 1.5 * frame / 25 / rate
            np.testing.assert_allclose(
                places(at(result, frame))[0], [math.cos(6 * math.pi * t), 2 * t, math.sin(6 * math.pi * t)], atol=2e-3
            )
        circle = prop(
            "p",
            kind="path",
            points=[[0.0, 0, 0]],
            smooth=False,
            formula="vec3(2 * cos(tau * t), 0, 2 * sin(tau * t))",
            closed=True,
        )
        result = played(rider(on("path", "p", travel=3.0), 1), circle)
        angle = 3.0 * 2 / 2.0
        np.testing.assert_allclose(places(at(result, 50))[0], [2 * math.cos(angle), 0, 2 * math.sin(angle)], atol=2e-3)

    def test_round_it_goes_in_a_frame_that_does_not_flip(self):
        """Parallel transport (Bishop 1975): the frame's normals turn about the path no more than they must, so along
        neighbouring places they stay neighbours; about a straight line, orbit speed and twist are plain angles."""
        around = on(
            "path", "p", place=row(0.0, response("l", "life", STRAIGHT, operation="set", shape="linear")), radius=0.2
        )
        bent = prop(
            "p", kind="path", points=[[0, 0, 0], [1, 1, 0], [2, -1, 0.2], [3, 1, 0], [4, 0, 0]]
        )  # its curvature changes sides
        result = played(rider(around, 1, births__lifespan=row(2.0)), bent)
        plain = played(rider({**around, "radius": row(0.0)}, 1, births__lifespan=row(2.0)), bent)
        aside = np.array([places(at(result, f))[0] - places(at(plain, f))[0] for f in range(50)])
        np.testing.assert_allclose(np.linalg.norm(aside, axis=1), 0.2, atol=1e-4)
        self.assertGreater((aside[1:] * aside[:-1]).sum(axis=1).min() / 0.04, 0.5)
        turning = on(
            "path",
            "p",
            place=0.5,
            radius=0.2,
            turning=math.radians(90),
            twist=math.radians(120),
            phase=math.radians(10),
        )
        result = played(rider(turning, 1), line())
        for frame in (0, 25):
            _, y, z = places(at(result, frame))[0]
            if frame == 0:
                first = math.atan2(z, y)
        self.assertAlmostEqual(abs(math.remainder(math.atan2(z, y) - first, 2 * math.pi)), math.pi / 2, places=4)
        self.assertAlmostEqual(math.hypot(y, z), 0.2, places=5)

    def test_a_leaning_round_stays_a_circle(self):
        result = played(rider(on("path", "p", place=0.5, radius=0.3, tilt=0.6, turning=math.radians(60)), 1), line())
        found = np.array([places(at(result, frame))[0] - [5, 0, 0] for frame in range(0, 50, 5)])
        np.testing.assert_allclose(np.linalg.norm(found, axis=1), 0.3, atol=1e-5)
        self.assertLess(np.linalg.svd(found)[1][2], 1e-5)  # in one plane
        self.assertGreater(np.abs(found[:, 0]).max(), 0.1)

    def test_what_it_rides_is_a_source(self):
        one = rider(
            on("path", "p", place=0.2, travel=1.0, edge="release"),
            1,
            look__size=row(
                0.0,
                response(
                    "a", {"kind": "ride", "ride": "r", "part": "along"}, STRAIGHT, operation="set", shape="linear"
                ),
            ),
            look__stretch=row(
                1.0,
                response(
                    "s",
                    {"kind": "ride", "ride": "r", "part": "released"},
                    STRAIGHT,
                    operation="add",
                    shape="linear",
                    input=(0, 10),
                    output=(0, 10),
                ),
            ),
        )
        result = played(one, line(points=((0, 0, 0), (2.0, 0, 0))), last_frame=75)
        self.assertAlmostEqual(float(result.show(25)[0].column("size")[0]), 0.7, places=5)
        self.assertEqual(float(result.show(25)[0].column("stretch")[0]), 1.0)
        self.assertAlmostEqual(
            float(result.show(75)[0].column("stretch")[0]) - 1, 1.4, delta=0.041
        )  # let go after 1.6 s


class Gathered(unittest.TestCase):
    def gathering(self, **target: Any) -> dict[str, Any]:
        return rider(
            {"kind": "target", "uid": "r"},
            200,
            births__place={"kind": "sphere", "centre": row([0.0, 3.0, 0.0]), "radius": row(0.5)},
            target={"prop": "body", **target},
            forces=[{"kind": "home", "uid": "h"}],
        )

    def test_each_comes_to_a_place_of_its_own_on_a_body_that_moves_and_bends_and_is_carried(self):
        ends = formula("1.6 if draws.flicker < 0.3 else 99", "once", "l")  # 30 % end in mid-clip
        one = self.gathering(within=row(0.2))
        one["births"]["lifespan"] = ends
        one["forces"] = [{"kind": "spring", "uid": "h", "to": "target", "strength": row(60.0), "damping": row(12.0)}]
        result = played(one, BODY, last_frame=100)
        before, end = at(result, 30), at(result, 100)
        self.assertAlmostEqual(len(end) / 200, 0.7, delta=0.1)
        self.assertTrue(np.isin(end.key, before.key).all())
        arrived = end.carried["target.arrived"] > 0
        self.assertGreater(arrived.mean(), 0.9)
        t = 100 / 25
        mesh, matrix = (
            swinging().at(result.stage.clocks("body", np.full(1, t))[0]),
            stage(result.effect).matrices("body", np.full(1, t))[0],
        )
        inside = (np.linalg.inv(matrix) @ np.c_[places(end)[arrived], np.ones(arrived.sum())].T).T[:, :3]
        self.assertLess(mesh.nearest(inside)[1].max(), 1e-4)
        late = at(result, 90)  # carried without swapping: the same binding for the same particle
        for name in ("target.face", "target.b1", "target.b2"):
            np.testing.assert_array_equal(late.carried[name], end.carried[name])

    def test_in_order_or_shuffled_and_spread_evenly(self):
        for order in ("in_order", "shuffled"):
            one = rider(
                {"kind": "target", "uid": "r", "when": "always"},
                400,
                target={"prop": "p", "on": "edges", "order": order, "count": 400},
            )
            x = places(at(played(one, line()), 2))[:, 0]
            counts = np.histogram(x, 10, (0, 10))[0]
            self.assertGreater(counts.min(), 20)
            self.assertEqual(bool((np.diff(x) > -1e-5).all()), order == "in_order")


class BadInput(unittest.TestCase):
    """What is missing is named, with a way out; what is empty holds where it stands, and the clip goes on."""

    def test_a_path_of_one_point_a_mesh_whose_file_is_gone_and_a_pull_onto_itself(self):
        dot = prop("p", kind="path", points=[[1.0, 2.0, 3.0]], smooth=False)
        np.testing.assert_allclose(
            places(at(played(rider(on("path", "p", place=0.5, travel=1.0, radius=0.0), 5), dot), 10)),
            [[1, 2, 3]] * 5,
            atol=1e-5,
        )

        def gone(content: str) -> Any:
            raise GeometryProblem("A file of this effect is not here.", remedy="Bring it in again.")

        for kind in ("surface", "crawl"):
            one = rider(on(kind, "body"), 5)
            clip = Playing(
                read_effect(
                    {
                        **document(one),
                        "props": [
                            {
                                **BODY,
                                "file": {"content": "e" * 32, "name": "lost.glb"},
                                "position": row([1.0, 0.0, 0.0]),
                                "rotation": row([0.0, 0.0, 0.0]),
                            }
                        ],
                    }
                ),
                content=gone,
            )
            np.testing.assert_allclose(places(at(clip, 10)), [[1, 0, 0]] * 5, atol=1e-5)
        for power in (-2.0, -1.0, 1.0):
            pull = {
                "kind": "pull",
                "uid": "x",
                "fades": "power",
                "power": row(power),
                "core": row(0.0),
                "strength": row(100.0),
                "point": row([0.0, 0.0, 0.0]),
            }
            clip = played(rider({"kind": "path", "uid": "r", "muted": True}, 5, forces=[pull]))
            np.testing.assert_array_equal(
                places(at(clip, 10)), np.zeros((5, 3))
            )  # it is there already: nothing draws it anywhere

    def test_what_is_not_there_is_named_with_a_way_out(self):
        one = rider(
            on("path", "nowhere"),
            5,
            target={"prop": "gone"},
            forces=[{"kind": "pull", "uid": "x", "to": "place", "prop": "away", "strength": row(1.0)}],
            motion={"space": {"prop": "lost"}},
        )
        found = check_effect(read_effect(document(one)))
        self.assertEqual(
            {finding.where for finding in found},
            {f"emitters.0.{path}" for path in ("rides.0.prop", "target.prop", "forces.0.prop", "motion.space.prop")},
        )
        self.assertTrue(all(finding.remedy for finding in found))


class InASpace(unittest.TestCase):
    @given(st.floats(-2, 2), st.floats(-2, 2), st.sampled_from([0.0, 1.0]))
    @settings(max_examples=8, deadline=None)
    def test_those_alive_go_along_with_a_prop_that_moves_and_turns(self, speed, turn, share):
        """Rigid motion (any textbook of mechanics): the place in the prop's own space stays; at a share of nought
        nothing happens."""
        cart = prop(
            "cart",
            position=formula(f"vec3({speed} * clip_time, 0, 0)"),
            rotation=formula(f"vec3({turn} * clip_time, 0, 0)", uid="g"),
        )
        one = emitter(
            births__rate=row(0),
            births__bursts=[{"uid": "b", "frame": 0, "count": 20}],
            births__lifespan=row(9.0),
            births__launch__speed=row(0.0),
            births__place={"kind": "sphere", "centre": row([1.0, 0.0, 0.0]), "radius": row(0.5)},
            motion={"space": {"prop": "cart", "share": row(share)}},
        )
        result = played(one, cart)
        start, end = places(at(result, 0)), places(at(result, 30))
        if share:
            matrix = stage(result.effect).matrices("cart", np.full(1, 30 / 25))[0]
            np.testing.assert_allclose(end, start @ matrix[:3, :3].T + matrix[:3, 3], atol=2e-4)
        else:
            np.testing.assert_array_equal(end, start)


if __name__ == "__main__":
    unittest.main()
