"""A frame's picture as it will be seen: light gathered while the shutter is open and over the lens, then finished, over what stands behind all."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..finishing import BACKGROUNDS, Moment, RowValues, Shot, finished, laid_behind, lens, moments, reach
from ..picture import Air, Layer, Lighting, Solid, Viewpoint, black, check_size, lighting, render, shadowed
from ..work_limits import claim
from .play import Playing, never

F32 = np.float32


@dataclass(frozen=True)
class RenderRequest:
    """How a frame is to be taken. width, height: pixels; viewpoint: where from, without one as the frame of the effect says; region: of the
    picture only columns
    and rows (left, top, columns, rows); behind: what stands behind all, a colour in linear light; None: as the effect's frame says; alone:
    nothing, so that alpha tells; plain: without what is done to the picture; camera: the uid of
    one that it is taken by, moving as it does; emitter: of the only one that is seen; squeezed: its
    pixels have the shape that the frame says."""

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
    """light: (rows, columns, 4) float32, linear, premultiplied: what is rendered and finished, without what stands behind; behind: that, (rows,
    columns, 3), or None; merged: both are in light already, since something that was done cannot be done to each by itself."""

    light: np.ndarray
    behind: np.ndarray | None
    merged: bool = False

    def over(self) -> np.ndarray:
        """Return all together, (rows, columns, 4): opaque where something stands behind."""
        if self.behind is None or self.merged:
            return self.light
        light = self.light.copy()
        light[..., :3] += self.behind * (1 - np.clip(light[..., 3:], 0, 1))
        light[..., 3] = 1
        return light


@dataclass
class Scene:
    """What there is to see at a moment."""

    layers: list[Layer]
    solids: list[Solid]
    viewpoint: Viewpoint
    lights: Lighting
    air: Air | None = None


def viewpoint_of(playing: Playing, seconds: float, camera: str = "") -> Viewpoint:
    """Return where pictures are taken from at a clip time: a camera by its uid, else that of the effect's frame, or its own view."""
    uid = camera or playing.effect.frame.camera
    if uid is None or not playing.stage.there(uid):
        return playing.viewpoint
    place = playing.stage.matrices(uid, np.full(1, seconds))[0]
    return Viewpoint.of_matrix(place, playing.stage.own(uid, seconds)["field_of_view.0"])


def scene_at(
    playing: Playing, number: int, moment: Moment, wish: RenderRequest, stopped: Callable[[], None], bare: bool = False
) -> Scene:
    """Return what there is to see of a frame at a moment, as it is wished for. bare: without particles and light."""
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
    return Scene(layers, solids, view, shadowed(lights, throws, solids, layers))


def own_of(playing: Playing, part: Any, seconds: float) -> RowValues:
    return RowValues(playing.stage.own(part.uid, seconds))


def items_at(playing: Playing, seconds: float) -> list[tuple[Any, RowValues]]:
    """Return what is done to the picture at a clip time, in order, each with its rows then."""
    return [(part, own_of(playing, part, seconds)) for part in playing.effect.finish if not part.muted]


def _air(items: Sequence[tuple[Any, RowValues]]) -> Air | None:
    found = next((own for part, own in reversed(items) if part.kind == "fog"), None)
    if found is None or found.number("density") <= 0:
        return None
    red, green, blue = (float(c) for c in found.colour("fog_colour"))
    return Air(found.number("density"), found.number("begins"), (red, green, blue))


def _lens(
    items: Sequence[tuple[Any, RowValues]], playing: Playing, seconds: float, viewpoint: Viewpoint
) -> tuple[float, float]:
    """Return the radius of the lens and how far away it is focused, metres."""
    found = next(((part, own) for part, own in reversed(items) if part.kind == "depth_of_field"), None)
    if found is None:
        return 0.0, 1.0
    part, own = found
    focus = own.number("focus")
    if part.focus_on and playing.stage.there(part.focus_on):
        there = playing.stage.matrices(part.focus_on, np.full(1, seconds))[0][:3, 3]
        focus = float(-(there - np.asarray(viewpoint.position)) @ viewpoint.axes()[2])
    return lens(part, own, viewpoint.field_of_view), max(focus, 0.01)


def render_frame(
    playing: Playing, number: int, wish: RenderRequest, stopped: Callable[[], None] = never
) -> RenderedFrame:
    """Return a frame's picture. Raises BudgetError by `check_size`, Cancelled from stopped."""
    check_size(wish.width, wish.height)
    if (full := unsqueezed(playing, wish)) is not wish:
        whole = render_frame(playing, number, full, stopped)
        behind = None if whole.behind is None else narrowed(whole.behind, wish.width)
        return RenderedFrame(narrowed(whole.light, wish.width), behind, whole.merged)
    seconds = playing.plan.seconds(number)
    items = [] if wish.plain else items_at(playing, seconds)
    shot = Shot(
        wish.width, wish.height, 0, 0, wish.height / playing.effect.frame.height, number, playing.effect.clip.seed
    )
    region, inner = _wider(wish, max((reach(part, own, shot) for part, own in items), default=0))
    shot = replace(shot, left=region[0], top=region[1])
    behind = _behind(playing, wish, seconds, region)
    gathered = _gathered(playing, number, wish, items, region, behind, stopped)
    whole = _finish(gathered, behind, items, shot, stopped)
    left, top, wide, tall = inner
    cut = (slice(top, top + tall), slice(left, left + wide))
    return RenderedFrame(whole.light[cut], None if whole.behind is None else whole.behind[cut], whole.merged)


