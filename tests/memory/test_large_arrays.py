"""Arrays whose size a document decides: bounded by the particles or refused before they are allocated, and made by
parts that ask whether they are wanted."""

from __future__ import annotations

import tracemalloc
import unittest
from collections.abc import Callable
from dataclasses import replace
from typing import Any
from unittest import mock

import numpy as np

from demo.parts import prop
from kagero.core.document import read_effect
from kagero.core.errors import BudgetError, Cancelled
from kagero.core.formats.exporters import ExportDetails
from kagero.core.formats.exporters.flipbook import SpriteSheet
from kagero.core.geometry import Picture
from kagero.core.picture.passes import RANKS, _insert_coverage
from kagero.core.surfaces import blob, parts
from kagero.core.work_limits import LIMITS, Work, claim, while_wanted
from kagero.core.workflows import Playing, RenderRequest, render_frame
from tests.making import document, emitter, row

MB = 1 << 20
SHEET = {option.name: option.default for option in SpriteSheet.options}


def peak(work: Callable[[], Any]) -> int:
    """Return the bytes that are allocated at most while something is done, beyond those there were."""
    tracemalloc.start()
    try:
        work()
        return tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()


def spread(count: int, side: float, **look: Any) -> Playing:
    """Return particles in a box so many metres wide."""
    one = emitter(
        births__rate=row(0.0),
        births__bursts=[{"uid": "b", "frame": 0, "count": count}],
        births__lifespan=row(100.0),
        births__place={"kind": "box", "centre": row([0.0, 0.0, 0.0]), "size": row([side, side, side])},
    )
    one["look"] |= look
    return Playing(read_effect(document(one)))


