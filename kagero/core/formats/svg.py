"""SVG drawings in: what they fill, as closed rings. Only shapes are read; what could fetch, run or grow is refused
before it is parsed."""

from __future__ import annotations

import io
import re
import xml.etree.ElementTree as ElementTree
from typing import Any

import numpy as np

from ..errors import GeometryProblem
from ..geometry.drawing import Drawing, Rule

MOST_BYTES, MOST_ELEMENTS, MOST_POINTS = 8 * 1024 * 1024, 20_000, 1_000_000
MOST_EXPANDED = 400_000  # parts, and eighths of the letters of their paths, with all that is used drawn out
_REFUSED = {
    "script": "a script",
    "foreignObject": "foreign content",
    "image": "a picture",
    "iframe": "foreign content",
    "audio": "sound",
    "video": "film",
    "animate": "animation",
    "set": "animation",
    "animateTransform": "animation",
    "animateMotion": "animation",
}


def is_svg(data: bytes) -> bool:
    return b"<svg" in data[:4096].lower()


def read_svg(name: str, data: bytes) -> Drawing:
    """Return what a drawing holds. Raises GeometryProblem."""
    if len(data) > MOST_BYTES:
        raise GeometryProblem(
            f"{name[:80]} has {len(data):,} bytes; {MOST_BYTES:,} are allowed.", remedy="Simplify the drawing."
        )
    head = data.lower()
    if b"<!doctype" in head or b"<!entity" in head:
        raise GeometryProblem(f"{name[:80]} defines entities, which may hide anything.", remedy="Save it as plain SVG.")
    try:
        root = ElementTree.fromstring(data)  # expat, without a document type: nothing is fetched or expanded
    except (ElementTree.ParseError, ValueError, RecursionError) as problem:
        raise GeometryProblem(
            f"{name[:80]} is not well-formed: {str(problem)[:80]}.", remedy="Save it again."
        ) from problem
    for number, element in enumerate(root.iter()):
        if number > MOST_ELEMENTS:
            raise GeometryProblem(f"{name[:80]} has more than {MOST_ELEMENTS:,} parts.", remedy="Simplify the drawing.")
        tag = str(element.tag).rpartition("}")[2]
        if tag in _REFUSED:
            raise GeometryProblem(f"{name[:80]} holds {_REFUSED[tag]}.", remedy="Remove it: only shapes are read.")
        for key, value in element.attrib.items():
            outside = key.rpartition("}")[2] == "href" and not value.strip().startswith("#")
            if outside or re.search(r"url\(\s*['\"]?\s*(?!#)", value):
                raise GeometryProblem(
                    f"{name[:80]} links to something outside itself.", remedy="Embed it, or remove the link."
                )
        if tag == "style" and element.text and re.search(r"@import|url\(\s*['\"]?\s*(?!#)", element.text):
            raise GeometryProblem(
                f"{name[:80]} links to something outside itself.", remedy="Embed it, or remove the link."
            )
    _counted(name, root)
    return _shapes(name, data)


def _counted(name: str, root: ElementTree.Element) -> None:
    """Raise GeometryProblem where parts that are used again and again, within each other, would become too many."""
    by_id = {element.get("id"): element for element in root.iter() if element.get("id")}
    known: dict[int, int] = {}
    ancestors: set[int] = set()

    def count(element: ElementTree.Element) -> int:
        if id(element) in known:
            return known[id(element)]
        if id(element) in ancestors:
            raise GeometryProblem(f"{name[:80]} uses parts within themselves.", remedy="Draw them out.")
        ancestors.add(id(element))
        total = 1 + len(element.get("d", "")) // 8 + len(element.get("points", "")) // 8
        for child in element:
            total += count(child)
        if str(element.tag).rpartition("}")[2] == "use":
            target = next(
                (value for key, value in element.attrib.items() if key.rpartition("}")[2] == "href"), ""
            ).strip()
            if (used := by_id.get(target[1:])) is not None:
                total += count(used)
        ancestors.discard(id(element))
        known[id(element)] = total
        if total > MOST_EXPANDED:
            words = f"{name[:80]} becomes more than {MOST_EXPANDED:,} parts when what it uses is drawn out."
            raise GeometryProblem(words, remedy="Simplify the drawing.")
        return total

    try:
        count(root)
    except RecursionError:
        raise GeometryProblem(
            f"{name[:80]} has groups within groups too deep.", remedy="Simplify the drawing."
        ) from None


def _shapes(name: str, data: bytes) -> Drawing:
    import svgelements  # slow to load, and only needed here

    try:
        svg = svgelements.SVG.parse(io.BytesIO(data), reify=True)
        found = [element for element in svg.elements() if isinstance(element, svgelements.Shape)]
        rings: list[tuple[np.ndarray, ...]] = []
        rules: list[Rule] = []
        lines: list[np.ndarray] = []
        total = 0
        for shape in found:
            parts = [
                part
                for sub in svgelements.Path(shape).as_subpaths()
                if (part := _sampled(svgelements, sub)) is not None
            ]
            total += sum(map(len, parts))
            if total > MOST_POINTS:
                raise GeometryProblem(
                    f"{name[:80]} has more than {MOST_POINTS:,} points.", remedy="Simplify the drawing."
                )
            lines += parts
            if parts and shape.fill is not None and shape.fill.value is not None:
                rings.append(tuple(parts))
                rules.append("evenodd" if str(shape.values.get("fill-rule", "")) == "evenodd" else "nonzero")
    except GeometryProblem:
        raise
    except Exception as problem:  # a reader of a large language raises whatever it meets
        raise GeometryProblem(
            f"{name[:80]} cannot be read: {str(problem)[:80]}.", remedy="Save it as plain SVG."
        ) from problem
    if not lines:
        raise GeometryProblem(f"{name[:80]} has no shapes.", remedy="Turn strokes and words into paths.")
    return Drawing(tuple(rings), tuple(rules), tuple(lines))


def _sampled(svgelements: Any, sub: Any) -> np.ndarray | None:
    points: list[tuple[float, float]] = []
    for segment in sub:
        if isinstance(segment, svgelements.Move):
            points.append((segment.end.x, segment.end.y))
        elif isinstance(segment, (svgelements.Line, svgelements.Close)):
            if segment.end is not None:
                points.append((segment.end.x, segment.end.y))
        else:
            for t in np.linspace(0, 1, 13)[1:]:
                at = segment.point(float(t))
                points.append((at.x, at.y))
    sampled = np.asarray(points, np.float64)
    if len(sampled) < 2 or not np.isfinite(sampled).all():
        return None
    keep = np.ones(len(sampled), bool)
    keep[1:] = np.abs(np.diff(sampled, axis=0)).max(axis=1) > 1e-9
    sampled = sampled[keep] * np.array([1.0, -1.0])  # in SVG y goes down
    return sampled if len(sampled) > 1 else None
