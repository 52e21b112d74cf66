"""Where a row is evaluated: for the emitter, at a birth, in a step, or on a stored frame.

Each context knows where its attributes come from. Rows are compiled on demand, in dependency order; a row that comes
back to itself is refused with the way it went.
"""

from __future__ import annotations

from ..catalog import PlacedRow, rows_of
from ..effect import Effect, Emitter, Response, Source
from ..errors import CircleProblem
from ..kernels.curves import SHAPES, curve_table, gradient_table
from ..kernels.random import seed_of
from .program import Builder
from .values import PlanValues

Values = tuple[int, ...]
AXES = ("x", "y", "z")


class Context:
    """Compiles rows and attributes of one emitter; subclasses say what attributes are."""

    name = ""

    def __init__(self, effect: Effect, emitter: Emitter, builder: Builder, values: PlanValues, open_rows: list[str] | None = None):
        self.effect, self.emitter, self.builder, self.values = effect, emitter, builder, values
        self.rows = {placed.address: placed for placed in rows_of(emitter)}
        self._done: dict[str, Values] = {}
        self._open: list[str] = open_rows if open_rows is not None else []

    # attributes -----------------------------------------------------------------------------------------------------
    def attribute(self, kind: str) -> Values:
        raise NotImplementedError

    def kept(self, response: Response) -> int:
        """Return the value a once-response's source had at birth."""
        raise NotImplementedError

    def source(self, source: Source) -> int:
        if source.kind == "draw":
            return self.draw(source.draw)
        return self.attribute(source.kind)[0]

    def draw(self, name: str) -> int:
        seed = seed_of(self.effect.clip.seed, self.emitter.uid, name)
        return self.builder.op("draw", self.builder.input("key"), attrs=(self.values.seed(f"draw.{name}", seed),))

    # rows -----------------------------------------------------------------------------------------------------------
    def row(self, address: str) -> Values:
        """Return the values of a row in this context: base, then its responses in order, then held to its range."""
        known = self._done.get(address)
        if known is not None:
            return known
        label = f"{self.name}:{address}"
        if label in self._open:
            circle = [step.partition(":")[2] for step in self._open[self._open.index(label) :]] + [address]
            raise CircleProblem(
                "Rows drive each other in a circle: " + " <- ".join(self._label(a) for a in circle) + ".",
                where=self._where(address),
                remedy="Mute or remove one of these responses.",
            )
        self._open.append(label)
        outer_row, self.builder.row = self.builder.row, address
        result = self._compile(self.rows[address])
        self.builder.row = outer_row
        self._open.pop()
        self._done[address] = result
        return result

    def _compile(self, placed: PlacedRow) -> Values:
        b, spec = self.builder, placed.spec
        base = placed.row.base if isinstance(placed.row.base, tuple) else (placed.row.base,)
        value = tuple(self.param(f"{placed.address}.base.{i}", x) for i, x in enumerate(base))
        live = [response for response in placed.row.responses if not response.muted]
        for response in live:
            value = self._respond(placed, response, value)
        if live:
            low, high = b.const(spec.lowest), b.const(spec.highest)
            value = tuple(b.op("min", b.op("max", v, low), high) for v in value)
        return value

    def _respond(self, placed: PlacedRow, response: Response, value: Values) -> Values:
        b = self.builder
        answer = self.answer(response)
        acts_on = [True] * len(value)
        component = getattr(response, "component", "all")
        if component != "all" and len(value) == 3:
            acts_on = [axis == component for axis in AXES]
        result = []
        for i, v in enumerate(value):
            if not acts_on[i]:
                result.append(v)
                continue
            x = answer[i % len(answer)]
            new = {
                "set": lambda v=v, x=x: x,
                "multiply": lambda v=v, x=x: b.op("mul", v, x),
                "add": lambda v=v, x=x: b.op("add", v, x),
                "at_most": lambda v=v, x=x: b.op("min", v, x),
                "at_least": lambda v=v, x=x: b.op("max", v, x),
            }[response.operation]()
            if response.amount != 1:
                new = b.op("mix", v, new, self.param(f"{response.uid}.amount", response.amount))
            result.append(b.op("guard", new, v))
        return tuple(result)

    def answer(self, response: Response) -> Values:
        """Return what a response gives before it is combined: one value, or three for a gradient."""
        b, uid = self.builder, response.uid
        source = self.kept(response) if response.read == "once" else self.source(response.source)
        low, high = (self.param(f"{uid}.input.{i}", x) for i, x in enumerate(response.input))
        share = b.op("share", source, low, high)
        if response.kind == "gradient":
            stops = response.gradient.stops
            table = gradient_table([stop.x for stop in stops], [stop.colour for stop in stops])
            return b.multi("gradient", share, attrs=(self.values.gradient(uid, table),), outs=3)
        keys = response.curve.keys
        table = curve_table([k.x for k in keys], [k.y for k in keys], [SHAPES[k.shape] for k in keys])
        height = b.op("curve", share, attrs=(self.values.curve(uid, table),))
        bottom, top = (self.param(f"{uid}.output.{i}", x) for i, x in enumerate(response.output))
        return (b.op("mix", bottom, top, height),)

    def param(self, name: str, value: float) -> int:
        return self.builder.op("param", attrs=(self.values.param(name, value),))

    def _label(self, address: str) -> str:
        return self.rows[address].spec.label

    def _where(self, address: str) -> str:
        return f"emitters.{self.effect.emitters.index(self.emitter)}.{address}"


