"""Rows and responses: a base value, and the responses that drive it, in order."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal, TypeAlias

from pydantic import Discriminator, Field, GetCoreSchemaHandler, Tag
from pydantic_core import CoreSchema, core_schema

from .curves import Colour, Curve, Gradient
from .model import DISPLAY_ONLY, SETTINGS, VALUE, Driven, Model, Number, Uid, Vector
from .source import Source
from .units import PERCENT, PLAIN

Operation = Literal["set", "multiply", "add", "at_most", "at_least"]
Beyond = Literal["hold", "repeat", "mirror"]
Read = Literal["once", "live"]
Range = tuple[Number, Number]
BIG = 1e9

if TYPE_CHECKING:
    Setting: TypeAlias = "float | NumberRow"
    VectorSetting: TypeAlias = "tuple[float, float, float] | VectorRow"
else:

    class _PlainOrRow:
        """A number or vector, or the row that it becomes when something drives it. Rows hold responses, and these hold
        settings."""

        def __init__(self, plain: Any, row: str):
            self.plain, self.row = plain, row

        def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
            kinds = {"plain": handler.generate_schema(self.plain), "row": handler.generate_schema(globals()[self.row])}
            return core_schema.tagged_union_schema(
                kinds, lambda value: "row" if isinstance(value, (dict, Model)) else "plain"
            )

    Setting = Annotated[Any, _PlainOrRow(Number, "NumberRow")]
    VectorSetting = Annotated[Any, _PlainOrRow(Vector, "VectorRow")]


def plain_or(what: str) -> Discriminator:
    """Return a discriminator between a plain value and a model."""
    return Discriminator(lambda value: what if isinstance(value, (dict, Model)) else "plain")


class SourcedBase(Model):
    """A base that is read from a source, as it is, in the source's own unit."""

    source: Source
    read: Read = "live"


class _ResponseBase(Model):
    uid: Uid
    source: Source
    read: Read = Field(
        default="live",
        description="Source read at birth and kept, or at every step. Without it, as the row can: at birth in rows of "
        "births and draws, else live.",
    )
    operation: Operation = "multiply"
    amount: Annotated[Setting, Driven("Amount", PERCENT, 0, 1, 1, 1, "Share of the operation's effect.")] = Field(
        default=1, description="Share of the operation's effect, 0 to 1."
    )
    muted: bool = False
    fitted: Annotated[str, DISPLAY_ONLY] = Field(
        default="",
        max_length=32,
        description="What its range, or what it is relative to, was fitted to: as the layout names it. Empty: to "
        "nothing.",
    )


class _Ranged(_ResponseBase):
    input: Annotated[Range, VALUE] = Field(
        description="Source values at the curve's left and right edge, in the source's unit."
    )
    beyond: Beyond = Field(default="hold", description="What becomes of source values outside the input range.")
    shift: Annotated[
        Setting,
        Driven(
            "Shift", PERCENT, -100, 100, 1, 0, "Moves the curve along the input, in shares of its range.", varied=0.25
        ),
    ] = Field(default=0, description="Moves the curve along the input, in shares of the input range.")


class CurveResponse(_Ranged):
    """source -> input range -> curve -> exponent -> output range -> operation."""

    kind: Literal["curve"] = "curve"
    curve: Annotated[Curve, VALUE]
    exponent: Annotated[
        Setting,
        Driven(
            "Exponent", PLAIN, -16, 16, 3, 1, "Power of the curve's height: above 1 holds it down, below 1 lifts it."
        ),
    ] = Field(default=1, description="Power to which the curve's height is raised; its sign is kept.")
    output: Annotated[tuple[Setting, Setting], SETTINGS] = Field(
        description="Values at the curve's 0 and 1; in the row's unit, or a factor when multiplying."
    )
    component: Literal["all", "x", "y", "z"] = Field(default="all", description="On a vector row: what it acts on.")


class GradientResponse(_Ranged):
    """source -> input range -> gradient -> operation; for colour rows."""

    kind: Literal["gradient"] = "gradient"
    gradient: Annotated[Gradient, VALUE]


