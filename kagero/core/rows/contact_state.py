"""Names of the state columns for contacts."""

from __future__ import annotations

# first, last: clip times of touches, s; speed of the last impact, m/s; its angle to the normal, radians; which of the
# contacts that act, from 1 on
_NAMES = (
    "touching",
    "count",
    "first",
    "last",
    "speed",
    "angle",
    "normal.0",
    "normal.1",
    "normal.2",
    "which",
    "u",
    "v",
    "face",
    "place.0",
    "place.1",
    "place.2",
)
NORMAL = ("normal.0", "normal.1", "normal.2")
TOUCH = {name: f"touch.{name}" for name in _NAMES}
STUCK_NOW = 1000.0  # and which contact it touches: it is to stick there, and where is yet to be found
LEFT = (
    "touch.left.0",
    "touch.left.1",
    "touch.left.2",
)  # how fast a particle leaves a touch, m/s: known to the cues of that step only
STUCK = ("stuck.which", "stuck.0", "stuck.1", "stuck.2")
