"""Whether an emitter's place, guide and thinning, and masks, name what is there and fits."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..effect import Effect, Emitter, MaskProp
from ..effect.sources import ClipTimeSource, DialSource, VectorSource
from ..errors import Finding
from ..formula import PLAIN, Formula, Known, check, dimension_of, identifier

# what births can be on, by kind of prop
BIRTHS_ON: dict[str, tuple[str, ...]] = {
    "shape": ("surface", "inside", "points", "edges"), "mesh": ("surface", "inside", "points", "edges"),
    "text": ("surface", "inside", "points", "edges"), "logo": ("surface", "inside", "points", "edges"),
    "picture": ("surface", "edges"), "path": ("edges", "points"), "points": ("points",),
}  # fmt: skip
GUIDES = ("shape", "mesh", "text", "logo", "picture")


def placed_findings(effect: Effect, emitter: Emitter, where: str) -> Iterator[Finding]:
    """Yield what an emitter's births, guide or thinning name that is not there or does not fit."""
    props = {prop.uid: prop for prop in effect.props}
    place, launch = emitter.births.place, emitter.births.launch
    if place.kind == "prop":
        prop = props.get(place.prop)
        if prop is None:
            yield Finding("link", f"{where}.births.place.prop", f"{emitter.name} is born on a prop that is not there.", "Choose another place.")
        elif place.on not in BIRTHS_ON.get(prop.kind, ()):
            fits = BIRTHS_ON.get(prop.kind, ())
            words = f"{prop.name} has no {_ON[place.on]}."
            yield Finding(
                "link", f"{where}.births.place.on", words, f"Choose {' or '.join(_ON[on] for on in fits)}." if fits else "Choose another prop."
            )
        if place.density and prop is not None and (place.on not in ("surface", "points") or prop.kind in ("path", "points")):
            on = {"inside": "inside", "edges": "on lines of", "points": "at", "surface": "on"}[place.on]
            words = f"A picture cannot say how dense births are {on} {prop.name}."
            remedy = "Give birth on the surface or at points of a mesh, or take the picture away."
            yield Finding("link", f"{where}.births.place.density", words, remedy)
        picture = props.get(place.density.picture) if place.density else None
        if place.density and (picture is None or picture.kind != "picture"):
            yield Finding("link", f"{where}.births.place.density.picture", "The picture of how dense births are is not there.", "Choose a picture.")
    if place.kind == "particles":
        emitters = {other.uid: other for other in effect.emitters}
        way, uid = [emitter.name], place.emitter
        while True:
            parent = emitters.get(uid)
            if parent is None:
                yield Finding("link", f"{where}.births.place.emitter", f"{emitter.name} comes from an emitter that is not there.", "Choose another.")
                break
            way.append(parent.name)
            if parent is emitter or len(way) > MOST_GENERATIONS:
                words = f"These emitters come from each other: {' <- '.join(way)}." if parent is emitter else (
                    f"{way[0]} is the {len(way)}th generation; {MOST_GENERATIONS} are allowed.")  # fmt: skip
                code = "circle" if parent is emitter else "link"
                yield Finding(code, f"{where}.births.place.emitter", words, "Let one be born at a place of its own.")
                break
            if parent.births.place.kind != "particles":
                break
            uid = parent.births.place.emitter
        if emitter.births.bursts:
            words = "Births from particles have no bursts of their own."
            yield Finding("link", f"{where}.births.bursts", words, "Give the parent the burst, or raise the rate.")
    if launch.aim == "guided":
        guide = props.get(launch.guide or "")
        if guide is None or guide.kind not in GUIDES:
            yield Finding(
                "link", f"{where}.births.launch.guide", "A guided burst needs a mesh to be guided by.", "Choose a shape or mesh as its guide."
            )
    if emitter.thinning is not None and emitter.thinning.prop is not None and emitter.thinning.prop not in props:
        words = f"{emitter.name} is thinned by the distance to a prop that is not there."
        yield Finding("link", f"{where}.thinning.prop", words, "Choose another, or the effect's camera.")


MOST_GENERATIONS = 5
_ON = {"surface": "surface", "inside": "inside", "points": "points", "edges": "lines"}


def mask_findings(effect: Effect, prop: Any, where: str) -> Iterator[Finding]:
    """Yield what a prop's dissolving or a mask's own parts name that is not there, fits not, or goes round."""
    props = {other.uid: other for other in effect.props}
    if prop.dissolve is not None:
        mask = props.get(prop.dissolve.mask)
        if mask is None or mask.kind != "mask":
            yield Finding("link", f"{where}.dissolve.mask", f"{prop.name} dissolves by a mask that is not there.", "Choose another, or let it stay.")
    if not isinstance(prop, MaskProp):
        return
    if prop.shape in ("mesh", "distance", "picture"):
        of = props.get(prop.of or "")
        fits = {"mesh": GUIDES, "picture": ("picture",)}.get(prop.shape)
        if of is None or of.kind == "mask" or (fits and of.kind not in fits):
            needs = {"mesh": "a mesh or shape", "picture": "a picture"}.get(prop.shape, "a prop or camera")
            yield Finding("link", f"{where}.of", f"{prop.name} needs {needs}.", "Choose one.")
    if prop.shape in ("union", "intersection", "difference"):
        if not prop.masks:
            yield Finding("link", f"{where}.masks", f"{prop.name} joins no masks.", "Choose those it joins.")
        waiting, seen = list(prop.masks), set()
        while waiting:
            uid = waiting.pop()
            other = props.get(uid)
            if other is None or other.kind != "mask":
                yield Finding("link", f"{where}.masks", f"{prop.name} joins a mask that is not there.", "Choose another.")
            elif other is prop:
                yield Finding("circle", f"{where}.masks", f"{prop.name} joins itself, through others.", "Take one of them out.")
                break
            elif uid not in seen:
                seen.add(uid)
                waiting.extend(other.masks if other.shape in ("union", "intersection", "difference") else ())
    if prop.shape == "formula":
        formula = field_formula(effect, prop.formula or "0")
        for problem in formula.problems:
            yield Finding("formula", f"{where}.formula", f"Line {problem.span.line}, column {problem.span.column}: {problem.message}", problem.remedy)
        if formula.result is not None and formula.result.count != 1:
            yield Finding("formula", f"{where}.formula", "A mask is a number, and this gives three.", "Use a component, or length(...).")


def field_formula(effect: Effect, text: str) -> Formula:
    """Return a formula over space and time: of position (metres), clip_time and dials."""
    position = VectorSource(kind="position", part="whole")
    names = {"position": Known("position", "vector", dimension_of("m"), position, "position", "Where the mask is asked.", "m"),
             "clip_time": Known("clip_time", "number", dimension_of("s"), ClipTimeSource(kind="clip_time"), "clip time", "", "s", False)}  # fmt: skip
    for dial in effect.dials:
        name = f"dials.{identifier(dial.name)}"
        names[name] = Known(name, "number", PLAIN, DialSource(kind="dial", dial=dial.uid), dial.name, dial.note, "", False, False)
    return check(text, names)
