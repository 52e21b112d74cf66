"""A frame's final picture: light gathered over shutter and lens, then finished, over the backplate."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..finishing import (
    BACKGROUNDS,
    PictureSample,
    RowValues,
    Shot,
    apply_finish,
    backplate_over,
    lens_radius,
    margin,
    picture_samples,
)
from ..picture import Air, Layer, Lighting, Solid, Viewpoint, as_occluder, check_size, lighting, render, with_shadows
from ..work_limits import claim
from .play import Playing, never_stopped

F32 = np.float32


@dataclass(frozen=True)
class RenderRequest:
    """How to render a frame.

    width, height: pixels. viewpoint: default is that of the effect's frame. region: only these columns and rows of the
    picture, (left, top, columns, rows). behind: a colour in linear light behind everything; None: as the effect's frame
    says. alone: nothing behind, so that alpha is meaningful. plain: without finish. camera: uid of a camera to render
    from. emitter: uid of the only one that is shown. squeezed: pixels have the frame's aspect.
    """

    width: int
    height: int
    viewpoint: Viewpoint | None = None
    region: tuple[int, int, int, int] | None = None
    behind: tuple[float, float, float] | None = None
    alone: bool = False
    plain: bool = False
    camera: str = ""
    emitter: str = ""
    squeezed: bool = False


@dataclass(frozen=True)
class RenderedFrame:
    """light: (rows, columns, 4) float32, linear, premultiplied: rendered and finished, without the backplate. behind:
    the backplate, (rows, columns, 3), or None. merged: light contains the backplate, because a finish cannot act on
    each separately."""

    light: np.ndarray
    behind: np.ndarray | None
    merged: bool = False

    def over(self) -> np.ndarray:
        """Return light over the backplate, (rows, columns, 4), opaque where there is one."""
        if self.behind is None or self.merged:
            return self.light
        light = self.light.copy()
        light[..., :3] += self.behind * (1 - np.clip(light[..., 3:], 0, 1))
        light[..., 3] = 1
        return light


@dataclass
class Scene:
    """Everything visible at a moment."""

    layers: list[Layer]
    solids: list[Solid]
    viewpoint: Viewpoint
    lights: Lighting
    air: Air | None = None


def viewpoint_of(playing: Playing, seconds: float, camera: str = "") -> Viewpoint:
    """Return the viewpoint at a clip time: that of a camera by uid, otherwise of the effect's frame, or its own
    view."""
    uid = camera or playing.effect.frame.camera
    if uid is None or not playing.stage.has_prop(uid):
        return playing.viewpoint
    place = playing.stage.matrices(uid, np.full(1, seconds))[0]
    return Viewpoint.of_matrix(place, playing.stage.own(uid, seconds)["field_of_view.0"])


def scene_at(
    playing: Playing,
    number: int,
    moment: PictureSample,
    wish: RenderRequest,
    stopped: Callable[[], None],
    bare: bool = False,
) -> Scene:
    """Return what is visible at a moment of a frame, as requested. bare: without particles and lights."""
    seconds = playing.plan.scene(number, moment.after)
    moving = moment.moving
    solids = playing.solids(number, moment.after, moving)
    view = wish.viewpoint or viewpoint_of(
        playing, seconds if moving is None else playing.plan.scene(number), wish.camera
    )
    if bare:
        return Scene([], solids, view, Lighting())
    layers = playing.layers(number, stopped, moment.after, moving)
    if wish.emitter:
        layers = [layer for layer in layers if layer.emitter == wish.emitter]
    lights, throws = lighting(
        playing.effect.props, playing.stage, seconds, playing.lamps(number, stopped, moment.after)
    )
    return Scene(layers, solids, view, with_shadows(lights, throws, solids, layers))


def row_values_of(playing: Playing, part: Any, seconds: float) -> RowValues:
    return RowValues(playing.stage.own(part.uid, seconds))


def finish_items_at(playing: Playing, seconds: float) -> list[tuple[Any, RowValues]]:
    """Return the items of the finish at a clip time, in order, each with the values of its rows."""
    return [(part, row_values_of(playing, part, seconds)) for part in playing.effect.finish if not part.muted]


def _air(items: Sequence[tuple[Any, RowValues]]) -> Air | None:
    found = next((own for part, own in reversed(items) if part.acts == "air"), None)
    if found is None or found.number("density") <= 0:
        return None
    red, green, blue = (float(c) for c in found.colour("fog_colour"))
    return Air(found.number("density"), found.number("begins"), (red, green, blue))


def _lens_of(
    items: Sequence[tuple[Any, RowValues]], playing: Playing, seconds: float, viewpoint: Viewpoint
) -> tuple[float, float]:
    """Return the radius of the lens and the focus distance, metres."""
    found = next(((part, own) for part, own in reversed(items) if part.gathers == "lens"), None)
    if found is None:
        return 0.0, 1.0
    part, own = found
    focus = own.number("focus")
    if part.focus_on and playing.stage.has_prop(part.focus_on):
        there = playing.stage.matrices(part.focus_on, np.full(1, seconds))[0][:3, 3]
        focus = float(-(there - np.asarray(viewpoint.position)) @ viewpoint.axes()[2])
    return lens_radius(part, own, viewpoint.field_of_view), max(focus, 0.01)


def render_frame(
    playing: Playing, number: int, wish: RenderRequest, stopped: Callable[[], None] = never_stopped
) -> RenderedFrame:
    """Return a frame's picture. Raises BudgetError by `check_size`, Cancelled from stopped."""
    check_size(wish.width, wish.height)
    if (full := in_square_pixels(playing, wish)) is not wish:
        whole = render_frame(playing, number, full, stopped)
        behind = None if whole.behind is None else resample_columns(whole.behind, wish.width)
        return RenderedFrame(resample_columns(whole.light, wish.width), behind, whole.merged)
    seconds = playing.plan.seconds(number)
    items = [] if wish.plain else finish_items_at(playing, seconds)
    shot = Shot(
        wish.width, wish.height, 0, 0, wish.height / playing.effect.frame.height, number, playing.effect.clip.seed
    )
    region, inner = _widened(wish, max((margin(part, own, shot) for part, own in items), default=0))
    shot = replace(shot, left=region[0], top=region[1])
    behind = _backplate(playing, wish, seconds, region)
    gathered = _gather_light(playing, number, wish, items, region, behind, stopped)
    whole = _finish(gathered, behind, items, shot, stopped)
    left, top, wide, tall = inner
    cut = (slice(top, top + tall), slice(left, left + wide))
    return RenderedFrame(whole.light[cut], None if whole.behind is None else whole.behind[cut], whole.merged)


