"""What props are made of, and how what has no surface is lit: against closed forms of the published laws, and rendered
pictures of known scenes."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
import trimesh
from PIL import Image

from kagero.core.document import read_effect
from kagero.core.formats.importing import content_hash, from_arrays, import_file
from kagero.core.geometry import Mesh, Picture
from kagero.core.kernels.shading import ggx, phase
from kagero.core.workflows import Playing, RenderRequest, render_frame
from tests.making import document, row
from tests.making.pictures import DOWN, FAR, FLOOR, at, from_above, light, one

NIGHT = light("around", "night", strength=0.0)


BALL = {"kind": "mesh", "uid": "ball", "name": "ball", "file": {"content": "b" * 32, "name": "ball.obj"}}


def stripes() -> Picture:
    """A picture, 64 x 32, whose red is how far across each pixel lies, whose green how far down."""
    pixels = np.ones((32, 64, 4), np.float32)
    pixels[..., 0], pixels[..., 1] = (np.arange(64) + 0.5) / 64, ((np.arange(32) + 0.5) / 32)[:, None]
    pixels[..., 2] = 0.25
    return Picture(pixels)


PLATE = {
    "kind": "picture",
    "uid": "plate",
    "name": "plate",
    "shown": "hidden",
    "in_pictures": False,
    "files": [{"content": "a" * 32, "name": "a.png"}],
}


def rendered(
    camera: dict[str, Any],
    *props: dict[str, Any],
    emitter: dict[str, Any] | None = None,
    size: tuple[int, int] = (160, 120),
    holds: Any = None,
) -> np.ndarray:
    body = {**document(emitter or one(FAR), last_frame=2), "props": list(props), "camera": camera}
    return render_frame(
        Playing(read_effect(body), content=lambda _: holds or stripes()), 0, RenderRequest(*size, alone=True)
    ).light


class Facets(unittest.TestCase):
    def directional(self, rough: float, nv: float) -> float:
        """Return the share of light that is sent on in all, by the midpoint rule over the hemisphere."""
        z, turn = np.meshgrid((np.arange(400) + 0.5) / 400, (np.arange(200) + 0.5) * math.pi / 200)
        side = np.sqrt(1 - z * z)
        direction = np.stack([side * np.cos(turn), side * np.sin(turn), z], -1).reshape(-1, 3)
        half = direction + np.array([math.sqrt(1 - nv * nv), 0.0, nv])
        half /= np.linalg.norm(half, axis=1, keepdims=True)
        return 2 * float(
            np.mean([ggx(float(nl), nv, float(nh), rough) for nl, nh in zip(direction[:, 2], half[:, 2], strict=True)])
        )

    def test_wholly_rough_facets_send_on_what_their_integral_says(self):
        """GGX of spread 1 with Smith's joint masking: the integral of nl / (2 pi (nl + nv)) over the hemisphere, 1 - nv
        log(1 + 1 / nv)."""
        for nv in (0.2, 0.5, 0.9):
            self.assertAlmostEqual(self.directional(1.0, nv), 1 - nv * math.log(1 + 1 / nv), delta=2e-3)

    def test_no_more_is_sent_on_than_falls_and_smoother_facets_send_nearly_all(self):
        """The weak furnace test (Heitz, JCGT 3(2), 2014, section 5)."""
        for nv in (0.3, 0.7, 1.0):
            shares = [self.directional(rough, nv) for rough in (0.4, 0.6, 0.8, 1.0)]
            self.assertLessEqual(max(shares), 1.0)
            self.assertEqual(shares, sorted(shares, reverse=True))
        self.assertGreater(self.directional(0.4, 0.9), 0.95)

    def test_light_goes_the_same_both_ways(self):
        """Helmholtz: what is sent on, but for the cosine, is the same with light and eye exchanged."""
        self.assertAlmostEqual(ggx(0.3, 0.8, 0.9, 0.5) / 0.3, ggx(0.8, 0.3, 0.9, 0.5) / 0.8, places=12)


class Surfaces(unittest.TestCase):
    def test_metal_under_the_sun_reflects_its_colour_by_the_law(self):
        fields = from_above(
            {**FLOOR, "tint": [0.9, 0.5, 0.2], "roughness": row(0.5), "metal": row(1.0)},
            light("sun", rotation=DOWN, shadows=False),
        )
        # head on: D V = 1 / (4 spread²) / pi, spread 0.25
        np.testing.assert_allclose(at(fields, 0.0, 0.0), 4.0 * np.array([0.9, 0.5, 0.2]), rtol=2e-3)

    def test_plain_matter_keeps_its_colour_and_adds_four_hundredths(self):
        fields = from_above(
            {**FLOOR, "tint": [0.5, 0.3, 0.1], "roughness": row(0.5)}, light("sun", rotation=DOWN, shadows=False)
        )
        np.testing.assert_allclose(at(fields, 0.0, 0.0), np.array([0.5, 0.3, 0.1]) + 0.04 * 4.0, rtol=2e-3)

    def test_what_glows_is_seen_in_the_dark_and_by_a_pictures_levels(self):
        fields = from_above({**FLOOR, "tint": [0.5, 0.3, 0.1], "glow": row(3.0)}, NIGHT)
        np.testing.assert_allclose(at(fields, 0.3, -0.7), np.array([1.5, 0.9, 0.3]), rtol=1e-4)
        above = {"position": [0.0, 10.0, 0.0], "target": [0.0, 0.0, 0.0], "field_of_view": 2 * math.atan(0.2)}
        floor = {**FLOOR, "glow": row(1.0), "glow_by": "plate", "glow_from": 0.4, "glow_to": 0.9}
        seen = rendered(above, floor, PLATE, NIGHT, size=(128, 128))[..., 0]
        turned = rendered(above, {**floor, "glow_from": 0.9, "glow_to": 0.4}, PLATE, NIGHT, size=(128, 128))[..., 0]
        self.assertGreater(float(np.ptp(seen)), 0.5)
        np.testing.assert_allclose(seen + turned, 1.0, atol=0.02)

    def test_a_picture_that_the_pictures_camera_lays_on_is_seen_as_it_is(self):
        """Thrown and seen by one camera, a picture fills the frame whatever it falls on: here a floor that goes on
        behind the camera."""
        camera = {
            "kind": "camera",
            "uid": "eye",
            "name": "eye",
            "position": row([0.0, 1.2, 1.5]),
            "rotation": row([-0.5, 0.0, 0.0]),
            "field_of_view": row(0.8),
        }
        floor = {**FLOOR, "width": 60.0, "depth": 60.0, "covering": "plate", "laid_by": "eye", "lit": False}
        body = {
            **document(one(FAR), last_frame=2),
            "props": [floor, PLATE, camera],
            "frame": {"camera": "eye", "width": 64, "height": 32},
        }
        seen = render_frame(
            Playing(read_effect(body), content=lambda _: stripes()), 0, RenderRequest(64, 32, alone=True)
        ).light
        below = slice(8, 31)
        np.testing.assert_allclose(seen[below, 1:63, :3], stripes().pixels[below, 1:63, :3], atol=0.02)

    def test_a_floor_that_reaches_behind_the_camera_is_seen(self):
        level = {"position": [0.0, 0.5, 0.0], "target": [0.0, 0.5, -1.0], "field_of_view": 1.0}
        seen = rendered(level, {**FLOOR, "width": 40.0, "depth": 40.0}, light("around", strength=1.0))
        self.assertTrue((seen[70:, :, 3] == 1).all())
        self.assertTrue((seen[:59, :, 3] == 0).all())


class Materials(unittest.TestCase):
    def quad(self, colour: tuple[int, int, int] = (200, 150, 90), **material: Any) -> bytes:
        """A square of four metres across as GLB, by trimesh."""
        flat = {
            k: Image.fromarray(np.full((2, 2, 3), v, np.uint8)) if isinstance(v, tuple) else v
            for k, v in material.items()
        }
        values = trimesh.Trimesh(
            np.array([[-2, -2, 0], [2, -2, 0], [2, 2, 0], [-2, 2, 0]], float), [[0, 1, 2], [0, 2, 3]], process=False
        )
        reported = trimesh.visual.material.PBRMaterial(baseColorFactor=[*colour, 255], **flat)
        values.visual = trimesh.visual.TextureVisuals(uv=[[0, 0], [1, 0], [1, 1], [0, 1]], material=reported)
        return values.export(file_type="glb")

    def seen(self, glb: bytes, **more: Any) -> np.ndarray:
        """Its middle, where a sun's gleam comes from, a quarter turn off the way to the eye."""
        eye = {"position": [0.0, 0.0, 6.0], "target": [0.0, 0.0, 0.0], "field_of_view": 0.1}
        shown = {**BALL, **more, "file": {"content": content_hash(glb), "name": "quad.glb"}}
        mesh = from_arrays(import_file("quad.glb", glb)[0])
        return rendered(eye, shown, light("sun", rotation=[0.0, 0.3, 0.0], shadows=False), holds=mesh)[60, 80, :3]

    def test_pictures_of_a_material_count_as_the_numbers_that_they_hold(self):
        """glTF 2.0, 3.9.2: roughness in green and metal in blue, linear, emission in sRGB; each times its factor; metal
        is 1 where nothing is said."""
        for of_picture, of_numbers in (
            ({"metallicRoughnessTexture": (7, 128, 0)}, {"roughnessFactor": 128 / 255, "metallicFactor": 0.0}),
            (
                {"metallicRoughnessTexture": (7, 204, 255), "roughnessFactor": 0.5},
                {"roughnessFactor": 0.4, "metallicFactor": 1.0},
            ),
            (
                {"metallicRoughnessTexture": (7, 255, 102), "roughnessFactor": 0.6, "metallicFactor": 0.5},
                {"roughnessFactor": 0.6, "metallicFactor": 0.2},
            ),
            (
                {
                    "emissiveTexture": (188, 0, 188),
                    "emissiveFactor": [0.5, 1.0, 1.0],
                    "metallicFactor": 0.0,
                    "roughnessFactor": 1.0,
                },
                {"emissiveFactor": [0.2515, 0.0, 0.503], "metallicFactor": 0.0, "roughnessFactor": 1.0},
            ),
        ):
            one, other = self.quad(**of_picture), self.quad(**of_numbers)
            np.testing.assert_allclose(self.seen(one), self.seen(other), rtol=4e-3, atol=1e-3)
            self.assertGreater(
                float(np.abs(self.seen(one) - self.seen(self.quad(metallicFactor=0.3, roughnessFactor=0.8))).max()),
                0.02,
            )

    def test_a_props_own_metal_is_metal_where_the_material_has_none(self):
        bare = self.quad(metallicRoughnessTexture=(0, 153, 0))
        whole = self.quad(roughnessFactor=0.6, metallicFactor=1.0)
        np.testing.assert_allclose(self.seen(bare, metal=row(1.0)), self.seen(whole), rtol=4e-3, atol=1e-3)


