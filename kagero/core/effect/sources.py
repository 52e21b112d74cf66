"""Sources: what a row or a response may read. Each is small and plain; what it means stands in the catalog."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Discriminator, Field, Tag

from .base import Model, Number, Uid, Vector

if TYPE_CHECKING:
    from .rows import NumberRow, VectorRow

# parts of a vector; `whole` only where a vector is wanted
VectorPart = Literal["x", "y", "z", "length", "along", "whole"]
ColourPart = Literal["red", "green", "blue", "whole"]
Address = Annotated[str, Field(min_length=1, max_length=160, description="A row of the same emitter, such as look.size.")]

ATTRIBUTES = (
    "life", "age", "lifespan", "number", "birth_frame", "height", "speed", "size", "opacity", "brightness", "rotation",
    "spin", "mass", "birth_u", "birth_v",
)  # fmt: skip


class AttributeSource(Model):
    """A number every particle has."""

    kind: Literal[
        "life", "age", "lifespan", "number", "birth_frame", "height", "speed", "size", "opacity", "brightness", "rotation",
        "spin", "mass", "birth_u", "birth_v",
    ]  # fmt: skip


class VectorSource(Model):
    """A vector every particle has: a component, its length, its extent along an axis, or the whole."""

    kind: Literal["position", "velocity", "birth_position", "birth_normal"]
    part: VectorPart = "length"
    axis: Vector = Field(default=(0.0, 1.0, 0.0), description="For the part `along`; only its direction counts.")


class ColourSource(Model):
    """The particle's colour at this moment."""

    kind: Literal["colour"]
    part: ColourPart = "red"


class ClipTimeSource(Model):
    """Seconds since the clip's first frame: a response from it is what keyframes are."""

    kind: Literal["clip_time"]


class DrawSource(Model):
    """One of the emitter's draws: a random value the particle was given once, at birth."""

    kind: Literal["draw"]
    draw: Uid


class OwnSource(Model):
    """One of the emitter's own attributes, as it stands at the step's start."""

    kind: Literal["own"]
    own: Uid
    part: Literal["x", "y", "z", "length", "along", "red", "green", "blue", "whole"] = "whole"
    axis: Vector = (0.0, 1.0, 0.0)


class NoiseSource(Model):
    """Improved noise where the particle is, between -1 and 1. Its uid seeds it; noise that is shared under a name is the same
    everywhere in the effect, in formulas too (`noises.NAME`)."""

    kind: Literal["noise"]
    uid: Uid
    scale: Setting = 0.5
    drift: Setting = 0.2
    octaves: int = Field(default=1, ge=1, le=6)
    shared: str = Field(default="", max_length=40, pattern=r"^([a-z_][a-z0-9_]*)?$", description="A name under which it is the same noise for all.")


class DistanceSource(Model):
    """Metres between the particle and a point."""

    kind: Literal["distance"]
    uid: Uid
    point: VectorSetting = (0.0, 0.0, 0.0)


class PropSource(Model):
    """Where a prop of the effect stands: a component, its distance from the origin, or the whole."""

    kind: Literal["prop"]
    prop: Uid
    part: VectorPart = "length"
    axis: Vector = (0.0, 1.0, 0.0)


class MaskSource(Model):
    """A mask where the particle is: its value there now, the largest it ever was (latched), or the seconds since it first passed a half."""

    kind: Literal["mask"]
    mask: Uid
    part: Literal["value", "latched", "since"] = "value"


class PictureSource(Model):
    """A prop's picture, or a mesh's own colours: where the particle was born (its birth u, v), or at the nearest place of the prop."""

    kind: Literal["picture"]
    prop: Uid
    at: Literal["birth", "near"] = "near"
    part: Literal["luminance", "red", "green", "blue", "alpha", "whole"] = "luminance"


class SurfaceSource(Model):
    """The nearest place of a prop: how far it is (negative inside a closed mesh), and its (u, v)."""

    kind: Literal["surface"]
    prop: Uid
    part: Literal["distance", "u", "v"] = "distance"


class ParentSource(Model):
    """What the particle that this one came from was, at this one's birth."""

    kind: Literal["parent"]
    part: Literal["age", "life", "size", "speed", "opacity", "red", "green", "blue", "whole"] = "life"


class DialSource(Model):
    """One of the effect's dials."""

    kind: Literal["dial"]
    dial: Uid


class FormulaSource(Model):
    """What a formula gives. Its uid seeds its noise."""

    kind: Literal["formula"]
    uid: Uid
    text: str = Field(min_length=1, max_length=4000, description="The formula that runs: see docs/FORMULAS.md.")
    draft: str = Field(default="", max_length=4000, description="What is being written while it cannot run yet; it plays no part.")


class RowSource(Model):
    """The value that another row of the same emitter has for the same particle, at this moment."""

    kind: Literal["row"]
    row: Address
    part: Literal["x", "y", "z", "length", "along", "red", "green", "blue", "whole"] = "whole"
    axis: Vector = (0.0, 1.0, 0.0)


Source = Annotated[
    AttributeSource
    | VectorSource
    | ColourSource
    | ClipTimeSource
    | DrawSource
    | OwnSource
    | NoiseSource
    | DistanceSource
    | PropSource
    | MaskSource
    | PictureSource
    | SurfaceSource
    | ParentSource
    | DialSource
    | FormulaSource
    | RowSource,
    Field(discriminator="kind"),
]
Read = Literal["once", "live"]


class SourcedBase(Model):
    """A base that is read from a source, as it is, in the source's own unit."""

    source: Source
    read: Read = "live"


def _plain_or(what: str) -> Discriminator:
    return Discriminator(lambda value: what if isinstance(value, (dict, Model)) else "plain")


# A setting of a response or source: a number, or a row when something drives it.
Setting = Annotated[Annotated[Number, Tag("plain")] | Annotated["NumberRow", Tag("row")], _plain_or("row")]
VectorSetting = Annotated[Annotated[Vector, Tag("plain")] | Annotated["VectorRow", Tag("row")], _plain_or("row")]


def source_key(source: Any) -> str:
    """Return the name under which equal sources stand in one column of the loom and are muted together."""
    kind = source.kind
    if kind == "draw":
        return f"draws.{source.draw}"
    if kind == "prop":
        return f"props.{source.prop}" + ("" if source.part == "whole" else f".{source.part}")
    if kind in ("mask", "picture", "surface"):
        whose = source.mask if kind == "mask" else source.prop
        return f"{kind}.{whose}.{source.part}"
    if kind == "dial":
        return f"dials.{source.dial}"
    if kind == "own":
        return f"own.{source.own}" + ("" if source.part == "whole" else f".{source.part}")
    if kind == "row":
        return f"row.{source.row}" + ("" if source.part == "whole" else f".{source.part}")
    return f"{kind}.{source.part}" if isinstance(source, (VectorSource, ColourSource, ParentSource)) else kind
