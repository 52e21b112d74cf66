"""What a push is: something that changes how a particle moves."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from ...formula import Values
from ...kernels.curves import curve_into
from ...rows.example import Example
from ...rows.model import (
    OPTIONAL,
    STRUCTURAL_IF_CHANGED,
    Driven,
    FieldFacts,
    Part,
    Refers,
    Setting,
    Uid,
    fields_of,
    new_rows,
)
from ...rows.reader import Reader
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.slots import table_of
from ...rows.step import Phase, Pushes, StepState
from ...rows.union import OpenUnion
from ...rows.units import METRES, PERCENT, PLAIN
from ..masks.base import OwnCurve
from .space import PushCurve, Space

FADES = 41  # distances at which a falloff is drawn


class PushPart(Part):
    """A kind of push. Each has a uid, so that its rows can be addressed and noise stays put when others change.

    share: how much of it acts, of all that it does.
    """

    band, stage = "motion", "live"
    rows_last: ClassVar[tuple[str, ...]] = ("share",)

    kind: str
    uid: Uid
    muted: bool = False
    share: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Share", PERCENT, 0, 1, 1, 1.0, "How much of it acts: 0 % nothing, 100 % all of it."),
    ] = number(1)

    @classmethod
    def rows_key(cls) -> str:
        return f"forces.{PUSHES.tags(cls)[0]}"

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": PUSHES.tags(cls)[0], **new_rows(cls)}

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = facts.driven
        return replace(driven, label=f"{self.label} share") if driven is not None and facts.name == "share" else driven

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase == "push":
            self.act(at, state.pushes)

    def act(self, at: Reader, pushes: Pushes) -> None:
        """Add what it does to what all pushes do: its share of it, and nothing where it is muted."""
        if self.muted:
            return
        at.builder.row = f"forces.{self.uid}"
        if not differs_from_default(self.share, 1.0):
            self.write(at, pushes)
            return
        alone = pushes.apart()
        self.write(at, alone)
        pushes.take(alone, self.row(at, "share")[0])

    def strength_row(self) -> str:
        """Return the row that says how strongly it acts: a region multiplies that."""
        return next(facts.name for facts in fields_of(type(self)) if facts.driven and facts.name not in self.rows_last)

    def row(self, at: Reader, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.row(f"forces.{self.uid}.{field}")

    def write(self, at: Reader, pushes: Pushes) -> None:
        """Add what it does to a particle; it reads place, velocity and time as `pushes` has them. Nothing, of what acts
        in other phases alone."""


class PlacedPush(PushPart):
    """A push with a place, or a pattern, in the world or in a prop's space, with which it moves, turns and grows."""

    space: Annotated[
        Uid | None,
        Refers(
            "props",
            "placed",
            "{name} stands in the space of a prop that is not there.",
            "Choose another, or the world.",
        ),
        Setting("in the space of", "It moves, turns and grows with a prop.", nothing="the world"),
    ] = None

    def frame(self, at: Reader, pushes: Pushes) -> Space:
        """Return the space that it stands in."""
        return Space(at.builder, self.space, pushes.time)


class FadingPush(PlacedPush):
    """A push whose strength depends on a distance, and that eases off within a core, so that nothing is flung."""

    rows_last = ("core", "reach", "power", "share")
    example = Example(variants=({"fades": "power"},))

    fades: Annotated[
        Literal["even", "power", "curve"],
        Setting(
            "Over the distance",
            "How its strength depends on the distance.",
            choices=(("even", "alike everywhere"), ("power", "by a power"), ("curve", "by a curve, up to the reach")),
        ),
    ] = "even"
    core: Annotated[
        NumberRow,
        Driven(
            "Core", METRES, 0, 10_000, 1, 0.1, "Within this distance it eases off to nothing, so that nothing is flung."
        ),
    ] = number(0.1)
    reach: Annotated[
        NumberRow,
        Driven(
            "Reach",
            METRES,
            0.001,
            10_000,
            4,
            1.0,
            "The distance at which it is as strong as it says; a curve ends there.",
        ),
    ] = number(1)
    power: Annotated[
        NumberRow,
        Driven(
            "Power",
            PLAIN,
            -8,
            8,
            4,
            -1.0,
            "By which power of the distance its strength goes: -2 as the sun's pull, 1 as a spring's.",
        ),
    ] = number(-1)
    curve: Annotated[OwnCurve, OPTIONAL, Setting("Curve", "Its strength from no distance to the reach.")] = None

    def unused(self) -> frozenset[str]:
        idle = {"even": {"reach", "power", "curve"}, "power": {"curve"}, "curve": {"power"}}[self.fades]
        return super().unused() | frozenset(idle)

    def driven(self, facts: FieldFacts) -> Driven | None:
        driven = super().driven(facts)
        named = driven is not None and facts.name in ("core", "reach", "power")
        return replace(driven, label=f"{self.label} {driven.label.lower()}") if named and driven is not None else driven

    def falloff(self) -> tuple[float, tuple[float, ...]]:
        """Return over which distance (m) its strength is drawn, and that strength from nought to there, as factors; by
        the bases of its rows."""
        core, reach, power = (
            float(row.base) if isinstance(row.base, (int, float)) else 0.0
            for row in (self.core, self.reach, self.power)
        )
        span = max(4 * core, 1.0) if self.fades == "even" else 2 * max(reach, 1e-3)
        distance = np.linspace(0, span, FADES)
        soft = np.maximum(np.hypot(distance, core), 1e-9)
        factor = np.ones(FADES)
        if self.fades == "power":
            factor = (soft / max(reach, 1e-3)) ** power
        elif self.fades == "curve":
            share = np.clip(distance / max(reach, 1e-3), 0, 1).astype(np.float32)
            out = 1 - share
            if self.curve is not None:
                curve_into(table_of(self.curve.keys), share, out)
            factor = out.astype(np.float64)
        falloff = np.nan_to_num(factor * distance / soft)
        return span, tuple(float(f"{value:.4g}") for value in falloff)

    def guided(self) -> dict[str, Any]:
        span, fade = self.falloff()
        return {"span": span, "fade": fade}

    def fade(self, at: Reader, distance: int) -> tuple[int, int]:
        """Return the distance with the core in it, by which a gap is divided for its direction, and the strength there
        as a factor."""
        b = at.builder
        (core,) = self.row(at, "core")
        soft = b.op("max", b.op("length", distance, core, b.const(0)), b.const(1e-9))
        if self.fades == "even":
            return soft, b.const(1)
        (reach,) = self.row(at, "reach")
        if self.fades == "power":
            return soft, b.op("pow", b.op("div", soft, reach), self.row(at, "power")[0])
        share = b.op("clamp", b.op("div", distance, reach))
        return soft, b.op("sub", b.const(1), share) if self.curve is None else b.op(
            "curve", share, attrs=(PushCurve(at.owner, self.uid),)
        )


PUSHES = OpenUnion("push", PushPart)
