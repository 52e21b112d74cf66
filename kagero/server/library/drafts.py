"""Rules of the draft: saved with the revision it was made from, undone and redone one edit a step, never overwritten
unseen.

Edits are a tree: whoever goes back and edits begins a new line from there, and the steps that came after stay as a
branch that can be gone to.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Count, Max
from django.utils import timezone

from kagero.core.catalog import check_effect
from kagero.core.document import Effect as Document
from kagero.core.document import read_effect
from kagero.core.errors import EffectError, Finding, KageroError

from .models import Edit, Effect, File, Use

KEPT_EDITS = 500  # on the line that the draft stands on, before the last one; and as many that were edited away


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
    effect = Effect.objects.filter(pk=effect_id, deleted=None).first()
    if effect is None:
        raise Missing()
    return effect


def facts(document: Document) -> dict[str, Any]:
    """Return what a card says of a document."""
    clip = document.clip
    return {
        "first_frame": clip.first_frame,
        "last_frame": clip.last_frame,
        "frame_rate": clip.frame_rate,
        "emitters": len(document.emitters),
    }


@transaction.atomic
def create(document: Document, label: str = "Made", folder: str = "", tags: Sequence[str] = ()) -> Effect:
    """Return a new effect with this document, whether it can be played or not."""
    data = document.model_dump(mode="json")
    effect = Effect.objects.create(
        name=document.name,
        document=data,
        playable={} if check_effect(document) else None,
        saved=timezone.now(),
        facts=facts(document),
        folder=folder,
        tags=list(tags),
    )
    Edit.objects.create(effect=effect, number=0, label=label, packed=Edit.pack(data))
    _refer(effect, document, 0)
    return effect


@transaction.atomic
def save(effect_id: int, revision: int, document: Document, label: str) -> Effect:
    """Make the document the draft, as one edit, whether it can be played or not. Raises Conflict, Missing; then nothing
    is written."""
    effect = _at(effect_id, revision)
    data = document.model_dump(mode="json")
    if data == effect.document:
        return effect
    known = effect.edits.aggregate(last=Max("number"), count=Count("id"))
    number = known["last"] + 1
    Edit.objects.create(effect=effect, number=number, parent=effect.cursor, label=label[:120], packed=Edit.pack(data))
    effect.tip = number
    if known["count"] > KEPT_EDITS:
        _forget_oldest(effect)
    _stand_at(effect, number, data, document)
    _refer(effect, document, number)
    if effect.playable:  # it goes on showing, however long ago its edit was
        _refer(effect, read_effect(effect.playable), number)
    return effect


@transaction.atomic
def undo(effect_id: int, revision: int) -> Effect:
    """Go one edit back; at the first, stay. Raises Conflict, Missing."""
    effect = _at(effect_id, revision)
    return _walk(effect, effect.edits.values_list("parent", flat=True).get(number=effect.cursor))


@transaction.atomic
def redo(effect_id: int, revision: int) -> Effect:
    """Go one undone edit forward; at the last, stay. Raises Conflict, Missing."""
    effect = _at(effect_id, revision)
    return _walk(effect, _next(effect))


@transaction.atomic
def walk(effect_id: int, revision: int, number: int) -> Effect:
    """Go to the state that an edit led to: back, forward, or into a branch that was edited away, whose last steps redo
    leads to from then on. Raises Conflict, Missing, also for an edit that is not kept any more."""
    effect = _at(effect_id, revision)
    parents = _parents(effect)
    if number not in parents:
        raise Missing("This step")
    if number not in _line(effect.tip, parents):
        effect.tip = number
        while later := [child for child, parent in parents.items() if parent == effect.tip]:
            effect.tip = max(later)
    return _walk(effect, number) if number != effect.cursor else effect


def steps(effect: Effect) -> list[dict[str, Any]]:
    """Return every kept state by what led to it, the oldest first: number, label, and whether the draft stands there
    now; behind them those that were edited away, with the number of the state after which they were (-1: of one that is
    not kept any more)."""
    parents, labels = _parents(effect), dict(effect.edits.values_list("number", "label"))
    line = _line(effect.tip, parents)
    stays = set(line)
    result = [
        {"number": number, "label": labels[number], "now": number == effect.cursor, "after": None} for number in line
    ]
    for number in sorted(set(parents) - stays):
        fork: int | None = number
        while fork is not None and fork not in stays:
            fork = parents.get(fork)
        result.append({"number": number, "label": labels[number], "now": False, "after": -1 if fork is None else fork})
    return result


def history(effect: Effect) -> History:
    """Return what undo and redo would take back or bring again."""
    later = _next(effect)
    label, before = effect.edits.values_list("label", "parent").get(number=effect.cursor)
    undone = effect.edits.filter(number=later).values_list("label", flat=True).first() if later is not None else None
    return History(label if before is not None and effect.edits.filter(number=before).exists() else None, undone)


def free_name(wanted: str) -> str:
    """Return the name, with a number behind it when an effect already has it."""
    taken = set(Effect.objects.filter(deleted=None).values_list("name", flat=True))
    if wanted not in taken:
        return wanted
    return next(name for n in range(2, len(taken) + 3) if (name := f"{wanted[:74]} {n}") not in taken)


def _at(effect_id: int, revision: int) -> Effect:
    effect = find(effect_id)
    if effect.revision != revision:
        raise Conflict(effect.revision)
    return effect


def _parents(effect: Effect) -> dict[int, int | None]:
    """Return of every kept edit the one it was made from, by their numbers."""
    return dict(effect.edits.values_list("number", "parent"))


def _line(tip: int, parents: dict[int, int | None]) -> list[int]:
    """Return the kept edits that lead to one, the oldest first, itself the last."""
    line: list[int] = []
    at: int | None = tip
    while at is not None and at in parents:
        line.append(at)
        at = parents[at]
    return line[::-1]


def _next(effect: Effect) -> int | None:
    """Return the edit that redo leads to; None at the last."""
    if effect.tip == effect.cursor:
        return None
    line = _line(effect.tip, _parents(effect))
    return line[line.index(effect.cursor) + 1]


def _forget_oldest(effect: Effect) -> None:
    parents = _parents(effect)
    line = _line(effect.tip, parents)
    away = sorted(set(parents) - set(line))
    effect.edits.filter(number__in=[*line[: -KEPT_EDITS - 1], *away[: max(len(away) - KEPT_EDITS, 0)]]).delete()


def _walk(effect: Effect, number: int | None) -> Effect:
    edit = effect.edits.filter(number=number).first() if number is not None else None
    if edit is None:
        return effect
    data = edit.document()
    return _stand_at(effect, edit.number, data, read_effect(data))


def _refer(effect: Effect, document: Document, number: int) -> None:
    """Note which files an edit refers to, so that they are kept as long as it."""
    contents = {file.content for prop in document.props for _, file in prop.referred()}
    if contents:
        Use.objects.bulk_create(
            [Use(effect=effect, content=content, last=number) for content in contents],
            update_conflicts=True,
            unique_fields=["effect", "content"],
            update_fields=["last"],
        )
        File.objects.filter(content__in=contents).exclude(unused=None).update(unused=None)


def findings(effect: Effect, document: Document) -> list[Finding]:
    """Return why the draft cannot be played; empty where it can. Looked for once."""
    if effect.found is None:
        effect.found = check_effect(document) if effect.playable is not None else []
    return effect.found


def last_playable(effect: Effect) -> Document:
    """Return the draft, or, where it cannot be played, the last state that could. Raises EffectError where none ever
    could."""
    if effect.playable is None:
        return read_effect(effect.document)
    if not effect.playable:
        raise EffectError("", findings=check_effect(read_effect(effect.document)))
    return read_effect(effect.playable)


def _stand_at(effect: Effect, number: int, data: dict[str, Any], document: Document) -> Effect:
    found = effect.found = check_effect(document)
    if not found:
        effect.playable = None
    elif effect.playable is None:
        effect.playable = effect.document
    effect.document, effect.cursor, effect.name, effect.facts = data, number, data["name"], facts(document)
    effect.revision += 1
    effect.saved = timezone.now()
    effect.save()
    return effect
