"""Packets that make an effect play: first the frame on screen, then the other frames, then facts about the whole
clip."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..document import MOST_LAMPS
from ..engine import Faults, prepare_reference
from ..finishing import RowValues, Shot, stage_uniforms
from ..formats import pack
from ..parts.props import SurfaceProp
from ..picture import lighting, look_resources, projector_of, projector_of_camera, resources_key
from ..plan import ByClipPlan, Columns, EmitterPlan, compile_columns
from ..rows.turn import ROTATION_STATE
from ..simulation import FIRED, Frame, LookEvaluator, Population, ShownParticles, frame_inputs
from .cue_marks import recent_cues, touch_places
from .look_packet import LARGEST_HALF, _defaults, _layer, _packed_columns
from .measure import MOST_OVER_CLIP, life_profile, measure, measure_one, measure_prop
from .play import Playing, lamps_from, never_stopped
from .portrait import WIDTH, life_portrait
from .ready import DRAWN, all_compiled
from .visible_pops import find_visible_pops
from .why_invisible import explain_invisible

MEASURED_EVERY = 3  # frames; while the clip plays, live values are read this often


@dataclass(frozen=True)
class HeldFrames:
    """Frames first..last of an emitter that the client holds already. motion: key of the positions; look: key of
    everything else drawn."""

    uid: str
    motion: str
    look: str
    first: int
    last: int


@dataclass(frozen=True)
class PlayRequest:
    """What to send besides pictures, and what the client holds already.

    whole: every other frame too. facts: facts about the clip. measured: live values of the frame `now`. picked:
    (emitter uid, particle key) of a particle to follow. shade: column whose values colour the particles. lines: what is
    drawn as lines at each particle, `velocity` or `axes`. field: what to show on props (`fields.FieldRequest`). held:
    arrays that need not be sent, by their names in packets. across: length of the portraits' axis in pixels. coarse:
    surfaces with larger cells while a value is dragged.
    """

    whole: bool = True
    facts: bool = True
    measured: bool = True
    picked: tuple[str, int] | None = None
    shade: str = ""
    lines: str = ""
    field: str = ""
    held: tuple[HeldFrames, ...] = ()
    across: int = WIDTH
    coarse: bool = False


@dataclass(frozen=True)
class _FrameRequest:
    """A frame that is packed: its number, the clip time of its stage (s), every emitter's frame as it was simulated;
    measured: with live values; drawn: with arrays that the client does not hold."""

    number: int
    scene: float
    frames: Sequence[Frame]
    stopped: Callable[[], None]
    measured: bool
    drawn: bool


def play_packets(
    playing: Playing, now: int, wanted: PlayRequest, stopped: Callable[[], None] = never_stopped
) -> Iterator[bytes]:
    """Yield the packet of frame `now`, its live values, and a clip packet of what is known so far; with `whole`, then
    every other frame (onwards from `now`, then from the first) and a clip packet of everything. The first clip packet
    is left out while the kernels of portraits are still being compiled, since frames would wait.

    stopped: called between frames and steps; raises Cancelled. Raises RequestError for a frame outside the clip.
    """
    plan = playing.plan
    packets = Packets(playing, wanted)
    yield packets.frame(now, stopped)
    if wanted.measured:
        yield packets.frame(now, stopped, measured=True, drawn=False)
    if wanted.facts and (not wanted.whole or all_compiled(DRAWN)):
        yield clip_packet(playing, wanted.across, stopped)
    if not wanted.whole:
        return
    for number in [*range(now + 1, plan.last_frame + 1), *range(plan.first_frame, now)]:
        stopped()
        yield packets.frame(number, stopped, measured=(number - plan.first_frame) % MEASURED_EVERY == 0)
    yield clip_packet(playing, wanted.across, stopped)


class Packets:
    """Makes the packets of one effect and request."""

    def __init__(self, playing: Playing, wanted: PlayRequest):
        self.playing, self.wanted = playing, wanted
        self.before = playing.frames_simulated
        self.stage = playing.stage
        self.fields = playing.fields(wanted.field)
        self.motions = [short_key(f"{run.address} {run.emitter.shaped}") for run in playing.runs]
        # what all particles light may be seen in what some are together
        lit = "".join(
            f"{plan.looked}{plan.shaped}"
            for each, plan in zip(playing.effect.emitters, playing.plan.emitters, strict=True)
            if each.light and each.visible
        )
        self.looks = [
            short_key(
                f"{plan.looked} {plan.shaped} "
                f"{playing.engine.identity}{f' {wanted.coarse} {lit}' if _draws_surfaces(plan) else ''}"
            )
            for plan in playing.plan.emitters
        ]
        self._constant: dict[str, dict[str, Any]] = {}
        self.shades: list[Columns | None] = []
        for emitter, plan in zip(playing.effect.emitters, playing.plan.emitters, strict=True):
            columns = compile_columns(playing.effect, emitter, plan, {wanted.shade}) if wanted.shade else None
            self.shades.append(columns if columns is not None and columns.columns else None)

    def frame(
        self, number: int, stopped: Callable[[], None] = never_stopped, measured: bool = False, drawn: bool = True
    ) -> bytes:
        """Return one frame's packet: positions in float32, and the looks' columns in their types.

        measured: with live values. drawn: with arrays that the client does not hold.
        """
        playing, plan = self.playing, self.playing.plan
        seconds, scene = plan.seconds(number), plan.scene(number)
        arrays: dict[str, np.ndarray] = {}
        at = _FrameRequest(number, scene, playing.frames(number, stopped), stopped, measured, drawn)
        emitters = [self._emitter(i, at, arrays) for i in range(len(playing.effect.emitters))]
        props = self._props(number, scene, measured, arrays, drawn)
        around = self.fields.around(number)
        if around is not None and drawn:
            arrays["around.0"] = around
        picture = self._picture(number, seconds, measured)
        layer = {
            "type": "frame",
            "frame": number,
            "seconds": seconds,
            "emitters": emitters,
            "props": props,
            "picture": picture,
            "lights": self._lights(scene),
            "simulated": playing.frames_simulated - self.before,
        }
        if plan.retimed is not None or plan.loop is not None:
            layer["scene"] = scene
        return pack(layer if around is None else {**layer, "about": True}, arrays)

    def _emitter(self, i: int, at: _FrameRequest, arrays: dict[str, np.ndarray]) -> dict[str, Any]:
        """Return what a frame's packet says of an emitter; its arrays are put into `arrays`."""
        playing, number = self.playing, at.number
        emitter, run, look = playing.effect.emitters[i], playing.shaped[i], playing.looks[i]
        population, when = run.at(number, 0.0, at.stopped), run.seconds(number)
        has_motion, has_look = self._held(i, emitter.uid, number) if at.drawn else (True, True)
        entry = self._facts(i, at, population)
        problems = self._resources(i, at, entry)
        if not has_motion:
            arrays[f"position.{i}"] = np.stack(population.position, axis=1)
            marks = {
                "happened": recent_cues(playing.runs[i], run.behind(number)[0]),
                "touching": touch_places(look, population, when),
            }
            arrays |= {f"{name}.{i}": places for name, places in marks.items() if len(places)}
        shown = None if has_look else look.show(population, when)
        parent = self._parent(emitter)
        if why := explain_invisible(emitter, parent, playing.runs[i], playing.plan, number, population, shown):
            entry["unseen"] = why
        if shown is not None:
            problems += self._look(i, at, shown, population, entry, arrays)
        if problems:
            entry["stands_in"] = problems[0]
        if (line := self._lines(population)) is not None:
            arrays[f"line.{i}"] = line
        if (shade := self.shades[i]) is not None:
            given = frame_inputs(population, when)
            column = prepare_reference(shade.program).run(shade.values, given, len(population))[self.wanted.shade]
            arrays[f"shade.{i}"] = np.clip(np.nan_to_num(column), -1e30, 1e30)
            entry["shade"] = [float(column.min()), float(column.max())] if len(column) else None
        return entry

    def _facts(self, i: int, at: _FrameRequest, population: Population) -> dict[str, Any]:
        """Return what is known of an emitter's particles at a frame, without their looks."""
        playing, run, number = self.playing, self.playing.shaped[i], at.number
        emitter, compiled = playing.effect.emitters[i], playing.plan.emitters[i]
        when = run.seconds(number)
        faults = (
            _faults(at.frames[i].faults)
            + _faults(playing.runs[i].rate_faults)
            + _faults(run.with_faults(number, 0.0, at.stopped)[1])
        )
        entry: dict[str, Any] = {
            "uid": emitter.uid,
            "count": len(population),
            "faults": faults,
            "motion": self.motions[i],
            "look": self.looks[i],
        }
        if run.times or run.loop is not None:
            entry["seen"] = when
        if run.loop is not None:
            entry["lacks"] = run.loop.lacks(at.stopped)
        index = self._picked(emitter.uid, population)
        if index >= 0:
            entry["picked"] = index
        if at.measured:
            rest = run.simulated(number, 0.0, at.stopped)
            entry["measure"] = measure(emitter, compiled, rest, when, population)
            if index >= 0:
                entry["one"] = measure_one(compiled, rest, index, when, population)
        return entry

    def _resources(self, i: int, at: _FrameRequest, entry: dict[str, Any]) -> list[str]:
        """Put into an emitter's entry which sheets, forms and projectors its looks are drawn with; return problems."""
        parts, place = self.playing.drawn_looks(i), self.playing.effect.emitters[i].births.place
        pictured = [look_resources(part, self.stage, at.scene, place) for part in parts]
        keys = [resources_key(sheets, forms) for sheets, forms, _ in pictured]
        entry["sheets"] = [short_key(key) if key else "" for key in keys]
        throws = [projector_of(part, self.stage, at.scene, self.playing.projector) for part in parts]
        if any(throws):
            entry["thrown"] = [
                None if t is None else [*(round(float(x), 6) for x in t.rows.ravel()), t.tangent] for t in throws
            ]
        return [problem for *_, problem in pictured if problem]

    def _look(
        self,
        i: int,
        at: _FrameRequest,
        shown: ShownParticles,
        population: Population,
        entry: dict[str, Any],
        arrays: dict[str, np.ndarray],
    ) -> list[str]:
        """Put into an emitter's entry, and into `arrays`, how its particles look; return problems."""
        problems: list[str] = []
        first = self.playing.plan.emitters[i].looks[0]
        if self.playing.effect.emitters[i].light is not None:
            entry["lamps"] = [[round(float(x), 6) for x in lamp] for lamp in lamps_from(shown)]
            lights = 0 if shown.lamps is None else int((shown.lamps[:, :3].max(axis=1, initial=0) > 0).sum())
            entry["lights"] = lights
            if lights > MOST_LAMPS:
                problems.append(f"{lights:,} of these light; of all there are the brightest {MOST_LAMPS} count.")
        columns = _packed_columns(first, shown.columns)
        entry["defaults"] = _defaults(first, columns)
        arrays |= {f"look.{name}.{i}": array for name, array in columns.items()}
        entry["layers"] = []
        replaced = Faults()
        replaced.add(shown.faults)
        layers = self.playing.drawn_in_looks(i, at.number, population, at.stopped, shown, self.wanted.coarse)
        for n, part in enumerate(layers):
            if part.look is not shown.look:
                replaced.add(part.faults)
            problems += [words for words in (part.problem, part.remark) if words]
            layer, more = _layer(part, first)
            entry["layers"].append(layer)
            arrays |= {f"layer.{n}.{name}.{i}": array for name, array in more.items()}
        entry["look_faults"] = _faults(replaced)
        return problems

    def _props(
        self, number: int, seconds: float, measured: bool, arrays: dict[str, np.ndarray], drawn: bool
    ) -> list[dict[str, Any]]:
        """Return each prop's transform, (16,) by rows, a camera's view, an animation's time, and live values where
        measured. Adds to arrays, where drawn, the dissolved share and the shown field at the points of fine meshes;
        `carries` lists both."""
        described: list[dict[str, Any]] = []
        places = self.stage.places(seconds)
        for i, (prop, compiled) in enumerate(zip(self.playing.effect.props, self.playing.plan.props, strict=True)):
            entry: dict[str, Any] = {"uid": prop.uid, "place": [round(float(x), 6) for x in places[prop.uid].ravel()]}
            if not self.stage.seen(prop.uid, seconds):
                entry["seen"] = False
            if prop.camera:
                entry["field_of_view"] = self.stage.own(prop.uid, seconds)["field_of_view.0"]
            if prop.mask:
                entry["extent"] = self.stage.extent(prop, seconds)
                of = prop.stands_at()
                if of is not None:  # it stands where the other does
                    entry["place"][3::4] = [round(float(x), 6) for x in places[of][:, 3]]
            if prop.animated or prop.film:
                entry["clock"] = self.stage.clock(prop.uid, seconds)
            if isinstance(prop, SurfaceProp):
                entry |= self._surface(prop, seconds)
            if prop.film:
                entry["picture"] = short_key(self.stage.picture_key(prop.uid, int(entry["clock"])))
            gone, field = self.fields.gone(prop, number), self.fields.shown(prop, number)
            entry["carries"] = (gone is not None) + 2 * (field is not None)
            if gone is not None and drawn:
                arrays[f"gone.{i}"] = np.rint(np.clip(gone, 0, 1) * 255).astype(np.uint8)
            if field is not None:
                if drawn:
                    arrays[f"field.{i}"] = np.clip(np.nan_to_num(field), -1e30, 1e30).astype(np.float32)
                entry["field"] = (
                    [0.0, 1.0]
                    if self.fields.by_share
                    else [float(field.min(initial=0)), float(field.max(initial=1e-6))]
                )
            if measured:
                entry["measure"] = self._rows(prop, compiled, seconds)
            described.append(entry)
        return described

    def _rows(self, part: Any, plan: ByClipPlan, seconds: float) -> dict[str, Any]:
        """Return the live values of a part whose rows depend on the clip; constant ones are read once."""
        known = self._constant.get(part.uid)
        if known is None:
            known = measure_prop(part, plan, seconds)
            if "time" not in plan.probe.program.inputs:
                self._constant[part.uid] = known
        return known

    def _surface(self, prop: SurfaceProp, seconds: float) -> dict[str, Any]:
        """Return a prop's surface at a time, unless it is matte, and the projector of its picture: a camera's rows and
        tangent."""
        own = self.stage.own(prop.uid, seconds)
        described: dict[str, Any] = {}
        numbers = [round(own[f"{name}.0"], 5) for name in ("roughness", "metal", "glow")]
        if numbers != [1, 0, 0]:
            described["surface"] = numbers
        if prop.laid_by is not None and self.stage.has_prop(prop.laid_by):
            camera = projector_of_camera(self.stage, prop.laid_by, seconds)
            described["thrown"] = [*(round(float(x), 6) for x in camera.rows.ravel()), round(camera.tangent, 6)]
        return described

    def _lights(self, seconds: float) -> list[list[float]]:
        """Return the light props at a time, as in `kernels.shading`, in world space."""
        lights, _ = lighting(self.playing.effect.props, self.stage, seconds, np.zeros((0, 7)))
        return [[round(float(x), 6) for x in row] for row in lights.rows]

    @staticmethod
    def _stage_uniforms(part: Any, own: dict[str, float], shot: Shot) -> dict[str, Any]:
        """Return what the stage needs to apply an item of the finish: its numbers, whether it is linear, and whether it
        acts on the backplate."""
        return {**stage_uniforms(part, RowValues(own), shot), "linear": part.linear, "on_plate": part.on_plate}

    def _picture(self, number: int, seconds: float, measured: bool) -> list[dict[str, Any]]:
        """Return what the stage needs to finish a frame's picture, and the rows of its frame; with live values where
        measured."""
        described = []
        effect = self.playing.effect
        shot = Shot(effect.frame.width, effect.frame.height, frame=number, seed=effect.clip.seed)
        for part, compiled in zip((*effect.finish, effect.frame), self.playing.plan.picture, strict=True):
            own = self.stage.own(part.uid, seconds)
            entry: dict[str, Any] = {
                "uid": part.uid,
                "own": own if part is effect.frame else self._stage_uniforms(part, own, shot),
            }
            if measured:
                entry["measure"] = self._rows(part, compiled, seconds)
            described.append(entry)
        return described

    def _lines(self, population: Population) -> np.ndarray | None:
        """Return what is drawn as lines at each particle: velocities (n, 3), or rotations of oriented particles (n, 4),
        float16."""
        if self.wanted.lines == "velocity":
            return np.clip(np.stack(population.velocity, axis=1), -LARGEST_HALF, LARGEST_HALF).astype(np.float16)
        if self.wanted.lines == "axes" and ROTATION_STATE[0] in population.carried:
            return np.stack([population.carried[name] for name in ROTATION_STATE], axis=1).astype(np.float16)
        return None

    def _parent(self, emitter: Any) -> Any:
        """Return the emitter whose particles emit another's, or None."""
        of = emitter.births.place.emitter_from()
        return next((each for each in self.playing.effect.emitters if each.uid == of), None)

    def _held(self, i: int, uid: str, number: int) -> tuple[bool, bool]:
        """Return whether the client holds an emitter's positions at a frame, and its look's values."""
        held = [
            h for h in self.wanted.held if h.uid == uid and h.first <= number <= h.last and h.motion == self.motions[i]
        ]
        return bool(held), any(h.look == self.looks[i] for h in held)

    def _picked(self, uid: str, population: Population) -> int:
        picked = self.wanted.picked
        if picked is None or picked[0] != uid:
            return -1
        found = np.flatnonzero(population.key == np.uint64(picked[1]))
        return int(found[0]) if len(found) else -1


