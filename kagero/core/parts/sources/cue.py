"""Whether a cue has happened to a particle, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Known, Values, dimension_of, identifier
from ...rows.example import Example
from ...rows.model import Refers, Uid
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart
from ...rows.units import PERCENT, PLAIN, SECONDS, si_symbol
from ...rows.view import View, find_thing

GROUPS = {
    "happened": "cues",
    "since": "after",
    "times": "times",
    "clock": "clocks",
}  # what their names in formulas begin with
PARTS = {
    "happened": ("has happened", PLAIN, (0.0, 1.0), "1 once it has happened to the particle, else 0."),
    "since": ("seconds since", SECONDS, (0.0, 1.0), "Seconds since it last happened; 0 before."),
    "times": ("how often", PLAIN, (0.0, 5.0), "How often it has happened to the particle."),
    "clock": ("clock", PERCENT, (0.0, 1.0), "How much of its clock has run."),
}


class CueSource(SourcePart):
    """Whether a cue has happened to a particle, how long ago, how often; and how far its clock has run."""

    label, group = "cue", "cues"
    words = "event trigger happened"
    help = "Whether a cue has happened to the particle, how long ago, how often."

    name_groups = tuple(GROUPS.values())
    example = Example(beside=("cue:test",))

    kind: Literal["cue"]
    cue: Annotated[Uid, Refers("cues")]
    part: Annotated[Literal["happened", "since", "times", "clock"], NAMING] = "happened"

    def facts(self, view: View) -> SourceFacts:
        words, unit, usual, _ = PARTS[self.part]
        cue = find_thing(cues_of(view), self.cue)
        return replace(
            self.kind_facts(), label=f"{cue.name if cue is not None else 'missing cue'} {words}", unit=unit, input=usual
        )

    def missing(self, view: View) -> str:
        cue = find_thing(cues_of(view), self.cue)
        return "" if cue is not None and not cue.muted else f"a cue that is not there or muted: {self.cue!r}"

    def column(self) -> str:
        return f"cue.{self.cue}.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for cue in cues_of(view):
            if cue.muted:
                continue
            for part, (_, _, _, help) in PARTS.items():
                if part != "clock" or hasattr(cue, "runs"):
                    yield cls.entry({"kind": "cue", "cue": cue.uid, "part": part}, cls.group, help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        for each in cls.listed(view):
            source = cls.model_validate(each.source)
            (words, unit, _, help), cue = PARTS[source.part], find_thing(cues_of(view), source.cue)
            name = f"{GROUPS[source.part]}.{identifier(cue.name)}"
            yield Known(
                name,
                "number",
                dimension_of(unit.symbol),
                source,
                f"{cue.name} {words}",
                help,
                si_symbol(unit),
                True,
                True,
            )

    def write(self, at: Reader) -> Values:
        b, cue = at.builder, find_thing(at.view.thing.cues, self.cue)
        if self.part == "clock":
            return (cue.runs(at) if hasattr(cue, "runs") else b.const(0),)
        count = cue.kept(at, "count")
        happened = b.op("less", b.const(0), count)
        if self.part == "times":
            return (count,)
        if self.part == "happened":
            return (happened,)
        return (
            b.op(
                "select",
                happened,
                b.op("max", b.op("sub", at.clip_time(), cue.kept(at, "when")), b.const(0)),
                b.const(0),
            ),
        )


def cues_of(view: View) -> list:  # type: ignore[type-arg]
    return view.thing.cues
