"""What ranges are fitted to changes where what particles have may change by it: with what props are made from, not with
where they stand."""

from __future__ import annotations

import unittest
from typing import Any

from kagero.core.catalog.fitting import fitted_to
from kagero.core.document import Effect, read_effect
from tests.making import document, emitter, row

WORDS = {"kind": "text", "uid": "words", "name": "words", "text": "Ferry", "height": 0.4}
RAIL = {"kind": "path", "uid": "rail", "name": "rail", "points": [[0, 0, 0], [1, 0, 0]]}
SHADE = {
    "kind": "ratio",
    "uid": "r",
    "source": {"kind": "formula", "uid": "f", "text": "length(position - props.rail)"},
    "reference": 1.0,
    "power": 1.0,
}


def effect(*emitters: dict[str, Any], **changed: dict[str, Any]) -> Effect:
    props = [{**prop, **changed.get(prop["uid"], {})} for prop in (WORDS, RAIL)]
    return read_effect({**document(*emitters), "props": props})


class FittedTo(unittest.TestCase):
    def test_it_follows_what_is_named_however_and_nothing_else(self):
        on_words = emitter(births__place={"kind": "prop", "prop": "words", "on": "surface"})
        by_formula = emitter(look__size=row(0.1, SHADE))
        child = {**emitter(births__place={"kind": "particles", "emitter": "one"}), "uid": "two", "name": "two"}
        longer, moved, bent = (
            {"text": "Lantern Ferry"},
            {"position": row([1.0, 2.0, 0.0])},
            {"points": [[0, 0, 0], [1, 1, 0]]},
        )
        for result, words, rail in (
            ((on_words,), True, False),
            ((by_formula,), False, True),
            ((on_words, child), True, False),
            ((emitter(),), False, False),
        ):
            looked = result[-1]["uid"]

            def key(looked: str = looked, outcome: Any = result, **changed: Any) -> str:
                whole = effect(*outcome, **changed)
                return fitted_to(whole, next(each for each in whole.emitters if each.uid == looked))

            with self.subTest(words=words, rail=rail, of=looked):
                self.assertEqual(bool(key()), words or rail)
                self.assertEqual(key(words=longer) != key(), words)
                self.assertEqual(key(rail=bent) != key(), rail)
                self.assertEqual(key(words=moved, rail={"name": "railing"} if not rail else {}), key())
                self.assertLessEqual(len(key()), 32)
