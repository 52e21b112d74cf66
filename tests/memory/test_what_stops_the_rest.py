"""Work that asks whether it is wanted, budgets named before it, and memory that is never more than it may be."""

from __future__ import annotations

import subprocess
import sys
import unittest
from time import perf_counter
from unittest import mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from demo.files import content as demo_file
from demo.lantern_ferry import effects
from demo.parts import prop, response, row, written
from kagero.core import work_limits
from kagero.core.document import read_effect
from kagero.core.errors import BudgetError, Cancelled
from kagero.core.memory import PROCESS, Memory, estimated_bytes
from kagero.core.parts.masks.base import MaskPart
from kagero.core.plan import compile_effect
from kagero.core.program import builder
from kagero.core.simulation import FrameStore
from kagero.core.staging import geometry
from kagero.core.work_limits import LIMITS, Work, spend, while_wanted
from kagero.core.workflows import Playing, PlayRequest, card_pictures, cost, play_packets, try_dial
from kagero.core.workflows.particles import Particles
from tests.making import document, emitter, playing, with_
from tests.making.budgets import AT_ONCE
from tests.soak import SOAK, examples


def eight_deep(kind: str = "union", times: int = 8) -> dict:
    """A mask of eight masks, each the same mask of eight masks, and so on, eight deep: 8^8 if each were compiled where
    it is named."""
    ball = prop("m0", "Ball", "mask", shape="sphere")
    deeper = [prop(f"m{k}", f"Mask {k}", "mask", shape=kind, masks=[f"m{k - 1}"] * times) for k in range(1, 9)]
    one = emitter(
        births__keep=row(
            1.0, response("r", {"kind": "mask", "mask": "m8", "part": "value"}, [(0, 0), (1, 1)], read="once")
        )
    )
    return {**document(one), "props": [ball, *deeper]}


class Budgets(unittest.TestCase):
    def test_each_mask_is_compiled_once_however_many_name_it(self):
        for kind in ("union", "intersection", "difference"):
            with mock.patch.object(MaskPart, "value", autospec=True, side_effect=MaskPart.value) as result:
                plan = compile_effect(read_effect(eight_deep(kind)))
            self.assertLess(result.call_count, 9 * 8)  # nine masks, in at most eight programs
            self.assertLess(len(plan.emitters[0].birth.operations), 400)

    def test_a_program_that_would_never_end_is_refused_with_its_row(self):
        with mock.patch.object(builder, "MOST_OPERATIONS", 40), self.assertRaises(BudgetError) as caught:
            playing(emitter(look__size=written("f", " + ".join(f"age * {k}.5" for k in range(60)))))
        self.assertEqual(caught.exception.findings[0].where, "look.size")

    def test_emitters_too_full_for_the_memory_of_one_effect_are_refused_by_name(self):
        many = [
            emitter(
                f"e{k}",
                name=f"Cloud {k}",
                births__rate=row(0.0),
                births__bursts=[{"uid": "b", "frame": 0, "count": 20_000}],
            )
            for k in range(8)
        ]
        clip = Playing(read_effect(document(*many)))
        enough = 3 * 4 * clip.runs[0].frame(0).population.nbytes
        with mock.patch.object(LIMITS, "effect_bytes", enough), self.assertRaises(BudgetError) as caught:
            clip.frames(0)
        self.assertEqual(caught.exception.findings[0].where, "emitters.3.births.rate")
        self.assertIn("Cloud 3", str(caught.exception))
        with mock.patch.object(LIMITS, "effect_bytes", 3 * enough):
            self.assertEqual(len(clip.frames(0)), 8)


def forget() -> None:
    """Let everything be made anew."""
    for shelf in PROCESS.regions:
        if shelf.name != "machine code":
            shelf.clear()


