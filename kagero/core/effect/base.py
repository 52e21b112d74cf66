"""What every part of the document shares: strictness, uids, finite numbers."""

from __future__ import annotations

from typing import Annotated, Final

from pydantic import BaseModel, ConfigDict, Field

DOCUMENT_FORMAT: Final = "kagero-effect"
SCHEMA_VERSION: Final = 4


class Model(BaseModel):
    """A part of the document: unknown keys are refused and numbers are finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, validate_default=True)


# A permanent name for the machine: hashed into draws, never shown, never changed by renaming.
Uid = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$", description="Permanent identifier; not a name.")]
Name = Annotated[str, Field(min_length=1, max_length=80)]
Number = Annotated[float, Field(ge=-1e9, le=1e9)]
Vector = Annotated[tuple[Number, Number, Number], Field(description="x, y, z; y is up.")]
