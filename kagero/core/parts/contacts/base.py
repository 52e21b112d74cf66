"""What a contact is: something that particles meet, and how they bounce, slide, stick and rest there."""

from __future__ import annotations

from dataclasses import dataclass, replace
from types import SimpleNamespace
from typing import Annotated, Any, ClassVar, Literal

from ...formula import Values, words_of
from ...kernels import contact_shapes
from ...kernels.random import seed_of
from ...program import Group, PropQuery, Slot
from ...rows.contact_state import NORMAL, STUCK, TOUCH
from ...rows.example import Example
from ...rows.model import (
    STRUCTURAL_IF_CHANGED,
    Driven,
    FieldFacts,
    Part,
    Refers,
    Setting,
    Uid,
    models_of,
    new_rows,
    walk,
)
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.slots import DocumentView
from ...rows.source import SOURCES, SourcePart
from ...rows.step import Phase, StepState
from ...rows.union import OpenUnion
from ...rows.units import DEGREES, METRES_PER_SECOND, PERCENT, PLAIN
from ...rows.view import Owner
from ...rows.writing import row

MATERIAL = ("bounce", "friction", "stick", "stick_below", "thickness", "roughness", "region", "share")


class ContactPart(Part):
    """A kind of contact. Each has a uid, by which its rows are addressed. What it is like: its bounce, friction,
    stickiness, roughness; how thick particles are for it; where (region) and whom (share) it acts on."""

    mutual: ClassVar[bool] = False  # the emitter's particles meet each other
    band, stage = "contacts", "live"
    rows_last: ClassVar[tuple[str, ...]] = MATERIAL
    closed_form: ClassVar[bool] = True  # its distance is computed by its module in `kernels/contact_shapes`
    bounds: ClassVar[tuple[str, ...]] = ()  # its rows that say where and how large it is, six numbers in all

    kind: str
    uid: Uid
    muted: bool = False
    bounce: Annotated[
        NumberRow,
        Driven(
            "Bounce",
            PERCENT,
            0,
            10,
            1,
            0.3,
            "How much of the speed against it comes back: 0 % none, 100 % all of it.",
            always=True,
        ),
    ] = number(0.3)
    friction: Annotated[
        NumberRow,
        Driven(
            "Friction",
            PLAIN,
            0,
            1000,
            1,
            0.3,
            "How much it holds what slides along it, against what presses on it: 0 is ice, 0.6 wood, 1000 holds "
            "whatever touches it.",
            always=True,
        ),
    ] = number(0.3)
    stick: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Sticks",
            PERCENT,
            0,
            1,
            1,
            0.0,
            "Which share of those that touch it stay where they touched, and go along with it.",
        ),
    ] = number(0)
    stick_below: Annotated[
        NumberRow,
        Driven("Sticks below", METRES_PER_SECOND, 0, 10_000, 6, 10_000.0, "Only those slower than this stick."),
    ] = number(10_000)
    thickness: Annotated[
        NumberRow,
        Driven(
            "Thickness",
            PERCENT,
            0,
            10,
            1,
            1.0,
            "How thick particles are for it, of their size: at 100 % a ball rests on it, at 0 % its middle does.",
        ),
    ] = number(1)
    roughness: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Roughness", DEGREES, 0, 3.14159265, 1, 0.0, "By up to how much each bounce goes astray."),
    ] = number(0)
    region: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Region", PERCENT, 0, 1, 1, 1.0, "Where it acts: where this is half or more. A mask gives it a shape."),
    ] = number(1)
    share: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Share", PERCENT, 0, 1, 1, 1.0, "Which share of the particles meets it at all; the others go through."),
    ] = number(1)

    @classmethod
    def rows_key(cls) -> str:
        return f"contacts.{CONTACTS.tags(cls)[0]}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": CONTACTS.tags(cls)[0], **new_rows(cls)}

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = facts.driven
        return replace(driven, label=f"{self.label} {driven.label.lower()}") if driven is not None else driven

    def strength_row(self) -> str:
        return "region"

    def unused(self) -> frozenset[str]:
        return super().unused() | (frozenset() if differs_from_default(self.stick, 0.0) else frozenset({"stick_below"}))

    def row(self, at: Reader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"contacts.{self.uid}.{field}")

    def acts(self) -> bool:
        """Return whether it has all that it needs."""
        return not self.muted

    def stands(self) -> Standing:
        """Return what the stage has to know of it beside its rows."""
        return Standing(shape_of(self), None, 1.0)

    def carried(self, at: Reader) -> dict[str, int]:
        if not self.acts():
            return {}
        thing, none = at.view.thing, at.builder.const(0)
        columns = {TOUCH[name]: at.clip_time() if name in ("first", "last") else none for name in remembered(thing)}
        return columns | dict.fromkeys(STUCK if sticks(thing) else (), none)

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "touch" or not self.acts():
            return
        b = at.builder
        b.row = f"contacts.{self.uid}"
        size = b.op("mul", at.row("look.size")[0], b.const(0.5))
        acts = b.op("less_equal", b.const(0.5), self.row(at, "region")[0])
        if differs_from_default(self.share, 1.0):
            acts = b.op(
                "mul",
                acts,
                b.op(
                    "less",
                    b.op("draw", b.input("key"), attrs=(ContactDraw(at.owner, self.uid),)),
                    self.row(at, "share")[0],
                ),
            )
        material = [self.row(at, name)[0] for name in ("bounce", "friction", "stick", "stick_below")]
        bounds = [value for name in self.bounds for value in self.row(at, name)]
        bounds += [b.const(0)] * (6 - len(bounds))
        state.contacts += (
            *material,
            b.op("mul", size, self.row(at, "thickness")[0]),
            self.row(at, "roughness")[0],
            acts,
            *bounds,
        )


