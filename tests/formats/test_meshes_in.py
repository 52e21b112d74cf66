"""Meshes from files: written by independent libraries, read here; the glTF specification's sampling rules; what bad
files lead to."""

from __future__ import annotations

import io
import math
import struct
import tempfile
import unittest

import numpy as np
import OpenEXR
import plyfile
import pygltflib
import trimesh
from PIL import Image
from scipy.interpolate import CubicHermiteSpline
from scipy.spatial.transform import Rotation, Slerp

from kagero.core.errors import GeometryProblem
from kagero.core.formats.gltf import read_glb, sample
from kagero.core.formats.importing import from_arrays, import_file
from kagero.core.formats.meshes import read_mesh
from kagero.core.formats.pictures import read_picture
from tests.making.bad_files import BAD


def lump() -> trimesh.Trimesh:
    ball = trimesh.creation.icosphere(2)
    ball.vertices *= [1, 2, 0.5]
    return ball


def srgb(values) -> np.ndarray:
    """Linear light of 0..255, IEC 61966-2-1."""
    x = np.asarray(values) / 255
    return np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4)


def surface(points, faces) -> np.ndarray:
    """The triangles as a set that does not depend on how points are numbered."""
    corners = np.asarray(points, float)[np.asarray(faces)].round(4).reshape(len(faces), -1)
    return np.unique(corners, axis=0)


