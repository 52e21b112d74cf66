"""Presets of the user's own: curves and gradients, kept by name; keeping one under a taken name replaces it."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from kagero.core.errors import SchemaProblem
from kagero.core.rows.curves import Curve, Gradient

from .drafts import Missing
from .models import Preset


def mine() -> list[Preset]:
    return list(Preset.objects.all())


def keep(name: str, kind: str, data: dict[str, Any]) -> Preset:
    """Keep a curve ({"keys": ...}) or gradient ({"stops": ...}). Raises SchemaProblem when it is none."""
    try:
        checked = (Curve if kind == "curve" else Gradient).model_validate(data)
    except ValidationError as problem:
        error = problem.errors()[0]
        raise SchemaProblem(
            f"This {kind} cannot be kept: {error['msg']}.", where="data", remedy="Correct it first."
        ) from problem
    preset, _ = Preset.objects.update_or_create(
        kind=kind, name=name.strip(), defaults={"data": checked.model_dump(mode="json")}
    )
    return preset


def forget(preset_id: int) -> None:
    """Delete a preset. Raises Missing."""
    if not Preset.objects.filter(pk=preset_id).delete()[0]:
        raise Missing("This preset")
