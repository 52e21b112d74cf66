"""Every source: what can drive a row, and why some rows cannot take some sources."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..effect import Emitter
from .rows import METRES, METRES_PER_SECOND, PERCENT, PLAIN, SECONDS, RowSpec, Unit


@dataclass(frozen=True)
class SourceSpec:
    kind: str
    label: str
    group: str
    unit: Unit
    default_input: tuple[float, float]
    per_particle: bool
    changes: bool  # within a particle's life
    help: str


SOURCES: dict[str, SourceSpec] = {
    spec.kind: spec
    for spec in [
        SourceSpec("life", "life", "time", PERCENT, (0, 1), True, True, "Age as a share of the lifespan: 0 % at birth, 100 % at the end."),
        SourceSpec("age", "age", "time", SECONDS, (0, 2), True, True, "Seconds since birth."),
        SourceSpec("clip_time", "clip time", "time", SECONDS, (0, 4), False, True, "Seconds since the first frame, the same for all: keyframes."),
        SourceSpec("height", "height", "place", METRES, (0, 2), True, True, "Metres above the ground plane."),
        SourceSpec("speed", "speed", "place", METRES_PER_SECOND, (0, 2), True, True, "How fast the particle moves."),
        SourceSpec("size", "size", "look", METRES, (0, 0.2), True, True, "The particle's own size at this moment."),
        SourceSpec("draw", "draw", "draws", PLAIN, (0, 1), True, False, "A random value from 0 to 1, given once at birth."),
    ]
}  # fmt: skip


def needs_particle(source: Any) -> bool:
    return SOURCES[source.kind].per_particle


def refusal(spec: RowSpec, kind: str) -> str:
    """Return why a row cannot take a source of this kind, or an empty string when it can."""
    source = SOURCES[kind]
    if spec.stage == "emitter" and source.per_particle:
        return f"{spec.label} belongs to the whole emitter; {source.label} exists only on a particle."
    if spec.stage == "birth":
        if kind in ("life", "age"):
            return f"{spec.label} is settled at birth, when {source.label} is always 0."
        if kind == "speed" and spec.key.startswith("births.launch"):
            return f"Speed comes out of {spec.label.lower()}; it cannot drive it."
        if kind == "height" and spec.key.startswith("births.place"):
            return f"Height comes out of {spec.label.lower()}; it cannot drive it."
    return ""


def source_label(emitter: Emitter, source: Any) -> str:
    """Return the source's name as shown: a draw by its own name."""
    if source.kind == "draw":
        return next((draw.name for draw in emitter.draws if draw.uid == source.draw), "missing draw")
    return SOURCES[source.kind].label
