"""Figures that emitters follow, against J. D. Lawrence, A Catalog of Special Plane Curves (Dover 1972)."""

from __future__ import annotations

import math
import unittest

import numpy as np

from demo.compass_rose import compass_rose
from kagero.core.document import read_effect
from kagero.core.workflows import Playing, with_dials


def births_of(last=None, **values):
    """Return when the rose's particles are born, and where, with dials turned."""
    document = compass_rose()
    if last is not None:
        document["clip"]["last_frame"] = last
    clip = Playing(with_dials(read_effect(document), {f"rose-{name}": value for name, value in values.items()}))
    schedule = clip.runs[0].schedule
    born = clip.runs[0].born(slice(0, len(schedule.times)), clip.frames(0)[0].faults)
    return clip, schedule.times, np.stack(born.position, axis=1).astype(float)


class Hypotrochoid(unittest.TestCase):
    """A pen h from the middle of a circle of radius b that rolls without slipping within one of radius a (the curve of
    Lawrence, A Catalog of Special Plane Curves, 1972), computed here by the rolling itself: the middle goes round at a
    - b, and the arcs that touched are equally long.
    """

    def test_births_lie_on_the_curve(self):
        for a, b, h in [(8, 3, 4.6), (5, 3, 5), (6, 1, 0.5), (2, 1, 1), (7, 12, 2)]:
            _, times, places = births_of(a=a, b=b, h=h, speed=0.75, scale=0.1)
            t = times * 0.75 * 2 * math.pi
            middle = (a - b) * np.exp(1j * t)
            touched = (
                a * t
                # the arc along the outer circle, and so along the rolling one, which turns against it while its middle
                # carries it on
            )
            pen = middle + h * np.exp(1j * (t - touched / b))
            wanted = 0.1 * np.stack([pen.real, pen.imag, 0 * t], axis=1)
            np.testing.assert_allclose(places, wanted + np.array([0, 1.2, 0]), atol=2e-5)

    def test_period_and_lobes(self):
        # a : b = p : q in lowest terms closes after q turns, with p lobes
        for a, b, lobes, turns in [(8, 3, 8, 3), (10, 4, 5, 2), (6, 1, 6, 1), (9, 6, 3, 2)]:
            _, times, places = births_of(last=24 * (turns + 1), a=a, b=b, h=b * 1.4, speed=1, scale=0.1)
            away = np.hypot(places[:, 0], places[:, 1] - 1.2)
            one = times < turns
            far = away[one]
            peaks = np.sum((far > np.roll(far, 1)) & (far >= np.roll(far, -1)))
            self.assertEqual(peaks, lobes)
            closed = [np.interp(times[one][:50] + turns, times, places[:, i]) for i in range(3)]
            np.testing.assert_allclose(np.stack(closed, axis=1), places[one][:50], atol=1e-4)
            for earlier in range(1, turns):  # and not before
                there = [np.interp(times[one][:50] + earlier, times, places[:, i]) for i in range(3)]
                self.assertGreater(np.abs(np.stack(there, axis=1) - places[one][:50]).max(), 0.01)

    def test_a_radius_of_nought_is_safe(self):
        for a, b, h in [(8, 0, 4), (0, 3, 2), (0, 0, 0), (5, 5, 1)]:
            result, _, places = births_of(a=a, b=b, h=h)
            self.assertTrue(np.isfinite(places).all())
            self.assertEqual([frame.faults.counts for frame in result.frames(60)], [{}])
        places = births_of(a=8, b=0, h=0, scale=0.1)[2]  # the rim of the large circle
        np.testing.assert_allclose(np.hypot(places[:, 0], places[:, 1] - 1.2), 0.8, atol=1e-5)