def remembered(thing: Any) -> tuple[str, ...]:
    """Return what an emitter's particles keep of what they touched, by the names of `rows.contact_state`: more than
    whether and how often only where a source, a cue or a formula may read it."""
    if any(cue.reads_touches or cue.stops() for cue in thing.cues):
        return tuple(TOUCH)
    sources = [each for each in models_of(thing) if isinstance(each, SourcePart)]
    if any(each.reads_touches for each in sources):
        return tuple(TOUCH)
    texts = [value for _, facts, value in walk(thing) if "formula" in facts.marks]
    if texts:
        view: Any = SimpleNamespace(thing=thing)
        readers = [kind for kind in SOURCES.classes() if kind.reads_touches]
        names = {known.name for kind in readers for known in kind.named(view)}
        if any(names & words_of(text) for text in texts):
            return tuple(TOUCH)
    others = any(each.mutual and not each.muted for each in thing.contacts)
    return "touching", "count", *(NORMAL if others else ())


def sticks(thing: Any) -> bool:
    """Return whether particles may stick to any of an emitter's contacts, by themselves or by a cue."""
    acting = [each for each in thing.contacts if each.acts()]
    by_cue = any(cue.stops() and not cue.muted for cue in thing.cues)
    return bool(acting) and (by_cue or any(differs_from_default(each.stick, 0.0) for each in acting))


@dataclass(frozen=True)
class Standing:
    """Where a contact stands. shape: its module's name in `kernels/contact_shapes`, None for a mesh; prop: in whose
    space, or which mesh; side: 1 off its outside, -1 within it."""

    shape: str | None
    prop: str | None
    side: float


def shape_of(contact: ContactPart) -> str | None:
    """Return the name of the module that computes the distance from a contact of closed form; None for the others."""
    if not contact.closed_form:
        return None
    return CONTACTS.namesake(contact.kind, contact_shapes.__name__).__name__.rpartition(".")[2]


class ShapedContact(ContactPart):
    """A contact in the world or in a prop's space, with which it moves and turns; what moves pushes."""

    space: Annotated[
        Uid | None,
        Refers(
            "props",
            "placed",
            "{name} stands in the space of a prop that is not there.",
            "Choose another, or the world.",
        ),
        Setting("in the space of", "It moves and turns with a prop, and grows as it does.", nothing="the world"),
    ] = None

    def stands(self) -> Standing:
        return Standing(shape_of(self), self.space, -1.0 if getattr(self, "side", "outside") == "inside" else 1.0)


def in_the_way(shape: dict[str, Any]) -> Example:
    """Return the example of a contact beside the fountain, at which a prop of a shape is seen. shape: its fields."""
    middle = row([0.3, 0.75, 0.0])
    seen = {"kind": "shape", "uid": "seen", "name": "seen", "position": middle, "tint": [0.12, 0.2, 0.22], **shape}
    return Example(fields={"centre": middle}, props=(seen,))


class HollowContact(ShapedContact):
    """A contact that particles are kept off, or within."""

    side: Annotated[
        Literal["outside", "inside"],
        Setting(
            "Keeps them", "Off it from outside, or within it.", choices=(("outside", "off it"), ("inside", "within it"))
        ),
    ] = "outside"


@dataclass(frozen=True)
class ContactDraw(Slot[DocumentView]):
    """The seed of the draw by which a contact's share of particles is chosen."""

    owner: Owner
    contact: str
    group: ClassVar[Group] = "seeds"

    def read(self, document: DocumentView) -> int:
        return seed_of(document.seed, "contact", self.owner[1], self.contact)


@dataclass(frozen=True)
class Met(Slot[DocumentView]):
    """What the contacts of an emitter that act ask of the stage."""

    owner: Owner
    group: ClassVar[Group] = "queries"

    def read(self, document: DocumentView) -> PropQuery:
        standing = tuple(each.stands() for each in document.thing(self.owner).contacts if each.acts())
        digests = [document.query(each.prop).digest for each in standing if each.prop]
        return PropQuery("", f"{standing} {digests}", standing)


CONTACTS = OpenUnion("contact", ContactPart)