class Bounded(unittest.TestCase):
    def test_mattes_keep_the_largest_coverages_alone_however_many_there_are(self):
        """As a stable sort of all of them has it, ties included; 200 coverages of 200 x 300 pixels were 48 MB, and as
        much again for their order."""
        chance = np.random.default_rng(13)
        covers = chance.integers(0, 5, (200, 20, 30)).astype(np.float32) / 4
        most, whose = np.zeros((RANKS, 20, 30), np.float32), np.zeros((RANKS, 20, 30), np.int32)
        for which, cover in enumerate(covers):
            _insert_coverage(most, whose, cover, which)
        order = np.argsort(-covers, axis=0, kind="stable")[:RANKS]
        np.testing.assert_array_equal(most, np.take_along_axis(covers, order, axis=0))
        np.testing.assert_array_equal(whose[most > 0], order[most > 0])

    def test_pictures_of_many_parts_and_sheets_of_many_pages_are_refused_before_they_are_made(self):
        body = document(emitter())
        body["finish"] = [
            {"kind": "glow", "uid": f"g{k}", "name": f"glow {k}", "emitters": ["one"], "props": ["a", "b"][k : k + 1]}
            for k in range(2)
        ]
        body["props"] = [{"kind": "shape", "uid": uid, "name": uid, "shape": "sphere"} for uid in "ab"]
        playing = Playing(read_effect(body))
        with (
            mock.patch.object(LIMITS, "effect_bytes", 16 * 64 * 48 * 5),
            self.assertRaisesRegex(BudgetError, "A picture of 3 parts"),
        ):
            render_frame(playing, 0, RenderRequest(64, 48))
        render_frame(playing, 0, RenderRequest(64, 40))
        about = ExportDetails(
            "Test", 0, 63, (24, 1), (("one", "One"),), size=(1000, 1000), options={**SHEET, "motion": True}
        )
        with self.assertRaisesRegex(BudgetError, "A sheet of 64 pages needs"):
            SpriteSheet(replace(about, size=(2000, 2000))).fits()
        SpriteSheet(about).fits()

    def test_blobs_that_are_small_and_far_apart(self):
        """20,000 of 2 cm in 20 m asked for 14.6 GB: their neighbours were looked for in cells as small as the largest
        reach."""
        result = spread(20_000, 20.0, sprite="blob", size=row(0.02), cell=0.01, smooth=row(1.6))
        self.assertLess(peak(lambda: render_frame(result, 0, RenderRequest(64, 48))), 300 * MB)

    def test_blobs_of_folded_cells_are_mixed_as_by_looking_at_all_of_them(self):
        chance = np.random.default_rng(2)
        places = np.concatenate(
            [chance.uniform(0, 1, (60, 3)), chance.uniform(-500, 500, (60, 3))]
        )  # so far apart that many share a cell
        reach, given = chance.uniform(0.1, 0.4, 120), chance.normal(size=(120, 4))
        points = (places + chance.normal(0, 0.02, places.shape)).astype(np.float32)
        normals, mixes = blob._blended_at(points, places, reach, given)
        away = points[:, None].astype(np.float64) - places
        left = np.maximum(1 - (away**2).sum(axis=2) / reach**2, 0)
        slope = ((6 * left**2 / reach**2)[:, :, None] * away).sum(axis=1)
        weight = left**3
        np.testing.assert_allclose(mixes, weight @ given / weight.sum(axis=1)[:, None], atol=1e-5)
        np.testing.assert_allclose(normals, slope / np.linalg.norm(slope, axis=1)[:, None], atol=1e-5)

    def test_shadows_of_many_lights(self):
        result = spread(10, 1.0)
        lamps = [
            prop(f"l{k}", f"L{k}", "light", shines="point", reach=row(9.0), position=row([0.1 * k, 2.0, 0.0]))
            for k in range(62)
        ]
        lit = Playing(
            read_effect(
                {**document(emitter()), "props": [*lamps, prop("ball", "Ball", "shape", shape="sphere", radius=1.0)]}
            )
        )
        self.assertLess(
            peak(lambda: render_frame(lit, 0, RenderRequest(64, 48)))
            - peak(lambda: render_frame(result, 0, RenderRequest(64, 48))),
            500 * MB,
        )

    def test_smaller_pictures_of_a_picture_are_made_by_rows_and_are_means_of_the_whole(self):
        for height, width in ((1, 1), (7, 1), (1, 6), (301, 514), (513, 257)):
            pixels = np.random.default_rng(height).random((height, width, 4)).astype(np.float16)
            for larger, smaller in zip(Picture(pixels).levels, Picture(pixels).levels[1:], strict=False):
                h, w = larger.shape[:2]
                whole = np.pad(
                    larger.astype(np.float64),
                    ((0, h % 2 if h > 1 else 0), (0, w % 2 if w > 1 else 0), (0, 0)),
                    mode="edge",
                )
                rows, columns = smaller.shape[:2]
                means = whole.reshape(rows, len(whole) // rows, columns, -1, 4).mean(axis=(1, 3))
                np.testing.assert_allclose(smaller.astype(np.float64), means, atol=6e-4)
        large = Picture(np.zeros((4000, 4000, 4), np.float16))
        self.assertLess(peak(lambda: large.levels), 0.75 * large.pixels.nbytes)


class Refused(unittest.TestCase):
    def test_what_needs_more_than_one_effect_may_take_is_refused_in_words_before_it_is_allocated(self):
        for look in (
            {"sprite": "blob", "size": row(0.5), "cell": 0.05},
            {"sprite": "haze", "size": row(0.5), "cell": 0.05},
        ):
            result = spread(300, 10.0, **look)
            frames = result.frames(0)[0].population.nbytes * 100
            with mock.patch.object(LIMITS, "effect_bytes", frames):
                self.assertIn("GB of memory", result.layers(0)[0].shown.problem)
        with (
            mock.patch.object(LIMITS, "effect_bytes", 1000),
            self.assertRaisesRegex(BudgetError, "Clouds needs 0.0 GB"),
        ):
            claim(1001, "Clouds")

    def test_particles_are_laid_onto_a_grid_by_parts_that_ask_whether_they_are_wanted(self):
        reach = np.random.default_rng(1).uniform(1, 60, 500)
        with mock.patch.object(parts, "AT_ONCE", 100_000):
            slices = list(parts.in_parts(reach, np.array([90, 100, 110])))
        self.assertEqual(np.concatenate([np.arange(500)[each] for each in slices]).tolist(), list(range(500)))
        self.assertGreater(len(slices), 100)

        asked: list[int] = []

        def stop() -> None:
            asked.append(1)
            if len(asked) == 3:
                raise Cancelled()

        result = spread(3000, 1e4, sprite="haze", size=row(1e4), cell=0.05)
        frame = result.frames(0)
        with mock.patch("kagero.core.work_limits.EVERY", 0.0), self.assertRaises(Cancelled), while_wanted(Work(stop)):
            result.layers(0)
        self.assertTrue(frame)
