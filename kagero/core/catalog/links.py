"""Which row reads which, at a birth and while living; and why a row cannot take a source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..effect import Emitter, MaskSource, SourcedBase, source_key
from .formulas import check_formula
from .rows import ROWS, PlacedRow
from .scope import Scope
from .sources import SOURCES, all_rows, row_label, source_facts

Node = tuple[str, str]  # "birth" or "live", and a row's address

_ROW_OF = {"size": "look.size", "opacity": "look.opacity", "brightness": "look.colour", "colour": "look.colour",
           "spin": "motion.spin", "lifespan": "births.lifespan", "life": "births.lifespan", "mass": "births.mass"}  # fmt: skip
_PLACED = {
    "height",
    "position",
    "distance",
    "noise",
    "birth_position",
    "birth_normal",
    "birth_u",
    "birth_v",
    "mask",
    "surface",
    "picture",
}  # known once the particle is placed
_LAUNCHED = {"speed", "velocity"}


def act(emitter: Emitter, placed: PlacedRow, response: Any) -> bool:
    """Return whether a response acts: neither it, its row nor its source's column is muted."""
    return not (response.muted or placed.row.muted or source_key(response.source) in emitter.muted_sources)


class Links:
    """The rows of one emitter and what they read."""

    def __init__(self, scope: Scope):
        self.scope, self.emitter = scope, scope.emitter
        self.rows = {placed.address: placed for placed in all_rows(scope)}
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
                node, way = waiting.pop()
                if node in goal:
                    return [self._name(a) for a in [*way, node[1]]]
                if node in seen or node[1] not in self.rows:
                    continue
                seen.add(node)
                waiting.extend((after, [*way, node[1]]) for after in self._depends(node))
        return []

    def _depends(self, node: Node) -> Iterator[Node]:
        stage, address = node
        placed = self.rows[address]
        if placed.spec.stage == "birth":
            stage = "birth"
        row = placed.row
        if isinstance(row.base, SourcedBase):
            yield from self._reads(row.base.source, row.base.read, stage)
            yield from self._settings_of(row.base.source, stage)
        for response in row.responses:
            if act(self.emitter, placed, response):
                yield from self._reads(response.source, response.read, stage)
                for setting in self._settings.get(f"responses.{response.uid}", []):
                    yield (stage, setting)
                yield from self._settings_of(response.source, stage)

    def _settings_of(self, source: Any, stage: str) -> Iterator[Node]:
        if hasattr(source, "uid"):
            for setting in self._settings.get(f"sources.{source.uid}", []):
                yield (stage, setting)

    def _reads(self, source: Any, read: str, stage: str) -> Iterator[Node]:
        if read == "once":
            stage = "birth"
        kind = source.kind
        if kind == "formula":
            yield from self._read_by(source, stage)
        elif kind in _ROW_OF:
            yield (stage, _ROW_OF[kind])
        elif kind == "row":
            yield (stage, source.row)
        elif kind == "draw":
            yield from (("birth", address) for address in self.rows if address.startswith(f"draws.{source.draw}."))
        elif kind in ("prop", "parent"):
            pass  # a prop reads the clip, dials and other props
        elif kind == "own":
            own = next((own for own in self.emitter.own if own.uid == source.own), None)
            if own is not None and (stage == "birth" or not own.memory):
                yield ("birth", f"own.{source.own}.start")
        elif stage == "birth":
            if kind in _PLACED:
                yield from (("birth", address) for address in self.rows if address.startswith("births.place."))
            elif kind in _LAUNCHED:
                yield from (("birth", address) for address in self.rows if address.startswith("births.launch."))
            elif kind == "rotation":
                yield ("birth", "births.rotation")

    def _read_by(self, source: Any, stage: str) -> Iterator[Node]:
        """Yield what a formula reads. What it remembers of the step before closes no circle; a birth has no step before."""
        for reading in self.scope.formula(source.text).reads:
            if isinstance(reading.known.source, str) or (reading.before and stage == "live"):
                continue
            for node in self._reads(reading.known.source, "live", stage):
                if not (reading.before and node[1] in self.rows and self.rows[node[1]].spec.stage == "live"):
                    yield node

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
        """Return the masks that particles of this emitter have to remember having been touched by, in order of their uids."""
        found = set()
        for placed in self.rows.values():
            row = placed.row
            sources = [row.base.source] if isinstance(row.base, SourcedBase) else []
            for source in [*sources, *(response.source for response in row.responses)]:
                read = [r.known.source for r in self.scope.formula(source.text).reads] if source.kind == "formula" else [source]
                found |= {s.mask for s in read if isinstance(s, MaskSource) and s.part != "value"}
        return tuple(sorted(found & {mask.uid for mask in self.scope.masks}))

    def _looks_back(self, placed: PlacedRow) -> bool:
        row = placed.row
        read = [(row.base.source, row.base.read)] if isinstance(row.base, SourcedBase) else []
        read += [(response.source, response.read) for response in row.responses if act(self.emitter, placed, response)]
        return any(source.kind == "formula" and how == "live" and self.scope.formula(source.text).previous for source, how in read)

    def refusal(self, placed: PlacedRow, source: Any, read: str) -> str:
        """Return why a row cannot take a source, or an empty string when it can."""
        return refusal(self, placed, source, read)

    def _name(self, address: str) -> str:
        placed = self.rows[address]
        return row_label(self.emitter, self.rows[placed.host] if placed.host else placed)


def refusal(links: Links, placed: PlacedRow, source: Any, read: str) -> str:
    """Return why a row cannot take a source, or an empty string when it can."""
    spec, facts = placed.spec, source_facts(links.scope, source)
    name = facts.label
    if source.kind == "formula":
        problems = check_formula(links, placed, source.text, read).problems
        return str(problems[0]) if problems else ""
    if spec.stage == "emitter" and facts.per_particle:
        owner = "a prop" if spec.band == "props" else "the whole emitter"
        return f"{spec.label} belongs to {owner}; {name} exists only on a particle."
    if spec.stage == "birth":
        family = ROWS[spec.family].label if spec.family in ROWS else spec.label
        if source.kind in ("life", "age"):
            return f"{family} is settled at birth, when {name} is always 0."
        if source.kind in _PLACED and spec.family.startswith("births.place"):
            return f"{SOURCES[source.kind].label.capitalize()} comes out of {family.lower()}; it cannot drive it."
        if source.kind in _LAUNCHED and spec.family.startswith("births.launch"):
            return f"{SOURCES[source.kind].label.capitalize()} comes out of {family.lower()}; it cannot drive it."
    way = links.circle(placed.address, source, read)
    return "It would go round in a circle: " + " <- ".join(way) + "." if way else ""
