"""Sources: what can drive a row. One module a kind; the order here is that of the list."""

from ...rows.source import SOURCES

SOURCES.load(
    __name__, "formula", "prop", "prop_velocity",
    "mask", "surface", "picture", "parent", "dial", "life", "age", "lifespan", "clip_time", "height", "position",
    "distance", "noise", "speed", "velocity", "mass", "rotation", "spin", "size", "opacity", "brightness", "colour", "number", "birth_frame",
    "birth_position", "birth_normal", "birth_u", "birth_v", "draw", "own", "row",
)  # fmt: skip

__all__ = ["SOURCES"]
