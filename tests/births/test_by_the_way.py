"""Births by the way of a prop: so many a metre, however fast it goes; how far it has come."""

from __future__ import annotations

import unittest

import numpy as np

from kagero.core.catalog import check_effect
from kagero.core.document import read_effect
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, response, row
from tests.making.formulas import formula
from tests.making.props import prop

PEN = {"scale": row([0.0001] * 3)}
FAST = formula("vec3(3 * clip_time * clip_time, 0, 0)")


def drawing(pen, per="metre", rate=20.0, **more):
    one = emitter(
        births__rate=row(rate),
        births__lifespan=row(99.0),
        births__launch__speed=row(0.0),
        births__per=per,
        births__place={"kind": "prop", "prop": "pen", "on": "surface"},
        **more,
    )
    return read_effect({**document(one), "props": [pen]})


class ByTheMetre(unittest.TestCase):
    def test_evenly_along_the_way_however_fast_it_goes(self):
        clip = drawing(prop("pen", position=FAST, **PEN))
        x = np.sort(np.asarray(Playing(clip).frames(50)[0].population.position[0], float))
        self.assertEqual(len(x), 12 * 20 + 1)  # 3 t² at 2 s, and one at each end
        np.testing.assert_allclose(np.diff(x), 1 / 20, atol=2e-3)
        by_time = drawing(prop("pen", position=FAST, **PEN), "second", 120.0)
        x = np.sort(np.asarray(Playing(by_time).frames(50)[0].population.position[0], float))
        self.assertGreater(np.ptp(np.diff(x)), 0.08)  # that leaves gaps

    def test_one_that_stands_gives_none_and_a_rate_may_be_driven_too(self):
        self.assertEqual(len(Playing(drawing(prop("pen", **PEN))).frames(50)[0].population), 0)
        half = drawing(prop("pen", position=FAST, **PEN), rate=0.0)
        half = read_effect(
            {
                **half.model_dump(mode="json"),
                "emitters": [
                    {
                        **half.emitters[0].model_dump(mode="json"),
                        "births": {
                            **half.emitters[0].births.model_dump(mode="json"),
                            "rate": formula("40 if clip_time < 1 else 0"),
                        },
                    }
                ],
            }
        )
        self.assertAlmostEqual(len(Playing(half).frames(50)[0].population), 120, delta=1)

    def test_of_no_prop_is_told(self):
        nowhere = read_effect(document(emitter(births__per="metre")))
        self.assertIn("counts births by the metre, and of no prop's way", check_effect(nowhere)[0].message)


class Travelled(unittest.TestCase):
    def test_round_a_circle(self):
        """Metres along a circle: radius times angle."""
        size = response(
            "s",
            {"kind": "prop_travelled", "prop": "pen"},
            STRAIGHT,
            operation="set",
            shape="linear",
            input=(0, 100),
            output=(0, 100),
        )
        pen = prop("pen", position=formula("vec3(2 * cos(3 * clip_time), 0, 2 * sin(3 * clip_time))"))
        effect = read_effect({**document(emitter(look__size=row(0.0, size))), "props": [pen]})
        for frame in (5, 50):
            np.testing.assert_allclose(Playing(effect).show(frame)[0].column("size"), 2 * 3 * frame / 25, rtol=1e-4)


if __name__ == "__main__":
    unittest.main()
