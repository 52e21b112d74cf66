"""What a cue is: when a condition becomes true for a particle, something happens to it; and what may happen."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar

from ...errors import Finding
from ...formula import Values
from ...kernels.random import seed_of
from ...program import Group, Slot
from ...rows.model import (
    STRUCTURAL_IF_CHANGED,
    Driven,
    FieldFacts,
    Setting,
    new_rows,
)
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.slots import DocumentView
from ...rows.step import StepState
from ...rows.union import OpenUnion
from ...rows.units import PERCENT, SECONDS
from ...rows.view import Owner
from ..deeds import DEEDS, Happening

KEPT = ("was", "count", "when", "due", "since")  # what the state keeps of each: see `CuePart.kept`


class CuePart(*DEEDS):  # type: ignore[misc]  # every deed brings its fields
    """A kind of cue. When its condition becomes true, at the end of the step in which it does, it happens: once, or
    each time; by a chance; after a delay. Cues are looked at in the order of the sheet, each sees what those before it
    did; the first ending wins. momentary: its condition holds for no time, so that each time counts, also in
    consecutive steps."""

    on_request: ClassVar[tuple[str, ...]] = tuple(field for deed in DEEDS for field in deed.on_request)
    rows_last: ClassVar[tuple[str, ...]] = ("chance", "delay", *(row for deed in DEEDS for row in deed.deed_rows))

    again: Annotated[
        bool,
        Setting(
            "The chance is drawn anew each time",
            "Else whom it happens to once it happens to each time, and to the others never.",
        ),
    ] = False
    chance: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Chance", PERCENT, 0, 1, 1, 1.0, "Which share of the particles it happens to."),
    ] = number(1)
    delay: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("After", SECONDS, 0, 10_000, 2, 0.0, "How long after its condition became true it happens."),
    ] = number(0)

    @classmethod
    def rows_key(cls) -> str:
        return f"cues.{CUES.tags(cls)[0]}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": CUES.tags(cls)[0], "name": "cue", **new_rows(cls)}

    def unused(self) -> frozenset[str]:
        redrawn = differs_from_default(self.chance, 1.0) and self.times == "each"
        off = frozenset() if redrawn else frozenset({"again"})
        return off.union(*(deed.deed_unused(self) for deed in DEEDS))

    @classmethod
    def heading(cls, field: str) -> str:
        return "what it does" if any(field in deed.deed_rows for deed in DEEDS) else "when and for whom"

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = facts.driven
        return (
            replace(driven, label=f"{self.name[:1].upper()}{self.name[1:]}: {driven.label.lower()}")
            if driven is not None
            else driven
        )

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        named = (deed.deed_names(self, field, effect, thing) for deed in DEEDS)
        return next((things for things in named if things is not None), None)

    def kept(self, at: Reader, what: str) -> int:
        """Return what the state keeps of it: `was`, whether its condition was true at the end of the step before;
        `count`, how often it happened; `when` it last did, and `due`, when it will (nought: not), clip seconds;
        `since`, for how long its condition has been true, s. Nought at a birth."""
        return at.builder.const(0) if at.newborn or self.muted else at.builder.input(f"cue.{self.uid}.{what}")

    def carried(self, at: Reader) -> dict[str, int]:
        if self.muted:
            return {}
        b = at.builder
        columns = {
            self.column(what): b.const(0)
            for what in (*KEPT, *(("tries",) if self.again and self.times == "each" else ()))
        }
        columns |= {self.column(what): value for what, value in self.remembered(at).items()}
        for deed in DEEDS:
            columns |= deed.deed_columns(self, at)
        return columns

    def alters(self, address: str) -> tuple[str, ...] | None:
        if self.muted or not address.startswith(("look.", "also.")):
            return None
        attribute = address.rpartition(".")[2]
        return () if any(deed.deed_changes(self, attribute) for deed in DEEDS) else None

    def altered(self, at: Reader, address: str, values: Values) -> Values:
        for deed in DEEDS:
            values = deed.deed_changed(self, at, address.rpartition(".")[2], values)
        return values

    def velocity_after(self, at: Reader, velocity: Values) -> Values:
        """Return the velocity that a particle has after all deeds, m/s."""
        for deed in DEEDS:
            velocity = deed.velocity_after(self, at, velocity)
        return velocity

    def wrong(self, effect: Any, thing: Any, where: str) -> Iterator[Finding]:
        """Yield what is wrong with what it names in other emitters."""
        return iter(())

    def compared(self) -> tuple[tuple[str, str, str], ...]:
        """Return what its condition compares: the row that is looked at, the row of the value, and whether it has to be
        above or below that."""
        return ()

    # what a kind says
    # -------------------------------------------------------------------------------------------------------
    def true(self, at: Reader) -> int:
        """Return whether its condition is true, 1 or 0."""
        raise NotImplementedError

    def lasts(self, at: Reader) -> int | None:
        """Return for how long it has to be true, seconds; None: no time."""
        return None

    def share(self, at: Reader, state: StepState) -> int | None:
        """Return for which share of the step, up to its end, its condition has been true where it is; None: it is known
        as a step ends only."""
        return None

    def ago(self, at: Reader, state: StepState, since: int, lasts: int | None) -> int:
        """Return how long before the step's end it happens, s, where it does in this step. since: for how long its
        condition has been true."""
        b = at.builder
        if lasts is not None:
            return self._within(at, state, b.op("sub", since, lasts))
        return self._within(at, state, since) if self.share(at, state) is not None else b.const(0)

    @staticmethod
    def _within(at: Reader, state: StepState, seconds: int) -> int:
        """Return seconds, held to those of the step."""
        b = at.builder
        return b.op("min", b.op("max", seconds, b.const(0)), state.dt)

    def moment(self, at: Reader, state: StepState, ago: int) -> tuple[Values, Values]:
        """Return where (m) it happens so long before the step's end, s, and which way what is there faces (nothing
        where there is none)."""
        b = at.builder
        none = b.const(0)
        return tuple(
            b.op("sub", x, b.op("mul", v, ago)) for x, v in zip(at.state("position"), state.velocity, strict=True)
        ), (none, none, none)

    def leaves(self, at: Reader) -> Values | None:
        """Return the velocity that a particle has at the moment at which it happens, m/s; None: as the step ends."""
        return None

    def turn(self, at: Reader, state: StepState) -> dict[str, int]:
        """Look whether it happens as a step ends, and let it; return what the state keeps of it. at: reads the particle
        as the step has left it."""
        b = at.builder
        b.row = f"cues.{self.uid}"
        one, none, now = b.const(1), b.const(0), at.clip_time()
        was, count, when, due, since = (self.kept(at, what) for what in KEPT)
        true = self.true(at)
        lasts = self.lasts(at)
        since = b.op("add", since, state.dt)
        if (share := self.share(at, state)) is not None:  # it may have become true within the step
            since = b.op("select", b.op("less", share, one), b.op("mul", share, state.dt), since)
        since = b.op("select", true, since, none)
        holds = true if lasts is None else b.op("mul", true, b.op("less_equal", lasts, since))
        turns = holds if self.momentary else b.op("mul", holds, b.op("sub", one, was))
        if self.times == "once":
            turns = b.op("mul", turns, b.op("mul", b.op("less_equal", count, none), b.op("equal", due, none)))
        more: dict[str, int] = {}
        if differs_from_default(self.chance, 1.0):
            seed = (CueDraw(at.owner, self.uid),)
            repeats = self.again and self.times == "each"
            drawn_before = self.kept(at, "tries") if repeats else none
            more = {"tries": b.op("add", drawn_before, turns)} if repeats else {}
            drawn = (
                b.op("redraw", b.input("key"), drawn_before, attrs=seed)
                if repeats
                else b.op("draw", b.input("key"), attrs=seed)
            )
            turns = b.op("mul", turns, b.op("less", drawn, self.row(at, "chance")[0]))
        fires, ago = turns, self.ago(at, state, since, lasts)
        if differs_from_default(self.delay, 0.0):
            delay = self.row(at, "delay")[0]
            due = b.op("select", turns, b.op("add", b.op("sub", now, ago), delay), due)
            fires = b.op("mul", b.op("less", none, due), b.op("less_equal", due, now))
            ago = self._within(at, state, b.op("sub", now, due))
            due = b.op("select", fires, none, due)
        place, normal = self.moment(at, state, ago)
        remembered = self.remembered(at)  # as it was looked at, whatever it does
        happening = Happening(fires, ago, place, normal, self.leaves(at), count)
        for deed in DEEDS:
            deed.apply(self, at, state, happening)
        happened = b.op("select", fires, b.op("sub", now, ago), when)
        kept = {
            "was": holds,
            "count": b.op("add", count, fires),
            "when": happened,
            "due": due,
            "since": since,
            **remembered,
            **more,
        }
        state.fired.setdefault(self.uid, []).append(fires)
        return {f"cue.{self.uid}.{what}": value for what, value in kept.items()}

    def remembered(self, at: Reader) -> dict[str, int]:
        """Return what its state keeps beside what that of all cues keeps, as the step ends."""
        return {}


@dataclass(frozen=True)
class CueDraw(Slot[DocumentView]):
    """The seed of the draw by which a cue's chance is taken."""

    owner: Owner
    cue: str
    group: ClassVar[Group] = "seeds"

    def read(self, document: DocumentView) -> int:
        return seed_of(document.seed, "cue", self.owner[1], self.cue)


CUES = OpenUnion("cue", CuePart)
