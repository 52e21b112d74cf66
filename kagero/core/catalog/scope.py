"""What an emitter's rows can see: the emitter itself, the effect's dials, and the names formulas know all of it by."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from ..effect import ColourSource, Dial, Effect, Emitter, MaskSource, OwnSource, PropBase, RowSource, VectorSource
from ..effect.sources import ATTRIBUTES, AttributeSource, ClipTimeSource, DialSource, DrawSource, PropSource
from ..formula import PLAIN, Dimension, Formula, Known, check, dimension_of, dimension_text, identifier
from .rows import DIAL_UNITS, OWN_UNITS, Unit, rows_of
from .sources import SOURCES, row_label, source_facts

_CLIP = {
    "frame": ("f", "The frame's number, with a fraction between frames.", False, True),
    "frame_rate": ("/s", "Frames a second.", False, False),
    "dt": ("s", "Seconds since the step before.", False, False),
}


class Scope:
    """An emitter or a prop within its effect; without one there are no dials and props. Formulas are read once and kept."""

    def __init__(self, emitter: Emitter | PropBase, effect: Effect | None = None):
        self.emitter: Any = emitter
        self.owner = ("prop" if isinstance(emitter, PropBase) else "emitter", emitter.uid)
        self.effect = effect
        self.dials: list[Dial] = effect.dials if effect is not None else []
        # a prop is placed from those before it; an emitter sees all
        self.props: list[Any] = [] if effect is None else [p for p in effect.props if not isinstance(emitter, PropBase)]
        self.masks = [prop for prop in self.props if prop.kind == "mask"]
        self.placed = [prop for prop in self.props if prop.kind != "mask"]
        self.solid = [prop for prop in self.placed if prop.kind != "camera"]
        self.pictured = [prop for prop in self.placed if prop.kind in ("picture", "mesh")]
        self.has_parent = isinstance(emitter, Emitter) and emitter.births.place.kind == "particles"
        self._formulas: dict[str, Formula] = {}

    def formula(self, text: str) -> Formula:
        """Return a formula read with this emitter's names; what is wrong stands in its `problems`."""
        if text not in self._formulas:
            self._formulas[text] = check(text, self.names)
        return self._formulas[text]

    def unit(self, dimension: Dimension) -> Unit:
        """Return how a formula's result is shown: in SI units, as the formula computes it."""
        return Unit(dimension_text(dimension), 1, 3)

    @cached_property
    def names(self) -> dict[str, Known]:
        """Return every name a formula of this emitter can use. Two things of one name are refused where it is used."""
        found: dict[str, Known] = {}

        def add(known: Known) -> None:
            there = found.get(known.name)
            if there is None:
                found[known.name] = known
            else:
                refused = f"Two things are called {known.name} here: {there.label} and {known.label}. Rename one."
                found[known.name] = Known(known.name, known.kind, known.unit, None, known.label, known.help, known.symbol, refused=refused)

        for kind in ATTRIBUTES:
            spec = SOURCES[kind]
            number = AttributeSource(kind=kind)
            add(Known(kind, "number", dimension_of(spec.unit.symbol), number, spec.label, spec.help, _si(spec.unit), True, spec.changes))
        for vector in ("position", "velocity", "birth_position", "birth_normal"):
            spec = SOURCES[vector]
            source = VectorSource(kind=vector, part="whole")
            add(Known(vector, "vector", dimension_of(spec.unit.symbol), source, spec.label, spec.help, _si(spec.unit), True, spec.changes))
        add(Known("colour", "colour", PLAIN, ColourSource(kind="colour", part="whole"), "colour", "The particle's own colour, linear light."))
        clip = SOURCES["clip_time"]
        add(Known("clip_time", "number", dimension_of("s"), ClipTimeSource(kind="clip_time"), clip.label, clip.help, "s", False, True))
        for name, (symbol, help, particle, changes) in _CLIP.items():
            add(Known(name, "number", dimension_of(symbol), name, name, help, symbol, particle, changes))
        for dial in self.dials:
            unit = DIAL_UNITS[dial.unit]
            help = dial.note or SOURCES["dial"].help
            add(Known(f"dials.{identifier(dial.name)}", "number", dimension_of(dial.unit), DialSource(kind="dial", dial=dial.uid), dial.name, help,
                      _si(unit), False, False))  # fmt: skip
        for mask in self.masks:
            for group, part in (("masks", "value"), ("latched", "latched"), ("since", "since")):
                source_of = MaskSource(kind="mask", mask=mask.uid, part=part)
                facts = source_facts(self, source_of)
                add(Known(f"{group}.{identifier(mask.name)}", "number", dimension_of(facts.unit.symbol), source_of, facts.label, SOURCES["mask"].help,
                          _si(facts.unit), True, True))  # fmt: skip
        for prop in self.placed:
            add(Known(f"props.{identifier(prop.name)}", "vector", dimension_of("m"), PropSource(kind="prop", prop=prop.uid, part="whole"), prop.name,
                      SOURCES["prop"].help, "m", False, True))  # fmt: skip
        for draw in self.emitter.draws:
            add(Known(f"draws.{identifier(draw.name)}", "number", PLAIN, DrawSource(kind="draw", draw=draw.uid), draw.name, SOURCES["draw"].help,
                      "", True, False))  # fmt: skip
        for own in self.emitter.own:
            unit = OWN_UNITS[getattr(own, "unit", "")]
            add(Known(f"own.{identifier(own.name)}", own.kind, dimension_of(unit.symbol), OwnSource(kind="own", own=own.uid), own.name,
                      SOURCES["own"].help, _si(unit), True, own.memory))  # fmt: skip
        for placed in rows_of(self.emitter):
            if placed.muted or placed.address.startswith(("draws.", "own.")):
                continue
            spec_of, plain = placed.spec, identifier(row_label(self.emitter, placed))
            name = f"rows.{plain}"
            if name in found:  # a second force of the same kind
                name = f"rows.{plain}_{identifier(placed.address.split('.')[1])}"
            add(Known(name, spec_of.kind, dimension_of(spec_of.unit.symbol), RowSource(kind="row", row=placed.address), spec_of.label, spec_of.help,
                      _si(spec_of.unit), spec_of.stage != "emitter", spec_of.stage != "birth"))  # fmt: skip
        return found


def _si(unit: Unit) -> str:
    """Return the unit in which a formula sees a value: as it is stored, not as it is shown."""
    return {"%": "", "°": "rad", "°/s": "rad/s", "×": ""}.get(unit.symbol, unit.symbol)