class RatioResponse(_ResponseBase):
    """(source / reference) to a power: in proportion (1), in inverse proportion (-1), with the square (2)."""

    kind: Literal["ratio"] = "ratio"
    reference: Annotated[
        Setting, Driven("Relative to", PLAIN, -BIG, BIG, 1, 1, "The source's value at which nothing changes.")
    ] = Field(default=1, description="The source's value at which nothing changes, in the source's unit.")
    power: Annotated[
        Setting,
        Driven("Power", PLAIN, -16, 16, 3, 1, "1 is in proportion, -1 in inverse proportion, 2 with the square."),
    ] = 1
    component: Literal["all", "x", "y", "z"] = "all"


OUTPUT = (
    Driven("To low", PLAIN, -BIG, BIG, 1, 0, "What the curve's bottom gives."),
    Driven("To high", PLAIN, -BIG, BIG, 1, 1, "What the curve's top gives."),
)
Response = Annotated[CurveResponse | GradientResponse | RatioResponse, Field(discriminator="kind")]
Responses = Annotated[list[Response], Field(max_length=32)]


class NumberRow(Model):
    base: Annotated[Annotated[Number, Tag("plain")] | Annotated[SourcedBase, Tag("sourced")], plain_or("sourced")]
    responses: Responses = []
    muted: bool = Field(default=False, description="None of its responses act.")


class VectorRow(Model):
    base: Annotated[Annotated[Vector, Tag("plain")] | Annotated[SourcedBase, Tag("sourced")], plain_or("sourced")]
    responses: Responses = []
    muted: bool = False


class ColourRow(Model):
    base: Annotated[Annotated[Colour, Tag("plain")] | Annotated[SourcedBase, Tag("sourced")], plain_or("sourced")]
    responses: Responses = []
    muted: bool = False


Row = NumberRow | VectorRow | ColourRow
ROWS = (NumberRow, VectorRow, ColourRow)


def number(base: float) -> Any:
    """Return the default of a number row's field."""
    return Field(default_factory=lambda: NumberRow(base=base))


def vector(x: float, y: float, z: float) -> Any:
    """Return the default of a vector row's field."""
    return Field(default_factory=lambda: VectorRow(base=(x, y, z)))


def colour(red: float, green: float, blue: float) -> Any:
    """Return the default of a colour row's field."""
    return Field(default_factory=lambda: ColourRow(base=(red, green, blue)))


def row_of(setting: float | tuple[float, float, float] | NumberRow | VectorRow) -> NumberRow | VectorRow:
    """Return a setting as a row."""
    if isinstance(setting, (NumberRow, VectorRow)):
        return setting
    if isinstance(setting, tuple):  # both were checked already, as parts of the document
        return VectorRow.model_construct(base=setting, responses=[], muted=False)
    return NumberRow.model_construct(base=setting, responses=[], muted=False)


def read_once(thing: object) -> None:
    """Make everything within that does not say when it is read be read at birth."""
    if isinstance(thing, (list, tuple)):
        for part in thing:
            read_once(part)
    elif isinstance(thing, Model):
        if "read" in type(thing).model_fields and "read" not in thing.model_fields_set:
            thing.read = "once"  # type: ignore[attr-defined]
        for name in type(thing).model_fields:
            read_once(getattr(thing, name))


def is_sourced(row: Row) -> bool:
    """Return whether a row's base is read from a source."""
    return isinstance(row.base, SourcedBase)


def is_plain(row: Row) -> bool:
    """Return whether a row is one number for all particles."""
    return isinstance(row, NumberRow) and not row.responses and not is_sourced(row)


def differs_from_default(row: Row, default: float | tuple[float, float, float]) -> bool:
    """Return whether a row has an effect: its base is not the default, or something drives it."""
    return bool(row.responses) or is_sourced(row) or row.base != default


def sources_of(row: Row) -> list[tuple[Any, Read, Any]]:
    """Return every source that a row reads, with how it is read and the response that reads it (None: the base)."""
    found: list[tuple[Any, Read, Any]] = (
        [(row.base.source, row.base.read, None)] if isinstance(row.base, SourcedBase) else []
    )
    return found + [(response.source, response.read, response) for response in row.responses]