class Balls(unittest.TestCase):
    def test_lit_discs_are_as_bright_as_the_disc_of_a_matte_ball(self):
        """Lambert's phase law: at full phase two thirds; the mean over a rendered ball says the same at every angle."""
        self.assertAlmostEqual(phase(1.0), 2 / 3, places=12)
        self.assertAlmostEqual(phase(-1.0), 0.0, places=12)
        eye = {"position": [0.0, 0.0, 60.0], "target": [0.0, 0.0, 0.0], "field_of_view": 0.04}
        result = trimesh.creation.icosphere(subdivisions=5)
        fine = Mesh.of(result.vertices, result.faces, normals=result.vertices.astype(np.float32))
        for turn in (0.0, 0.9, 2.0):
            sun = light("sun", rotation=[0.0, turn, 0.0], shadows=False)
            ball = rendered(eye, {**BALL, "tint": [1.0, 1.0, 1.0]}, sun, size=(200, 200), holds=fine)
            mean = float(ball[..., 0].sum() / ball[..., 3].sum())
            self.assertAlmostEqual(mean, phase(math.cos(turn)), delta=1e-2)
            emitter = one((0.0, 0.0, 0.0), colour=(0.8, 0.4, 0.2), size=1.0)
            emitter["look"] |= {"lit": True}
            disc = rendered(eye, sun, emitter=emitter, size=(200, 200))[100, 100]
            np.testing.assert_allclose(disc[:3] / disc[3], phase(math.cos(turn)) * np.array([0.8, 0.4, 0.2]), rtol=2e-3)


