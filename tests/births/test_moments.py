"""Moments: births, bursts, rows and props hang on them, and moving one moves the sequence."""

from __future__ import annotations

import unittest

import numpy as np

from kagero.core.catalog import check_effect, delete_moment, rename
from kagero.core.document import moment_times, read_effect
from kagero.core.errors import LinkProblem
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, response, row
from tests.making.formulas import formula
from tests.making.props import prop

GATHER = {"uid": "g", "name": "Gather", "frame": 10}
ENDS = {"uid": "e", "name": "Gather ends", "after": "g", "seconds": 0.4}
FLARE = {"uid": "f", "name": "Flare", "after": "e", "seconds": 0.5}


def effect(*emitters, moments=(GATHER, ENDS, FLARE), props=(), **clip):
    return read_effect({**document(*emitters, **clip), "moments": list(moments), "props": list(props)})


class Hanging(unittest.TestCase):
    def born(self, result, frames):
        playing = Playing(result)
        return [len(playing.frames(frame)[0].population) for frame in frames]

    def test_each_after_another_and_moving_one_moves_all(self):
        self.assertEqual(moment_times(effect(emitter())), {"g": 0.4, "e": 0.8, "f": 1.3})
        later = effect(emitter(), moments=({**GATHER, "frame": 20}, ENDS, FLARE))
        np.testing.assert_allclose([moment_times(later)[uid] for uid in "gef"], [0.8, 1.2, 1.7])

    def test_births_begin_and_end_and_bursts_come_with_them(self):
        one = emitter(
            births__after="g",
            births__until="e",
            births__rate=row(25),
            births__lifespan=row(9.0),
            births__bursts=[{"uid": "b", "frame": 5, "after": "f", "count": 100}],
        )
        one["births"]["start"] = 0.2
        self.assertEqual(self.born(effect(one), (14, 15, 20, 30, 36, 37, 38, 50)), [0, 1, 5, 5, 5, 5, 105, 105])
        moved = effect(one, moments=({**GATHER, "frame": 12}, ENDS, FLARE))
        self.assertEqual(self.born(moved, (17, 22, 39, 40)), [1, 5, 5, 105])

    def test_rows_of_particles_masks_and_props_read_the_time_since(self):
        since = response(
            "s",
            {"kind": "moment", "moment": "e"},
            STRAIGHT,
            operation="set",
            shape="linear",
            input=(-10, 10),
            output=(-10, 10),
        )
        one = emitter(
            look__size=row(0.0, {**since, "operation": "add"}),
            births__rate=row(50),
            look__opacity=formula("clamp(moments.gather_ends, 0, 1)"),
        )
        one["look"]["size"]["base"] = 2.0
        mask = {
            "uid": "m",
            "name": "M",
            "kind": "mask",
            "shape": "sphere",
            "radius": row(0.0, {**since, "uid": "r", "operation": "set", "input": (0, 1), "output": (0, 3)}),
        }
        result = effect(one, props=[mask])
        self.assertEqual(check_effect(result), [])
        shown = Playing(result).show(25)[0]
        np.testing.assert_allclose(shown.column("size"), 2.2, atol=1e-5)
        np.testing.assert_allclose(shown.column("opacity"), 0.2, atol=1e-5)
        self.assertAlmostEqual(Playing(result).stage.extent(result.props[0], 1.0)["radius"], 0.6, places=5)

    def test_a_prop_is_seen_from_one_until_another(self):
        result = effect(emitter(), props=[prop("a", seen_from="g", seen_until="f")])
        stage = Playing(result).stage
        self.assertEqual([stage.seen("a", t) for t in (0.39, 0.4, 1.29, 1.3)], [False, True, True, False])

    def test_circles_and_missing_ones_are_told(self):
        circle = effect(emitter(), moments=({**GATHER, "after": "f"}, ENDS, FLARE))
        words = [finding.message for finding in check_effect(circle)]
        self.assertIn("Moments come after each other in a circle: Gather <- Flare <- Gather ends <- Gather.", words)
        moment_times(circle)
        gone = effect(emitter(births__after="x", births__until="y"), props=[prop("a", seen_from="z")])
        self.assertEqual(len(check_effect(gone)), 3)

    def test_taken_away_what_hung_on_it_stays_where_it_is(self):
        one = emitter(
            births__after="e",
            births__until="f",
            births__rate=row(25),
            births__bursts=[{"uid": "b", "frame": 5, "after": "e", "count": 9}],
        )
        result = effect(one, props=[prop("a", seen_from="e")])
        without = result
        for uid in ("e", "f"):
            without = delete_moment(without, uid)
        self.assertEqual([moment.uid for moment in without.moments], ["g"])
        for frame in (19, 24, 25, 33, 40):
            np.testing.assert_array_equal(
                Playing(result).frames(frame)[0].population.key, Playing(without).frames(frame)[0].population.key
            )
        reads = effect(emitter(look__opacity=formula("clamp(moments.flare, 0, 1)")))
        with self.assertRaisesRegex(LinkProblem, "Opacity of One reads Flare"):
            delete_moment(reads, "f")
        named = rename(reads, "moment", "f", "Blaze", "")
        self.assertIn("moments.blaze", named.emitters[0].look.opacity.base.source.text)


if __name__ == "__main__":
    unittest.main()
