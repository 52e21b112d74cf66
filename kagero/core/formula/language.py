"""Text -> tree: Python's own expression syntax, read by `ast`; every node that is not part of the language is refused
at its place.

Several lines may name steps (`reach = ...`); the last line is the result. The limits below are checked before and while
reading, so that no text can hang or fill memory.
"""

from __future__ import annotations

import ast
import io
import math
import re
import tokenize
import warnings
from collections.abc import Iterator
from dataclasses import dataclass

MOST_CHARACTERS = 4_000
MOST_BRACKETS = 40  # nested in each other
MOST_NESTED = 64
MOST_NODES = 600
MOST_STEPS = 48
GROUPS = ["noises"]  # names that go on with a dot and a name; whoever knows more of them adds them
PARTS = {"x": 0, "y": 1, "z": 2, "red": 0, "green": 1, "blue": 2}


@dataclass(frozen=True)
class Span:
    """A piece of the text. Lines and columns count from 1; the end column is the first one behind it."""

    line: int
    column: int
    end_line: int
    end_column: int


@dataclass(frozen=True)
class Problem:
    """What is wrong with a formula, where, and what to do."""

    span: Span
    message: str
    remedy: str
    unknown: str = ""  # the name that nothing has, where that is what is wrong

    def __str__(self) -> str:
        return f"Line {self.span.line}, column {self.span.column}: {self.message} {self.remedy}".strip()


@dataclass(frozen=True, eq=False)
class Node:
    span: Span


@dataclass(frozen=True, eq=False)
class Literal(Node):
    value: float


@dataclass(frozen=True, eq=False)
class Name(Node):
    path: str


@dataclass(frozen=True, eq=False)
class Part(Node):
    of: Node
    part: str


@dataclass(frozen=True, eq=False)
class Call(Node):
    """A function or operator; operators have their words from `functions.OPERATORS`."""

    function: str
    args: tuple[Node, ...]


@dataclass(frozen=True)
class Tree:
    """Named steps in order, each (name, where the name stands, expression), and the result."""

    steps: tuple[tuple[str, Span, Node], ...]
    result: Node


class RefusedText(Exception):
    """Carries a problem out of reading; never leaves this package."""

    def __init__(self, span: Span, message: str, remedy: str = ""):
        super().__init__(message)
        self.problem = Problem(span, message, remedy)


_BINARY = {
    ast.Add: "add",
    ast.Sub: "sub",
    ast.Mult: "mul",
    ast.Div: "div",
    ast.Pow: "pow",
    ast.Mod: "mod",
    ast.FloorDiv: "floordiv",
}
_COMPARED = {
    ast.Lt: "less",
    ast.LtE: "less_equal",
    ast.Gt: "greater",
    ast.GtE: "greater_equal",
    ast.Eq: "equal",
    ast.NotEq: "not_equal",
}
_OTHER_OPERATORS: dict[type, tuple[str, str]] = {
    ast.BitXor: ("^ is not used here.", "Write ** to raise to a power."),
    ast.BitAnd: ("& is not used here.", "Write and."),
    ast.BitOr: ("| is not used here.", "Write or."),
    ast.Invert: ("~ is not used here.", "Write not."),
}
_WORDS: dict[type[ast.AST], tuple[str, str]] = {
    ast.Tuple: ("Several values stand here where one is needed.", "Write vec3(x, y, z) for a vector."),
    ast.List: ("Square brackets are not used here.", "Write vec3(x, y, z) for a vector."),
    ast.Subscript: ("Square brackets are not used here.", "Write .x, .y or .z for a component."),
    ast.NamedExpr: ("A step is named on a line of its own.", "Write name = value on its own line."),
    ast.Lambda: ("Functions cannot be made here.", "Name a step instead."),
    ast.Constant: ("Only numbers can be written here.", "Remove the text or word."),
    ast.JoinedStr: ("Only numbers can be written here.", "Remove the text."),
    ast.Starred: ("* only stands between two values.", "Remove it."),
}
_STATEMENTS: dict[type[ast.AST], tuple[str, str]] = {
    ast.AugAssign: ("A step cannot be changed once it is named.", "Give the new value a name of its own."),
    ast.AnnAssign: ("A step needs no type.", "Write name = value."),
    ast.If: ("A line cannot begin with if.", "Write a if condition else b."),
    ast.Return: ("The last line is the result by itself.", "Remove return."),
    ast.Import: ("Nothing can be imported here.", "Use the functions listed."),
    ast.ImportFrom: ("Nothing can be imported here.", "Use the functions listed."),
    ast.FunctionDef: ("Functions cannot be made here.", "Name a step instead."),
    ast.For: ("There are no loops here: a formula is computed for every particle at every step.", "Remove the loop."),
    ast.While: ("There are no loops here: a formula is computed for every particle at every step.", "Remove the loop."),
}
_FOREIGN = [
    ("&&", "Write and."),
    ("||", "Write or."),
    ("?", "Write a if condition else b."),
    ("!", "Write not, or != for is not equal."),
    ("{", "Braces are not used; a line is enough."),
    ("}", "Braces are not used; a line is enough."),
    ("$", "Names are plain words."),
]


