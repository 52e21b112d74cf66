"""The Lantern Ferry's compass rose: a pen of light on a hypotrochoid, turned by five dials."""

from __future__ import annotations

import math
from typing import Any

FIGURE = """\
# a pen on a circle that rolls inside another: Lawrence 1972, the hypotrochoid
a = dials.fixed_circle
b = dials.rolling_circle
turn = clip_time * dials.speed * tau
roll = turn * (a - b) / b if b != 0 else 0
x = (a - b) * cos(turn) + dials.pen_offset * cos(roll)
y = (a - b) * sin(turn) - dials.pen_offset * sin(roll)
dials.scale * vec3(x, y, 0) + vec3(0, 1.2, 0)"""


def compass_rose() -> dict[str, Any]:
    def row(base: Any, *responses: dict[str, Any]) -> dict[str, Any]:
        return {"base": base, "responses": list(responses)}

    def formula(uid: str, text: str, read: str = "live") -> dict[str, Any]:
        return {"base": {"source": {"kind": "formula", "uid": uid, "text": text}, "read": read}, "responses": []}

    def dial(uid: str, name: str, value: float, low: float, high: float, unit: str, note: str) -> dict[str, Any]:
        return {
            "uid": uid,
            "name": name,
            "value": value,
            "default": value,
            "low": low,
            "high": high,
            "unit": unit,
            "note": note,
        }

    return {
        "format": "kagero-effect",
        "schema_version": 4,
        "name": "Compass rose",
        "note": "Light drawn on the night air over the wheelhouse. Eight and three give a rose of eight points, "
        "closed after three turns.",
        "clip": {"frame_rate": [24, 1], "first_frame": 0, "last_frame": 120, "seed": 8, "background": "ink"},
        "camera": {"position": [0.0, 1.2, 4.4], "target": [0.0, 1.2, 0.0], "field_of_view": 0.62},
        "dials": [
            dial(
                "rose-a",
                "Fixed circle",
                8,
                0,
                12,
                "",
                "The large circle. Its proportion to the rolling one makes the points: 8 to 3 makes eight.",
            ),
            dial(
                "rose-b",
                "Rolling circle",
                3,
                0,
                12,
                "",
                "The small circle inside. At nought the pen stays on the large one's rim.",
            ),
            dial(
                "rose-h",
                "Pen offset",
                4.6,
                0,
                10,
                "",
                "From the small circle's middle to the pen: more than its radius makes loops.",
            ),
            dial("rose-speed", "Speed", 0.75, 0, 3, "/s", "Turns of the pen round the middle, each second."),
            dial(
                "rose-scale",
                "Scale",
                0.11,
                0,
                0.3,
                "m",
                "What one step of the circles is in metres: the size of the whole.",
            ),
            dial("rose-glow", "Glow", 1, 0, 2, "×", "Multiplies how strongly the light shows."),
        ],
        "emitters": [
            {
                "uid": "rose",
                "name": "Pen",
                "draws": [{"uid": "rose-grain", "name": "grain", "kind": "uniform"}],
                "births": {
                    "rate": row(1100),
                    "place": {"kind": "point", "centre": formula("rose-figure", FIGURE, "once")},
                    "lifespan": row(4.2),
                    "launch": {"direction": row([0.0, 0.0, 1.0]), "cone": row(math.pi), "speed": row(0.012)},
                },
                "forces": [
                    {"kind": "drag", "uid": "rose-air", "rate": row(0.5)},
                    {
                        "kind": "curl_noise",
                        "uid": "rose-breath",
                        "octaves": 1,
                        "scale": row(0.4),
                        "evolution": row(0.15),
                        "strength": formula("rose-stir", "0.12 * smoothstep(0.5, 1, life)"),
                    },
                ],
                "look": {
                    "blend": "add",
                    "size": formula(
                        "rose-size",
                        "fresh = 1 - smoothstep(0, 0.12, life)\n0.012 + 0.014 * draws.grain + 0.05 * fresh * fresh",
                    ),
                    "opacity": row(
                        0.7,
                        {
                            "kind": "ratio",
                            "uid": "rose-opacity-glow",
                            "source": {"kind": "dial", "dial": "rose-glow"},
                            "read": "live",
                            "operation": "multiply",
                        },
                        {
                            "kind": "ratio",
                            "uid": "rose-opacity-life",
                            "source": {
                                "kind": "formula",
                                "uid": "rose-fade",
                                "text": "smoothstep(0, 0.01, life) * (1 - smoothstep(0.55, 1, life))",
                            },
                            "read": "live",
                            "operation": "multiply",
                        },
                    ),
                    "colour": formula(
                        "rose-colour", "mix(vec3(2.2, 1.3, 0.55), vec3(0.16, 0.5, 0.6), smoothstep(0, 0.5, life))"
                    ),
                },
            },
        ],
    }
