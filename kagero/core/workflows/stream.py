"""The packets that make an effect play: the frame on screen first, the rest behind it, then what the whole clip tells."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..document import MOST_LAMPS
from ..engine import Faults, prepare
from ..finishing import RowValues, Shot, stage_uniforms
from ..formats import pack
from ..parts.props import SurfaceProp
from ..picture import drawn_with, key_of, lighting, projector_of, projector_of_camera
from ..plan import ByClipPlan, Columns, EmitterPlan, LookPlan, compile_columns
from ..rows.turn import TURNED
from ..simulation import FIRED, Look, Population, Shown, frame_inputs
from .cue_marks import happened, touching
from .measure import MOST_OVER_CLIP, life_profile, measure, measure_one, measure_prop
from .play import Playing, lamps_of, never
from .portrait import WIDTH, life_portrait
from .ready import DRAWN, all_compiled
from .visible_pops import passing
from .why_invisible import unseen

LARGEST_HALF = 60_000  # a little below the largest float16: what is more is sent as this
MEASURED_EVERY = 3  # frames; while the clip plays, live values are read this often


@dataclass(frozen=True)
class HeldFrames:
    """What is there already: an emitter's frames first..last of this motion (places) and this look (all else drawn)."""

    uid: str
    motion: str
    look: str
    first: int
    last: int


