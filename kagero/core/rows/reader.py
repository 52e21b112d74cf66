"""Readers, through which parts write operations: everything a part reads is a value of a program, wherever that
runs."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from ..formula import Values
from ..program import Builder, Slot
from .view import Owner, View

AXES = ("x", "y", "z")
LUMINANCE = (0.2126, 0.7152, 0.0722)  # of linear sRGB: ITU-R BT.709


class Reader(Protocol):
    """A place at which a part is written: a birth, a step, a stored frame, or an emitter or prop over time.

    newborn: whether a particle is being born here. owner: whose rows these are. view: what they can see.
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
        """Return the values of a row: base, then responses in order, then clamped to the row's range."""

    def source(self, source: Any) -> Values:
        """Return a source's values now: one, or three for a whole vector or colour."""

    def state(self, name: str) -> Values:
        """Return an attribute of the particle: age, lifespan, position, velocity, rotation. SI units, radians."""

    def kept_from_birth(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        """Return `count` values of the particle's birth, as `compute` gives them in the reader of a birth."""

    def previous(self, name: str, count: int, compute: Callable[[Any], Values]) -> Values:
        """Return `count` values at the end of the previous step, as `compute` gives them in a reader."""

    def clip_time(self) -> int:
        """Return the seconds since the clip's first frame."""

    def frame(self) -> int:
        """Return the frame's number, with a fraction between frames."""

    def draw(self, uid: str) -> int:
        """Return the particle's value of a draw."""

    def own(self, uid: str) -> Values:
        """Return an own attribute at the step's start."""

    def masked(self, uid: str, part: str) -> int:
        """Return a mask at the particle: its value, its largest value so far (latched), or the seconds since it first
        passed one half (since)."""

    def mask_value(self, uid: str, point: Values, time: int) -> int:
        """Return a mask's value at a point and time."""

    def parent(self, part: str, count: int) -> Values:
        """Return `count` values of the particle's parent at the particle's birth."""

    def birthplace(self) -> Values:
        """Return, in the reader of a birth, position, normal and (u, v): eight values."""

    def hash(self, name: str) -> int:
        """Return a number in [0, 1) for the particle and a name."""

    def formula(self, text: str, uid: str) -> Values:
        """Return a formula's values. uid: the formula's own, for its noise."""

    def own_seed(self, *names: str) -> Slot[Any]:
        """Return the seed of the emitter or prop for some names."""

    def shared_seed(self, name: str) -> Slot[Any]:
        """Return the seed of noise that the whole effect shares under a name."""


def weighted(b: Builder, values: Values, weights: Values) -> int:
    """Return the weighted sum of three values."""
    x, y, z = (b.op("mul", v, w) for v, w in zip(values, weights, strict=True))
    return b.op("add", b.op("add", x, y), z)


def luminance(b: Builder, colour: Values) -> int:
    """Return the luminance of red, green, blue in linear light."""
    return weighted(b, colour, tuple(b.const(w) for w in LUMINANCE))


def channel(b: Builder, colour: Values, name: str) -> int:
    """Return a component of red, green, blue, alpha, or the luminance in linear light."""
    if name == "luminance":
        return luminance(b, colour[:3])
    return colour[("red", "green", "blue", "alpha").index(name)]
