"""What the kinds of docs/ADDING.md do, once they are in a tree: run by test_adding with that tree first on the path."""

from __future__ import annotations

import math
import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from kagero.core.catalog import check_effect, layout
from kagero.core.catalog.sheet.adding import addable_finish
from kagero.core.document import read_effect, upgrade
from kagero.core.engine import REFERENCE, current_engine, use_engine
from kagero.core.formats.exporters import EXPORTERS
from kagero.core.help import CARDS, attempt, made_up
from kagero.core.kernels.contact_shapes import NUMBERS, capsule, distance
from kagero.core.parts.deeds import DEEDS
from kagero.core.workflows import Playing, bake
from kagero.core.workflows.rendering import RenderRequest, render_frame
from tests.making import document, emitter, row, with_
from tests.soak import SOAK


def effect_of(one: dict[str, Any], **changes: Any) -> Any:
    found = read_effect(with_(upgrade(document(one, substeps=8)), **changes))
    assert not check_effect(found), check_effect(found)
    return found


def launched(**more: Any) -> dict[str, Any]:
    """Return an emitter whose particles go straight along x, 1 m/s, from the origin."""
    launch = {"aim": "direction", "direction": row([1.0, 0.0, 0.0]), "cone": row(0.0), "speed": row(1.0)}
    place = {"kind": "point", "centre": row([0.0, 0.0, 0.0])}
    return emitter(births__launch=launch, births__place=place, forces=[], **more)


class Everywhere(unittest.TestCase):
    def test_each_has_a_card_whose_effect_plays_and_which_can_be_tried(self):
        contact = ["contact:capsule"] if SOAK else []  # its kernels take a minute to compile with a new shape
        for key in (*contact, "force:whirl", "shaping:raise_up", "finish:ceiling", "look:bead"):
            with self.subTest(key):
                card = CARDS[key]
                self.assertGreater(Playing(card.effect(), content=made_up).frames(20)[0].population.age.size, 10)
                changed, words = attempt(effect_of(launched()), "one", key, 0, iter("abcdef").__next__)
                self.assertEqual(check_effect(changed), [])
                self.assertIn(card.label.lower(), words)
        self.assertIn("Ceiling", [each.label for each in addable_finish(effect_of(launched()))])
        self.assertIn("xyz", EXPORTERS)


class Whirl(unittest.TestCase):
    def test_it_pushes_round_its_axis(self):
        one = emitter(births__launch__speed=row(0.0), births__place={"kind": "point", "centre": row([1.0, 0.0, 0.0])})
        push = {"kind": "whirl", "uid": "w", "strength": row(2.0), "middle": row([0.0, 0.0, 0.0])}
        effect = effect_of(one, emitters__0__forces=[push])
        part = layout(effect)["emitters"]["one"]["parts"]["forces.#w"]
        self.assertEqual((part["label"], part["help"]), ("Whirl", "Round an upright axis, as strong everywhere."))
        for choice in (REFERENCE, current_engine()):
            with use_engine(choice):
                population = Playing(effect).frames(8)[0].population
                age = population.age.astype(float)
                young = (age > 0) & (age < 0.15)
                # from rest at x = 1 the push is along -z, 2 m/s²: z = -t² while x is still about 1
                np.testing.assert_allclose(population.position[2][young], -(age[young] ** 2), atol=2e-3)


class Capsule(unittest.TestCase):
    def test_the_distance_is_that_from_the_line_less_the_radius(self):
        numbers = np.array([0.0, 0.5, 0.0, 0.2, 0.6])
        line = np.stack([np.zeros(2001), np.linspace(-0.3, 0.3, 2001), np.zeros(2001)], 1)
        for point in np.random.default_rng(1).uniform(-1, 1, (40, 3)):
            away, *normal = distance(NUMBERS["capsule"], numbers, *point)
            self.assertAlmostEqual(away, np.linalg.norm(line - point, axis=1).min() - 0.2, places=6)
            self.assertAlmostEqual(math.hypot(*normal), 1.0, places=12)
        self.assertAlmostEqual(capsule.enclosure(numbers, 2.0), 1.0)

    @unittest.skipUnless(SOAK, "compiles for a minute")
    def test_particles_are_kept_off_it(self):
        contact = {"kind": "capsule", "uid": "c", "centre": row([1.0, 0.0, 0.0])}
        effect = effect_of(launched(), emitters__0__contacts=[contact])
        x, y, z = np.asarray(Playing(effect).frames(40)[0].population.position, float)
        away = np.hypot(np.hypot(x - 1, z), y - np.clip(y, -0.3, 0.3))
        self.assertGreater(away.min(), 0.2 - 1e-6)
        self.assertLess(x.max(), 0.8 + 1e-6)


class Reverse(unittest.TestCase):
    def test_a_cue_turns_particles_round(self):
        cue = {"kind": "frame", "uid": "c", "name": "c", "frame": row(12.0), "reverses": True}
        population = Playing(effect_of(launched(), emitters__0__cues=[cue])).frames(24)[0].population
        self.assertIn("Reverse", [deed.__name__ for deed in DEEDS])
        old = population.age > 0.6
        self.assertTrue(old.any())
        np.testing.assert_allclose(population.velocity[0][old], -1, atol=1e-6)


class RaiseUp(unittest.TestCase):
    def test_it_moves_up_what_is_simulated(self):
        shaping = {"kind": "raise_up", "uid": "s", "amount": row(0.75)}
        shaped = Playing(effect_of(launched(), emitters__0__shaping=[shaping])).show(20)
        plain = Playing(effect_of(launched())).show(20)
        moved = [np.asarray(each[0].population.position) for each in (shaped, plain)]
        np.testing.assert_allclose(moved[0] - moved[1], np.array([0.0, 0.75, 0.0])[:, None] + 0 * moved[1], atol=1e-6)


class Ceiling(unittest.TestCase):
    def test_no_light_is_brighter(self):
        bright = CARDS["finish:ceiling"].effect().model_dump(mode="json")
        bright["finish"][0]["level"] = row(0.5)
        effect = read_effect(bright)
        light = render_frame(Playing(effect, content=made_up), 40, RenderRequest(64, 36)).over()
        self.assertGreater(light[..., :3].max(), 0.45)
        self.assertLessEqual(light[..., :3].max(), 0.5)


class Bead(unittest.TestCase):
    def test_its_edge_is_sharp(self):
        covered = []
        for look in ("bead", "soft_disc"):
            playing = Playing(CARDS[f"look:{look}"].effect(), content=made_up)
            covered.append(float(render_frame(playing, 40, RenderRequest(192, 108)).light[..., 3].sum()))
        # a disc that goes out as (1 - q²)² from its middle on has a third of a full one's light
        self.assertGreater(covered[0], 2.5 * covered[1])
        self.assertLess(covered[0], 3.1 * covered[1])


class Xyz(unittest.TestCase):
    def test_a_frame_is_a_block_of_lines(self):
        with tempfile.TemporaryDirectory() as folder:
            target = Path(folder) / "out.xyz"
            bake(Playing(effect_of(launched())), "xyz", 10, 11, target)
            blocks = target.read_text().rstrip("\n").split("\n\n")
        self.assertEqual(len(blocks), 2)
        first = np.array([[float(x) for x in line.split()] for line in blocks[0].splitlines()])
        population = Playing(effect_of(launched())).frames(10)[0].population
        np.testing.assert_allclose(np.sort(first[:, 0]), np.sort(population.position[0]), atol=1e-6)
        self.assertEqual(first.shape[1], 3)


if __name__ == "__main__":
    unittest.main(verbosity=2)
