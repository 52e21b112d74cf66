"""Nothing decided yet: one emitter at a point, plain discs."""

from __future__ import annotations

import math
from typing import Any

from ..rows.writing import row
from .parts import Beginning, effect


def document() -> dict[str, Any]:
    particles = {
        "uid": "particles",
        "name": "Particles",
        "births": {
            "rate": row(40),
            "place": {"kind": "point", "centre": row([0.0, 0.6, 0.0])},
            "lifespan": row(2.0),
            "launch": {
                "aim": "direction",
                "direction": row([0.0, 1.0, 0.0]),
                "cone": row(math.radians(30)),
                "speed": row(0.5),
            },
        },
        "look": {
            "sprite": "soft_disc",
            "blend": "over",
            "size": row(0.06),
            "opacity": row(1.0),
            "colour": row([0.9, 0.88, 0.82]),
        },
    }
    return effect("New effect", [particles])


EMPTY = Beginning(
    "empty", "Empty", "One emitter at a point, plain discs, a camera and four seconds. All else is yours.", document
)
