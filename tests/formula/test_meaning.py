"""Formulas mean the same to an interpreter in plain Python and to both engines, bit for bit."""

from __future__ import annotations

import math
import unittest
from functools import cache
from typing import Any

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from kagero.core.engine import Prepared
from kagero.core.engine.native import machine
from kagero.core.engine.native.run import NativePrepared
from kagero.core.program import Builder, Program, ProgramValues
from tests.making.formulas import NUMBERS, VECTORS, written
from tests.oracles.formulas import LIBRARY, Ambiguous, Interpreter
from tests.soak import examples

TOGETHER = 10  # formulas compiled as one program
WIDTH = machine.widths()[-1]
values_of = st.sampled_from(
    [0.0, -0.0, 1.0, -1.0, 0.5, 2.0, 1e-30, -3e38, 3e38, math.inf, -math.inf, math.nan]
) | st.floats(-20, 20, width=32)


@cache
def single(name: str) -> tuple[Program, ProgramValues]:
    b = Builder()
    outs = b.op(name, *(b.input(f"x{i}") for i in range(2 if name in ("pow", "atan2") else 1)))
    return b.finish({"out": outs}), b.slots.values(None)


def library(engine: Any) -> Any:
    """Return sin, exp, ... as an engine has them."""

    @cache
    def of(name: str, *args: str) -> float:
        program, values = single(name)
        inputs = {f"x{i}": np.full(4, float.fromhex(x), np.float32) for i, x in enumerate(args)}
        with np.errstate(all="ignore"):
            return float(engine(program).run(values, inputs, 4)["out"][0])

    return lambda name, *args: of(name, *(float(x).hex() for x in args))  # noughts of both signs are two numbers


NATIVE, REFERENCE = library(lambda program: NativePrepared(program, WIDTH, 1)), library(Prepared)


@st.composite
def formulas(draw: Any) -> str:
    steps: list[tuple[str, str]] = []
    lines = []
    for i in range(draw(st.integers(0, 2))):
        kind = draw(st.sampled_from(["number", "vector"]))
        lines.append(f"s{i} = {draw(expression(kind, 2, tuple(steps)))}")
        steps.append((f"s{i}", kind))
    lines.append(draw(expression(draw(st.sampled_from(["number", "number", "vector"])), 3, tuple(steps))))
    return "\n".join(lines)


