"""What every question to the server is made of."""

from __future__ import annotations

from typing import Any

from ninja import Schema
from pydantic import ConfigDict


class Strict(Schema):
    """Nothing that is not asked for is taken."""

    model_config = ConfigDict(extra="forbid")


class AboutEmitter(Strict):
    document: dict[str, Any]
    emitter: str
    frame: int