class Wanted(unittest.TestCase):
    def works(self):
        """Yield every kind of work that may take long, by name."""
        crane = effects()["paper-crane-unravels"]
        many = crane.model_copy(deep=True)
        many.emitters[1].births.bursts[0].count = 120_000
        many.emitters[1].births.place.on = "surface"
        splinters = crane.model_copy(deep=True)
        splinters.emitters[0].births.place.count = 3000
        drops = effects()["lamp-oil"].model_copy(deep=True)
        drops.emitters[0].look.cell = 0.004
        inside = with_(
            document(emitter(births__place={"kind": "prop", "prop": "s", "on": "inside"}, births__rate=row(60_000.0))),
            clip__last_frame=6,
        )
        inside["props"] = [prop("s", "Ball", "shape", shape="sphere", radius=0.5)]
        rng = np.random.default_rng(4)
        strokes = [
            {"kind": "pull", "radius": 0.2, "strength": 0.01, "points": rng.normal(0, 0.4, (20, 3)).tolist()}
            for _ in range(30)
        ]
        brushed = read_effect(
            {**document(), "props": [prop("s", "Ball", "shape", shape="sphere", radius=0.5, strokes=strokes)]}
        ).props[0]
        rose = effects()["compass-rose"]

        def fresh(effect):
            return Playing(effect, FrameStore(), demo_file)

        yield "compile", lambda: compile_effect(read_effect(eight_deep()))
        yield "births on a mesh", lambda: fresh(many).frames(1)
        yield "breaking up", lambda: fresh(splinters).frames(1)
        yield "blobs", lambda: fresh(drops).layers(1)
        yield "births inside", lambda: fresh(read_effect(inside)).frames(3)
        yield (
            "a dissolving prop",
            lambda: list(play_packets(fresh(effects()["name-burning-through"]), 40, PlayRequest(whole=False))),
        )
        yield "measuring", lambda: list(play_packets(fresh(effects()["petal-rain"]), 30, PlayRequest(whole=False)))
        yield "a card", lambda: card_pictures(fresh(effects()["lantern-embers"]), 2, 64, 36)
        yield "a table", lambda: Particles(fresh(rose), rose.emitters[0].uid).sources(20, "look.size")
        yield "a trial", lambda: try_dial(rose, rose.dials[0].uid, 32, 18)
        yield "time by row", lambda: cost(fresh(rose), 20, perf_counter)
        yield "brush strokes", lambda: geometry(brushed)

    def test_everything_that_takes_long_asks_and_stops_when_it_is_told_to(self):
        for name, work in self.works():
            forget()
            collected: list[float] = []
            with self.subTest(name), mock.patch.object(work_limits, "EVERY", 0.0):
                meter = Work(lambda reported=collected: reported.append(meter.spent))  # noqa: B023
                with while_wanted(meter):
                    work()
                self.assertGreater(len(collected), 2, "it never asked")
                self.assertLess(max(np.diff([0, *collected])), AT_ONCE, "it began too much without asking")
                for stop_at in (1, len(collected) // 2, len(collected)) if SOAK else (len(collected) // 2,):
                    forget()
                    asked = [0]

                    def ask(asked=asked, stop_at=stop_at):
                        asked[0] += 1
                        if asked[0] >= stop_at:
                            raise Cancelled()

                    with self.assertRaises(Cancelled), while_wanted(Work(ask)):
                        work()
                    self.assertEqual(asked[0], stop_at, "it went on after it was stopped")

    def test_a_budget_is_refused_where_it_is_spent_and_only_there(self):
        spend(1e12)  # nobody asks, nobody is stopped
        with while_wanted(Work(lambda: None, 1000, "This card")) as work:
            spend(900)
            with self.assertRaises(BudgetError) as caught:
                spend(200)
            self.assertIn("This card", str(caught.exception))
            self.assertEqual(work.spent, 1100)
        spend(1e12)

    def test_work_within_work_asks_both_and_spends_for_both(self):
        asked: list[str] = []
        outer, inner = (
            Work(lambda: asked.append("outer"), 1000, "All"),
            Work(lambda: asked.append("inner"), 900, "A part"),
        )
        with mock.patch.object(work_limits, "EVERY", 0.0), while_wanted(outer):
            spend(150)
            with while_wanted(inner):
                spend(800)
                with self.assertRaises(BudgetError) as caught:
                    spend(90)  # within the part's budget, and not within the whole's
            self.assertIn("All", str(caught.exception))
        self.assertEqual(asked, ["outer", "outer", "inner"])
        with while_wanted(inner):  # by itself: nobody is asked for it any more
            spend(50)
        self.assertIsNone(inner.outer)


class Kept(unittest.TestCase):
    @settings(max_examples=examples(60))
    @given(
        st.lists(st.tuples(st.integers(0, 2), st.integers(0, 9), st.integers(1, 400)), min_size=1, max_size=80),
        st.integers(300, 2000),
    )
    def test_never_more_than_the_limit_but_for_what_came_last_and_what_is_there_is_right(self, steps, limit):
        memory = Memory(limit)
        shelves = [memory.region(f"s{k}", k + 1.0, len) for k in range(3)]
        for which, key, size in steps:
            thing = shelves[which].get(key)
            self.assertIn(thing if thing is None else thing[:2], (None, bytes([which, key])))
            shelves[which].put(key, bytes([which, key]) + bytes(size))
            self.assertIsNotNone(shelves[which].get(key), "what came last is there")
            self.assertEqual(memory.used, sum(len(s._things[k][0]) for s in shelves for k in s._things))
            self.assertTrue(memory.used <= limit or sum(map(len, shelves)) == 1)

    def test_the_least_recently_used_of_the_fullest_shelf_goes_first(self):
        memory = Memory(100)
        frames, plans = memory.region("frames", 4.0, len), memory.region("plans", 1.0, len)
        plans.put("p", bytes(15))
        for k in range(8):
            frames.put(k, bytes(10))
        frames.get(0)
        frames.put(8, bytes(10))
        self.assertEqual([k in frames for k in range(3)] + ["p" in plans], [True, False, True, True])

    def test_weights_count_arrays_once_found_and_what_is_found_out_later(self):
        mesh = geometry(
            read_effect({**document(), "props": [prop("s", "Ball", "shape", shape="sphere", radius=0.5)]}).props[0]
        )
        bare = estimated_bytes(mesh)
        self.assertGreater(bare, mesh.points.nbytes + mesh.faces.nbytes)
        fresh = type(mesh).of(mesh.points, mesh.faces, mesh.uv)
        before = estimated_bytes(fresh)
        self.assertGreater(estimated_bytes(fresh), before - 1)
        _ = fresh.normals
        self.assertGreater(estimated_bytes(fresh), before + fresh.normals.nbytes)

    def test_a_day_of_work_fits_into_a_process_with_a_hard_limit(self):
        """Ten times what may be kept is made: frames, pictures, geometry and plans. The system kills a process that
        keeps too much."""
        code = """
import resource, numpy as np
from kagero.core.memory import PROCESS
from kagero.core.document import read_effect
from kagero.core.geometry import Picture
from kagero.core.simulation import FrameStore
from kagero.core.staging import geometry
from kagero.core.workflows import Playing
from tests.making import document, emitter, row, with_
from demo.parts import prop
PROCESS.limit = 64 << 20
store, files = FrameStore(memory=PROCESS), PROCESS.region("files", 3.0)
def content(name): return files(name, lambda: Picture(np.full((900, 900, 4), 0.5, np.float16)))
def work(k):
    body = with_(document(emitter(births__rate=row(60_000.0), births__lifespan=row(2.0 + k / 100))), clip__last_frame=16, clip__seed=k)
    body["props"] = [prop("s", "Ball", "shape", shape="sphere", radius=0.5 + k / 100),
                     prop("p", "Picture", "picture", files=[{"content": f"{k:032x}", "name": "p.png"}])]
    made = Playing(read_effect(body), store, content)
    made.frames(16); made.stage.geometry("s").nearest(np.zeros((50, 3))); content(f"{k:032x}").levels
work(0)
used = int(open("/proc/self/statm").read().split()[5]) * 4096  # data and stack
resource.setrlimit(resource.RLIMIT_DATA, (used + (260 << 20),) * 2)
for k in range(1, 26): work(k)
assert PROCESS.used <= PROCESS.limit * 1.3, PROCESS.report()
print("fits", PROCESS.report())
"""
        ran = subprocess.run([sys.executable, "-W", "ignore", "-c", code], capture_output=True, text=True)
        self.assertIn("fits", ran.stdout, ran.stderr[-2000:])
        keeping_all = subprocess.run(
            [
                sys.executable,
                "-W",
                "ignore",
                "-c",
                code.replace("PROCESS.limit = 64 << 20", "PROCESS.limit = 64 << 40"),
            ],
            capture_output=True,
            text=True,
        )
        self.assertNotEqual(keeping_all.returncode, 0, "without the limit it does not fit: the test can fail")
