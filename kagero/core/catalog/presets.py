"""Curve presets: Kagero's own names, each a list of (x, y, shape)."""

from __future__ import annotations

CURVE_PRESETS: dict[str, list[tuple[float, float, str]]] = {
    "climb": [(0, 0, "linear"), (1, 1, "linear")],
    "sink": [(0, 1, "linear"), (1, 0, "linear")],
    "breath": [(0, 0, "smooth"), (0.5, 1, "smooth"), (1, 0, "smooth")],
    "kindle": [(0, 0, "smooth"), (0.15, 1, "smooth"), (0.4, 0.85, "smooth"), (1, 0, "smooth")],
    "late tide": [(0, 0, "smooth"), (0.6, 0.05, "smooth"), (1, 1, "smooth")],
    "last light": [(0, 1, "smooth"), (0.65, 1, "smooth"), (1, 0, "smooth")],
    "stairs": [(0, 0, "hold"), (0.25, 0.33, "hold"), (0.5, 0.67, "hold"), (0.75, 1, "hold")],
    "two lamps": [(0, 0, "smooth"), (0.2, 1, "smooth"), (0.5, 0.15, "smooth"), (0.8, 1, "smooth"), (1, 0, "smooth")],
}
