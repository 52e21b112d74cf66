"""Meshes that cannot be used, and why."""

from __future__ import annotations

import json
import struct

import trimesh


def altered(**changes) -> bytes:
    """A good GLB with changes to its description."""
    data = trimesh.creation.box().export(file_type="glb")
    size = struct.unpack_from("<I", data, 12)[0]
    message = {**json.loads(data[20 : 20 + size]), **changes}
    text = json.dumps(message).encode()
    text += b" " * (-len(text) % 4)
    rest = data[20 + size :]
    return (
        b"glTF"
        + struct.pack("<II", 2, 20 + len(text) + len(rest))
        + struct.pack("<I", len(text))
        + b"JSON"
        + text
        + rest
    )


BOX = trimesh.creation.box()


BAD = [
    ("empty.obj", b"", "is empty"),
    ("words.obj", b"hello", "has no triangles"),
    ("cut.glb", BOX.export(file_type="glb")[:-40], "cut off"),
    ("cut.stl", BOX.export(file_type="stl")[:-10], "bytes for"),
    ("cut.ply", BOX.export(file_type="ply")[:-30], "cut off or damaged"),
    ("nan.obj", b"v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", "are no numbers"),
    (
        "inf.ply",
        b"ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face "
        b"1\n"
        b"property list uchar int vertex_indices\nend_header\ninf 0 0\n1 0 0\n0 1 0\n3 0 1 2\n",
        "are no numbers",
    ),
    ("flat.obj", b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n", "have no area"),
    ("points.obj", b"v 0 0 0\nv 1 0 0\n", "has no triangles"),
    ("beyond.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", ""),
    ("far.obj", b"v 0 0 0\nv 1e9 0 0\nv 0 1 0\nf 1 2 3\n", "from its origin"),
    ("really-a-picture.obj", b"\x89PNG\r\n\x1a\n" + bytes(200), "holds something else"),
    ("what.xyz", b"\x00\x01\x02", "no mesh that can be read"),
    (
        "lies.ply",
        b"ply\nformat binary_little_endian 1.0\nelement vertex 4000000000\nproperty float x\nproperty float "
        b"y\nproperty float z\nend_header\n",
        "",
    ),
    ("lies.stl", bytes(80) + struct.pack("<I", 0xFFFFFFFF) + bytes(100), "bytes for"),
    ("outside.glb", altered(buffers=[{"byteLength": 1, "uri": "/etc/passwd"}]), "points to files outside"),
    ("away.glb", altered(images=[{"uri": "http://example.org/a.png"}]), "points to files outside"),
    (
        "huge-count.glb",
        altered(accessors=[{"componentType": 5126, "type": "VEC3", "count": 2**40, "bufferView": 0}] * 4),
        "more values",
    ),
    ("packed.glb", altered(extensionsRequired=["KHR_draco_mesh_compression"]), "needs KHR_draco"),
    (
        "circle.glb",
        altered(nodes=[{"children": [1], "mesh": 0}, {"children": [0]}], scenes=[{"nodes": [0]}]),
        "in a circle",
    ),
    ("no-json.glb", b"glTF" + struct.pack("<II", 2, 24) + struct.pack("<I", 4) + b"JSON" + b"{{{{", "not JSON"),
    (
        "deep.glb",
        b"glTF" + struct.pack("<II", 2, 20 + 100_000) + struct.pack("<I", 100_000) + b"JSON" + b"[" * 100_000,
        "",
    ),
]
