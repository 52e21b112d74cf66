"""The whole document, read from and written to JSON."""

from __future__ import annotations

import json
import math
from fractions import Fraction
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, field_validator, model_validator

from ..errors import Finding, SchemaProblem, SyntaxProblem
from .base import DOCUMENT_FORMAT, SCHEMA_VERSION, Model, Name, Uid, Vector
from .births import Births
from .dials import Dial
from .draws import Draw
from .forces import Force
from .look import Look
from .own import Own
from .props import Prop
from .rows import NumberRow
from .sources import ATTRIBUTES, Address
from .upgrade import upgrade

MAX_DOCUMENT_BYTES = 8 * 1024 * 1024


Whole = Annotated[int, Field(ge=1, le=1_000_000)]


class Clip(Model):
    frame_rate: tuple[Whole, Whole] = Field(description="Frames a second as an exact fraction: [25, 1]; [24000, 1001] is 23.976.")
    first_frame: int = Field(ge=-1_000_000, le=1_000_000)
    last_frame: int = Field(ge=-1_000_000, le=1_000_000)
    substeps: int = Field(default=1, ge=1, le=64, description="Steps a frame.")
    run_up: int = Field(default=0, ge=0, le=2000, description="Frames that are simulated before the first, and not shown.")
    seed: int = Field(default=1, ge=0, le=2**32 - 1)
    background: Literal["ink", "grey", "paper"] = "ink"

    @model_validator(mode="after")
    def _forward(self) -> Clip:
        if not self.first_frame <= self.last_frame <= self.first_frame + 20_000:
            raise ValueError("the last frame must not be before the first, nor more than 20,000 frames after it")
        return self

    @field_validator("frame_rate", mode="before")
    @classmethod
    def _a_fraction(cls, rate: Any) -> Any:
        if not isinstance(rate, (list, tuple)) or len(rate) != 2:
            raise ValueError("a frame rate is a fraction of two whole numbers, such as [25, 1] or [24000, 1001]")
        return rate

    @field_validator("frame_rate")
    @classmethod
    def _reduced(cls, rate: tuple[int, int]) -> tuple[int, int]:
        if not rate[1] <= rate[0] <= 240 * rate[1]:
            raise ValueError("the frame rate must be from 1 to 240 frames a second")
        shared = math.gcd(*rate)
        return rate[0] // shared, rate[1] // shared

    @property
    def rate(self) -> Fraction:
        """Frames a second, exactly."""
        return Fraction(*self.frame_rate)

    def seconds(self, frame: int) -> float:
        """Clip time in seconds of a frame number, the float64 nearest to it; nought at the first frame."""
        return (frame - self.first_frame) * self.frame_rate[1] / self.frame_rate[0]


class Camera(Model):
    position: Vector
    target: Vector
    field_of_view: float = Field(default=0.7, ge=0.02, le=2.8, description="Vertical, radians.")

    @model_validator(mode="after")
    def _looks_somewhere(self) -> Camera:
        if self.position == self.target:
            raise ValueError("the camera must not stand on its own target")
        return self


class Motion(Model):
    """Motion besides the forces."""

    spin: NumberRow = NumberRow(base=0)
    grip: NumberRow = NumberRow(base=0)


class Thinning(Model):
    """Fewer particles further from a camera or prop, and none outside a camera's view. It hides, and never removes.

    prop: a camera or any prop; null: the effect's own camera. view: outside a camera's view nobody is shown.
    """

    prop: Uid | None = None
    outer: NumberRow = NumberRow(base=10)
    inner: NumberRow = NumberRow(base=0.5)
    view: bool = False
    margin: NumberRow = NumberRow(base=0.1)
    aspect: float = Field(default=16 / 9, gt=0.05, le=20, description="Width of the view over its height.")


class Shelf(Model):
    """How an emitter's sheet is laid out: rows by address. It changes nothing about the particles."""

    added: list[Address] = Field(default=[], max_length=256)
    pinned: list[Address] = Field(default=[], max_length=256)
    hidden: list[Address] = Field(default=[], max_length=256)


class Emitter(Model):
    uid: Uid
    name: Name
    visible: bool = True
    births: Births
    forces: list[Force] = Field(default=[], max_length=64)
    motion: Motion = Motion()
    look: Look
    thinning: Thinning | None = None
    draws: list[Draw] = Field(default=[], max_length=64)
    own: list[Own] = Field(default=[], max_length=32)
    muted_sources: list[Address] = Field(default=[], max_length=256, description="Sources whose responses do not act.")
    sheet: Shelf = Shelf()