def parse(text: str) -> Tree | Problem:
    """Return the tree of a formula, or the first thing wrong with it."""
    try:
        _within_limits(text)
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            module = ast.parse(text)
        return _Reader().tree(module, text)
    except RefusedText as refused:
        return refused.problem
    except SyntaxError as error:
        return _syntax(error, text)
    except (RecursionError, MemoryError):
        return Problem(_whole(text), "This is nested too deeply.", "Name parts of it as steps on lines of their own.")
    except (ValueError, OverflowError):
        return Problem(_whole(text), "This cannot be read.", "Use plain letters, numbers and operators.")


def identifier(name: str) -> str:
    """Return a thing's name as formulas write it: small letters, digits and _; "Draw A" is draw_a."""
    plain = re.sub(r"[^a-z0-9]+", "_", name.lower()).strip("_") or "unnamed"
    return f"_{plain}" if plain[0].isdigit() else plain


def names_in(text: str) -> Iterator[tuple[str, int, int]]:
    """Yield each group's name in a text (such as draws.flicker) with where it starts and ends, in characters; comments
    are left out."""
    for found in re.finditer(r"#[^\n]*|(?<![\w.])(?:" + "|".join(GROUPS) + r")\s*\.\s*[A-Za-z_]\w*", text):
        if not found[0].startswith("#"):
            yield re.sub(r"\s", "", found[0]), found.start(), found.end()


def words_of(text: str) -> frozenset[str]:
    """Return every word of a text that may be a name of its own or part of one; comments are left out."""
    return frozenset(re.findall(r"[A-Za-z_]\w*", re.sub(r"#[^\n]*", "", text)))


def _whole(text: str) -> Span:
    lines = text.split("\n") or [""]
    return Span(1, 1, len(lines), len(lines[-1]) + 1)


def _within_limits(text: str) -> None:
    if len(text) > MOST_CHARACTERS:
        raise RefusedText(
            Span(1, 1, 1, 2),
            f"The formula has {len(text):,} characters; {MOST_CHARACTERS:,} are allowed.",
            "Split it over several rows.",
        )
    open_ones = 0
    for number, line in enumerate(text.split("\n"), 1):
        for column, letter in enumerate(line, 1):
            if letter == "#":
                break
            here = Span(number, column, number, column + 1)
            if not (" " <= letter <= "~" or letter in "\t\r"):
                raise RefusedText(
                    here,
                    f"{letter!r} is not used in formulas.",
                    "Use plain letters and operators; anything may stand in a comment (#).",
                )
            open_ones += (letter in "([{") - (letter in ")]}")
            if open_ones > MOST_BRACKETS:
                raise RefusedText(
                    here,
                    f"More than {MOST_BRACKETS} brackets are open here.",
                    "Name parts of it as steps on lines of their own.",
                )
    for token in _tokens(text):
        if token.type == tokenize.NUMBER and len(token.string) > 40:
            start = Span(token.start[0], token.start[1] + 1, token.end[0], token.end[1] + 1)
            raise RefusedText(
                start,
                f"This number has {len(token.string)} digits.",
                "40 are more than enough; write 1e9 for large ones.",
            )


