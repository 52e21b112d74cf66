"""A draw of one of a few values."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...kernels.curves import HOLD, curve_table
from ...program import Group, Slot
from ...rows.model import VALUE, Model, Number
from ...rows.reader import Reader
from ...rows.slots import DocumentView
from ...rows.view import Owner, find_thing
from .base import DrawPart


class Option(Model):
    value: Number
    weight: float = Field(default=1, ge=0, le=1e6)


class ChoiceDraw(DrawPart):
    """One of a few values, each as often as its weight says."""

    label, short = "one of a few", "One of a few values."
    help = "One of the values listed, each as often as its weight says."

    kind: Literal["choice"]
    options: Annotated[list[Option], VALUE] = Field(min_length=1, max_length=32)

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "options": [{"value": 0, "weight": 1}, {"value": 1, "weight": 1}]}

    @classmethod
    def around(cls, value: float) -> dict[str, Any]:
        return {"options": [{"value": value, "weight": 1}, {"value": value * 2, "weight": 1}]}

    def range(self) -> tuple[float, float]:
        values = [option.value for option in self.options]
        return min(values), max(values)

    def value(self, at: Reader, uniform: int, bound: Callable[[str], int]) -> int:
        return at.builder.op("curve", uniform, attrs=(ChoiceTable(at.owner, self.uid),))


@dataclass(frozen=True)
class ChoiceTable(Slot[DocumentView]):
    """The table that gives a choice's values by a number in [0, 1), each as often as its weight says."""

    owner: Owner
    draw: str
    group: ClassVar[Group] = "curves"

    def read(self, document: DocumentView) -> np.ndarray:
        options: list[Option] = find_thing(document.thing(self.owner).draws, self.draw).options
        total = sum(option.weight for option in options) or 1.0
        starts, values, reached = [], [], 0.0
        for option in options:
            if option.weight > 0:
                starts.append(reached / total)
                values.append(option.value)
                reached += option.weight
        starts, values = (starts, values) if values else ([0.0], [options[0].value])
        return curve_table(starts, values, [HOLD] * len(values))
