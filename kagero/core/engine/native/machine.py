"""Compiles IR to machine code and keeps it: leaves once for each width, programs by their structure."""

from __future__ import annotations

import ctypes
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

import llvmlite
import llvmlite.binding as llvm
import numpy as np

from ...memory import PROCESS
from .leaves import NAMES, leaf_module

WIDTHS = (4, 8, 16)
# better code, which takes about twice as long to write, is written for what has run for so many times what its first
# code took
OPTIMISE_AFTER = 2
_lock = threading.RLock()


@lru_cache(maxsize=1)
def initialise_llvm() -> None:
    """Initialise LLVM for this processor."""
    llvm.initialize_native_target()
    llvm.initialize_native_asmprinter()


@lru_cache(maxsize=1)
def widths() -> tuple[int, ...]:
    """Return the vector widths this host can run, in float lanes, ascending."""
    features = dict(llvm.get_host_cpu_features())
    has = {4: True, 8: features.get("avx2", False), 16: features.get("avx512f", False)}
    return tuple(w for w in WIDTHS if has[w])


class Compiled:
    """A function in machine code: first as the compiler produces it fastest, then optimised in the background.

    Both do the same operations in the same order, so that results are identical to the bit.
    """

    def __init__(self, text: str):
        self.text = text
        self.thorough = self._asked = False
        self._ran = 0.0
        started = time.perf_counter()
        self._take(_compile(text, 0))
        self._worth = OPTIMISE_AFTER * (time.perf_counter() - started)

    def record_run(self, seconds: float) -> None:
        """Add a run's duration; after enough of it the code is optimised."""
        self._ran += seconds
        if self._ran >= self._worth and not self._asked:
            self._asked = True
            _improver.submit(self.optimise)

    def optimise(self) -> None:
        self._take(_compile(self.text, 2))
        self.thorough = True

    def _take(self, engine: llvm.ExecutionEngine) -> None:
        # start, stop, inputs and outputs, uniforms, tables, rows of tables, faults, lanes that are counted
        kinds = [ctypes.c_int64, ctypes.c_int64, *[ctypes.c_void_p] * 5, ctypes.c_int64]
        self.call = _Function(engine, ctypes.CFUNCTYPE(None, *kinds)(engine.get_function_address("run")))


class _Function:
    """Calls machine code, and keeps its engine alive."""

    def __init__(self, engine: llvm.ExecutionEngine, function: Callable[..., None]):
        self._engine, self._function = engine, function

    def __call__(self, *args: object) -> None:
        self._function(*args)


@lru_cache(maxsize=len(WIDTHS))
def _leaves(width: int) -> tuple[llvm.ExecutionEngine, dict[str, int]]:
    engine = _compile(leaf_module(width), 3)
    return engine, {name: engine.get_function_address(name) for name in NAMES}


# engines, code and data of them; by the text they were made from, measured over the demo's programs
_plans = PROCESS.region("machine code", 0.5, lambda compiled: 65_536 + 4 * len(compiled.text))
_improver = ThreadPoolExecutor(1, thread_name_prefix="compile")
compiled_count = 0  # how many plans were ever compiled: tests and the bench read it


def compile_plan(structure: str, width: int, text: str) -> Compiled:
    """Return the machine code of IR that defines `run`; the same for equal structures. Raises RuntimeError when LLVM
    refuses it."""
    global compiled_count
    with _lock:
        known: Compiled | None = _plans.get((structure, width))
        if known is not None:
            return known
        for name, address in _leaves(width)[1].items():
            llvm.add_symbol(f"{name}_{width}", address)
            text = text.replace(f"@{name}(", f"@{name}_{width}(")
        compiled = Compiled(text)
        compiled_count += 1
    return _plans.put((structure, width), compiled)


def known_plan(structure: str, width: int) -> Compiled | None:
    return _plans.get((structure, width))


def _compile(text: str, effort: int) -> llvm.ExecutionEngine:
    """Return an execution engine with a module's code. effort: LLVM's optimisation level, 0 to 3."""
    initialise_llvm()
    module = llvm.parse_assembly(text)
    machine = llvm.Target.from_default_triple().create_target_machine(
        cpu=llvm.get_host_cpu_name(), features=llvm.get_host_cpu_features().flatten(), opt=min(effort, 2)
    )  # an engine takes its machine over, so that each gets one of its own
    module.triple, module.data_layout = machine.triple, str(machine.target_data)
    if effort == 3:
        options = llvm.create_pipeline_tuning_options(speed_level=2)
        options.slp_vectorization = options.loop_vectorization = options.loop_unrolling = False
        builder = llvm.create_pass_builder(machine, options)
        builder.getModulePassManager().run(module, builder)
    engine = llvm.create_mcjit_compiler(module, machine)
    engine.finalize_object()
    return engine


def version() -> str:
    """Return everything that decides results besides the plan, for cache keys."""
    return f"numpy {np.__version__} llvmlite {llvmlite.__version__} {llvm.get_host_cpu_name()}"
