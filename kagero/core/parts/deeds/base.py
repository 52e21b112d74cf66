"""The base of deeds: fields of a cue, with what they do when it happens."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from ...formula import Values
from ...rows.model import DISPLAY_ONLY, Name, Part, Setting, Uid
from ...rows.reader import Reader
from ...rows.step import StepState


@dataclass(frozen=True)
class Happening:
    """A cue that may happen in a step.

    fires: 1 where it does, otherwise 0. ago: seconds before the step's end. place: where, m. normal: of what is there,
    0 without one. leaves: velocity with which a particle leaves a touch, m/s; None: as the step ends. count: how often
    the cue has happened before.
    """

    fires: int
    ago: int
    place: Values
    normal: Values
    leaves: Values | None
    count: int


class Deed(Part):
    """Something that a cue may do. Every cue has the fields of every deed, at defaults that do nothing; each method is
    called once for each deed. deed_rows: its rows, in the order of the sheet. Its fields named in
    `on_request` are shown once somebody asks for them."""

    band, stage = "cues", "live"
    deed_rows: ClassVar[tuple[str, ...]] = ()
    reads_touches: ClassVar[bool] = False  # its condition reads what particles remember of what they touched

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

    def row(self, at: Reader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"cues.{self.uid}.{field}")

    def column(self, name: str) -> str:
        """Return the name of a state column of the cue."""
        return f"cue.{self.uid}.{name}"

    # what a deed says
    # -------------------------------------------------------------------------------------------------------
    def deed_columns(self, at: Reader) -> dict[str, int]:
        """Return the state columns that the deed needs, by name, at their values at a birth."""
        return {}

    def stops(self) -> bool:
        """Return whether the cue stops particles for good: on what they touch, else where they are."""
        return False

    def deed_unused(self) -> frozenset[str]:
        """Return the fields of the deed that have no effect as they are set."""
        return frozenset()

    def deed_names(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        """Return the things that a field of the deed may name; None: all that fit."""
        return None

    def deed_changes(self, attribute: str) -> bool:
        """Return whether the deed changes an attribute of looks, such as size, from then on."""
        return False

    def deed_changed(self, at: Reader, attribute: str, values: Values) -> Values:
        """Return such an attribute of a living particle after what the deed has done so far."""
        return values

    def velocity_after(self, at: Reader, velocity: Values) -> Values:
        """Return the velocity that a particle has after the deed, m/s."""
        return velocity

    def apply(self, at: Reader, state: StepState, happening: Happening) -> None:
        """Do it, where the cue happens. at: reads the particle as the step has left it."""
