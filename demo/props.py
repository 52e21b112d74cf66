"""The Lantern Ferry's own props, made by code: `python -m demo.props` writes them into demo/props.

Lantern, ferry hull and a paper crane whose wings beat, as GLB; the cabin window as a picture. The bell, the rope and
the ferry's name stand in the effects themselves, as a funnel, a path and words.
"""

from __future__ import annotations

import io
import itertools
import json
import math
import struct
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

FOLDER = Path(__file__).parent / "props"


def lathe(profile: list[tuple[float, float]], round_: int = 24) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return points, (u, v) and faces of a profile (radius, height) turned about y."""
    u, v = np.meshgrid(np.linspace(0, 1, round_ + 1), np.linspace(0, 1, len(profile)))
    line = np.asarray(profile)
    radius, height = np.repeat(line[:, :1], round_ + 1, 1), np.repeat(line[:, 1:], round_ + 1, 1)
    points = np.stack([radius * np.cos(2 * np.pi * u), height, -radius * np.sin(2 * np.pi * u)], 2).reshape(-1, 3)
    i, j = (g.ravel() for g in np.meshgrid(np.arange(round_), np.arange(len(profile) - 1)))
    a = j * (round_ + 1) + i
    faces = np.concatenate([np.stack([a, a + 1, a + round_ + 2], 1), np.stack([a, a + round_ + 2, a + round_ + 1], 1)])
    return points, np.stack([u, v], 2).reshape(-1, 2), faces


def lantern() -> bytes:
    """A paper lantern, 0.34 m high: ribbed paper between two dark rims."""
    ribs = [
        (0.1 + 0.045 * math.sin(math.pi * t) + (0.004 if k % 2 else 0), 0.02 + 0.28 * t)
        for k, t in enumerate(np.linspace(0, 1, 23))
    ]
    rim = [(0.085, 0.0), (0.105, 0.0), (0.105, 0.025), (0.085, 0.025)]
    top = [(0.085, 0.295), (0.105, 0.295), (0.105, 0.32), (0.02, 0.335), (0.0, 0.335)]
    return glb(
        [(lathe(ribs), (0.85, 0.42, 0.13)), (lathe(rim), (0.05, 0.035, 0.03)), (lathe(top), (0.05, 0.035, 0.03))]
    )


def hull() -> bytes:
    """The ferry's hull, 6 m long, its keel on y = 0: u from stern to bow, v from keel to rail on either side."""
    u, v = np.meshgrid(np.linspace(0, 1, 41), np.linspace(-1, 1, 25))
    along = 6 * (u - 0.5)
    beam = 0.95 * (1 - np.abs(2 * u - 1) ** 3.2) ** 0.75 * np.where(u < 0.5, 0.55 + 0.9 * u, 1.0)
    rail = 0.75 + 0.55 * (2 * u - 1) ** 4
    points = np.stack([along, rail * np.abs(v) ** 2.1, beam * np.sign(v) * np.abs(v) ** 0.62], 2).reshape(-1, 3)
    i, j = (g.ravel() for g in np.meshgrid(np.arange(40), np.arange(24)))
    a = j * 41 + i
    faces = np.concatenate([np.stack([a, a + 1, a + 42], 1), np.stack([a, a + 42, a + 41], 1)])
    return glb([((points, np.stack([u, np.abs(v)], 2).reshape(-1, 2), faces), (0.1, 0.07, 0.055))])


def crane() -> bytes:
    """A folded paper crane, 0.5 m from wing to wing, whose wings beat once a second; two seconds of it."""
    body = [
        [0, 0, 0.04],
        [0, 0.02, -0.1],
        [0.028, -0.03, -0.02],
        [-0.028, -0.03, -0.02],
        [0, 0.09, 0.16],
        [0, 0.12, -0.24],
        [0, 0.075, 0.21],
    ]
    faces = [[0, 2, 1], [0, 1, 3], [2, 3, 1], [0, 3, 2], [0, 2, 4], [0, 4, 3], [1, 5, 2], [1, 3, 5], [4, 6, 0]]
    wing = np.array([[0, 0.01, 0.06], [0, 0.01, -0.09], [0.25, 0.03, -0.03], [0.12, 0.035, 0.02]])
    times = np.linspace(0, 2, 25)
    beat = 0.55 * np.sin(2 * np.pi * times)
    uv = lambda p: np.stack([p[:, 0] * 2 + 0.5, p[:, 2] * 2 + 0.5], 1)
    paper = (0.82, 0.76, 0.66)
    points = np.array(body, float)
    left, right = wing, wing * np.array([-1, 1, 1])
    parts = [
        ((points, uv(points), np.array(faces)), paper),
        ((left, uv(left), np.array([[0, 2, 3], [0, 1, 2]])), paper),
        ((right, uv(right), np.array([[0, 3, 2], [0, 2, 1]])), paper),
    ]
    turns = [None, *(np.stack([0 * beat, 0 * beat, np.sin(side * beat / 2), np.cos(beat / 2)], 1) for side in (1, -1))]
    return glb(parts, times, turns)


