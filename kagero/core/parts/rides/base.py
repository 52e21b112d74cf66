"""What a ride is: a place that a particle is held to, as firmly as its grip says, and let go from."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from ...formula import Values
from ...program import Group, PropQuery, Slot
from ...rows.model import Driven, FieldFacts, Part, Refers, Setting, Uid, new_rows
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.slots import DocumentView
from ...rows.step import RIGID_GRIP, Phase, StepState
from ...rows.union import OpenUnion
from ...rows.units import PER_SECOND
from ...rows.view import Owner, find_thing
from ..deeds.hold import let_go

Edge = Literal["hold", "wrap", "turn", "release"]
EDGES = (
    ("hold", "stays there"),
    ("wrap", "begins anew at the other"),
    ("turn", "turns back"),
    ("release", "is let go"),
)


def over_life() -> dict[str, Any]:
    """Return a row, as plain data, that goes from 0 to 1 over a particle's life."""
    straight = {"keys": [{"x": 0.0, "y": 0.0, "shape": "linear"}, {"x": 1.0, "y": 1.0, "shape": "linear"}]}
    life = {
        "kind": "curve",
        "uid": "new",
        "source": {"kind": "life"},
        "read": "live",
        "operation": "set",
        "input": [0.0, 1.0],
        "curve": straight,
        "output": [0.0, 1.0],
    }
    return {"base": 0.0, "responses": [life]}


@dataclass(frozen=True)
class Ridden:
    """Where a ride has its particle. place: metres; gone: 1 where it is beyond an end at which it lets go, else 0
    (None: it has none)."""

    place: Values
    gone: int | None = None


