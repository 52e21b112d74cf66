"""What is outside the language is refused at its place, in words; no text runs Python, hangs or fills memory."""

from __future__ import annotations

import itertools
import re
import sys
import tracemalloc
import unittest

from hypothesis import example, given, settings
from hypothesis import strategies as st

from kagero.core.formula import ANY, FUNCTIONS, PLAIN, Known, check, dimension_of, dimension_text, identifier, names_in
from tests.soak import examples

M, S, SPEED = dimension_of("m"), dimension_of("s"), dimension_of("m/s")
NAMES = {
    k.name: k
    for k in [
        Known("life", "number", PLAIN, "life"),
        Known("age", "number", S, "age"),
        Known("size", "number", M, "size"),
        Known("speed", "number", SPEED, "speed"),
        Known("position", "vector", M, "position"),
        Known("velocity", "vector", SPEED, "velocity"),
        Known("colour", "colour", PLAIN, "colour"),
        Known("draws.flicker", "number", PLAIN, "d"),
        Known("dials.height", "number", M, "h"),
        Known("rows.size", "number", M, "r"),
    ]
}


def first(text):
    return check(text, NAMES).problems[0]


class Refusals(unittest.TestCase):
    def test_each_at_its_place_with_words_and_a_way_out(self):
        for text, line, column, message, remedy in [
            ("lief * 2", 1, 1, "Nothing is called lief here.", "Did you mean life?"),
            ("life * 2\n+ * 3", 2, 3, "cannot be read", ""),
            ("a = life\nsqrt(a, 2)", 2, 1, "sqrt takes 1 value, and got 2.", "Write sqrt(x)."),
            ("1 + squrt(2)", 1, 5, "There is no function squrt.", "sqrt"),
            ("life ^ 2", 1, 1, "^ is not used", "**"),
            ("life && 1", 1, 6, "&& is not used", "and"),
            ("life > 0.5 ? 1 : 0", 1, 12, "? is not used", "a if condition else b"),
            ("(life", 1, 1, "never closed", "closing"),
            ("life)", 1, 5, "no bracket to close", ""),
            ("life = 2", 1, 1, "means something already", "another name"),
            ("a = 1\na = 2\na", 2, 1, "already a step called a", ""),
            ("life\nage", 1, 1, "computed and then forgotten", "Name it"),
            ("x if life", 1, 1, "no else", "else"),
            ("position + 'red'", 1, 12, "Only numbers", ""),
            ("(1, 2, 3)", 1, 1, "Several values", "vec3"),
            ("position[0]", 1, 1, "Square brackets", ".x"),
            ("life.x", 1, 1, "A number has no .x", ""),
            ("position.w", 1, 1, "no .w to read", ".x"),
            ("position < 2", 1, 1, "takes numbers", "length"),
            ("dot(life, position)", 1, 5, "takes vectors", "vec3"),
            ("draws", 1, 1, "draws alone is no value", "draws.flicker"),
            ("draws.flick", 1, 1, "Nothing is called draws.flick", "draws.flicker"),
            ("flicker", 1, 1, "Nothing is called flicker", "draws.flicker"),
            ("sin", 1, 1, "sin is a function", "sin(angle)"),
            ("min(a=1, b=2)", 1, 1, "by their order", ""),
            ("previous(previous(size))", 1, 10, "within previous", "own attribute"),
            ("1e99", 1, 1, "too large", "1e30"),
            ("  life", 1, 2, "begins with spaces", "Remove"),
            ("", 1, 1, "empty", ""),
            ("# nothing", 1, 1, "empty", ""),
            ("for i in life: i", 1, 1, "no loops", ""),
            ("import os", 1, 1, "Nothing can be imported", ""),
            ("l\u0456fe * 2", 1, 2, "is not used in formulas", "plain letters"),
            ("life ×2", 1, 6, "is not used in formulas", ""),
        ]:
            with self.subTest(text):
                problem = first(text)
                self.assertEqual((problem.span.line, problem.span.column), (line, column), str(problem))
                self.assertIn(message, problem.message)
                self.assertIn(remedy, problem.remedy)

    def test_all_unknown_names_are_found_at_once(self):
        self.assertEqual([p.span.column for p in check("lief + agee * spede", NAMES).problems], [1, 8, 15])

    def test_limits_on_size_depth_and_cost(self):
        for text, message in [
            ("life + " * 700 + "life", "characters"),
            ("(" * 50 + "life" + ")" * 50, "brackets"),
            ("-" * 3000 + "life", "nested too deeply"),
            ("+".join(["life"] * 500), "nested too deeply"),
            ("\n".join(f"a{i} = life" for i in range(60)), "48 lines"),
            ("1" * 3000, "digits"),
            ("+".join(["noise(position)"] * 30), "operations a particle"),
            ("not " * 900 + "life", "nested too deeply"),
            ("life if life else " * 200 + "life", "nested too deeply"),
            ("2 ** " * 500 + "2", "nested too deeply"),
        ]:
            with self.subTest(text[:20]):
                self.assertIn(message, first(text).message)

    def test_units_are_worked_out_and_their_mixing_is_remarked(self):
        for text, unit in [
            ("speed * age", "m"),
            ("size / age", "m/s"),
            ("sqrt(size * size)", "m"),
            ("velocity / age", "m/s²"),
            ("size + 2", "m"),
            ("1 / age", "/s"),
            ("size ** 3", "m³"),
            ("normalize(velocity)", ""),
            ("mix(size, dials.height, life)", "m"),
            ("remap(age, 0, 2, 0.1, size)", "m"),
            ("size if age > 1 else 0", "m"),
            ("dot(velocity, velocity)", "m²/s²"),
        ]:
            formula = check(text, NAMES)
            self.assertEqual((dimension_text(formula.result.unit), formula.remarks), (unit, ()), text)
        for text in (
            "position.x * 40 + age * 8",
            "size * 2 < age",
            "0.5 * age + 3 * speed",
        ):  # such numbers bring a unit of their own
            self.assertEqual(check(text, NAMES).remarks, (), text)
        formula = check("size + age", NAMES)
        self.assertIn("m and s", formula.remarks[0].message)
        self.assertEqual(formula.problems, ())
        self.assertEqual(check("2 + 3", NAMES).result.unit, ANY)

    def test_kinds(self):
        for text, kind in [
            ("life > 0.5", "truth"),
            ("position * 2", "vector"),
            ("colour * life", "colour"),
            ("position.x", "number"),
            ("vec3(1)", "vector"),
            ("(life > 0) + 1", "number"),
            ("colour if life else vec3(1)", "vector"),
        ]:
            self.assertEqual(check(text, NAMES).result.kind, kind, text)


