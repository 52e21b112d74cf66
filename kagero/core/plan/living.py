"""A living particle: in a step, and on a stored frame."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..catalog import in_use, is_plain
from ..effect import BOUNDS
from .birth import BirthContext, RecalledBirth
from .contexts import AXES, ROWS_READ, Context, EmitterContext
from .formulas import Values
from .masks import mask_value, matrix, weighted
from .slots import BirthsOnProp, CameraValue, Seed

# what was settled at birth, and how many values it has
_BORN = {"birth_frame": 1, "birth_u": 1, "birth_v": 1, "birth_position": 3, "birth_normal": 3}


class LivingContext(Context):
    """A living particle. Inputs: key, age, lifespan, position, velocity, rotation, own attributes, time."""

    def born(self, name: str, count: int, compute: Callable[[BirthContext], Values]) -> Values:
        """Return what was settled at birth: `count` values, as `compute` gives them there."""
        raise NotImplementedError

    def attribute(self, kind: str) -> Values:
        b = self.builder
        if kind == "clip_time":
            return (b.input("time"),)
        if kind in ("age", "lifespan", "rotation"):
            return (b.input(kind),)
        if kind == "life":
            return (b.op("clamp", b.op("share", b.input("age"), b.const(0), b.input("lifespan"))),)
        if kind in ROWS_READ:
            return self.row(ROWS_READ[kind])
        if kind == "brightness":
            return (self.brightness(),)
        if kind == "number":
            return (b.op("number", b.input("key")),)
        if kind == "height":
            return (b.input("position.y"),)
        if kind in ("position", "velocity"):
            return tuple(b.input(f"{kind}.{axis}") for axis in AXES)
        if kind == "speed":
            return (b.op("length", *(b.input(f"velocity.{axis}") for axis in AXES)),)
        if kind in _BORN:
            return self.born(kind, _BORN[kind], lambda birth: birth.attribute(kind))
        raise AssertionError(kind)

    def masked(self, uid: str, part: str) -> int:
        """Return a mask's value now; of `latched` and `since`, what was so at the end of the step before."""
        b = self.builder
        if part == "value":
            return super().masked(uid, part)
        latched = b.input(f"latch.{uid}")
        if part == "latched":
            return latched
        return b.op("select", b.op("less", latched, b.const(0.5)), b.const(0), b.op("sub", b.input("time"), b.input(f"touched.{uid}")))

    def parent(self, part: str, count: int) -> Values:
        return self.born(f"parent.{part}", count, lambda birth: birth.parent(part, count))

    def row(self, address: str) -> Values:
        value = self._row(address)
        if self.emitter.births.place.kind != "particles" or address not in ("look.size", "look.colour"):
            return value
        known = f"{address} with the parent's"
        if known not in self._done:
            part, count = ("size", 1) if address == "look.size" else ("colour", 3)
            share, b = self.row(f"births.place.inherit_{part}")[0], self.builder
            theirs = self.parent(part, count)
            mixed = tuple(b.op("mix", v, p, b.op("clamp", share)) for v, p in zip(value, theirs, strict=True))
            if part == "size":  # more than all of it: many times the parent's
                many = b.op("max", share, b.const(1))
                mixed = (b.op("mul", mixed[0], many),)
            self._done[known] = mixed
        return self._done[known]

    def own(self, uid: str) -> Values:
        own = next(own for own in self.emitter.own if own.uid == uid)
        count = 1 if own.kind == "number" else 3
        if own.memory:
            return tuple(self.builder.input(f"own.{uid}.{i}") for i in range(count))
        return self.born(f"own.{uid}", count, lambda birth: birth.own(uid))

    def _row(self, address: str) -> Values:
        placed = self.rows[address]
        if placed.spec.stage != "birth":
            return super().row(address)
        if address == "births.lifespan":
            return (self.builder.input("lifespan"),)
        if is_plain(placed.row):
            return super().row(address)
        return self.born(f"row.{address}", placed.spec.components, lambda birth: birth.row(address))

    def draw(self, uid: str) -> int:
        bounds = (self.rows[f"draws.{uid}.{name}"].row for name in BOUNDS[self._draw(uid).kind])
        if all(is_plain(row) for row in bounds):
            return super().draw(uid)
        return self.born(f"draw.{uid}", 1, lambda birth: (birth.draw(uid),))[0]

    def _draw(self, uid: str) -> Any:
        return next(draw for draw in self.emitter.draws if draw.uid == uid)

    def kept(self, name: str, source: Any) -> Values:
        if source.kind == "draw":
            return (self.draw(source.draw),)
        if source.kind == "formula":
            result = self.scope.formula(source.text).result
            return self.born(name, result.count if result else 1, lambda birth: birth.source(source))
        count = 3 if getattr(source, "part", "") == "whole" and self._is_whole(source) else 1
        return self.born(name, count, lambda birth: birth.source(source))

    def _is_whole(self, source: Any) -> bool:
        if source.kind == "own":
            return next(own.kind for own in self.emitter.own if own.uid == source.own) != "number"
        return source.kind != "row" or self.rows[source.row].spec.components == 3


