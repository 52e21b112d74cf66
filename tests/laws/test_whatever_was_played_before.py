"""Whatever was played before, a document's frames are the bytes of a fresh process."""

from __future__ import annotations

import hashlib
import json
import os
import subprocess
import sys
import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.document import read_effect
from kagero.core.simulation import FrameStore
from kagero.core.workflows import Playing
from tests.making import STRAIGHT, document, emitter, response, row
from tests.making.formulas import formula
from tests.making.runs import frame_bytes
from tests.soak import examples

_thinning = {"prop": None, "outer": row(5.0), "inner": row(0.2)}


@st.composite
def documents(draw: Any) -> list[dict[str, Any]]:
    """Return variants of one small effect: what a clip is, how births happen, with children and thinning; each differs
    from the first a little."""
    base: dict[str, Any] = {
        "clip": {"first_frame": 0, "last_frame": 30, "frame_rate": 25, "run_up": 0, "substeps": 1},
        "births": {"births__rate": row(40), "births__lifespan": row(1.0)},
        "child": {
            "births__rate": row(6),
            "births__lifespan": row(0.3),
            "births__place": {"kind": "particles", "emitter": "one"},
        },
        "thinning": None,
    }
    changes = [
        ("clip", "first_frame", st.sampled_from([-10, 0, 3])),
        ("clip", "last_frame", st.sampled_from([30, 31, 60])),
        ("clip", "frame_rate", st.sampled_from([24, 25, 23.976])),
        ("clip", "run_up", st.sampled_from([0, 7])),
        ("clip", "substeps", st.sampled_from([1, 2])),
        ("births", "births__when", st.sampled_from(["rate", "each"])),
        ("births", "births__duration", st.sampled_from([None, 0.5, 1.2])),
        ("births", "births__every", st.sampled_from([None, 0.7])),
        ("births", "births__limit", st.sampled_from([None, 9])),
        ("births", "births__keep", st.sampled_from([row(1.0), row(0.5)])),
        ("births", "births__start", st.sampled_from([0, 0.3])),
        (
            "births",
            "births__begins",
            st.sampled_from([row(0.0), row(0.0, response("be", "draw:d1", STRAIGHT, operation="set", read="once"))]),
        ),
        (
            "births",
            "births__rate",
            st.sampled_from(
                [
                    row(40),
                    row(55.5),
                    formula("60 if clip_time < 0.9 else 20"),
                    row(40, response("r", "clip_time", STRAIGHT, input=(0, 2))),
                ]
            ),
        ),
        ("child", "births__rate", st.sampled_from([row(6), formula("9 if clip_time < 0.7 else 3")])),
        ("child", "births__limit", st.sampled_from([None, 2])),
    ]
    collected = []
    for number in range(draw(st.integers(2, 3))):
        if number:
            for part, name, values in draw(st.lists(st.sampled_from(changes), min_size=1, max_size=3)):
                base = {**base, part: {**base[part], name: draw(values)}}
            base["thinning"] = draw(st.sampled_from([None, _thinning]))
        one = emitter("one", **base["births"])
        one["thinning"] = base["thinning"]
        collected.append(document(one, emitter("two", **base["child"]), **base["clip"]))
    return collected


def digests(each: dict[str, Any], store: FrameStore | None) -> str:
    """Return a digest of some frames of a document, asked for in an order of its own."""
    playing = Playing(read_effect(each), store)
    first, last = playing.plan.first_frame, playing.plan.last_frame
    seen = {n: frame_bytes(playing, n) for n in (20, last, first, 11)}
    return hashlib.sha256(b"".join(seen[n] for n in sorted(seen))).hexdigest()


class FreshProcess(unittest.TestCase):
    def test_frames_are_those_of_a_process_that_played_nothing_else(self):
        met: list[tuple[list[dict[str, Any]], list[str]]] = []

        @settings(max_examples=examples(25))
        @given(documents(), st.randoms(use_true_random=False))
        def play(variants: list[dict[str, Any]], order: Any) -> None:
            store, shuffled = FrameStore(), list(range(len(variants)))
            order.shuffle(shuffled)
            after = {i: digests(variants[i], store) for i in shuffled}
            after |= {i: digests(variants[i], store) for i in shuffled}  # and once more, now from what is kept
            met.append((variants, [after[i] for i in range(len(variants))]))

        play()
        every = [each for variants, _ in met for each in variants]
        repeated = subprocess.run(
            [sys.executable, "-m", __name__],
            input=json.dumps(every),
            capture_output=True,
            text=True,
            check=True,
            env={**os.environ, "PYTHONWARNINGS": "ignore"},
        )
        fresh = iter(json.loads(repeated.stdout))
        for variants, after in met:
            for each, digest in zip(variants, after, strict=True):
                self.assertEqual(digest, next(fresh), json.dumps(each))

    def test_a_clip_that_begins_earlier_or_ends_later_and_back_again(self):
        """40 a second that live a second: 40 at a frame, after any other first frame was looked at."""
        store = FrameStore()
        for first, alive in ((0, 33), (-10, 40), (0, 33)):
            clip = Playing(read_effect(document(emitter(births__rate=row(40.0)), first_frame=first)), store)
            self.assertEqual(len(clip.frames(20)[0].population), alive, first)
        each = emitter(
            births__rate=row(49.0),
            births__when="each",
            births__lifespan=row(100.0),
            births__begins=row(0.0, response("be", "draw:d1", STRAIGHT, operation="set", read="once")),
        )
        for last in (50, 100, 50):
            clip = Playing(read_effect(document(each, last_frame=last)), store)
            keys = clip.frames(last)[0].population.key
            self.assertEqual(len(set(keys.tolist())), len(keys))


if __name__ == "__main__":  # a fresh process: each document alone
    print(json.dumps([digests(each, None) for each in json.load(sys.stdin)]))