class Names(unittest.TestCase):
    @given(st.text(max_size=30))
    def test_every_name_becomes_one_that_formulas_can_write(self, name):
        self.assertTrue(identifier(name).isidentifier() and identifier(name).isascii())
        self.assertEqual(identifier(identifier(name)), identifier(name))

    def test_names_in_a_text_are_found_where_they_stand_but_not_in_comments(self):
        text = "draws.a + rows . size # draws.b\n+ my_draws.c + x.draws.d + own.e.x"
        self.assertEqual(
            [(name, text[start:end]) for name, start, end in names_in(text)],
            [("draws.a", "draws.a"), ("rows.size", "rows . size"), ("own.e", "own.e")],
        )


BUDGET_CALLS, CALLS_A_CHARACTER, BUDGET_BYTES = 6000, 24, 48 * 1024 * 1024
WORDS = [
    *NAMES,
    *FUNCTIONS,
    "__import__",
    "__class__",
    "__globals__",
    "eval",
    "exec",
    "open",
    "lambda",
    "lambda: 0",
    "yield",
    "await",
    "import os",
    "class A: pass",
    "(",
    ")",
    "[",
    "]",
    "{",
    "}",
    ",",
    ":",
    ".",
    "=",
    "==",
    "**",
    "*",
    "//",
    "-",
    "+",
    "not",
    "and",
    "or",
    "if",
    "else",
    "for",
    "in",
    "is",
    "while",
    "@",
    "~",
    "\\",
    "9" * 500,
    "1e308",
    "0x" + "f" * 300,
    "1j",
    '"',
    "'",
    "'''",
    "f'{life}'",
    "b'x'",
    "#",
    "\n",
    "\t",
    "\r",
    "\0",
    "\u202e",
    "𝒍ife",
    "é",
    "…",
    "\N{KELVIN SIGN}",
    "()",
    "(((((((",
    ")))))",
    "2**2**2**2",
    "10**10**10",
    "(lambda: 0)()",
    "().__class__.__bases__",
    "*life",
    "**life",
    "life:=1",
    "1if 1else 1",
]


class Fuzz(unittest.TestCase):
    @given(
        st.text(max_size=200)
        | st.lists(st.sampled_from(WORDS) | st.text(max_size=3), max_size=60).map(" ".join)
        | st.lists(st.sampled_from(WORDS), max_size=400).map("".join)
    )
    @settings(max_examples=examples(1500), deadline=None)
    @example("(" * 4000)
    @example("-" * 4000)
    @example("a." * 1999 + "a")
    @example("9**" * 1300 + "9")
    @example("\n" * 4000)
    @example("f(" * 39 + ")" * 39)
    @example("life if " * 499)
    def test_every_text_is_read_or_refused_within_a_budget(self, text):
        """The work is counted, calls and returns, and grows with the text's length: a clock would measure the
        machine."""
        tracemalloc.start()
        work = itertools.count()
        sys.setprofile(lambda frame, event, argument: next(work))
        try:
            formula = check(text, NAMES)
        finally:
            sys.setprofile(None)
        peak = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
        self.assertLess(next(work), BUDGET_CALLS + CALLS_A_CHARACTER * len(text), text)
        self.assertLess(peak, BUDGET_BYTES, text)
        self.assertEqual(formula.result is None, bool(formula.problems))
        for problem in formula.problems:
            self.assertTrue(problem.message and problem.span.line >= 1 and problem.span.column >= 1)
            self.assertLessEqual(problem.span.line, len(re.split("\r\n|\r|\n", text)))

    def test_nothing_in_a_formula_is_ever_called(self):
        for text in (
            "__import__('os').system('true')",
            "().__class__",
            "open('/etc/passwd')",
            "life.__class__",
            "sin.__globals__",
            "[x for x in ()]",
            "(lambda: 1)()",
            "eval('1')",
            "exec('1')",
            "print(1)",
        ):
            self.assertIsNone(check(text, NAMES).result, text)
