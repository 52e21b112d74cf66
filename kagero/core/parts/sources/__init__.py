"""Sources: what can drive a row. One module a kind; the order here is that of the list: what is most often wanted first."""

from ...rows.source import SOURCES

SOURCES.load(
    __name__, "life", "age", "lifespan", "clip_time", "clip_length", "clip_left", "moment", "draw", "speed", "velocity", "air_speed",
    "mass", "rotation", "spin", "own_axis", "own_angle", "tumbling", "height", "position", "distance", "noise", "size", "opacity", "brightness",
    "colour", "formula", "dial", "own", "number", "birth_frame", "birth_position", "birth_normal", "birth_u", "birth_v", "part", "parent", "target",
    "ride", "ride_normal", "ride_velocity", "touch", "touch_normal", "touch_colour", "others", "cue",
    "neighbours", "mask", "surface", "prop", "prop_velocity", "prop_travelled", "picture", "row",
    "along",
)  # fmt: skip

__all__ = ["SOURCES"]