class Formats(unittest.TestCase):
    def test_each_is_read_as_another_library_wrote_it(self):
        result = lump()
        for kind in ("obj", "ply", "stl", "glb"):
            data = result.export(file_type=kind)
            mesh = read_mesh(f"lump.{kind}", data.encode() if isinstance(data, str) else data)
            self.assertEqual(len(mesh.faces), len(result.faces))
            self.assertAlmostEqual(float(mesh.areas.sum()), result.area, places=3)
            np.testing.assert_allclose(mesh.bounds, result.bounds, atol=1e-5)
            self.assertTrue(mesh.is_closed)
            if kind in ("ply", "glb"):
                np.testing.assert_array_equal(surface(mesh.points, mesh.faces), surface(result.vertices, result.faces))
        ascii_stl = trimesh.exchange.stl.export_stl_ascii(result).encode()
        self.assertEqual(len(read_mesh("lump.stl", ascii_stl).faces), len(result.faces))

    def test_files_that_other_writers_made(self):
        result = lump()
        corners = result.triangles.astype("<f4")
        records = np.zeros(len(corners), np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("spare", "<u2")]))
        records["corners"] = corners
        mesh = read_mesh("by-hand.stl", bytes(80) + struct.pack("<I", len(corners)) + records.tobytes())
        np.testing.assert_array_equal(surface(mesh.points, mesh.faces), surface(result.vertices, result.faces))
        vertex = np.zeros(len(result.vertices), [("x", "f4"), ("y", "f4"), ("z", "f4")])
        for k, axis in enumerate("xyz"):
            vertex[axis] = result.vertices[:, k]
        face = np.zeros(len(result.faces), [("vertex_indices", "i4", (3,))])
        face["vertex_indices"] = result.faces
        for text in (True, False):
            stream = io.BytesIO()
            plyfile.PlyData(
                [plyfile.PlyElement.describe(vertex, "vertex"), plyfile.PlyElement.describe(face, "face")], text=text
            ).write(stream)
            mesh = read_mesh("by-plyfile.ply", stream.getvalue())
            np.testing.assert_array_equal(surface(mesh.points, mesh.faces), surface(result.vertices, result.faces))
        stream = io.BytesIO()
        plyfile.PlyData([plyfile.PlyElement.describe(vertex, "vertex")]).write(stream)
        arrays, facts = import_file("cloud.ply", stream.getvalue())
        self.assertEqual(facts["kind"], "points")
        np.testing.assert_allclose(arrays["cloud"], result.vertices, atol=1e-6)

    def test_pictures_of_eight_and_sixteen_bits_and_exr(self):
        values = np.linspace(0, 1, 48, dtype=np.float32).reshape(4, 12)
        linear = np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)
        for depth, kind, most in ((np.uint8, "L", 255), (np.uint16, "I;16", 65535)):
            stream = io.BytesIO()
            Image.fromarray((values * most).round().astype(depth)).save(stream, "PNG")
            read = read_picture("grey.png", stream.getvalue())
            np.testing.assert_allclose(
                read.pixels[:, :, 0], linear, atol=0.006 if most == 255 else 2e-5, rtol=5e-4, err_msg=kind
            )
        light = np.random.default_rng(2).random((5, 7, 4)).astype(np.float32) * 8
        with tempfile.TemporaryDirectory() as folder:
            path = f"{folder}/light.exr"
            channels = {
                name: OpenEXR.Channel(name, np.ascontiguousarray(light[:, :, k])) for k, name in enumerate("RGBA")
            }
            OpenEXR.File({"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}, channels).write(path)
            with open(path, "rb") as file:
                read = read_picture("light.exr", file.read())
        np.testing.assert_allclose(read.pixels, light, rtol=5e-4)

    def test_a_materials_picture_comes_with_the_mesh(self):
        image = Image.fromarray(np.tile(np.array([[[200, 40, 10]]], np.uint8), (4, 4, 1)))
        material = trimesh.visual.material.PBRMaterial(baseColorTexture=image, baseColorFactor=[255, 128, 255, 255])
        quad = trimesh.Trimesh([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], [[0, 1, 2], [0, 2, 3]], process=False)
        quad.visual = trimesh.visual.TextureVisuals(uv=[[0, 0], [1, 0], [1, 1], [0, 1]], material=material)
        arrays, _ = import_file("quad.glb", quad.export(file_type="glb"))
        mesh = from_arrays(arrays)
        self.assertEqual([mesh.pictures[m] for m in mesh.material], [0, 0])
        np.testing.assert_allclose(mesh.textures[0][0, 0, :3], srgb([200, 40, 10]), atol=2e-3)
        np.testing.assert_allclose(mesh.uv[[0, 2]], [[0, 0], [1, 1]])

    def test_what_materials_are_made_of_comes_with_the_mesh(self):
        """glTF 2.0, 3.9.2: roughness in green and metal in blue, as numbers; emission in sRGB; each times its
        factor."""
        flat = lambda *rgb: Image.fromarray(np.tile(np.array([[rgb]], np.uint8), (4, 4, 1)))
        material = trimesh.visual.material.PBRMaterial(
            roughnessFactor=0.5,
            metallicFactor=0.25,
            emissiveFactor=[1.0, 0.5, 0.0],
            metallicRoughnessTexture=flat(0, 102, 51),
            emissiveTexture=flat(188, 188, 188),
            baseColorFactor=[255, 255, 255, 255],
        )
        quad = trimesh.Trimesh([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]], [[0, 1, 2], [0, 2, 3]], process=False)
        quad.visual = trimesh.visual.TextureVisuals(uv=[[0, 0], [1, 0], [1, 1], [0, 1]], material=material)
        mesh = from_arrays(import_file("quad.glb", quad.export(file_type="glb"))[0])
        np.testing.assert_allclose(mesh.surfaces[mesh.material], [[0.5, 0.25, 1.0, 0.5, 0.0]] * 2, atol=1e-6)
        rough, glow = (mesh.textures[picture] for picture in mesh.surface_pictures[mesh.material[0]])
        np.testing.assert_allclose(rough[0, 0, :3], srgb([0, 102, 51]), atol=2e-3)
        np.testing.assert_allclose(glow[0, 0, :3], srgb([188, 188, 188]), atol=2e-3)

    def test_materials_keep_their_pictures_however_many_there_are(self):
        reds = np.arange(12) * 20
        quads = []
        for k, red in enumerate(reds):
            quad = trimesh.Trimesh(
                np.array([[0, 0, k], [1, 0, k], [1, 1, k], [0, 1, k]], float), [[0, 1, 2], [0, 2, 3]], process=False
            )
            image = Image.fromarray(np.full((2, 2, 3), [red, 0, 0], np.uint8))
            material = trimesh.visual.material.PBRMaterial(name=f"m{k}", baseColorTexture=image)
            quad.visual = trimesh.visual.TextureVisuals(uv=[[0, 0], [1, 0], [1, 1], [0, 1]], material=material)
            quads.append(quad)
        arrays, _ = import_file("many.glb", trimesh.Scene(quads).export(file_type="glb"))
        mesh = from_arrays(dict(sorted(arrays.items())))  # whatever order they are stored in
        shown = [float(mesh.textures[mesh.pictures[material]][0, 0, 0]) for material in mesh.material]
        depths = mesh.points[mesh.faces[:, 0], 2].round().astype(int)
        np.testing.assert_allclose(shown, srgb(reds)[depths], atol=2e-3)

    def test_uv_and_seams_of_an_obj(self):
        text = (
            "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nvt 0.5 0.5\nf 1/1 2/2 3/3\nf 1/5 3/3 "
            "4/4\n"
        )
        mesh = read_mesh("quad.obj", text.encode())
        corner_uv = mesh.uv[mesh.faces].reshape(-1, 2)
        np.testing.assert_allclose(corner_uv, [[0, 0], [1, 0], [1, 1], [0.5, 0.5], [1, 1], [0, 1]])
        quads = read_mesh("quad.obj", b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf -4 -3 -2 -1\n")
        self.assertAlmostEqual(float(quads.areas.sum()), 1)


def glb(nodes, arrays, *, meshes=(), animations=(), skins=(), cameras=(), materials=()) -> bytes:
    """A GLB by pygltflib, with arrays as accessors in order."""
    kinds = {
        ("float32", 1): ("SCALAR", 5126),
        ("float32", 3): ("VEC3", 5126),
        ("float32", 4): ("VEC4", 5126),
        ("float32", 2): ("VEC2", 5126),
        ("float32", 16): ("MAT4", 5126),
        ("uint16", 1): ("SCALAR", 5123),
        ("uint16", 4): ("VEC4", 5123),
    }
    blob, views, accessors = b"", [], []
    for array in arrays:
        array = np.ascontiguousarray(array)
        width = array.shape[1] if array.ndim == 2 else 1
        name, component = kinds[str(array.dtype), width]
        views.append(pygltflib.BufferView(buffer=0, byteOffset=len(blob), byteLength=array.nbytes))
        accessors.append(
            pygltflib.Accessor(bufferView=len(views) - 1, componentType=component, count=len(array), type=name)
        )
        blob += array.tobytes() + b"\0" * (-array.nbytes % 4)
    result = pygltflib.GLTF2(
        scene=0,
        scenes=[pygltflib.Scene(nodes=[0])],
        nodes=nodes,
        meshes=list(meshes),
        animations=list(animations),
        skins=list(skins),
        cameras=list(cameras),
        materials=list(materials),
        accessors=accessors,
        bufferViews=views,
        buffers=[pygltflib.Buffer(byteLength=len(blob))],
    )
    result.set_binary_blob(blob)
    return b"".join(result.save_to_bytes())


TRIANGLE = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0]], np.float32)