def window() -> bytes:
    """The cabin window, 384 x 256: frost that grows from the edges, brighter where it is thicker; alpha is the pane."""
    rng = np.random.default_rng(17)
    y, x = np.mgrid[0:256, 0:384] / 256.0
    edge = np.minimum(np.minimum(x, 1.5 - x), np.minimum(y, 1 - y))
    frost = np.clip(1.05 - 3.2 * edge, 0, 1)
    for k in range(70):  # ferns: lines of stars that branch from the rim
        angle, cx, cy = (
            rng.uniform(0, 2 * np.pi),
            rng.choice([0, 1.5]) if k % 2 else rng.uniform(0, 1.5),
            rng.uniform(0, 1) if k % 2 else rng.choice([0, 1]),
        )
        for step in range(40):
            px, py = cx + math.cos(angle) * step * 0.011, cy + math.sin(angle) * step * 0.011
            frost += 0.5 * np.exp(-((x - px) ** 2 + (y - py) ** 2) / (2 * 0.006**2)) * (1 - step / 40)
            angle += rng.normal() * 0.16
    frost = np.clip(frost, 0, 1)
    mullion = (np.abs(x - 0.75) < 0.012) | (np.abs(y - 0.5) < 0.012)
    colour = np.stack([0.55 + 0.4 * frost, 0.66 + 0.32 * frost, 0.74 + 0.26 * frost, 0.12 + 0.88 * frost], 2)
    colour[mullion] = (0.16, 0.11, 0.08, 1)
    stream = io.BytesIO()
    Image.fromarray((colour * 255).astype(np.uint8)).save(stream, "PNG", optimize=True)
    return stream.getvalue()


def pane() -> bytes:
    """The cabin window without its frost, 384 x 256: dusk behind glass, a frame with a cross."""
    y, x = np.mgrid[0:256, 0:384] / 256.0
    dusk = np.stack([0.10 + 0.16 * y, 0.13 + 0.10 * y, 0.19 + 0.06 * y], 2)
    for cx, cy, r in (
        (0.35, 0.62, 0.05),
        (0.95, 0.7, 0.035),
        (1.18, 0.58, 0.02),
    ):  # lanterns on the far bank, out of focus
        dusk += np.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * r * r))[:, :, None] * np.array([0.42, 0.22, 0.08])
    bars = (
        (np.abs(x - 0.75) < 0.014)
        | (np.abs(y - 0.5) < 0.014)
        | (np.minimum(np.minimum(x, 1.5 - x), np.minimum(y, 1 - y)) < 0.02)
    )
    dusk[bars] = (0.17, 0.115, 0.08)
    return png(np.clip(dusk, 0, 1))


