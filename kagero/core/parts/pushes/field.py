"""A field from a file."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar, Literal

from ...program import Group, PropQuery, Slot
from ...rows.model import Driven, FieldFacts, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.slots import DocumentView
from ...rows.step import Pushes
from ...rows.units import FACTOR, PER_SECOND
from ...rows.view import Owner, find_thing
from .base import PushPart


@dataclass(frozen=True)
class FieldOfPush(Slot[DocumentView]):
    """What a push asks of the field that it reads."""

    owner: Owner
    push: str
    group: ClassVar[Group] = "queries"

    def read(self, document: DocumentView) -> PropQuery:
        push: Any = find_thing(document.thing(self.owner).forces, self.push)
        return PropQuery(push.prop, f"{document.query(push.prop).digest} {push.outside}", push)


class FieldPush(PushPart):
    """The vectors of a field from a file, where the particle is: as a push, or as the velocity of air that takes it
    along."""

    label = "Field from a file"
    compiles = "vector fields"

    kind: Literal["field"] = "field"
    prop: Annotated[
        Uid | None,
        Refers("props", "field", "{name} reads a field that is not there.", "Choose another, or take the push away."),
        Setting("of", "The prop whose vectors it reads.", nothing="choose one"),
    ] = None
    by: Annotated[
        Literal["push", "speed"],
        Setting(
            "Works as",
            "Its vectors are metres a second squared of a push, or metres a second of air that particles take on.",
            choices=(("push", "a push"), ("speed", "moving air")),
        ),
    ] = "speed"
    outside: Annotated[
        Literal["nothing", "edge"],
        Setting(
            "Outside it",
            "What there is beside the field.",
            choices=(("nothing", "nothing"), ("edge", "as at its side")),
        ),
    ] = "nothing"
    strength: Annotated[
        NumberRow, Driven("Field", FACTOR, -10_000, 10_000, 2, 1.0, "By how much the field's vectors are multiplied.")
    ]
    coupling: Annotated[
        NumberRow,
        Driven(
            "Field coupling",
            PER_SECOND,
            0,
            10_000,
            4,
            4.0,
            "How quickly a particle takes on the velocity of the field's air.",
        ),
    ] = number(4)

    def unused(self) -> frozenset[str]:
        return super().unused() | (frozenset({"coupling"}) if self.by == "push" else frozenset())

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return (
            [prop for prop in effect.props if prop.field] if field == "prop" else super().named_by(field, effect, thing)
        )

    def possible(self, effect: Any, thing: Any) -> str:
        return (
            ""
            if any(prop.field for prop in effect.props)
            else "There is no field: bring an NPZ or VTK image data in under Props."
        )

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("prop", "reads no field yet", "Choose one.") if self.prop is None else None

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = super().driven(facts)
        return replace(driven, label="Field share") if driven is not None and facts.name == "share" else driven

    def write(self, at: Reader, pushes: Pushes) -> None:
        if self.prop is None:
            return
        b = at.builder
        sampled = b.multi("prop_field", *pushes.place, pushes.time, attrs=(FieldOfPush(at.owner, self.uid),))
        (strength,) = self.row(at, "strength")
        values = tuple(b.op("mul", strength, value) for value in sampled)
        if self.by == "push":
            pushes.push(tuple(b.op("mul", pushes.inverse_mass, value) for value in values))
        else:
            pushes.carry(b.op("mul", self.row(at, "coupling")[0], pushes.inverse_mass), values)
