"""What a drawing of filled outlines holds."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

Rule = Literal["nonzero", "evenodd"]


@dataclass(frozen=True)
class Drawing:
    """rings: of each filled shape its closed rings, (n, 2), y up. rules: its fill rule. lines: every shape's outline in
    order, open or closed."""

    rings: tuple[tuple[np.ndarray, ...], ...]
    rules: tuple[Rule, ...]
    lines: tuple[np.ndarray, ...]
