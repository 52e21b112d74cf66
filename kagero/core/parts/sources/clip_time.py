"""Clip time as a source: a response from it is what keyframes are. With it the other numbers of the clip that formulas
know."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from ...formula import Known, Values, dimension_of
from ...rows.reader import Reader
from ...rows.source import SourcePart
from ...rows.units import SECONDS
from ...rows.view import View

# what formulas read of the clip by these names alone: unit, help, whether particles differ, whether it changes
_CLIP = {
    "frame": ("f", "The frame's number, with a fraction between frames.", False, True),
    "frame_rate": ("/s", "Frames a second.", False, False),
    "dt": ("s", "Seconds since the step before.", False, False),
}


class ClipTimeSource(SourcePart):
    """Seconds since the clip's first frame."""

    label, group, unit, usual = "clip time", "time", SECONDS, (0, 4)
    words = "when timeline keyframes over the shot"
    help = "Seconds since the first frame, the same for all: keyframes."
    per_particle, spans_clip, fixed = False, True, True

    kind: Literal["clip_time"]

    def write(self, at: Reader) -> Values:
        return (at.clip_time(),)

    @classmethod
    def named(cls, view: View) -> Iterator[Known]:
        yield Known(
            "clip_time", "number", dimension_of("s"), cls(kind="clip_time"), cls.label, cls.help, "s", False, True
        )
        for name, (symbol, help, particle, changes) in _CLIP.items():
            yield Known(name, "number", dimension_of(symbol), name, name, help, symbol, particle, changes)
