"""A row made to vary by a new draw of any kind varies about what it was."""

from __future__ import annotations

import unittest

import numpy as np

from kagero.core.catalog import Variation, check_effect, variations
from kagero.core.document import Effect, read_effect, upgrade
from kagero.core.parts.draws import DRAWS
from kagero.core.workflows import Playing
from tests.making import document, emitter, row, with_

ROW = "births.launch.speed"
SPEED = 2.0


def offered(effect: Effect, address: str = ROW) -> dict[str, Variation]:
    return {each.kind: each for each in variations(effect, effect.emitters[0], address)}


class Varying(unittest.TestCase):
    def setUp(self) -> None:
        self.body = upgrade(document(emitter(births__launch__speed=row(SPEED))))
        self.effect = read_effect(self.body)

    def varied(self, variation: Variation) -> Effect:
        """Return the effect with the variation in it, as the Desk puts it in."""
        draw = {**variation.draw, "uid": "new", "name": "new"}
        driver = {"kind": "draw", "draw": "new"}
        response = {
            "kind": "curve",
            "uid": "r",
            "source": driver,
            "read": "once",
            "input": list(variation.input),
            "output": list(variation.output),
            "operation": "multiply",
            "curve": {"keys": [{"x": x, "y": x, "shape": "linear"} for x in (0.0, 1.0)]},
        }
        speed = {"base": {"source": driver, "read": "once"}, "responses": []} if variation.base else row(SPEED)
        speed = speed if variation.base else {**speed, "responses": [response]}
        return read_effect(with_(self.body, emitters__0__draws=[draw], emitters__0__births__launch__speed=speed))

    def test_a_draw_of_each_kind_is_offered_and_gives_values_about_what_the_row_is(self):
        self.assertEqual(list(offered(self.effect)), list(DRAWS.kinds))
        for kind, variation in offered(self.effect).items():
            with self.subTest(kind):
                effect = self.varied(variation)
                self.assertEqual(check_effect(effect), [])
                population = Playing(effect).frames(12)[0].population
                speed = np.linalg.norm(np.asarray(population.velocity, float), axis=0)
                self.assertGreater(speed.size, 8)
                # a launch has no speed below nought: what a sign turns round is held there
                least = SPEED / 4 if variation.base or variation.output[0] > 0 else -1e-6
                self.assertTrue(((speed > least) & (speed < 3 * SPEED)).all(), speed)
                self.assertGreater(np.unique(speed.round(4)).size, 1)

    def test_what_a_shift_is_varied_by_is_added_and_a_colour_is_multiplied(self):
        curve = self.varied(offered(self.effect)["uniform"])
        shift = offered(curve, "responses.r.shift")["uniform"]
        self.assertEqual((shift.added, shift.output), (True, (-0.25, 0.25)))
        colour = offered(self.effect, "look.colour")
        self.assertFalse(any(each.base or each.added for each in colour.values()))


if __name__ == "__main__":
    unittest.main()
