"""Props in pictures: lit meshes that hide what is behind them, and go where a mask is."""

from __future__ import annotations

import unittest

import numpy as np

from kagero.core.document import read_effect
from kagero.core.workflows import Playing, render_pixels
from tests.making import document, emitter, row
from tests.making.births import mask
from tests.making.props import prop

SIZE = (160, 120)


def picture(*props, one=None, frame=10):
    one = one or emitter(births__rate=row(0.0))
    return render_pixels(Playing(read_effect({**document(one), "props": list(props)})), frame, *SIZE)


class Pictures(unittest.TestCase):
    def test_a_sphere_covers_as_many_pixels_as_its_outline(self):
        image = picture(prop("a", shape="sphere", radius=0.5, position=row([0.0, 1.0, 0.0])))
        # a sphere at distance d is seen under the angle asin(r / d); the camera stands 4 m away
        camera = Playing(read_effect(document())).viewpoint
        focal = SIZE[1] / (2 * np.tan(camera.field_of_view / 2))
        radius = focal * np.tan(np.arcsin(0.5 / 4))
        self.assertAlmostEqual((image[..., 3] > 0.5).sum() / (np.pi * radius**2), 1, delta=0.03)
        self.assertTrue((image[..., 3] <= 1 + 1e-6).all())

    def test_particles_behind_a_prop_are_hidden_and_those_before_it_are_not(self):
        for z, seen in ((-1.0, False), (1.0, True)):
            place = {"kind": "point", "centre": row([0.0, 1.0, z])}
            one = emitter(
                births__rate=row(50.0),
                births__place=place,
                births__launch__speed=row(0.0),
                look__colour=row([0.0, 0.0, 9.0]),
            )
            image = picture(prop("a", shape="box", position=row([0.0, 1.0, 0.0]), tint=[0.5, 0.5, 0.1]), one=one)
            self.assertEqual(bool(image[SIZE[1] // 2, SIZE[0] // 2, 2] > 3), seen)

    def test_a_ghost_covers_a_share_and_hides_nothing_and_the_hidden_are_not_there(self):
        at = {"position": row([0.0, 1.0, 0.0]), "shape": "box"}
        self.assertAlmostEqual(
            picture(prop("a", shown="ghost", **at))[60, 80, 3], 1 - 0.78**2, delta=0.01
        )  # its front and its back
        self.assertEqual(picture(prop("a", shown="hidden", **at)).max(), 0)

    def test_pictures_show_a_prop_or_not_whatever_the_stage_does(self):
        at = {"position": row([0.0, 1.0, 0.0]), "shape": "box"}
        shaded = picture(prop("a", **at))
        np.testing.assert_array_equal(picture(prop("a", shown="hidden", in_pictures=True, **at)), shaded)
        self.assertEqual(picture(prop("a", in_pictures=False, **at)).max(), 0)

    def test_it_goes_where_the_mask_is(self):
        half = mask(shape="plane", rotation=row([0.0, 0.0, np.pi / 2]), falloff=row(0.0))  # all of x > 0
        body = prop(
            "a", shape="plane", width=2.0, depth=2.0, rotation=row([np.pi / 2, 0.0, 0.0]), position=row([0.0, 1.0, 0.0])
        )
        whole, gone = picture(body, half), picture({**body, "dissolve": {"mask": "m", "latched": True}}, half)
        left, right = slice(0, SIZE[0] // 2 - 3), slice(SIZE[0] // 2 + 3, None)
        np.testing.assert_array_equal(whole[:, left], gone[:, left])
        self.assertGreater(whole[:, right, 3].sum(), 500)
        self.assertEqual(gone[:, right].max(), 0)
