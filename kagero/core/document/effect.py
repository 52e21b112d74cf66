"""The whole document, read from and written to JSON."""

from __future__ import annotations

import json
import math
from fractions import Fraction
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, field_validator, model_validator

from ..errors import Finding, SchemaProblem, SyntaxProblem
from ..parts.contacts import CONTACTS
from ..parts.cues import CUES
from ..parts.draws import DRAWS
from ..parts.finish import FINISH, FinishPart
from ..parts.launches import LAUNCHES
from ..parts.looks import LOOKS
from ..parts.masks import MASKS
from ..parts.own import OWN
from ..parts.places import PLACES
from ..parts.props import PROPS, PropPart
from ..parts.pushes import PUSHES
from ..parts.rides import RIDES
from ..parts.shapings import SHAPINGS
from ..parts.sources import SOURCES
from ..rows.clip_rows import ByClip
from ..rows.model import DISPLAY_ONLY, VALUE, Model, Name, Vector, Whole
from ..rows.union import OpenUnion
from ..rows.view import Holder, Owner
from .base import DOCUMENT_FORMAT, SCHEMA_VERSION
from .dials import Dial, Settings
from .emitter import Emitter
from .framing import Framing
from .loop import Loop
from .moments import Moment
from .retiming import Retiming
from .upgrade import upgrade

MAX_DOCUMENT_BYTES = 8 * 1024 * 1024

Prop = Annotated[PropPart, PROPS]
Finish = Annotated[FinishPart, FINISH]
UNIONS: tuple[OpenUnion, ...] = (
    SOURCES,
    DRAWS,
    OWN,
    PLACES,
    LAUNCHES,
    PUSHES,
    RIDES,
    CONTACTS,
    CUES,
    LOOKS,
    PROPS,
    MASKS,
    FINISH,
    SHAPINGS,
)  # all that a document is open in


class Shown(Model):
    """In what the clip's numbers are shown and typed. They are stored in SI units whatever it says, and formulas
    compute in these."""

    times: Literal["seconds", "frames"] = "seconds"
    lengths: Literal["m", "cm", "mm"] = "m"
    rates: Literal["per_second", "per_frame"] = "per_second"


class Clip(Model):
    frame_rate: tuple[Whole, Whole] = Field(
        description="Frames a second as an exact fraction: [25, 1]; [24000, 1001] is 23.976."
    )
    first_frame: int = Field(ge=-1_000_000, le=1_000_000)
    last_frame: Annotated[int, VALUE] = Field(ge=-1_000_000, le=1_000_000)
    substeps: int = Field(default=1, ge=1, le=64, description="Steps a frame.")
    run_up: Annotated[int, VALUE] = Field(
        default=0, ge=0, le=2000, description="Frames that are simulated before the first, and not shown."
    )
    seed: Annotated[int, VALUE] = Field(default=1, ge=0, le=2**32 - 1)
    background: Annotated[Literal["ink", "grey", "paper"], DISPLAY_ONLY] = "ink"
    preview: Annotated[float, VALUE] = Field(
        default=1.0,
        gt=0,
        le=1,
        description="Share of births that come to be while the effect is worked on; what is handed over has all.",
    )
    shown: Annotated[Shown, DISPLAY_ONLY] = Field(default_factory=Shown)

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
    position: Annotated[Vector, VALUE]
    target: Annotated[Vector, VALUE]
    field_of_view: Annotated[float, VALUE] = Field(default=0.7, ge=0.02, le=2.8, description="Vertical, radians.")

    @model_validator(mode="after")
    def _looks_somewhere(self) -> Camera:
        if self.position == self.target:
            raise ValueError("the camera must not stand on its own target")
        return self


