"""Where nothing is seen of an emitter, the words name the reason, and the row is the one to change."""

from __future__ import annotations

from typing import Any

from django.test import SimpleTestCase

from kagero.core.document import read_effect
from kagero.core.formats import unpack
from kagero.core.workflows import Playing, PlayRequest, play_packets
from tests.making import document, emitter, response, row
from tests.making.births import mask


def report(collected: dict[str, Any], number: int = 25) -> list[tuple[str, str] | None]:
    """Return what the packet of a frame says of each emitter."""
    packets = play_packets(
        Playing(read_effect(collected)), number, PlayRequest(whole=False, facts=False, measured=False)
    )
    header, _ = unpack(next(iter(packets)))
    return [tuple(each["unseen"]) if "unseen" in each else None for each in header["emitters"]]


class Unseen(SimpleTestCase):
    def test_each_reason_by_itself(self):
        masked = response(
            "k", {"kind": "mask", "mask": "m", "part": "value"}, [(0, 0), (1, 1)], read="once", shape="linear"
        )
        away = mask(shape="sphere", radius=row(0.1), falloff=row(0.0), position=row([50.0, 0.0, 0.0]))
        cases: list[tuple[dict[str, Any], str, str]] = [
            ({"births__rate": row(0.0)}, "the rate is nought", "births.rate"),
            ({"births__limit": 0}, "at most 0", "births.rate"),
            ({"births__start": 1.6}, "frame 40", "births.rate"),
            (
                {"births__rate": row(0.0), "births__bursts": [{"uid": "b", "frame": 30, "count": 5}]},
                "frame 30",
                "births.rate",
            ),
            ({"births__duration": 0.2, "births__lifespan": row(0.4)}, "born at frame", "births.lifespan"),
            ({"births__rate": row(3.0), "births__lifespan": row(0.01)}, "10 ms, less than a frame", "births.lifespan"),
            ({"births__keep": row(1.0, masked)}, "kept births", "births.keep"),
            ({"look__size": row(0.0)}, "no size", "look.size"),
            ({"look__opacity": row(0.0)}, "opacity is nought", "look.opacity"),
            ({"thinning": {"outer": row(0.5)}}, "thinned out", "thinning.outer"),
        ]
        for changes, words, address in cases:
            with self.subTest(words):
                (message,) = report(
                    {**document(emitter(**changes)), "props": [away]},
                    12 if "bursts" in str(changes) or "10 ms" in words else 25,
                )
                assert message is not None
                self.assertIn(words, message[0])
                self.assertEqual(message[1], address)

    def test_nothing_is_said_where_somebody_is_seen(self):
        at_most = {"births__limit": 3, "births__start": 0.5, "births__lifespan": row(9.0)}
        self.assertEqual(report(document(emitter(), emitter("two", **at_most))), [None, None])

    def test_births_from_particles_name_whose(self):
        child = emitter("two", births__place={"kind": "particles", "emitter": "one"})
        quiet = emitter("one", births__start=1.9)
        message = report(document(quiet, child), 10)
        assert message[1] is not None
        self.assertIn("particles of One", message[1][0])
