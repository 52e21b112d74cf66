"""What exists: every row, source, operation, shape, force and preset, with label, unit, range, default and help.

The interface takes all of it from here; nothing here computes particles.
"""

from .choices import Choice, Listed, choices, list_sources, source_of
from .describe import catalog_as_dict
from .links import Links, act, refusal
from .pieces import copy_emitter, copy_responses, copy_row, paste, paste_emitter, renewed
from .presets import CURVE_PRESETS
from .rows import ROWS, PlacedRow, RowSpec, Unit, in_use, is_plain, rows_of, settings_of
from .sources import PARTS, SOURCES, SourceFacts, SourceSpec, all_rows, row_at, row_label, source_facts, source_label
from .validate import check_effect, out_of_range, require_valid

__all__ = [
    "CURVE_PRESETS", "PARTS", "ROWS", "SOURCES", "Choice", "Links", "Listed", "PlacedRow", "RowSpec", "SourceFacts",
    "SourceSpec", "Unit", "act", "all_rows", "catalog_as_dict", "check_effect", "choices", "copy_emitter",
    "copy_responses", "copy_row", "in_use", "is_plain", "list_sources", "out_of_range", "paste", "paste_emitter", "refusal", "renewed",
    "require_valid", "row_at", "row_label", "rows_of", "settings_of", "source_facts", "source_label", "source_of",
]  # fmt: skip
