"""A region of a picture is that part of the whole, from wherever it is taken; what cannot be rendered is said."""

from __future__ import annotations

import io
import json
import unittest

import numpy as np
from django.test import TestCase
from PIL import Image

from kagero.core.document import read_effect
from kagero.core.formats import unpack
from kagero.core.geometry.stock import NAMES
from kagero.core.parts.looks import LOOKS
from kagero.core.picture import Viewpoint
from kagero.core.workflows import Playing, render_pixels
from tests.making import document, emitter, row

BALL = {
    "kind": "shape",
    "uid": "ball",
    "name": "ball",
    "shape": "sphere",
    "radius": 0.3,
    "position": row([0.1, 0.8, 0.2]),
}


def scene() -> dict:
    trail = {**LOOKS.kinds["trail"].template(), "uid": "t", "faces": "flat", "toward": row([0.0, 0.2, 1.0])}
    look = {
        "sprite": "picture",
        "shelf": "petal",
        "size": row(0.2),
        "opacity": row(0.7),
        "colour": row([1.0, 0.5, 0.2]),
        "soft": row(0.2),
    }
    return {**document(emitter(look=look, also=[trail], births__launch__cone=row(1.0))), "props": [BALL]}


class Regions(unittest.TestCase):
    def test_a_region_is_that_part_of_the_whole(self):
        clip = Playing(read_effect(scene()))
        for viewpoint in (None, Viewpoint((1.0, 2.0, 3.0), (0.0, 0.9, 0.0), 0.5, (0.3, 1.0, 0.1))):
            whole = render_pixels(clip, 30, 200, 120, viewpoint=viewpoint, ground=(0.1, 0.1, 0.1))
            for left, top, wide, tall in ((0, 0, 200, 120), (61, 33, 70, 41), (150, 100, 50, 20)):
                part = render_pixels(
                    clip, 30, 200, 120, viewpoint=viewpoint, ground=(0.1, 0.1, 0.1), region=(left, top, wide, tall)
                )
                np.testing.assert_allclose(part, whole[top : top + tall, left : left + wide], atol=2e-5)

    def test_a_camera_that_is_rolled_sees_the_same_turned(self):
        eye, target = (0.0, 1.0, 4.0), (0.0, 1.0, 0.0)
        clip = Playing(read_effect(document(emitter(births__place__centre=row([0.3, 0.5, 0.0])))))
        upright, rolled = (
            render_pixels(clip, 30, 90, 90, viewpoint=Viewpoint(eye, target, 0.7, up))
            for up in ((0, 1, 0), (1.0, 0.0, 0.0))
        )
        self.assertGreater(float(upright.sum()), 1)
        np.testing.assert_allclose(np.rot90(upright, 1), rolled, atol=1e-4)


class OverTheWire(TestCase):
    def test_pictures_that_ship_are_seen_before_they_are_chosen(self):
        for name in NAMES:
            shown = np.asarray(Image.open(io.BytesIO(self.client.get(f"/api/pictures/stock/{name}").content)))
            self.assertEqual(shown.shape[2], 4)
            self.assertLessEqual(max(shown.shape[:2]), 64)
            self.assertGreater(int(shown[..., 3].max()), 60, name)
        self.assertEqual(self.client.get("/api/pictures/stock/moon").status_code, 422)

    def test_a_part_at_a_share_of_the_size_and_what_cannot_be_is_said(self):
        def asked(**more):
            body = {"document": scene(), "frame": 20, "width": 160, "height": 100, **more}
            return self.client.post("/api/pictures/render", json.dumps(body), content_type="application/json")

        header, arrays = unpack(asked(scale=0.5, region=[0.25, 0.5, 0.5, 0.9]).content)
        self.assertEqual((header["size"], header["region"]), ([80, 50], [20, 25, 40, 25]))
        self.assertEqual((arrays["light"].shape, arrays["shown"].shape), ((25, 40, 3), (25, 40, 4)))
        for wrong in ({"width": 0}, {"width": 9000}, {"frame": 99}, {"scale": 0}, {"eye": {"position": [0, 0, 0]}}):
            answer = asked(**wrong)
            self.assertEqual(answer.status_code, 422, wrong)
            self.assertTrue(answer.json()["findings"][0]["message"])