def clip_packet(playing: Playing, across: int = WIDTH, stopped: Callable[[], None] = never_stopped) -> bytes:
    """Return facts about the frames stored so far: counts by frame (null where unknown), each emitter's life profile,
    and its portrait as an RGBA picture whose axis is `across` pixels long."""
    plan = playing.plan
    emitters = []
    arrays: dict[str, np.ndarray] = {}
    numbers = range(plan.first_frame, plan.last_frame + 1)
    for i, (emitter, compiled, run) in enumerate(
        zip(playing.effect.emitters, plan.emitters, playing.runs, strict=True)
    ):
        stopped()
        stored = [(number, run.store.get(run.address, number)) for number in numbers]
        living = [(number, playing.shaped[i].known(number)) for number in numbers]
        known = [
            (playing.shaped[i].seconds(number), population) for number, population in living if population is not None
        ]
        counts = [None if population is None else len(population) for _, population in living]
        profile = life_profile(
            emitter,
            compiled,
            known,
            run.candidates(MOST_OVER_CLIP, stopped) if known else None,
            playing.shaped[i].shaper,
        )
        looks = [LookEvaluator(compiled, playing.engine, look) for look in compiled.looks if not look.muted]
        whole = [
            (number, playing.shaped[i].seconds(number), population)
            for number, population in living
            if population is not None
        ]
        facts = {
            "fired": _cue_counts(compiled, stored),
            "passing": find_visible_pops(looks, whole, 1 / float(plan.frame_rate)),
        }
        emitters.append({"uid": emitter.uid, "counts": counts, "profile": profile, **facts})
        arrays[f"portrait.{i}"] = life_portrait(
            playing.looks[i],
            known,
            profile,
            across,
            look_resources(emitter.look, playing.stage, 0.0, emitter.births.place)[:2],
        )
    return pack({"type": "clip", "first": plan.first_frame, "last": plan.last_frame, "emitters": emitters}, arrays)


def _cue_counts(plan: EmitterPlan, stored: list[tuple[int, Any]]) -> dict[str, list[list[int]]]:
    """Return for each cue, by uid, the known frames on which it happened, and how often."""
    frames: dict[str, list[list[int]]] = {uid: [] for uid in plan.cues}
    for number, frame in stored:
        if frame is not None and len(frame.events):
            for k, uid in enumerate(plan.cues):
                count = int((frame.events.what == FIRED + k).sum())
                if count:
                    frames[uid].append([number, count])
    return frames


def _faults(faults: Faults) -> list[dict[str, Any]]:
    """Return replaced results: row, number, and the first particle's key (-1: none, as for a rate)."""
    return [{"row": row, "count": count, "key": str(faults.first_key[row])} for row, count in faults.counts.items()]


def short_key(text: str) -> str:
    """Return a short name of a content key, for packets."""
    return hashlib.blake2b(text.encode(), digest_size=8).hexdigest()


def _draws_surfaces(plan: EmitterPlan) -> bool:
    return any(look.drawing.get("surface") for look in plan.looks)
