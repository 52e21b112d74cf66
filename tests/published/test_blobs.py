"""Blobs, haze and light: the surface against scikit-image and quadrature, absorption against the exponential law, light
against its formula."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import brentq
from scipy.spatial import cKDTree
from skimage.measure import marching_cubes

from demo.parts import gradient
from kagero.core.document import MOST_LAMPS, read_effect, upgrade
from kagero.core.kernels.haze import march_rays
from kagero.core.kernels.marching import surface
from kagero.core.workflows import Packets, Playing, PlayRequest, render_pixels
from tests.making import document, emitter, row

BLUER = gradient("bluer", {"kind": "position", "part": "z"}, [(0, (0, 0, 0)), (1, (0, 0, 0.1))], input=(-0.1, 0.1))


def drops(count: int, places: str, look: dict[str, Any], **more: Any) -> Playing:
    """Return an effect of particles that stand still, one more each frame from the first on; places: a formula of k,
    the number of each from nought on."""
    centre = {
        "base": {
            "source": {"kind": "formula", "uid": "where", "text": places.replace("k", "round(clip_time * 24)")},
            "read": "once",
        },
        "responses": [],
    }
    look = {"opacity": row(1.0), "colour": row([0.8, 0.4, 0.2]), **look}
    one = emitter(
        births__rate=row(1.0),
        births__per="frame",
        births__limit=count,
        births__lifespan=row(100.0),
        births__launch__speed=row(0.0),
        births__launch__cone=row(0.0),
        births__place={"kind": "point", "centre": centre},
        look=look,
        **more,
    )
    return Playing(read_effect(upgrade(document(one, last_frame=60, frame_rate=[24, 1]))))


def shape_of(playing: Playing, frame: int = 0) -> trimesh.Trimesh:
    result = playing.layers(frame)[0].shown.surface
    assert result is not None, playing.layers(frame)[0].problem
    return trimesh.Trimesh(result.points, result.faces, process=False)


class Surface(unittest.TestCase):
    def test_where_two_run_together_place_on_the_picture_and_velocity_are_mixed(self):
        """By their shares of the field, (1 - d² / s²)³ each."""
        by_side = {"base": {"source": {"kind": "birth_position", "part": "x"}, "read": "once"}, "responses": []}
        aside = {
            "base": {"source": {"kind": "formula", "uid": "w", "text": "vec3(0, 0, 0.001 * sign(position.x))"}},
            "responses": [],
        }
        playing = drops(
            2,
            "vec3(k * 0.5 - 0.25, 1, 0)",
            {
                "sprite": "blob",
                "size": row(0.4),
                "cell": 0.02,
                "drawn_with": "picture",
                "offset_across": by_side,
                "smooth": row(2.0),
            },
            forces=[{"kind": "wind", "uid": "air", "coupling": row(1000.0), "velocity": aside}],
        )
        result = playing.layers(2)[0].shown.surface
        assert result is not None
        side = np.array([-1.0, 1.0])
        places = np.stack([0.25 * side, np.ones(2), playing.show(2)[0].positions()[:, 2]], axis=1)
        away = ((result.points[:, None] - places) ** 2).sum(axis=2)
        share = np.maximum(1 - away / 0.4**2, 0) ** 3
        share /= share.sum(axis=1, keepdims=True)
        self.assertTrue(((share > 0.4) & (share < 0.6)).any() and (share > 0.999).any())
        np.testing.assert_allclose(result.uv[:, 0], share @ (0.25 * side), atol=1e-4)
        np.testing.assert_allclose(result.velocity[:, 2] * 1000, share @ side, atol=1e-3)

    @given(st.integers(0, 10_000), st.floats(0.2, 0.8))
    @settings(max_examples=15, deadline=None)
    def test_it_has_the_points_that_scikit_image_finds_and_no_hole(self, seed: int, level: float):
        """Any field: each crossing of an edge is one point; every side of a triangle lies beside another, the other way
        round."""
        field = np.pad(np.random.default_rng(seed).random((6, 7, 8)).astype(np.float32), 1)
        points, faces = surface(field, level, np.zeros(3), 1.0)
        ours, theirs = (
            np.unique(points.round(4), axis=0),
            np.unique(marching_cubes(field, level, method="lorensen")[0].round(4), axis=0),
        )
        self.assertEqual(len(ours), len(theirs))
        away, _ = cKDTree(theirs).query(ours)
        self.assertLess(float(away.max()), 1e-3)
        sides = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 0]]])
        one, other = (
            np.sort(side[:, 0].astype(np.int64) * len(points) + side[:, 1]) for side in (sides, sides[:, ::-1])
        )
        np.testing.assert_array_equal(one, other)

    def test_alone_a_drop_is_as_large_as_it_says(self):
        for smooth in (1.3, 2.5):
            playing = drops(
                1, "vec3(0.1, 1, 0)", {"sprite": "blob", "size": row(0.4), "cell": 0.02, "smooth": row(smooth)}
            )
            shape = shape_of(playing)
            self.assertLess(float(np.abs(np.linalg.norm(shape.vertices - [0.1, 1.0, 0.0], axis=1) - 0.2).max()), 0.002)
            self.assertTrue(shape.is_watertight)
            self.assertGreater(shape.volume, 0)  # it faces outward

    def test_two_that_run_together_have_the_volume_of_their_field(self):
        """Turned about the line between them: V is the integral of pi r², where the field of both has the level."""
        size, smooth, apart = 0.4, 1.8, 0.42
        reach, level = size / 2 * smooth, (1 - 1 / smooth**2) ** 3

        def field(r: float, z: float) -> float:
            return sum(max(0.0, 1 - (r * r + (z - s * apart / 2) ** 2) / reach**2) ** 3 for s in (-1, 1)) - level

        def round_(z: float) -> float:
            return math.pi * brentq(lambda r: field(r, z), 0, reach) ** 2 if field(0, z) > 0 else 0.0

        wanted = 2 * quad(round_, 0, apart / 2 + reach, points=[apart / 2], limit=200)[0]
        shape = shape_of(
            drops(
                2,
                f"vec3(0, 1, {apart} * (k - 0.5))",
                {"sprite": "blob", "size": row(size), "cell": 0.01, "smooth": row(smooth)},
            ),
            2,
        )
        self.assertEqual(len(shape.split(only_watertight=False)), 1)
        self.assertAlmostEqual(shape.volume / wanted, 1, delta=0.004)

    def test_it_never_tears_between_frames(self):
        """Drops that meet and part: no place of the surface is further from the next frame's than speed x time and a
        cell."""
        look = {"sprite": "blob", "size": row(0.3), "cell": 0.03}
        spring = [
            {
                "kind": "curl_noise",
                "uid": "c",
                "octaves": 1,
                "scale": row(0.6),
                "evolution": row(0.3),
                "strength": row(2.0),
            }
        ]
        playing = drops(8, "vec3(0.1 * k, 1 + 0.13 * mod(k, 3), 0.2 * mod(k, 2))", look, forces=spring)
        before = shape_of(playing, 8)
        for frame in range(9, 24):
            after, fastest = (
                shape_of(playing, frame),
                max(
                    float(np.linalg.norm(np.stack(playing.frames(f)[0].population.velocity, axis=1), axis=1).max())
                    for f in (frame - 1, frame)
                ),
            )
            far = max(
                float(cKDTree(one.vertices).query(other.vertices)[0].max())
                for one, other in ((before, after), (after, before))
            )
            self.assertLess(far, 2 * fastest / float(playing.plan.frame_rate) + 0.03 * math.sqrt(3), frame)
            before = after

    def test_colours_mix_where_they_run_together(self):
        playing = drops(
            2,
            "vec3(0, 1, 0.2 * (k - 0.5))",
            {
                "sprite": "blob",
                "size": row(0.3),
                "cell": 0.015,
                "colour": row([1.0, 1.0, 1.0], BLUER),
            },
        )
        result = playing.layers(2)[0].shown.surface
        assert result is not None
        z, blue = result.points[:, 2], result.tints[:, 2]
        self.assertLess(float(np.abs(blue[np.abs(z) < 0.01] - 0.05).max()), 0.015)
        self.assertGreater(float(blue[z > 0.2].min()), 0.09)

    def test_a_level_above_all_and_particles_smaller_than_a_cell_are_said(self):
        for look, words in (({"level": row(20.0)}, "above what these reach"), ({"cell": 0.9}, "less than a cell")):
            playing = drops(1, "vec3(0, 1, 0)", {"sprite": "blob", "size": row(0.3), "cell": 0.03, **look})
            (layer,) = playing.layers(0)
            self.assertIn(words, layer.problem)
            self.assertGreater(float(render_pixels(playing, 0, 64, 48)[..., 3].max()), 0.1)  # the disc stands in


class Haze(unittest.TestCase):
    def test_a_slab_takes_light_by_the_exponential_law(self):
        """Beer and Lambert: through L metres of density s, exp(-s L) of the light goes; the half of it before a wall,
        half of that power."""
        grid = np.zeros((9, 9, 17, 4), np.float32)
        grid[...] = (0.6, 0.3, 0.0, 0.6)  # colour (1, 0.5, 0) at 0.6 /m
        eye, axes, view = np.array([0.4, 0.4, 10.0]), np.eye(3), np.array([4000.0, 8.0, 8.0])
        for wall, length in ((np.inf, 1.6), (10.0 - 0.8, 0.8)):
            for behind in (0.0, 1.0):
                picture = np.full((16, 16, 4), behind, np.float32)
                march_rays(picture, np.full((16, 16), wall), 0, 16, grid, np.zeros(3), 0.1, eye, axes, view, False)
                left = math.exp(-0.6 * length)
                np.testing.assert_allclose(
                    picture[8, 8],
                    [1 - left + behind * left, (1 - left) / 2 + behind * left, behind * left, 1 - left + behind * left],
                    atol=2e-4,
                )
        picture = np.zeros((16, 16, 4), np.float32)
        march_rays(picture, np.empty((0, 0)), 0, 16, grid, np.zeros(3), 0.1, eye, axes, view, True)
        np.testing.assert_allclose(picture[8, 8], [0.96, 0.48, 0, 0], atol=1e-3)

    def test_through_the_middle_of_a_puff(self):
        """The integral of (1 - r²)³ over its width is 32/35 of half of it, twice."""
        playing = drops(
            1,
            "vec3(0, 1, 0)",
            {"sprite": "haze", "size": row(1.0), "density": row(2.0), "cell": 0.02, "how": "absorbing"},
        )
        playing = Playing(
            playing.effect.model_copy(
                update={
                    "camera": playing.effect.camera.model_copy(
                        update={"position": (0.0, 1.0, 5.0), "target": (0.0, 1.0, 0.0)}
                    )
                }
            )
        )
        covers = float(render_pixels(playing, 0, 65, 65)[32, 32, 3])
        self.assertAlmostEqual(covers, 1 - math.exp(-2.0 * 0.5 * 32 / 35), delta=0.01)


class Light(unittest.TestCase):
    def test_what_is_held_of_a_frame_is_given_up_when_its_cells_or_the_lamps_about_it_change(self):
        """Else the stage went on showing haze in the light of lamps that are gone, and blobs in cells that are no
        more."""
        lamp = emitter(
            "lamp",
            births__rate=row(0.0),
            births__bursts=[{"uid": "one", "frame": 0, "count": 1}],
            light={"strength": row(1.0)},
        )
        haze = emitter(
            "haze",
            look={
                "sprite": "haze",
                "size": row(0.5),
                "opacity": row(1.0),
                "colour": row([0.5, 0.5, 0.5]),
                "density": row(1.0),
            },
        )
        body = upgrade(document(haze, lamp, last_frame=2))

        def key() -> str:
            return Packets(Playing(read_effect(body)), PlayRequest()).looks[0]

        before = key()
        self.assertEqual(before, key())
        body["emitters"][1]["light"]["strength"]["base"] = 2.0
        brighter = key()
        self.assertNotEqual(before, brighter)
        body["emitters"][0]["look"]["cell"] = 0.2
        self.assertNotEqual(brighter, key())

    def test_a_wall_is_lit_by_the_cosine_and_how_far_the_light_reaches(self):
        """Its tint times the light's colour times (1 - d² / r²)², straight before the wall; nothing beyond its
        reach."""
        wall = {
            "kind": "shape",
            "uid": "wall",
            "name": "wall",
            "shape": "box",
            "width": 4.0,
            "height": 4.0,
            "depth": 0.1,
            "tint": [0.5, 0.4, 0.3],
            "position": row([0.0, 1.0, -0.55]),
        }

        def lit(strength: float, reach: float) -> np.ndarray:
            one = emitter(
                births__rate=row(0.0),
                births__bursts=[{"uid": "one", "frame": 0, "count": 1}],
                births__lifespan=row(100.0),
                births__launch__speed=row(0.0),
                births__place={"kind": "point", "centre": row([0.0, 1.0, 0.0])},
                look__size=row(0.0),
                look__colour=row([1.0, 0.5, 0.25]),
                light={"strength": row(strength), "reach": row(reach)},
            )
            body = upgrade({**document(one, last_frame=2), "props": [wall]})
            body["camera"] |= {"position": [0.0, 1.0, 5.0], "target": [0.0, 1.0, 0.0]}
            return render_pixels(Playing(read_effect(body)), 0, 65, 65)[32, 32, :3]

        gained = lit(2.0, 1.0) - lit(0.0, 1.0)
        share = (1 - 0.5**2) ** 2
        np.testing.assert_allclose(gained, [0.5 * 2 * share, 0.4 * 1 * share, 0.3 * 0.5 * share], rtol=2e-3)
        np.testing.assert_array_equal(lit(2.0, 0.4), lit(0.0, 1.0))

    def test_the_brightest_sixteen_count(self):
        own = {"base": {"source": {"kind": "position", "part": "x"}, "read": "live"}, "responses": []}
        playing = drops(
            40,
            "vec3(0.1 * k, 1, 0)",
            {"sprite": "soft_disc", "size": row(0.1)},
            light={"strength": own, "reach": row(1.0), "light_colour": row([1.0, 1.0, 1.0])},
        )
        lamps = playing.lamps(40)
        self.assertEqual(len(lamps), MOST_LAMPS)
        there = np.sort(np.stack(playing.frames(40)[0].population.position, axis=1)[:, 0])[::-1]
        np.testing.assert_allclose(lamps[:, 0], there[:MOST_LAMPS], atol=1e-6)