class EmitterContext(Context):
    """The emitter as time goes; no particle exists. Input: time."""

    name = "emitter"

    def attribute(self, kind: str) -> Values:
        if kind == "clip_time":
            return (self.builder.input("time"),)
        raise AssertionError(f"{kind} needs a particle; validation refuses it")


class BirthContext(Context):
    """A particle at its exact birth: placed, then launched. Inputs: key, birth_time."""

    name = "birth"

    def attribute(self, kind: str) -> Values:
        b = self.builder
        if kind == "clip_time":
            return (b.input("birth_time"),)
        if kind in ("age", "life"):
            return (b.const(0),)
        if kind == "lifespan":
            return self.row("births.lifespan")
        if kind == "size":
            return self.row("look.size")
        if kind == "height":
            return (self.position()[1],)
        if kind == "speed":
            return (b.op("length", *self.velocity()),)
        raise AssertionError(kind)

    def kept(self, response: Response) -> int:
        return self.source(response.source)

    def position(self) -> Values:
        b, place = self.builder, self.emitter.births.place
        centre = self.row("births.place.centre")
        if place.kind == "point":
            return centre
        u, v, w = (self.draw(f"place {i}") for i in range(3))
        offset: Values
        if place.kind == "box":
            size = self.row("births.place.size")
            if place.on == "surface":
                offset = b.multi("box_surface", *size, u, v, w, outs=3)
            else:
                half = b.const(0.5)
                offset = tuple(b.op("mul", s, b.op("sub", x, half)) for s, x in zip(size, (u, v, w), strict=True))
        else:
            (radius,) = self.row("births.place.radius")
            turn = b.op("mul", u, b.const(6.283185307179586))
            cosine, sine = b.op("cos", turn), b.op("sin", turn)
            if place.kind == "disc":
                reach = radius if place.on == "surface" else b.op("mul", radius, b.op("sqrt", v))
                offset = (b.op("mul", cosine, reach), b.const(0), b.op("mul", sine, reach))
            else:
                reach = radius if place.on == "surface" else b.op("mul", radius, b.op("cbrt", w))
                y = b.op("sub", b.op("mul", v, b.const(2)), b.const(1))
                ring = b.op("mul", reach, b.op("sqrt", b.op("sub", b.const(1), b.op("mul", y, y))))
                offset = (b.op("mul", cosine, ring), b.op("mul", y, reach), b.op("mul", sine, ring))
        return tuple(b.op("add", c, o) for c, o in zip(centre, offset, strict=True))

    def velocity(self) -> Values:
        b = self.builder
        direction, (cone,), (speed,) = (self.row(f"births.launch.{part}") for part in ("direction", "cone", "speed"))
        unit = b.multi("cone_direction", *direction, cone, self.draw("launch 0"), self.draw("launch 1"), outs=3)
        return tuple(b.op("mul", d, speed) for d in unit)


