"""What exists: every row, source, operation, shape, force and preset, with label, unit, range, default and help.

The interface takes all of it from here; nothing here computes particles.
"""

from .choices import Choice, Listed, choices, list_sources, source_of
from .describe import catalog_as_dict
from .dials import Use, delete_dial, dial_uses, make_dial, rename
from .formulas import Offer, check_formula, offers, unit_remark
from .links import Links, act, refusal
from .pieces import copy_emitter, copy_responses, copy_row, paste, paste_emitter, renewed
from .placing import BIRTHS_ON, GUIDES, field_formula
from .presets import CURVE_PRESETS
from .rows import ROWS, PlacedRow, RowSpec, Unit, in_use, is_plain, rows_of, settings_of
from .scope import Scope
from .sources import PARTS, SOURCES, SourceFacts, SourceSpec, all_rows, row_at, row_label, source_facts, source_label
from .validate import check_effect, no_worse, out_of_range, require_valid

__all__ = [
    "BIRTHS_ON", "CURVE_PRESETS", "GUIDES", "PARTS", "ROWS", "SOURCES", "Choice", "Links", "Listed", "Offer", "PlacedRow", "RowSpec",
    "Scope", "SourceFacts", "SourceSpec", "Unit", "Use", "act", "all_rows", "catalog_as_dict", "check_effect", "check_formula", "choices",
    "copy_emitter", "copy_responses", "copy_row", "delete_dial", "dial_uses", "field_formula", "in_use", "is_plain", "list_sources",
    "make_dial", "no_worse", "offers",
    "out_of_range", "paste", "paste_emitter", "refusal", "rename", "renewed", "require_valid", "row_at", "row_label",
    "rows_of", "settings_of", "source_facts", "source_label", "source_of", "unit_remark",
]  # fmt: skip
