"""Overlays: values that somebody else gave an effect's dials, kept by name beside the artist's until these take them or
throw them away."""

from __future__ import annotations

import math

from django.db import transaction
from django.utils import timezone

from kagero.core.document import read_effect
from kagero.core.errors import RequestError

from .drafts import Missing, find
from .models import Overlay


def overlays(effect_id: int) -> list[Overlay]:
    """Return an effect's overlays, the newest first. Raises Missing."""
    return list(find(effect_id).overlays.all())


@transaction.atomic
def keep(effect_id: int, name: str, values: dict[str, float]) -> Overlay:
    """Keep dials' values under a name, replacing those kept under it before. Raises Missing, or RequestError for what
    is no value of a dial."""
    effect = find(effect_id)
    name = name.strip()
    if not name:
        raise RequestError("An overlay needs a name.", where="name", remedy="Give it one, such as whose it is.")
    dials = {dial.uid: dial for dial in read_effect(effect.document).dials}
    for uid, value in values.items():
        dial = dials.get(uid)
        if dial is None:
            raise RequestError(
                f"There is no dial {uid[:60]!r}.",
                where="values",
                remedy="Open the effect again: its dials were changed.",
            )
        if not math.isfinite(value) or not dial.low <= value <= dial.high:
            raise RequestError(
                f"{dial.name} cannot be {value:g}.",
                where="values",
                remedy=f"Give a value from {dial.low:g} to {dial.high:g}.",
            )
    result, _ = Overlay.objects.update_or_create(
        effect=effect, name=name, defaults={"values": values, "saved": timezone.now()}
    )
    return result


@transaction.atomic
def take_out(effect_id: int, overlay_id: int, uids: list[str]) -> None:
    """Take values out of an overlay; without any left it is gone. Raises Missing."""
    found = Overlay.objects.filter(effect_id=effect_id, pk=overlay_id).first()
    if found is None:
        raise Missing("This overlay")
    left = {uid: value for uid, value in found.values.items() if uid not in uids}
    if left and uids:
        found.values = left
        found.save()
    else:
        found.delete()
