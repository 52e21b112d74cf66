"""What an own attribute is: a value that an emitter gives its particles besides what every particle has."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar

from pydantic import model_validator

from ...rows.model import DISPLAY_ONLY, Driven, FieldFacts, Name, Part, Setting, Uid, new_rows
from ...rows.reader import Reader
from ...rows.responses import BIG, NumberRow, number, read_once
from ...rows.step import Phase, StepState
from ...rows.union import OpenUnion
from ...rows.units import OWN_UNITS, PLAIN, Unit

START = Driven("At birth", PLAIN, -BIG, BIG, 2, 0, "The value a particle is born with.", "birth")
CHANGE = Driven("Change", PLAIN, -BIG, BIG, 2, 0, "How much is added each second.")
LOWEST = Driven("Not below", PLAIN, -BIG, BIG, 2, 0, "The value never falls below this.")
HIGHEST = Driven("Not above", PLAIN, -BIG, BIG, 2, 1, "The value never rises above this: a ceiling.")


class OwnPart(Part):
    """Set at birth; where it remembers, changed every step from its own last value.

    With memory a step makes it last value + change x seconds, and, when held, no less than lowest and no more than
    highest. Without, it stays what it was at birth.
    """

    band, stage = "own", "live"
    # what can be added: words, group, help, the name it gets, and how it differs from the kind's template
    offers: ClassVar[tuple[tuple[str, str, str, str, dict[str, Any]], ...]] = ()

    kind: str
    uid: Uid
    name: Annotated[Name, DISPLAY_ONLY]
    memory: Annotated[bool, Setting("remembers", "Each step goes on from its last value.")] = False
    held: Annotated[bool, Setting("held", "Its value stays between two bounds.")] = False

    @model_validator(mode="after")
    def _read_once(self) -> Any:
        read_once(getattr(self, "start", None))
        return self

    @classmethod
    def rows_key(cls) -> str:
        return "own"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": OWN.tags(cls)[0], "memory": False, "held": False, **new_rows(cls)}

    def row_family(self, field: str) -> str:
        return f"own.{self.uid}.{field}"

    def unused(self) -> frozenset[str]:
        return frozenset({"change"} if not self.memory else ()) | frozenset(
            {"lowest", "highest"} if not self.held else ()
        )

    def driven(self, facts: FieldFacts) -> Driven | None:
        """Return what stands beside a row: its unit is the attribute's, and its change is that a second."""
        driven, unit = facts.driven, OWN_UNITS[getattr(self, "unit", "")]
        if driven is None:
            return None
        if facts.name == "change":
            unit = Unit(f"{unit.symbol}/s" if unit.symbol != "m/s" else "m/s²", unit.scale, unit.digits)
        return Driven(
            driven.label,
            unit,
            driven.lowest,
            driven.highest,
            driven.drag,
            driven.default,
            driven.help,
            driven.stage,
            driven.always,
        )

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        """Return the attribute after the step: last value + change x dt, held between its bounds."""
        if phase != "remember" or not self.memory:
            return
        b, rows = at.builder, f"own.{self.uid}"
        b.row = f"{rows}.change"
        bounds = [at.row(f"{rows}.{name}")[0] for name in ("lowest", "highest")] if self.held else None
        for i, (last, change) in enumerate(zip(at.own(self.uid), at.row(f"{rows}.change"), strict=True)):
            new = b.op("add", last, b.op("mul", change, state.dt))
            if bounds:
                new = b.op("min", b.op("max", new, bounds[0]), bounds[1])
            state.kept[f"own.{self.uid}.{i}"] = b.op("guard", new, last)


Low = Annotated[NumberRow, LOWEST]
High = Annotated[NumberRow, HIGHEST]
LOW, HIGH = number(0), number(1)
OWN = OpenUnion("own attribute", OwnPart)
