"""Two documents with one structure key give one program: over documents that differ anywhere, in any field of any
part."""

from __future__ import annotations

import copy
import json
import random
import unittest
from typing import Annotated, Any, Literal
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from demo.lantern_ferry import effects
from kagero.core.catalog import Scope, check_effect
from kagero.core.document import Effect, read_effect
from kagero.core.errors import KageroError
from kagero.core.formula import Values
from kagero.core.help.scenes import candidates
from kagero.core.parts.pushes import PUSHES, PushPart
from kagero.core.plan import compile as compiling
from kagero.core.plan.keys import structure_key
from kagero.core.program import Program
from kagero.core.rows.model import VALUE, Driven, Setting
from kagero.core.rows.reader import Reader
from kagero.core.rows.responses import NumberRow
from kagero.core.rows.step import Pushes
from kagero.core.rows.union import with_more_kinds
from kagero.core.rows.units import ACCELERATION
from tests.making import STRAIGHT, document, emitter, response, row, with_
from tests.making.births import from_particles, mask, on
from tests.making.props import prop, with_props
from tests.soak import examples, share

WORDS = {"uid", "name", "label", "text", "formula", "kind", "sprite", "aim"}


def bodies() -> list[dict[str, Any]]:
    """Return the documents that are changed: the demo's, and some with what it lacks."""
    collected = [effect.model_dump(mode="json") for effect in effects().values()]
    masked = response("m", {"kind": "mask", "mask": "m"}, STRAIGHT)
    rich = emitter(
        "one",
        passing={"shrinks": row(0.5), "slows": row(0.5)},
        unseen={},
        leaving={"mask": "m"},
        births__place=on("ball"),
        births__launch={"aim": "normal", "cone": row(0.1), "speed": row(1.0)},
        look__size=row(0.1, masked),
        own=[{"uid": "heat", "name": "heat", "kind": "number", "memory": True, "start": row(1.0), "change": row(-0.2)}],
        forces=[
            {"kind": "curl_noise", "uid": "c", "strength": row(1.0), "scale": row(0.5), "evolution": row(0.2)},
            {"kind": "drag", "uid": "d", "rate": row(1.0)},
        ],
    )
    collected.append(with_props(prop("ball"), mask("m"), one=rich).model_dump(mode="json"))
    collected.append(read_effect(document(emitter("p"), from_particles("c", "p", row(3.0)))).model_dump(mode="json"))
    return collected


BODIES = bodies()


def leaves(value: Any, direction: tuple[str | int, ...] = ()) -> list[tuple[str | int, ...]]:
    """Return the paths of all that is neither a list nor an object."""
    if isinstance(value, dict):
        return [each for key, below in value.items() if key not in WORDS for each in leaves(below, (*direction, key))]
    if isinstance(value, list):
        return [each for index, below in enumerate(value) for each in leaves(below, (*direction, index))]
    return [direction]


LEAVES = [leaves(body) for body in BODIES]


def changed(value: Any, rng: random.Random) -> Any:
    """Return another value of the same sort."""
    if isinstance(value, bool):
        return not value
    if isinstance(value, int):
        return max(1, value + rng.choice([-2, -1, 1, 3]))
    if isinstance(value, float):
        return rng.choice([value * 1.5, value * 0.5, value + 0.125, 0.0, 1.0])
    if value is None:
        return rng.choice([0.5, 3])
    return rng.choice(
        [
            "set",
            "add",
            "multiply",
            "at_most",
            "live",
            "once",
            "world",
            "own",
            "inside",
            "surface",
            "hold",
            "repeat",
            "smooth",
            "linear",
            "x",
            "y",
            "all",
            "over",
            "add",
            "per_frame",
            "second",
            "frame",
            "each",
            "rate",
            "shaded",
            "hidden",
        ]
    )


