"""What all parts of the document share: strictness, uids, finite numbers, and the facts about their fields."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from .example import Example, Suggestion
from .units import PLAIN, Unit

Band = Literal[
    "props", "births", "motion", "contacts", "cues", "look", "endings", "shaping", "draws", "own", "finish", "frame"
]
Stage = Literal["emitter", "birth", "live"]


class Model(BaseModel):
    """A part of the document. Unknown keys are refused and numbers must be finite. Schemas are built at first use, when
    every kind of part is known."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, validate_default=True, defer_build=True)

    def __init_subclass__(cls, **kwargs: Any) -> None:
        """Declare class facts as class variables, so that pydantic does not evaluate their types again for every
        subclass, which took half of the import's time."""
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


# beside a field
# ---------------------------------------------------------------------------------------------------------
@dataclass(frozen=True)
class Driven:
    """The facts of a row: label, unit, bounds of base and result, what a full drag spans, default, help.

    stage: "emitter" (read over time, without a particle), "birth" (once for each particle) or "live" (at every step or
    frame); by default the part's. always: shown in the sheet also while it has no effect.
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
    varied: float = 0.0  # how much a draw adds to it, to both sides, so that it varies; nought: it multiplies it


@dataclass(frozen=True)
class Setting:
    """The facts of a field that cannot be driven: label and unit. choices: the words for each of a few values, in
    order.

    nothing: words for an empty field. shown: whether the sheet shows it; otherwise another part of the screen does.
    pictured: values are pictures of the shelf (`geometry.stock`), chosen by their looks. side: for one side of a pair,
    the field of the other; both can be changed in proportion.
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
    """The facts of a field that names another thing by its uid. group: props, emitters, draws, own, dials, rides, or
    cues (of the same emitter).

    fits: a property that the named thing must have. missing: what to say where it names nothing that fits, with
    `{name}` for the field's owner. remedy: what to do then. Without these the part says so itself.
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
    """The facts of a field that names imported files. kind: what they must contain. accept: the endings of their
    names."""

    kind: Literal["mesh", "picture", "film", "drawing", "points", "field"]
    accept: tuple[str, ...]


@dataclass(frozen=True)
class Guide:
    """A mark on the stage that shows where a part is, drawn from the base values of its own rows, which are named by
    field.

    mark: what is drawn. at: row of its position, metres (empty: where births are). radius, size, direction, core: rows
    that the mark needs (falloff: strength over distance; axis: the same about an axis). moved: whether the position can
    be dragged on the stage. turn: a box's row of angles. space: uid of the prop in whose space it lies. span, fade:
    over how many metres it fades, and how. counts, points: a lattice's number of points along each axis, and their
    positions, in sizes of the box from its centre.
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
    """A mark on a field for code that walks through documents."""

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
    """A field of a model with all its facts."""

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
        """Whether the part needs a named thing here. Otherwise a new part names nothing, whatever exists."""
        return self.refers is not None and (
            self.refers.needed or self.setting is None or self.setting.nothing in MUST_NAME
        )

    @cached_property
    def cache(self) -> dict[str, Any]:
        """Results derived from it once (`field_offers.offered`); facts never change."""
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
    """Return the fields of a part, rows in the order of the sheet."""
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
    """Return what a kind of part is, in words: its help, otherwise the first sentence of its docstring."""
    line = " ".join((kind.__doc__ or "").split())
    return str(kind.help) or (line.split(". ")[0].rstrip(".") + "." if line else "")


