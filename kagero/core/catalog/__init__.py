"""What may drive what, validation, pieces, renaming and dials: all derived from the parts. Holds no list of kinds,
computes no particles."""

from .axes import copy_axis
from .breaking import break_up
from .describe import catalog_as_dict, emitter_template
from .dials import Use, delete_dial, dial_uses, make_dial, rename
from .formulas import Offer, offers, unit_remark
from .guides import make_guide
from .links import Links, is_active
from .moments import delete_moment
from .pieces import (
    MOVERS,
    PieceKind,
    copy_emitter,
    copy_mover,
    copy_prop,
    copy_responses,
    copy_row,
    paste,
    paste_emitter,
    paste_mover,
    paste_prop,
    with_new_uids,
)
from .presets import CURVE_PRESETS
from .scope import Scope, all_rows, row_at, row_label
from .sheet import layout, props_of_file
from .source_choices import SourceChoice, choices, list_sources
from .validate import check_effect, check_no_worse, out_of_range, props_stood_by, require_valid
from .varying import Variation, variations

__all__ = [
    "CURVE_PRESETS",
    "MOVERS",
    "Links",
    "Offer",
    "PieceKind",
    "Scope",
    "SourceChoice",
    "Use",
    "Variation",
    "all_rows",
    "break_up",
    "catalog_as_dict",
    "check_effect",
    "check_no_worse",
    "choices",
    "copy_axis",
    "copy_emitter",
    "copy_mover",
    "copy_prop",
    "copy_responses",
    "copy_row",
    "delete_dial",
    "delete_moment",
    "dial_uses",
    "emitter_template",
    "is_active",
    "layout",
    "list_sources",
    "make_dial",
    "make_guide",
    "offers",
    "out_of_range",
    "paste",
    "paste_emitter",
    "paste_mover",
    "paste_prop",
    "props_of_file",
    "props_stood_by",
    "rename",
    "require_valid",
    "row_at",
    "row_label",
    "unit_remark",
    "variations",
    "with_new_uids",
]