class LampShadows(unittest.TestCase):
    def test_a_lamp_sees_all_about_it_and_no_seam(self):
        lamp = light("point", position=[0.3, 1.0, -0.2], reach=9.0, blur=0.02)
        with_them, without = (from_above({**lamp, "shadows": shadows})[..., :3] for shadows in (True, False))
        np.testing.assert_allclose(with_them[2:-2, 2:-2], without[2:-2, 2:-2], atol=1e-5)

    def test_a_balls_shadow_is_as_wide_as_the_lamps_cone_about_it(self):
        """Similar triangles: half its angle is that whose sine is radius over distance."""
        ball = {"kind": "shape", "uid": "ball", "name": "ball", "shape": "sphere", "radius": 0.1, "in_pictures": True}
        for turned in (DOWN, [0.3, 0.7, 0.2]):  # however the lamp itself stands
            lamp = light("point", position=[0.0, 1.0, 0.0], reach=9.0, blur=0.001, rotation=turned)
            fields = from_above({**ball, "position": row([0.0, 0.5, 0.0])}, lamp)
            free = from_above({**lamp, "shadows": False})
            wide = math.tan(math.asin(0.1 / 0.5))
            dark = fields[..., 0] < 0.5 * free[..., 0]
            across = dark[100].sum() / 50
            self.assertAlmostEqual(across, 2 * wide, delta=0.05)
