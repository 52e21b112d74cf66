"""A compiled effect: programs with their values, for each emitter and for everything that depends on the clip alone."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from ..parts.cues.whole import Gate
from ..parts.looks import Column
from ..program import Program, ProgramValues
from ..rows.placed import PlacedRow
from .loop_window import Window
from .probe import Probe, PushProbe
from .retimed import TimeMap
from .timing import Timing

Rows = dict[str, PlacedRow]  # all rows of an emitter or prop by address


@dataclass(frozen=True)
class LookPlan:
    """One compiled look. address: prefix of its rows' addresses. muted: it is not drawn.

    columns: values of every particle. given: columns not at their defaults. drawing: settings shared by all particles
    (`LookPart.drawn_by`). course: values from which lines are built, with their number of components. looked: content
    hash.
    """

    address: str
    muted: bool
    program: Program
    columns: tuple[Column, ...]
    given: frozenset[str]
    drawing: dict[str, Any]
    course: tuple[tuple[str, int], ...]
    looked: str


@dataclass(frozen=True)
class EmitterPlan:
    """One compiled emitter. `simulated` and `looked` are content hashes of everything that stored frames, and shown
    frames, depend on.

    begins: gives each birth's time as a share of the duration, where the rate does not. carried: names of state columns
    besides key, age, lifespan, position and velocity. parent: emitter whose particles emit these; born_at: the parent's
    cue at which. cues: uids of possible cues, in order. rounds: rounds in which colliding particles are separated in a
    step. gates: cues that stop or start births; gate_values: the values they compare with, by uid. watches: emitters
    and their cues that are counted. looks: the first gives size, opacity and colour wherever particles are read.
    shaping: displacement of a particle of a stored frame, metres, by axis; None: none. shaped: content hash of shaping
    and retiming, empty without either. each_touch: the step of particles with several touches; None where no cue
    depends on touches. retimed: shown to simulated time. loop: repeated frames.
    """

    uid: str
    rows: Rows
    place: str  # in the document, for errors
    timing: Timing
    values: ProgramValues
    rate: Program
    begins: Program | None
    birth: Program
    step: Program
    looks: tuple[LookPlan, ...]
    probe: Probe
    pushes: PushProbe
    carried: tuple[str, ...]
    cues: tuple[str, ...]
    parent: str | None
    born_at: str | None
    rounds: int
    gates: tuple[Gate, ...]
    gate_values: Program | None
    watches: tuple[tuple[str, str], ...]
    simulated: str
    looked: str
    shaping: Program | None
    shaped: str
    retimed: TimeMap | None
    loop: Window | None
    each_touch: Program | None


@dataclass(frozen=True)
class ByClipPlan:
    """A thing whose rows depend on the clip alone. The program's outputs are its rows by component, such as
    `position.0`, in SI units."""

    uid: str
    rows: Rows
    values: ProgramValues
    place: Program
    probe: Probe


@dataclass(frozen=True)
class Plan:
    """A compiled effect.

    frame_rate: frames a second, exactly. run_up: frames simulated before the first. preview: share of births that
    happen while the effect is edited. picture: plans of the finish and the frame. retimed: shown to scene time, for
    everything. loop: frames in which the whole scene repeats.
    """

    frame_rate: Fraction
    first_frame: int
    last_frame: int
    substeps: int
    emitters: tuple[EmitterPlan, ...]
    props: tuple[ByClipPlan, ...] = ()
    run_up: int = 0
    preview: float = 1.0
    picture: tuple[ByClipPlan, ...] = ()
    retimed: TimeMap | None = None
    loop: Window | None = None

    def seconds(self, frame: int, substep: int = 0) -> float:
        """Return the clip time of a frame, or of a substep after it, in seconds: the float64 nearest to the exact
        fraction."""
        steps = (frame - self.first_frame) * self.substeps + substep
        return steps * self.frame_rate.denominator / (self.frame_rate.numerator * self.substeps)

    def moment(self, frame: int, after: float) -> float:
        """Return the clip time `after` of a frame's duration past a frame, seconds."""
        return self.seconds(frame) + after / float(self.frame_rate)

    def scene(self, frame: int, after: float = 0.0) -> float:
        """Return the scene time shown then, for props, cameras and lights: the clip time unless the whole effect is
        retimed or loops."""
        time = self.moment(frame, after)
        if self.retimed is not None:
            time = (self.retimed if self.loop is None else self.retimed.endless())(time)[0]
        return time if self.loop is None else self.within(self.loop, time)[1]

    def within(self, loop: Window, time: float) -> tuple[int, float]:
        """Return the repetition of an unbounded time in a loop (0 in the window itself) and the clip time it shows,
        seconds."""
        turn, frames = loop.round(self.first_frame + time * float(self.frame_rate))
        return turn, (time if turn == 0 else (frames - self.first_frame) / float(self.frame_rate))
