"""Lines that particles are drawn along: streaks, trails, ribbons. Stored frames in, places out; never stepping beyond what was asked for.

One module a look of `parts.looks` that is drawn along lines, with `course(asked)`.
"""

from .course import MOST_PLACES, Asked, Course
from .drawn import with_strands

__all__ = ["MOST_PLACES", "Asked", "Course", "with_strands"]
