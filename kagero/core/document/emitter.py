"""An emitter: its births, motion, look, and what it gives its particles besides."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..formula import Values
from ..parts.draws import DRAWS, DrawPart
from ..parts.looks import LOOKS, LookPart
from ..parts.own import OWN, OwnPart
from ..parts.pushes import PUSHES, PushPart
from ..parts.sources.row import Address
from ..program import Builder
from ..rows.model import ADDRESS, SAID, WHETHER, Driven, Model, Name, Part, Uid
from ..rows.reader import Reader
from ..rows.responses import NumberRow, differs, number
from ..rows.step import Phase, StepState
from ..rows.units import DEGREES_PER_SECOND, PER_SECOND
from .births import Births
from .thinning import Thinning

Push = Annotated[PushPart, PUSHES]
Look = Annotated[LookPart, LOOKS]
Draw = Annotated[DrawPart, DRAWS]
Own = Annotated[OwnPart, OWN]


class Motion(Part):
    """Motion besides the pushes."""

    band, stage = "motion", "live"

    spin: Annotated[
        NumberRow,
        Driven(
            "Spin",
            DEGREES_PER_SECOND,
            -10_000,
            10_000,
            12,
            0.0,
            "How fast a particle turns in the picture. It shows on particles that are not round.",
        ),
    ] = number(0)
    grip: Annotated[
        NumberRow,
        WHETHER,
        Driven(
            "Grip",
            PER_SECOND,
            0,
            1_000,
            20,
            0.0,
            "How firmly a particle is held to the place of the prop where it was born; at 1000 /s it sits exactly there, at 0 it flies.",
        ),
    ] = number(0)

    @classmethod
    def rows_key(cls) -> str:
        return "motion"

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        b = at.builder
        if phase == "integrate":
            b.row = "motion.spin"
            turned = b.op("add", state.rotation, b.op("mul", at.row("motion.spin")[0], state.dt))
            state.rotation = b.op("guard", turned, state.rotation)
        elif phase == "hold" and at.view.thing.births.place.prop_on() is not None and differs(self.grip, 0.0):
            b.row = "motion.grip"
            hold(b, at.view.thing.births.place.held(at), at.row("motion.grip")[0], state)


HELD = 1000.0  # the grip, 1/s, from which on a particle sits exactly where it is held


def hold(b: Builder, there: Values, grip: int, state: StepState) -> None:
    """Bring a particle nearer to a place by 1 - exp(-grip x dt), wholly at the highest grip; it moves as that brings it about."""
    dt, one = state.dt, b.const(1)
    share = b.op("select", b.op("less", grip, b.const(HELD)), b.op("sub", one, b.op("decay", grip, dt)), one)
    loose = b.op("max", b.op("equal", share, b.const(0)), b.op("equal", dt, b.const(0)))
    place, way = [], []
    for i in range(3):
        flown, was = state.position[i], state.before[0][i]
        position = b.op("select", loose, flown, b.op("mix", flown, there[i], share))
        moved = b.op("select", loose, state.velocity[i], b.op("div", b.op("sub", position, was), dt))
        way.append(b.op("guard", moved, state.before[1][i]))
        place.append(b.op("guard", position, was))
    state.position, state.velocity = tuple(place), tuple(way)


class Remark(Model):
    """What somebody says of a row, for those who work on it later."""

    row: Annotated[Address, ADDRESS]
    text: str = Field(min_length=1, max_length=500)


class Shelf(Model):
    """How an emitter's sheet is laid out, and what is said of its rows, by address. It changes nothing about the particles."""

    added: Annotated[list[Address], ADDRESS] = Field(default=[], max_length=256)
    pinned: Annotated[list[Address], ADDRESS] = Field(default=[], max_length=256)
    hidden: Annotated[list[Address], ADDRESS] = Field(default=[], max_length=256)
    remarks: list[Remark] = Field(default=[], max_length=256)


class Emitter(Part):
    uid: Uid
    name: Annotated[Name, SAID]
    visible: Annotated[bool, SAID] = True
    folder: Annotated[str, SAID] = Field(default="", max_length=80, description="Under which heading it stands among the emitters.")
    colour: Annotated[str, SAID, Field(pattern=r"^(#[0-9a-f]{6})?$")] = ""
    births: Births
    forces: list[Push] = Field(default=[], max_length=64)
    motion: Motion = Field(default_factory=Motion)
    look: Look
    thinning: Thinning | None = None
    draws: list[Draw] = Field(default=[], max_length=64)
    own: list[Own] = Field(default=[], max_length=32)
    muted_sources: Annotated[list[Address], ADDRESS] = Field(default=[], max_length=256, description="Sources whose responses do not act.")
    sheet: Annotated[Shelf, SAID] = Field(default_factory=Shelf)

    def unused(self) -> frozenset[str]:
        return frozenset() if self.births.place.prop_on() is not None else frozenset({"motion.grip"})
