"""The names of the document's format."""

from __future__ import annotations

from typing import Final

DOCUMENT_FORMAT: Final = "kagero-effect"
SCHEMA_VERSION: Final = 16
