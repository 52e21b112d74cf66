"""What a push is: something that changes how a particle moves."""

from __future__ import annotations

from typing import Any

from ...formula import Values
from ...rows.model import Part, Uid, fields_of, new_rows
from ...rows.reader import Reader
from ...rows.step import Phase, Pushes, StepState
from ...rows.union import OpenUnion


class PushPart(Part):
    """A kind of push. Each has a uid, so that its rows can be addressed and noise stays put when others change."""

    band, stage = "motion", "live"

    kind: str
    uid: Uid
    muted: bool = False

    @classmethod
    def rows_key(cls) -> str:
        return f"forces.{PUSHES.tags(cls)[0]}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": PUSHES.tags(cls)[0], **new_rows(cls)}

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase == "push" and not self.muted:
            at.builder.row = f"forces.{self.uid}"
            self.write(at, state.pushes)

    def strength_row(self) -> str:
        """Return the row that says how strongly it acts: a region multiplies that."""
        return next(facts.name for facts in fields_of(type(self)) if facts.driven)

    def row(self, at: Reader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"forces.{self.uid}.{field}")

    def write(self, at: Reader, pushes: Pushes) -> None:
        """Add what it does to a particle in a step; places and velocities are those at the step's start."""
        raise NotImplementedError


PUSHES = OpenUnion("push", PushPart)
