"""Cards: every one says something, shows something that can be played, and its examples fit or say why not."""

from __future__ import annotations

import itertools

from django.test import SimpleTestCase

from kagero.core.beginnings import begin
from kagero.core.catalog import check_effect, layout
from kagero.core.catalog.describe import OPERATIONS, emitter_rows
from kagero.core.document import ONCE, read_effect
from kagero.core.errors import EffectError, KageroError, RequestError
from kagero.core.formula.functions import FUNCTIONS
from kagero.core.help import CARDS, attempt, card_of, made_up
from kagero.core.parts.finish import FINISH
from kagero.core.parts.looks import LOOKS
from kagero.core.parts.masks import MASKS
from kagero.core.parts.props import PROPS
from kagero.core.parts.shapings import SHAPINGS
from kagero.core.parts.sources import SOURCES
from kagero.core.workflows import Playing
from tests.making import document, emitter, row
from tests.soak import SOAK, share


class Cards(SimpleTestCase):
    def test_every_row_source_operation_function_prop_and_mask_has_one_of_one_sentence(self):
        wanted = (
            {f"row:{spec.key}" for spec in emitter_rows()}
            | {f"source:{kind}" for kind in SOURCES.kinds}
            | {f"look:{kind}" for kind in LOOKS.kinds}
        )
        wanted |= (
            {f"operation:{name}" for name in OPERATIONS}
            | {f"function:{name}" for name in FUNCTIONS}
            | {f"mask:{kind}" for kind in MASKS.kinds}
        )
        wanted |= {f"prop:{kind}" for kind, part in PROPS.kinds.items() if not part.mask}
        wanted |= {f"once:{'.'.join(path)}" for path in ONCE} | {f"finish:{kind}" for kind in FINISH.kinds}
        wanted |= {f"shaping:{kind}" for kind in SHAPINGS.kinds}
        self.assertEqual(wanted - set(CARDS), set())
        whole = read_effect(
            document(
                emitter(
                    target={}, motion={"space": {}, "near": {}}, forces=[{"kind": "drag", "uid": "d", "rate": row(1.0)}]
                )
            )
        )
        reported = {part["card"] for part in layout(whole)["emitters"]["one"]["parts"].values()} - {""}
        self.assertEqual(reported - set(CARDS), set())
        self.assertLessEqual({"once:target", "once:motion.space", "force:drag"}, reported)
        for card in CARDS.values():
            self.assertGreater(len(card.help), 8, card.key)
            self.assertFalse(card.help[0].islower() and card.kind != "function", card.key)
            self.assertEqual(len(set(card.tries)), 2, card.key)
            if card.low is not None and card.high is not None:
                self.assertLess(card.low, card.high, card.key)

    def test_what_each_shows_is_valid_moves_and_can_be_played(self):
        """A few of every kind are played; in a soak all are checked, else a share."""
        played: dict[str, int] = {}
        rows = [card for card in CARDS.values() if card.kind == "row"]
        for card in [*share(rows, 6), *share((card for card in CARDS.values() if card.kind != "row"), 2)]:
            effect = card.effect()
            assert effect is not None, card.key
            self.assertEqual(check_effect(effect), [], card.key)
            played[card.kind] = played.get(card.kind, 0) + 1
            if played[card.kind] % (6 if SOAK or card.kind == "row" else 18) == 1 or card.name in (
                "picture",
                "mesh",
                "logo",
                "points",
                "painted",
            ):
                playing = Playing(effect, content=made_up)
                self.assertGreater(max(len(each) for n in (20, 45) for each in playing.show(n)), 3, card.key)
                self.assertEqual([each for each in effect.props if playing.stage.lacks(each.uid)], [], card.key)
        with self.assertRaises(RequestError):
            card_of("row:nothing")

    def test_examples_change_an_effect_that_still_plays_or_say_why_they_do_not_fit(self):
        numbers = itertools.count()
        fitting = 0
        for key in ("words",):
            effect = begin(key)
            before = effect.model_dump_json()
            for card, number in itertools.product(share(CARDS.values(), 5), (0, 1)):
                try:
                    changed, label = attempt(
                        effect, effect.emitters[0].uid, card.key, number, lambda: f"new-{next(numbers)}"
                    )
                except (RequestError, EffectError) as problem:
                    self.assertTrue(problem.findings[0].message.endswith("."), (card.key, problem))
                    continue
                self.assertEqual(check_effect(changed), [], card.key)
                self.assertNotEqual(changed.model_dump_json(), before, card.key)
                self.assertTrue(label.startswith("Try "))
                fitting += 1
            self.assertEqual(effect.model_dump_json(), before)
        self.assertGreater(fitting, 220 if SOAK else 30)

    def test_an_example_is_for_the_row_it_was_asked_on(self):
        effect = begin("sparks")
        numbers = itertools.count()
        changed, _ = attempt(effect, "sparks", "row:look.size", 0, lambda: f"new-{next(numbers)}", "look.opacity")
        self.assertEqual(
            len(changed.emitters[0].look.opacity.responses), len(effect.emitters[0].look.opacity.responses) + 1
        )
        for bad in (("sparks", "row:look.size", 2), ("nobody", "row:look.size", 0), ("sparks", "row:look.nothing", 0)):
            with self.assertRaises(KageroError):
                attempt(effect, *bad, str)