def _tokens(text: str) -> Iterator[tokenize.TokenInfo]:
    try:
        yield from tokenize.generate_tokens(io.StringIO(text).readline)
    except (tokenize.TokenError, SyntaxError):
        return  # `ast.parse` says what is wrong


def _syntax(error: SyntaxError, text: str) -> Problem:
    line, column = error.lineno or 1, error.offset or 1
    lines = text.split("\n")
    line = min(max(line, 1), len(lines))
    here = lines[line - 1]
    column = min(max(column, 1), len(here) + 1)
    span = Span(
        line,
        column,
        line,
        min(max(column + 1, error.end_offset or 0), len(here) + 1) if error.end_lineno == line else column + 1,
    )
    message = str(error.msg)
    for sign, remedy in _FOREIGN:
        if here[column - 1 :].lstrip().startswith(sign) or here[max(0, column - 2) : column].endswith(sign):
            at = here.find(sign, max(0, column - 2))
            return Problem(Span(line, at + 1, line, at + 1 + len(sign)), f"{sign} is not used here.", remedy)
    if "was never closed" in message:
        return Problem(span, f"This {message[1]} is never closed.", "Add the closing bracket.")
    if "unmatched" in message:
        return Problem(
            span, f"There is no bracket to close with {here[column - 1 : column]}.", "Remove it, or open one before."
        )
    if "unexpected indent" in message or "unindent" in message:
        return Problem(span, "The line begins with spaces.", "Remove the spaces before it.")
    if "cannot assign" in message or "Maybe you meant '=='" in message:
        return Problem(span, "A single = names a step.", "Write == to compare.")
    if "expected 'else'" in message:
        return Problem(span, "This if has no else.", "Write a if condition else b.")
    if "forgot a comma" in message:
        return Problem(span, "Something is missing between these two values.", "Write an operator or a comma.")
    if column > len(here.rstrip()):
        return Problem(span, "The line ends too early.", "Write what comes next.")
    return Problem(span, "This cannot be read here.", "Check the operators and brackets just before it.")


