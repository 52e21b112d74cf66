"""Kernels that are compiled beside serving, by processes that stand back, and how far they are."""

from __future__ import annotations

import threading
from dataclasses import dataclass

from kagero.core.workflows import all_compiled, compile_in_processes

NICENESS = 15  # of the processes that compile: whoever is at work comes first


@dataclass
class Warming:
    """done: tasks of compiling that are done, of so many; words: what is compiled now. over: set while nothing is
    compiled."""

    done: int = 0
    of: int = 0
    words: str = ""

    def __post_init__(self) -> None:
        self.over = threading.Event()
        self.over.set()

    def tell(self, done: int, of: int, words: str) -> None:
        self.done, self.of, self.words = done, of, words

    def announce(self) -> None:
        """Say that something will be compiled, before the first page asks: until the processes that compile report
        more."""
        if not all_compiled():
            self.over.clear()
            self.tell(0, 1, "kernels")

    def compile(self) -> None:
        """Compile what is not compiled yet. The library's cards wait for it: a kernel that one compiled would hold up
        whoever is at work."""
        self.announce()
        try:
            compile_in_processes(self.tell, NICENESS)
        finally:
            self.done, self.of, self.words = 0, 0, ""
            self.over.set()


WARMING = Warming()