def moving(path, times, values, how) -> bytes:
    attributes = pygltflib.Attributes(POSITION=0)
    mesh = pygltflib.Mesh(primitives=[pygltflib.Primitive(attributes=attributes)])
    sampler = pygltflib.AnimationSampler(input=1, output=2, interpolation=how)
    channel = pygltflib.AnimationChannel(sampler=0, target=pygltflib.AnimationChannelTarget(node=0, path=path))
    return glb(
        [pygltflib.Node(mesh=0)],
        [TRIANGLE, np.array(times, np.float32), np.array(values, np.float32)],
        meshes=[mesh],
        animations=[pygltflib.Animation(samplers=[sampler], channels=[channel])],
    )


class Animation(unittest.TestCase):
    """glTF 2.0 specification, 3.11 Animations and appendix C: interpolation."""

    def test_step_linear_and_cubic_by_worked_numbers(self):
        times = np.array([0.0, 1.0, 3.0])
        values = np.array([[0.0], [2.0], [6.0]])
        self.assertEqual(
            [sample(times, values, "STEP", t)[0] for t in (-1, 0, 0.99, 1, 2.5, 3, 9)], [0, 0, 0, 2, 2, 6, 6]
        )
        self.assertEqual([sample(times, values, "LINEAR", t)[0] for t in (-1, 0.5, 1, 2, 9)], [0, 1, 2, 4, 6])
        # in-tangent, value, out-tangent; half way with td = 2: v0/2 + td b0/8 + v1/2 - td a1/8
        keys = np.array([[[0.0], [1.0], [3.0]], [[-2.0], [5.0], [0.0]]])
        self.assertAlmostEqual(
            sample(np.array([0.0, 2.0]), keys, "CUBICSPLINE", 1.0)[0], 0.5 + 2 * 3 / 8 + 2.5 - 2 * -2 / 8
        )

    def test_cubic_against_scipy_and_rotations_by_slerp(self):
        rng = np.random.default_rng(4)
        times = np.array([0.0, 0.4, 1.5, 1.6])
        keys = rng.normal(size=(4, 3, 3))
        for k in range(3):
            spline = CubicHermiteSpline(times[k : k + 2], keys[k : k + 2, 1], [keys[k, 2], keys[k + 1, 0]])
            for t in np.linspace(times[k], times[k + 1], 5)[1:-1]:
                np.testing.assert_allclose(sample(times, keys, "CUBICSPLINE", t), spline(t), atol=1e-9)
        turns = Rotation.random(2, random_state=7)
        slerp = Slerp([0, 1], turns)
        for t in (0.1, 0.5, 0.9):
            ours = Rotation.from_quat(sample(np.array([0.0, 1.0]), turns.as_quat(), "LINEAR", t, True))
            self.assertLess((ours * slerp(t).inv()).magnitude(), 1e-6)
        q = np.array([0.0, 0, math.sin(0.2), math.cos(0.2)])
        half = sample(
            np.array([0.0, 1.0]), np.array([q, -q * [1, 1, -1, 1]]), "LINEAR", 0.5, True
        )  # the short way round
        self.assertAlmostEqual(abs(half[3]), 1, places=6)

    def test_node_animation_is_baked_to_frames(self):
        quarter = [0, 0, math.sin(math.pi / 4), math.cos(math.pi / 4)]
        mesh = read_mesh("turn.glb", moving("rotation", [0, 1], [[0, 0, 0, 1], quarter], "LINEAR"))
        self.assertTrue(mesh.moves)
        for t in (0, 0.25, 0.5, 1):
            a = t * math.pi / 2
            np.testing.assert_allclose(mesh.points_at(t)[1], [math.cos(a), math.sin(a), 0], atol=2e-4)
        np.testing.assert_allclose(
            mesh.velocities_at(0.5)[1],
            np.array([-math.sin(math.pi / 4), math.cos(math.pi / 4), 0]) * math.pi / 2,
            atol=0.02,
        )
        jump = read_mesh("step.glb", moving("translation", [0, 1], [[0, 0, 0], [5, 0, 0]], "STEP"))
        self.assertEqual(jump.points_at(0.95)[0, 0], 0)
        self.assertEqual(jump.points_at(1.0)[0, 0], 5)
        spline = moving(
            "scale", [0, 1], [[0, 0, 0], [1, 1, 1], [0, 0, 0], [0, 0, 0], [3, 3, 3], [0, 0, 0]], "CUBICSPLINE"
        )
        self.assertAlmostEqual(read_mesh("s.glb", spline).points_at(0.5)[1, 0], 2, places=3)

    def test_a_skin_bends_with_its_joints(self):
        # two joints, the second 1 up and turning about z by a quarter; points bound half to each
        points = np.array([[0, 0, 0], [0, 1, 0], [0, 2, 0]], np.float32)
        joints, weights = (
            np.array([[0, 1, 0, 0]] * 3, np.uint16),
            np.array([[1, 0, 0, 0], [0.5, 0.5, 0, 0], [0, 1, 0, 0]], np.float32),
        )
        down = np.eye(4)
        down[1, 3] = -1
        bind = np.array([np.eye(4).T.ravel(), down.T.ravel()], np.float32)
        quarter = [0, 0, math.sin(math.pi / 4), math.cos(math.pi / 4)]
        attributes = pygltflib.Attributes(POSITION=0, JOINTS_0=1, WEIGHTS_0=2)
        data = glb(
            [
                pygltflib.Node(children=[1, 3]),
                pygltflib.Node(children=[2]),
                pygltflib.Node(translation=[0, 1, 0]),
                pygltflib.Node(mesh=0, skin=0),
            ],
            [
                points,
                joints,
                weights,
                bind,
                np.array([0, 1], np.float32),
                np.array([[0, 0, 0, 1], quarter], np.float32),
            ],
            meshes=[pygltflib.Mesh(primitives=[pygltflib.Primitive(attributes=attributes)])],
            skins=[pygltflib.Skin(joints=[1, 2], inverseBindMatrices=3)],
            animations=[
                pygltflib.Animation(
                    samplers=[pygltflib.AnimationSampler(input=4, output=5)],
                    channels=[
                        pygltflib.AnimationChannel(
                            sampler=0, target=pygltflib.AnimationChannelTarget(node=2, path="rotation")
                        )
                    ],
                )
            ],
        )
        with self.assertRaises(GeometryProblem):
            read_mesh("skin.glb", data)  # a line of points has no area
        mesh = read_glb(data).mesh
        np.testing.assert_allclose(mesh.points_at(0), points, atol=1e-6)
        np.testing.assert_allclose(mesh.points_at(1), [[0, 0, 0], [0, 1, 0], [-1, 1, 0]], atol=1e-5)

    def test_a_camera_is_brought_in_where_it_stands(self):
        camera = pygltflib.Camera(type="perspective", perspective=pygltflib.Perspective(yfov=0.9, znear=0.1))
        attributes = pygltflib.Attributes(POSITION=0)
        data = glb(
            [pygltflib.Node(mesh=0, children=[1]), pygltflib.Node(name="Quay", camera=0, translation=[1, 2, 3])],
            [TRIANGLE],
            meshes=[pygltflib.Mesh(primitives=[pygltflib.Primitive(attributes=attributes)])],
            cameras=[camera],
        )
        (found,) = read_glb(data).cameras
        self.assertEqual((found.name, round(found.field_of_view, 6)), ("Quay", 0.9))
        np.testing.assert_allclose(found.places[0][:3, 3], [1, 2, 3])


