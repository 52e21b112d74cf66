"""Turning in space: how particles are turned, tumble, and come to rest."""

from __future__ import annotations

from typing import Annotated, Any

from ..formula import Values
from ..rows.example import Example, Suggestion
from ..rows.model import STRUCTURAL_IF_CHANGED, Driven, Part
from ..rows.reader import Reader
from ..rows.responses import NumberRow, VectorRow, differs_from_default, number, vector
from ..rows.step import RIGID_GRIP, Phase, StepState
from ..rows.turn import ROTATION_STATE, SWING_STATE, kept_unit, product, rotate, rotation_about
from ..rows.units import DEGREES, DEGREES_PER_SECOND, DEGREES_PER_SECOND_SQUARED, PER_SECOND, PLAIN
from ..rows.writing import row

EVEN = (1.0, 1.0, 1.0)


class Turning(Part):
    """How particles are turned in space as solid bodies: as born, with a spin of their own, pushed round, and
    slowed."""

    label = "Turning in space"
    help = (
        "Particles are turned in space like solid bodies: they tumble with the spin they were born with, are pushed "
        "round, and come to rest."
    )
    band, stage = "motion", "live"
    example = Example(
        fields={"spin": row([4.0, 3.0, 0.0])},
        emitter={
            "look": {
                "sprite": "picture",
                "shelf": "petal",
                "faces": "space",
                "size": row(0.2),
                "opacity": row(1.0),
                "colour": row([0.9, 0.5, 0.12]),
            }
        },
    )

    start: Annotated[
        VectorRow,
        Driven(
            "Turned at birth",
            DEGREES,
            -100_000,
            100_000,
            3,
            (0.0, 0.0, 0.0),
            "Turned about y first, then tilted about x, then rolled about z.",
            "birth",
            always=True,
        ),
    ] = vector(0, 0, 0)
    spin: Annotated[
        VectorRow,
        Driven(
            "Tumbling",
            DEGREES_PER_SECOND,
            -100_000,
            100_000,
            6,
            (0.0, 0.0, 0.0),
            "How fast it turns at its birth, about the world's x, y and z.",
            "birth",
            always=True,
        ),
    ] = vector(0, 0, 0)
    torque: Annotated[
        VectorRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Pushed round",
            DEGREES_PER_SECOND_SQUARED,
            -100_000,
            100_000,
            12,
            (0.0, 0.0, 0.0),
            "How its turning grows, about the world's x, y and z.",
        ),
    ] = vector(0, 0, 0)
    damping: Annotated[
        NumberRow,
        STRUCTURAL_IF_CHANGED,
        Driven("Turning slows", PER_SECOND, 0, 1000, 4, 0.0, "How quickly its turning dies away, as in air or water."),
    ] = number(0)
    inertia: Annotated[
        VectorRow,
        STRUCTURAL_IF_CHANGED,
        Driven(
            "Hard to turn",
            PLAIN,
            0.01,
            100,
            2,
            EVEN,
            "How hard it is to turn about its own x, y and z, against each other: alike it spins evenly, unlike it "
            "wobbles and flips, as boards do.",
            "birth",
        ),
    ] = vector(1, 1, 1)

    @classmethod
    def rows_key(cls) -> str:
        return "motion.turning"

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion]:
        spins = {"base": [4.0, 3.0, 0.0]}
        return (
            Suggestion("let them tumble", {"spin": spins, "damping": {"base": 0.0}}),
            Suggestion("let them tumble and come to rest", {"spin": spins, "damping": {"base": 1.5}}),
        )

    def stands(self, at: Reader) -> Values:
        """Return how the particle is turned: a unit quaternion."""
        b = at.builder
        if not at.newborn:
            return tuple(b.input(name) for name in ROTATION_STATE)
        x, y, z = at.row("motion.turning.start")
        none = b.const(0)
        own = product(
            b,
            product(b, rotation_about(b, (none, y, none)), rotation_about(b, (x, none, none))),
            rotation_about(b, (none, none, z)),
        )
        place = at.view.thing.births.place.turned(at)
        return own if place is None else product(b, place, own)

    def _held(self, at: Reader, kept: Values, before: Values, swing: Values) -> tuple[Values, Values]:
        """Return turn and swing of a particle that is held where it was born, where it is: it turns with that place,
        and its own swing waits."""
        b, motion = at.builder, at.view.thing.motion
        place = at.view.thing.births.place.turned(at) if differs_from_default(motion.grip, 0.0) else None
        if place is None:
            return kept, swing
        held = b.op("less_equal", b.const(RIGID_GRIP), at.row("motion.grip")[0])

        def either(one: Values, other: Values) -> Values:
            return tuple(b.op("select", held, x, y) for x, y in zip(one, other, strict=True))

        return either(place, kept), either(before, swing)

    def _eased(self, at: Reader, q: Values, vector: Values, by: str) -> Values:
        """Return a vector of the world times or through how hard the particle is to turn about its own axes."""
        if not differs_from_default(self.inertia, EVEN):
            return vector
        b, inertia = at.builder, at.row("motion.turning.inertia")
        own = rotate(b, q, vector, back=True)
        return rotate(b, q, tuple(b.op(by, v, i) for v, i in zip(own, inertia, strict=True)))

    def speed(self, at: Reader) -> Values:
        """Return its angular velocity, world, rad/s."""
        b = at.builder
        if at.newborn:
            return at.row("motion.turning.spin")
        return self._eased(at, self.stands(at), tuple(b.input(name) for name in SWING_STATE), "div")

    def carried(self, at: Reader) -> dict[str, int]:
        q = self.stands(at)
        return dict(
            zip(
                (*ROTATION_STATE, *SWING_STATE),
                (*q, *self._eased(at, q, at.row("motion.turning.spin"), "mul")),
                strict=True,
            )
        )

    def step(self, phase: Phase, at: Reader, state: StepState) -> None:
        """Turn on: angular momentum is exact under constant torque and drag; the turn is by the angular velocity half a
        step on, exact where the body is alike about its axes, of order two where it is not (Euler's equations of a
        rigid body, any handbook of mechanics)."""
        if phase != "turn":
            return
        b, dt = at.builder, state.dt
        b.row = "motion.turning"
        q, before = self.stands(at), tuple(b.input(name) for name in SWING_STATE)
        swing = before
        if differs_from_default(self.damping, 0.0):
            slows = b.op("decay", at.row("motion.turning.damping")[0], dt)
            swing = tuple(b.op("mul", v, slows) for v in swing)
        if differs_from_default(self.torque, (0.0, 0.0, 0.0)):
            gain = (
                b.op("relax", at.row("motion.turning.damping")[0], dt)
                if differs_from_default(self.damping, 0.0)
                else dt
            )
            swing = tuple(
                b.op("add", v, b.op("mul", t, gain))
                for v, t in zip(swing, at.row("motion.turning.torque"), strict=True)
            )
        middle = tuple(b.op("mul", b.op("add", v, w), b.const(0.5)) for v, w in zip(before, swing, strict=True))
        there = q
        if differs_from_default(self.inertia, EVEN):
            half = b.op("mul", dt, b.const(0.5))
            there = product(
                b, rotation_about(b, tuple(b.op("mul", v, half) for v in self._eased(at, q, middle, "div"))), q
            )
        turn = tuple(b.op("mul", v, dt) for v in self._eased(at, there, middle, "div"))
        after, swing = self._held(at, kept_unit(b, product(b, rotation_about(b, turn), q)), before, swing)
        state.kept |= {
            name: b.op("guard", new, old)
            for name, new, old in zip((*ROTATION_STATE, *SWING_STATE), (*after, *swing), (*q, *before), strict=True)
        }