def river() -> bytes:
    """The river at dusk, a backplate of 960 x 540: sky, far hills, water that mirrors both, lanterns on the landing and
    their light in the water."""
    height, width, shore = 540, 960, 0.56
    y, x = np.mgrid[0:height, 0:width] / float(height)
    rng = np.random.default_rng(77)

    def sky(v: np.ndarray) -> np.ndarray:
        low, high = np.array([0.30, 0.17, 0.13]), np.array([0.05, 0.08, 0.13])
        share = np.clip(v / shore, 0, 1)[..., None] ** 1.6
        return high + (low - high) * share

    def ridge(height_of: float, rough: float, seed: int) -> np.ndarray:
        waves = np.random.default_rng(seed)
        line = np.zeros(width)
        for k in range(1, 40):
            line += np.sin(np.arange(width) / width * math.tau * k * 0.7 + waves.uniform(0, math.tau)) * rough / k
        return shore - height_of - line

    result = sky(y)
    for height_of, rough, seed, colour in (
        (0.15, 0.05, 3, (0.075, 0.075, 0.10)),
        (0.08, 0.04, 5, (0.045, 0.05, 0.065)),
        (0.03, 0.02, 8, (0.022, 0.027, 0.034)),
    ):
        line = ridge(height_of, rough, seed)
        hill = np.clip((y - line[None, :]) * height / 1.5, 0, 1)[..., None] * (y < shore)[..., None]
        result = result * (1 - hill) + np.array(colour) * hill
    rows = np.arange(height)
    below = rows > shore * height
    ripple = np.zeros((height, width))
    for _ in range(60):
        at, wide = rng.uniform(shore, 1.02), rng.uniform(0.002, 0.006)
        ripple += (
            np.exp(-((y - at) ** 2) / (2 * (wide * (0.4 + 3 * (at - shore))) ** 2))
            * np.sin(x * rng.uniform(6, 26) + rng.uniform(0, 9))
            * rng.uniform(0.2, 1)
        )
    mirror = np.clip(
        (2 * shore * height - rows[:, None] + ripple * 14 * np.clip(y - shore, 0, 1) * 4).astype(int), 0, height - 1
    )
    water = result[mirror, np.arange(width)[None, :]] * np.array([0.62, 0.7, 0.78])
    result = np.where(below[:, None, None], water + 0.012 * ripple[..., None] * np.array([0.5, 0.8, 1.0]), result)
    for cx, cy, size, light in (
        (0.32, 0.535, 0.006, 1.0),
        (0.37, 0.54, 0.004, 0.6),
        (1.42, 0.545, 0.005, 0.8),
        (1.47, 0.55, 0.004, 0.5),
        (1.36, 0.548, 0.003, 0.4),
    ):
        glow = np.array([1.0, 0.55, 0.2]) * light
        result += np.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * size**2))[..., None] * glow
        result += 0.12 * np.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * (size * 7) ** 2))[..., None] * glow
        streak = (
            np.exp(-((x - cx + ripple * 0.012) ** 2) / (2 * (size * 1.3) ** 2))
            * np.exp(-np.clip(y - shore, 0, 1) * 7)
            * below[:, None]
        )
        result += 0.5 * streak[..., None] * glow
    return png(np.clip(result, 0, 1))


def frost() -> bytes:
    """How thick frost lies on the window, 384 x 256: thick along the frame and the cross, ferns growing inward."""
    rng = np.random.default_rng(17)
    y, x = np.mgrid[0:256, 0:384] / 256.0
    edge = np.minimum(np.minimum(x % 0.75, 0.75 - x % 0.75), np.minimum(y % 0.5, 0.5 - y % 0.5))
    thick = np.clip(1 - edge / 0.13, 0, 1) ** 1.5
    for _ in range(120):
        side, along = rng.integers(0, 4), rng.random()
        px, py = [(along * 1.5, 0.01), (along * 1.5, 0.99), (0.01, along), (1.49, along)][side]
        angle = [math.pi / 2, -math.pi / 2, 0, math.pi][side] + rng.normal() * 0.5
        for step in range(int(rng.integers(14, 46))):
            thick += 0.45 * np.exp(-((x - px) ** 2 + (y - py) ** 2) / (2 * 0.005**2)) * (1 - step / 46)
            angle += rng.normal() * 0.12
            px, py = px + math.cos(angle) * 0.009, py + math.sin(angle) * 0.009
    return png(np.repeat(np.clip(thick, 0, 1)[:, :, None], 3, axis=2))


def washi() -> bytes:
    """Patterned paper, 256 x 256: waves in indigo and vermilion on cream, gold dots."""
    y, x = np.mgrid[0:256, 0:256] / 256.0
    values = np.empty((256, 256, 3))
    values[:] = (0.93, 0.88, 0.78)
    for row in range(9, -1, -1):  # rows of overlapping arcs
        for column in range(-1, 9):
            cx, cy = (column + 0.5 * (row % 2)) / 8, row / 9
            r = np.hypot(x - cx, (y - cy) * 1.1)
            inside = r < 0.072
            rings = (r / 0.072 * 4).astype(int) % 2 == 0
            values[inside & rings] = (0.14, 0.22, 0.42) if (row + column) % 5 else (0.8, 0.25, 0.14)
            values[inside & ~rings] = (0.93, 0.88, 0.78)
            values[r < 0.012] = (0.85, 0.66, 0.24)
    return png(values)


