"""Whole operations: play, measure, bake, render. No new maths."""

from .bake import FORMATS, bake, card_pictures, render_frame, span
from .measure import life_profile, measure
from .play import Playing
from .stream import play_packets

__all__ = ["FORMATS", "Playing", "bake", "card_pictures", "life_profile", "measure", "play_packets", "render_frame", "span"]  # fmt: skip
