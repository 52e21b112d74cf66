"""Print a link that makes an account, for whoever looks after the server."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from kagero.server.people.rules import DAYS, invite


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(
            f"/welcome#{invite()}  (behind the server's address; good for one account within {DAYS} days)"
        )
