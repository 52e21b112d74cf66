"""A frame's passes for exporters. Light is gathered like the picture, through shutter and lens; data passes are those
of the frame itself."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np

from ..engine import prepare_reference
from ..errors import RequestError
from ..finishing import PictureSample
from ..picture import Layer, Solid, passes, render
from ..plan import compile_columns
from ..simulation import frame_inputs
from .play import Playing, never_stopped
from .rendering import RenderRequest, Scene, finish_items_at, scene_at, scenes_while_open

F32 = np.float32
WORDS = {
    "depth": ("Depth", "How far away what is seen is, metres along the view."),
    "velocity": ("Velocity", "How it moves, pixels a frame, to the right and down, the camera's own motion in it."),
    "normal": ("Normal", "Which way it faces: right, up, toward the camera."),
    "life": ("Life", "How far along its life each particle is, 0 to 1."),
    "light": ("Light alone", "What light falls on props and bodies, as if all were white."),
    "emitters": ("Each emitter by itself", "Its particles alone, held out where props hide them."),
    "id": ("ID mattes", "Who is seen, by hashed names, and how much of each pixel it covers."),
}


@dataclass(frozen=True)
class FramePasses:
    """Passes by name, (rows, columns, channels) float32. names: for ID mattes, hashes of names in hexadecimal."""

    arrays: dict[str, np.ndarray]
    names: dict[str, dict[str, str]]

    def of_width(self, width: int) -> FramePasses:
        """Return the passes with another number of columns, by nearest neighbour."""
        if all(each.shape[1] == width for each in self.arrays.values()):
            return self
        at = {
            n: ((np.arange(width) + 0.5) * n / width).astype(np.int64)
            for n in {each.shape[1] for each in self.arrays.values()}
        }
        return FramePasses({name: each[:, at[each.shape[1]]] for name, each in self.arrays.items()}, self.names)


def take_passes(
    playing: Playing,
    number: int,
    wish: RenderRequest,
    wanted: tuple[str, ...],
    stopped: Callable[[], None] = never_stopped,
) -> FramePasses:
    """Return a frame's passes: those of WORDS, and particle attributes by their columns' keys. Raises RequestError for
    an unknown pass."""
    arrays: dict[str, np.ndarray] = {}
    names: dict[str, dict[str, str]] = {}
    if not wanted:
        return FramePasses(arrays, names)
    scene = scene_at(playing, number, PictureSample(), wish, stopped)
    shot = (scene.viewpoint, wish.width, wish.height)
    for name in wanted:
        stopped()
        if name == "depth":
            arrays[name] = passes.depth(scene.layers, scene.solids, *shot, wish.region)[..., None]
        elif name == "velocity":
            arrays[name] = _velocity(playing, number, scene, wish)
        elif name == "normal":
            arrays[name] = passes.normal(scene.layers, scene.solids, *shot, wish.region)
        elif name in GATHERED:
            continue
        elif name == "id":
            arrays[name], names[name] = passes.mattes(_groups(playing), scene.layers, scene.solids, *shot, wish.region)
        else:
            values = _attribute(playing, number, name)
            arrays[name] = passes.attribute(scene.layers, scene.solids, *shot, values, wish.region)[..., None]
    gathered = [name for name in wanted if name in GATHERED]
    items = [] if wish.plain else finish_items_at(playing, playing.plan.seconds(number))
    for share, each in scenes_while_open(playing, number, wish, items, stopped) if gathered else ():
        for name in gathered:
            for key, light in GATHERED[name](playing, each, wish):
                arrays[key] = arrays[key] + light * F32(share) if key in arrays else light * F32(share)
    return FramePasses({key: arrays[key] for key in _in_order(wanted, arrays)}, names)


def _in_order(wanted: tuple[str, ...], arrays: dict[str, np.ndarray]) -> list[str]:
    """Return the names of passes in the requested order."""
    return [
        key for name in wanted for key in arrays if key == name or (name == "emitters" and key.startswith("emitter."))
    ]


def _light_alone(playing: Playing, scene: Scene, wish: RenderRequest) -> Iterator[tuple[str, np.ndarray]]:
    white = [solid.plain(np.ones(3), lit=True) for solid in scene.solids]
    bodies = [passes.lit_in_white(each) for each in scene.layers if each.shown.volume is None]
    yield "light", render(bodies, scene.viewpoint, wish.width, wish.height, white, None, wish.region, scene.lights)


def _emitters(playing: Playing, scene: Scene, wish: RenderRequest) -> Iterator[tuple[str, np.ndarray]]:
    for emitter in playing.effect.emitters:
        own = [layer for layer in scene.layers if layer.emitter == emitter.uid]
        yield f"emitter.{emitter.name}", held_out_layers(own, scene, wish)


# what is light, and gathered as the picture is: through shutter and lens
GATHERED: dict[str, Callable[[Playing, Scene, RenderRequest], Iterator[tuple[str, np.ndarray]]]] = {
    "light": _light_alone,
    "emitters": _emitters,
}


def held_out_layers(layers: list[Layer], scene: Scene, wish: RenderRequest) -> np.ndarray:
    """Return some particles alone, (rows, columns, 4), cut out where props hide them."""
    rendered = render(
        layers,
        scene.viewpoint,
        wish.width,
        wish.height,
        [solid.as_occluder() for solid in scene.solids],
        None,
        wish.region,
        scene.lights,
        scene.air,
    )
    if not scene.solids:
        return rendered
    props = render(
        [], scene.viewpoint, wish.width, wish.height, [solid.as_occluder() for solid in scene.solids], None, wish.region
    )
    # over a prop all is covered: how much of it by particles, light of one colour tells
    white = render(
        [passes.coverage_layer(layer) for layer in layers],
        scene.viewpoint,
        wish.width,
        wish.height,
        [s.as_occluder() for s in scene.solids],
        None,
        wish.region,
    )
    rendered[..., 3] = np.where(props[..., 3] > 0, np.clip(white[..., 0], 0, 1), rendered[..., 3])
    return rendered


def _velocity(playing: Playing, number: int, scene: Scene, wish: RenderRequest) -> np.ndarray:
    around = [scene_at(playing, number, PictureSample(after), wish, never_stopped, bare=True) for after in (-0.5, 0.5)]
    before, after = around[0].viewpoint, around[1].viewpoint
    there = {solid.uid for solid in around[0].solids} & {solid.uid for solid in around[1].solids}
    pairs = [sorted((s for s in each.solids if s.uid in there), key=lambda s: s.uid) for each in around]
    step = 1 / float(playing.plan.frame_rate)
    return passes.velocity(
        scene.layers, pairs[0], pairs[1], before, after, scene.viewpoint, step, wish.width, wish.height, wish.region
    )


def _groups(playing: Playing) -> list[tuple[str, Callable[[Layer], bool], Callable[[Solid], bool]]]:
    """Return the names of emitters and props, each with a test for its layers and props; the later of two equal names
    gets a number."""
    groups: list[tuple[str, Callable[[Layer], bool], Callable[[Solid], bool]]] = []
    taken: dict[str, int] = {}

    def free(name: str) -> str:
        taken[name] = taken.get(name, 0) + 1
        return name if taken[name] == 1 else f"{name} {taken[name]}"

    groups += [(free(each.name), partial(_is_layer, each.uid), _no_particles) for each in playing.effect.emitters]
    groups += [
        (free(each.name), _no_particles, partial(_is_solid, each.uid)) for each in playing.effect.props if each.rendered
    ]
    return groups


def _is_layer(uid: str, layer: Layer) -> bool:
    return layer.emitter == uid


def _is_solid(uid: str, solid: Solid) -> bool:
    return solid.uid == uid


def _no_particles(thing: Layer | Solid) -> bool:
    return False


def _attribute(playing: Playing, number: int, key: str) -> Callable[[Layer], np.ndarray | None]:
    """Return a function that gives an attribute of a layer's particles. Raises RequestError where no emitter has it."""
    plans = {}
    for emitter, plan, run in zip(playing.effect.emitters, playing.plan.emitters, playing.shaped, strict=True):
        columns = compile_columns(playing.effect, emitter, plan, {key})
        if columns.columns:
            plans[emitter.uid] = columns, run.seconds(number)
    if not plans:
        raise RequestError(
            f"No emitter has {key!r}.",
            where="options.passes",
            remedy="Choose passes that there are, or attributes of particles.",
        )

    def values(layer: Layer) -> np.ndarray | None:
        if layer.emitter not in plans:
            return np.zeros(len(layer.shown))
        columns, seconds = plans[layer.emitter]
        population = layer.shown.population
        found: Any = prepare_reference(columns.program).run(
            columns.values, frame_inputs(population, seconds), len(population)
        )[key]
        return np.asarray(found)

    return values