def in_square_pixels(playing: Playing, wish: RenderRequest) -> RenderRequest:
    """Return a request with square pixels, in which pictures are rendered."""
    pixel = playing.effect.frame.pixel
    if not wish.squeezed or pixel == 1 or wish.region is not None:
        return wish
    return replace(wish, width=max(1, round(wish.width * pixel)), squeezed=False)


def resample_columns(picture: np.ndarray, width: int) -> np.ndarray:
    """Return a picture (rows, columns, channels) with another number of columns, each the mean of what it covers."""
    whole = np.concatenate(
        [np.zeros_like(picture[:, :1], np.float64), np.cumsum(picture, axis=1, dtype=np.float64)], axis=1
    )
    at = np.linspace(0, picture.shape[1], width + 1)
    first = np.minimum(at.astype(np.int64), picture.shape[1] - 1)
    share = (at - first)[None, :, None]
    edges = whole[:, first] + (whole[:, first + 1] - whole[:, first]) * share
    narrow: np.ndarray = (np.diff(edges, axis=1) * (width / picture.shape[1])).astype(F32)
    return narrow


def _widened(wish: RenderRequest, by: int) -> tuple[tuple[int, int, int, int], tuple[int, int, int, int]]:
    """Return the region to render for a requested one (finishes need a margin), and where the requested one lies in
    it."""
    if wish.region is None:
        return (0, 0, wish.width, wish.height), (0, 0, wish.width, wish.height)
    left, top, wide, tall = wish.region
    x, y = max(left - by, 0), max(top - by, 0)
    right, bottom = min(left + wide + by, wish.width), min(top + tall + by, wish.height)
    return (x, y, right - x, bottom - y), (left - x, top - y, wide, tall)


Selection = tuple[frozenset[str], frozenset[str]]


def _gather_light(
    playing: Playing,
    number: int,
    wish: RenderRequest,
    items: list[tuple[Any, RowValues]],
    region: tuple[int, int, int, int],
    behind: np.ndarray | None,
    stopped: Callable[[], None],
) -> dict[Selection | None, np.ndarray]:
    """Return the light of everything, and of each selection that a finish acts on alone, as it is visible among
    everything else."""
    chosen = [
        (frozenset(part.emitters), frozenset(part.props)) for part, _ in items if part.acts == "light" and part.chosen
    ]
    wanted: list[Selection | None] = [None, *dict.fromkeys(chosen)]
    gathered: dict[Selection | None, np.ndarray] = {}
    claim(
        16 * region[2] * region[3] * (len(wanted) + 3),
        f"A picture of {len(wanted)} parts that something is done to apart",
        "Make it smaller, or let fewer things be done to a choice alone.",
    )
    share, by_light = 1.0, behind is not None and _needs_behind(playing)
    for of_all, scene in scenes_while_open(playing, number, wish, items, stopped):
        share = of_all
        for each in wanted:
            layers, solids = _lit_alone(scene, each)
            under = behind if each is None and by_light else None
            picture = render(
                layers, scene.viewpoint, wish.width, wish.height, solids, under, region, scene.lights, scene.air
            )
            gathered[each] = np.add(gathered[each], picture, out=gathered[each]) if each in gathered else picture
    for each, light in gathered.items():
        if share != 1:
            light *= F32(share)
        if each is None and by_light:
            light[..., :3] -= behind * (1 - light[..., 3:])
    return gathered


