"""Draws by which a row can be made to differ from particle to particle, each ready to put in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..document import Effect
from ..parts.draws import DRAWS
from ..rows.model import summary
from .scope import Scope

FACTOR = (0.75, 1.25)


@dataclass(frozen=True)
class Variation:
    """A new draw, and what it does to a row.

    draw: its fields, without uid and name. base: the row is read from it, since its values lie around what the row is
    now; otherwise it acts through a response, by which its range, input, is brought to output: what is added, if
    `added`, or else what a row is multiplied by where it is multiplied.
    """

    kind: str
    label: str
    help: str
    draw: dict[str, Any]
    base: bool
    input: tuple[float, float]
    output: tuple[float, float]
    added: bool


def variations(effect: Effect, thing: Any, address: str) -> list[Variation]:
    """Return a variation for each kind of draw, for the row at an address; KeyError when no row stands there."""
    placed = Scope(thing, effect).every_row[address]
    spec, now = placed.spec, placed.row.base
    value = float(f"{now if isinstance(now, (int, float)) else spec.default:.6g}") if spec.kind == "number" else 0.0
    found = []
    for kind, part in DRAWS.kinds.items():
        gives = part.factor is None and spec.kind == "number"
        draw = {**part.template(), **(part.around(value) if gives else {})}
        low, high = part.model_validate({**draw, "uid": "new", "name": "new"}).range()
        output = (-spec.varied, spec.varied) if spec.varied else part.factor or FACTOR
        found.append(Variation(kind, part.label, summary(part), draw, gives, (low, high), output, bool(spec.varied)))
    return found