def png(pixels: np.ndarray) -> bytes:
    """Return sRGB pixels in 0..1 as PNG."""
    stream = io.BytesIO()
    Image.fromarray((pixels * 255 + 0.5).astype(np.uint8)).save(stream, "PNG", optimize=True)
    return stream.getvalue()


def paper_crane() -> bytes:
    """A larger crane of patterned paper: closed body, wings that beat once a second; two seconds of it."""
    body = [
        [0, 0, 0.04],
        [0, 0.02, -0.1],
        [0.03, -0.03, -0.02],
        [-0.03, -0.03, -0.02],
        [0, 0.09, 0.16],
        [0, 0.12, -0.24],
        [0, 0.075, 0.21],
    ]
    faces = [
        [0, 2, 1],
        [0, 1, 3],
        [2, 3, 1],
        [0, 3, 2],
        [0, 2, 4],
        [0, 4, 3],
        [1, 5, 2],
        [1, 3, 5],
        [2, 5, 3],
        [2, 3, 4],
        [4, 6, 0],
    ]
    parts = [sheet(np.array(body, float), np.array(faces), 3)]
    wing, folds = (
        np.array([[0, 0.02, 0.07], [0, 0.02, -0.1], [0.27, 0.04, -0.035], [0.13, 0.045, 0.03]], float),
        np.array([[0, 2, 3], [0, 1, 2]]),
    )
    parts += [sheet(wing, folds, 5), sheet(wing * np.array([-1, 1, 1]), folds[:, ::-1], 5)]
    times = np.linspace(0, 2, 25)
    beat = 0.55 * np.sin(2 * np.pi * times)
    turns = [None, *(np.stack([0 * beat, 0 * beat, np.sin(side * beat / 2), np.cos(beat / 2)], 1) for side in (1, -1))]
    return glb([(part, (1.0, 1.0, 1.0)) for part in parts], times, turns, washi())


