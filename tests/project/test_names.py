"""Names in the code are the field's terms: words that say nothing by themselves are no names."""

from __future__ import annotations

import ast
import re
import unittest
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[2]
BANNED = frozenset({"again", "giver", "made", "nobody", "said", "told", "way", "who", "whom"})
SERIALISED = {  # by the path of the schema or table that has them
    ("kagero/core/catalog/sheet/layout_types.py", "made"): "LayoutOut.addable[].made",
    ("kagero/server/api/layout_schemas.py", "made"): "LayoutOut.addable[].made",
    ("kagero/core/document/loop.py", "way"): "Effect.emitters[].loop.way",
    ("kagero/core/plan/loop_window.py", "way"): "Effect.emitters[].loop.way",
    ("kagero/core/parts/cues/base.py", "again"): "Effect.emitters[].cues[].again",
    ("kagero/server/people/models.py", "made"): "people_invitation.made",
    ("kagero/server/api/schemas.py", "made"): "the schema Made of the API",
    ("tests/parts/made_up.py", "way"): "a part that the tests make up, with the field",
}


def defined(tree: ast.AST) -> Iterator[tuple[str, int]]:
    """Yield the names that code defines: variables, parameters, functions, classes and attributes, each with its
    line."""
    for node in ast.walk(tree):
        if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)):
            yield node.name, node.lineno
        elif isinstance(node, ast.arg):
            yield node.arg, node.lineno
        elif isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
            yield node.id, node.lineno
        elif isinstance(node, ast.Attribute) and isinstance(node.ctx, ast.Store):
            yield node.attr, node.lineno


EXPLAINED = re.compile(r"(?:^|[.;] |\n)((?:[a-z_][a-z_0-9]*, )*[a-z_][a-z_0-9]*)(?: \([^)]*\))?: ")
PROSE = frozenset(
    {"empty", "negative", "none", "null", "of", "round", "rows"}
)  # words before a colon that name nothing


def parameters_that_are_gone(tree: ast.AST) -> Iterator[tuple[str, str]]:
    """Yield functions and classes whose docstring explains a name ("name: ...") that they do not have."""
    for node in ast.walk(tree):
        if not isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)) or not ast.get_docstring(node):
            continue
        _docstring, *rest = node.body
        text = ast.unparse(ast.Module([*rest], [])) + "\n" + (ast.unparse(node.args) if hasattr(node, "args") else "")
        has = set(re.findall(r"\w+", text))
        for group in EXPLAINED.findall(ast.get_docstring(node) or ""):
            for name in group.split(", "):
                if name not in has | PROSE:
                    yield node.name, name


class Names(unittest.TestCase):
    def test_docstrings_explain_parameters_and_fields_that_are_there(self):
        found = [
            f"{path.relative_to(ROOT)} {where}: {name}"
            for room in (
                "kernels",
                "simulation",
                "engine",
                "plan",
                "program",
                "staging",
                "workflows",
                "picture",
                "rows",
            )
            for path in sorted((ROOT / "kagero/core" / room).rglob("*.py"))
            for where, name in parameters_that_are_gone(ast.parse(path.read_text()))
        ]
        self.assertEqual(found, [])
        code = 'def f(a):\n    """Return it. a: a number. b: gone."""\n    return a'
        self.assertEqual(list(parameters_that_are_gone(ast.parse(code))), [("f", "b")])

    def test_none_is_a_word_that_says_nothing(self):
        found, kept = [], set()
        for folder in ("kagero", "demo", "bench", "tests"):
            for path in sorted((ROOT / folder).rglob("*.py")):
                where = path.relative_to(ROOT).as_posix()
                for name, line in defined(ast.parse(path.read_text())):
                    plain = name.strip("_").lower()
                    if (where, plain) in SERIALISED:
                        kept.add((where, plain))
                    elif plain in BANNED:
                        found.append(f"{where}:{line} {name}")
        self.assertEqual(found, [], "\n".join(found))
        self.assertEqual(kept, set(SERIALISED), "names that are allowed and stand nowhere")

    def test_none_in_the_client_either(self):
        named = re.compile(rf"\b(?:const|let|function|private) (?:\[|\{{ )?({'|'.join(sorted(BANNED | {'asked'}))})\b")
        found = [
            f"{path.relative_to(ROOT)}: {match[0]}"
            for suffix in ("ts", "svelte")
            for path in sorted((ROOT / "client/src").rglob(f"*.{suffix}"))
            for match in named.finditer(path.read_text())
        ]
        self.assertEqual(found, [])
        self.assertTrue(named.search("const made = 1"))

    def test_it_finds_one(self):
        self.assertEqual(
            [name for name, _ in defined(ast.parse("def told(x, way=1):\n    made = x\n    x.who = made"))],
            ["told", "x", "way", "made", "who"],
        )