class LivingContext(Context):
    """A living particle. Inputs: key, age, lifespan, position, velocity, time."""

    def attribute(self, kind: str) -> Values:
        b = self.builder
        if kind == "clip_time":
            return (b.input("time"),)
        if kind in ("age", "lifespan"):
            return (b.input(kind),)
        if kind == "life":
            return (b.op("share", b.input("age"), b.const(0), b.input("lifespan")),)
        if kind == "size":
            return self.row("look.size")
        if kind == "height":
            return (b.input("position.y"),)
        if kind == "speed":
            return (b.op("length", *(b.input(f"velocity.{axis}") for axis in AXES)),)
        raise AssertionError(kind)


class StepContext(LivingContext):
    """In a step: position and velocity at its start, age and time at its end; once-sources are kept in the state."""

    name = "step"

    def __init__(self, *args: object) -> None:
        super().__init__(*args)  # type: ignore[arg-type]
        self.keeps: dict[str, Response] = {}

    def kept(self, response: Response) -> int:
        if response.source.kind == "draw":
            return self.draw(response.source.draw)
        self.keeps[response.uid] = response
        return self.builder.input(f"kept.{response.uid}")

    def motion(self) -> dict[str, int]:
        """Return the new position and velocity: all pushes and drags together, drag exactly, then position.

        Each force gives an acceleration A and a coupling K to the air: dv/dt = A - K v, solved exactly over the step.
        """
        b = self.builder
        zero = b.const(0)
        push: list[int] = [zero, zero, zero]
        coupling = zero

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
                (rate,) = self.row(f"{rows}.rate")
                coupling = rate if coupling == zero else b.op("add", coupling, rate)
            elif force.kind == "wind":
                (rate,) = self.row(f"{rows}.coupling")
                for axis, speed in enumerate(self.row(f"{rows}.velocity")):
                    add(axis, b.op("mul", speed, rate))
                coupling = rate if coupling == zero else b.op("add", coupling, rate)
            elif force.kind == "curl_noise":
                strength, scale, drift = (self.row(f"{rows}.{part}")[0] for part in ("strength", "scale", "drift"))
                seed = self.values.seed(rows, seed_of(self.effect.clip.seed, self.emitter.uid, force.uid, "noise"))
                place = (b.input(f"position.{axis}") for axis in AXES)
                swirl = b.multi("curl_noise", *place, b.input("time"), scale, drift, attrs=(seed, force.octaves), outs=3)
                for axis, value in enumerate(swirl):
                    add(axis, b.op("mul", value, strength))
        b.row = "motion"
        dt = b.input("dt")
        keep, gain = (None, dt) if coupling == zero else (b.op("decay", coupling, dt), b.op("relax", coupling, dt))
        outputs = {}
        for i, name in enumerate(AXES):
            position, velocity = b.input(f"position.{name}"), b.input(f"velocity.{name}")
            new = velocity if keep is None else b.op("mul", velocity, keep)
            if push[i] != zero:
                new = b.op("add", new, b.op("mul", push[i], gain))
            new = b.op("guard", new, velocity)
            outputs[f"velocity.{name}"] = new
            outputs[f"position.{name}"] = b.op("guard", b.op("add", position, b.op("mul", new, dt)), position)
        return outputs


class FrameContext(LivingContext):
    """On a stored frame, for the look and for what the interface shows. What was read once is computed from the birth again."""

    name = "frame"

    def __init__(self, *args: object) -> None:
        super().__init__(*args)  # type: ignore[arg-type]
        self.birth = BirthContext(self.effect, self.emitter, self.builder, self.values, self._open)

    def kept(self, response: Response) -> int:
        return self.birth.kept(response)
