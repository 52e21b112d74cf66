"""Effects as people keep them: the draft, and every edit that led to it."""

from __future__ import annotations

import json
import zlib
from typing import Any

from django.db import models

from kagero.core.errors import Finding


class Effect(models.Model):
    """One effect. `revision` grows with every change of the draft, undo included; `cursor` is the edit the draft stands
    at, `tip` the last one that redo leads to from there.

    playable: null where the draft can be played; else the last document that could, which goes on showing, or {} where
    none ever could. facts: what a card says of the document. folder: a path of names with slashes between, "" at the
    top. deleted: since when; it can be taken back for KEEP_DAYS.
    """

    name = models.CharField(max_length=80)
    document = models.JSONField()
    playable = models.JSONField(null=True, default=None)
    revision = models.PositiveIntegerField(default=1)
    cursor = models.PositiveIntegerField(default=0)
    tip = models.PositiveIntegerField(default=0)
    saved = models.DateTimeField()
    created = models.DateTimeField(auto_now_add=True)
    facts = models.JSONField(default=dict)
    folder = models.CharField(max_length=200, blank=True, default="")
    tags = models.JSONField(default=list)
    deleted = models.DateTimeField(null=True, default=None)
    can_play: bool  # of cards: whether the draft can be played
    found: list[Finding] | None = None  # what is wrong with the draft, once it was looked for; not stored

    class Meta:
        ordering = ["-saved", "-id"]


class Edit(models.Model):
    """A state of the draft and what led to it. Number 0 is the state the effect was made with; each later one has the
    next number. parent: the number of the state it was made from: after going back, several may be made from one."""

    effect = models.ForeignKey(Effect, on_delete=models.CASCADE, related_name="edits")
    number = models.PositiveIntegerField()
    parent = models.PositiveIntegerField(null=True, default=None)
    label = models.CharField(max_length=120)
    packed = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["effect", "number"], name="one_edit_a_number")]

    @staticmethod
    def pack(document: dict[str, Any]) -> bytes:
        return zlib.compress(json.dumps(document, separators=(",", ":")).encode(), 6)

    def document(self) -> dict[str, Any]:
        return json.loads(zlib.decompress(bytes(self.packed)))


class File(models.Model):
    """A file that was brought in, known by its content. unused: since when no effect refers to it (nor any of its
    edits)."""

    content = models.CharField(max_length=32, primary_key=True)
    name = models.CharField(max_length=200)
    bytes = models.PositiveBigIntegerField(default=0)
    brought = models.DateTimeField()
    unused = models.DateTimeField(null=True)

    class Meta:
        ordering = ["name", "content"]


class Use(models.Model):
    """That an effect refers to a file, in edits up to the one with number `last`."""

    effect = models.ForeignKey(Effect, on_delete=models.CASCADE, related_name="uses")
    content = models.CharField(max_length=32, db_index=True)
    last = models.PositiveIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["effect", "content"], name="one_use_a_file")]


class Preset(models.Model):
    """A curve or gradient somebody keeps to use again. data: its keys or stops, as in the document."""

    name = models.CharField(max_length=40)
    kind = models.CharField(max_length=12)
    data = models.JSONField()

    class Meta:
        ordering = ["kind", "name", "id"]
        constraints = [models.UniqueConstraint(fields=["kind", "name"], name="one_preset_a_name")]


class Overlay(models.Model):
    """Values that somebody else gave an effect's dials. values: by the dial's uid."""

    effect = models.ForeignKey(Effect, on_delete=models.CASCADE, related_name="overlays")
    name = models.CharField(max_length=60)
    values = models.JSONField()
    saved = models.DateTimeField()

    class Meta:
        ordering = ["-saved", "-id"]
        constraints = [models.UniqueConstraint(fields=["effect", "name"], name="one_overlay_a_name")]
