"""Tree -> typed expression: what each name means, kinds and units, how much it costs. All that is wrong is found at
once."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from difflib import get_close_matches
from typing import Any, Literal

from .functions import CONSTANTS, FUNCTIONS, OPERATORS, Function
from .language import GROUPS, PARTS, Call, Name, Node, Part, Problem, Span, Tree, parse
from .language import Literal as Written
from .units import ANY, PLAIN, Dimension, dimension_text, same, times, to_power

Kind = Literal["number", "truth", "vector", "colour"]
MOST_COST = 1_500
_KINDS = {"number": "a number", "truth": "a condition", "vector": "a vector", "colour": "a colour"}


@dataclass(frozen=True)
class Known:
    """What a name means. source: what the one who gave the names reads it by; refused: why it cannot be read here."""

    name: str
    kind: Kind
    unit: Dimension
    source: Any
    label: str = ""
    help: str = ""
    symbol: str = ""
    per_particle: bool = True
    changes: bool = True
    refused: str = ""


@dataclass(frozen=True, eq=False)
class Typed:
    """An operation with its arguments.

    op: literal, read, part, or a function's or operator's name. value: the number, the `Known`, the place of the part.
    """

    op: str
    args: tuple[Typed, ...]
    kind: Kind
    unit: Dimension
    span: Span
    value: Any = None

    @property
    def count(self) -> int:
        return 3 if self.kind in ("vector", "colour") else 1


@dataclass(frozen=True)
class Reading:
    """A name that is read, and where; before: as it was in the step before."""

    known: Known
    span: Span
    before: bool


@dataclass(frozen=True)
class Formula:
    """A formula as it was understood. result is None when there are problems; previous: what is remembered, in
    order."""

    text: str
    steps: tuple[tuple[str, Typed], ...] = ()
    result: Typed | None = None
    reads: tuple[Reading, ...] = ()
    previous: tuple[Typed, ...] = ()
    problems: tuple[Problem, ...] = ()
    remarks: tuple[Problem, ...] = ()
    cost: int = 0

    @property
    def per_particle(self) -> bool:
        return any(reading.known.per_particle for reading in self.reads) or bool(self.previous)

    @property
    def changes(self) -> bool:
        return any(reading.known.changes for reading in self.reads) or bool(self.previous)


def check(text: str, names: Mapping[str, Known]) -> Formula:
    """Return a formula read with these names; what is wrong stands in its `problems`, each at its place."""
    tree = parse(text)
    if isinstance(tree, Problem):
        return Formula(text, problems=(tree,))
    return _Checker(names).formula(tree, text)


@dataclass
class _Checker:
    names: Mapping[str, Known]
    steps: dict[str, Typed | None] = field(default_factory=dict)
    problems: list[Problem] = field(default_factory=list)
    remarks: list[Problem] = field(default_factory=list)
    reads: list[Reading] = field(default_factory=list)
    previous: list[Typed] = field(default_factory=list)
    done: dict[int, Typed | None] = field(default_factory=dict)
    within_previous: bool = False
    cost: int = 0

    def formula(self, tree: Tree, text: str) -> Formula:
        for name, span, node in tree.steps:
            if name in self.steps:
                self.problem(span, f"There is already a step called {name}.", "Give this one another name.")
            elif name in self.names or name in FUNCTIONS or name in CONSTANTS or name in GROUPS:
                self.problem(span, f"{name} means something already.", "Give the step another name.")
            self.steps[name] = self.typed(node)
        result = (
            self.steps[tree.steps[-1][0]]
            if tree.steps and tree.result is tree.steps[-1][2]
            else self.typed(tree.result)
        )
        if self.cost > MOST_COST and not self.problems:
            self.problem(
                tree.result.span,
                f"The formula costs {self.cost:,} operations a particle; {MOST_COST:,} are allowed.",
                "Use less noise, or split it over several rows.",
            )
        steps = tuple((name, step) for name, step in self.steps.items() if step is not None)
        return Formula(
            text,
            steps,
            None if self.problems else result,
            tuple(self.reads),
            tuple(self.previous),
            tuple(self.problems),
            tuple(self.remarks),
            self.cost,
        )

    def problem(self, span: Span, message: str, remedy: str, unknown: str = "") -> None:
        self.problems.append(Problem(span, message, remedy, unknown))

    def typed(self, node: Node) -> Typed | None:
        """Return a node with its kind and unit, or None where something in it is wrong and has been said."""
        if id(node) not in self.done:  # b in a < b < c stands in the tree twice
            self.done[id(node)] = self._typed(node)
        return self.done[id(node)]

    def _typed(self, node: Node) -> Typed | None:
        if isinstance(node, Written):
            return Typed("literal", (), "number", ANY, node.span, node.value)
        if isinstance(node, Name):
            return self.name(node)
        if isinstance(node, Part):
            return self.part(node)
        assert isinstance(node, Call)
        return self.call(node)

    def name(self, node: Name) -> Typed | None:
        path = node.path
        if path in self.steps:
            return self.steps[path]
        if path in CONSTANTS:
            return Typed("literal", (), "number", PLAIN, node.span, CONSTANTS[path][0])
        known = self.names.get(path)
        if known is None:
            self.unknown(node)
            return None
        if known.refused:
            self.problem(node.span, known.refused, "Use another value, or another row.")
            return None
        self.reads.append(Reading(known, node.span, self.within_previous))
        return Typed("read", (), known.kind, known.unit, node.span, known)

    def unknown(self, node: Name) -> None:
        path = node.path
        if path in GROUPS:
            inside = [name for name in self.names if name.startswith(f"{path}.")]
            remedy = f"Go on with a dot: {', '.join(inside[:4])}." if inside else f"There are no {path} here yet."
            self.problem(node.span, f"{path} alone is no value.", remedy)
        elif path in FUNCTIONS:
            self.problem(
                node.span,
                f"{path} is a function.",
                f"Write {path}({', '.join(FUNCTIONS[path].parameters[: FUNCTIONS[path].fewest])}).",
            )
        else:
            near = get_close_matches(path, [*self.names, *self.steps, *CONSTANTS], 2, 0.6)
            ending = [
                name for name in self.names if name.rpartition(".")[2] == path.rpartition(".")[2] and name != path
            ][:2]
            found = list(dict.fromkeys([*ending, *near]))[:2]
            self.problem(
                node.span,
                f"Nothing is called {path[:60]} here.",
                f"Did you mean {' or '.join(found)}?" if found else "Choose a name from the list.",
                path,
            )

    def part(self, node: Part) -> Typed | None:
        of = self.typed(node.of)
        if of is None:
            return None
        if of.count == 1:
            self.problem(node.span, f"{_KINDS[of.kind].capitalize()} has no .{node.part}.", "Leave it out.")
            return None
        return Typed("part", (of,), "number", of.unit, node.span, PARTS[node.part])

    def call(self, node: Call) -> Typed | None:
        name = node.function.removesuffix("()")
        table = FUNCTIONS if node.function.endswith("()") else OPERATORS
        function = table.get(name)
        if function is None:
            near = get_close_matches(name, FUNCTIONS, 2, 0.6)
            self.problem(
                Span(node.span.line, node.span.column, node.span.line, node.span.column + len(name)),
                f"There is no function {name[:40]}.",
                f"Did you mean {' or '.join(near)}?" if near else "Choose one from the list.",
            )
            return None
        if name == "previous":
            return self.before(node, function)
        args = [
            self.shared_noise(arg) if function.takes == "noise" and i == 3 else self.typed(arg)
            for i, arg in enumerate(node.args)
        ]
        if not function.fewest <= len(args) <= len(function.parameters) or (name == "vec3" and len(args) == 2):
            self.problem(
                node.span,
                f"{name} takes {_how_many(function)}, and got {len(args)}.",
                f"Write {name}({', '.join(function.parameters)}).",
            )
            return None
        given = [arg for arg in args if arg is not None]
        if len(given) < len(args):
            return None
        kind = self.kind(function, given, node)
        if kind is None:
            return None
        unit = self.unit(function, given, node)
        self.cost += function.weight * (
            3 if kind in ("vector", "colour") or any(arg.count == 3 for arg in given) else 1
        )
        return Typed(name, tuple(given), kind, unit, node.span)

    def shared_noise(self, node: Node) -> Typed | None:
        """Return which noise is meant: noises.NAME is the same for the whole effect."""
        if isinstance(node, Name) and node.path.startswith("noises.") and node.path.count(".") == 1:
            return Typed("literal", (), "number", PLAIN, node.span, node.path.removeprefix("noises."))
        return self.typed(node)

    def before(self, node: Call, function: Function) -> Typed | None:
        if len(node.args) != 1:
            self.problem(node.span, f"previous takes one value, and got {len(node.args)}.", "Write previous(value).")
            return None
        if self.within_previous:
            self.problem(
                node.span,
                "previous stands within previous; only the last step is remembered.",
                "Remember it in an own attribute.",
            )
            return None
        outer, self.within_previous = self.done, True
        self.done = {}
        steps, self.steps = self.steps, {}  # steps are of this moment
        value = self.typed(node.args[0])
        self.done, self.steps, self.within_previous = outer, steps, False
        if value is None:
            return None
        self.cost += 2 * value.count
        typed = Typed("previous", (value,), value.kind, value.unit, node.span, len(self.previous))
        self.previous.append(value)
        return typed

    def kind(self, function: Function, args: list[Typed], node: Call) -> Kind | None:
        """Return what a function gives for these arguments; where they do not fit, say so and return None."""
        wide = [arg for arg in args if arg.count == 3]
        name = function.help if function.name in OPERATORS and not node.function.endswith("()") else function.name
        takes = function.takes
        if takes == "vectors":
            for arg in args:
                if arg.count == 1:
                    self.problem(
                        arg.span,
                        f"{name} takes vectors, and this is {_KINDS[arg.kind]}.",
                        "Write vec3(x, y, z), or use abs for a number.",
                    )
                    return None
            return function.gives if function.gives != "as given" else args[0].kind
        if takes in ("build", "compare", "truth"):
            for arg in wide:
                remedy = "Compare a component, or length(...)." if takes != "build" else "Use one of its components."
                self.problem(arg.span, f"{name} takes numbers, and this is {_KINDS[arg.kind]}.", remedy)
                return None
            return function.gives  # type: ignore[return-value]
        if takes == "noise":
            for arg in args[1:]:
                if arg.count == 3:
                    self.problem(
                        arg.span,
                        f"This argument of {name} is a number, not {_KINDS[arg.kind]}.",
                        f"Write {name}(place, scale, drift).",
                    )
                    return None
            if (
                len(args) == 4
                and not isinstance(args[3].value, str)
                and (args[3].op != "literal" or args[3].value != int(args[3].value) or not 0 <= args[3].value < 1e6)
            ):
                self.problem(
                    args[3].span,
                    "Which noise is a whole number written out, or a name.",
                    "Write 0, 1, 2 ... or noises.fog.",
                )
                return None
            return function.gives  # type: ignore[return-value]
        if takes == "choose" and args[0].count == 3:
            self.problem(
                args[0].span, "A condition is one number, not a vector.", "Compare a component, or length(...)."
            )
            return None
        values = args[1:] if takes == "choose" else args
        wide = [arg for arg in values if arg.count == 3]
        if not wide:
            truth = takes == "choose" and all(arg.kind == "truth" for arg in values)
            return "truth" if truth else "number"
        return "colour" if all(arg.kind == "colour" for arg in wide) else "vector"

    def unit(self, function: Function, args: list[Typed], node: Call) -> Dimension:
        rule, units = function.unit, [arg.unit for arg in args]
        if rule == "keep":
            return units[0]
        if rule == "same":
            found = self.agree(args, node)
            return PLAIN if function.gives == "truth" else found
        if rule == "choose":
            return self.agree(args[1:], node)
        if rule == "mix":
            return self.agree(args[:2], node)
        if rule == "remap":
            self.agree(args[:3], node)
            return self.agree(args[3:], node)
        if rule == "product":
            return times(units[0], units[1])
        if rule == "quotient":
            return times(units[0], units[1], -1)
        if rule == "power":
            return to_power(units[0], args[1].value if args[1].op == "literal" else None)
        if rule in ("root", "inverse_root"):
            return to_power(units[0], 0.5 if rule == "root" else -0.5)
        if function.name == "smoothstep" or function.name == "step":
            self.agree(args, node)
        return PLAIN

    def agree(self, args: list[Typed], node: Call) -> Dimension:
        unit, agreed = same(*(arg.unit for arg in args))
        if not agreed:
            words = " and ".join(
                dict.fromkeys(dimension_text(arg.unit) or "a plain number" for arg in args if arg.unit != ANY)
            )
            self.remarks.append(
                Problem(node.span, f"Different units meet here: {words}.", "It is computed as the numbers stand.")
            )
        return unit


def _how_many(function: Function) -> str:
    most = len(function.parameters)
    if function.name == "vec3":
        return "1 or 3 values"
    if function.fewest == most:
        return f"{most} value{'s' if most > 1 else ''}"
    return f"{function.fewest} to {most} values"


def with_refusals(names: Mapping[str, Known], refuse: Any) -> dict[str, Known]:
    """Return the names, each with why it cannot be read (refuse(known) -> words or an empty string)."""
    return {name: replace(known, refused=refuse(known)) for name, known in names.items()}
