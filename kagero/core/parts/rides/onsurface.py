"""What rides on the surface of a mesh have in common."""

from __future__ import annotations

from typing import Any

from ...formula import Values
from ...rows.reader import Reader
from .base import PropRide, Ridden

MOMENT = 1 / 240  # seconds before and after, for the velocity of a place


class SurfaceRidePart(PropRide):
    """A ride on the surface of a mesh: it tells where it is by (u, v), which way the surface faces there, and how that
    place moves."""

    tells = ("u", "v", "normal", "released")

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return (
            [prop for prop in effect.props if prop.guiding]
            if field == "prop"
            else super().named_by(field, effect, thing)
        )

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.guiding for prop in effect.props) else "There is no prop with a surface."

    def found(self, at: Reader, kept: dict[str, int], time: int | None = None) -> Values:
        """Return place (3), normal (3), u and v as they are ridden, and what else the kind asks for. time: another than
        the reader's."""
        raise NotImplementedError

    def ridden(self, at: Reader, kept: dict[str, int]) -> Ridden:
        return Ridden(self.found(at, kept)[:3])

    def ride_columns(self, at: Reader) -> dict[str, Values]:
        """Return u and v as they are ridden."""
        if self.prop is None:
            return {name: (at.builder.const(0),) for name in ("u", "v")}
        found = self.found(at, self.keeps(at))
        return {"u": found[6:7], "v": found[7:8]}

    def normal(self, at: Reader) -> Values:
        """Return which way the surface faces there."""
        b = at.builder
        return self.found(at, self.keeps(at))[3:6] if self.prop is not None else (b.const(0), b.const(1), b.const(0))

    def velocity(self, at: Reader) -> Values:
        """Return how the place itself moves, m/s: between a little before and a little after."""
        b = at.builder
        if self.prop is None:
            return b.const(0), b.const(0), b.const(0)
        time, kept, h = at.clip_time(), self.keeps(at), b.const(MOMENT)
        after, before = (self.found(at, kept, b.op(which, time, h))[:3] for which in ("add", "sub"))
        return tuple(b.op("mul", b.op("sub", x, y), b.const(0.5 / MOMENT)) for x, y in zip(after, before, strict=True))
