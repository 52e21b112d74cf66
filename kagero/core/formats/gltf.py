"""GLB in: meshes with materials, node and skin animation baked to frames, cameras. glTF 2.0 specification, version
2.0.1 (Khronos).

Everything must stand inside the file: what points outside is refused, and no address is ever opened.
"""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..errors import GeometryProblem
from ..geometry import Mesh
from .cameras import FileCamera

MOST_NODES, MOST_KEYS, MOST_FRAMES = 20_000, 200_000, 1200
FRAME = 1 / 60  # seconds between baked frames
MOST_BYTES = 768 * 1024 * 1024  # of baked frames
_TYPES = {5120: "i1", 5121: "u1", 5122: "<i2", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
_WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}
_REST = {"translation": (0.0, 0.0, 0.0), "rotation": (0.0, 0.0, 0.0, 1.0), "scale": (1.0, 1.0, 1.0)}
_NORMAL = {5120: 127.0, 5121: 255.0, 5122: 32767.0, 5123: 65535.0}


@dataclass(frozen=True)
class Gltf:
    mesh: Mesh
    cameras: tuple[FileCamera, ...]
    images: tuple[bytes, ...]


def sample(times: np.ndarray, values: np.ndarray, how: str, at: float, rotation: bool = False) -> np.ndarray:
    """Return an animation channel's value at a time, by the specification's rules (3.11 and appendix C).

    times: (K,) ascending seconds. values: (K, C), or for CUBICSPLINE (K, 3, C): in-tangent, value, out-tangent. Before
    the first key and after the last they hold. STEP, LINEAR (rotations by spherical interpolation the short way) or
    CUBICSPLINE (normalised for rotations).
    """
    last = len(times) - 1
    k = int(np.searchsorted(times, at, side="right")) - 1
    if k < 0 or k >= last:
        edge = values[0 if k < 0 else last]
        return (edge[1] if how == "CUBICSPLINE" else edge).astype(np.float64)
    span = float(times[k + 1] - times[k])
    t = (at - float(times[k])) / span
    if how == "STEP":
        return values[k].astype(np.float64)
    if how == "CUBICSPLINE":
        v0, out0, into1, v1 = values[k][1], values[k][2] * span, values[k + 1][0] * span, values[k + 1][1]
        value = (
            (2 * t**3 - 3 * t**2 + 1) * v0
            + (t**3 - 2 * t**2 + t) * out0
            + (-2 * t**3 + 3 * t**2) * v1
            + (t**3 - t**2) * into1
        )
        return _unit(value) if rotation else value.astype(np.float64)
    a, b = values[k].astype(np.float64), values[k + 1].astype(np.float64)
    if not rotation:
        return a * (1 - t) + b * t
    dot = float(a @ b)
    if dot < 0:
        b, dot = -b, -dot
    if dot > 0.9995:
        return _unit(a * (1 - t) + b * t)
    angle = math.acos(min(dot, 1.0))
    return (a * math.sin((1 - t) * angle) + b * math.sin(t * angle)) / math.sin(angle)


def _unit(q: np.ndarray) -> np.ndarray:
    length = float(np.linalg.norm(q))
    return q / length if length > 0 else np.array([0.0, 0.0, 0.0, 1.0])


def matrix(translation: Any, rotation: Any, scale: Any) -> np.ndarray:
    """Return T R S as a (4, 4) matrix; rotation: a unit quaternion (x, y, z, w)."""
    x, y, z, w = rotation
    turned = np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
    )
    transform = np.eye(4)
    transform[:3, :3] = turned * np.asarray(scale, np.float64)
    transform[:3, 3] = translation
    return transform


def read_glb(data: bytes) -> Gltf:
    """Return what a GLB holds. Raises GeometryProblem, which says what is wrong."""
    try:
        return _Reader(data).read()
    except (KeyError, IndexError, TypeError, ValueError, RecursionError, OverflowError) as problem:
        raise GeometryProblem(
            "This GLB is damaged: a part that it names is missing or does not fit.", remedy="Export it again."
        ) from problem