def programs(effect: Effect) -> dict[str, list[Program]]:
    """Return the programs of every emitter and prop, compiled anew, with the slots that they read, by their structure
    keys."""
    collected = {}
    for thing in effect.holders():
        scope = Scope(thing, effect)
        fresh = compiling._compile(scope) if scope.owner[0] == "emitter" else compiling._compile_by_clip(scope)
        parts = [
            fresh.rate,
            fresh.begins,
            fresh.birth,
            fresh.step,
            *fresh.looks,
            fresh.probe.program,
            fresh.gate_values,
        ]
        collected[structure_key(effect, thing)] = [
            (part.operations, part.outputs, fresh.carried, tuple(fresh.slots)) if part else None for part in parts
        ]
    return collected


class OneKeyOneProgram(unittest.TestCase):
    known: dict[str, Any] = {}

    @given(st.integers(0, len(BODIES) - 1), st.randoms(use_true_random=False), st.integers(1, 3))
    @settings(max_examples=examples(250), deadline=None)
    def test_over_documents_that_differ_anywhere(self, which: int, rng: random.Random, count: int):
        body = copy.deepcopy(BODIES[which])
        for _ in range(count):
            *direction, last = rng.choice(LEAVES[which])
            target: Any = body
            for step in direction:
                target = target[step]
            target[last] = changed(target[last], rng)
        try:
            effect = read_effect(body)
            if check_effect(effect):
                return
        except KageroError:
            return
        for key, result in programs(effect).items():
            before = self.known.setdefault(key, result)
            self.assertEqual(before, result, json.dumps(body)[:200])

    def test_of_every_row_there_is_at_nought_one_and_another_number(self):
        """Every row that an emitter can have: programs of one key are the same whatever its number, so that none hangs
        on another than the one by which keys tell whether it does something, its default."""
        done: set[str] = set()
        for one in candidates():
            changed_effect = read_effect(one)
            whole = changed_effect.model_dump(mode="json")
            rows = [
                placed
                for placed in Scope(changed_effect.emitters[0], changed_effect).sheet_rows()
                if placed.spec.key not in done and placed.spec.kind == "number"
            ]
            done |= {placed.spec.key for placed in rows}
            for placed in share(rows, 3):
                known: dict[str, Any] = {}
                for value in (0.0, 1.0, 0.37, placed.spec.default):
                    if not placed.spec.lowest <= value <= placed.spec.highest:
                        continue
                    target: Any = (body := copy.deepcopy(whole))["emitters"][0]
                    for step in placed.path.split("."):
                        target = target[int(step)] if isinstance(target, list) else target[step]
                    target["base"], effect = value, None
                    try:
                        effect = read_effect(body)
                        if check_effect(effect):
                            continue
                    except KageroError:
                        continue
                    scope = Scope(effect.emitters[0], effect)
                    fresh = compiling._compile(scope)
                    parts = [fresh.rate, fresh.birth, fresh.step, *fresh.looks]
                    columns = [(part.operations, part.outputs, fresh.carried) for part in parts]
                    self.assertEqual(
                        known.setdefault(structure_key(effect, effect.emitters[0]), columns), columns, placed.address
                    )
        self.assertGreater(len(done), 150)

    def test_a_field_that_is_said_to_be_a_value_and_is_branched_on_is_found(self):
        class Fickle(PushPart):
            label = "Fickle"
            kind: Literal["fickle"] = "fickle"
            strength: Annotated[NumberRow, Driven("Fickle", ACCELERATION, -10, 10, 1, 1.0, "How strongly.")]
            octaves: Annotated[int, VALUE, Setting("Octaves")] = 1  # wrong: it decides which operations there are

            def write(self, at: Reader, pushes: Pushes) -> None:
                for _ in range(self.octaves):
                    pushes.accelerate(0, self.row(at, "strength")[0])

        self.assertIsInstance(Values, object)
        with with_more_kinds((PUSHES, Fickle)), mock.patch.dict(OneKeyOneProgram.known, clear=True):
            push = lambda octaves: {"kind": "fickle", "uid": "f", "strength": row(1.0), "octaves": octaves}
            one, two = (programs(read_effect(document(with_(emitter(), forces=[push(octaves)])))) for octaves in (1, 3))
        self.assertEqual(set(one), set(two))
        self.assertNotEqual(one, two)
