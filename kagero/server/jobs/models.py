"""Export jobs."""

from __future__ import annotations

from datetime import datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.db import models

from kagero.core.formats.exporters import EXPORTERS


class Export(models.Model):
    """One export: the effect as it was when asked for, what is wanted, and how far it is."""

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    effect = models.ForeignKey("library.Effect", on_delete=models.CASCADE, related_name="exports")
    document = models.JSONField()
    kind = models.CharField(max_length=16)
    first = models.IntegerField()
    last = models.IntegerField()
    width = models.PositiveIntegerField(default=1280)
    height = models.PositiveIntegerField(default=720)
    options = models.JSONField(default=dict)
    state = models.CharField(max_length=12, choices=State.choices, default=State.WAITING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    message = models.TextField(default="", blank=True)
    file = models.CharField(max_length=200, default="", blank=True)
    created = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-id"]

    @property
    def path(self) -> Path:
        """Where its file is, or will be."""
        return settings.DATA_DIR / "exports" / (self.file or f"{self.pk}{EXPORTERS[self.kind].suffix}")

    @property
    def goes(self) -> datetime | None:
        """When its file will be removed; None where there is none."""
        return (
            self.finished + timedelta(days=settings.KEEP_EXPORTS_DAYS)
            if self.state == self.State.DONE and self.finished
            else None
        )

    @property
    def bytes(self) -> int:
        return self.path.stat().st_size if self.state == self.State.DONE and self.path.is_file() else 0
