"""Invitations. Accounts and sessions are Django's own."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Invitation(models.Model):
    """A link that makes one account. digest: of its secret, which is told once and kept nowhere."""

    digest = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField(auto_now_add=True)
    expires = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="invitations")
