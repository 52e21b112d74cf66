"""Whole operations: play, measure, look into particles, bake, render. No new maths."""

from .bake import (
    Estimate,
    bake,
    card_pictures,
    estimate,
    export,
    exporter_of,
    preview_sheet,
    render_pixels,
    seen_frame,
    span,
)
from .bounding import bounds
from .cost import cost
from .dial_trials import Trial, Tried, try_dial, turned
from .local_files import files_beside
from .loop_seam import Seam, seam
from .measure import life_profile, measure
from .particles import Filter, Particles, TableRequest
from .play import Playing, Replaced
from .ready import all_compiled, ready, ready_beside
from .rendering import RenderedFrame, RenderRequest, render_frame
from .ride_lines import rails
from .stock_previews import shelf_picture
from .stream import HeldFrames, Packets, PlayRequest, play_packets, short_key

__all__ = [
    "Estimate",
    "Filter",
    "HeldFrames",
    "Packets",
    "Particles",
    "PlayRequest",
    "Playing",
    "RenderRequest",
    "RenderedFrame",
    "Replaced",
    "Seam",
    "TableRequest",
    "Trial",
    "Tried",
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
    "render_pixels",
    "seam",
    "seen_frame",
    "shelf_picture",
    "short_key",
    "span",
    "try_dial",
    "turned",
]
