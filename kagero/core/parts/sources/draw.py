"""One of the emitter's draws as a source: a random value the particle was given once, at birth."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import PLAIN, Known, Values, identifier
from ...rows.model import Refers, Uid
from ...rows.reader import Reader
from ...rows.source import Listed, Node, SourceFacts, SourcePart
from ...rows.view import View, find_thing


class DrawSource(SourcePart):
    """One of the emitter's draws."""

    label, group = "draw", "draws"
    words = "random vary different each"
    help = "A random value, given once at birth."
    changes, lasting, fixed = False, True, True

    name_groups = ("draws",)

    kind: Literal["draw"]
    draw: Annotated[Uid, Refers("draws")]

    def facts(self, view: View) -> SourceFacts:
        draw = find_thing(view.draws, self.draw)
        facts = self.kind_facts()
        return (
            replace(facts, label="missing draw")
            if draw is None
            else replace(facts, label=draw.name, input=draw.range())
        )

    def missing(self, view: View) -> str:
        return "" if find_thing(view.draws, self.draw) else f"a draw that is not there: {self.draw!r}"

    def column(self) -> str:
        return f"draws.{self.draw}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for draw in view.draws:
            yield cls.entry({"kind": "draw", "draw": draw.uid}, "draws", f"{draw.short} Given once at birth.")

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        for draw in view.draws:
            yield Known(
                f"draws.{identifier(draw.name)}",
                "number",
                PLAIN,
                cls(kind="draw", draw=draw.uid),
                draw.name,
                cls.help,
                "",
                True,
                False,
            )

    def reads(self, view: View, stage: str) -> Iterator[Node]:
        yield from (
            ("birth", placed.address)
            for placed in view.sheet_rows()
            if placed.address.startswith(f"draws.{self.draw}.")
        )

    def write(self, at: Reader) -> Values:
        return (at.draw(self.draw),)
