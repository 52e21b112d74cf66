"""A dial as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Known, Values, dimension_of, identifier
from ...rows.model import Refers, Uid
from ...rows.reader import Reader
from ...rows.slots import DialCurve, DialValue
from ...rows.source import Listed, SourceFacts, SourcePart
from ...rows.units import DIAL_UNITS, si_symbol
from ...rows.view import View, find_thing


class DialSource(SourcePart):
    """One of the effect's dials."""

    is_dial = True
    label, group = "dial", "dials"
    words = "control knob slider"
    help = "A named master control of the whole effect."
    per_particle, changes, refreshed = False, False, True

    name_groups = ("dials",)

    kind: Literal["dial"]
    dial: Annotated[Uid, Refers("dials")]

    def facts(self, view: View) -> SourceFacts:
        dial = find_thing(view.dials, self.dial)
        if dial is None:
            return replace(self.kind_facts(), label="missing dial")
        return replace(
            self.kind_facts(),
            label=dial.name,
            unit=DIAL_UNITS[dial.unit],
            input=(dial.low, dial.high),
            changes=bool(dial.keys),
        )

    def missing(self, view: View) -> str:
        return "" if find_thing(view.dials, self.dial) else f"a dial that is not there: {self.dial!r}"

    def column(self) -> str:
        return f"dials.{self.dial}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for dial in view.dials:
            yield cls.entry({"kind": "dial", "dial": dial.uid}, "dials", dial.note or cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        for dial in view.dials:
            yield Known(
                f"dials.{identifier(dial.name)}",
                "number",
                dimension_of(dial.unit),
                cls(kind="dial", dial=dial.uid),
                dial.name,
                dial.note or cls.help,
                si_symbol(DIAL_UNITS[dial.unit]),
                False,
                bool(dial.keys),
            )

    def write(self, at: Reader) -> Values:
        dial = find_thing(at.view.dials, self.dial)
        if dial is not None and dial.keys:
            return (at.builder.op("curve", at.clip_time(), attrs=(DialCurve(self.dial),)),)
        return (at.builder.param(DialValue(self.dial)),)
