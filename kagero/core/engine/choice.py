"""The choice of engine: native where it works, otherwise the reference engine, with the reason."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from ..program import Builder, FixedSeed, Program
from . import reference
from .reference import Prepared


@dataclass(frozen=True)
class EngineChoice:
    """An engine with its settings. lanes: floats in a vector, 0 for the reference engine. reason: why it is not native,
    if it is not.

    identity: everything results depend on besides the plan; a part of every cache key.
    """

    name: str
    lanes: int
    threads: int
    reason: str
    identity: str


REFERENCE = EngineChoice("reference", 0, 1, "", reference.ENGINE)


def native_choice(lanes: int | None = None, threads: int | None = None) -> EngineChoice:
    """Return the native engine. Raises ImportError, RuntimeError, OSError or ValueError where it does not work."""
    from .native import machine

    machine.initialise_llvm()
    able = machine.widths()
    lanes = lanes or able[-1]
    if lanes not in able:
        raise ValueError(f"this processor runs {', '.join(map(str, able))} lanes, not {lanes}")
    return EngineChoice(
        "native", lanes, threads or min(os.cpu_count() or 1, 8), "", f"native {lanes} {machine.version()}"
    )


@lru_cache(maxsize=1)
def _default_engine() -> EngineChoice:
    wanted, lanes = os.environ.get("KAGERO_ENGINE", "native"), os.environ.get("KAGERO_LANES")
    if wanted == "reference":
        return replace(REFERENCE, reason="KAGERO_ENGINE asks for it.")
    try:
        choice = native_choice(int(lanes) if lanes else None)
        _check_against_reference(choice)
    except Exception as problem:  # whatever keeps machine code from running here, the effect still plays
        return replace(REFERENCE, reason=f"Machine code cannot be made here: {problem}.")
    return choice


_engine_overrides: list[EngineChoice] = []


def current_engine() -> EngineChoice:
    """Return the engine for new runs: as KAGERO_ENGINE (native or reference) and KAGERO_LANES say, otherwise the
    fastest that works."""
    return _engine_overrides[-1] if _engine_overrides else _default_engine()


@contextmanager
def use_engine(choice: EngineChoice) -> Iterator[EngineChoice]:
    """Make every run created within the context use an engine: for tests and the benchmark."""
    _engine_overrides.append(choice)
    try:
        yield choice
    finally:
        _engine_overrides.remove(choice)


def prepare_reference(program: Program, precision: type = np.float32) -> Prepared:
    """Return a program prepared for the reference engine, which always runs births, rates and the interface's
    queries."""
    prepared: Prepared | None = program.prepared.get(precision)
    if prepared is None:
        prepared = program.prepared[precision] = Prepared(program, precision)
    return prepared


def prepare_for_engine(program: Program, choice: EngineChoice) -> Prepared:
    """Return a program prepared for an engine: for the step and the look, which run for every particle and frame."""
    if choice.lanes == 0:
        return Prepared(program)
    from .native.run import NativePrepared

    return NativePrepared(program, choice.lanes, choice.threads)


def _check_against_reference(choice: EngineChoice) -> None:
    """Run a small program that includes noise. Raises RuntimeError when its result differs from the reference
    engine's."""
    b = Builder()
    place = (b.input("x"), b.input("x"), b.input("x"))
    settings = (b.const(0.5), b.const(0.5), b.const(0.1), b.const(0.5))
    swirl = b.multi("curl_noise", *place, *settings, attrs=(FixedSeed(7), 2))
    program = b.finish({"out": b.op("guard", b.op("sqrt", b.op("mul", swirl[0], swirl[0])), swirl[1])})
    values = b.slots.values(None)
    x = np.linspace(-3, 3, 67, dtype=np.float32)
    computed = prepare_for_engine(program, choice).run(values, {"x": x}, len(x))["out"]
    if not np.allclose(computed, Prepared(program).run(values, {"x": x}, len(x))["out"], atol=1e-5):
        raise RuntimeError("a trial gave other numbers than the reference engine")
