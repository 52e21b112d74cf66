"""Targets: a place of its own for each particle, on or in a prop, wherever that stands and however it moves and
bends."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from ..errors import Finding
from ..formula import Values
from ..parts.places.prop import ON, Density
from ..program import Group, PropQuery, Slot
from ..rows.example import Example, Suggestion
from ..rows.model import VALUE, Driven, Part, Refers, Setting, Uid
from ..rows.reader import Reader
from ..rows.responses import NumberRow, number
from ..rows.slots import DocumentView
from ..rows.step import Phase, StepState
from ..rows.units import METRES
from ..rows.view import Owner, find_thing

MOMENT = 1 / 240  # seconds before and after, for the velocity of a target
BOUND = tuple(f"target.{name}" for name in ("face", "b1", "b2", "ox", "oy", "oz"))


class Target(Part):
    """Where each particle is drawn: a place of its own on or in a prop. What draws it there are a push and a ride;
    sources tell how far it is, and whether it has arrived.

    order: shuffled, or one after the other as they are born, so many to come round.
    """

    label = "Targets"
    help = "A place for each particle, on or in a prop, that it can be drawn to and sit at."
    band, stage = "motion", "live"
    example = Example(beside=("force:toward_target",))

    prop: Annotated[
        Uid | None,
        Refers(
            "props",
            "bearing",
            "{name} has targets on a prop that is not there.",
            "Choose another, or take the targets away.",
        ),
        Setting("Targets on", "The prop that the targets are on.", nothing="choose one"),
    ] = None
    on: Annotated[
        Literal["surface", "inside", "points", "edges"],
        Setting("Where on it", "Where on the prop.", choices=tuple(ON.items())),
    ] = "surface"
    order: Annotated[
        Literal["shuffled", "in_order"],
        Setting(
            "Who gets which",
            "Whether places are given at random, or one after the other.",
            choices=(("shuffled", "shuffled"), ("in_order", "in order of birth")),
        ),
    ] = "shuffled"
    count: Annotated[
        int, VALUE, Setting("come round after", "How many births go once from the first place to the last.")
    ] = Field(default=500, ge=1, le=5_000_000)
    density: Annotated[
        Density | None, Setting("as dense as", "A picture that says how dense targets are.", nothing="everywhere")
    ] = None
    offset: Annotated[
        NumberRow,
        Driven(
            "Target offset",
            METRES,
            -10_000,
            10_000,
            1,
            0.0,
            "How far above the surface targets are; negative is below.",
            "birth",
        ),
    ] = number(0)
    within: Annotated[
        NumberRow,
        Driven(
            "Arrived within", METRES, 0, 10_000, 1, 0.05, "A particle has arrived once it was so near to its target."
        ),
    ] = number(0.05)

    @classmethod
    def rows_key(cls) -> str:
        return "target"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        return (
            Suggestion("add it, and a push that draws them there", beside=("force:toward_target",)),
            Suggestion("add it, and let them sit there", beside=("ride:target",)),
        )

    def unused(self) -> frozenset[str]:
        return frozenset(
            {
                *(() if self.order == "in_order" else ("count",)),
                *(() if self.on in ("surface", "points") else ("density",)),
            }
        )

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return [prop for prop in effect.props if prop.film] if field == "density" else None

    def values_of(self, field: str, effect: Any) -> tuple[str, ...] | None:
        prop = find_thing(effect.props, self.prop or "")
        return prop.births_on if field == "on" and prop is not None else None

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("prop", "are on no prop yet", "Choose one.") if self.prop is None else None

    # where they are
    # -------------------------------------------------------------------------------------------------------
    def _born_target(self, at: Reader) -> Values:
        """Return, in the reader of a birth, all that choosing a target gives (`staging.Stage.born`)."""
        b = at.builder
        uniform = [at.hash(f"target {i}") for i in range(3)]
        if self.order == "in_order":
            turns = b.op(
                "div", b.op("add", b.op("number", b.input("key")), b.const(0.5)), b.param(TargetCount(at.owner))
            )
            uniform[0] = b.op("repeat", turns)
        return b.multi(
            "prop_born", *uniform, at.row("target.offset")[0], at.clip_time(), attrs=(TargetsOnProp(at.owner),)
        )

    def place(self, at: Reader, time: int) -> Values:
        """Return where the particle's target is at a clip time, metres; the particle's own place where there is
        none."""
        if self.prop is None:
            return at.state("position")
        if at.newborn:
            return self._born_target(at)[:3]
        b = at.builder
        return b.multi("prop_held", *(b.input(name) for name in BOUND), time, attrs=(TargetsOnProp(at.owner),))

    def moving(self, at: Reader, time: int) -> tuple[Values, Values]:
        """Return where the particle's target is at a clip time (m) and how it moves (m/s): between a little before and
        a little after."""
        b, h = at.builder, at.builder.const(MOMENT)
        before, after = (self.place(at, b.op(which, time, h)) for which in ("sub", "add"))
        middle = tuple(b.op("mix", x, y, b.const(0.5)) for x, y in zip(before, after, strict=True))
        return middle, tuple(
            b.op("mul", b.op("sub", y, x), b.const(0.5 / MOMENT)) for x, y in zip(before, after, strict=True)
        )

    def distance(self, at: Reader) -> int:
        """Return how far the particle is from its target, metres."""
        b = at.builder
        return b.op(
            "length",
            *(b.op("sub", t, x) for t, x in zip(self.place(at, at.clip_time()), at.state("position"), strict=True)),
        )

    def arrived(self, at: Reader) -> tuple[int, int]:
        """Return whether the particle has ever been at its target, and when it first was (clip seconds)."""
        b = at.builder
        return (b.const(0), at.clip_time()) if at.newborn else (b.input("target.arrived"), b.input("target.when"))

    def carried(self, at: Reader) -> dict[str, int]:
        if self.prop is None:
            return {}
        return dict(zip(BOUND, self._born_target(at)[8:14], strict=True)) | {
            "target.arrived": at.builder.const(0),
            "target.when": at.clip_time(),
        }

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "remember" or self.prop is None:
            return
        b, time = at.builder, at.clip_time()
        b.row = "target"
        away = b.op("length", *(b.op("sub", t, x) for t, x in zip(self.place(at, time), state.position, strict=True)))
        before, when = self.arrived(at)
        here = b.op("less_equal", away, at.row("target.within")[0])
        state.kept |= {"target.arrived": b.op("max", before, here), "target.when": b.op("select", before, when, time)}

    def findings(self, effect: Any, emitter: Any, where: str) -> Iterator[Finding]:
        prop = find_thing(effect.props, self.prop or "")
        if prop is not None and self.on not in prop.births_on:
            fits = " or ".join(ON[each] for each in prop.births_on)
            yield Finding(
                "link",
                f"{where}.target.on",
                f"{prop.name} has no such places for targets.",
                f"Choose {fits}." if fits else "Choose another prop.",
            )


@dataclass(frozen=True)
class TargetsOnProp(Slot[DocumentView]):
    """What an emitter asks of the prop that its particles' targets are on."""

    owner: Owner
    group: ClassVar[Group] = "queries"

    def read(self, document: DocumentView) -> PropQuery:
        target: Target = document.thing(self.owner).target
        density = repr(target.density) + (document.query(target.density.picture).digest if target.density else "")
        return PropQuery(target.prop or "", f"{document.query(target.prop or '').digest} {target.on} {density}", target)


@dataclass(frozen=True)
class TargetCount(Slot[DocumentView]):
    """After how many births targets in order come round."""

    owner: Owner
    group: ClassVar[Group] = "params"

    def read(self, document: DocumentView) -> float:
        return float(document.thing(self.owner).target.count)
