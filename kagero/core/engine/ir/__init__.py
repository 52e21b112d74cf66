"""The intermediate representation of machine code as text: vectors of lanes, blocks, and the loop of a program while it is written."""

from .emitter import LEAVES, Emitter
from .text import Block, Lanes, float_text

__all__ = ["LEAVES", "Block", "Emitter", "Lanes", "float_text"]
