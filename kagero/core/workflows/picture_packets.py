"""Pictures as packets for the interface (docs/FORMATS.md): what looks are drawn with, and the core's own renders."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

import numpy as np

from ..finishing import clipped, edges
from ..formats import pack
from ..formats.encoding import rgba_bytes
from ..kernels.colour import linear_to_srgb
from ..picture import Viewpoint, check_size, look_resources, resources_key
from .bake import frame_over_backplate
from .play import Playing
from .rendering import RenderRequest, render_frame
from .stream import short_key

LARGEST_LIGHT = 60_000  # a little below the largest float16


def sheets_packet(playing: Playing, frame: int, held: Iterable[str]) -> bytes:
    """Return what looks are drawn with at a frame, except what the client holds already (by short keys): sheets of
    pictures, RGBA of 8 bits, sRGB, multiplied by alpha, and forms, triangle by triangle."""
    seconds = playing.plan.scene(frame)
    looks: list[dict[str, Any]] = []
    arrays: dict[str, np.ndarray] = {}
    known = set(held)
    for place, look in (
        (each.births.place, look) for i, each in enumerate(playing.effect.emitters) for look in playing.drawn_looks(i)
    ):
        result, forms, _ = look_resources(look, playing.stage, seconds, place)
        text = resources_key(result, forms)
        if not text or short_key(text) in known:
            continue
        known.add(short_key(text))
        number, every = len(looks), result.all if result is not None else ()
        of = [
            None if each is None else {"across": each.across, "levels": len(each.plates), "cells": each.cells}
            for each in every
        ]
        entry: dict[str, Any] = {"key": short_key(text), "aspect": 1.0, "reach": 0.0, "opaque": True, "sheets": of}
        if result is not None:
            entry |= {"aspect": result.aspect, "reach": result.reach, "opaque": result.opaque}
        if forms is not None:
            entry["forms"] = {"start": forms.start.tolist(), "box": forms.box.reshape(-1, 6).tolist()}
            arrays |= {f"corners.{number}": forms.corners.reshape(-1), f"tint.{number}": forms.tint.reshape(-1)}
        looks.append(entry)
        for i, each in enumerate(every):
            if each is not None:
                arrays |= {
                    f"texels.{number}.{i}": rgba_bytes(each.texels),
                    f"plates.{number}.{i}": each.plates,
                }
    return pack({"type": "sheets", "looks": looks}, arrays)


def render_packet(
    playing: Playing,
    frame: int,
    size: tuple[int, int],
    scale: float,
    shares: tuple[float, float, float, float],
    viewpoint: Viewpoint | None,
    how: Literal["seen", "clipped", "edges"],
) -> bytes:
    """Return the core's own picture of a frame: `light`, linear, in float16, and `shown`, RGBA of 8 bits, sRGB, over
    the background.

    size: of the picture in pixels, multiplied by scale. shares: left, top, width and height of the wanted region, as
    shares of the picture. how: as it will be seen, or a picture to judge by (`finishing.judging`).
    """
    check_size(*size)
    width, height = (max(1, round(side * scale)) for side in size)
    left, top, wide, tall = (min(max(share, 0.0), 1.0) for share in shares)
    x, y = min(int(left * width), width - 1), min(int(top * height), height - 1)
    region = (
        x,
        y,
        max(1, min(round((left + wide) * width), width) - x),
        max(1, min(round((top + tall) * height), height) - y),
    )
    if how == "edges":
        half = (max(1, width // 2), max(1, height // 2))
        light = edges(render_frame(playing, frame, RenderRequest(*half, viewpoint, alone=True)).over())
        width, height = light.shape[1], light.shape[0]
        region = (0, 0, width, height)
    else:
        light = frame_over_backplate(playing, frame, width, height, viewpoint=viewpoint, region=region)[..., :3]
    look = clipped(light) if how == "clipped" else light
    shown = np.full((*light.shape[:2], 4), 255, np.uint8)
    shown[..., :3] = linear_to_srgb(look) * 255 + 0.5
    header = {"type": "render", "size": [width, height], "region": list(region)}
    return pack(
        header,
        {"light": np.clip(np.nan_to_num(light), -LARGEST_LIGHT, LARGEST_LIGHT).astype(np.float16), "shown": shown},
    )
