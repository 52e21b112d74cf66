"""Worked examples of formulas, each with the rows it fits: a page of them opens beside the editor."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Example:
    """A formula to put in as it is. gives: a number, vector or colour. stages: where it can stand. address: a row it is
    made for."""

    title: str
    text: str
    help: str
    gives: Literal["number", "vector", "colour"]
    stages: tuple[str, ...]
    address: str


_LIVE, _BIRTH, _CLIP = ("live",), ("birth",), ("emitter",)
EXAMPLES = [
    Example(
        "A bell over life", "sin(life * pi)", "0 at birth and end, 1 in the middle.", "number", _LIVE, "look.opacity"
    ),
    Example(
        "In, hold, out",
        "smoothstep(0, 0.2, life) * (1 - smoothstep(0.7, 1, life))",
        "Fades in over the first fifth of life and out from 70 % on, so that nothing pops.",
        "number",
        _LIVE,
        "look.opacity",
    ),
    Example(
        "A lantern's flicker",
        "0.75 + 0.25 * noise(vec3(clip_time * 4, number, 0))",
        "Smooth noise along time; the number gives each its own.",
        "number",
        _LIVE,
        "look.opacity",
    ),
    Example(
        "Cooling with height",
        "remap(clamp(height, 0, 2), 0, 2, 1, 0.2)",
        "Full at the ground, a fifth from 2 m on.",
        "number",
        _LIVE,
        "look.opacity",
    ),
    Example(
        "A wave along the river",
        "0.5 + 0.5 * sin(position.x * 4 - clip_time * 3)",
        "4 is how close the crests are, 3 how fast they run.",
        "number",
        _LIVE,
        "look.opacity",
    ),
    Example(
        "Blinking in turns",
        "1 if mod(clip_time * 2 + number * 0.37, 1) < 0.5 else 0",
        "On for half of every half second; the number shifts each one's turn.",
        "number",
        _LIVE,
        "look.opacity",
    ),
    Example(
        "The faster, the more drag",
        "0.2 + 0.3 * speed",
        "Drag that grows with speed, as in water.",
        "number",
        _LIVE,
        "look.size",
    ),
    Example(
        "Grow step by step",
        "min(previous(rows.size) + 0.1 * dt, 0.4)",
        "0.1 m a second from its base up to 0.4 m: previous is the size of the step before.",
        "number",
        _LIVE,
        "look.size",
    ),
    Example(
        "Lit for good once high",
        "max(previous(rows.opacity) if age > 0 else 0, step(1, height))",
        "0 until it has once been above 1 m, then 1 for good.",
        "number",
        _LIVE,
        "look.opacity",
    ),
    Example(
        "A rate that stops",
        "5 * frame_rate if frame < 90 else 0",
        "5 a frame up to frame 90: 450 in all.",
        "number",
        _CLIP,
        "births.rate",
    ),
    Example(
        "Pulsing bursts",
        "400 if fract(clip_time) < 0.1 else 0",
        "40 within a tenth of every second.",
        "number",
        _CLIP,
        "births.rate",
    ),
    Example(
        "A swell",
        "100 * (1 - cos(clip_time * tau / 4))",
        "Rises and falls every 4 seconds between 0 and 200.",
        "number",
        _CLIP,
        "births.rate",
    ),
    Example(
        "Round the mooring post",
        "angle = clip_time * tau / 4\nvec3(cos(angle), 1, sin(angle))",
        "A circle of 1 m every 4 seconds; births lie all along it.",
        "vector",
        _BIRTH,
        "births.place.centre",
    ),
    Example(
        "Two sines",
        "vec3(sin(3 * clip_time), 0.5, sin(2 * clip_time))",
        "A knot that closes after tau seconds, with 3 lobes one way and 2 the other.",
        "vector",
        _BIRTH,
        "births.place.centre",
    ),
    Example(
        "A pendulum",
        "swing = 0.6 * cos(clip_time * 3)\nvec3(sin(swing), 1.2 - cos(swing), 0)",
        "A lantern on a rope of 1 m; higher the further it is from the middle.",
        "vector",
        _BIRTH,
        "births.place.centre",
    ),
    Example(
        "Away from the middle",
        "normalize(birth_position + vec3(0, 0.3, 0))",
        "Outwards from a point 0.3 m below the ground.",
        "vector",
        _BIRTH,
        "births.launch.direction",
    ),
    Example(
        "A wind that turns",
        "vec3(cos(clip_time), 0, sin(clip_time)) * 2",
        "2 m/s, once round in 6.3 seconds.",
        "vector",
        _LIVE,
        "own.place.change",
    ),
    Example(
        "Hot where it is fast",
        "mix(vec3(0.1, 0.2, 0.6), vec3(1.5, 0.8, 0.3), smoothstep(0, 2, speed))",
        "From river blue to lantern light; above 1 it glows.",
        "colour",
        _LIVE,
        "look.colour",
    ),
    Example(
        "Bands of colour",
        "band = floor(fract(height * 2) * 3) / 2\nmix(vec3(1, 0.35, 0.1), vec3(0.1, 0.5, 0.5), band)",
        "Three sharp bands every half metre.",
        "colour",
        _LIVE,
        "look.colour",
    ),
]
