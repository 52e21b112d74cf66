"""How effects lie in the library: folders, tags, copies, and what was deleted and may be taken back."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

from django.conf import settings
from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from kagero.core.document import read_effect
from kagero.core.errors import RequestError

from . import drafts
from .models import Effect

DEEPEST, LONGEST_TAG, MOST_TAGS = 6, 40, 20


def shown(deleted: bool = False) -> QuerySet[Effect]:
    """Return the effects of the library, newest first, or those that were deleted: without their documents, with
    `can_play`."""
    return _cards().filter(deleted__isnull=not deleted)


def card(effect_id: int) -> Effect:
    """Return one effect as `shown` does."""
    return _cards().get(pk=effect_id)


def _cards() -> QuerySet[Effect]:
    return Effect.objects.defer("document", "playable").annotate(can_play=Q(playable__isnull=True))


def folder_in(text: str) -> str:
    """Return a folder's path as it is kept: names with one slash between. Raises RequestError for one too long or too
    deep."""
    names = [" ".join(name.split()) for name in text.split("/")]
    path = "/".join(name for name in names if name)
    if len(path) > 200 or path.count("/") >= DEEPEST:
        raise RequestError(
            f"{text[:60]!r} is too long for a folder.",
            where="folder",
            remedy=f"At most {DEEPEST} names, 200 letters in all.",
        )
    return path


def tags_in(tags: Sequence[str]) -> list[str]:
    """Return tags as they are kept: each once, however it is written, in order. Raises RequestError for too many or too
    long ones."""
    kept = {" ".join(tag.split()).lower(): None for tag in tags if tag.strip()}
    if len(kept) > MOST_TAGS or any(len(tag) > LONGEST_TAG for tag in kept):
        raise RequestError(
            "These are too many tags, or too long ones.",
            where="tags",
            remedy=f"At most {MOST_TAGS}, each of {LONGEST_TAG} letters.",
        )
    return sorted(kept)


@transaction.atomic
def arrange(
    effect_id: int, name: str | None = None, folder: str | None = None, tags: Sequence[str] | None = None
) -> Effect:
    """Rename an effect, which is an edit like any other, put it into a folder, tag it. What is None stays. Raises
    Missing, RequestError."""
    effect = drafts.find(effect_id)
    if folder is not None:
        effect.folder = folder_in(folder)
    if tags is not None:
        effect.tags = tags_in(tags)
    effect.save(update_fields=["folder", "tags"])
    if name is not None and name.strip() and name.strip() != effect.name:
        renamed = read_effect(effect.document).model_copy(update={"name": name.strip()[:80]})
        effect = drafts.save(effect_id, effect.revision, renamed, "Rename the effect")
    return effect


@transaction.atomic
def copy(effect_id: int) -> Effect:
    """Return a copy of an effect, in the same folder with the same tags. Raises Missing."""
    effect = drafts.find(effect_id)
    document = read_effect(effect.document)
    document.name = drafts.free_name(document.name)
    return drafts.create(document, f"Duplicated from {effect.name}"[:120], effect.folder, effect.tags)


def delete(effect_id: int) -> None:
    """Put an effect aside: it can be taken back for KEEP_DAYS. Raises Missing."""
    effect = drafts.find(effect_id)
    effect.deleted = timezone.now()
    effect.save(update_fields=["deleted"])


@transaction.atomic
def take_back(effect_id: int) -> Effect:
    """Return an effect that was deleted to the library; one whose name was given anew meanwhile gets a number. Raises
    Missing."""
    effect = Effect.objects.filter(pk=effect_id, deleted__isnull=False).first()
    if effect is None:
        raise drafts.Missing()
    name = drafts.free_name(effect.name)
    effect.deleted = None
    effect.save(update_fields=["deleted"])
    return effect if name == effect.name else arrange(effect_id, name=name)


def goes(effect: Effect) -> datetime | None:
    """Return when a deleted effect will be gone for good; None for one that is not deleted."""
    return None if effect.deleted is None else effect.deleted + timedelta(days=settings.KEEP_DAYS)


def expire() -> int:
    """Remove for good what was deleted KEEP_DAYS ago; return how many that were."""
    return (
        Effect.objects.filter(deleted__lt=timezone.now() - timedelta(days=settings.KEEP_DAYS))
        .delete()[1]
        .get("library.Effect", 0)
    )
