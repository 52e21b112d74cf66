"""The picture of a life is as wide as it is asked for, and its particles are as round and as large, whatever the
width."""

from __future__ import annotations

import unittest

from kagero.core.workflows.measure import life_profile
from kagero.core.workflows.portrait import CROWD, MARGIN, MEAN, SHARES, life_portrait
from tests.making import emitter, playing, row


class Width(unittest.TestCase):
    def test_particles_keep_their_shape_at_every_width(self):
        run = playing(emitter(look__size=row(0.1), look__opacity=row(1.0)))
        frames = [
            (run.plan.seconds(n), run.runs[0].frame(n).population)
            for n in range(run.plan.first_frame, run.plan.last_frame + 1)
        ]
        profile = life_profile(run.effect.emitters[0], run.plan.emitters[0], frames)
        widths, discs = (200, 594, 1700), []
        for width in widths:
            picture = life_portrait(run.looks[0], frames, profile, width)
            self.assertEqual(picture.shape, (MEAN + CROWD, width + 2 * MARGIN, 4))
            middle = MARGIN + round(width * (SHARES // 2) / (SHARES - 1))
            disc = picture[:MEAN, middle - 9 : middle + 10, :3].astype(int).max(axis=2)
            lit = disc > disc.min() + 30
            discs.append((lit.any(axis=0).sum(), lit.any(axis=1).sum()))
        for across, up in discs:
            self.assertGreater(min(across, up), 8)
            self.assertLess(abs(across - discs[0][0]) + abs(up - discs[0][1]), 4, discs)
