"""Cues of a whole emitter: their condition is the same for all of its particles, and births may stop or begin at
them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from ...errors import Finding
from ...rows.example import Example
from ...rows.model import Driven, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.units import FRAMES, PLAIN
from ...rows.view import find_thing
from ...rows.writing import row
from .base import CuePart

ALIVE = "crowd.alive"  # what a step's program is told: how many live as the step begins
SIDES = (("above", "or more"), ("below", "or fewer"))


@dataclass(frozen=True)
class Gate:
    """What of a cue decides on an emitter's births. by: alive, frame or elsewhere; above: whether it has to be so much
    or more; births: whether they stop or begin; lasting: from then on, else while it is so."""

    uid: str
    by: str
    above: bool
    births: str
    lasting: bool
    watches: tuple[str, str] | None = None


class WholeCue(CuePart):
    """A cue of the emitter. What it compares with is read as the clip goes; the same for all particles."""

    by: ClassVar[str]
    side: str = "above"
    births: Annotated[
        Literal["go on", "stop", "begin"],
        Setting(
            "Births",
            "Whether births stop, or begin: from then on where it happens once, else for as long as it is so. Counted "
            "by frames.",
            choices=(("go on", "go on"), ("stop", "stop"), ("begin", "begin then")),
        ),
    ] = "go on"

    def compares(self) -> str:
        """Return the row that it compares with."""
        raise NotImplementedError

    def watched(self) -> tuple[str, str] | None:
        """Return the emitter and its cue that it counts; None: it counts none."""
        return None

    def gate(self) -> Gate:
        """Return how the cue opens or closes its emitter's births."""
        return Gate(self.uid, self.by, self.side == "above", self.births, self.times == "once", self.watched())

    def counted(self, at: Reader) -> int:
        """Return what is compared."""
        raise NotImplementedError

    def true(self, at: Reader) -> int:
        b, value, count = at.builder, self.row(at, self.compares())[0], self.counted(at)
        return b.op("less_equal", value, count) if self.side == "above" else b.op("less_equal", count, value)


class CrowdCue(WholeCue):
    """When so many of an emitter's particles live, or so few: counted as a step begins."""

    label = "When so many live"
    help = (
        "When so many particles of this emitter live, or so few. It happens to all of them in the same step; births "
        "may stop or begin at it."
    )
    by = "alive"
    example = Example(fields={"count": row(60.0)})

    kind: Literal["crowd"] = "crowd"
    side: Annotated[Literal["above", "below"], Setting("As many as that", choices=SIDES)] = "above"
    count: Annotated[
        NumberRow,
        Driven(
            "Alive", PLAIN, 0, 1e7, 500, 100.0, "How many have to live. Read as the clip goes.", "emitter", always=True
        ),
    ] = number(100)

    def compares(self) -> str:
        return "count"

    def counted(self, at: Reader) -> int:
        return at.builder.input(ALIVE)


class FrameCue(WholeCue):
    """At a frame of the clip, for all who live then."""

    label = "At a frame"
    help = (
        "At a frame of the clip. It happens to all who live then, and to those born later at once; births may stop or "
        "begin at it."
    )
    by = "frame"
    example = Example(fields={"frame": row(25.0)})

    kind: Literal["frame"] = "frame"
    frame: Annotated[
        NumberRow,
        Driven(
            "At frame",
            FRAMES,
            -1e6,
            1e6,
            100,
            24.0,
            "From which frame of the clip on it is true.",
            "emitter",
            always=True,
        ),
    ] = number(24)

    def compares(self) -> str:
        return "frame"

    def counted(self, at: Reader) -> int:
        return at.builder.op("add", at.frame(), at.builder.const(1e-3))  # frames are counted in float32