@dataclass(frozen=True)
class PlayRequest:
    """What to send besides pictures, and what need not be sent.

    whole: every other frame too. facts: what the clip tells. measured: live values of the frame `now`. picked: (emitter
    uid, particle key) of a particle to follow. shade: a column by whose values particles are coloured; lines: what is shown of each
    as lines, `velocity` or `axes`. field: what to show on
    props (`fields.Wanted`). held: of a frame's arrays those that are held, by the names its packet gives them, are left out. across: how
    many pixels long the axis of the portraits is. coarse: surfaces are made of larger cells, while a hand moves something.
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


def play_packets(
    playing: Playing, now: int, wanted: PlayRequest, stopped: Callable[[], None] = never
) -> Iterator[bytes]:
    """Yield the packet of frame `now`, then its live values, and a clip packet of what is known so far; with `whole`, then every other frame
    (onward from `now`, then from the first) and a clip packet of all. While what paints portraits is still being compiled, the first clip packet
    is left out: frames would wait for it.

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
    """Makes frame packets of one effect and wanted."""

    def __init__(self, playing: Playing, wanted: PlayRequest):
        self.playing, self.wanted = playing, wanted
        self.before = playing.stepped
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
                f"{plan.looked} {plan.shaped} {playing.engine.identity}{f' {wanted.coarse} {lit}' if _surfaced(plan) else ''}"
            )
            for plan in playing.plan.emitters
        ]
        self._constant: dict[str, dict[str, Any]] = {}
        self.shades: list[Columns | None] = []
        for emitter, plan in zip(playing.effect.emitters, playing.plan.emitters, strict=True):
            columns = compile_columns(playing.effect, emitter, plan, {wanted.shade}) if wanted.shade else None
            self.shades.append(columns if columns is not None and columns.columns else None)

    def frame(
        self, number: int, stopped: Callable[[], None] = never, measured: bool = False, drawn: bool = True
    ) -> bytes:
        """Return one frame as the stage draws it: positions in float32, and what the looks give as their columns say.

        measured: with live values. drawn: with what is not held already.
        """
        playing, plan = self.playing, self.playing.plan
        seconds, scene = plan.seconds(number), plan.scene(number)
        frames = playing.frames(number, stopped)
        emitters: list[dict[str, Any]] = []
        arrays: dict[str, np.ndarray] = {}
        for i, (emitter, compiled, look, frame) in enumerate(
            zip(playing.effect.emitters, plan.emitters, playing.looks, frames, strict=True)
        ):
            run = playing.shaped[i]
            population, rest, when = (
                run.at(number, 0.0, stopped),
                run.simulated(number, 0.0, stopped),
                run.seconds(number),
            )
            has_motion, has_look = self._held(i, emitter.uid, number) if drawn else (True, True)
            faults = (
                _faults(frame.faults)
                + _faults(playing.runs[i].rate_faults)
                + _faults(run.with_faults(number, 0.0, stopped)[1])
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
                entry["lacks"] = run.loop.lacks(stopped)
            index = self._picked(emitter.uid, population)
            if index >= 0:
                entry["picked"] = index
            if measured:
                entry["measure"] = measure(emitter, compiled, rest, when, population)
                if index >= 0:
                    entry["one"] = measure_one(compiled, rest, index, when, population)
            pictured = [drawn_with(part, self.stage, scene, emitter.births.place) for part in playing.drawn_looks(i)]
            entry["sheets"] = [
                short_key(key) if (key := key_of(sheets, forms)) else "" for sheets, forms, _ in pictured
            ]
            throws = [projector_of(part, self.stage, scene, playing.projector) for part in playing.drawn_looks(i)]
            if any(throws):
                entry["thrown"] = [
                    None if t is None else [*(round(float(x), 6) for x in t.rows.ravel()), t.tangent] for t in throws
                ]
            problems = [problem for *_, problem in pictured if problem]
            emitters.append(entry)
            if not has_motion:
                arrays[f"position.{i}"] = np.stack(population.position, axis=1)
                marks = {
                    "happened": happened(playing.runs[i], run.behind(number)[0]),
                    "touching": touching(look, population, when),
                }
                arrays |= {f"{name}.{i}": places for name, places in marks.items() if len(places)}
            shown = None if has_look else look.show(population, when)
            if why := unseen(emitter, self._parent(emitter), playing.runs[i], plan, number, population, shown):
                entry["unseen"] = why
            if shown is not None:
                if emitter.light is not None:
                    entry["lamps"] = [[round(float(x), 6) for x in lamp] for lamp in lamps_of(shown)]
                    entry["lights"] = (
                        int((shown.lamps[:, :3].max(axis=1, initial=0) > 0).sum()) if shown.lamps is not None else 0
                    )
                    if entry["lights"] > MOST_LAMPS:
                        problems.append(
                            f"{entry['lights']:,} of these light; of all there are the brightest {MOST_LAMPS} count."
                        )
                columns = _wired(compiled.looks[0], shown.columns)
                entry["defaults"] = _defaults(compiled.looks[0], columns)
                arrays |= {f"look.{name}.{i}": array for name, array in columns.items()}
                entry["layers"] = []
                replaced = Faults()
                replaced.add(shown.faults)
                for n, part in enumerate(playing.drawn(i, number, population, stopped, shown, self.wanted.coarse)):
                    if part.look is not shown.look:
                        replaced.add(part.faults)
                    problems += [words for words in (part.problem, part.remark) if words]
                    layer, more = _layer(part, compiled.looks[0])
                    entry["layers"].append(layer)
                    arrays |= {f"layer.{n}.{name}.{i}": array for name, array in more.items()}
                entry["look_faults"] = _faults(replaced)
            if problems:
                entry["stands_in"] = problems[0]
            if (line := self._lines(population)) is not None:
                arrays[f"line.{i}"] = line
            shade = self.shades[i]
            if shade is not None:
                given = frame_inputs(population, when)
                column = prepare(shade.program).run(shade.values, given, len(population))[self.wanted.shade]
                arrays[f"shade.{i}"] = np.clip(np.nan_to_num(column), -1e30, 1e30)
                entry["shade"] = [float(column.min()), float(column.max())] if len(column) else None
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
            "simulated": playing.stepped - self.before,
        }
        if plan.retimed is not None or plan.loop is not None:
            layer["scene"] = scene
        return pack(layer if around is None else {**layer, "about": True}, arrays)

    def _props(
        self, number: int, seconds: float, measured: bool, arrays: dict[str, np.ndarray], drawn: bool
    ) -> list[dict[str, Any]]:
        """Return where each prop stands, (16,) by rows; a camera's view and an animation's time; live values where measured. Adds to
        arrays, where drawn, how far each point of a fine mesh is gone, and the field to show there; `carries` tells of both."""
        described: list[dict[str, Any]] = []
        places = self.stage.places(seconds)
        for i, (prop, compiled) in enumerate(zip(self.playing.effect.props, self.playing.plan.props, strict=True)):
            entry: dict[str, Any] = {"uid": prop.uid, "place": [round(float(x), 6) for x in places[prop.uid].ravel()]}
            if not self.stage.seen(prop.uid, seconds):
                entry["seen"] = False
            if prop.kind == "camera":
                entry["field_of_view"] = self.stage.own(prop.uid, seconds)["field_of_view.0"]
            if prop.kind == "mask":
                entry["extent"] = self.stage.extent(prop, seconds)
                of = prop.stands_at()
                if of is not None:  # it stands where the other does
                    entry["place"][3::4] = [round(float(x), 6) for x in places[of][:, 3]]
            if prop.kind == "mesh" or prop.film:
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
        """Return the live values of a part whose rows are driven by the clip; those that are the same at any time are read once."""
        known = self._constant.get(part.uid)
        if known is None:
            known = measure_prop(part, plan, seconds)
            if "time" not in plan.probe.program.inputs:
                self._constant[part.uid] = known
        return known

    def _surface(self, prop: SurfaceProp, seconds: float) -> dict[str, Any]:
        """Return what a prop is made of at a time, where it is not matte, and what throws its picture: a camera's rows and tangent."""
        own = self.stage.own(prop.uid, seconds)
        described: dict[str, Any] = {}
        numbers = [round(own[f"{name}.0"], 5) for name in ("roughness", "metal", "glow")]
        if numbers != [1, 0, 0]:
            described["surface"] = numbers
        if prop.laid_by is not None and self.stage.there(prop.laid_by):
            camera = projector_of_camera(self.stage, prop.laid_by, seconds)
            described["thrown"] = [*(round(float(x), 6) for x in camera.rows.ravel()), round(camera.tangent, 6)]
        return described

    def _lights(self, seconds: float) -> list[list[float]]:
        """Return the light props at a time, as of `kernels.shading`, in the world."""
        lights, _ = lighting(self.playing.effect.props, self.stage, seconds, np.zeros((0, 7)))
        return [[round(float(x), 6) for x in row] for row in lights.rows]

    @staticmethod
    def _stage_uniforms(part: Any, own: dict[str, float], shot: Shot) -> dict[str, Any]:
        """Return what the stage needs to do what an item does: its numbers, whether it is linear, whether it acts on what stands behind."""
        return {**stage_uniforms(part, RowValues(own), shot), "linear": part.linear, "on_plate": part.on_plate}

    def _picture(self, number: int, seconds: float, measured: bool) -> list[dict[str, Any]]:
        """Return what the stage needs to do to a frame's picture what is done to it, and the rows of its frame; live values where measured."""
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
        """Return what is to be shown of each particle as lines: velocities (n, 3), or turns of those that are turned in space (n, 4), float16."""
        if self.wanted.lines == "velocity":
            return np.clip(np.stack(population.velocity, axis=1), -LARGEST_HALF, LARGEST_HALF).astype(np.float16)
        if self.wanted.lines == "axes" and TURNED[0] in population.carried:
            return np.stack([population.carried[name] for name in TURNED], axis=1).astype(np.float16)
        return None

    def _parent(self, emitter: Any) -> Any:
        """Return the emitter from whose particles another's are born; None where they are not."""
        of = emitter.births.place.emitter_from()
        return next((each for each in self.playing.effect.emitters if each.uid == of), None)

    def _held(self, i: int, uid: str, number: int) -> tuple[bool, bool]:
        """Return whether an emitter's places at a frame are held, and what its look gives."""
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