HELD = 1000.0  # the grip, per second, from which on a particle sits exactly where it is held


class StepContext(LivingContext):
    """In a step: position and velocity at its start, age and time at its end; what was settled at birth is in the state."""

    name = "step"

    def __init__(self, *args: object) -> None:
        super().__init__(*args)  # type: ignore[arg-type]
        self.keeps: dict[str, tuple[int, Callable[[BirthContext], Values]]] = {}
        self.remembers: dict[str, tuple[int, Callable[[Context], Values]]] = {}

    def born(self, name: str, count: int, compute: Callable[[BirthContext], Values]) -> Values:
        self.keeps[name] = (count, compute)
        return tuple(self.builder.input(f"kept.{name}.{i}") for i in range(count))

    def previous(self, name: str, count: int, compute: Callable[[Context], Values]) -> Values:
        self.remembers[f"previous.{name}"] = (count, compute)
        return tuple(self.builder.input(f"previous.{name}.{i}") for i in range(count))

    def step_seconds(self) -> int:
        return self.builder.input("dt")

    def remembered(self, rows: frozenset[str]) -> dict[str, int]:
        """Return, after everything else, what the next step reads as `previous`, and the rows that depend on it: frames show these as they were."""
        outputs: dict[str, int] = {}
        for address in sorted(rows):
            outputs |= {f"row.{address}.{i}": value for i, value in enumerate(self.row(address))}
        self.builder.row = "previous"
        done: set[str] = set()
        while len(done) < len(self.remembers):
            for name, (_, compute) in [item for item in self.remembers.items() if item[0] not in done]:
                done.add(name)
                outputs |= {f"{name}.{i}": value for i, value in enumerate(compute(self))}
        return outputs

    def motion(self) -> dict[str, int]:
        """Return the new position, velocity, rotation and own attributes after a step.

        Each force gives an acceleration A and a coupling K to the air: dv/dt = A - K v, solved exactly over the step. A
        particle's mass divides what wind, drag and noise do to it.
        """
        b = self.builder
        zero = b.const(0)
        push: list[int] = [zero, zero, zero]
        coupling = zero
        light = b.op("div", b.const(1), self.row("births.mass")[0])

        def add(axis: int, value: int) -> None:
            push[axis] = value if push[axis] == zero else b.op("add", push[axis], value)

        for force in self.emitter.forces:
            if force.muted:
                continue
            rows = f"forces.{force.uid}"
            b.row = rows
            if force.kind in ("gravity", "buoyancy"):
                (strength,) = self.row(f"{rows}.strength")
                add(1, b.op("neg", strength) if force.kind == "gravity" else strength)
            elif force.kind == "drag":
                rate = b.op("mul", self.row(f"{rows}.rate")[0], light)
                coupling = rate if coupling == zero else b.op("add", coupling, rate)
            elif force.kind == "wind":
                rate = b.op("mul", self.row(f"{rows}.coupling")[0], light)
                for axis, speed in enumerate(self.row(f"{rows}.velocity")):
                    add(axis, b.op("mul", speed, rate))
                coupling = rate if coupling == zero else b.op("add", coupling, rate)
            elif force.kind == "curl_noise":
                strength, scale, drift = (self.row(f"{rows}.{part}")[0] for part in ("strength", "scale", "drift"))
                seed = Seed((self.emitter.uid, force.uid, "noise"))
                place = (b.input(f"position.{axis}") for axis in AXES)
                swirl = b.multi("curl_noise", *place, b.input("time"), scale, drift, attrs=(seed, force.octaves))
                strength = b.op("mul", strength, light)
                for axis, value in enumerate(swirl):
                    add(axis, b.op("mul", value, strength))
        b.row = "motion"
        dt = b.input("dt")
        keep, gain = (None, dt) if coupling == zero else (b.op("decay", coupling, dt), b.op("relax", coupling, dt))
        outputs: dict[str, int] = {}
        for i, name in enumerate(AXES):
            position, velocity = b.input(f"position.{name}"), b.input(f"velocity.{name}")
            new = velocity if keep is None else b.op("mul", velocity, keep)
            if push[i] != zero:
                new = b.op("add", new, b.op("mul", push[i], gain))
            new = b.op("guard", new, velocity)
            outputs[f"velocity.{name}"] = new
            outputs[f"position.{name}"] = b.op("guard", b.op("add", position, b.op("mul", new, dt)), position)
        if self.emitter.births.place.kind == "prop" and in_use(self.rows["motion.grip"]):
            outputs |= self._held(outputs, dt)
        b.row = "motion.spin"
        turned = b.op("add", b.input("rotation"), b.op("mul", self.row("motion.spin")[0], dt))
        outputs["rotation"] = b.op("guard", turned, b.input("rotation"))
        return outputs | self._remembered(dt)

    def _held(self, free: dict[str, int], dt: int) -> dict[str, int]:
        """Return position and velocity of what its birth place holds: nearer to it by 1 - exp(-grip x dt), wholly at the highest grip."""
        b = self.builder
        b.row = "motion.grip"
        (grip,) = self.row("motion.grip")
        binding = [b.input(f"bind.{name}") for name in ("face", "b1", "b2", "ox", "oy", "oz")]
        there = b.multi("prop_held", *binding, b.input("time"), attrs=(BirthsOnProp(self.owner),))
        one = b.const(1)
        share = b.op("select", b.op("less", grip, b.const(HELD)), b.op("sub", one, b.op("decay", grip, dt)), one)
        loose = b.op("max", b.op("equal", share, b.const(0)), b.op("equal", dt, b.const(0)))
        made: dict[str, int] = {}
        for i, axis in enumerate(AXES):
            flown, was = free[f"position.{axis}"], b.input(f"position.{axis}")
            position = b.op("select", loose, flown, b.op("mix", flown, there[i], share))
            moved = b.op("select", loose, free[f"velocity.{axis}"], b.op("div", b.op("sub", position, was), dt))
            made[f"velocity.{axis}"] = b.op("guard", moved, b.input(f"velocity.{axis}"))
            made[f"position.{axis}"] = b.op("guard", position, was)
        return made

    def latched(self, moved: dict[str, int], masks: tuple[str, ...]) -> dict[str, int]:
        """Return what is remembered of masks after a step: where the particle has come to, at the step's end."""
        b, outputs = self.builder, {}
        place, time = tuple(moved[f"position.{axis}"] for axis in AXES), b.input("time")
        for uid in masks:
            b.row = f"mask {uid}"
            before, when = b.input(f"latch.{uid}"), b.input(f"touched.{uid}")
            now = b.op("max", before, mask_value(self, uid, place, time))
            half = b.const(0.5)
            outputs[f"latch.{uid}"] = now
            outputs[f"touched.{uid}"] = b.op("select", b.op("mul", b.op("less", before, half), b.op("less_equal", half, now)), time, when)
        return outputs

    def _remembered(self, dt: int) -> dict[str, int]:
        """Return the own attributes with memory after the step: last value + change x dt, held between their bounds."""
        b, outputs = self.builder, {}
        for own in self.emitter.own:
            if not own.memory:
                continue
            rows = f"own.{own.uid}"
            b.row = f"{rows}.change"
            bounds = [self.row(f"{rows}.{name}")[0] for name in ("lowest", "highest")] if own.held else None
            for i, (last, change) in enumerate(zip(self.own(own.uid), self.row(f"{rows}.change"), strict=True)):
                new = b.op("add", last, b.op("mul", change, dt))
                if bounds:
                    new = b.op("min", b.op("max", new, bounds[0]), bounds[1])
                outputs[f"own.{own.uid}.{i}"] = b.op("guard", new, last)
        return outputs


