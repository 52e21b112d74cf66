"""A particle within a step: what pushes it, and where it is while the phases of the step go on."""

from __future__ import annotations

from typing import Literal

from ..formula import Values
from ..program import Builder

Phase = Literal["read", "push", "integrate", "hold", "touch", "turn", "remember"]
PHASES: tuple[Phase, ...] = ("read", "push", "integrate", "hold", "touch", "turn", "remember")


class Pushes:
    """What all pushes of an emitter do to a particle in a step: dv/dt = acceleration - coupling x v, in m/s² and 1/s.

    inverse_mass: 1 over the particle's mass, 1/kg; pushes that a heavier particle resists are times this.
    """

    def __init__(self, builder: Builder, inverse_mass: int):
        self.builder, self.inverse_mass = builder, inverse_mass
        self.acceleration: list[int | None] = [None, None, None]
        self.coupling: int | None = None

    def accelerate(self, axis: int, value: int) -> None:
        """Add to the acceleration along an axis (0, 1, 2), m/s²."""
        before = self.acceleration[axis]
        self.acceleration[axis] = value if before is None else self.builder.op("add", before, value)

    def couple(self, rate: int) -> None:
        """Add to how quickly the particle takes on the velocity of what it moves in, 1/s; still air without anything else."""
        self.coupling = rate if self.coupling is None else self.builder.op("add", self.coupling, rate)


class StepState:
    """A particle in a step. Parts add to it, phase by phase: `read` (as it was at the step's start), `push`, `integrate`, `hold` (to a
    place), `touch` (others), `turn` (what happens when), `remember`.

    position (m), velocity (m/s), rotation (radians): as they are now; before: these three as they were at the step's start. dt: the step's
    length, s. kept: what else the state keeps, by name. alive: 1 or 0; ended: of those that end, at which share of the step.
    """

    def __init__(self, builder: Builder, position: Values, velocity: Values, rotation: int, dt: int, inverse_mass: int):
        self.builder = builder
        self.position, self.velocity, self.rotation, self.dt = position, velocity, rotation, dt
        self.before = (position, velocity, rotation)
        self.pushes = Pushes(builder, inverse_mass)
        self.kept: dict[str, int] = {}
        self.alive: int | None = None
        self.ended: int | None = None

    def end(self, where: int, share: int) -> None:
        """End the particle where a value is 1, at a share of the step (0 to 1); the first to end it counts."""
        b = self.builder
        on, at = (b.const(1), b.const(1)) if self.alive is None or self.ended is None else (self.alive, self.ended)
        self.ended = b.op("select", where, b.op("min", b.op("clamp", share), at), at)
        self.alive = b.op("mul", on, b.op("sub", b.const(1), where))

    def outputs(self) -> dict[str, int]:
        """Return what the step's program gives."""
        made = {
            f"{name}.{axis}": value
            for name, values in (("position", self.position), ("velocity", self.velocity))
            for axis, value in zip("xyz", values, strict=True)
        }
        made |= {"rotation": self.rotation, **self.kept}
        return made if self.alive is None or self.ended is None else {**made, "alive": self.alive, "ended": self.ended}
