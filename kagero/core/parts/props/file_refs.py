"""Files that props name: how a document refers to one, with its unit and upright axis."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal

from pydantic import Field

from ...rows.model import (
    Model,
    Setting,
)
from ...rows.units import METRES

Axis = Literal["y", "z"]
FileUnit = Annotated[float, Field(gt=0, le=10_000)]
Content = Annotated[str, Field(pattern=r"^[0-9a-f]{32}$", description="Content hash of a file that was brought in.")]


class FileRef(Model):
    """A file that was brought in: its content, and the name it had."""

    content: Content
    name: Annotated[str, Field(min_length=1, max_length=200)]


FILE_UNIT = Setting("its unit is", "How long one of the file's units is.", METRES)
FILE_UP = Setting("Upright axis of the file", choices=(("y", "y up"), ("z", "z up")))


def file_ref(file: dict[str, Any]) -> dict[str, Any]:
    """Return how a document names a file that was brought in: of a film with how many pictures it has, and its rate."""
    reference = {"content": file["content"], "name": file["name"]}
    return {**reference, "pictures": file["pictures"], "rate": file["rate"]} if file["kind"] == "film" else reference


def file_title(file: dict[str, Any]) -> str:
    """Return what a prop of a file is called first."""
    stem = re.sub(r"\.[^.]*$", "", file["name"])
    return re.sub(r"[_-]+", " ", stem)[:60].strip() or "prop"