def _needs_behind(playing: Playing) -> bool:
    """Return whether anything is screened or multiplied: these need the backplate while they are painted."""
    return any(
        look.blend in ("screen", "multiply")
        for emitter in playing.effect.emitters
        for look in (emitter.look, *emitter.also)
    )


def scenes_while_open(
    playing: Playing,
    number: int,
    wish: RenderRequest,
    items: Sequence[tuple[Any, RowValues]],
    stopped: Callable[[], None],
) -> Iterator[tuple[float, Scene]]:
    """Yield the scenes while the shutter is open and over the lens, each with its share of the light. items: from
    `finish_items_at`."""
    air, when = _air(items), picture_samples([item for item in items if item[0].acts == "gathering"])
    for moment in when:
        stopped()
        scene = scene_at(playing, number, moment, wish, stopped)
        radius, focus = _lens_of(items, playing, playing.plan.scene(number, moment.after), scene.viewpoint)
        view = scene.viewpoint
        if radius > 0:
            view = view.through(moment.lens[0] * radius, moment.lens[1] * radius, focus)
        yield 1 / len(when), replace(scene, viewpoint=view, air=air)


def _lit_alone(scene: Scene, selection: Selection | None) -> tuple[list[Layer], list[Solid]]:
    """Return a scene with the light of a selection alone; everything else only occludes."""
    if selection is None:
        return scene.layers, scene.solids
    emitters, props = selection
    return (
        [layer if layer.emitter in emitters else as_occluder(layer) for layer in scene.layers],
        [solid if solid.uid in props else solid.as_occluder() for solid in scene.solids],
    )


def _finish(
    gathered: dict[Selection | None, np.ndarray],
    behind: np.ndarray | None,
    items: list[tuple[Any, RowValues]],
    shot: Shot,
    stopped: Callable[[], None],
) -> RenderedFrame:
    """Return the finished picture. A finish on a selection acts on its light as it is visible at that point of the
    order."""
    whole = gathered[None]
    parts = {key: light for key, light in gathered.items() if key is not None}
    merged = False
    for part, own in items:
        if part.acts != "light":
            continue
        stopped()
        if part.chosen:
            key = (frozenset(part.emitters), frozenset(part.props))
            after = apply_finish(parts[key], part, own, shot)
            change = after[..., :3] - parts[key][..., :3]
            whole = whole.copy()
            whole[..., :3] += change
            for other in parts:
                if other == key or (other[0] >= key[0] and other[1] >= key[1]):
                    parts[other] = np.concatenate([parts[other][..., :3] + change, parts[other][..., 3:]], axis=2)
            continue
        before = whole
        if part.on_plate and behind is not None and not part.linear and not merged:
            whole = RenderedFrame(whole, behind).over()
            merged, before = True, whole
        elif part.on_plate and behind is not None and not merged:
            opaque = np.concatenate([behind, np.ones_like(behind[..., :1])], axis=2)
            behind = apply_finish(opaque, part, own, shot)[..., :3]
        whole = apply_finish(whole, part, own, shot)
        for key, light in parts.items():
            parts[key] = apply_finish(light, part, own, shot) if part.linear else _same_share(light, before, whole)
    return RenderedFrame(whole, behind, merged)


def _same_share(part: np.ndarray, before: np.ndarray, after: np.ndarray) -> np.ndarray:
    """Return a part of a picture after the whole has changed: the same share of each pixel."""
    share = np.clip(part[..., :3] / np.maximum(before[..., :3], 1e-9), 0, 1)
    return np.concatenate([share * after[..., :3], part[..., 3:]], axis=2)


# behind all
# -----------------------------------------------------------------------------------------------------------------
def _backplate(
    playing: Playing, wish: RenderRequest, seconds: float, region: tuple[int, int, int, int]
) -> np.ndarray | None:
    """Return the backplate in a region, (rows, columns, 3) linear light, or None."""
    if wish.alone:
        return None
    _, _, wide, tall = region
    frame = playing.effect.frame
    own = RowValues(playing.stage.own(frame.uid, seconds))
    colour = (
        np.asarray(wish.behind, F32)
        if wish.behind is not None
        else np.asarray(BACKGROUNDS[playing.effect.clip.background], F32)
    )
    if wish.behind is None and frame.behind == "colour":
        colour = own.colour("plate_colour")
    flat = np.broadcast_to(colour, (tall, wide, 3)).astype(F32)
    if wish.behind is not None or frame.behind != "plate" or frame.plate is None:
        return flat
    picture = playing.stage.picture_at(frame.plate, seconds) if playing.stage.has_prop(frame.plate) else None
    if picture is None:
        return flat
    if frame.fit == "within":
        flat = np.broadcast_to(own.colour("plate_colour"), (tall, wide, 3)).astype(F32)
    return backplate_over(picture, frame, (wish.width, wish.height), region, flat, 2.0 ** own.number("plate_stops"))