class RidePart(Part):
    """A kind of ride. Each has a uid, by which its rows and what the state keeps of it are named."""

    band, stage = "motion", "live"
    tells: ClassVar[tuple[str, ...]] = ("released",)  # what sources can read of it
    places: ClassVar[tuple[str, ...]] = ()  # its rows that say where it has its particle
    speed_of_place: ClassVar[bool] = (
        True  # held fast it has the velocity of its place; a kind that says otherwise says it itself
    )

    kind: str
    uid: Uid
    muted: bool = False
    grip: Annotated[
        NumberRow,
        Driven(
            "Grip",
            PER_SECOND,
            0,
            RIGID_GRIP,
            20,
            RIGID_GRIP,
            "How firmly a particle is held: at 1000 /s it sits exactly there, at 4 /s it takes about a second to "
            "come, at 0 it flies free.",
        ),
    ] = number(RIGID_GRIP)

    @classmethod
    def rows_key(cls) -> str:
        return f"rides.{RIDES.tags(cls)[0]}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": RIDES.tags(cls)[0], **new_rows(cls)}

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = facts.driven
        return replace(driven, label=f"{self.label} grip") if driven is not None and facts.name == "grip" else driven

    def strength_row(self) -> str:
        return "grip"

    def row(self, at: Reader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"rides.{self.uid}.{field}")

    def name(self, what: str) -> str:
        """Return the name of something that the state keeps for it."""
        return f"ride.{self.uid}.{what}"

    def kept(self, at: Reader, what: str) -> int:
        """Return what the state keeps; at a birth, and where it does not act, nought."""
        return at.builder.const(0) if at.newborn or not self.acts(at) else at.builder.input(self.name(what))

    def released(self, at: Reader) -> int:
        """Return the seconds since it last let the particle go; nought while it holds it."""
        b = at.builder
        if at.newborn or not self.acts(at):
            return b.const(0)
        return b.op("select", self.kept(at, "free"), b.op("sub", at.clip_time(), self.kept(at, "since")), b.const(0))

    # what a kind says
    # -----------------------------------------------------------------------------------------------------
    def acts(self, at: Reader) -> bool:
        """Return whether it has all that it needs."""
        return not self.muted

    def ridden(self, at: Reader, kept: dict[str, int]) -> Ridden:
        """Return where it has its particle at the reader's time. kept: what it keeps, by name."""
        raise NotImplementedError

    def keeps(self, at: Reader) -> dict[str, int]:
        """Return what it keeps besides, as it stands (at a birth: as it begins), by name."""
        return {}

    def goes_on(self, at: Reader, dt: int) -> dict[str, int]:
        """Return the same after a step of dt seconds."""
        return {}

    def grips(self, at: Reader, state: StepState | None, grip: int) -> int:
        """Return its grip, where more than the row says it."""
        return grip

    def rails(self, stage: Any, seconds: float) -> list[np.ndarray]:
        """Return the lines that it goes along at a clip time, as the stage draws them: points in the world, metres, (n,
        3) each."""
        return []

    def _at_the_end(self, at: Reader, state: StepState, there: Values, before: Values, grip: int) -> dict[str, int]:
        """Give a particle that is held fast the velocity of its place at the step's end, not its mean over the step;
        return what is kept for it.

        By the means of this step and the one before, as of two backward differences (Hairer, Norsett and Wanner,
        Solving Ordinary Differential Equations I, III.5): of the second order. Where both differ by more than either,
        the place starts, stops or jumps, and the mean stays.
        """
        b = at.builder
        none, age = b.const(0), at.state("age")[0]
        length = b.op("select", state.dt, state.dt, b.const(1))
        earlier = b.op(
            "min", state.dt, b.op("max", b.op("sub", age, state.dt), none)
        )  # how long the step before was: a birth's is shorter
        mean = tuple(b.op("div", b.op("sub", x, x0), length) for x, x0 in zip(there, before, strict=True))
        last = tuple(self.kept(at, f"mean.{i}") for i in range(3))
        change = tuple(b.op("sub", v, u) for v, u in zip(mean, last, strict=True))
        even = b.op("less_equal", b.op("length", *change), b.op("min", b.op("length", *mean), b.op("length", *last)))
        full = b.op(
            "mul", b.op("less_equal", b.const(RIGID_GRIP), grip), b.op("mul", even, b.op("less", none, earlier))
        )
        part = b.op("mul", full, b.op("div", state.dt, b.op("add", length, earlier)))
        state.velocity = tuple(
            b.op("guard", b.op("add", v, b.op("mul", part, c)), v) for v, c in zip(state.velocity, change, strict=True)
        )
        return {f"mean.{i}": value for i, value in enumerate(mean)}

    # phases
    # ---------------------------------------------------------------------------------------------------------------
    def carried(self, at: Reader) -> dict[str, int]:
        if not self.acts(at):
            return {}
        keeps = self.keeps(at)
        ridden = self.ridden(at, keeps)
        columns = {f"at.{i}": value for i, value in enumerate(ridden.place)} | keeps
        columns |= {"free": at.builder.const(0), "since": at.clip_time()}  # until its first step nobody has let it go
        columns |= {f"mean.{i}": at.builder.const(0) for i in range(3)} if self.speed_of_place else {}
        return {self.name(what): value for what, value in columns.items()}

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "hold" or not self.acts(at):
            return
        b = at.builder
        b.row = f"rides.{self.uid}"
        keeps = {what: b.op("guard", value, self.kept(at, what)) for what, value in self.goes_on(at, state.dt).items()}
        ridden = self.ridden(at, keeps)
        self.hold(at, state, ridden, keeps)

    def hold(self, at: Reader, state: StepState, ridden: Ridden, keeps: dict[str, int]) -> int:
        """Hold the particle where a step has brought it, and note what it keeps; return how firmly it is held."""
        b = at.builder
        grip, freed = self.grips(at, state, self.row(at, "grip")[0]), let_go(at)
        if freed is not None:
            grip = b.op("select", freed, b.const(0), grip)
        if ridden.gone is not None:  # over the end: let go for good
            gone = b.op("max", self.kept(at, "gone"), ridden.gone)
            keeps["gone"] = gone
            grip = b.op("select", gone, b.const(0), grip)
        before = tuple(self.kept(at, f"at.{i}") for i in range(3))
        state.hold(ridden.place, before, grip)
        if self.speed_of_place:
            keeps |= self._at_the_end(at, state, ridden.place, before, grip)
        free = b.op("equal", grip, b.const(0))
        was = self.kept(at, "free")
        keeps |= {f"at.{i}": value for i, value in enumerate(ridden.place)}
        keeps |= {"free": free, "since": b.op("select", b.op("mul", free, was), self.kept(at, "since"), at.clip_time())}
        state.kept |= {self.name(what): value for what, value in keeps.items()}
        return grip


@dataclass(frozen=True)
class RideOnProp(Slot[DocumentView]):
    """What a ride asks of the prop that it is on."""

    owner: Owner
    ride: str
    group: ClassVar[Group] = "queries"

    def read(self, document: DocumentView) -> PropQuery:
        ride: Any = find_thing(document.thing(self.owner).rides, self.ride)
        return PropQuery(ride.prop, f"{document.query(ride.prop).digest} {ride.edge}", ride)


class PropRide(RidePart):
    """A ride on a prop. edge: what happens at the ends of an open direction; a closed one always goes round."""

    prop: Annotated[
        Uid | None,
        Refers("props", "", "{name} is on a prop that is not there.", "Choose another."),
        Setting("on", "The prop that it rides on.", nothing="choose one"),
    ] = None
    edge: Annotated[
        Edge,
        Setting(
            "At an end", "What a particle does at the end of an open direction; a closed one goes round.", choices=EDGES
        ),
    ] = "hold"

    def acts(self, at: Reader) -> bool:
        return super().acts(at) and self.prop is not None

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("prop", "is on no prop yet", "Choose one.") if self.prop is None else None

    def asked(self, at: Reader) -> tuple[RideOnProp]:
        return (RideOnProp(at.owner, self.uid),)

    def carried(self, at: Reader) -> dict[str, int]:
        columns = super().carried(at)
        return columns | {self.name("gone"): at.builder.const(0)} if columns and self.edge == "release" else columns


RIDES = OpenUnion("ride", RidePart)
