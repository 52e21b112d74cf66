"""A cue sets an own attribute, or adds to it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...rows.model import Driven, Refers, Setting, Uid
from ...rows.reader import Reader
from ...rows.responses import NumberRow, VectorRow, number, vector
from ...rows.step import StepState
from ...rows.units import PLAIN
from ...rows.view import find_thing
from .base import Deed, Happening


class ChangeOwn(Deed):
    """It sets an own attribute with memory, or adds to it."""

    deed_rows = ("own_value", "own_vector")
    on_request = ("own",)

    own: Annotated[
        Uid | None,
        Refers("own"),
        Setting("Own attribute", "One that remembers, which it sets or adds to.", nothing="none of them"),
    ] = None
    own_by: Annotated[
        Literal["set", "add"], Setting("The attribute is", choices=(("set", "set to"), ("add", "added to by")))
    ] = "set"
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

    def deed_unused(self) -> frozenset[str]:
        return frozenset() if self.own is not None else frozenset({"own_by", "own_value", "own_vector"})

    def deed_names(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return [own for own in thing.own if own.memory] if field == "own" else None

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        own = find_thing(at.view.thing.own, self.own) if self.own is not None else None
        if self.own is None or own is None or not own.memory:
            return
        b, values = at.builder, at.own(self.own)
        given = self.row(at, "own_value" if len(values) == 1 else "own_vector")
        for i, (before, value) in enumerate(zip(values, given, strict=True)):
            value = b.op("add", before, value) if self.own_by == "add" else value
            state.kept[f"own.{self.own}.{i}"] = b.op("guard", b.op("select", happening.fires, value, before), before)
