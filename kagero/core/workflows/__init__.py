"""Whole operations: play, measure, look into particles, bake, render. No new maths."""

from .bake import Estimate, bake, card_pictures, estimate, export, exporter_of, preview_sheet, render_frame, seen_frame, span
from .beside import files_beside
from .bounding import bounds
from .cost import cost
from .measure import life_profile, measure
from .particles import Filter, Particles, TableRequest
from .play import Playing, Replaced
from .rails import rails
from .ready import all_compiled, ready, ready_beside
from .seam import Seam, seam
from .shelf import shelf_picture
from .shoot import Taken, Wish, take
from .stream import HeldFrames, Packets, PlayRequest, play_packets, short_key
from .trying import Trial, Tried, try_dial, turned

__all__ = [
    "Estimate",
    "Filter",
    "HeldFrames",
    "Packets",
    "Particles",
    "PlayRequest",
    "Playing",
    "Replaced",
    "Seam",
    "TableRequest",
    "Taken",
    "Trial",
    "Tried",
    "Wish",
    "all_compiled",
    "bake",
    "bounds",
    "card_pictures",
    "cost",
    "estimate",
    "export",
    "exporter_of",
    "files_beside",
    "life_profile",
    "measure",
    "play_packets",
    "preview_sheet",
    "rails",
    "ready",
    "ready_beside",
    "render_frame",
    "seam",
    "seen_frame",
    "shelf_picture",
    "short_key",
    "span",
    "take",
    "try_dial",
    "turned",
]
