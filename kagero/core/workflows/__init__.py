"""Complete operations: play, measure, inspect particles, bake, render. They combine the other rooms and add no
mathematics."""

from .bake import (
    Estimate,
    bake,
    card_pictures,
    check_span,
    estimate,
    export,
    exporter_of,
    frame_over_backplate,
    preview_sheet,
    render_pixels,
)
from .bounding import bounds
from .cost import cost
from .dial_trials import DialTrial, DialValueTrial, try_dial, with_dials
from .geometry_packet import geometry_packet, picture_packet
from .local_files import files_beside
from .loop_seam import Seam, seam
from .measure import life_profile, measure
from .particles import Filter, Particles, TableRequest
from .picture_packets import render_packet, sheets_packet
from .play import Playing, ReplacedNumbers
from .ready import all_compiled, compile_ahead, compile_in_processes
from .rendering import RenderedFrame, RenderRequest, render_frame
from .ride_lines import rails
from .stock_previews import shelf_picture
from .stream import HeldFrames, Packets, PlayRequest, play_packets, short_key

__all__ = [
    "DialTrial",
    "DialValueTrial",
    "Estimate",
    "Filter",
    "HeldFrames",
    "Packets",
    "Particles",
    "PlayRequest",
    "Playing",
    "RenderRequest",
    "RenderedFrame",
    "ReplacedNumbers",
    "Seam",
    "TableRequest",
    "all_compiled",
    "bake",
    "bounds",
    "card_pictures",
    "check_span",
    "compile_ahead",
    "compile_in_processes",
    "cost",
    "estimate",
    "export",
    "exporter_of",
    "files_beside",
    "frame_over_backplate",
    "geometry_packet",
    "life_profile",
    "measure",
    "picture_packet",
    "play_packets",
    "preview_sheet",
    "rails",
    "render_frame",
    "render_packet",
    "render_pixels",
    "seam",
    "sheets_packet",
    "shelf_picture",
    "short_key",
    "try_dial",
    "with_dials",
]
