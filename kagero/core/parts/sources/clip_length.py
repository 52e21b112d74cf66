"""The clip's length as a source."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ...formula import Known, Values, dimension_of
from ...rows.reader import Reader
from ...rows.slots import ClipLength
from ...rows.source import SourcePart
from ...rows.units import SECONDS
from ...rows.view import View


class ClipLengthSource(SourcePart):
    label, group, unit, usual = "clip length", "time", SECONDS, (0, 4)
    words = "duration whole shot total"
    help = "Seconds from the clip's first frame to its last, the same for all."
    per_particle, changes, refreshed = False, False, True

    kind: Literal["clip_length"]

    def write(self, at: Reader) -> Values:
        return (at.builder.param(ClipLength()),)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        yield Known(
            "clip_length", "number", dimension_of("s"), cls(kind="clip_length"), cls.label, cls.help, "s", False, False
        )