def unsqueezed(playing: Playing, wish: RenderRequest) -> RenderRequest:
    """Return a wish in square pixels, as pictures are rendered: the same where they are to be square."""
    pixel = playing.effect.frame.pixel
    if not wish.squeezed or pixel == 1 or wish.region is not None:
        return wish
    return replace(wish, width=max(1, round(wish.width * pixel)), squeezed=False)


def narrowed(picture: np.ndarray, width: int) -> np.ndarray:
    """Return a picture (rows, columns, channels) with other many columns, each the mean of what it covers."""
    whole = np.concatenate(
        [np.zeros_like(picture[:, :1], np.float64), np.cumsum(picture, axis=1, dtype=np.float64)], axis=1
    )
    at = np.linspace(0, picture.shape[1], width + 1)
    first = np.minimum(at.astype(np.int64), picture.shape[1] - 1)
    share = (at - first)[None, :, None]
    edges = whole[:, first] + (whole[:, first + 1] - whole[:, first]) * share
    narrow: np.ndarray = (np.diff(edges, axis=1) * (width / picture.shape[1])).astype(F32)
    return narrow


def _wider(wish: RenderRequest, by: int) -> tuple[tuple[int, int, int, int], tuple[int, int, int, int]]:
    """Return the region that has to be rendered for one that is wanted, and where this is in it."""
    if wish.region is None:
        return (0, 0, wish.width, wish.height), (0, 0, wish.width, wish.height)
    left, top, wide, tall = wish.region
    x, y = max(left - by, 0), max(top - by, 0)
    right, bottom = min(left + wide + by, wish.width), min(top + tall + by, wish.height)
    return (x, y, right - x, bottom - y), (left - x, top - y, wide, tall)


Selection = tuple[frozenset[str], frozenset[str]]


def _gathered(
    playing: Playing,
    number: int,
    wish: RenderRequest,
    items: list[tuple[Any, RowValues]],
    region: tuple[int, int, int, int],
    behind: np.ndarray | None,
    stopped: Callable[[], None],
) -> dict[Selection | None, np.ndarray]:
    """Return the light of all, and of each selection that something is done to alone, as it is seen among all else."""
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
    for of_all, scene in opened(playing, number, wish, items, stopped):
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
    """Return whether anything is screened or multiplied: over nothing that does nothing, so that it is painted over what stands behind."""
    return any(
        look.blend in ("screen", "multiply")
        for emitter in playing.effect.emitters
        for look in (emitter.look, *emitter.also)
    )


def opened(
    playing: Playing,
    number: int,
    wish: RenderRequest,
    items: Sequence[tuple[Any, RowValues]],
    stopped: Callable[[], None],
) -> Iterator[tuple[float, Scene]]:
    """Yield what there is to see while the shutter is open, and over the lens, each with its share of the light. items: as of `items_at`."""
    air, when = _air(items), moments([item for item in items if item[0].acts == "gathering"])
    for moment in when:
        stopped()
        scene = scene_at(playing, number, moment, wish, stopped)
        radius, focus = _lens(items, playing, playing.plan.scene(number, moment.after), scene.viewpoint)
        view = scene.viewpoint
        if radius > 0:
            view = view.through(moment.lens[0] * radius, moment.lens[1] * radius, focus)
        yield 1 / len(when), replace(scene, viewpoint=view, air=air)


def _lit_alone(scene: Scene, selection: Selection | None) -> tuple[list[Layer], list[Solid]]:
    """Return what there is to see with the light of a selection alone: all else covers, and gives none."""
    if selection is None:
        return scene.layers, scene.solids
    emitters, props = selection
    return (
        [layer if layer.emitter in emitters else black(layer) for layer in scene.layers],
        [solid if solid.uid in props else solid.black() for solid in scene.solids],
    )


def _finish(
    gathered: dict[Selection | None, np.ndarray],
    behind: np.ndarray | None,
    items: list[tuple[Any, RowValues]],
    shot: Shot,
    stopped: Callable[[], None],
) -> RenderedFrame:
    """Return the picture after all that is done to it. What acts on a selection acts on its light as it is among all else then."""
    whole = gathered[None]
    parts = {key: light for key, light in gathered.items() if key is not None}
    merged = False
    for part, own in items:
        if part.acts != "light":
            continue
        stopped()
        if part.chosen:
            key = (frozenset(part.emitters), frozenset(part.props))
            after = finished(parts[key], part, own, shot)
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
            behind = finished(opaque, part, own, shot)[..., :3]
        whole = finished(whole, part, own, shot)
        for key, light in parts.items():
            parts[key] = finished(light, part, own, shot) if part.linear else _as_much(light, before, whole)
    return RenderedFrame(whole, behind, merged)


def _as_much(part: np.ndarray, before: np.ndarray, after: np.ndarray) -> np.ndarray:
    """Return a part of a picture that has become another one: of each pixel the same share of it."""
    share = np.clip(part[..., :3] / np.maximum(before[..., :3], 1e-9), 0, 1)
    return np.concatenate([share * after[..., :3], part[..., 3:]], axis=2)


# behind all -----------------------------------------------------------------------------------------------------------------
def _behind(
    playing: Playing, wish: RenderRequest, seconds: float, region: tuple[int, int, int, int]
) -> np.ndarray | None:
    """Return what stands behind all in a region, (rows, columns, 3) linear light; None: nothing."""
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
    picture = playing.stage.picture_at(frame.plate, seconds) if playing.stage.there(frame.plate) else None
    if picture is None:
        return flat
    if frame.fit == "within":
        flat = np.broadcast_to(own.colour("plate_colour"), (tall, wide, 3)).astype(F32)
    return laid_behind(picture, frame, (wish.width, wish.height), region, flat, 2.0 ** own.number("plate_stops"))
