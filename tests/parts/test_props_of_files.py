"""What files become as props, and what a prop may follow."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from kagero.core.catalog import layout, props_of_file
from kagero.core.document import read_effect, upgrade
from kagero.core.parts.props.camera import turned_by
from kagero.core.workflows import Playing
from tests.making import document
from tests.making.props import prop
from tests.soak import examples

CONTENT = "0" * 32


def file(kind: str, name: str, **more: Any) -> dict[str, Any]:
    return {"kind": kind, "name": name, "content": CONTENT, **more}


def turned(turn: float, x: float) -> list[float]:
    return [math.cos(turn), 0, math.sin(turn), x, 0, 1, 0, 2, -math.sin(turn), 0, math.cos(turn), 3, 0, 0, 0, 1]


class OfFiles(unittest.TestCase):
    def test_each_kind_of_file_becomes_its_prop(self):
        for kind, name, wanted in (
            ("mesh", "old_quay-2.glb", [("mesh", "old quay 2")]),
            ("picture", "window.png", [("picture", "window")]),
            ("points", "stars.csv", [("points", "stars")]),
            ("drawing", ".svg", [("logo", "prop")]),
        ):
            result = props_of_file(file(kind, name, unit=0.01, up="z"))
            self.assertEqual([(each["value"]["kind"], each["value"]["name"]) for each in result], wanted)
        self.assertEqual(
            [props_of_file(file("mesh", "a.stl", unit=0.01, up="z"))[0]["value"][name] for name in ("unit", "up")],
            [0.01, "z"],
        )

    def test_a_drawing_is_a_path_a_metre_high_on_the_ground_as_well(self):
        result = props_of_file(file("drawing", "wave.svg", line=[[10, -20, 0], [30, -20, 0], [30, 20, 0]]))
        path = next(each["value"] for each in result if each["group"] == "path")
        self.assertEqual(path["points"], [[-0.25, 0, 0], [0.25, 0, 0], [0.25, 1, 0]])
        self.assertEqual([each["group"] for each in props_of_file(file("drawing", "wave.svg", line=[]))], ["logo"])

    def test_a_camera_that_moves_gets_keyframes_and_turns_the_short_way(self):
        keys = [{"time": i, "place": turned(3 + i * 0.2, i * 100)} for i in range(3)]
        camera = {"name": "Quay", "field_of_view": 0.8, "place": keys[0]["place"], "keys": keys}
        result = next(
            each["value"]
            for each in props_of_file(file("mesh", "quay.glb", unit=0.01, cameras=[camera]))
            if each["group"] == "camera"
        )
        self.assertEqual(result["position"]["base"], [0, 0.02, 0.03])
        self.assertEqual([(r["component"], *r["output"]) for r in result["position"]["responses"]], [("x", 0, 2)])
        (turn,) = result["rotation"]["responses"]
        self.assertEqual((turn["component"], [round(v, 2) for v in turn["output"]]), ("y", [3, 3.4]))
        effect = read_effect({**upgrade(document()), "props": [{**result, "uid": "quay"}]})
        for frame, key in ((0, keys[0]), (25, keys[1]), (50, keys[2])):
            place = Playing(effect).stage.places(frame / 25)["quay"]
            wanted = np.reshape(key["place"], (4, 4)) * np.array([[1, 1, 1, 0.01]] * 3 + [[1, 1, 1, 1]])
            np.testing.assert_allclose(place, wanted, atol=2e-5)

    @given(st.floats(-3.1, 3.1), st.floats(-1.5, 1.5), st.floats(-3.1, 3.1))
    @settings(max_examples=examples(40), deadline=None)
    def test_turns_are_those_of_scipy(self, y: float, x: float, z: float):
        matrix = np.eye(4)
        matrix[:3, :3] = Rotation.from_euler(
            "YXZ", [y, x, z]
        ).as_matrix()  # SciPy: capital letters turn about the thing's own axes
        np.testing.assert_allclose(turned_by(matrix), [x, y, z], atol=1e-4)


class Following(unittest.TestCase):
    def test_a_prop_is_offered_only_what_does_not_follow_it_over_however_many(self):
        follow = lambda uid: {"prop": uid, "at": "place"}
        props = [prop("a", follow=follow("b")), prop("b", follow=follow("c")), prop("c"), prop("d")]
        laid = layout(read_effect({**upgrade(document()), "props": props}))["props"]
        offered = {
            uid: [
                o["value"]
                for field in each["parts"][""]["fields"]
                if field["offered"]["name"] == "follow"
                for o in field["offered"]["options"]
            ]
            for uid, each in laid.items()
        }
        self.assertEqual(offered, {"a": ["b", "c", "d"], "b": ["c", "d"], "c": ["d"], "d": ["a", "b", "c"]})
