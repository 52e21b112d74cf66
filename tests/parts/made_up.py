"""A force, a source, a look and an exporter that only the tests know: each defined here alone, and registered by
`registered`."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Annotated, Any, Literal

from kagero.core.formats.exporters import EXPORTERS, FileExporter
from kagero.core.formula import Values
from kagero.core.parts.looks import LOOKS, Column
from kagero.core.parts.looks.soft_disc import SoftDisc
from kagero.core.parts.pushes import PUSHES, PushPart
from kagero.core.parts.sources import SOURCES
from kagero.core.rows.attributes import NumberAttribute
from kagero.core.rows.model import Driven, Guide, Setting
from kagero.core.rows.reader import Reader
from kagero.core.rows.responses import NumberRow, VectorRow, number
from kagero.core.rows.step import Pushes
from kagero.core.rows.union import with_more_kinds
from kagero.core.rows.units import ACCELERATION, METRES, PERCENT


class Tide(PushPart):
    """A pull toward a level, as strong however far it is; it can be turned round."""

    label = "Tide"
    guides = (Guide("cross", at="middle", moved=True),)

    kind: Literal["tide"] = "tide"
    strength: Annotated[NumberRow, Driven("Tide", ACCELERATION, -100, 100, 2, 1.0, "How strongly the tide pulls.")]
    middle: Annotated[
        VectorRow,
        Driven(
            "Tide middle", METRES, -100, 100, 2, (0.0, 0.0, 0.0), "Its y is the level that particles are pulled to."
        ),
    ]
    way: Annotated[
        Literal["in", "out"],
        Setting("Runs", "Whether it pulls toward the level or away from it.", choices=(("in", "in"), ("out", "out"))),
    ] = "in"

    def write(self, at: Reader, pushes: Pushes) -> None:
        b = at.builder
        away = b.op("sub", self.row(at, "middle")[1], at.state("position")[1])
        sense = b.op("sign", away if self.way == "in" else b.op("neg", away))
        pushes.accelerate(1, b.op("mul", self.row(at, "strength")[0], sense))


class FreshnessSource(NumberAttribute):
    label, group, unit, usual = "freshness", "time", PERCENT, (0, 1)
    help = "How much of its life a particle has before it."

    kind: Literal["freshness"]

    def write(self, at: Reader) -> Values:
        b = at.builder
        return (b.op("sub", b.const(1), b.op("div", *at.state("age"), *at.state("lifespan"))),)


class Glint(SoftDisc):
    """A soft disc that says besides how much it glints."""

    label = "Glint"
    help = "A soft disc that says besides how much it glints."
    columns = (*SoftDisc.columns, Column("glint", 1, "|u1", PERCENT, 0.0))

    sprite: Literal["glint"] = "glint"  # type: ignore[assignment]
    glint: Annotated[
        NumberRow, Driven("Glint", PERCENT, 0, 255, 10, 3.0, "How much a particle glints.", always=True)
    ] = number(3)

    def given(self) -> frozenset[str]:
        return super().given() | {"glint"}

    def write(self, at: Reader, address: str) -> dict[str, Values]:
        return {**super().write(at, address), "glint": at.row(f"{address}.glint")}


class Tally(FileExporter):
    """A line a frame: its number, and how many particles there are."""

    kind, label, suffix, media = "tally", "Tally", ".tally.txt", "text/plain"
    help = "A line a frame, with how many particles it has."

    def frame(self, frame: Any) -> None:
        self.stream.write(f"{frame.number} {len(frame)}\n".encode())

    def finish(self) -> None:
        self.stream.write(b"end\n")


@contextmanager
def registered() -> Iterator[None]:
    """Have all of them within."""
    with with_more_kinds((PUSHES, Tide), (SOURCES, FreshnessSource), (LOOKS, Glint)), EXPORTERS.also(Tally):
        yield
