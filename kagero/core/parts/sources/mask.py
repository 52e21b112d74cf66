"""A mask where the particle is, as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Known, Values, dimension_of, identifier
from ...rows.model import Refers, Uid
from ...rows.reader import Reader
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart
from ...rows.units import PERCENT, SECONDS, si_symbol
from ...rows.view import View, find_thing

# by part: what stands after the mask's name, unit, help, and the group of its name in formulas
PARTS = {
    "value": ("", PERCENT, "How much the particle is within the mask, as it stands now.", "masks"),
    "latched": (
        "once touched",
        PERCENT,
        "The most that the particle ever was within the mask: once touched, it stays in.",
        "latched",
    ),
    "since": ("since touched", SECONDS, "Seconds since the mask first held the particle by half; 0 before.", "since"),
}


class MaskSource(SourcePart):
    """A mask where the particle is: its value there now, the largest it ever was (latched), or the seconds since it
    first passed a half."""

    label, group, unit = "mask", "masks", PERCENT
    words = "inside region area zone within"
    help = "How much the particle is within a mask, as that stands now."
    after = "place"

    name_groups = ("masks", "latched", "since")

    kind: Literal["mask"]
    mask: Annotated[Uid, Refers("props", "mask")]
    part: Annotated[Literal["value", "latched", "since"], NAMING] = "value"

    def facts(self, view: View) -> SourceFacts:
        mask = find_thing(view.props, self.mask)
        words, unit, *_ = PARTS[self.part]
        return replace(
            self.kind_facts(), label=f"{'missing mask' if mask is None else mask.name} {words}".strip(), unit=unit
        )

    def missing(self, view: View) -> str:
        return "" if find_thing(view.masks, self.mask) else f"a mask that is not there: {self.mask!r}"

    def column(self) -> str:
        return f"mask.{self.mask}.{self.part}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for mask in view.masks:
            for part, (_, _, help, _) in PARTS.items():
                yield cls.entry({"kind": "mask", "mask": mask.uid, "part": part}, "masks", help)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        for mask in view.masks:
            for part, (_, unit, _, group) in PARTS.items():
                source = cls.model_validate({"kind": "mask", "mask": mask.uid, "part": part})
                yield Known(
                    f"{group}.{identifier(mask.name)}",
                    "number",
                    dimension_of(unit.symbol),
                    source,
                    source.facts(view).label,
                    cls.help,
                    si_symbol(unit),
                    True,
                    True,
                )

    def latches(self) -> str | None:
        return None if self.part == "value" else self.mask

    def write(self, at: Reader) -> Values:
        return (at.masked(self.mask, self.part),)
