"""A particle at its birth: where, how it sets off, and whether it comes to be."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from ..catalog import in_use
from ..effect import SourcedBase
from .contexts import ROWS_READ, Context
from .formulas import Values
from .masks import matrix, weighted
from .slots import BirthsOnProp, OfProp

# what the state keeps of a birth on a prop: the place it is bound to (`props.emission`), and how far from it
BINDING = ("bind.face", "bind.b1", "bind.b2", "bind.ox", "bind.oy", "bind.oz")
# what the state keeps of a parent, as it was at the birth
PARENT = (*(f"parent.{name}.{i}" for name in ("position", "velocity", "colour") for i in range(3)),
          *(f"parent.{name}" for name in ("age", "life", "size", "speed", "opacity")))  # fmt: skip


class BirthContext(Context):
    """A particle at its exact birth: placed, then launched. Inputs: key, birth_time."""

    name = "birth"

    def attribute(self, kind: str) -> Values:
        b = self.builder
        if kind == "clip_time":
            return (b.input("birth_time"),)
        if kind in ("age", "life"):
            return (b.const(0),)
        if kind in ROWS_READ:
            return self.row(ROWS_READ[kind])
        if kind == "brightness":
            return (self.brightness(),)
        if kind == "number":
            return (b.op("number", b.input("key")),)
        if kind == "birth_frame":
            return (self.frame(),)
        if kind in ("position", "birth_position"):
            return self.place()[:3]
        if kind == "height":
            return (self.place()[1],)
        if kind == "birth_normal":
            return self.place()[3:6]
        if kind in ("birth_u", "birth_v"):
            return (self.place()[6 if kind == "birth_u" else 7],)
        if kind == "velocity":
            return self.velocity()
        if kind == "speed":
            return (b.op("length", *self.velocity()),)
        if kind == "rotation":
            return self.row("births.rotation")
        raise AssertionError(kind)

    def own(self, uid: str) -> Values:
        return self.row(f"own.{uid}.start")

    def kept(self, name: str, source: Any) -> Values:
        return self.source(source)

    def previous(self, name: str, count: int, compute: Callable[[Context], Values]) -> Values:
        """At birth there is no step before: the value is what it starts from, with all live rows at their bases."""
        return compute(BeforeContext(self))

    def step_seconds(self) -> int:
        return self.builder.const(0)

    def masked(self, uid: str, part: str) -> int:
        return self.builder.const(0) if part == "since" else super().masked(uid, part)

    def parent(self, part: str, count: int) -> Values:
        return tuple(self.builder.input(f"parent.{part}" if count == 1 else f"parent.{part}.{i}") for i in range(count))

    def on_prop(self) -> Values:
        """Return all that a birth on a prop gives, in the order of `operations.stage.BORN`."""
        b = self.builder
        given = (*(self.hash(f"place {i}") for i in range(3)), self.row("births.place.offset")[0], b.input("birth_time"))
        return b.multi("prop_born", *given, attrs=(BirthsOnProp(self.owner),))

    def binding(self) -> dict[str, int]:
        """Return what a birth on a prop, or from a parent, is remembered by: all else of it follows."""
        if self.emitter.births.place.kind == "prop":
            return dict(zip(BINDING, self.on_prop()[8:14], strict=True))
        if self.emitter.births.place.kind == "particles":
            return {name: self.builder.input(name) for name in PARENT}
        return {}

    def kept_births(self) -> int | None:
        """Return 1 for births that come to be, else 0; None where all do."""
        b = self.builder
        found = self.on_prop()[17] if self.emitter.births.place.kind == "prop" else None
        if not in_use(self.rows["births.keep"]):
            return found
        keep = b.op("less", self.hash("keep"), self.row("births.keep")[0])
        return keep if found is None else b.op("mul", keep, found)

    def place(self) -> Values:
        """Return where a particle is born, which way the surface faces there, and (u, v): eight values."""
        b, place = self.builder, self.emitter.births.place
        if place.kind == "prop":
            return self.on_prop()[:8]
        if place.kind == "particles":
            return (*self.parent("position", 3), b.const(0), b.const(1), b.const(0), b.const(0), b.const(0))
        centre = self.row("births.place.centre")
        zero, one, half = b.const(0), b.const(1), b.const(0.5)
        up = (zero, one, zero)
        if place.kind == "point":
            return (*centre, *up, zero, zero)
        u, v, w = (self.hash(f"place {i}") for i in range(3))
        offset: Values
        normal: Values
        across: Values
        if place.kind == "box":
            size = self.row("births.place.size")
            if place.on == "surface":
                on_face = b.multi("box_surface", *size, u, v, w)
                offset, normal, across = on_face[:3], on_face[3:], (v, w)
            else:
                offset = tuple(b.op("mul", s, b.op("sub", x, half)) for s, x in zip(size, (u, v, w), strict=True))
                normal, across = up, (u, w)
        else:
            (radius,) = self.row("births.place.radius")
            turn = b.op("mul", u, b.const(6.283185307179586))
            cosine, sine = b.op("cos", turn), b.op("sin", turn)
            if place.kind == "disc":
                share = one if place.on == "surface" else b.op("sqrt", v)
                reach = b.op("mul", radius, share)
                offset = (b.op("mul", cosine, reach), zero, b.op("mul", sine, reach))
                normal, across = up, (u, share)
            else:
                share = one if place.on == "surface" else b.op("cbrt", w)
                reach = b.op("mul", radius, share)
                y = b.op("sub", b.op("mul", v, b.const(2)), one)
                flat = b.op("sqrt", b.op("sub", one, b.op("mul", y, y)))
                normal = (b.op("mul", cosine, flat), y, b.op("mul", sine, flat))
                ring = b.op("mul", reach, flat)
                offset = (b.op("mul", cosine, ring), b.op("mul", y, reach), b.op("mul", sine, ring))
                across = (u, v)
        return (*(b.op("add", c, o) for c, o in zip(centre, offset, strict=True)), *normal, *across)

    def velocity(self) -> Values:
        b, launch = self.builder, self.emitter.births.launch
        (cone,), direction = self.row("births.launch.cone"), self.aim()
        unit = b.multi("cone_direction", *direction, cone, self.hash("launch 0"), self.hash("launch 1"))
        speed = self.guided(unit) if launch.aim == "guided" else self.row("births.launch.speed")[0]
        own = tuple(b.op("mul", d, speed) for d in unit)
        place = self.emitter.births.place.kind
        if place not in ("prop", "particles") or not in_use(self.rows["births.launch.inherit"]):
            return own
        (share,) = self.row("births.launch.inherit")
        moving = self.on_prop()[14:17] if place == "prop" else self.parent("velocity", 3)
        return tuple(b.op("add", v, b.op("mul", m, share)) for v, m in zip(own, moving, strict=True))

    def aim(self) -> Values:
        """Return the direction of the launch, of any length."""
        b, launch, place = self.builder, self.emitter.births.launch, self.emitter.births.place
        if launch.aim == "normal":
            return self.place()[3:6]
        if launch.aim in ("away", "guided"):
            away = tuple(b.op("sub", p, o) for p, o in zip(self.place()[:3], self.row("births.launch.origin"), strict=True))
            here = b.op("less", b.op("length", *away), b.const(1e-9))
            return tuple(b.op("select", here, n, a) for n, a in zip(self.out_of_the_origin(), away, strict=True))
        direction = self.row("births.launch.direction")
        if launch.space == "world" or place.kind != "prop":
            return direction
        m = matrix(b, place.prop, b.input("birth_time"))
        return tuple(weighted(b, direction, m[4 * i : 4 * i + 3]) for i in range(3))

    def out_of_the_origin(self) -> Values:
        """Return where to a particle sets off that is born on the very origin it flies from: along the normal, or where its own draw says."""
        b, place = self.builder, self.emitter.births.place
        if place.kind not in ("point", "particles") and getattr(place, "on", "") == "surface" and place.kind != "disc":
            return self.place()[3:6]
        straight = (b.const(0), b.const(1), b.const(0))
        return b.multi("cone_direction", *straight, b.const(math.pi), self.hash("origin 0"), self.hash("origin 1"))

    def guided(self, unit: Values) -> int:
        """Return the speed of a guided burst: multiplier x distance to the guide + offset, never below nought."""
        b, guide = self.builder, self.emitter.births.launch.guide
        away = b.op("prop_reach", *self.place()[:3], *unit, b.input("birth_time"), attrs=(OfProp(guide),))
        (times,), (plus,) = self.row("births.launch.multiplier"), self.row("births.launch.offset")
        return b.op("max", b.op("add", b.op("mul", away, times), plus), b.const(0))


class BeforeContext(BirthContext):
    """Where a particle starts from: as at its birth, but live rows stand at their bases (their defaults, where a source is the base)."""

    name = "before"

    def __init__(self, birth: BirthContext):
        super().__init__(birth.scope, birth.rows, birth.builder, birth._open)
        self.birth = birth

    def row(self, address: str) -> Values:
        placed = self.rows[address]
        if placed.spec.stage == "birth":
            return self.birth.row(address)
        base = placed.spec.default if isinstance(placed.row.base, SourcedBase) else placed.row.base
        numbers = base if isinstance(base, tuple) else (base,)
        if isinstance(placed.row.base, SourcedBase):
            return tuple(self.builder.const(x) for x in numbers)
        return tuple(self.base(address, i) for i in range(len(numbers)))

    def place(self) -> Values:
        return self.birth.place()

    def velocity(self) -> Values:
        return self.birth.velocity()

    def draw(self, uid: str) -> int:
        return self.birth.draw(uid)


class RecalledBirth(BirthContext):
    """A birth on a prop as a stored frame recalls it: from the place that the particle is bound to."""

    def on_prop(self) -> Values:
        b = self.builder
        return b.multi("prop_bound", *(b.input(name) for name in BINDING), b.input("birth_time"), attrs=(BirthsOnProp(self.owner),))
