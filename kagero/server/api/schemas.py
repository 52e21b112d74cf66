"""What goes over the wire."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import BeforeValidator, Field

from kagero.core.catalog import PieceKind
from kagero.core.document import Effect

from .base_schemas import AboutEmitter, Metres, Strict
from .catalog_schemas import Catalog as Catalog
from .catalog_schemas import Unit
from .layout_schemas import Layout as Layout


def _dumped(value: Any) -> Any:
    return value.model_dump(mode="json") if isinstance(value, Effect) else value


# what a document may hold is said by `/api/schema`: its kinds of parts are open, and the client treats them alike
Document = Annotated[dict[str, Any], BeforeValidator(_dumped)]


class FindingOut(Schema):
    code: str
    where: str
    message: str
    remedy: str


class Problem(Schema):
    findings: list[FindingOut]
    revision: int | None = None


class Warming(Schema):
    """Kernels that are compiled beside serving: so many tasks are done, of so many (0: nothing is compiled), and what
    is compiled now."""

    done: int
    of: int
    words: str


class Card(Schema):
    id: int
    name: str
    saved: datetime
    first_frame: int
    last_frame: int
    frame_rate: tuple[int, int]
    emitters: int
    revision: int
    playable: bool
    folder: str
    tags: list[str]
    goes: datetime | None = Field(default=None, description="Of a deleted effect: when it is gone for good.")


class CardFacts(Schema):
    counts: list[int]
    pictures: int
    width: int
    height: int


class Opened(Schema):
    id: int
    revision: int
    saved: datetime
    document: Document
    undo: str | None
    redo: str | None
    findings: list[FindingOut]
    playable: Document | None
    layout: Layout


class Draft(Strict):
    revision: int
    document: dict[str, Any]
    label: str = Field(min_length=1, max_length=200)


class Step(Strict):
    revision: int


class StepTo(Step):
    number: int


class StepOut(Schema):
    """A state of a draft, by what led to it. now: whether the draft stands there; after: of one that was edited away,
    the number of the state after which it was, -1 where that is not kept any more."""

    number: int
    label: str
    now: bool
    after: int | None


class Made(Strict):
    """A new effect: of a document, or of a beginning."""

    document: dict[str, Any] | None = None
    beginning: str = Field(default="empty", max_length=40)
    label: str = Field(default="Made", max_length=120)
    folder: str = Field(default="", max_length=400)


class Arranged(Strict):
    """What changes about how an effect lies in the library; what is left out stays."""

    name: str | None = Field(default=None, min_length=1, max_length=80)
    folder: str | None = Field(default=None, max_length=400)
    tags: list[str] | None = Field(default=None, max_length=40)


class BeginningOut(Schema):
    key: str
    label: str
    help: str


class Picked(Strict):
    """A particle: its emitter and its key, a whole number of 64 bits as text."""

    emitter: str
    key: str = Field(pattern=r"^\d{1,20}$")


class HeldFrames(Strict):
    uid: str = Field(max_length=40)
    motion: str = Field(max_length=40)
    look: str = Field(max_length=40)
    first: int
    last: int


class Play(Strict):
    window: str = Field(min_length=1, max_length=64)
    document: dict[str, Any]
    now: int
    whole: bool = True
    facts: bool = True
    measured: bool = True
    picked: Picked | None = None
    shade: str = Field(default="", max_length=160)
    lines: Literal["", "velocity", "axes", "lamps"] = Field(
        default="", description="What is shown of every particle as lines."
    )
    field: str = Field(default="", max_length=80)
    held: list[HeldFrames] = Field(default=[], max_length=2000)
    coarse: bool = Field(default=False, description="Surfaces are made of larger cells, while a hand moves something.")
    across: int = Field(default=594, ge=64, le=4000, description="Pixels along the axis of a life's picture.")


class SourcesIn(AboutEmitter):
    address: str


class VariationsIn(Strict):
    document: dict[str, Any]
    emitter: str
    address: str


class CopyIn(Strict):
    document: dict[str, Any]
    emitter: str
    kind: PieceKind
    uids: list[str] = []
    address: str = ""


class Piece(Strict):
    piece: dict[str, Any]


class PasteIn(Piece):
    """Where a piece goes; address is empty for an emitter or prop. move: responses that are taken away for it."""

    document: dict[str, Any]
    emitter: str = ""
    address: str = ""
    at: int | None = None
    move: list[str] = []


class Pasted(Schema):
    document: Document
    uids: list[str]


class AboutDocument(Strict):
    document: dict[str, Any]


class Changed(Schema):
    document: Document


class DialIn(AboutDocument):
    """A number to make a dial of; component: which of a vector's three."""

    emitter: str
    address: str = Field(max_length=160)
    how: Literal["sets", "multiplies", "limits"]
    component: int | None = Field(default=None, ge=0, le=2)


class DialMade(Changed):
    uid: str


class AboutDial(AboutDocument):
    uid: str


class RenameIn(AboutDial):
    """emitter: whose draw or own attribute it is; empty for a dial."""

    kind: Literal["dial", "draw", "own", "prop", "moment", "cue"]
    name: str = Field(min_length=1, max_length=80)
    emitter: str = ""


