"""What is left of the clip as a source: as the base of a lifespan, nobody ends before the clip does."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ...formula import Known, Values, dimension_of
from ...rows.reader import Reader
from ...rows.slots import ClipEnd
from ...rows.source import SourcePart
from ...rows.units import SECONDS
from ...rows.view import View


class ClipLeftSource(SourcePart):
    label, group, unit, usual = "rest of the clip", "time", SECONDS, (0, 4)
    words = "remaining until to the end left over"
    help = "Seconds until the clip's last frame is over. A lifespan read from it lasts to the clip's end."
    per_particle, spans_clip = False, True

    kind: Literal["clip_left"]

    def write(self, at: Reader) -> Values:
        return (
            at.builder.op(
                "max", at.builder.op("sub", at.builder.param(ClipEnd()), at.clip_time()), at.builder.const(0)
            ),
        )

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        yield Known(
            "clip_left", "number", dimension_of("s"), cls(kind="clip_left"), cls.label, cls.help, "s", False, True
        )
