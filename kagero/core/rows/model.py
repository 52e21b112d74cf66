"""What every part of the document shares: strictness, uids, finite numbers, and what stands beside a field."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from .units import PLAIN, Unit

Band = Literal[
    "props", "births", "motion", "contacts", "cues", "look", "endings", "shaping", "draws", "own", "finish", "frame"
]
Stage = Literal["emitter", "birth", "live"]


class Model(BaseModel):
    """A part of the document: unknown keys are refused and numbers are finite. Schemas are built when they are first used, after every
    kind of part is known."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, validate_default=True, defer_build=True)

    def __init_subclass__(cls, **kwargs: Any) -> None:
        """Say of class facts only that they are: pydantic would read each one's type from its text again for every class below, which was half
        the time of an import."""
        for name, text in cls.__annotations__.items():
            if isinstance(text, str) and text.startswith("ClassVar"):
                cls.__annotations__[name] = ClassVar
        super().__init_subclass__(**kwargs)


# A permanent name for the machine: hashed into draws, never shown, never changed by renaming.
Uid = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$", description="Permanent identifier; not a name.")]
Name = Annotated[str, Field(min_length=1, max_length=80)]
Number = Annotated[float, Field(ge=-1e9, le=1e9)]
Vector = Annotated[tuple[Number, Number, Number], Field(description="x, y, z; y is up.")]
Whole = Annotated[int, Field(ge=1, le=1_000_000)]


# beside a field ---------------------------------------------------------------------------------------------------------
@dataclass(frozen=True)
class Driven:
    """Beside a row: its words, what bounds base and result, what a full drag across the field spans, and its default.

    stage: "emitter" (read as time goes, no particle), "birth" (once per particle), "live" (every step or frame); without one, its
    part's. always: shown in the sheet also while it does nothing.
    """

    label: str
    unit: Unit
    lowest: float
    highest: float
    drag: float
    default: float | tuple[float, float, float]
    help: str
    stage: Stage | None = None
    always: bool = False


@dataclass(frozen=True)
class Setting:
    """Beside a field that nothing can drive: its words and unit. choices: of a field with a few values, the words for each, in order.

    nothing: of a field that may name nothing, the words for that. shown: whether the sheet shows it; else some other part of the screen does.
    pictured: whether its values are pictures that ship (`geometry.stock`), to be chosen by how they look. side: of a side, the field of the same part
    that is the other one: they can be changed together, in proportion.
    """

    label: str
    help: str = ""
    unit: Unit = PLAIN
    choices: tuple[tuple[str, str], ...] = ()
    nothing: str = ""
    shown: bool = True
    pictured: bool = False
    side: str = ""


MUST_NAME = ("", "choose one", "none yet")  # what stands where a part names nothing though it has to


@dataclass(frozen=True)
class Refers:
    """Beside a field that names another thing by its uid. group: which things: props, emitters, draws, own, dials, rides, cues (of the same emitter).

    fits: which of them will do, by a property that they have. missing: what to say where it names nothing that fits, `{name}` being whose
    field it is; remedy: what to do then; without, the part says so itself.
    """

    group: Literal["props", "emitters", "draws", "own", "dials", "rides", "cues", "moments"]
    fits: str = ""
    missing: str = ""
    remedy: str = ""
    needed: bool = False  # naming nothing will not do either
    goes_without: bool = (
        False  # what names nothing that is there goes on without it, and says so while it plays (`lacking`)
    )


@dataclass(frozen=True)
class FileKind:
    """Beside a field that names files that were brought in. kind: what they have to hold; accept: the endings of their names."""

    kind: Literal["mesh", "picture", "film", "drawing", "points", "field"]
    accept: tuple[str, ...]


@dataclass(frozen=True)
class Guide:
    """A mark on the stage that shows where a part is, drawn from the bases of its own rows, named by their fields.

    mark: what is drawn; at: the row of its place, metres (none: where the emitter's births are); radius, size, direction, core: rows, as the mark
    needs them (falloff: how strong it is over the distance; axis: the same about an axis). moved: whether a hand on the stage moves the place.
    turn: of a box, its row of angles. space: the uid of the prop in whose space it stands; span, fade: over how many metres it fades, and how.
    counts, points: of a lattice in a box, how many points it has along each axis, and where they are moved to, in sizes of the box from its middle.
    """

    mark: Literal["cross", "disc", "ball", "box", "arrow", "falloff", "axis", "lattice"]
    at: str = ""
    radius: str = ""
    size: str = ""
    direction: str = ""
    core: str = ""
    moved: bool = False
    space: str = ""
    span: float = 0.0
    fade: tuple[float, ...] = ()
    turn: str = ""
    counts: tuple[int, ...] = ()
    points: tuple[tuple[float, float, float], ...] = ()