def clip_packet(playing: Playing, across: int = WIDTH, stopped: Callable[[], None] = never) -> bytes:
    """Return what the frames stored so far tell: counts by frame (null where unknown), each emitter's life profile, and
    its portrait as an RGBA picture whose axis is `across` pixels long."""
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
        looks = [Look(compiled, playing.engine, look) for look in compiled.looks if not look.muted]
        whole = [
            (number, playing.shaped[i].seconds(number), population)
            for number, population in living
            if population is not None
        ]
        facts = {"fired": _fired(compiled, stored), "passing": passing(looks, whole, 1 / float(plan.frame_rate))}
        emitters.append({"uid": emitter.uid, "counts": counts, "profile": profile, **facts})
        arrays[f"portrait.{i}"] = life_portrait(
            playing.looks[i],
            known,
            profile,
            across,
            drawn_with(emitter.look, playing.stage, 0.0, emitter.births.place)[:2],
        )
    return pack({"type": "clip", "first": plan.first_frame, "last": plan.last_frame, "emitters": emitters}, arrays)


def _fired(plan: EmitterPlan, stored: list[tuple[int, Any]]) -> dict[str, list[list[int]]]:
    """Return how often each cue of an emitter happened on the way to each frame that is known, by its uid: frames and how often, where it did."""
    frames: dict[str, list[list[int]]] = {uid: [] for uid in plan.cues}
    for number, frame in stored:
        if frame is not None and len(frame.events):
            for k, uid in enumerate(plan.cues):
                count = int((frame.events.what == FIRED + k).sum())
                if count:
                    frames[uid].append([number, count])
    return frames


