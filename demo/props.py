"""The Lantern Ferry's own props, made by code: `python -m demo.props` writes them into demo/props.

Lantern, ferry hull and a paper crane whose wings beat, as GLB; the cabin window as a picture. The bell, the rope and the
ferry's name stand in the effects themselves, as a funnel, a path and words.
"""

from __future__ import annotations

import io
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
    ribs = [(0.1 + 0.045 * math.sin(math.pi * t) + (0.004 if k % 2 else 0), 0.02 + 0.28 * t) for k, t in enumerate(np.linspace(0, 1, 23))]
    rim = [(0.085, 0.0), (0.105, 0.0), (0.105, 0.025), (0.085, 0.025)]
    top = [(0.085, 0.295), (0.105, 0.295), (0.105, 0.32), (0.02, 0.335), (0.0, 0.335)]
    return glb([(lathe(ribs), (0.85, 0.42, 0.13)), (lathe(rim), (0.05, 0.035, 0.03)), (lathe(top), (0.05, 0.035, 0.03))])


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
    body = [[0, 0, 0.04], [0, 0.02, -0.1], [0.028, -0.03, -0.02], [-0.028, -0.03, -0.02], [0, 0.09, 0.16], [0, 0.12, -0.24], [0, 0.075, 0.21]]
    faces = [[0, 2, 1], [0, 1, 3], [2, 3, 1], [0, 3, 2], [0, 2, 4], [0, 4, 3], [1, 5, 2], [1, 3, 5], [4, 6, 0]]
    wing = np.array([[0, 0.01, 0.06], [0, 0.01, -0.09], [0.25, 0.03, -0.03], [0.12, 0.035, 0.02]])
    times = np.linspace(0, 2, 25)
    beat = 0.55 * np.sin(2 * np.pi * times)
    uv = lambda p: np.stack([p[:, 0] * 2 + 0.5, p[:, 2] * 2 + 0.5], 1)
    paper = (0.82, 0.76, 0.66)
    points = np.array(body, float)
    left, right = wing, wing * np.array([-1, 1, 1])
    parts = [((points, uv(points), np.array(faces)), paper), ((left, uv(left), np.array([[0, 2, 3], [0, 1, 2]])), paper),
             ((right, uv(right), np.array([[0, 3, 2], [0, 2, 1]])), paper)]  # fmt: skip
    turns = [None, *(np.stack([0 * beat, 0 * beat, np.sin(side * beat / 2), np.cos(beat / 2)], 1) for side in (1, -1))]
    return glb(parts, times, turns)


def window() -> bytes:
    """The cabin window, 384 x 256: frost that grows from the edges, brighter where it is thicker; alpha is the pane."""
    rng = np.random.default_rng(17)
    y, x = np.mgrid[0:256, 0:384] / 256.0
    edge = np.minimum(np.minimum(x, 1.5 - x), np.minimum(y, 1 - y))
    frost = np.clip(1.05 - 3.2 * edge, 0, 1)
    for k in range(70):  # ferns: lines of stars that branch from the rim
        angle, cx, cy = rng.uniform(0, 2 * np.pi), rng.choice([0, 1.5]) if k % 2 else rng.uniform(0, 1.5), rng.uniform(0, 1) if k % 2 else rng.choice([0, 1])
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


def glb(parts: list[Any], times: np.ndarray | None = None, turns: list[Any] | None = None) -> bytes:
    """Return a GLB of parts ((points, uv, faces), linear colour), each a node; turns: of each node its quaternions at `times`."""
    blob = b""
    views: list[dict[str, Any]] = []
    accessors: list[dict[str, Any]] = []

    def put(array: np.ndarray, component: int, kind: str) -> int:
        nonlocal blob
        data = array.tobytes()
        views.append({"buffer": 0, "byteOffset": len(blob), "byteLength": len(data)})
        said: dict[str, Any] = {"bufferView": len(views) - 1, "componentType": component, "count": len(array), "type": kind}
        if kind in ("VEC3", "SCALAR"):
            said |= {"min": np.atleast_1d(array.min(axis=0)).tolist(), "max": np.atleast_1d(array.max(axis=0)).tolist()}
        accessors.append(said)
        blob += data + b"\0" * (-len(data) % 4)
        return len(accessors) - 1

    meshes, materials = [], []
    for (points, uv, faces), colour in parts:
        down = np.column_stack([uv[:, 0], 1 - uv[:, 1]])
        attributes = {"POSITION": put(points.astype("<f4"), 5126, "VEC3"), "TEXCOORD_0": put(down.astype("<f4"), 5126, "VEC2")}
        meshes.append({"primitives": [{"attributes": attributes, "indices": put(faces.astype("<u2").reshape(-1), 5123, "SCALAR"), "material": len(materials)}]})
        materials.append({"pbrMetallicRoughness": {"baseColorFactor": [*colour, 1], "metallicFactor": 0}, "doubleSided": True})
    made: dict[str, Any] = {"asset": {"version": "2.0", "generator": "Kagero demo"}, "scene": 0, "scenes": [{"nodes": list(range(len(parts)))}],
                            "nodes": [{"mesh": k} for k in range(len(parts))], "meshes": meshes, "materials": materials}  # fmt: skip
    if times is not None and turns is not None:
        clock = put(times.astype("<f4"), 5126, "SCALAR")
        samplers, channels = [], []
        for node, turn in enumerate(turns):
            if turn is not None:
                channels.append({"sampler": len(samplers), "target": {"node": node, "path": "rotation"}})
                samplers.append({"input": clock, "output": put(turn.astype("<f4"), 5126, "VEC4"), "interpolation": "LINEAR"})
        made["animations"] = [{"samplers": samplers, "channels": channels}]
    made |= {"bufferViews": views, "accessors": accessors, "buffers": [{"byteLength": len(blob)}]}
    text = json.dumps(made, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    return b"glTF" + struct.pack("<II", 2, 28 + len(text) + len(blob)) + struct.pack("<I", len(text)) + b"JSON" + text + struct.pack("<I", len(blob)) + b"BIN\0" + blob


FILES = {"lantern.glb": lantern, "hull.glb": hull, "crane.glb": crane, "window.png": window}


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name, make in FILES.items():
        (FOLDER / name).write_bytes(make())


if __name__ == "__main__":
    main()
