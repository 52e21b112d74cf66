"""What particles keep of what they touched depends on what reads it, not on what things are called."""

from __future__ import annotations

import unittest
from typing import Any

from kagero.core.document import read_effect
from kagero.core.parts.contacts.base import remembered, sticks
from kagero.core.rows.contact_state import TOUCH
from tests.making import document, emitter, row

FLOOR = {"kind": "plane", "uid": "floor"}


def kept(**changes: Any) -> int:
    """Return how many numbers an emitter's particles keep of what they touched, beside whether and how often."""
    one = emitter(contacts=[FLOOR], **changes)
    return len(remembered(read_effect(document(one)).emitters[0])) - 2


def formula(text: str) -> dict[str, Any]:
    return row({"source": {"kind": "formula", "uid": "f", "text": text}, "read": "live"})


class Remembered(unittest.TestCase):
    def test_formulas_by_the_names_they_read(self):
        whole = len(TOUCH) - 2
        for text, wanted in (
            ("touch_speed / 4", whole),
            ("touching", whole),
            ("touch_normal.y", whole),
            ("age # not touch_speed", 0),
            ("own.touch_up", 0),
        ):
            with self.subTest(text):
                self.assertEqual(kept(look__size=formula(text), own=own("touch_up")), wanted)

    def test_sources_and_cues_by_what_they_are(self):
        by_speed = {"source": {"kind": "touch", "part": "speed"}, "read": "live"}
        self.assertEqual(kept(look__size=row(by_speed)), len(TOUCH) - 2)
        self.assertEqual(kept(cues=[{"kind": "touch", "uid": "c", "name": "touch"}]), len(TOUCH) - 2)
        self.assertEqual(kept(cues=[{"kind": "clock", "uid": "c", "name": "touch"}]), 0)
        self.assertEqual(kept(cues=[{"kind": "clock", "uid": "c", "name": "c", "holds": "stays"}]), len(TOUCH) - 2)

    def test_a_cue_that_stops_particles_makes_contacts_hold_them(self):
        for holds, wanted in (("stays", True), ("lets go", False)):
            one = emitter(contacts=[FLOOR], cues=[{"kind": "clock", "uid": "c", "name": "c", "holds": holds}])
            self.assertEqual(sticks(read_effect(document(one)).emitters[0]), wanted)


def own(name: str) -> list[dict[str, Any]]:
    return [{"kind": "number", "uid": "o", "name": name}]