class FrameContext(LivingContext):
    """On a stored frame, for the look and for what the interface shows. What was settled at birth is computed from the birth again."""

    name = "frame"

    def __init__(self, *args: object, remembering: frozenset[str] = frozenset()) -> None:
        super().__init__(*args)  # type: ignore[arg-type]
        recalled = RecalledBirth if self.emitter.births.place.kind == "prop" else BirthContext
        self.birth = recalled(self.scope, self.rows, self.builder, self._open)
        self.remembering = remembering
        self._ruler: EmitterContext | None = None

    def row(self, address: str) -> Values:
        if address in self.remembering:
            return tuple(self.builder.input(f"row.{address}.{i}") for i in range(self.rows[address].spec.components))
        return super().row(address)

    def previous(self, name: str, count: int, compute: Callable[[Context], Values]) -> Values:
        return tuple(self.builder.input(f"previous.{name}.{i}") for i in range(count))

    def step_seconds(self) -> int:
        clip = self.effect.clip
        return self.builder.const(float(1 / (clip.rate * clip.substeps)))

    def born(self, name: str, count: int, compute: Callable[[BirthContext], Values]) -> Values:
        return compute(self.birth)

    def thinned(self) -> int:
        """Return 1 for who is shown, else 0: by the distance to a camera or prop, and by a camera's view. Whom it shows depends on
        the particle's own draw alone, so that the shown at a lower density are among the shown at a higher one."""
        b, thinning = self.builder, self.emitter.thinning
        b.row = "thinning.outer"
        place, time = [b.input(f"position.{axis}") for axis in AXES], b.input("time")
        axes, field = self._looked_from(thinning.prop, time)
        gap = [b.op("sub", p, axes[4 * i + 3]) for i, p in enumerate(place)]
        (outer,), (inner,) = self.ruled("thinning.outer"), self.ruled("thinning.inner")
        near = b.op("neg", b.op("mul", outer, inner))
        density = b.op("clamp", b.op("share", b.op("neg", b.op("length", *gap)), b.op("neg", outer), near))
        shown = b.op("less", self.hash("thinning"), density)
        if not thinning.view or field is None:
            return shown
        across, up, back = (weighted(b, tuple(gap), (axes[k], axes[4 + k], axes[8 + k])) for k in range(3))
        (margin,) = self.ruled("thinning.margin")
        half = b.op("mul", field, b.const(0.5))
        reach = b.op("mul", b.op("div", b.op("sin", half), b.op("cos", half)), b.op("add", b.const(1), b.op("mul", margin, b.const(2))))
        ahead = b.op("neg", back)
        wide = b.op("mul", reach, b.const(thinning.aspect))
        inside = b.op("mul", b.op("less", b.op("abs", up), b.op("mul", ahead, reach)), b.op("less", b.op("abs", across), b.op("mul", ahead, wide)))
        return b.op("mul", shown, inside)

    def ruled(self, address: str) -> Values:
        """Return a row of the emitter, as it is for all particles at this time."""
        if self._ruler is None:
            self._ruler = EmitterContext(self.scope, self.rows, self.builder)
        return self._ruler.row(address)

    def _looked_from(self, uid: str | None, time: int) -> tuple[Values, int | None]:
        """Return where a prop or the effect's camera stands, as `masks.matrix` does, and a camera's field of view."""
        prop = next((prop for prop in self.effect.props if prop.uid == uid), None)
        if prop is not None:
            seen = self.prop_row(prop.uid, "field_of_view", time)[0] if prop.kind == "camera" else None
            return matrix(self.builder, prop.uid, time), seen
        values = tuple(self.builder.param(CameraValue(i)) for i in range(13))
        return values[:12], values[12]
