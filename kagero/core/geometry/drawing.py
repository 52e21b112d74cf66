"""What a drawing of filled outlines holds."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Drawing:
    """rings: of each filled shape its closed rings, (n, 2), y up. rules: its fill rule. lines: every shape's outline in order, open or closed."""

    rings: tuple[tuple[np.ndarray, ...], ...]
    rules: tuple[str, ...]
    lines: tuple[np.ndarray, ...]
