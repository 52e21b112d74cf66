"""What exists: every row, source, operation, shape, force and preset, with label, unit, range, default and help.

The interface takes all of it from here; nothing here computes particles.
"""

from .describe import catalog_as_dict
from .presets import CURVE_PRESETS
from .rows import ROWS, PlacedRow, RowSpec, row_at, rows_of
from .sources import SOURCES, SourceSpec, needs_particle, refusal, source_label
from .validate import check_effect, require_valid

__all__ = [
    "CURVE_PRESETS", "ROWS", "SOURCES", "PlacedRow", "RowSpec", "SourceSpec", "catalog_as_dict", "check_effect",
    "needs_particle", "refusal", "require_valid", "row_at", "rows_of", "source_label",
]  # fmt: skip