def _faults(faults: Faults) -> list[dict[str, Any]]:
    """Return what was replaced: row, how many, and the first particle's key (-1: no particle, as for a rate)."""
    return [{"row": row, "count": count, "key": str(faults.first_key[row])} for row, count in faults.counts.items()]


def short_key(text: str) -> str:
    """Return a short name for a content key, as packets carry it."""
    return hashlib.blake2b(text.encode(), digest_size=8).hexdigest()


def _surfaced(plan: EmitterPlan) -> bool:
    return any(look.drawing.get("surface") for look in plan.looks)


def _layer(shown: Shown, first: LookPlan) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """Return what is drawn in a look: its drawing and defaults; and its arrays, none of those that the emitter's first look sends of particles."""
    strands, surface = shown.strands, shown.surface
    if surface is not None:
        cover = float(surface.tints[:, 4].mean()) if len(surface.tints) else 1.0
        entry = {"drawing": shown.look.drawing, "defaults": {}, "places": 0, "first": False, "cover": cover}
        tints = np.clip(surface.tints[:, :4], -LARGEST_HALF, LARGEST_HALF).astype(np.float16)
        return entry, {
            "points": surface.points,
            "normals": surface.normals.astype(np.float16),
            "tints": tints,
            "faces": surface.faces.astype(np.uint32),
            **({"uv": surface.uv} if "uv" in shown.look.given else {}),
        }
    if (volume := shown.volume) is not None:
        grid = (
            np.clip(volume.grid, 0, LARGEST_HALF).astype(np.float16).transpose(2, 1, 0, 3)
        )  # x fastest, as textures have it
        entry = {
            "drawing": shown.look.drawing,
            "defaults": {},
            "places": 0,
            "first": False,
            "cell": volume.cell,
            "adding": volume.adding,
            "low": [float(x) for x in volume.low],
            "counts": list(volume.grid.shape[:3]),
        }
        return entry, {"grid": np.ascontiguousarray(grid).reshape(-1)}
    if strands is None:
        columns = _wired(shown.look, shown.columns)
        entry = {
            "drawing": shown.look.drawing,
            "defaults": _defaults(shown.look, columns),
            "places": -1,
            "first": shown.look is first,
        }
        return entry, {} if shown.look is first else columns
    columns = _wired(shown.look, strands.columns)
    entry = {
        "drawing": shown.look.drawing,
        "defaults": _defaults(shown.look, columns),
        "places": len(strands),
        "first": False,
    }
    arrays = {"points": strands.points, "joined": strands.joined.astype(np.uint8), **columns}
    if strands.across is not None:
        arrays["across"] = strands.across.astype(np.float16)
    return entry, arrays


def _defaults(look: LookPlan, sent: dict[str, np.ndarray]) -> dict[str, float]:
    """Return what all particles have in the columns that are not sent."""
    return {column.name: column.default for column in look.columns if column.name not in sent}


def _wired(look: LookPlan, columns: dict[str, np.ndarray]) -> dict[str, np.ndarray]:
    """Return the columns of a look as they go over the wire; those that are all at their defaults are left out."""
    arrays = {}
    for column in look.columns:
        if column.name in columns:
            array = columns[column.name]
            if column.wire == "<f2":
                array = np.clip(array, -LARGEST_HALF, LARGEST_HALF)
            elif column.wire == "|u1":
                array = np.clip(np.rint(array), 0, 255)
            arrays[column.name] = array.astype(column.wire)
    return arrays
