"""LLVM intermediate representation as text: vectors of lanes, blocks, and the loop of a program."""

from .emitter import LEAVES, Emitter
from .text import Block, Lanes, float_text

__all__ = ["LEAVES", "Block", "Emitter", "Lanes", "float_text"]