class _Reader:
    def __init__(self, data: bytes):
        if len(data) < 20 or data[:4] != b"glTF":
            raise GeometryProblem(
                "This is no GLB: it does not begin with glTF.", remedy="Export it as binary glTF (.glb)."
            )
        version, length = int.from_bytes(data[4:8], "little"), int.from_bytes(data[8:12], "little")
        if version != 2 or length != len(data):
            words = f"This GLB is cut off or of another version: it says {length:,} bytes, version {version}."
            raise GeometryProblem(words, remedy="Export it again.")
        chunks: dict[bytes, bytes] = {}
        at = 12
        while at + 8 <= len(data):
            size, kind = int.from_bytes(data[at : at + 4], "little"), data[at + 4 : at + 8]
            if at + 8 + size > len(data):
                raise GeometryProblem("This GLB is cut off.", remedy="Export it again.")
            chunks.setdefault(kind, data[at + 8 : at + 8 + size])
            at += 8 + size
        try:
            self.json: dict[str, Any] = json.loads(chunks.get(b"JSON", b""))
        except (ValueError, RecursionError) as problem:
            raise GeometryProblem(
                "The description inside this GLB is not JSON.", remedy="Export it again."
            ) from problem
        if not isinstance(self.json, dict) or not isinstance(self.json.get("asset"), dict):
            raise GeometryProblem("This GLB has no description.", remedy="Export it again.")
        self.binary = chunks.get(b"BIN\0", b"")
        if any("uri" in part for name in ("buffers", "images") for part in self.json.get(name, [])):
            raise GeometryProblem(
                "This GLB points to files outside itself.", remedy="Export it with everything embedded."
            )
        needed = set(self.json.get("extensionsRequired", [])) - {
            "KHR_materials_unlit",
            "KHR_texture_transform",
            "KHR_mesh_quantization",
            "KHR_materials_emissive_strength",
        }
        if needed:
            raise GeometryProblem(
                f"This GLB needs {', '.join(sorted(map(str, needed)))[:80]}.", remedy="Export it without compression."
            )
        self.nodes = self.json.get("nodes", [])
        if len(self.nodes) > MOST_NODES:
            raise GeometryProblem(
                f"This GLB has {len(self.nodes):,} nodes; {MOST_NODES:,} are allowed.", remedy="Join its parts."
            )

    def array(self, index: int) -> np.ndarray:
        """Return an accessor as (count, width), float64 where it is normalised."""
        accessor = self.json["accessors"][index]
        kind, width, count = accessor["componentType"], _WIDTHS[accessor["type"]], int(accessor["count"])
        dtype = np.dtype(_TYPES[kind])
        if count < 0 or (count * width * dtype.itemsize > len(self.binary) + 64 and "bufferView" in accessor):
            raise GeometryProblem("This GLB says it has more values than it has bytes.", remedy="Export it again.")
        if "bufferView" not in accessor:
            if count > 4_000_000:
                raise GeometryProblem("This GLB says it has more values than it has bytes.", remedy="Export it again.")
            values = np.zeros((count, width), dtype)
        else:
            values = self._view(accessor["bufferView"], int(accessor.get("byteOffset", 0)), dtype, width, count)
        if "sparse" in accessor:
            sparse = accessor["sparse"]
            values = values.copy()
            n = int(sparse["count"])
            at, given = sparse["indices"], sparse["values"]
            where = self._view(
                at["bufferView"], int(at.get("byteOffset", 0)), np.dtype(_TYPES[at["componentType"]]), 1, n
            )
            values[where[:, 0]] = self._view(given["bufferView"], int(given.get("byteOffset", 0)), dtype, width, n)
        if accessor.get("normalized") and kind in _NORMAL:
            return np.maximum(values.astype(np.float64) / _NORMAL[kind], -1)
        return values

    def _view(self, index: int, offset: int, dtype: np.dtype[Any], width: int, count: int) -> np.ndarray:
        view = self.json["bufferViews"][index]
        start, size = int(view.get("byteOffset", 0)), int(view["byteLength"])
        step = int(view.get("byteStride", 0)) or dtype.itemsize * width
        need = offset + (count - 1) * step + dtype.itemsize * width if count else 0
        if start < 0 or offset < 0 or need > size or start + size > len(self.binary) or step < dtype.itemsize * width:
            raise GeometryProblem("A part of this GLB lies outside its bytes.", remedy="Export it again.")
        if not count:
            return np.zeros((0, width), dtype)
        raw = np.frombuffer(self.binary, np.uint8, need - offset, start + offset)
        rows = np.lib.stride_tricks.as_strided(raw, (count, dtype.itemsize * width), (step, 1))
        return np.ascontiguousarray(rows).view(dtype).reshape(count, width)

    # the scene ------------------------------------------------------------------------------------------------------
    def read(self) -> Gltf:
        order, parents = self._order()
        channels, length = self._channels()
        frames = min(MOST_FRAMES, math.ceil(length / FRAME - 1e-9) + 1) if length > 0 else 1
        times = np.linspace(0, length, frames) if frames > 1 else np.zeros(1)
        parts = self._parts(order)
        total = sum(len(part["points"]) for part in parts)
        if total * frames * 12 > MOST_BYTES:
            raise GeometryProblem(
                f"This animation of {total:,} points over {frames:,} frames is too large.",
                remedy="Shorten it, or thin the mesh.",
            )
        points = np.empty((frames, total, 3), np.float32)
        places = np.empty((frames, len(self.nodes), 4, 4))
        for f, t in enumerate(times):
            places[f] = self._places(order, parents, channels, float(t))
            start = 0
            for part in parts:
                stop = start + len(part["points"])
                points[f, start:stop] = self._moved(part, places[f])
                start = stop
        return Gltf(self._mesh(parts, points, times, places[0]), self._cameras(places, times), self._images())

    def _order(self) -> tuple[list[int], dict[int, int]]:
        """Return the nodes of the scene, parents first, and each one's parent."""
        scenes = self.json.get("scenes") or [{"nodes": list(range(len(self.nodes)))}]
        waiting = [(int(n), -1) for n in reversed(scenes[int(self.json.get("scene", 0))].get("nodes", []))]
        order: list[int] = []
        parents: dict[int, int] = {}
        while waiting:
            node, parent = waiting.pop()
            if node in parents:
                raise GeometryProblem("Nodes of this GLB hang on each other in a circle.", remedy="Export it again.")
            parents[node] = parent
            order.append(node)
            waiting.extend((int(child), node) for child in reversed(self.nodes[node].get("children", [])))
        return order, parents

    def _channels(self) -> tuple[dict[tuple[int, str], tuple[np.ndarray, np.ndarray, str]], float]:
        """Return the first animation's channels by node and path, and how long it lasts."""
        found: dict[tuple[int, str], tuple[np.ndarray, np.ndarray, str]] = {}
        length = 0.0
        for channel in (self.json.get("animations") or [{"channels": []}])[0]["channels"]:
            target, sampler = channel["target"], self.json["animations"][0]["samplers"][channel["sampler"]]
            path = target.get("path")
            if "node" not in target or path not in ("translation", "rotation", "scale"):
                continue
            times = self.array(sampler["input"])[:, 0].astype(np.float64)
            values = self.array(sampler["output"]).astype(np.float64)
            how = sampler.get("interpolation", "LINEAR")
            numbers = np.isfinite(times).all() and np.isfinite(values).all()
            if not len(times) or len(times) > MOST_KEYS or not numbers or (np.diff(times) <= 0).any():
                raise GeometryProblem(
                    "The animation in this GLB has keys out of order or that are no numbers.", remedy="Export it again."
                )
            if how == "CUBICSPLINE":
                values = values.reshape(len(times), 3, -1)
            found[int(target["node"]), path] = (times, values, how)
            length = max(length, float(times[-1]))
        return found, length

    def _places(self, order: list[int], parents: dict[int, int], channels: Any, t: float) -> np.ndarray:
        world = np.broadcast_to(np.eye(4), (len(self.nodes), 4, 4)).copy()
        for node in order:
            description = self.nodes[node]
            if "matrix" in description:
                local = np.asarray(description["matrix"], np.float64).reshape(4, 4).T
            else:
                values: dict[str, Any] = {path: description.get(path, rest) for path, rest in _REST.items()}
                for path in values:
                    channel = channels.get((node, path))
                    if channel is not None:
                        times, keys, how = channel
                        values[path] = sample(times, keys, how, t, path == "rotation")
                local = matrix(values["translation"], values["rotation"], values["scale"])
            world[node] = local if parents[node] < 0 else world[parents[node]] @ local
        return world

    def _parts(self, order: list[int]) -> list[dict[str, Any]]:
        parts = []
        for node in order:
            if "mesh" not in self.nodes[node]:
                continue
            for primitive in self.json["meshes"][int(self.nodes[node]["mesh"])]["primitives"]:
                if primitive.get("mode", 4) != 4 or "POSITION" not in primitive["attributes"]:
                    continue
                given = primitive["attributes"]
                points = self.array(given["POSITION"]).astype(np.float64)
                faces = (
                    self.array(primitive["indices"])[:, 0].astype(np.int64)
                    if "indices" in primitive
                    else np.arange(len(points))
                )
                if len(faces) and faces.max() >= len(points):
                    raise GeometryProblem(
                        "Triangles of this GLB name points that are not there.", remedy="Export it again."
                    )
                part: dict[str, Any] = {
                    "node": node,
                    "points": points,
                    "faces": faces[: len(faces) // 3 * 3].reshape(-1, 3),
                    "uv": self.array(given["TEXCOORD_0"]) if "TEXCOORD_0" in given else np.zeros((len(points), 2)),
                    "normals": self.array(given["NORMAL"]) if "NORMAL" in given else None,
                    "material": int(primitive.get("material", -1)),
                }
                if "skin" in self.nodes[node] and "JOINTS_0" in given and "WEIGHTS_0" in given:
                    skin = self.json["skins"][int(self.nodes[node]["skin"])]
                    part["joints"] = np.asarray(skin["joints"], np.int64)[
                        self.array(given["JOINTS_0"]).astype(np.int64)
                    ]
                    part["weights"] = self.array(given["WEIGHTS_0"]).astype(np.float64)
                    unbound = np.tile(np.eye(4).ravel(), (len(skin["joints"]), 1))
                    bind = self.array(skin["inverseBindMatrices"]) if "inverseBindMatrices" in skin else unbound
                    part["bind"] = {
                        int(j): bind[k].astype(np.float64).reshape(4, 4).T for k, j in enumerate(skin["joints"])
                    }
                parts.append(part)
        return parts

    def _moved(self, part: dict[str, Any], places: np.ndarray) -> np.ndarray:
        points = np.column_stack([part["points"], np.ones(len(part["points"]))])
        if "joints" not in part:
            return (points @ places[part["node"]].T)[:, :3]
        lookup = np.broadcast_to(np.eye(4), (len(self.nodes), 4, 4)).copy()
        for joint, bind in part["bind"].items():
            lookup[joint] = places[joint] @ bind
        total = np.maximum(part["weights"].sum(axis=1, keepdims=True), 1e-12)
        blended = np.einsum("nj,njab->nab", part["weights"] / total, lookup[part["joints"]])
        return np.einsum("nab,nb->na", blended, points)[:, :3]

    def _mesh(self, parts: list[dict[str, Any]], frames: np.ndarray, times: np.ndarray, places: np.ndarray) -> Mesh:
        """Return the parts of a scene as one mesh.

        parts: per primitive its points, faces, uv and material. frames: (T, V, 3), metres in the file's units, of all
        parts concatenated; times: (T,) seconds. places: (V,), the original vertex of each point.
        """
        if not parts:
            return Mesh.of(np.zeros((0, 3)), np.zeros((0, 3)))
        starts = np.cumsum([0, *(len(p["points"]) for p in parts)])
        faces = np.concatenate([p["faces"] + s for p, s in zip(parts, starts, strict=False)])
        materials = self.json.get("materials", [])
        colours, pictures = [np.ones(3)], [-1]
        surfaces, others = [[1.0, 0.0, 0.0, 0.0, 0.0]], [[-1, -1]]
        for material in materials:
            rough = material.get("pbrMetallicRoughness", {})
            colours.append(np.asarray(rough.get("baseColorFactor", (1, 1, 1, 1)), np.float64)[:3])
            texture = rough.get("baseColorTexture", {}).get("index", -1)
            pictures.append(self._image(texture))
            strength = float(
                material.get("extensions", {}).get("KHR_materials_emissive_strength", {}).get("emissiveStrength", 1.0)
            )
            glow = [float(light) * strength for light in material.get("emissiveFactor", (0, 0, 0))]
            surfaces.append([float(rough.get("roughnessFactor", 1)), float(rough.get("metallicFactor", 1)), *glow])
            others.append(
                [
                    self._image(rough.get("metallicRoughnessTexture", {}).get("index", -1)),
                    self._image(material.get("emissiveTexture", {}).get("index", -1)),
                ]
            )
        if any(not -1 <= p["material"] < len(materials) for p in parts):
            raise GeometryProblem("Triangles of this GLB name a material that is not there.", remedy="Export it again.")
        made_of = np.asarray(surfaces, np.float32)
        if made_of.shape[1:] != (5,) or not np.isfinite(made_of).all() or not np.isfinite(np.asarray(colours)).all():
            raise GeometryProblem(
                "A material of this GLB has a colour or a surface that is no number.", remedy="Export it again."
            )
        material = np.concatenate([np.full(len(p["faces"]), p["material"] + 1) for p in parts])
        uv = np.concatenate([np.asarray(p["uv"], np.float64)[:, :2] for p in parts])
        uv = np.column_stack([uv[:, 0], 1 - uv[:, 1]])  # in glTF v goes down
        normals = None
        if all(p["normals"] is not None and "joints" not in p for p in parts):
            normals = np.concatenate(
                [np.asarray(p["normals"], np.float64) @ np.linalg.pinv(places[p["node"]][:3, :3]) for p in parts]
            )
        moving = len(frames) > 1 and bool((frames != frames[0]).any())
        return Mesh(
            np.ascontiguousarray(frames[0]),
            faces.astype(np.int32),
            uv.astype(np.float32),
            material.astype(np.int16),
            np.asarray(colours, np.float32),
            tuple(pictures),
            frames if moving else None,
            times if moving else None,
            normals.astype(np.float32) if normals is not None and not moving else None,
            (),
            np.clip(made_of, 0, [1, 1, 1e4, 1e4, 1e4]),
            np.asarray(others, np.int32),
        )

    def _image(self, texture: int) -> int:
        """Return which image a texture is of; -1 for none."""
        return int(self.json["textures"][texture].get("source", -1)) if texture >= 0 else -1

    def _cameras(self, places: np.ndarray, times: np.ndarray) -> tuple[FileCamera, ...]:
        found: list[FileCamera] = []
        for node, description in enumerate(self.nodes):
            if "camera" not in description:
                continue
            camera = self.json["cameras"][int(description["camera"])]
            lens = camera.get("perspective", {}).get("yfov")
            view = None if lens is None else float(lens)
            orthographic = (
                "it sees without perspective in this file, which there is not here."
                if camera.get("type") == "orthographic"
                else ""
            )
            name = str(description.get("name") or camera.get("name") or f"Camera {len(found) + 1}")[:80]
            if not (math.isfinite(view or 0) and np.isfinite(places[:, node]).all()):
                raise GeometryProblem(
                    f"The camera {name!r} of this GLB stands or looks where there are no numbers.",
                    remedy="Export it again.",
                )
            found.append(FileCamera(name, view, times, places[:, node], orthographic))
        return tuple(found)

    def _images(self) -> tuple[bytes, ...]:
        found = []
        for image in self.json.get("images", [])[:64]:
            view = self.json["bufferViews"][int(image["bufferView"])]
            start = int(view.get("byteOffset", 0))
            found.append(self.binary[start : start + int(view["byteLength"])])
        return tuple(found)
