"""A particle within a step: the forces on it, and its state between the phases of the step."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..formula import Values
from ..program import Builder
from .reader import Reader

Phase = Literal["read", "push", "integrate", "hold", "touch", "turn", "remember"]
PHASES: tuple[Phase, ...] = ("read", "push", "integrate", "hold", "touch", "turn", "remember")


@dataclass(frozen=True)
class SquaredDrag:
    """Drag with the square of the speed relative to air. rate: 1/m. air: its velocity, m/s."""

    rate: int
    air: Values


class Pushes:
    """The sum of an emitter's pushes on a particle in a step: x'' = acceleration - coupling x v - stiffness x x, in
    m/s², 1/s and 1/s².

    place, velocity: where pushes are evaluated: position half a step ahead (m), velocity at the step's start (m/s).
    time: the middle of the step, at which they see props, clip seconds. dt: the step's duration, s. inverse_mass: 1/kg;
    forces that mass resists are multiplied by it.
    """

    def __init__(self, builder: Builder, inverse_mass: int, place: Values, velocity: Values, time: int, dt: int):
        self.builder, self.inverse_mass = builder, inverse_mass
        self.place, self.velocity, self.time, self.dt = place, velocity, time, dt
        self.acceleration: list[int | None] = [None, None, None]
        self.coupling: int | None = None
        self.stiffness: int | None = None
        self.squared: list[SquaredDrag] = []
        self.air: list[
            tuple[int, Values | None]
        ] = []  # what it is taken along by: at which rate (1/s), the air's velocity (None: still)

    def apart(self) -> Pushes:
        """Return an empty sum, for one of several pushes."""
        return Pushes(self.builder, self.inverse_mass, self.place, self.velocity, self.time, self.dt)

    def accelerate(self, axis: int, value: int) -> None:
        """Add to the acceleration along an axis (0, 1, 2), m/s²."""
        self.acceleration[axis] = self._sum(self.acceleration[axis], value)

    def push(self, values: Values) -> None:
        """Add to the acceleration, three values, m/s²."""
        for axis, value in enumerate(values):
            self.accelerate(axis, value)

    def couple(self, rate: int) -> None:
        """Add drag at a rate, 1/s, towards the velocity of the air; towards still air without any."""
        self.coupling = self._sum(self.coupling, rate)

    def carry(self, rate: int, velocity: Values | None = None) -> None:
        """Add drag at a rate (1/s) towards air that moves with a velocity (m/s; None: still)."""
        self.couple(rate)
        self.air.append((rate, velocity))
        if velocity is not None:
            self.push(tuple(self.builder.op("mul", rate, speed) for speed in velocity))

    def slow_squared(self, rate: int, air: Values) -> None:
        """Add drag with the square of the speed relative to air (m/s). rate: 1/m."""
        self.squared.append(SquaredDrag(rate, air))

    def spring(self, stiffness: int, place: Values) -> None:
        """Add a spring towards a place (m) with a stiffness, 1/s²."""
        self.stiffness = self._sum(self.stiffness, stiffness)
        self.push(tuple(self.builder.op("mul", stiffness, at) for at in place))

    def take(self, other: Pushes, share: int | None = None) -> None:
        """Add another sum. share: factor, 0 to 1."""
        b = self.builder

        def part(value: int) -> int:
            return value if share is None else b.op("mul", value, share)

        for axis, value in enumerate(other.acceleration):
            if value is not None:
                self.accelerate(axis, part(value))
        if other.coupling is not None:
            self.couple(part(other.coupling))
        if other.stiffness is not None:
            self.stiffness = self._sum(self.stiffness, part(other.stiffness))
        self.squared.extend(SquaredDrag(part(each.rate), each.air) for each in other.squared)
        self.air.extend((part(rate), velocity) for rate, velocity in other.air)

    def air_velocity(self) -> Values:
        """Return the velocity (m/s) of the air: the mean of all airs, weighted by their rates."""
        b, zero = self.builder, self.builder.const(0)
        speed = b.op("length", *self.velocity)
        rates = [*self.air, *((b.op("mul", each.rate, speed), each.air) for each in self.squared)]
        total: int | None = None
        components: list[int | None] = [None, None, None]
        for rate, velocity in rates:
            total = self._sum(total, rate)
            if velocity is not None:
                components = [
                    self._sum(before, b.op("mul", rate, v)) for before, v in zip(components, velocity, strict=True)
                ]
        if total is None:
            return zero, zero, zero
        some = b.op("select", total, total, b.const(1))
        return tuple(zero if value is None else b.op("div", value, some) for value in components)

    def linear(self, velocity: Values) -> tuple[list[int | None], int | None]:
        """Return acceleration and coupling, with squared drag linearised at a velocity."""
        b, push, coupling = self.builder, list(self.acceleration), self.coupling
        for each in self.squared:
            against = tuple(b.op("sub", v, u) for v, u in zip(velocity, each.air, strict=True))
            rate = b.op("mul", each.rate, b.op("length", *against))
            coupling = self._sum(coupling, rate)
            push = [self._sum(a, b.op("mul", rate, u)) for a, u in zip(push, each.air, strict=True)]
        return push, coupling

    def now(self) -> Values:
        """Return the acceleration at the particle's position and velocity, m/s²."""
        b = self.builder
        push, coupling = self.linear(self.velocity)
        sums = []
        for a, v, x in zip(push, self.velocity, self.place, strict=True):
            total = a if a is not None else b.const(0)
            total = total if coupling is None else b.op("sub", total, b.op("mul", coupling, v))
            sums.append(total if self.stiffness is None else b.op("sub", total, b.op("mul", self.stiffness, x)))
        return tuple(sums)

    def _sum(self, before: int | None, value: int) -> int:
        return value if before is None else self.builder.op("add", before, value)


