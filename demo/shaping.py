"""What is moved after the simulation: a note that comes in late, answered without simulating again."""

from __future__ import annotations

import math
from typing import Any

from demo.births_and_masks import document, prop
from demo.parts import STRAIGHT, gradient, response, row


def pennant() -> dict[str, Any]:
    """Petals stream from the prow's staff in the wind; over the finished flight its end is wrung, late in life, within
    the whole clip's bounds."""
    staff = prop(
        "staff",
        "Staff",
        "shape",
        shape="cylinder",
        radius=0.022,
        height=1.5,
        position=row([-1.6, 0.0, 0.0]),
        tint=[0.2, 0.12, 0.07],
    )
    knob = prop(
        "knob", "Knob", "shape", shape="sphere", radius=0.05, position=row([-1.6, 1.54, 0.0]), tint=[0.5, 0.3, 0.1]
    )
    flutter = {
        "kind": "wander",
        "uid": "flutter",
        "pattern": "turbulence",
        "octaves": 2,
        "scale": row(1.1),
        "evolution": row(0.6),
        "roughness": row(0.45),
        "amount": row(
            0.0, response("flutter-grows", "life", STRAIGHT, output=(0.0, 0.3), shape="linear", operation="set")
        ),
    }
    wrung = {
        "kind": "twist",
        "uid": "wrung",
        "axis": "x",
        "still": row(0.0),
        "amount": row(
            0.0,
            response(
                "wrung-late",
                "life",
                [(0.0, 0.0), (0.55, 0.0), (1.0, 1.0)],
                output=(0.0, 3.2 * math.pi),
                operation="set",
            ),
        ),
        "middle": row([0.2004, 1.129, -0.034]),
        "size": row([3.5606, 0.9122, 0.5548]),
        "turn": row([0.0, 0.0, 0.0]),
    }
    cloth = {
        "uid": "cloth",
        "name": "Pennant",
        "draws": [{"uid": "thread", "name": "thread", "kind": "uniform"}],
        "births": {
            "rate": row(1300.0),
            "place": {"kind": "box", "centre": row([-1.57, 1.25, 0.0]), "size": row([0.02, 0.5, 0.02])},
            "lifespan": row(
                2.6, response("cloth-last", "draw:thread", STRAIGHT, output=(0.86, 1.0), read="once", shape="linear")
            ),
            "launch": {"direction": row([1.0, 0.02, 0.0]), "cone": row(math.radians(1.5)), "speed": row(1.3)},
        },
        "forces": [{"kind": "gravity", "uid": "cloth-falls", "strength": row(0.06)}],
        "look": {
            "blend": "over",
            "size": row(0.034, response("cloth-size", "life", [(0, 0.7), (0.2, 1), (1, 0.55)])),
            "opacity": row(0.9, response("cloth-fade", "life", [(0, 0), (0.12, 1), (0.8, 1), (1, 0)])),
            "colour": row(
                [0.8, 0.2, 0.08],
                gradient(
                    "cloth-colour", "life", [(0, (0.75, 0.1, 0.05)), (0.5, (1.0, 0.32, 0.08)), (1, (1.1, 0.75, 0.3))]
                ),
            ),
        },
        "shaping": [flutter, wrung],
    }
    return document(
        "Pennant over the prow",
        "A pennant of petals streams from the ferry's staff; late in life it is wrung, without simulating again.",
        {"last_frame": 140, "run_up": 70, "seed": 21},
        {"position": [0.5, 1.15, 3.9], "target": [0.05, 1.0, 0.0], "field_of_view": 0.62},
        [staff, knob],
        [cloth],
    )


ALL = {"pennant-over-the-prow": pennant}