def sheet(points: np.ndarray, faces: np.ndarray, parts: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return folded paper with each triangle divided into parts² ones; the pattern lies over it as seen from above."""
    collected, corners = [], []
    for face in faces:
        a, b, c = points[face]
        spot = lambda i, j, a=a, b=b, c=c: a + (b - a) * i / parts + (c - a) * j / parts
        for i in range(parts):
            for j in range(parts - i):
                collected.append([spot(i, j), spot(i + 1, j), spot(i, j + 1)])
                if j < parts - i - 1:
                    collected.append([spot(i + 1, j), spot(i + 1, j + 1), spot(i, j + 1)])
    corners = np.array(collected).reshape(-1, 3)
    unique, index = np.unique(corners.round(7), axis=0, return_inverse=True)
    return (
        unique,
        np.stack([unique[:, 0] * 1.7 + 0.5, unique[:, 2] * 1.7 + unique[:, 1] + 0.5], 1),
        index.reshape(-1, 3),
    )


def reeds() -> bytes:
    """Reeds by the landing, about 1.4 m high: bent blades of four pieces, in three greens."""
    rng = np.random.default_rng(3)
    kinds: list[list[np.ndarray]] = [[], [], []]
    for k in range(54):
        x, z = rng.uniform(-2.2, 1.6), rng.uniform(-0.7, 0.5)
        height, lean, direction = rng.uniform(0.8, 1.45), rng.uniform(0.1, 0.5), rng.uniform(0, 2 * math.pi)
        across = np.array([math.cos(direction + 1.57), 0, math.sin(direction + 1.57)]) * rng.uniform(0.008, 0.016)
        line = [
            np.array(
                [
                    x + math.cos(direction) * lean * t * t * height,
                    height * t * (1 - 0.18 * lean * t),
                    z + math.sin(direction) * lean * t * t * height,
                ]
            )
            for t in np.linspace(0, 1, 5)
        ]
        for t, (low, high) in enumerate(itertools.pairwise(line)):
            w, v = across * (1 - t / 4.2), across * (1 - (t + 1) / 4.2)
            kinds[k % 3] += [np.array([low - w, low + w, high + v]), np.array([low - w, high + v, high - v])]
    greens = ((0.07, 0.11, 0.04), (0.1, 0.12, 0.04), (0.05, 0.085, 0.045))
    parts = []
    for triangles, green in zip(kinds, greens, strict=True):
        points = np.concatenate(triangles)
        parts.append(
            (
                (
                    points,
                    np.stack([points[:, 0] * 0.2 + 0.5, points[:, 1] / 1.5], 1),
                    np.arange(len(points)).reshape(-1, 3),
                ),
                green,
            )
        )
    return glb(parts)


def glb(
    parts: list[Any], times: np.ndarray | None = None, turns: list[Any] | None = None, picture: bytes | None = None
) -> bytes:
    """Return a GLB of parts ((points, uv, faces), linear colour), each a node; turns: of each node its quaternions at
    `times`; picture: PNG that all materials show."""
    blob = b""
    views: list[dict[str, Any]] = []
    accessors: list[dict[str, Any]] = []

    def put(array: np.ndarray, component: int, kind: str) -> int:
        nonlocal blob
        data = array.tobytes()
        views.append({"buffer": 0, "byteOffset": len(blob), "byteLength": len(data)})
        message: dict[str, Any] = {
            "bufferView": len(views) - 1,
            "componentType": component,
            "count": len(array),
            "type": kind,
        }
        if kind in ("VEC3", "SCALAR"):
            message |= {
                "min": np.atleast_1d(array.min(axis=0)).tolist(),
                "max": np.atleast_1d(array.max(axis=0)).tolist(),
            }
        accessors.append(message)
        blob += data + b"\0" * (-len(data) % 4)
        return len(accessors) - 1

    meshes, materials = [], []
    for (points, uv, faces), colour in parts:
        down = np.column_stack([uv[:, 0], 1 - uv[:, 1]])
        attributes = {
            "POSITION": put(points.astype("<f4"), 5126, "VEC3"),
            "TEXCOORD_0": put(down.astype("<f4"), 5126, "VEC2"),
        }
        meshes.append(
            {
                "primitives": [
                    {
                        "attributes": attributes,
                        "indices": put(faces.astype("<u2").reshape(-1), 5123, "SCALAR"),
                        "material": len(materials),
                    }
                ]
            }
        )
        surface: dict[str, Any] = {"baseColorFactor": [*colour, 1], "metallicFactor": 0}
        if picture is not None:
            surface["baseColorTexture"] = {"index": 0}
        materials.append({"pbrMetallicRoughness": surface, "doubleSided": True})
    collected: dict[str, Any] = {
        "asset": {"version": "2.0", "generator": "Kagero demo"},
        "scene": 0,
        "scenes": [{"nodes": list(range(len(parts)))}],
        "nodes": [{"mesh": k} for k in range(len(parts))],
        "meshes": meshes,
        "materials": materials,
    }
    if times is not None and turns is not None:
        clock = put(times.astype("<f4"), 5126, "SCALAR")
        samplers, channels = [], []
        for node, turn in enumerate(turns):
            if turn is not None:
                channels.append({"sampler": len(samplers), "target": {"node": node, "path": "rotation"}})
                samplers.append(
                    {"input": clock, "output": put(turn.astype("<f4"), 5126, "VEC4"), "interpolation": "LINEAR"}
                )
        collected["animations"] = [{"samplers": samplers, "channels": channels}]
    if picture is not None:
        views.append({"buffer": 0, "byteOffset": len(blob), "byteLength": len(picture)})
        blob += picture + b"\0" * (-len(picture) % 4)
        collected |= {"images": [{"bufferView": len(views) - 1, "mimeType": "image/png"}], "textures": [{"source": 0}]}
    collected |= {"bufferViews": views, "accessors": accessors, "buffers": [{"byteLength": len(blob)}]}
    text = json.dumps(collected, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    return (
        b"glTF"
        + struct.pack("<II", 2, 28 + len(text) + len(blob))
        + struct.pack("<I", len(text))
        + b"JSON"
        + text
        + struct.pack("<I", len(blob))
        + b"BIN\0"
        + blob
    )


FILES = {
    "lantern.glb": lantern,
    "hull.glb": hull,
    "crane.glb": crane,
    "window.png": window,
    "pane.png": pane,
    "frost.png": frost,
    "river-dusk.png": river,
    "paper-crane.glb": paper_crane,
    "reeds.glb": reeds,
}


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name, make in FILES.items():
        (FOLDER / name).write_bytes(make())


if __name__ == "__main__":
    main()