class Effect(Model):
    """An effect: clip, camera, emitters, dials, props. Lengths in metres, times in seconds, angles in radians, linear-light colour."""

    format: Literal["kagero-effect"] = DOCUMENT_FORMAT
    schema_version: Literal[4] = SCHEMA_VERSION
    name: Name
    note: str = Field(default="", max_length=4000)
    clip: Clip
    camera: Camera
    emitters: list[Emitter] = Field(min_length=1, max_length=32)
    dials: list[Dial] = Field(default=[], max_length=64)
    props: list[Prop] = Field(default=[], max_length=64)


def read_effect(data: bytes | str | dict[str, Any]) -> Effect:
    """Read an effect from JSON text, bytes or an already parsed object, upgrading older schema versions.

    Raises SyntaxProblem (not JSON, too large), SchemaProblem (what does not fit, each place named).
    The argument is never changed.
    """
    if isinstance(data, (bytes, str)):
        if len(data) > MAX_DOCUMENT_BYTES:
            raise SyntaxProblem(
                f"The file has {len(data):,} bytes; an effect may have {MAX_DOCUMENT_BYTES:,}.",
                remedy="Check that it is an effect file and not a cache or a picture.",
            )
        try:
            data = json.loads(data, parse_constant=_refuse_constant)
        except UnicodeDecodeError as problem:
            raise SyntaxProblem("The file is not text in UTF-8.", remedy="Choose an effect saved as JSON.") from problem
        except json.JSONDecodeError as problem:
            raise SyntaxProblem(
                f"This is not valid JSON: {problem.msg}.",
                where=f"line {problem.lineno}, column {problem.colno}",
                remedy="Correct the text there, or export the effect again.",
            ) from problem
        except (RecursionError, ValueError) as problem:
            raise SyntaxProblem(f"This JSON cannot be read: {problem}.", remedy="Export the effect again.") from problem
    if not isinstance(data, dict):
        raise SchemaProblem("An effect is a JSON object.", remedy='It starts with {"format": "kagero-effect", ...}.')
    try:
        return Effect.model_validate(upgrade(data))
    except ValidationError as problem:
        raise SchemaProblem("", findings=[_finding(error) for error in problem.errors()[:50]]) from problem


def write_effect(effect: Effect) -> str:
    """Return the effect as indented JSON, the same text for equal effects."""
    return json.dumps(effect.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def json_schema() -> dict[str, Any]:
    """Return the JSON Schema (draft 2020-12) of an effect file."""
    schema = Effect.model_json_schema(mode="validation")
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema, "title": "Kagero effect"}


def _refuse_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number JSON knows")


# fields that hold a tagged union; pydantic puts the tag into a finding's place after them, though it is no key there
_UNIONS = {"source", "place", "base", "amount", "shift", "exponent", "reference", "power", "scale", "drift", "point"}
_TAGS = {"point", "disc", "sphere", "box", "curve", "gradient", "ratio", "gravity", "buoyancy", "wind", "drag", "curl_noise",
         "plain", "row", "sourced", "uniform", "spread", "normal", "choice", "sign", "integer", "number", "vector", "colour",
         "clip_time", "shape", "mesh", "particles", "mask", "surface", "parent", "picture", "path", "text",
         "logo", "points", "camera", "prop", "draw", "own", "dial", "formula", "noise", "distance", "position", "velocity",
         "birth_position", "birth_normal",
         *ATTRIBUTES}  # fmt: skip


def _finding(error: Any) -> Finding:
    parts = list(error["loc"])
    path: list[str] = []
    for i, part in enumerate(parts):
        before = parts[i - 1] if i else None
        tagged = isinstance(before, int) or before in _UNIONS
        if part in _TAGS and tagged and not (before in _UNIONS and i + 1 == len(parts) and part not in ("plain", "row", "sourced")):
            continue
        path.append(str(part))
    kind = error["type"]
    remedy = {
        "extra_forbidden": "Remove this key, or check its spelling.",
        "missing": "Add it, or export the effect again.",
        "finite_number": "Give an ordinary number.",
        "union_tag_invalid": "Use one of the kinds named.",
    }.get(kind, "Correct the value.")
    message = str(error["msg"]).removeprefix("Value error, ")
    if kind == "extra_forbidden":
        message = "This key is unknown"
    value = error.get("input")
    shown = f" (found {value!r})" if isinstance(value, (int, float, str)) and len(str(value)) < 40 else ""
    return Finding("schema", ".".join(path), f"{message}{shown}.", remedy)
