"""What is asked and told of particles: tables, one life, and what pushes them."""

from __future__ import annotations

from typing import Any

from ninja import Schema
from pydantic import Field

from .base_schemas import AboutEmitter, Strict
from .catalog_schemas import Unit


class FilterIn(Strict):
    column: str
    low: float | None = None
    high: float | None = None


class TableIn(AboutEmitter):
    sort: str = ""
    descending: bool = False
    filters: list[FilterIn] = Field(default=[], max_length=16)
    first: int = 0
    count: int = 100


class OneLifeIn(AboutEmitter):
    """A particle by its key, or by its index in the frame."""

    key: str | None = Field(default=None, pattern=r"^\d{1,20}$")
    index: int | None = None


class SliceIn(AboutEmitter):
    """A plane through a particle: two directions of it and how far it reaches, metres; push: a uid, or all of them."""

    key: str = Field(pattern=r"^\d{1,20}$")
    push: str = Field(default="", max_length=40)
    across: tuple[float, float, float] = (1.0, 0.0, 0.0)
    up: tuple[float, float, float] = (0.0, 1.0, 0.0)
    reach: float = Field(default=1.0, gt=0, le=100_000)
    count: int = Field(default=15, ge=2, le=41)


class BoundsIn(AboutEmitter):
    """Of what comes to a shaping: at the frame, or over the whole clip."""

    shaping: str
    whole: bool = True


class BoundsOut(Schema):
    """The middle and size of the box about it, metres; None where there is nobody."""

    middle: tuple[float, float, float] | None
    size: tuple[float, float, float] | None


class SeamIn(Strict):
    """Of the loop of an emitter, or of the whole effect where none is named."""

    document: dict[str, Any]
    emitter: str = ""


class SeamOut(Schema):
    """The last frame of a loop, its first and what differs, PNG in base64; and how far it is from one to the other.
    simulated: how many frames had to be for it."""

    first: int
    last: int
    pictures: tuple[str, str, str]
    jump: float
    without: float
    appear: int
    vanish: int
    shown: int
    gap: float
    simulated: int


class ColumnOut(Schema):
    """alike: every particle of the frame has the same."""

    alike: bool = False
    key: str
    label: str
    unit: Unit
    group: str


class TableOut(Schema):
    """rows: key as text, index in the frame, then a number a column."""

    total: int
    matching: int
    columns: list[ColumnOut]
    rows: list[list[str | float]]


class LifeColumn(ColumnOut):
    values: list[float]


class SliceOut(Schema):
    """lines: streamlines; each point with its push as a share of the strongest."""

    points: list[tuple[float, float, float]]
    pushes: list[tuple[float, float, float]]
    lines: list[list[tuple[float, float, float, float]]]


class LifeEvent(Schema):
    """What happened to a particle: a cue's name or a touch, the frame at which it shows, and its share of the life."""

    name: str
    frame: int
    life: float


class OneLifeOut(Schema):
    key: str
    frames: list[int]
    life: list[float]
    age: list[float]
    lifespan: float
    ends: bool
    events: list[LifeEvent]
    path: list[list[float]]
    columns: list[LifeColumn]


class RailsOut(Schema):
    """ride: its uid; lines: points in the world, metres."""

    ride: str
    lines: list[list[tuple[float, float, float]]]