class UseOut(Schema):
    emitter: str
    emitter_name: str
    address: str
    label: str
    how: str


class TriedOut(Schema):
    """picture: PNG in base64; null where the effect cannot be played so. words: what is wrong, or empty."""

    value: float
    count: int
    picture: str | None
    words: str


class TrialOut(Schema):
    frame: int
    words: str
    tried: list[TriedOut]


class OverlayIn(Strict):
    name: str = Field(min_length=1, max_length=60)
    values: dict[str, float] = Field(min_length=1, max_length=64)


class OverlayOut(Schema):
    id: int
    name: str
    values: dict[str, float]
    saved: datetime


class TakeOut(Strict):
    uids: list[str] = Field(default=[], max_length=64)


class FormulaIn(AboutDocument):
    """response: whether a response reads it, and a number is needed; else the row's base. multiplies: its unit is a
    factor's."""

    emitter: str
    address: str
    text: str = Field(max_length=20_000)
    read: Literal["once", "live"] = "live"
    response: bool = False
    multiplies: bool = False


class FormulaProblem(Schema):
    """Lines and columns count from 1; the end column is the first one behind it."""

    line: int
    column: int
    end_line: int
    end_column: int
    message: str
    remedy: str
    unknown: str = ""


class FormulaStep(Schema):
    name: str
    kind: str
    unit: str


class FormulaOut(Schema):
    """kind: number, truth, vector or colour; empty when there are problems. note: about its unit and the row's, or
    empty."""

    problems: list[FormulaProblem]
    remarks: list[FormulaProblem]
    kind: str
    unit: str
    note: str
    steps: list[FormulaStep]
    cost: int


class NamesIn(AboutEmitter):
    address: str
    read: Literal["once", "live"] = "live"


class NameOut(Schema):
    """refused: why a formula of this row cannot read it, or empty."""

    name: str
    kind: str
    detail: str
    help: str
    refused: str
    now: tuple[float, float, float] | None


class SheetsIn(Strict):
    """known: keys of sheets that are here already."""

    document: dict[str, Any]
    frame: int
    known: list[str] = Field(default=[], max_length=1000)


class EyeIn(Strict):
    """Where a picture is taken from: metres, radians; up: what is upward in it."""

    position: tuple[Metres, Metres, Metres]
    target: tuple[Metres, Metres, Metres]
    up: tuple[Metres, Metres, Metres]
    field_of_view: float = Field(gt=0, lt=3.1)


class RenderIn(Strict):
    """scale: of how many of its width x height pixels it is made; region: only so much of it: left, top, width, height,
    shares of its size. how: as it is seen; where light is cut; or smaller, over black, grey and white, and its
    alpha."""

    document: dict[str, Any]
    frame: int
    width: int
    height: int
    scale: float = Field(1.0, gt=0, le=1)
    region: tuple[float, float, float, float] = (0, 0, 1, 1)
    eye: EyeIn | None = None
    how: Literal["seen", "clipped", "edges"] = "seen"


class PropPictureIn(Strict):
    document: dict[str, Any]
    prop: str
    frame: int


class PresetIn(Strict):
    name: str = Field(min_length=1, max_length=40)
    kind: Literal["curve", "gradient"]
    data: dict[str, Any]


class PresetOut(Schema):
    id: int
    name: str
    kind: str
    data: dict[str, Any]


class ExportIn(Strict):
    kind: str
    first: int
    last: int
    width: int = 1280
    height: int = 720
    options: dict[str, Any] = {}
    document: dict[str, Any]


class EstimateOut(Schema):
    """seconds, bytes: about; pictures: how many there will be."""

    pictures: int
    bytes: int
    seconds: float


class ExportOut(Schema):
    id: int
    kind: str
    first: int
    last: int
    state: str
    done: int
    total: int
    message: str
    bytes: int
    finished: datetime | None
    goes: datetime | None


class VariationOut(Schema):
    """A new draw by which a row varies from particle to particle, and what it does to it (`catalog.varying`)."""

    kind: str
    label: str
    help: str
    draw: dict[str, Any]
    base: bool
    input: tuple[float, float]
    output: tuple[float, float]
    added: bool


class SourceChoice(Schema):
    """A source in the list. now, clip: its smallest, mean and largest value at the frame and over the frames known;
    bins: how many particles lie in equal parts of what they have now.

    refusal: why it is not offered.
    """

    key: str
    source: dict[str, Any]
    label: str
    group: str
    unit: Unit
    input: tuple[float, float]
    read: str
    help: str
    refusal: str
    whole: bool
    column: str
    words: str
    fixed: bool
    now: tuple[float, float, float] | None
    clip: tuple[float, float, float] | None
    bins: list[int] = []


class CostIn(Strict):
    document: dict[str, Any]
    frame: int


class RowCost(Schema):
    address: str
    label: str
    step: float
    look: float


class EmitterCost(Schema):
    uid: str
    name: str
    count: int
    step: float
    look: float
    rows: list[RowCost]


class CostOut(Schema):
    """Milliseconds at a frame: of one frame's steps, of its look, and of each row."""

    frame: int
    emitters: list[EmitterCost]