@dataclass(frozen=True)
class Mark:
    """Beside a field: what it is to those who walk through a document."""

    name: str


VALUE = Mark("value")  # read when programs run: it changes none of their operations
OPTIONAL = Mark("optional")  # a value that may be none: whether there is one is part of the structure
DISPLAY_ONLY = Mark("display_only")  # words for people: names, notes, layout; nothing is computed from them
ADDRESS = Mark("address")  # the address of a row of the same emitter
FORMULA = Mark("formula")  # the text of a formula
SETTINGS = Mark("settings")  # numbers that may be rows
STRUCTURAL_IF_CHANGED = Mark("whether")  # a row of which programs depend on whether it differs from its default at all
CONTENT = Mark("content")  # what a prop's geometry is made from; no program depends on it


@dataclass(frozen=True)
class FieldFacts:
    """A field of a model with all that stands beside it."""

    name: str
    driven: Driven | None
    setting: Setting | None
    refers: Refers | None
    marks: frozenset[str]
    annotation: Any
    default: Any
    constraints: tuple[Any, ...]
    description: str

    @property
    def must_name(self) -> bool:
        """Whether a part cannot do without naming something here. Where it can, a new part names nothing, whatever there is."""
        return self.refers is not None and (
            self.refers.needed or self.setting is None or self.setting.nothing in MUST_NAME
        )

    @cached_property
    def cache(self) -> dict[str, Any]:
        """What was found out from it once (`offers.offered`): it never changes."""
        return {}


def fields_of(kind: type[Any]) -> tuple[FieldFacts, ...]:
    """Return the fields of a model, in their order."""
    known = _known.get(kind)
    if known is None:
        known = _known[kind] = _fields(kind)
    return known


_known: dict[type[Any], tuple[FieldFacts, ...]] = {}


def _fields(kind: type[BaseModel]) -> tuple[FieldFacts, ...]:
    fields = []
    for name, field in kind.model_fields.items():

        def first(wanted: type, metadata: list[Any] = field.metadata) -> Any:
            return next((each for each in metadata if isinstance(each, wanted)), None)

        marks = frozenset(each.name for each in field.metadata if isinstance(each, Mark))
        default = (
            None
            if field.is_required()
            else field.get_default(call_default_factory=True)
            if field.default_factory is None
            else None
        )
        fields.append(
            FieldFacts(
                name,
                first(Driven),
                first(Setting),
                first(Refers),
                marks,
                field.annotation,
                default,
                tuple(field.metadata),
                field.description or "",
            )
        )
    return tuple(fields)


def ordered(kind: type[Part]) -> tuple[FieldFacts, ...]:
    """Return the fields of a part, its rows in the order of the sheet."""
    order, last = kind.row_order, kind.rows_last
    if not order and not last:
        return fields_of(kind)
    return tuple(
        sorted(
            fields_of(kind),
            key=lambda facts: (facts.name in last, order.index(facts.name) if facts.name in order else -1),
        )
    )


def summary(kind: Any) -> str:
    """Return what a kind of part is, in words: its help, else the first sentence of its docstring."""
    line = " ".join((kind.__doc__ or "").split())
    return str(kind.help) or (line.split(". ")[0].rstrip(".") + "." if line else "")


