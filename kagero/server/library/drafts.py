"""Rules of the draft: saved with the revision it was made from, undone and redone one edit a step, never overwritten unseen."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

from kagero.core.catalog import require_valid
from kagero.core.effect import Effect as Document
from kagero.core.errors import KageroError

from .models import Edit, Effect

KEPT_EDITS = 500


class Conflict(KageroError):
    """Somebody else changed the draft since it was read; nothing was written."""

    code = "conflict"

    def __init__(self, current: int):
        self.revision = current
        super().__init__(
            "This effect was changed in another window since you opened it.",
            where="revision",
            remedy="Open the newer state, or keep yours as a copy.",
        )


class Missing(KageroError):
    code = "missing"

    def __init__(self, what: str = "This effect"):
        super().__init__(f"{what} is not there any more.", remedy="Go back to the library.")


@dataclass(frozen=True)
class History:
    undo: str | None
    redo: str | None


def find(effect_id: int) -> Effect:
    effect = Effect.objects.filter(pk=effect_id).first()
    if effect is None:
        raise Missing()
    return effect


@transaction.atomic
def create(document: Document, label: str = "Made") -> Effect:
    """Return a new effect with this document. Raises EffectError when it could not be played."""
    require_valid(document)
    data = document.model_dump(mode="json")
    effect = Effect.objects.create(name=document.name, document=data, saved=timezone.now())
    Edit.objects.create(effect=effect, number=0, label=label, packed=Edit.pack(data))
    return effect


@transaction.atomic
def save(effect_id: int, revision: int, document: Document, label: str) -> Effect:
    """Make the document the draft, as one edit. Raises Conflict, Missing, EffectError; then nothing is written."""
    effect = _at(effect_id, revision)
    require_valid(document)
    data = document.model_dump(mode="json")
    if data == effect.document:
        return effect
    effect.edits.filter(number__gt=effect.cursor).delete()
    number = effect.cursor + 1
    Edit.objects.create(effect=effect, number=number, label=label[:120], packed=Edit.pack(data))
    effect.edits.filter(number__lt=number - KEPT_EDITS).delete()
    return _stand_at(effect, number, data)


@transaction.atomic
def undo(effect_id: int, revision: int) -> Effect:
    """Go one edit back; at the first, stay. Raises Conflict, Missing."""
    return _walk(_at(effect_id, revision), -1)


@transaction.atomic
def redo(effect_id: int, revision: int) -> Effect:
    """Go one undone edit forward; at the last, stay. Raises Conflict, Missing."""
    return _walk(_at(effect_id, revision), 1)


def history(effect: Effect) -> History:
    """Return what undo and redo would take back or bring again."""
    labels = dict(effect.edits.filter(number__in=[effect.cursor - 1, effect.cursor, effect.cursor + 1]).values_list("number", "label"))
    return History(labels.get(effect.cursor) if effect.cursor - 1 in labels else None, labels.get(effect.cursor + 1))


def free_name(wanted: str) -> str:
    """Return the name, with a number behind it when an effect already has it."""
    taken = set(Effect.objects.values_list("name", flat=True))
    if wanted not in taken:
        return wanted
    return next(name for n in range(2, len(taken) + 3) if (name := f"{wanted[:74]} {n}") not in taken)


def _at(effect_id: int, revision: int) -> Effect:
    effect = find(effect_id)
    if effect.revision != revision:
        raise Conflict(effect.revision)
    return effect


def _walk(effect: Effect, step: int) -> Effect:
    edit = effect.edits.filter(number=effect.cursor + step).first()
    return effect if edit is None else _stand_at(effect, edit.number, edit.document())


def _stand_at(effect: Effect, number: int, data: dict[str, Any]) -> Effect:
    effect.document, effect.cursor, effect.name = data, number, data["name"]
    effect.revision += 1
    effect.saved = timezone.now()
    effect.save()
    return effect
