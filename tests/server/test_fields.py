"""What frames say of props' points fits the geometry that is sent for them: how far they are gone, masks, densities,
speeds."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from django.test import TestCase

from demo.lantern_ferry import effects
from kagero.core.formats import unpack
from tests.making import document, emitter, row
from tests.making.births import mask
from tests.making.formulas import formula
from tests.making.props import prop


class Fields(TestCase):
    def play(
        self, collected: dict[str, Any], field: str = "", now: int = 20, **wish: Any
    ) -> list[tuple[dict[str, Any], dict[str, Any]]]:
        body = {
            "window": "w",
            "document": collected,
            "now": now,
            "whole": False,
            "facts": False,
            "measured": False,
            "field": field,
            **wish,
        }
        answer = self.client.post("/api/play", json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer)
        return [unpack(packet) for packet in answer.streaming_content]

    def points(self, wanted: dict[str, Any]) -> np.ndarray:
        answer = self.client.post(
            "/api/props/geometry", json.dumps({"prop": wanted, "fine": True}), content_type="application/json"
        )
        return unpack(answer.content)[1]["points"].reshape(-1, 3)

    def test_how_far_each_point_is_gone(self):
        sweep = mask(shape="sphere", radius=row(0.4), position=formula("vec3(clip_time, 0, 0)"))
        body = prop("a", shape="plane", width=3.0, depth=1.0, dissolve={"mask": "m", "latched": True})
        effect_body = {**document(emitter()), "props": [body, sweep]}
        ((header, arrays), (numbers, left_out)) = self.play(effect_body, measured=True)
        points = self.points(body)
        self.assertEqual(len(arrays["gone.0"]), len(points))
        behind = (np.abs(points[:, 2]) < 0.2) & (points[:, 0] > 0) & (points[:, 0] < 0.8)
        self.assertTrue((arrays["gone.0"][behind] == 255).all())
        self.assertTrue((arrays["gone.0"][np.abs(points[:, 2]) > 0.41] == 0).all())
        self.assertEqual((header["props"][0]["carries"], numbers["props"][0]["carries"]), (1, 1))
        self.assertNotIn("gone.0", left_out)
        self.assertEqual(header["props"][1]["extent"]["radius"], np.float32(0.4))

    def test_a_mask_on_every_prop_but_itself(self):
        body = {
            **document(emitter()),
            "props": [prop("a", shape="box"), mask(shape="plane", falloff=row(0.5)), prop("c", kind="camera")],
        }
        _, arrays = self.play(body, "mask:m")[0]
        points = self.points(prop("a", shape="box"))
        np.testing.assert_allclose(arrays["field.0"], np.clip(1 - points[:, 1] / 0.5, 0, 1), atol=1e-5)
        self.assertEqual([name for name in arrays if name.startswith("field")], ["field.0"])

    def test_a_mask_shows_its_value_about_itself_where_there_is_no_prop(self):
        at = [1.0, 2.0, 0.5]
        body = {**document(emitter()), "props": [mask(shape="plane", falloff=row(0.5), position=row(at))]}
        (header, arrays), (numbers, left_out) = self.play(body, "mask:m", measured=True)
        around = arrays["around.0"].reshape(-1, 4)
        self.assertTrue(header["about"] and numbers["about"] and "around.0" not in left_out)
        np.testing.assert_allclose(around[:, 3], np.clip(1 - (around[:, 1] - 2.0) / 0.5, 0, 1), atol=1e-5)
        np.testing.assert_allclose((around[:, :3].max(axis=0) + around[:, :3].min(axis=0)) / 2, at, atol=1e-5)
        self.assertGreater(np.ptp(around[:, 3]), 0.99)
        self.assertNotIn("about", self.play(body)[0][0])

    def test_where_births_are_kept_and_when_they_begin(self):
        births = {"births__place": {"kind": "prop", "prop": "a", "on": "surface"}, "births__when": "each"}
        one = emitter(
            **births, births__keep=formula("birth_u", "once", "k"), births__begins=formula("1 - birth_v", "once", "b")
        )
        body = {**document(one), "props": [prop("a", shape="plane"), prop("b", shape="box")]}
        points = self.points(prop("a", shape="plane"))
        for field, wanted in (("keep:one", points[:, 0] + 0.5), ("begins:one", points[:, 2] + 0.5)):
            _, arrays = self.play(body, field)[0]
            np.testing.assert_allclose(arrays["field.0"], wanted, atol=1e-5)
            self.assertNotIn("field.1", arrays)

    def test_the_speeds_of_a_guide_are_those_of_births(self):
        data = json.loads(effects()["bell-ring"].model_dump_json())
        header, arrays = self.play({"format": "kagero-effect", **data}, "speed:ring")[0]
        low, high = header["props"][1]["field"]
        self.assertEqual((low, high), (float(arrays["field.1"].min()), float(arrays["field.1"].max())))
        points = self.points(data["props"][1])
        far = np.argmax(np.linalg.norm(points, axis=1))  # where it bulges most, births are among the fastest
        self.assertGreater(arrays["field.1"][far], 0.7 * high)
        self.assertGreaterEqual(low, 0)

    def test_a_field_of_nothing_that_is_there_shows_nothing(self):
        body = {**document(emitter()), "props": [prop("a", shape="plane")]}
        for field in ("mask:gone", "keep:gone", "speed:one", "density:one", "nonsense", "mask:"):
            _, arrays = self.play(body, field)[0]
            self.assertFalse([name for name in arrays if name.startswith("field")], field)
