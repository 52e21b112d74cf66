"""What a mask is: a number from 0 to 1 at every point and time, from the clip, dials and props alone.

The distance to the edge is in metres of the world, negative within; a mask goes from 1 at the edge to 0 at the end of
the falloff outward.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal, Protocol

import numpy as np
from pydantic import Field

from ...errors import Finding
from ...formula import FormulaReader, Values
from ...program import Builder, Group, PropQuery, Slot
from ...rows.curves import Curve
from ...rows.model import DISPLAY_ONLY, OPTIONAL, STRUCTURAL_IF_CHANGED, Driven, Refers, Setting, Uid, new_rows
from ...rows.responses import NumberRow, VectorRow, differs_from_default, number, vector
from ...rows.slots import DocumentView, OfProp, Seed, table_of
from ...rows.union import OpenUnion
from ...rows.units import METRES, METRES_PER_SECOND, PLAIN
from ...rows.view import find_thing
from ..props.base import PropPart, StandingProp


class SpaceReader(Protocol):
    """Where a mask is written: a program, and the rows of the effect's props."""

    builder: Builder

    def prop_row(self, uid: str, name: str, time: int) -> Values:
        """Return a row of a prop at a time."""

    def mask_value(self, uid: str, point: Values, time: int) -> int:
        """Return another mask's value."""

    def in_space(self, point: Values, time: int) -> FormulaReader:
        """Return the reader of a formula over space, at a point and time."""

    def space_formula(self, text: str) -> Any:
        """Return a formula of position, clip time and dials, checked."""


@dataclass(frozen=True)
class Spot:
    """A point and time at which a mask is written."""

    reader: SpaceReader
    point: Values
    time: int

    @property
    def builder(self) -> Builder:
        return self.reader.builder

    def matrix(self, uid: str) -> Values:
        """Return where a prop stands: twelve values, three rows of four; of all that it follows too."""
        return self.builder.multi("prop_matrix", self.time, attrs=(OfProp(uid),))

    def painted(self, uid: str) -> int:
        """Return the share that is painted onto a prop at its nearest place."""
        return self.builder.op("prop_painted", *self.point, self.time, attrs=(PaintedOn(uid),))

    def sample(self, uid: str) -> Values:
        """Return distance, u, v, red, green, blue, alpha of the nearest place of a prop."""
        return self.builder.multi("prop_sample", *self.point, self.time, attrs=(OfProp(uid),))


class MaskPart(PropPart):
    """What all masks have in common. needs: the property that a thing must have to be masked by its shape, if any."""

    mask, placed, solid, holds, dissolves, tinted, rendered = True, False, False, False, False, False, False
    row_order = (
        "position",
        "rotation",
        "scale",
        "radius",
        "size",
        "falloff",
        "level",
        "softness",
        "amplitude",
        "edge",
        "noise_scale",
        "noise_drift",
    )
    needs: ClassVar[str] = ""  # for the catalog: solid, placed, picture, masks

    kind: Literal["mask"]
    shape: str
    shown: Annotated[
        Literal["lines", "hidden"],
        DISPLAY_ONLY,
        Setting("Shown", "Whether the stage shows it.", choices=(("lines", "as lines"),)),
    ] = "lines"
    invert: Annotated[bool, Setting("inverted", "1 where it would be 0.")] = False

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {"kind": "mask", "shape": MASKS.tags(cls)[0], **new_rows(cls)}

    def summary(self) -> str:
        return f"mask: {self.label.lower()}{', inverted' if self.invert else ''}"

    def row(self, at: Spot, field: str) -> Values:
        """Return the values of one of its rows."""
        return at.reader.prop_row(self.uid, field, at.time)

    def plain_value(self, at: Spot) -> int:
        """Return its value, 0 to 1, before it is inverted."""
        raise NotImplementedError

    def value(self, at: Spot) -> int:
        """Return its value, 0 to 1."""
        value = self.plain_value(at)
        return at.builder.op("sub", at.builder.const(1), value) if self.invert else value

    def curved(self, at: Spot, value: int) -> int:
        """Return a share from 0 to 1 through the mask's own curve, where it has one."""
        b = at.builder
        held = b.op("clamp", value)
        if getattr(self, "curve", None) is None:
            return held
        return b.op("clamp", b.op("curve", held, attrs=(MaskCurve(self.uid),)))