class _Reader:
    """Turns Python's tree into ours. Every node not named here is refused."""

    def __init__(self) -> None:
        self.nodes = 0

    def tree(self, module: ast.Module, text: str) -> Tree:
        if not module.body:
            raise RefusedText(_whole(text), "The formula is empty.", "Write a value, such as life * 2.")
        if len(module.body) > MOST_STEPS:
            raise RefusedText(
                self.span(module.body[MOST_STEPS]),
                f"There are more than {MOST_STEPS} lines.",
                "Join some, or use several rows.",
            )
        steps: list[tuple[str, Span, Node]] = []
        for number, statement in enumerate(module.body):
            last = number + 1 == len(module.body)
            if (
                isinstance(statement, ast.Assign)
                and len(statement.targets) == 1
                and isinstance(statement.targets[0], ast.Name)
            ):
                target = statement.targets[0]
                steps.append((target.id, self.span(target), self.node(statement.value, 0)))
            elif isinstance(statement, ast.Expr) and last:
                return Tree(tuple(steps), self.node(statement.value, 0))
            elif isinstance(statement, ast.Expr):
                raise RefusedText(
                    self.span(statement),
                    "This line is computed and then forgotten.",
                    "Name it (name = ...), or make it the last line.",
                )
            else:
                words = _STATEMENTS.get(
                    type(statement), ("This kind of line is not part of formulas.", "Write name = value, or a value.")
                )
                raise RefusedText(self.span(statement), *words)
        return Tree(tuple(steps), steps[-1][2])

    def span(self, node: ast.AST) -> Span:
        line, column = getattr(node, "lineno", 1), getattr(node, "col_offset", 0)
        end_line, end = getattr(node, "end_lineno", line), getattr(node, "end_col_offset", column + 1)
        return Span(line, column + 1, end_line, end + 1)

    def node(self, node: ast.expr, depth: int) -> Node:
        span = self.span(node)
        self.nodes += 1
        if self.nodes > MOST_NODES:
            raise RefusedText(span, f"The formula has more than {MOST_NODES} parts.", "Split it over several rows.")
        if depth > MOST_NESTED:
            raise RefusedText(span, "This is nested too deeply.", "Name parts of it as steps on lines of their own.")
        down = depth + 1
        if isinstance(node, ast.Constant) and isinstance(node.value, (int, float)):
            return Literal(span, self.number(node, span))
        if isinstance(node, ast.Name):
            return Name(span, node.id)
        if isinstance(node, ast.Attribute):
            return self.attribute(node, span, down)
        if isinstance(node, ast.BinOp) and type(node.op) in _BINARY:
            return Call(span, _BINARY[type(node.op)], (self.node(node.left, down), self.node(node.right, down)))
        if isinstance(node, ast.UnaryOp) and isinstance(node.op, (ast.USub, ast.UAdd, ast.Not)):
            inner = self.node(node.operand, down)
            if isinstance(node.op, ast.UAdd):
                return inner
            return Call(span, "neg" if isinstance(node.op, ast.USub) else "not", (inner,))
        if isinstance(node, ast.BoolOp):
            word = "and" if isinstance(node.op, ast.And) else "or"
            return self.joined(word, [self.node(value, down) for value in node.values], span)
        if isinstance(node, ast.Compare):
            return self.compared(node, span, down)
        if isinstance(node, ast.IfExp):
            return Call(
                span, "choose", (self.node(node.test, down), self.node(node.body, down), self.node(node.orelse, down))
            )
        if isinstance(node, ast.Call):
            return self.call(node, span, down)
        operator: object = getattr(node, "op", None)
        words = _OTHER_OPERATORS.get(type(operator)) or _WORDS.get(type(node))
        raise RefusedText(
            span, *(words or ("This is not part of formulas.", "Use values, operators and the functions listed."))
        )

    def number(self, node: ast.Constant, span: Span) -> float:
        value = node.value
        if isinstance(value, complex) or not isinstance(value, (int, float)):
            raise RefusedText(span, "Only numbers can be written here.", "Remove it.")
        try:
            number = float(value)
        except OverflowError:
            number = math.inf
        if not abs(number) <= 1e30:
            raise RefusedText(span, "This number is too large.", "Numbers up to 1e30 can be written.")
        return number

    def attribute(self, node: ast.Attribute, span: Span, depth: int) -> Node:
        if isinstance(node.value, ast.Name) and node.value.id in GROUPS:
            return Name(span, f"{node.value.id}.{node.attr}")
        if node.attr not in PARTS:
            raise RefusedText(
                span, f"There is no .{node.attr[:40]} to read.", "Components are .x, .y, .z, or .red, .green, .blue."
            )
        return Part(span, self.node(node.value, depth), node.attr)

    def joined(self, word: str, values: list[Node], span: Span) -> Node:
        result = values[0]
        for value in values[1:]:
            result = Call(span, word, (result, value))
        return result

    def compared(self, node: ast.Compare, span: Span, depth: int) -> Node:
        """a < b < c is a < b and b < c, with b computed once."""
        values = [self.node(value, depth) for value in (node.left, *node.comparators)]
        pairs: list[Node] = []
        for operator, left, right in zip(node.ops, values, values[1:], strict=False):
            if type(operator) not in _COMPARED:
                raise RefusedText(span, "Values are compared with <, <=, >, >=, == and !=.", "Use one of these.")
            pairs.append(Call(span, _COMPARED[type(operator)], (left, right)))
        return self.joined("and", pairs, span)

    def call(self, node: ast.Call, span: Span, depth: int) -> Node:
        if not isinstance(node.func, ast.Name):
            raise RefusedText(
                self.span(node.func),
                "Only the functions listed can be called.",
                "Write a function's name before the bracket.",
            )
        if node.keywords:
            raise RefusedText(span, "Arguments are given by their order, without names.", "Remove the name and the =.")
        # the function's own name is where a wrong one is shown
        return Call(span, f"{node.func.id}()", tuple(self.node(arg, depth) for arg in node.args))
