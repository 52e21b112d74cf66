"""How parts write operations: what they read is values of a program, wherever that runs."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from ..formula import Values
from ..program import Builder, Slot
from .view import Owner, View

AXES = ("x", "y", "z")
LUMINANCE = (0.2126, 0.7152, 0.0722)  # of linear sRGB: ITU-R BT.709


class Reader(Protocol):
    """One place where a part is written: a birth, a step, a stored frame, an emitter or prop as time goes.

    newborn: whether a particle is just being born here. owner: whose rows these are; view: what they see.
    """

    @property
    def builder(self) -> Builder: ...
    @property
    def owner(self) -> Owner: ...
    @property
    def view(self) -> View: ...
    @property
    def newborn(self) -> bool: ...

    def row(self, address: str) -> Values:
        """Return the values of a row: base, then its responses in order, then held to its range."""

    def source(self, source: Any) -> Values:
        """Return a source's values as they are now: one, or three for a whole vector or colour."""

    def state(self, name: str) -> Values:
        """Return what a particle has: age, lifespan, position, velocity, rotation. SI units, radians."""

    def settled(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        """Return what was settled at the particle's birth: `count` values, as compute gives them in the reader of a birth."""

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        """Return what a value was at the end of the step before: `count` values, as compute gives them in a reader."""

    def clip_time(self) -> int:
        """Return seconds since the clip's first frame."""

    def frame(self) -> int:
        """Return the frame's number, with a fraction between frames."""

    def draw(self, uid: str) -> int:
        """Return what a draw gave the particle."""

    def own(self, uid: str) -> Values:
        """Return an own attribute as it stands at the step's start."""

    def masked(self, uid: str, part: str) -> int:
        """Return a mask where the particle is: its value, the most it ever was (latched), or the seconds since it held (since)."""

    def mask_value(self, uid: str, point: Values, time: int) -> int:
        """Return a mask's value at a point and time."""

    def parent(self, part: str, count: int) -> Values:
        """Return what the particle's parent was at its birth: `count` values."""

    def birthplace(self) -> Values:
        """Return, in the reader of a birth, place, normal and (u, v): eight values."""

    def hash(self, name: str) -> int:
        """Return a number in [0, 1) that belongs to the particle and this name."""

    def formula(self, text: str, uid: str) -> Values:
        """Return what a formula gives; uid: its own, for its noise."""

    def own_seed(self, *names: str) -> Slot[Any]:
        """Return the seed that belongs to the emitter or prop and these names."""

    def shared_seed(self, name: str) -> Slot[Any]:
        """Return the seed of noise that is the same under a name for all of the effect."""


def weighted(b: Builder, values: Values, weights: Values) -> int:
    """Return the sum of three values, each times its weight."""
    x, y, z = (b.op("mul", v, w) for v, w in zip(values, weights, strict=True))
    return b.op("add", b.op("add", x, y), z)


def luminance(b: Builder, colour: Values) -> int:
    """Return the luminance of red, green, blue in linear light."""
    return weighted(b, colour, tuple(b.const(w) for w in LUMINANCE))


def channel(b: Builder, colour: Values, name: str) -> int:
    """Return one value of red, green, blue, alpha: a component, or the luminance in linear light."""
    if name == "luminance":
        return luminance(b, colour[:3])
    return colour[("red", "green", "blue", "alpha").index(name)]
