"""Lines along which particles are drawn: streaks, trails, ribbons. Stored frames in, points out.

One module for each look of `parts.looks` that is drawn along lines, with `course(asked)`.
"""

from .course import MOST_PLACES, StrandPoints, StrandRequest
from .drawn import with_strands

__all__ = ["MOST_PLACES", "StrandPoints", "StrandRequest", "with_strands"]
