"""Crawling on a surface."""

from __future__ import annotations

from typing import Annotated, Literal

from ...formula import Values
from ...rows.example import Example
from ...rows.model import Driven, Setting
from ...rows.reader import Reader
from ...rows.responses import NumberRow, number
from ...rows.step import RIGID_GRIP, Phase, StepState
from ...rows.units import METRES
from .base import Ridden
from .onsurface import SurfaceRidePart

FOOT = ("face", "b1", "b2")


class CrawlRide(SurfaceRidePart):
    """Its velocity is kept in the surface of a mesh: it goes straight on from face to face, and pushes act along the
    surface alone.

    It begins at the place nearest to where it is born. Straight on over an edge is as on the two faces laid flat (a
    geodesic: Polthier and Schmies, "Straightest geodesics on polyhedral surfaces", 1998).
    """

    label = "Crawl"
    places = ("out",)
    example = Example(beside=("place:prop",))
    compiles = "crawling"

    kind: Literal["crawl"] = "crawl"
    edge: Annotated[
        Literal["hold", "turn", "release"],
        Setting(
            "At an edge",
            "What a particle does at an open edge of the mesh.",
            choices=(("hold", "goes along it"), ("turn", "turns back"), ("release", "is let go")),
        ),
    ] = "hold"
    out: Annotated[
        NumberRow,
        Driven(
            "Stand-off",
            METRES,
            -10_000,
            10_000,
            1,
            0.0,
            "How far off the surface, along its normal; negative is beneath.",
        ),
    ] = number(0)

    speed_of_place = False

    def keeps(self, at: Reader) -> dict[str, int]:
        if not at.newborn:
            return {name: self.kept(at, name) for name in FOOT}
        foot = at.builder.multi("prop_footing", *at.state("position"), at.clip_time(), attrs=self.asked(at))
        return dict(zip(FOOT, foot, strict=True))

    def found(self, at: Reader, kept: dict[str, int], time: int | None = None) -> Values:
        """Return place (3), normal (3), u and v where it stands."""
        foot = (kept[name] for name in FOOT)
        return at.builder.multi(
            "prop_footed", *foot, self.row(at, "out")[0], at.clip_time() if time is None else time, attrs=self.asked(at)
        )

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        if phase != "hold" or not self.acts(at):
            return
        b = at.builder
        b.row = f"rides.{self.uid}"
        shift = tuple(b.op("sub", x, x0) for x, x0 in zip(state.position, state.before[0], strict=True))
        foot = tuple(self.kept(at, name) for name in FOOT)
        went = b.multi(
            "prop_walked",
            *foot,
            self.row(at, "out")[0],
            *shift,
            *state.velocity,
            state.dt,
            at.clip_time(),
            attrs=self.asked(at),
        )
        keeps = dict(zip(FOOT, went[6:9], strict=True))
        grip = self.hold(at, state, Ridden(went[:3], went[9] if self.edge == "release" else None), keeps)
        # held fast it keeps its speed along the surface, which is not how far its place has come in a straight line
        full = b.op("less_equal", b.const(RIGID_GRIP), grip)
        state.velocity = tuple(
            b.op("guard", b.op("select", full, v, w), w) for v, w in zip(went[3:6], state.velocity, strict=True)
        )