class Part(Model):
    """One kind of thing that an effect is made of, or a piece of one.

    label, help: its words. band: where its rows stand. stage: when they are read, where a row does not say. guides: what the stage shows of it.
    """

    label: ClassVar[str] = ""
    help: ClassVar[str] = ""
    band: ClassVar[Band] = "births"
    stage: ClassVar[Stage] = "live"
    guides: ClassVar[tuple[Guide, ...]] = ()
    flags: ClassVar[tuple[str, ...]] = ()  # the class facts, true or not, that the interface is told
    row_order: ClassVar[
        tuple[str, ...]
    ] = ()  # its rows in the order of the sheet, where that is not the order of its fields
    rows_last: ClassVar[tuple[str, ...]] = ()  # those that stand behind all others

    @classmethod
    def rows_key(cls) -> str:
        """Return what the keys of its rows begin with: names that are the same wherever such a part stands."""
        return ""

    def row_family(self, field: str) -> str:
        """Return what a row of this very thing belongs to: rows of one family come out of each other at a birth."""
        return f"{self.rows_key()}.{field}"

    def unused(self) -> frozenset[str]:
        """Return the rows that take no part as it is set now, by their fields; of parts within it, with a dot between."""
        return frozenset()

    def driven(self, facts: FieldFacts) -> Driven | None:
        """Return what stands beside a row of this very thing, where that is not what its kind says."""
        return facts.driven

    @classmethod
    def template(cls) -> dict[str, Any]:
        """Return a new one as plain data, with a uid to be replaced where it has one."""
        return {}

    @classmethod
    def suited(cls, data: dict[str, Any], effect: Any, thing: Any) -> dict[str, Any]:
        """Return a new one, as plain data, as it suits the emitter or prop that it is added to."""
        return data

    def wants(self, effect: Any) -> tuple[str, str, str] | None:
        """Return what it cannot do without and has not: the field, words, and what to do; None where nothing is missing. It does nothing then."""
        return None

    def relies_on(self) -> tuple[str, ...]:
        """Return the path of what its emitter must have beside it, such as targets; nothing where it needs none."""
        return ()

    def possible(self, effect: Any, thing: Any) -> str:
        """Return why an emitter or prop of an effect cannot have such a part now, or an empty string. Asked of a new one."""
        return ""

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        """Return the things that a field of it may name, where that is not all that fit."""
        return None

    def values_of(self, field: str, effect: Any) -> tuple[str, ...] | None:
        """Return the values that a field with a few of them can have as the part stands, where that is not all."""
        return None

    def settled_fields(self, effect: Any, thing: Any) -> dict[str, Any]:
        """Return what other fields have to be for it to fit, by their path in the thing, when such a part takes another's place."""
        return {}

    def carried(self, at: Any) -> dict[str, int]:
        """Return what a particle's state keeps for it from the birth on, by name, as it is at the birth (at: the reader of one)."""
        return {}

    def forms(self) -> Iterator[tuple[str, bool, dict[str, Any]]]:
        """Yield the forms that it can have, where these are a few that change several fields together: words, whether it has that now, the fields."""
        return iter(())

    def guided(self) -> dict[str, Any]:
        """Return what its guides show of it besides its rows, by their fields."""
        return {}

    def on_stage(self, thing: Any) -> Iterator[tuple[str, str, str]]:
        """Yield what the stage can show of it on props, of an emitter: its name for `staging.Fields`, and its words and help."""
        return iter(())

    def step(self, phase: Any, at: Any, state: Any) -> None:
        """Add to a particle's step in one of its phases (`rows.step`: phase: Phase, at: Reader, state: StepState)."""

    def alters(self, address: str) -> tuple[str, ...] | None:
        """Return the addresses of the rows by which it changes what another row gives while particles live, none where it goes by what they
        remember; None: it does not change that row."""
        return None

    def altered(self, at: Any, address: str, values: Any) -> Any:
        """Return what another row gives of a living particle, changed by this: asked of those that it `alters`."""
        return values


def parts_in(thing: Any) -> Iterator[Part]:
    """Yield a part and the parts within it, in the order of their fields."""
    if isinstance(thing, Part):
        yield thing
        for facts in fields_of(type(thing)):
            yield from parts_in(getattr(thing, facts.name))
    elif isinstance(thing, list):
        for each in thing:
            yield from parts_in(each)


def walk(thing: Any, path: str = "") -> Iterator[tuple[str, FieldFacts, Any]]:
    """Yield every field of a model and of all that is within it: its path, its facts, its value. Within lists too."""
    if isinstance(thing, Model):
        for facts in fields_of(type(thing)):
            value = getattr(thing, facts.name)
            yield f"{path}{facts.name}", facts, value
            if isinstance(value, (Model, list, tuple)):
                yield from walk(value, f"{path}{facts.name}.")
    elif isinstance(thing, (list, tuple)):
        for index, each in enumerate(thing):
            if isinstance(each, (Model, list, tuple)):
                yield from walk(each, f"{path}{index}.")


def rewritten(thing: Any, change: Callable[[FieldFacts, Any], Any]) -> Any:
    """Return a model, or a list or tuple of them, with some of its fields changed; what stays the same is shared.

    change: gives the new value of a field that holds no model, or the same value.
    """
    if isinstance(thing, Model):
        update = {}
        for facts in fields_of(type(thing)):
            before = getattr(thing, facts.name)
            after = rewritten(before, change) if _holds_models(before) else change(facts, before)
            if after is not before:
                update[facts.name] = after
        return thing.model_copy(update=update) if update else thing
    if isinstance(thing, (list, tuple)):
        changed = [rewritten(each, change) for each in thing]
        return thing if all(a is b for a, b in zip(changed, thing, strict=True)) else type(thing)(changed)
    return thing


def _holds_models(value: Any) -> bool:
    return isinstance(value, Model) or (isinstance(value, (list, tuple)) and any(_holds_models(each) for each in value))


def new_rows(kind: type[Part]) -> dict[str, Any]:
    """Return the rows of a kind of part as plain data, at their defaults."""
    return {facts.name: {"base": facts.driven.default, "responses": []} for facts in fields_of(kind) if facts.driven}


def references(facts: FieldFacts, value: Any) -> tuple[str, ...]:
    """Return the uids that a field names; an empty one names nothing."""
    if facts.refers is None or not value:
        return ()
    return (value,) if isinstance(value, str) else tuple(value)
