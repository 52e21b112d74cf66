"""Export jobs."""

from __future__ import annotations

from django.db import models


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
    state = models.CharField(max_length=12, choices=State.choices, default=State.WAITING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    message = models.TextField(default="", blank=True)
    file = models.CharField(max_length=200, default="", blank=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