@dataclass(frozen=True)
class PaintedOn(Slot[DocumentView]):
    """What is asked of a prop that something is painted onto."""

    prop: str
    group: ClassVar[Group] = "queries"

    def read(self, document: DocumentView) -> PropQuery:
        query = document.query(self.prop)
        paint = repr([stroke for stroke in document.thing(("prop", self.prop)).paint if stroke.on])
        return PropQuery(query.prop, f"{query.digest} {hashlib.blake2b(paint.encode(), digest_size=12).hexdigest()}")


@dataclass(frozen=True)
class MaskCurve(Slot[DocumentView]):
    """The curve of a mask, as a table."""

    mask: str
    group: ClassVar[Group] = "curves"

    def read(self, document: DocumentView) -> np.ndarray:
        return table_of(document.thing(("prop", self.mask)).curve.keys)


OwnCurve = Annotated[
    Curve | None, Field(description="Of the falloff, from its outer end to its inner; without one, straight.")
]
Falloff = Annotated[
    NumberRow,
    Driven(
        "Falloff",
        METRES,
        0,
        10_000,
        1,
        0.0,
        "Over how many metres outward the mask goes from 1 to 0; 0 is a sharp edge.",
        always=True,
    ),
]
Edge = Annotated[
    NumberRow,
    STRUCTURAL_IF_CHANGED,
    Driven(
        "Broken edge",
        METRES,
        0,
        10_000,
        0.5,
        0.0,
        "By how many metres noise moves the mask's edge in and out.",
        always=True,
    ),
]
NoiseScale = Annotated[
    NumberRow, Driven("Noise scale", METRES, 0.001, 10_000, 2, 0.5, "Size of the noise's features.", always=True)
]
NoiseDrift = Annotated[
    NumberRow,
    Driven(
        "Noise drift", METRES_PER_SECOND, 0, 10_000, 1, 0.0, "How fast the noise changes; 0 freezes it.", always=True
    ),
]
Radius = Annotated[
    NumberRow,
    Driven(
        "Radius", METRES, 0, 10_000, 2, 0.5, "How far the mask reaches; of a mesh, how much it is grown.", always=True
    ),
]
Size = Annotated[
    VectorRow, Driven("Size", METRES, -10_000, 10_000, 2, (1.0, 1.0, 1.0), "Width, height and depth.", always=True)
]
Level = Annotated[
    NumberRow, Driven("Level", PLAIN, -1_000, 1_000, 1, 0.5, "The value at which the mask is one half.", always=True)
]
Softness = Annotated[
    NumberRow,
    Driven(
        "Softness",
        PLAIN,
        0,
        1_000,
        1,
        1.0,
        "Between how much below and above the level the mask goes from 0 to 1; 0 is a sharp edge.",
        always=True,
    ),
]
SIZE = vector(1.0, 1.0, 1.0)


def noise(mask: MaskPart, at: Spot) -> int:
    """Return a mask's own noise, -1 to 1."""
    (scale,), (drift,) = mask.row(at, "noise_scale"), mask.row(at, "noise_drift")
    return at.builder.op("noise", *at.point, at.time, scale, drift, attrs=(Seed((f"mask {mask.uid}",)), 2))


class EdgedMask(MaskPart):
    """A mask with an edge: it falls off outward, and noise may break its edge."""

    falloff: Falloff = number(0)
    edge: Edge = number(0)
    noise_scale: NoiseScale = number(0.5)
    noise_drift: NoiseDrift = number(0)
    centred: Annotated[
        bool,
        Setting(
            "centred on the edge",
            "Half of the falloff lies within the edge, so that the mask is one half where it is drawn.",
        ),
    ] = False
    curve: Annotated[OwnCurve, OPTIONAL, Setting("Curve", "Its own curve from 0 to 1.")] = None

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "falloff": {"base": 0.1, "responses": []}}

    def distance(self, at: Spot) -> int:
        """Return the metres from the point to the mask's edge, negative within."""
        raise NotImplementedError

    def plain_value(self, at: Spot) -> int:
        b = at.builder
        away = self.distance(at)
        if differs_from_default(self.edge, 0.0):
            away = b.op("add", away, b.op("mul", self.row(at, "edge")[0], noise(self, at)))
        (falloff,) = self.row(at, "falloff")
        if self.centred:
            half = b.op("mul", falloff, b.const(0.5))
            return self.curved(at, b.op("share", b.op("neg", away), b.op("neg", half), half))
        return self.curved(at, b.op("share", b.op("neg", away), b.op("neg", falloff), b.const(0)))