class ElsewhereCue(WholeCue):
    """When a cue of another emitter has happened so often, to all of that emitter's particles together, by the end of
    the frame before."""

    label = "When another's cue has happened"
    help = (
        "When a cue of another emitter has happened so often, to all its particles together. It happens to all of "
        "these; births may begin at it."
    )
    by = "elsewhere"

    kind: Literal["elsewhere"] = "elsewhere"
    emitter: Annotated[
        Uid | None, Refers("emitters"), Setting("Of the emitter", "Whose cue is counted.", nothing="choose one")
    ] = None
    cue: Annotated[Uid | None, Refers("cues"), Setting("Its cue", "The cue that is counted.", nothing="choose one")] = (
        None
    )
    count: Annotated[
        NumberRow,
        Driven("So often", PLAIN, 0, 1e7, 100, 1.0, "How often it has to have happened.", "emitter", always=True),
    ] = number(1)

    def compares(self) -> str:
        return "count"

    def watched(self) -> tuple[str, str] | None:
        return (self.emitter, self.cue) if self.emitter and self.cue else None

    def counted(self, at: Reader) -> int:
        watched = self.watched()
        return at.builder.const(-1) if watched is None else at.builder.input(input_of(watched))

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        if field == "emitter":
            return [
                each
                for each in effect.emitters
                if each.uid != thing.uid and thing.uid not in waits_for(effect, each.uid)
            ]
        if field == "cue":
            of = find_thing(effect.emitters, self.emitter or "")
            return [] if of is None else list(of.cues)
        return super().named_by(field, effect, thing)

    def possible(self, effect: Any, thing: Any) -> str:
        return (
            ""
            if any(each.cues for each in self.named_by("emitter", effect, thing) or [])
            else "There is no other emitter with a cue."
        )

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        if self.emitter is None:
            return ("emitter", "counts no cue yet", "Choose an emitter.")
        return ("cue", "counts no cue yet", "Choose one.") if self.cue is None else None

    def wrong(self, effect: Any, thing: Any, where: str) -> Iterator[Finding]:
        other = find_thing(effect.emitters, self.emitter or "")
        if self.emitter and other is None:
            yield Finding(
                "link",
                f"{where}.emitter",
                f"{self.name} counts a cue of an emitter that is not there.",
                "Choose another.",
            )
        elif other is not None and thing.uid in waits_for(effect, other.uid):
            words = f"{thing.name} waits for {other.name}, which waits for {thing.name}."
            yield Finding("circle", f"{where}.emitter", words, "Let one of them go by something else.")
        elif other is not None and self.cue and all(cue.uid != self.cue or cue.muted for cue in other.cues):
            yield Finding(
                "link",
                f"{where}.cue",
                f"{self.name} counts a cue of {other.name} that is not there, or is muted.",
                "Choose another.",
            )


def input_of(watched: tuple[str, str]) -> str:
    """Return the name by which a step's program is told how often another emitter's cue has happened."""
    return f"elsewhere.{watched[0]}.{watched[1]}"


def watches(thing: Any) -> tuple[tuple[str, str], ...]:
    """Return the emitters and cues that an emitter's cues count."""
    watched = [cue.watched() for cue in thing.cues if isinstance(cue, WholeCue) and not cue.muted]
    return tuple(dict.fromkeys(each for each in watched if each is not None))


def waits_for(effect: Any, uid: str) -> set[str]:
    """Return the emitters without whose frames an emitter has none: itself, whom it is born from, whose cues it counts,
    and theirs."""
    seen: set[str] = set()
    waiting = [uid]
    while waiting:
        here = find_thing(effect.emitters, waiting.pop())
        if here is None or here.uid in seen:
            continue
        seen.add(here.uid)
        parent = here.births.place.emitter_from()
        waiting += [*([parent] if parent else []), *(emitter for emitter, _ in watches(here))]
    return seen


def gates(thing: Any) -> tuple[Gate, ...]:
    """Return what of an emitter's cues decides on its births."""
    return tuple(
        cue.gate() for cue in thing.cues if isinstance(cue, WholeCue) and not cue.muted and cue.births != "go on"
    )
