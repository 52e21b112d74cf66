"""What a cue is: when a condition becomes true for a particle, something happens to it; and what may happen."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal

from ...errors import Finding
from ...formula import Values
from ...kernels.random import seed_of
from ...program import Group, Slot
from ...rows.contact_state import STUCK, STUCK_NOW, TOUCH
from ...rows.model import (
    DISPLAY_ONLY,
    STRUCTURAL_IF_CHANGED,
    Driven,
    FieldFacts,
    Name,
    Part,
    Refers,
    Setting,
    Uid,
    new_rows,
)
from ...rows.reader import Reader
from ...rows.responses import ColourRow, NumberRow, VectorRow, colour, differs, number, vector
from ...rows.slots import DocumentView
from ...rows.step import StepState
from ...rows.union import OpenUnion
from ...rows.units import METRES, METRES_PER_SECOND, PERCENT, PLAIN, SECONDS
from ...rows.view import Owner, found

KEPT = ("was", "count", "when", "due", "since")  # what the state keeps of each: see `CuePart.kept`
LET_GO = "let.go"  # whether a cue let the particle go
STAYS = "let.stay"  # whether a cue stopped it for good


class CuePart(Part):
    """A kind of cue. When its condition becomes true, at the end of the step in which it does, it happens: once, or each time; by a chance; after
    a delay.
    Cues are looked at in the order of the sheet, each sees what those before it did; the first ending wins."""

    band, stage = "cues", "live"
    rows_last: ClassVar[tuple[str, ...]] = (
        "chance",
        "delay",
        "bears",
        "own_value",
        "own_vector",
        "speeds",
        "kick",
        "sizes",
        "grows",
        "tints",
        "tint",
    )

    momentary: ClassVar[bool] = (
        False  # what it waits for is over as soon as it is there: each time counts, also step after step
    )

    kind: str
    uid: Uid
    name: Annotated[
        Name, DISPLAY_ONLY, Setting("Name", "What it is called where it is a source, and where others are born at it.")
    ]
    muted: bool = False
    times: Annotated[
        Literal["once", "each"],
        Setting(
            "Happens",
            "Once in a particle's life, or each time it becomes true anew.",
            choices=(("once", "once"), ("each", "each time")),
        ),
    ] = "once"
    ends: Annotated[bool, Setting("Ends the particle", "It ends there and then.")] = False
    holds: Annotated[
        Literal["as it is", "lets go", "takes up", "stays"],
        Setting(
            "It is held",
            "It lets go of what holds it, its place of contact too, for good; takes its rides up again; or stays where it is from then on: on what "
            "it touches, with which it goes along.",
            choices=(
                ("as it is", "as it is"),
                ("lets go", "no more"),
                ("takes up", "by its rides again"),
                ("stays", "where it is"),
            ),
        ),
    ] = "as it is"
    own: Annotated[
        Uid | None,
        Refers("own"),
        Setting("Own attribute", "One that remembers, which it sets or adds to.", nothing="none of them"),
    ] = None
    latch: Annotated[
        Uid | None,
        Refers("props", "mask", "{name} counts a mask as touched that is not there.", "Choose another, or none."),
        Setting(
            "Counts as touched by",
            "A mask that from then on has held it, whether it was in it or not.",
            nothing="no mask",
        ),
    ] = None
    again: Annotated[
        bool,
        Setting(
            "The chance is drawn anew each time",
            "Else whom it happens to once it happens to each time, and to the others never.",
        ),
    ] = False
    own_by: Annotated[
        Literal["set", "add"], Setting("The attribute is", choices=(("set", "set to"), ("add", "added to by")))
    ] = "set"
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
    bears: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Gives birth to",
            PLAIN,
            0,
            10_000,
            20,
            0.0,
            "To how many of each emitter that is born at this cue: choose it there, where births are.",
        ),
    ] = number(0)
    own_vector: Annotated[
        VectorRow,
        Driven(
            "Attribute, three numbers",
            PLAIN,
            -1e6,
            1e6,
            2,
            (1.0, 1.0, 1.0),
            "The same of an attribute that is a vector or a colour.",
        ),
    ] = vector(1, 1, 1)
    own_value: Annotated[
        NumberRow,
        Driven("Attribute", PLAIN, -1e6, 1e6, 2, 1.0, "What the attribute is set to, or what is added to it."),
    ] = number(1)
    speeds: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Velocity times",
            PERCENT,
            -100,
            100,
            2,
            1.0,
            "What its velocity is multiplied by: 0 % stops it, -100 % turns it round.",
        ),
    ] = number(1)
    kick: Annotated[
        VectorRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Velocity added", METRES_PER_SECOND, -10_000, 10_000, 6, (0.0, 0.0, 0.0), "What is added to its velocity."
        ),
    ] = vector(0, 0, 0)

    sizes: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Size times",
            PERCENT,
            0,
            100,
            2,
            1.0,
            "What its size is multiplied by from then on: 0 % and more added sets it.",
        ),
    ] = number(1)
    grows: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Size added", METRES, -10_000, 10_000, 0.5, 0.0, "What is added to its size from then on."),
    ] = number(0)
    tints: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Takes on a colour by",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "How much of its colour that one takes the place of from then on.",
        ),
    ] = number(0)
    tint: Annotated[
        ColourRow, Driven("The colour", PLAIN, 0, 64, 1, (1.0, 1.0, 1.0), "The colour that it takes on, linear light.")
    ] = colour(1, 1, 1)

    @classmethod
    def rows_key(cls) -> str:
        return f"cues.{CUES.tags(cls)[0]}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": CUES.tags(cls)[0], "name": "cue", **new_rows(cls)}

    def unused(self) -> frozenset[str]:
        off = set() if self.own is not None else {"own_by", "own_value", "own_vector"}
        off |= set() if differs(self.chance, 1.0) and self.times == "each" else {"again"}
        return super().unused() | frozenset(off | (set() if differs(self.tints, 0.0) else {"tint"}))

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = facts.driven
        return (
            replace(driven, label=f"{self.name[:1].upper()}{self.name[1:]}: {driven.label.lower()}")
            if driven is not None
            else driven
        )

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return [own for own in thing.own if own.memory] if field == "own" else None

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
        b = at.builder
        columns = {
            self._kept(what): b.const(0)
            for what in (*KEPT, *(("tries",) if self.again and self.times == "each" else ()))
        }
        columns |= {self._kept(what): value for what, value in self.remembered(at).items()}
        if self.holds != "as it is":
            columns |= {LET_GO: b.const(0)} | ({STAYS: b.const(0)} if self.holds == "stays" else {})
        if self._resizes:
            columns |= {self._kept("times"): b.const(1), self._kept("grown"): b.const(0)}
        if differs(self.tints, 0.0):
            columns |= {self._kept(name): b.const(0) for name in ("tinted", "tint.0", "tint.1", "tint.2")}
        return columns

    def _kept(self, what: str) -> str:
        return f"cue.{self.uid}.{what}"

    @property
    def _resizes(self) -> bool:
        return differs(self.sizes, 1.0) or differs(self.grows, 0.0)

    def alters(self, address: str) -> tuple[str, ...] | None:
        of_look, name = address.startswith(("look.", "also.")), address.rpartition(".")[2]
        does = (
            not self.muted
            and of_look
            and ((name == "size" and self._resizes) or (name == "colour" and differs(self.tints, 0.0)))
        )
        return () if does else None

    def altered(self, at: Reader, address: str, values: Values) -> Values:
        b = at.builder
        if address.endswith("size"):
            changed = b.op("add", b.op("mul", values[0], b.input(self._kept("times"))), b.input(self._kept("grown")))
            return (b.op("max", changed, b.const(0)),)
        return tuple(
            b.op("mix", value, b.input(self._kept(f"tint.{i}")), b.input(self._kept("tinted")))
            for i, value in enumerate(values)
        )

    def wrong(self, effect: Any, thing: Any, where: str) -> Iterator[Finding]:
        """Yield what is wrong with what it names in other emitters."""
        return iter(())

    def compared(self) -> tuple[tuple[str, str, str], ...]:
        """Return what its condition compares: the row that is looked at, the row of the value, and whether it has to be above or below that."""
        return ()

    # what a kind says -------------------------------------------------------------------------------------------------------
    def true(self, at: Reader) -> int:
        """Return whether its condition is true, 1 or 0."""
        raise NotImplementedError

    def lasts(self, at: Reader) -> int | None:
        """Return for how long it has to be true, seconds; None: no time."""
        return None

    def share(self, at: Reader, state: StepState) -> int | None:
        """Return for which share of the step, up to its end, its condition has been true where it is; None: it is known as a step ends only."""
        return None

    def ago(self, at: Reader, state: StepState, since: int, lasts: int | None) -> int:
        """Return how long before the step's end it happens, s, where it does in this step. since: for how long its condition has been true."""
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
        """Return where (m) it happens so long before the step's end, s, and which way what is there faces (nothing where there is none)."""
        b = at.builder
        none = b.const(0)
        return tuple(
            b.op("sub", x, b.op("mul", v, ago)) for x, v in zip(at.state("position"), state.velocity, strict=True)
        ), (none, none, none)

    def leaves(self, at: Reader) -> Values | None:
        """Return the velocity that a particle has at the moment at which it happens, m/s; None: as the step ends."""
        return None

    def turn(self, at: Reader, state: StepState) -> dict[str, int]:
        """Look whether it happens as a step ends, and let it; return what the state keeps of it. at: reads the particle as the step has left it."""
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
        if differs(self.chance, 1.0):
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
        if differs(self.delay, 0.0):
            delay = self.row(at, "delay")[0]
            due = b.op("select", turns, b.op("add", b.op("sub", now, ago), delay), due)
            fires = b.op("mul", b.op("less", none, due), b.op("less_equal", due, now))
            ago = self._within(at, state, b.op("sub", now, due))
            due = b.op("select", fires, none, due)
        place, normal = self.moment(at, state, ago)
        remembered = self.remembered(at)  # as it was looked at, whatever it does
        self.apply_actions(at, state, fires, place)
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
        if differs(self.bears, 0.0) or self.momentary:
            leaves = self.leaves(at)
            velocity = state.velocity if leaves is None or self.holds == "stays" else self._sped(at, leaves)
            state.borne.setdefault(self.uid, []).append(
                (ago, *place, *velocity, *normal, self.row(at, "bears")[0], count)
            )
        return {f"cue.{self.uid}.{what}": value for what, value in kept.items()}

    def remembered(self, at: Reader) -> dict[str, int]:
        """Return what its state keeps beside what that of all cues keeps, as the step ends."""
        return {}

    def apply_actions(self, at: Reader, state: StepState, fires: int, place: Values) -> None:
        b = at.builder
        if self.own is not None and (own := found(at.view.thing.own, self.own)) is not None and own.memory:
            values = at.own(self.own)
            given = self.row(at, "own_value" if len(values) == 1 else "own_vector")
            for i, (before, value) in enumerate(zip(values, given, strict=True)):
                value = b.op("add", before, value) if self.own_by == "add" else value
                state.kept[f"own.{self.own}.{i}"] = b.op("guard", b.op("select", fires, value, before), before)
        velocity = self._sped(at, state.velocity)
        if velocity is not state.velocity:
            state.velocity = tuple(
                b.op("guard", b.op("select", fires, new, old), old)
                for new, old in zip(velocity, state.velocity, strict=True)
            )
        if self.holds != "as it is":
            free = b.const(float(self.holds == "lets go"))
            state.kept[LET_GO] = b.op("select", fires, free, state.kept.get(LET_GO, b.input(LET_GO)))
            self._hold(at, state, fires, place)
        changes: dict[str, int] = {}
        if self._resizes:
            times, grown, by = b.input(self._kept("times")), b.input(self._kept("grown")), self.row(at, "sizes")[0]
            changes = {
                "times": b.op("mul", times, by),
                "grown": b.op("add", b.op("mul", grown, by), self.row(at, "grows")[0]),
            }
        if differs(self.tints, 0.0):
            changes |= {"tinted": self.row(at, "tints")[0]} | {
                f"tint.{i}": value for i, value in enumerate(self.row(at, "tint"))
            }
        for name, value in changes.items():
            before = b.input(self._kept(name))
            state.kept[self._kept(name)] = b.op("guard", b.op("select", fires, value, before), before)
        if self.latch is not None and (latched := f"latch.{self.latch}") in state.kept:
            before, touched = state.kept[latched], f"touched.{self.latch}"
            fresh = b.op("mul", fires, b.op("less", before, b.const(0.5)))
            state.kept[latched] = b.op("select", fires, b.const(1), before)
            state.kept[touched] = b.op("select", fresh, at.clip_time(), state.kept[touched])
        if self.ends:
            state.end(fires, b.const(1))

    def _sped(self, at: Reader, velocity: Values) -> Values:
        b = at.builder
        if differs(self.speeds, 1.0):
            velocity = tuple(b.op("mul", v, self.row(at, "speeds")[0]) for v in velocity)
        if differs(self.kick, (0.0, 0.0, 0.0)):
            velocity = tuple(b.op("add", v, k) for v, k in zip(velocity, self.row(at, "kick"), strict=True))
        return velocity

    def _hold(self, at: Reader, state: StepState, fires: int, place: Values) -> None:
        """Let go of where it sticks or stays, or let it stick and stay: to what it touches, else where it is."""
        b, none = at.builder, at.builder.const(0)
        sticky = STUCK[0] in state.kept
        on = none
        if self.holds == "stays":
            if sticky:
                which = b.input(TOUCH["which"])
                on = b.op("mul", b.op("less", none, which), b.input(TOUCH["touching"]))
                now = b.op("select", on, b.op("add", which, b.const(STUCK_NOW)), none)
                state.kept[STUCK[0]] = b.op("select", fires, now, state.kept[STUCK[0]])
            state.position = tuple(b.op("select", fires, x, old) for x, old in zip(place, state.position, strict=True))
            state.velocity = tuple(b.op("select", fires, none, old) for old in state.velocity)
        elif self.holds == "lets go" and sticky:
            state.kept[STUCK[0]] = b.op("select", fires, none, state.kept[STUCK[0]])
        if STAYS in state.kept:
            stays = b.op("sub", b.const(1), on) if self.holds == "stays" else none
            state.kept[STAYS] = b.op("select", fires, stays, state.kept[STAYS])


def stays(at: Reader, state: StepState) -> None:
    """Keep those whom a cue stopped where they are, relative to what they go along with."""
    if not any(cue.holds == "stays" and not cue.muted for cue in getattr(at.view.thing, "cues", [])):
        return
    b, still = at.builder, at.builder.input(STAYS)
    state.kept[STAYS] = still
    state.position = tuple(
        b.op("select", still, before, x) for before, x in zip(state.before[0], state.position, strict=True)
    )
    state.velocity = tuple(b.op("select", still, b.const(0), v) for v in state.velocity)


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