class BadFiles(unittest.TestCase):
    def test_each_is_refused_in_words(self):
        for name, data, message in BAD:
            with self.subTest(name), self.assertRaises(GeometryProblem) as caught:
                read_mesh(name, data)
            finding = caught.exception.findings[0]
            self.assertIn(message, finding.message, name)
            self.assertTrue(finding.remedy)

    def test_odd_meshes_that_can_be_used_are(self):
        fin = (
            b"v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 -1 0\nv 0 0 1\nf 1 2 3\nf 1 2 4\nf 1 2 5\n"  # three triangles on one edge
        )
        self.assertEqual(len(read_mesh("fin.obj", fin).faces), 3)
        spare = (
            b"v 0 0 0\nv 1 0 0\nv 0 1 0\nv 9 9 9\nf 1 2 3\nf 1 1 2\n"  # a point of no triangle, a triangle without area
        )
        mesh = read_mesh("spare.obj", spare)
        self.assertTrue(
            np.isfinite(mesh.normals).all()
            and np.isfinite(mesh.frame(mesh.at_points(np.arange(len(mesh.points))))[0]).all()
        )

    def test_a_million_faces(self):
        u, v = np.meshgrid(np.linspace(0, 1, 708), np.linspace(0, 1, 708))
        grid = np.arange(708 * 708).reshape(708, 708)
        a, b, c, d = grid[:-1, :-1].ravel(), grid[:-1, 1:].ravel(), grid[1:, 1:].ravel(), grid[1:, :-1].ravel()
        faces = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
        values = trimesh.Trimesh(np.stack([u.ravel(), 0.1 * np.sin(9 * u.ravel()), v.ravel()], 1), faces, process=False)
        mesh = read_mesh("field.stl", values.export(file_type="stl"))
        self.assertGreater(len(mesh.faces), 990_000)
        _, away = mesh.nearest(np.array([[0.5, 3.0, 0.5]]))
        self.assertTrue(np.isfinite(away).all())
