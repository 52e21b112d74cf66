"""An emitter: its births, motion, look, and what it gives its particles besides."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field, field_validator

from ..parts.contacts import CONTACTS, ContactPart
from ..parts.cues import CUES, CuePart
from ..parts.deeds.hold import let_go
from ..parts.draws import DRAWS, DrawPart
from ..parts.looks import LOOKS, LookPart
from ..parts.own import OWN, OwnPart
from ..parts.pushes import PUSHES, PushPart
from ..parts.rides import RIDES, RidePart
from ..parts.shapings import SHAPINGS, ShapingPart
from ..parts.sources.row import Address
from ..rows.example import Suggestion
from ..rows.model import ADDRESS, DISPLAY_ONLY, STRUCTURAL_IF_CHANGED, Driven, Model, Name, Part, Refers, Setting, Uid
from ..rows.reader import Reader
from ..rows.responses import NumberRow, differs_from_default, number
from ..rows.slots import OfProp
from ..rows.step import Phase, StepState
from ..rows.units import DEGREES_PER_SECOND, PER_SECOND, PERCENT
from ..rows.writing import curve, row, source
from .births import Births
from .ending import Ending
from .leaving import Leaving
from .lighting import Lighting
from .loop import Loop
from .neighbours import Neighbours
from .passing import Passing
from .retiming import Retiming
from .target import Target
from .thinning import Thinning
from .turning import Turning
from .unseen import Unseen

Push = Annotated[PushPart, PUSHES]
Ride = Annotated[RidePart, RIDES]
Contact = Annotated[ContactPart, CONTACTS]
Cue = Annotated[CuePart, CUES]
Look = Annotated[LookPart, LOOKS]
Shaping = Annotated[ShapingPart, SHAPINGS]
Draw = Annotated[DrawPart, DRAWS]
Own = Annotated[OwnPart, OWN]


class Space(Part):
    """The prop in whose space particles live: those alive go along when it moves or turns."""

    label = "Going along"
    help = "Those alive go along when a prop moves or turns, as much as the share says."
    band, stage = "motion", "live"

    prop: Annotated[
        Uid | None,
        Refers(
            "props", "placed", "{name} lives in the space of a prop that is not there.", "Choose another, or the world."
        ),
        Setting("with", "The prop that they go along with.", nothing="choose one"),
    ] = None
    share: Annotated[
        NumberRow,
        Driven(
            "Going along",
            PERCENT,
            0,
            1,
            1,
            1.0,
            "How much of the way that a prop moves and turns those alive go along with it.",
        ),
    ] = number(1)

    @classmethod
    def rows_key(cls) -> str:
        return "motion.space"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        fades = row(1.0, curve("new", source("life"), ((0, 1), (1, 0))))
        return Suggestion("go along with a prop"), Suggestion("go along less and less over life", {"share": fades})

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("prop", "goes along with no prop yet", "Choose one.") if self.prop is None else None

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "read" or self.prop is None:
            return
        b = at.builder
        b.row = "motion.space"
        gone = b.multi(
            "prop_carried", *state.position, *state.velocity, state.dt, at.clip_time(), attrs=(OfProp(self.prop),)
        )
        (share,) = at.row("motion.space.share")
        state.position, state.velocity = (
            tuple(b.op("guard", b.op("mix", x, y, share), x) for x, y in zip(old, new, strict=True))
            for old, new in ((state.position, gone[:3]), (state.velocity, gone[3:]))
        )


class Motion(Part):
    """Motion besides pushes and rides. space: whom particles go along with; near: how far they see each other;
    turning: how they are turned in space."""

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
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Grip",
            PER_SECOND,
            0,
            1_000,
            20,
            0.0,
            "How firmly a particle is held to the place of the prop where it was born; at 1000 /s it sits exactly "
            "there, at 0 it flies.",
        ),
    ] = number(0)
    bounce: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Bounces by",
            PERCENT,
            0,
            100,
            1,
            1.0,
            "How much more or less than a contact says its particles bounce: 100 % is as it says.",
        ),
    ] = number(1)
    friction: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Rubs by",
            PERCENT,
            0,
            100,
            1,
            1.0,
            "How much more or less than a contact says it holds what slides along it: 100 % is as it says.",
        ),
    ] = number(1)
    space: Space | None = None
    near: Neighbours | None = None
    turning: Turning | None = None

    @classmethod
    def rows_key(cls) -> str:
        return "motion"

    def carried(self, at: Reader) -> dict[str, int]:
        if not self._holds(at):
            return {}
        return {f"held.{i}": value for i, value in enumerate(at.state("position"))}

    def _holds(self, at: Reader) -> bool:
        return at.view.thing.births.place.prop_on() is not None and differs_from_default(self.grip, 0.0)

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        b = at.builder
        if phase == "integrate":
            b.row = "motion.spin"
            turned = b.op("add", state.rotation, b.op("mul", at.row("motion.spin")[0], state.dt))
            state.rotation = b.op("guard", turned, state.rotation)
        elif phase == "hold" and self._holds(at):
            b.row = "motion.grip"
            there = at.view.thing.births.place.held(at)
            grip, free = at.row("motion.grip")[0], let_go(at)
            grip = grip if free is None else b.op("select", free, b.const(0), grip)
            state.hold(there, tuple(b.input(f"held.{i}") for i in range(3)), grip)
            state.kept |= {f"held.{i}": value for i, value in enumerate(there)}


class Remark(Model):
    """What somebody says of a row, for those who work on it later."""

    row: Annotated[Address, ADDRESS]
    text: str = Field(min_length=1, max_length=500)


class Shelf(Model):
    """How an emitter's sheet is laid out, and what is said of its rows, by address. It changes nothing about the
    particles."""

    added: Annotated[list[Address], ADDRESS] = Field(default=[], max_length=256)
    pinned: Annotated[list[Address], ADDRESS] = Field(default=[], max_length=256)
    hidden: Annotated[list[Address], ADDRESS] = Field(default=[], max_length=256)
    remarks: list[Remark] = Field(default=[], max_length=256)


class Emitter(Part):
    uid: Uid
    name: Annotated[Name, DISPLAY_ONLY]
    visible: Annotated[bool, DISPLAY_ONLY] = True
    folder: Annotated[str, DISPLAY_ONLY] = Field(
        default="", max_length=80, description="Under which heading it stands among the emitters."
    )
    colour: Annotated[str, DISPLAY_ONLY, Field(pattern=r"^(#[0-9a-f]{6})?$")] = ""
    births: Births
    forces: list[Push] = Field(default=[], max_length=64)
    rides: list[Ride] = Field(default=[], max_length=8)
    contacts: list[Contact] = Field(default=[], max_length=8)
    cues: list[Cue] = Field(default=[], max_length=16)
    target: Target | None = None
    motion: Motion = Field(default_factory=Motion)
    look: Look
    also: list[Look] = Field(
        default=[], max_length=8, description="Further looks: each particle is drawn by all of them."
    )
    light: Lighting | None = None
    ending: Ending | None = None
    passing: Passing | None = None
    leaving: Leaving | None = None
    unseen: Unseen | None = None
    thinning: Thinning | None = None
    shaping: list[Shaping] = Field(
        default=[], max_length=16, description="What moves its particles after the simulation, in order."
    )
    retiming: Retiming | None = None
    loop: Loop | None = None
    draws: list[Draw] = Field(default=[], max_length=64)
    own: list[Own] = Field(default=[], max_length=32)
    muted_sources: Annotated[list[Address], ADDRESS] = Field(
        default=[], max_length=256, description="Sources whose responses do not act."
    )
    sheet: Annotated[Shelf, DISPLAY_ONLY] = Field(default_factory=Shelf)

    @field_validator("also")
    @classmethod
    def named(cls, looks: list[LookPart]) -> list[LookPart]:
        if any(look.uid is None for look in looks):
            raise ValueError("a further look has no uid, by which its rows are addressed")
        return looks

    def unused(self) -> frozenset[str]:
        off = set() if self.births.place.prop_on() is not None else {"motion.grip"}
        off |= {"births.rate"} if self.births.place.cue_of() is not None else set()
        return frozenset(off | (set() if self.contacts else {"motion.bounce", "motion.friction"}))


# what an emitter has at most once, by its path
ONCE: dict[tuple[str, ...], type[Part]] = {
    ("target",): Target,
    ("motion", "space"): Space,
    ("motion", "near"): Neighbours,
    ("motion", "turning"): Turning,
    ("light",): Lighting,
    ("passing",): Passing,
    ("ending",): Ending,
    ("leaving",): Leaving,
    ("unseen",): Unseen,
    ("retiming",): Retiming,
    ("loop",): Loop,
}


def once(emitter: Emitter, path: tuple[str, ...]) -> Part | None:
    """Return what an emitter has at most once, by its path in ONCE."""
    value: Any = emitter
    for step in path:
        value = getattr(value, step)
    return value
