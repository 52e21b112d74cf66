"""What a cue is: when a condition becomes true for a particle, something happens to it; and what may happen."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal

from ...formula import Values
from ...kernels.random import seed_of
from ...program import Group, Slot
from ...rows.model import SAID, WHETHER, Driven, FieldFacts, Name, Part, Refers, Setting, Uid, new_rows
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, differs, number, vector
from ...rows.slots import DocumentView
from ...rows.step import StepState
from ...rows.touch import STUCK
from ...rows.union import OpenUnion
from ...rows.units import METRES_PER_SECOND, PERCENT, PLAIN, SECONDS
from ...rows.view import Owner, found

KEPT = ("was", "count", "when", "due", "since")  # what the state keeps of each: see `CuePart.kept`
LET_GO = "let.go"  # whether a cue let the particle go


class CuePart(Part):
    """A kind of cue. When its condition becomes true, at the end of the step in which it does, it happens: once, or each time; by a chance; after
    a delay.
    Cues are looked at in the order of the sheet, each sees what those before it did; the first ending wins."""

    band, stage = "cues", "live"
    rows_last: ClassVar[tuple[str, ...]] = ("chance", "delay", "bears", "own_value", "speeds", "kick")

    momentary: ClassVar[bool] = False  # what it waits for is over as soon as it is there: each time counts, also step after step

    kind: str
    uid: Uid
    name: Annotated[Name, SAID, Setting("Name", "What it is called where it is a source, and where others are born at it.")]
    muted: bool = False
    times: Annotated[
        Literal["once", "each"],
        Setting("Happens", "Once in a particle's life, or each time it becomes true anew.", choices=(("once", "once"), ("each", "each time"))),
    ] = "once"
    ends: Annotated[bool, Setting("Ends the particle", "It ends there and then.")] = False
    holds: Annotated[
        Literal["as it is", "lets go", "takes up"],
        Setting(
            "Rides and grips",
            "It lets go of what holds it, its place of contact too, for good; or takes its rides up again.",
            choices=(("as it is", "stay as they are"), ("lets go", "let go"), ("takes up", "are taken up again")),
        ),
    ] = "as it is"
    own: Annotated[
        Uid | None,
        Refers("own"),
        Setting("Own attribute", "One that remembers, which it sets or adds to.", nothing="none of them"),
    ] = None
    own_by: Annotated[Literal["set", "add"], Setting("The attribute is", choices=(("set", "set to"), ("add", "added to by")))] = "set"
    chance: Annotated[NumberRow, WHETHER, Driven("Chance", PERCENT, 0, 1, 1, 1.0, "Which share of the particles it happens to.")] = number(1)
    delay: Annotated[NumberRow, WHETHER, Driven("After", SECONDS, 0, 10_000, 2, 0.0, "How long after its condition became true it happens.")] = (
        number(0)
    )
    bears: Annotated[
        NumberRow,
        WHETHER,
        Driven(
            "Gives birth to", PLAIN, 0, 10_000, 20, 0.0, "To how many of each emitter that is born at this cue: choose it there, where births are."
        ),
    ] = number(0)
    own_value: Annotated[NumberRow, Driven("Attribute", PLAIN, -1e6, 1e6, 2, 1.0, "What the attribute is set to, or what is added to it.")] = number(
        1
    )
    speeds: Annotated[
        NumberRow,
        WHETHER,
        Driven("Velocity times", PERCENT, -100, 100, 2, 1.0, "What its velocity is multiplied by: 0 % stops it, -100 % turns it round."),
    ] = number(1)
    kick: Annotated[
        VectorRow, WHETHER, Driven("Velocity added", METRES_PER_SECOND, -10_000, 10_000, 6, (0.0, 0.0, 0.0), "What is added to its velocity.")
    ] = vector(0, 0, 0)

    @classmethod
    def rows_key(cls) -> str:
        return f"cues.{CUES.tags(cls)[0]}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": CUES.tags(cls)[0], "name": "cue", **new_rows(cls)}

    def unused(self) -> frozenset[str]:
        return super().unused() | (frozenset({"own_by", "own_value"}) if self.own is None else frozenset())

    def driven(self, facts: FieldFacts) -> Driven | None:
        said = facts.driven
        return replace(said, label=f"{self.name[:1].upper()}{self.name[1:]}: {said.label.lower()}") if said is not None else said

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return [own for own in thing.own if own.memory and own.kind == "number"] if field == "own" else None

    def row(self, at: Reader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"cues.{self.uid}.{field}")

    def kept(self, at: Reader, what: str) -> int:
        """Return what the state keeps of it: `was`, whether its condition was true at the end of the step before; `count`, how often it happened;
        `when` it last did, and `due`, when it will (nought: not), clip seconds; `since`, for how long its condition has been true, s. Nought at a
        birth."""
        return at.builder.const(0) if at.newborn or self.muted else at.builder.input(f"cue.{self.uid}.{what}")

    def carried(self, at: Reader) -> dict[str, int]:
        if self.muted:
            return {}
        made = {f"cue.{self.uid}.{what}": at.builder.const(0) for what in KEPT}
        return made | ({LET_GO: at.builder.const(0)} if self.holds != "as it is" else {})

    # what a kind says -------------------------------------------------------------------------------------------------------
    def true(self, at: Reader) -> int:
        """Return whether its condition is true, 1 or 0."""
        raise NotImplementedError

    def lasts(self, at: Reader) -> int | None:
        """Return for how long it has to be true, seconds; None: no time."""
        return None

    def moment(self, at: Reader) -> tuple[int, Values, Values]:
        """Return how long before the step's end it happens, s, where (m), and which way what is there faces (nothing where there is none)."""
        none = at.builder.const(0)
        return none, at.state("position"), (none, none, none)

    def turn(self, at: Reader, state: StepState) -> dict[str, int]:
        """Look whether it happens as a step ends, and let it; return what the state keeps of it. at: reads the particle as the step has left it."""
        b = at.builder
        b.row = f"cues.{self.uid}"
        one, none, now = b.const(1), b.const(0), at.clip_time()
        was, count, when, due, since = (self.kept(at, what) for what in KEPT)
        true = self.true(at)
        lasts = self.lasts(at)
        since = b.op("select", true, b.op("add", since, state.dt), none)
        holds = true if lasts is None else b.op("mul", true, b.op("less_equal", lasts, since))
        turns = holds if self.momentary else b.op("mul", holds, b.op("sub", one, was))
        if self.times == "once":
            turns = b.op("mul", turns, b.op("mul", b.op("less_equal", count, none), b.op("equal", due, none)))
        if differs(self.chance, 1.0):
            drawn = b.op("draw", b.input("key"), attrs=(CueDraw(at.owner, self.uid),))
            turns = b.op("mul", turns, b.op("less", drawn, self.row(at, "chance")[0]))
        fires = turns
        if differs(self.delay, 0.0):
            delay = self.row(at, "delay")[0]
            due = b.op("select", turns, b.op("add", now, delay), due)
            fires = b.op("mul", b.op("less", none, due), b.op("less_equal", due, now))
            due = b.op("select", fires, none, due)
        self._do(at, state, fires)
        kept = {"was": holds, "count": b.op("add", count, fires), "when": b.op("select", fires, now, when), "due": due, "since": since}
        state.fired[self.uid] = fires
        if differs(self.bears, 0.0):
            ago, place, normal = self.moment(at)
            state.borne[self.uid] = (ago, *place, *state.velocity, *normal, self.row(at, "bears")[0], count)
        return {f"cue.{self.uid}.{what}": value for what, value in kept.items()}

    def _do(self, at: Reader, state: StepState, fires: int) -> None:
        b = at.builder
        if self.own is not None and (own := found(at.view.thing.own, self.own)) is not None and own.memory:
            values = at.own(self.own)
            given = (self.row(at, "own_value")[0],) * len(values)
            for i, (before, value) in enumerate(zip(values, given, strict=True)):
                value = b.op("add", before, value) if self.own_by == "add" else value
                state.kept[f"own.{self.own}.{i}"] = b.op("guard", b.op("select", fires, value, before), before)
        velocity = state.velocity
        if differs(self.speeds, 1.0):
            velocity = tuple(b.op("mul", v, self.row(at, "speeds")[0]) for v in velocity)
        if differs(self.kick, (0.0, 0.0, 0.0)):
            velocity = tuple(b.op("add", v, k) for v, k in zip(velocity, self.row(at, "kick"), strict=True))
        if velocity is not state.velocity:
            state.velocity = tuple(b.op("guard", b.op("select", fires, new, old), old) for new, old in zip(velocity, state.velocity, strict=True))
        if self.holds != "as it is":
            free = b.const(float(self.holds == "lets go"))
            state.kept[LET_GO] = b.op("select", fires, free, state.kept.get(LET_GO, b.input(LET_GO)))
            if self.holds == "lets go" and STUCK[0] in state.kept:
                state.kept[STUCK[0]] = b.op("select", fires, b.const(0), state.kept[STUCK[0]])
        if self.ends:
            state.end(fires, b.const(1))


def let_go(at: Reader) -> int | None:
    """Return whether a cue has let the particle go of what holds it, 1 or 0; None where no cue does."""
    cues = getattr(at.view.thing, "cues", [])
    if not any(cue.holds != "as it is" and not cue.muted for cue in cues):
        return None
    return at.builder.const(0) if at.newborn else at.builder.input(LET_GO)


@dataclass(frozen=True)
class CueDraw(Slot[DocumentView]):
    """The seed of the draw by which a cue's chance is taken."""

    owner: Owner
    cue: str
    group: ClassVar[Group] = "seeds"

    def read(self, document: DocumentView) -> int:
        return seed_of(document.seed, "cue", self.owner[1], self.cue)


CUES = OpenUnion("cue", CuePart)