def pushes_at(at: Reader) -> Pushes:
    """Return an empty sum for a particle at the position, velocity and time of a reader."""
    b = at.builder
    inverse_mass = b.op("div", b.const(1), at.row("births.mass")[0])
    return Pushes(b, inverse_mass, at.state("position"), at.state("velocity"), at.clip_time(), b.const(0))


RIGID_GRIP = 1000.0  # the grip, 1/s, from which on a particle sits exactly where it is held


class StepState:
    """A particle in a step. Parts add to it phase by phase: `read` (state at the step's start), `push`, `integrate`,
    `hold` (to a place), `touch` (contacts), `turn` (cues), `remember`.

    position (m), velocity (m/s), rotation (radians): current values; before: the same when pushes began. dt: the step's
    duration, s. middle: clip time of its middle. pushes: their sum. kept: further state columns, by name. alive: 1 or
    0. ended: the share of the step at which a particle ends.
    """

    def __init__(
        self,
        builder: Builder,
        position: Values,
        velocity: Values,
        rotation: int,
        dt: int,
        inverse_mass: int,
        middle: int,
    ):
        self.builder = builder
        self.position, self.velocity, self.rotation, self.dt = position, velocity, rotation, dt
        self._inverse_mass, self._middle = inverse_mass, middle
        self.kept: dict[str, int] = {}
        self.borne: dict[
            str, list[Values]
        ] = {}  # of each: seconds ago, place, velocity, normal, births, how often before
        self.fired: dict[
            str, list[int]
        ] = {}  # which cues happened, 1 or 0, by their uids: once, or for each touch of the step
        self.passing: dict[str, int] = {}  # what the cues of this step read as if the state kept it
        self.touched: int | None = None  # how often it touched in this step
        self.touches: list[
            tuple[int, dict[str, int]]
        ] = []  # of each of them, whether it is one, and what is remembered after it
        self.contacts: Values = ()  # what contacts say of themselves, one behind the other (`kernels.contacts`)
        self.alive: int | None = None
        self.ended: int | None = None
        self.begin()

    def begin(self) -> None:
        """Start the pushes from the particle's current state."""
        b = self.builder
        self.before = (self.position, self.velocity, self.rotation)
        half = b.op("mul", self.dt, b.const(0.5))
        place = tuple(b.op("add", x, b.op("mul", v, half)) for x, v in zip(self.position, self.velocity, strict=True))
        self.pushes = Pushes(b, self._inverse_mass, place, self.velocity, self._middle, self.dt)

    def hold(self, there: Values, before: Values, grip: int) -> None:
        """Hold the particle to a place that moves from `before` to `there` (m) during the step, with a grip in 1/s.

        A critically damped spring of that rate, x'' = -2 g x' - g² x about the place, exact over the step for a place
        that moves linearly: no overshoot, no jump of velocity, and independent of the number of steps. From the largest
        grip on, the particle is exactly at the place and has its velocity; at 0 it flies freely.
        """
        b, dt = self.builder, self.dt
        none, full = b.op("equal", grip, b.const(0)), b.op("less_equal", b.const(RIGID_GRIP), grip)
        square = b.op("mul", grip, grip)
        keep, gain, reach = b.multi("flight", b.op("mul", b.const(2), grip), square, dt)
        still = b.op("equal", dt, b.const(0))
        length = b.op("select", still, b.const(1), dt)
        left = b.op("sub", b.const(1), b.op("mul", square, reach))
        pushed = b.op("div", b.op("mul", b.const(2), reach), b.op("mul", length, length))
        sped = b.op("div", gain, length)
        place, velocity = [], []
        for i in range(3):
            (x0, v0), x, v = (self.before[0][i], self.before[1][i]), self.position[i], self.velocity[i]
            goes = b.op("div", b.op("sub", there[i], before[i]), length)
            away, rate = b.op("sub", x0, before[i]), b.op("sub", v0, goes)
            flown = b.op("sub", b.op("sub", x, x0), b.op("mul", v0, dt))
            apart = b.op(
                "add", b.op("add", b.op("mul", away, left), b.op("mul", rate, gain)), b.op("mul", flown, pushed)
            )
            speed = b.op("sub", b.op("mul", rate, keep), b.op("mul", b.op("mul", square, away), gain))
            speed = b.op("add", speed, b.op("mul", b.op("sub", v, v0), sped))
            held = b.op("select", full, there[i], b.op("add", there[i], apart))
            moves = b.op("select", full, goes, b.op("add", goes, speed))
            place.append(b.op("guard", b.op("select", none, x, held), x0))
            velocity.append(b.op("guard", b.op("select", b.op("max", none, still), v, moves), v0))
        self.position, self.velocity = tuple(place), tuple(velocity)

    def end(self, where: int, share: int) -> None:
        """End the particle where a value is 1, at a share of the step, 0 to 1. The first end counts."""
        b = self.builder
        on, at = (b.const(1), b.const(1)) if self.alive is None or self.ended is None else (self.alive, self.ended)
        self.ended = b.op("select", where, b.op("min", b.op("clamp", share), at), at)
        self.alive = b.op("mul", on, b.op("sub", b.const(1), where))

    def outputs(self) -> dict[str, int]:
        """Return the outputs of the step's program."""
        outputs = {
            f"{name}.{axis}": value
            for name, values in (("position", self.position), ("velocity", self.velocity))
            for axis, value in zip("xyz", values, strict=True)
        }
        outputs |= {"rotation": self.rotation, **self.kept}
        outputs |= {f"fired.{uid}.{k}": value for uid, each in self.fired.items() for k, value in enumerate(each)}
        outputs |= {
            f"borne.{uid}.{k}.{i}": value
            for uid, times in self.borne.items()
            for k, values in enumerate(times)
            for i, value in enumerate(values)
        }
        return (
            outputs
            if self.alive is None or self.ended is None
            else {**outputs, "alive": self.alive, "ended": self.ended}
        )
