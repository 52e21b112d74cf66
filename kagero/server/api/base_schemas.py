"""What every question to the server is made of."""

from __future__ import annotations

from typing import Annotated, Any

from ninja import Path, Schema
from pydantic import ConfigDict, Field

RowId = Annotated[int, Path(ge=0, le=2**63 - 1)]  # the number of a row of the database: SQLite keeps no larger integer
Metres = Annotated[float, Field(ge=-1e7, le=1e7)]  # a coordinate of a place that pictures may be taken from


class Strict(Schema):
    """Nothing that is not asked for is taken, and no number that is none."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class AboutEmitter(Strict):
    document: dict[str, Any]
    emitter: str
    frame: int
