"""A moment as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal

from ...formula import Known, Values, dimension_of, identifier
from ...program import Group, Slot
from ...rows.model import Refers, Uid
from ...rows.reader import Reader
from ...rows.slots import DocumentView
from ...rows.source import Listed, SourceFacts, SourcePart
from ...rows.units import SECONDS
from ...rows.view import View, find_thing


@dataclass(frozen=True)
class MomentTime(Slot[DocumentView]):
    """The clip time of a moment, seconds."""

    moment: str
    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return document.moment(self.moment)


class MomentSource(SourcePart):
    """How long ago one of the effect's moments was."""

    label, group, unit, usual = "since a moment", "time", SECONDS, (0, 1)
    words = "cue event trigger sequence after"
    help = "Seconds since one of the effect's moments; below 0 before it."
    per_particle, refreshed = False, True

    name_groups = ("moments",)

    kind: Literal["moment"]
    moment: Annotated[Uid, Refers("moments")]

    def facts(self, view: View) -> SourceFacts:
        moment = find_thing(view.moments, self.moment)
        return replace(
            self.kind_facts(), label=f"since {moment.name}" if moment is not None else "since a missing moment"
        )

    def missing(self, view: View) -> str:
        return "" if find_thing(view.moments, self.moment) else f"a moment that is not there: {self.moment!r}"

    def column(self) -> str:
        return f"moments.{self.moment}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for moment in view.moments:
            yield cls.entry({"kind": "moment", "moment": moment.uid}, cls.group, cls.help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        for moment in view.moments:
            source = cls(kind="moment", moment=moment.uid)
            yield Known(
                f"moments.{identifier(moment.name)}",
                "number",
                dimension_of("s"),
                source,
                f"since {moment.name}",
                cls.help,
                "s",
                False,
                True,
            )

    def write(self, at: Reader) -> Values:
        return (at.builder.op("sub", at.clip_time(), at.builder.param(MomentTime(self.moment))),)