class Part(Model):
    """A kind of thing that effects are made of, or a piece of one.

    label, help: its words. band: the section of the sheet for its rows. stage: when its rows are read, where a row does
    not say. guides: its marks on the stage.
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
    compares: ClassVar[dict[str, str]] = {}  # rows that another is compared with, and that other row
    on_request: ClassVar[tuple[str, ...]] = ()  # plain fields that are shown once set, or asked for
    example: ClassVar[Example] = Example()  # what shows it at work
    help_of_all: ClassVar[str] = ""  # its words where the whole effect can have it, too
    compiles: ClassVar[str] = ""  # words for kernels that its example compiles and most effects do not need

    @classmethod
    def rows_key(cls) -> str:
        """Return the prefix of its rows' keys, the same wherever such a part stands."""
        return ""

    def row_family(self, field: str) -> str:
        """Return the family of one of its rows; rows of a family depend on each other at a birth."""
        return f"{self.rows_key()}.{field}"

    def unused(self) -> frozenset[str]:
        """Return the rows without effect as the part is set, by field; for parts within it, joined by a dot."""
        return frozenset()

    @classmethod
    def heading(cls, field: str) -> str:
        """Return the heading under which one of its rows is offered while it has no effect; empty for none."""
        return ""

    def driven(self, facts: FieldFacts) -> Driven | None:
        """Return the facts of a row of this very part, where they differ from those of its kind."""
        return facts.driven

    @classmethod
    def template(cls) -> dict[str, Any]:
        """Return a new part as plain data; a uid is a placeholder."""
        return {}

    @classmethod
    def adapted_to(cls, data: dict[str, Any], effect: Any, thing: Any) -> dict[str, Any]:
        """Return a new part, as plain data, adapted to the emitter or prop it is added to."""
        return data

    @classmethod
    def suggestions(cls, clip: Any) -> tuple[Suggestion, Suggestion] | None:
        """Return two changes with such a part that can be tried; None where those of its family do."""
        return None

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        """Return what the part needs and lacks: the field, words, and a remedy; None where nothing is missing. A part
        with an unmet need has no effect."""
        return None

    def relies_on(self) -> tuple[str, ...]:
        """Return the path of what its emitter must have besides, such as targets; empty for nothing."""
        return ()

    def possible(self, effect: Any, thing: Any) -> str:
        """Return why an emitter or prop of an effect cannot have such a part now, or an empty string. Asked of a new
        part."""
        return ""

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        """Return the things that one of its fields may name; None: all that fit."""
        return None

    def values_of(self, field: str, effect: Any) -> tuple[str, ...] | None:
        """Return the values that a field with a few choices may have as the part stands; None: all."""
        return None

    def settled_fields(self, effect: Any, thing: Any) -> dict[str, Any]:
        """Return the values other fields must take when such a part replaces another, by their path in the thing."""
        return {}

    def carried(self, at: Any) -> dict[str, int]:
        """Return the values that a particle's state keeps for this part from its birth on, by name (at: the reader of a
        birth)."""
        return {}

    def forms(self) -> Iterator[tuple[str, bool, dict[str, Any]]]:
        """Yield its forms, where a few combinations of several fields are offered together: words, whether it has that
        form now, the fields."""
        return iter(())

    def guided(self) -> dict[str, Any]:
        """Return what its guides need besides its rows, by field."""
        return {}

    def on_stage(self, thing: Any) -> Iterator[tuple[str, str, str]]:
        """Yield the fields that the stage can show on props for this part of an emitter: name for `staging.Fields`,
        words and help."""
        return iter(())

    def step(self, phase: Any, at: Any, state: Any) -> None:
        """Add to one of the phases of a particle's step (`rows.step`). phase: Phase, at: Reader, state: StepState."""

    def alters(self, address: str) -> tuple[str, ...] | None:
        """Return the addresses of rows by which it changes another row of living particles; empty where it does so by
        what particles remember; None where it does not."""
        return None

    def altered(self, at: Any, address: str, values: Any) -> Any:
        """Return another row's values of a living particle, changed by this part; called for rows that it `alters`."""
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
    """Yield every field of a model and of everything within it, lists included: path, facts, value."""
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


def models_of(thing: Any) -> Iterator[Model]:
    """Yield a model and every model within it, lists included."""
    if isinstance(thing, Model):
        yield thing
        for facts in fields_of(type(thing)):
            yield from models_of(getattr(thing, facts.name))
    elif isinstance(thing, (list, tuple)):
        for each in thing:
            yield from models_of(each)


def rewritten(thing: Any, change: Callable[[FieldFacts, Any], Any]) -> Any:
    """Return a model, or a list or tuple of models, with some fields changed; unchanged parts are shared.

    change: gives the new value of a field that holds no model.
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
    """Return the uids that a field names; an empty uid names nothing."""
    if facts.refers is None or not value:
        return ()
    return (value,) if isinstance(value, str) else tuple(value)