class StandingMask(EdgedMask, StandingProp):
    """A mask that stands somewhere by itself."""


class LevelledMask(MaskPart):
    """A mask of a value over space: one half where the value is at a level, over a softness about it."""

    level: Level = number(0.5)
    softness: Softness = number(1)
    curve: Annotated[OwnCurve, OPTIONAL, Setting("Curve", "Its own curve from 0 to 1.")] = None

    def over(self, at: Spot) -> int:
        """Return the value over space."""
        raise NotImplementedError

    def plain_value(self, at: Spot) -> int:
        b = at.builder
        x = self.over(at)
        (level,), (soft,) = self.row(at, "level"), self.row(at, "softness")
        half = b.op("mul", soft, b.const(0.5))
        return self.curved(at, b.op("share", x, b.op("sub", level, half), b.op("add", level, half)))


class MaskOf(MaskPart):
    """A mask of something else. of_fits: the property that it has."""

    of_fits: ClassVar[str] = ""
    of_needs: ClassVar[str] = ""

    of: Annotated[Uid | None, Refers("props"), Setting("of", "What the mask is of.", nothing="choose one")] = None

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "of": None}

    def possible(self, effect: Any, thing: Any) -> str:
        return (
            ""
            if self.named_by("of", effect, thing)
            else f"There is no {self.of_needs.removeprefix('a ')} it could be of."
        )

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        if field != "of":
            return super().named_by(field, effect, thing)
        return [prop for prop in effect.props if not prop.mask and getattr(prop, self.of_fits)]

    def findings(self, effect: Any, where: str) -> Iterator[Finding]:
        of = find_thing(effect.props, self.of or "")
        if of is None or of.mask or not getattr(of, self.of_fits):
            yield Finding("link", f"{where}.of", f"{self.name} needs {self.of_needs}.", "Choose one.")


class JoinedMask(MaskPart):
    """A mask that joins others. Source: Zadeh, "Fuzzy sets", 1965: union is the larger, intersection the smaller,
    difference the smaller of one and what the other leaves."""

    needs = "masks"

    masks: Annotated[list[Uid], Refers("props", "mask"), Setting("joins", "The masks that it joins.")] = Field(
        default=[], max_length=8
    )

    def parts(self, at: Spot) -> list[int]:
        """Return the values of the masks it joins."""
        return [at.reader.mask_value(uid, at.point, at.time) for uid in self.masks]

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if self.named_by("masks", effect, thing) else "There is no other mask yet."

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        if field != "masks":
            return super().named_by(field, effect, thing)
        return [prop for prop in effect.props if prop.mask and not _joins(effect, prop, thing.uid)]

    def findings(self, effect: Any, where: str) -> Iterator[Finding]:
        if not self.masks:
            yield Finding("link", f"{where}.masks", f"{self.name} joins no masks.", "Choose those it joins.")
        waiting, seen = list(self.masks), set()
        while waiting:
            uid = waiting.pop()
            other = find_thing(effect.props, uid)
            if other is None or not other.mask:
                yield Finding(
                    "link", f"{where}.masks", f"{self.name} joins a mask that is not there.", "Choose another."
                )
            elif other is self:
                yield Finding(
                    "circle", f"{where}.masks", f"{self.name} joins itself, through others.", "Take one of them out."
                )
                break
            elif uid not in seen:
                seen.add(uid)
                waiting.extend(getattr(other, "masks", ()))


def _joins(effect: Any, mask: Any, uid: str) -> bool:
    """Return whether a mask is one, or joins it, through however many others."""
    waiting, seen = [mask], set()
    while waiting:
        here = waiting.pop()
        if here is not None and here.uid == uid:
            return True
        if here is not None and here.uid not in seen:
            seen.add(here.uid)
            waiting.extend(find_thing(effect.props, other) for other in getattr(here, "masks", ()))
    return False


MASKS = OpenUnion("mask", MaskPart, "shape")
