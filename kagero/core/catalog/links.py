"""Which row reads which, at a birth and while living; and why a row cannot take a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from ..formula import Formula, Problem, Reading
from ..rows.model import parts_in
from ..rows.placed import PlacedRow, RowSpec
from ..rows.responses import sources_of
from ..rows.source import Node
from .scope import Scope


def is_active(thing: Any, placed: PlacedRow, response: Any) -> bool:
    """Return whether a response acts: neither it, its row nor its source's column is muted."""
    return not (response.muted or placed.row.muted or response.source.column() in thing.muted_sources)


class Links:
    """The rows of one emitter or prop and what they read."""

    def __init__(self, scope: Scope):
        self.scope, self.thing = scope, scope.thing
        self.rows = scope.every_row
        self._parts = tuple(parts_in(self.thing))
        self._settings: dict[str, list[str]] = {}
        for placed in self.rows.values():
            if placed.depth:
                self._settings.setdefault(placed.address.rsplit(".", 1)[0], []).append(placed.address)

    def circle(self, address: str, source: Any, read: str) -> list[str]:
        """Return the names along which a row would read itself through this source, or nothing when it would not."""
        target = self.rows[address]
        host = target.host or address
        stages = ("birth",) if target.spec.stage == "birth" else ("live", "birth")
        for stage in stages:
            goal = {(stage, address), (stage, host)}
            seen: set[Node] = set()
            waiting: list[tuple[Node, list[str]]] = [(node, [address]) for node in self._reads(source, read, stage)]
            while waiting:
                node, trail = waiting.pop()
                if node in goal:
                    return [self._name(a) for a in [*trail, node[1]]]
                if node in seen or node[1] not in self.rows:
                    continue
                seen.add(node)
                waiting.extend((after, [*trail, node[1]]) for after in self._depends(node))
        return []

    def _depends(self, node: Node) -> Iterator[Node]:
        stage, address = node
        placed = self.rows[address]
        if placed.spec.stage == "birth":
            stage = "birth"
        for source, read, response in sources_of(placed.row):
            if response is not None and not is_active(self.thing, placed, response):
                continue
            yield from self._reads(source, read, stage)
            if response is not None:
                yield from ((stage, setting) for setting in self._settings.get(f"responses.{response.uid}", []))
            if hasattr(source, "uid"):
                yield from ((stage, setting) for setting in self._settings.get(f"sources.{source.uid}", []))

        if stage == "live":
            yield from ((stage, by) for part in self._parts for by in part.alters(address) or ())

    def _reads(self, source: Any, read: str, stage: str) -> Iterator[Node]:
        yield from source.reads(self.scope, "birth" if read == "once" else stage)

    def remembering(self) -> frozenset[str]:
        """Return the rows of the sheet whose value depends on the step before: on a live formula with `previous`."""
        direct = {placed.address for placed in self.rows.values() if self._looks_back(placed)}
        found = set()
        for placed in self.rows.values():
            if not direct or placed.depth or placed.spec.stage != "live":
                continue
            seen: set[Node] = set()
            waiting: list[Node] = [("live", placed.address)]
            while waiting:
                node = waiting.pop()
                if node in seen or node[0] != "live" or node[1] not in self.rows:
                    continue
                seen.add(node)
                waiting.extend(self._depends(node))
            if any(address in direct for _, address in seen):
                found.add(placed.address)
        return frozenset(found)

    def latched(self) -> tuple[str, ...]:
        """Return the masks that particles of this emitter have to remember having been touched by, in order of their
        uids."""
        found = {
            uid
            for placed in self.rows.values()
            for source, *_ in sources_of(placed.row)
            for uid in self._latches(source)
        }
        return tuple(sorted(found & {mask.uid for mask in self.scope.masks}))

    def _latches(self, source: Any) -> Iterator[str]:
        read = [r.known.source for r in self.scope.formula(source.text).reads] if source.is_formula else [source]
        for each in read:
            uid = None if each is None or isinstance(each, str) else each.latches()
            if uid is not None:
                yield uid

    def _looks_back(self, placed: PlacedRow) -> bool:
        for source, read, response in sources_of(placed.row):
            acting = response is None or is_active(self.thing, placed, response)
            if acting and source.is_formula and read == "live" and self.scope.formula(source.text).previous:
                return True
        return False

    def refusal(self, placed: PlacedRow, source: Any, read: str) -> str:
        """Return why a row cannot take a source, or an empty string when it can."""
        spec, facts = placed.spec, source.facts(self.scope)
        name = facts.label
        if source.is_formula:
            problems = self.check_formula(placed, source.text, read).problems
            return str(problems[0]) if problems else ""
        if why := source.unfit(spec, read):
            return str(why)
        if spec.stage == "emitter" and facts.per_particle:
            owner = {"props": "a prop", "finish": "the whole picture", "frame": "the whole picture"}.get(
                spec.band, "the whole emitter"
            )
            return f"{spec.label} belongs to {owner}; {name} exists only on a particle."
        if spec.stage == "birth":
            family = self._family(spec)
            if source.after == "life":
                return f"{family} is settled at birth, when {name} is always 0."
            if source.after and spec.family.startswith(f"births.{source.after}"):
                label = type(source).label
                return f"{label.capitalize()} comes out of {family.lower()}; it cannot drive it."
        loop = self.circle(placed.address, source, read)
        return "It would go round in a circle: " + " <- ".join(loop) + "." if loop else ""

    def _family(self, spec: RowSpec) -> str:
        host = next((placed.spec for placed in self.scope.sheet_rows() if placed.spec.key == spec.family), spec)
        return host.label

    def check_formula(self, placed: PlacedRow, text: str, read: str, needs: str = "") -> Formula:
        """Return a formula as the row sees it, with everything wrong about it there in its `problems`.

        needs: number, vector or colour; without, whatever it gives will do.
        """
        formula = self.scope.formula(text)
        if formula.result is None:
            return formula
        problems = [
            Problem(reading.span, reason, "Use another value, or drive another row.")
            for reading in formula.reads
            if (reason := self.refused_reading(placed, reading, read))
        ]
        if placed.spec.stage != "live":
            words = f"{placed.spec.label} has no step before: it is settled {_WHEN[placed.spec.stage]}."
            problems.extend(Problem(value.span, words, "Remove previous.") for value in formula.previous)
        kind = "number" if formula.result.kind == "truth" else formula.result.kind
        if needs and (kind == "number") != (needs == "number"):
            problems.append(
                Problem(
                    formula.result.span,
                    f"{placed.spec.label} needs {_NEEDS[needs]}, and this gives {_NEEDS[kind]}.",
                    _WRITE[needs],
                )
            )
        return replace(formula, result=None if problems else formula.result, problems=tuple(problems))

    def refused_reading(self, placed: PlacedRow, reading: Reading, read: str) -> str:
        """Return why a formula of a row cannot read a name, or an empty string."""
        known = reading.known
        if known.source == "dt" and (placed.spec.stage != "live" or read == "once"):
            return f"{placed.spec.label} is not computed step by step; there is no dt."
        if isinstance(known.source, str):
            return ""
        if reading.before and placed.spec.stage == "live":
            return ""
        return self.refusal(placed, known.source, read)

    def _name(self, address: str) -> str:
        placed = self.rows[address]
        return self.scope.row_label(self.rows[placed.host] if placed.host else placed)


_NEEDS = {"number": "a number", "vector": "a vector", "colour": "a colour"}
_WRITE = {
    "number": "Use a component, or length(...).",
    "vector": "Write vec3(x, y, z).",
    "colour": "Write vec3(red, green, blue).",
}
_WHEN = {"emitter": "by the clip alone", "birth": "at birth"}