class Effect(Model):
    """An effect: clip, camera, emitters, dials, props. Lengths in metres, times in seconds, angles in radians,
    linear-light colour."""

    format: Literal["kagero-effect"] = DOCUMENT_FORMAT
    schema_version: Literal[16] = SCHEMA_VERSION
    name: Annotated[Name, DISPLAY_ONLY]
    note: Annotated[str, DISPLAY_ONLY] = Field(default="", max_length=4000)
    clip: Clip
    camera: Camera
    emitters: list[Emitter] = Field(min_length=1, max_length=32)
    dials: list[Dial] = Field(default=[], max_length=64)
    moments: list[Moment] = Field(default=[], max_length=64)
    settings: Annotated[list[Settings], DISPLAY_ONLY] = Field(default=[], max_length=64)
    props: list[Prop] = Field(default=[], max_length=64)
    finish: list[Finish] = Field(default=[], max_length=32, description="What is done to the picture, in order.")
    frame: Framing = Field(default_factory=Framing)
    retiming: Retiming | None = Field(
        default=None, description="Of all that stands and flies: particles, props, cameras and lights."
    )
    loop: Loop | None = Field(
        default=None,
        description="Of all emitters that have none of their own, and of the times of props, cameras and lights.",
    )

    def by_clip(self) -> list[ByClip]:
        """Return the things whose rows are read by the clip alone."""
        return [*self.props, *self.finish, self.frame]

    def holders(self) -> list[Any]:
        """Return all things that hold rows."""
        return [*self.emitters, *self.by_clip()]

    def place_of(self, owner: Owner) -> str:
        """Return where a thing that holds rows stands in the document, as `props.3`. KeyError where it is not."""
        group = _GROUPS[owner[0]]
        if not group:
            return owner[0]
        return f"{group}.{[thing.uid for thing in getattr(self, group)].index(owner[1])}"

    def whole(self) -> Effect:
        """Return the effect with all of its births, as it is handed over."""
        return (
            self
            if self.clip.preview == 1
            else self.model_copy(update={"clip": self.clip.model_copy(update={"preview": 1.0})})
        )


_GROUPS: dict[Holder, str] = {"emitter": "emitters", "prop": "props", "finish": "finish", "frame": ""}


def owner_of(thing: Any) -> Owner:
    """Return a thing that holds rows as their owner."""
    return (thing.holder if isinstance(thing, ByClip) else "emitter", thing.uid)


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
            data = json.loads(given := data, parse_constant=_refuse_constant)
        except UnicodeDecodeError as problem:
            raise _no_effect(given) or SyntaxProblem(
                "The file is not text in UTF-8.", remedy="Choose an effect saved as JSON."
            ) from problem
        except json.JSONDecodeError as problem:
            if other := _no_effect(given):
                raise other from problem
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
        document = upgrade(data)
        return Effect.model_validate(document)
    except ValidationError as problem:
        raise SchemaProblem("", findings=[_finding(document, error) for error in problem.errors()[:50]]) from problem


# how files of other kinds begin: glTF 2.0 binary, PNG (ISO/IEC 15948), JPEG (ISO/IEC 10918-1), NumPy, zip (NPZ), PLY,
# STL, XML (SVG), OBJ
_BEGINS = {
    b"glTF": "a mesh (GLB)",
    b"\x89PNG": "a picture (PNG)",
    b"\xff\xd8\xff": "a picture (JPEG)",
    b"\x93NUMPY": "an array (NPY)",
    b"PK\x03\x04": "an archive (NPZ or zip)",
    b"ply": "a mesh or points (PLY)",
    b"solid": "a mesh (STL)",
    b"<?xml": "a drawing (SVG)",
    b"<svg": "a drawing (SVG)",
    b"v ": "a mesh (OBJ)",
    b"# ": "a mesh (OBJ)",
    b"mtllib": "a mesh (OBJ)",
}


def _no_effect(data: bytes | str) -> SyntaxProblem | None:
    """Return what to say of a file that is known to be something else."""
    head = data[:16].encode() if isinstance(data, str) else bytes(data[:16])
    found = next((what for begins, what in _BEGINS.items() if head.startswith(begins)), None)
    return found and SyntaxProblem(
        f"This is {found}, not an effect.", remedy="Open an effect, or a new one, and bring it in under Props."
    )  # type: ignore[return-value]


def write_effect(effect: Effect) -> str:
    """Return the effect as indented JSON, the same text for equal effects."""
    return json.dumps(effect.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def json_schema() -> dict[str, Any]:
    """Return the JSON Schema (draft 2020-12) of an effect file."""
    schema = Effect.model_json_schema(mode="validation")
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema, "title": "Kagero effect"}


def _refuse_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number JSON knows")


_PLAIN_OR = {"plain", "row", "sourced"}  # what a value is told to be where it may be a model


def _path(document: Any, location: tuple[Any, ...]) -> list[str]:
    """Return where in the document a finding is: pydantic puts the tag of a union into its place, though it is no key
    there."""
    tags = list(dict.fromkeys(union.tag for union in UNIONS))
    path: list[str] = []
    here, waiting = document, list(tags)
    for step in location:
        if step in _PLAIN_OR and not (isinstance(here, dict) and step in here):
            continue
        tag_here = next((tag for tag in waiting if isinstance(here, dict) and here.get(tag) == step), None)
        if tag_here is not None:
            waiting.remove(tag_here)
            continue
        path.append(str(step))
        if isinstance(here, dict):
            here = here.get(step)
        elif isinstance(here, list) and isinstance(step, int) and step < len(here):
            here = here[step]
        else:
            here = None
        waiting = list(tags)
    return path


def _finding(document: Any, error: Any) -> Finding:
    path = _path(document, error["loc"])
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
