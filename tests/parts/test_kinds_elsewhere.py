"""A kind of part is named in its own module and its room's list: everything else asks for facts that parts offer."""

from __future__ import annotations

import ast
import importlib
import pkgutil
import unittest
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import kagero.core.parts as rooms
from kagero.core.rows.union import OpenUnion

ROOT = Path(__file__).parents[2]
# Comparisons that are left, by file. The list only shrinks: one that is gone goes here too.
ALLOWED = {
    "kagero/core/catalog/dials.py": 2,  # takes a dial out of documents, as plain data
    "kagero/core/catalog/axes.py": 1,
    "kagero/core/document/upgrade.py": 4,  # older versions, which never change
    "kagero/core/parts/props/file_refs.py": 1,  # what a file holds
    "kagero/core/staging/fields.py": 6,  # what a requested field shows
    "kagero/server/api/routes.py": 2,  # kinds of pieces
}
VALUES = {"number", "vector", "colour", "row", "choice"}  # kinds of rows and values, too


def kinds() -> set[str]:
    """Return the tags of all kinds of all rooms."""
    found: set[str] = set()
    for room in pkgutil.iter_modules(rooms.__path__):
        for union in vars(importlib.import_module(f"{rooms.__name__}.{room.name}")).values():
            found |= set(union.kinds) if isinstance(union, OpenUnion) else set()
    return found - VALUES


def compared(tree: ast.AST, tags: set[str]) -> Iterator[str]:
    """Yield the tags that a module compares a kind with."""
    for node in ast.walk(tree):
        if not isinstance(node, ast.Compare):
            continue
        sides = [node.left, *node.comparators]
        asks = any(
            (isinstance(side, ast.Attribute) and side.attr in ("kind", "sprite"))
            or (isinstance(side, ast.Subscript) and ast.unparse(side.slice) in ("'kind'", "'sprite'"))
            or (isinstance(side, ast.Call) and ast.unparse(side).endswith((".get('kind')", ".get('sprite')")))
            for side in sides
        )
        for side in sides if asks else ():
            for part in ast.walk(side):
                if isinstance(part, ast.Constant) and part.value in tags:
                    yield str(part.value)


class Elsewhere(unittest.TestCase):
    def test_kinds_are_compared_in_their_own_files_alone(self):
        tags, found = kinds(), Counter[str]()
        for path in sorted((ROOT / "kagero").rglob("*.py")):
            for tag in compared(ast.parse(path.read_text()), tags):
                if path.stem != tag:
                    found[path.relative_to(ROOT).as_posix()] += 1
        self.assertEqual(dict(found), ALLOWED)

    def test_it_finds_one(self):
        self.assertEqual(
            list(compared(ast.parse('x.kind == "fog" or y["kind"] in ("mesh",)'), {"fog", "mesh"})), ["fog", "mesh"]
        )