@cache
def expression(kind: str, depth: int, steps: tuple[tuple[str, str], ...]) -> Any:
    mine = [name for name, of in steps if of == kind]
    if kind == "number":
        leaf = (
            st.sampled_from([*NUMBERS, *mine, "p.x", "q.z", "pi"])
            | st.integers(0, 9).map(str)
            | st.sampled_from(["0.5", "0.25", "1e-3", "2.75"])
        )
    else:
        leaf = st.sampled_from([*VECTORS, *mine])
    if depth == 0:
        return leaf
    n, v, same = (
        (lambda d=depth - 1: expression("number", d, steps)),
        (lambda d=depth - 1: expression("vector", d, steps)),
        None,
    )
    same = expression(kind, depth - 1, steps)
    joined = st.tuples(same, st.sampled_from(["+", "-", "*", "/", "%", "//"]), same).map(
        lambda t: f"({t[0]} {t[1]} {t[2]})"
    )
    one = st.tuples(
        st.sampled_from(
            ["abs", "sign", "floor", "ceil", "trunc", "round", "fract", "sqrt", "inversesqrt", "radians", *LIBRARY]
        ),
        same,
    )
    called = one.map(lambda t: f"{t[0]}({t[1]})")
    several = st.one_of(
        st.tuples(same, same).map(lambda t: f"min({t[0]}, {t[1]})"),
        st.tuples(same, same, same).map(lambda t: f"max({t[0]}, {t[1]}, {t[2]})"),
        st.tuples(same, n(), n()).map(lambda t: f"clamp({t[0]}, {t[1]}, {t[2]})"),
        st.tuples(same, same, n()).map(lambda t: f"mix({t[0]}, {t[1]}, {t[2]})"),
        st.tuples(n(), n(), same).map(lambda t: f"smoothstep({t[0]}, {t[1]}, {t[2]})"),
        st.tuples(n(), same).map(lambda t: f"step({t[0]}, {t[1]})"),
        st.tuples(same, n(0), n(0), n(0), n(0)).map(lambda t: f"remap({', '.join(t)})"),
        st.tuples(same, same).map(lambda t: f"mod({t[0]}, {t[1]})"),
        st.tuples(same, st.sampled_from(["2", "3", "0.5", "1", "1.5", "a"])).map(lambda t: f"({t[0]}) ** {t[1]}"),
        same.map(lambda t: f"(-{t})"),
    )
    condition = st.one_of(
        st.tuples(n(), st.sampled_from(["<", "<=", ">", ">=", "==", "!="]), n()).map(lambda t: f"{t[0]} {t[1]} {t[2]}"),
        st.tuples(n(0), n(0), n(0)).map(lambda t: f"{t[0]} < {t[1]} <= {t[2]}"),
        st.tuples(n(0), n(0)).map(lambda t: f"{t[0]} and not {t[1]}"),
        st.tuples(n(0), n(0), n(0)).map(lambda t: f"{t[0]} or {t[1]} > {t[2]}"),
    )
    choice = st.tuples(same, condition, same).map(lambda t: f"({t[0]} if {t[1]} else {t[2]})")
    if kind == "number":
        own = st.one_of(
            v().map(lambda t: f"length({t})"),
            st.tuples(v(), v()).map(lambda t: f"dot({t[0]}, {t[1]})"),
            v().map(lambda t: f"({t}).y"),
            st.tuples(v(), v()).map(lambda t: f"distance({t[0]}, {t[1]})"),
            st.tuples(n(), n()).map(lambda t: f"atan({t[0]}, {t[1]})"),
            condition.map(lambda t: f"({t})"),
        )
    else:
        own = st.one_of(
            st.tuples(n(), n(), n()).map(lambda t: f"vec3({', '.join(t)})"),
            n().map(lambda t: f"vec3({t})"),
            v().map(lambda t: f"normalize({t})"),
            st.tuples(v(), v()).map(lambda t: f"cross({t[0]}, {t[1]})"),
            st.tuples(v(), v()).map(lambda t: f"reflect({t[0]}, {t[1]})"),
            st.tuples(n(), v()).map(lambda t: f"({t[0]} * {t[1]})"),
        )
    return st.one_of(leaf, joined, called, several, choice, own)


class Meaning(unittest.TestCase):
    @given(
        st.lists(formulas(), min_size=TOGETHER, max_size=TOGETHER),
        st.lists(st.lists(values_of, min_size=9, max_size=9), min_size=1, max_size=3),
    )
    @settings(max_examples=examples(120), deadline=None, suppress_health_check=list(HealthCheck))
    def test_an_interpreter_and_both_engines_agree(self, texts, data):
        program, values = written(texts)
        order = [*NUMBERS, *(f"{n}.{i}" for n in VECTORS for i in range(3))]
        count = len(data)
        columns = {name: np.array([row[k] for row in data], np.float32) for k, name in enumerate(order)}
        literals = {f"literal {k}": np.full(count, value, np.float32) for k, value in enumerate(values.params)}
        inputs = {name: (columns | literals)[name] for name in program.inputs}
        if not inputs:
            return
        reference = Prepared(program).run(values, inputs, count)
        native = NativePrepared(program, WIDTH, 1).run(values, inputs, count)
        for j in range(count):
            names: dict[str, Any] = {n: float(columns[n][j]) for n in NUMBERS}
            names |= {n: tuple(float(columns[f"{n}.{i}"][j]) for i in range(3)) for n in VECTORS}
            for k, text in enumerate(texts):
                for engine, got, lib in (("reference", reference, REFERENCE), ("native", native, NATIVE)):
                    try:
                        wanted = Interpreter(names, lib).run(text)
                    except Ambiguous:
                        continue
                    parts = wanted if isinstance(wanted, tuple) else (wanted,)
                    found = [float(got[f"{k}.{i}"][j]) for i in range(len(parts))]
                    np.testing.assert_array_equal(found, parts, f"{engine}: {text!r} with {names}")
