"""Bodies on particles: turned as SciPy has it, painted as props are; and props that fall into parts, judged by trimesh,
manifold3d and scikit-image."""

from __future__ import annotations

import math
import unittest
from typing import Any

import manifold3d
import numpy as np
import scipy
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation
from skimage.metrics import structural_similarity

from demo.parts import response
from kagero.core.catalog import break_up, check_effect
from kagero.core.document import Effect, read_effect, upgrade
from kagero.core.errors import BudgetError
from kagero.core.formats.packet import unpack
from kagero.core.geometry.breaking import BreakSettings, areas, break_mesh
from kagero.core.geometry.breaking.seeds import seeds
from kagero.core.geometry.forms import NAMES, stock_form
from kagero.core.geometry.mesh import Mesh
from kagero.core.geometry.shapes import plane, sphere
from kagero.core.geometry.text import text_mesh
from kagero.core.kernels.voronoi import furthest_first
from kagero.core.picture.piece import matrices
from kagero.core.program import Builder
from kagero.core.rows.turn import rotation_toward, rotation_upright
from kagero.core.workflows import Packets, Playing, PlayRequest, render_pixels
from tests.making import document, emitter, row, with_
from tests.soak import examples

HELD = row(1000.0)
WORD = {
    "kind": "text",
    "uid": "word",
    "name": "word",
    "text": "Ao",
    "height": 0.7,
    "depth": 0.16,
    "tint": [0.6, 0.4, 0.2],
    "position": row([-0.1, 0.7, 0.0]),
    "rotation": row([0.1, 0.5, 0.0]),
    "scale": row([1.0, 1.25, 0.8]),
}


def in_parts(
    into: str, prop: dict[str, Any] = WORD, place: dict[str, Any] | None = None, **changes: Any
) -> dict[str, Any]:
    """Return an effect whose particles are the parts of a prop, held where they were."""
    look = {"sprite": "piece", "form": "part", "size": row(1.0), "opacity": row(1.0), "colour": row([1.0, 1.0, 1.0])}
    one = emitter(
        births__rate=row(0.0),
        births__launch__speed=row(0.0),
        births__lifespan=row(1000.0),
        look=look,
        births__place={"kind": "parts", "prop": prop["uid"], "into": into, "count": 40, **(place or {})},
        motion={"grip": HELD, "turning": {}},
    )
    return upgrade({**document(with_(one, **changes), last_frame=40), "props": [{**prop, "in_pictures": False}]})


def of_prop(body: dict[str, Any]) -> dict[str, Any]:
    """Return the effect with the prop itself instead."""
    return {
        **body,
        "emitters": [{**each, "visible": False} for each in body["emitters"]],
        "props": [{**each, "in_pictures": True} for each in body["props"]],
    }


def seen(body: dict[str, Any] | Effect, frame: int = 0) -> np.ndarray:
    effect = body if isinstance(body, Effect) else read_effect(body)
    return render_pixels(Playing(effect), frame, 320, 240, ground=(0.01, 0.015, 0.02))[..., :3]


class Turned(unittest.TestCase):
    @given(st.tuples(*[st.floats(-5, 5)] * 3))
    @settings(max_examples=examples(60), deadline=None)
    def test_along_a_motion_and_upright_on_a_surface(self, vector: tuple[float, ...]):
        """z goes along the motion and x stays level; y goes along the normal by the least turn."""
        size = math.hypot(*vector)
        if size < 1e-3:
            return
        direction = np.array(vector) / size
        one = self._turn(rotation_toward, vector)
        np.testing.assert_allclose(one.apply([0, 0, 1]), direction, atol=2e-5)
        self.assertAlmostEqual(float(one.apply([1, 0, 0])[1]), 0, places=5)
        other = self._turn(rotation_upright, tuple(direction))
        if direction[1] > -0.999:
            np.testing.assert_allclose(other.apply([0, 1, 0]), direction, atol=2e-4)
            self.assertAlmostEqual(other.magnitude(), math.acos(np.clip(direction[1], -1, 1)), places=2)

    @staticmethod
    def _turn(by: Any, vector: tuple[float, ...]) -> Rotation:
        from kagero.core.engine import prepare_reference
        from kagero.core.program import ProgramValues

        b = Builder()
        q = by(b, tuple(b.input(name) for name in ("x", "y", "z")))
        program = b.finish({f"q.{i}": value for i, value in enumerate(q)})
        out = prepare_reference(program).run(
            ProgramValues(), dict(zip(("x", "y", "z"), np.array(vector, np.float32)[:, None], strict=True)), 1
        )
        quaternion = np.array([out[f"q.{i}"][0] for i in range(4)], float)
        np.testing.assert_allclose(np.linalg.norm(quaternion), 1, atol=1e-5)
        np.testing.assert_allclose(matrices(quaternion[None])[0], Rotation.from_quat(quaternion).as_matrix(), atol=1e-5)
        return Rotation.from_quat(quaternion)

    def test_what_hides_does_not_care_in_which_order_it_was_born(self):
        """Boards that cut through each other: the nearest shows at every pixel, whoever is first."""
        pictures = []
        for order in (1, -1):
            places = [(-0.1, 0.3), (0.1, -0.3), (0.0, 0.0)][::order]
            each = [
                emitter(
                    f"e{i}",
                    births__rate=row(0.0),
                    births__bursts=[{"uid": f"b{i}", "frame": 0, "count": 1}],
                    births__launch__speed=row(0.0),
                    births__lifespan=row(100.0),
                    births__place={"kind": "point", "centre": row([x, 1.0, 0.1 * x])},
                    look={
                        "sprite": "piece",
                        "form": "block",
                        "faces": "world",
                        "yaw": row(turn),
                        "deep": row(0.1),
                        "size": row(1.0),
                        "opacity": row(1.0),
                        "colour": row([0.3 + x, 0.5, 0.5 + turn]),
                    },
                )
                for i, (x, turn) in enumerate(places)
            ]
            pictures.append(seen({**upgrade(document(*each, last_frame=2))}))
        np.testing.assert_array_equal(pictures[0], pictures[1])

    def test_a_form_from_the_shelf_is_a_metre_long_and_faces_out(self):
        for name in NAMES:
            mesh = stock_form(name)
            self.assertAlmostEqual(float(np.ptp(mesh.bounds, axis=0).max()), 1.0, delta=0.11, msg=name)
            self.assertTrue(mesh.turned_out == 1 or not mesh.is_closed, name)

    def test_axes_and_velocities_are_sent_as_lines_on_request(self):
        playing = Playing(read_effect(in_parts("scraps")))
        there = playing.frames(3)[0].population
        for lines, wanted in (
            ("axes", [there.carried[f"turned.{i}"] for i in range(4)]),
            ("velocity", there.velocity),
            ("", None),
        ):
            _, arrays = unpack(Packets(playing, PlayRequest(lines=lines)).frame(3))
            if wanted is None:
                self.assertNotIn("line.0", arrays)
            else:
                np.testing.assert_allclose(arrays["line.0"], np.stack(wanted, axis=1), atol=1e-3)

    def test_a_change_of_the_look_steps_nothing(self):
        body = in_parts("scraps")
        one = Playing(read_effect(body))
        body["emitters"][0]["look"] |= {"size": row(0.5), "pitch": row(0.4), "lit": False}
        self.assertEqual(one.runs[0].address, Playing(read_effect(body)).runs[0].address)


class Parts(unittest.TestCase):
    def test_at_rest_they_are_the_prop_and_they_go_with_it(self):
        """Turned, stretched, and turning on: to the light of a pixel; scikit-image finds them alike. A part that is
        moved a little is found."""
        turning = {
            **WORD,
            "rotation": row(
                [0.1, 0.0, 0.0],
                response(
                    "turns",
                    "clip_time",
                    [(0, 0), (1, 1)],
                    input=(0, 2),
                    output=(0, 1.5),
                    operation="add",
                    shape="linear",
                )
                | {"component": "y"},
            ),
        }
        for into in ("separate", "faces", "scraps", "cells"):
            for prop, frame in ((WORD, 0), (turning, 30)):
                body = in_parts(into, prop)
                one, other = seen(body, frame), seen(of_prop(body), frame)
                self.assertLess(float((np.abs(one - other).max(axis=2) > 0.004).mean()), 2e-4, (into, frame))
                alike = structural_similarity(one, other, channel_axis=2, data_range=1)
                self.assertGreater(alike, 0.99)
        moved = seen(
            in_parts(
                "scraps",
                births__place={"kind": "parts", "prop": "word", "into": "scraps", "count": 40},
                look__size=row(0.9),
            )
        )
        self.assertGreater(float((np.abs(moved - other).max(axis=2) > 0.004).mean()), 2e-3)

    def test_cells_fill_what_is_closed_and_do_not_overlap(self):
        """Volumes by trimesh add up to 1e-5; all together, by manifold3d, are no less than that: nothing is counted
        twice."""
        for mesh, how in (
            (sphere(), BreakSettings("cells", 30)),
            (text_mesh("Ho", 0.4, 0.1, "bold", "middle"), BreakSettings("cells", 50, seed=3, splinters=0.4)),
        ):
            whole = trimesh.Trimesh(mesh.points, mesh.faces).volume
            parts = break_mesh(mesh, how)
            pieces = []
            for k in range(len(parts)):
                corners = parts.corners[parts.start[k] : parts.start[k + 1], :, :3]
                part = trimesh.Trimesh(corners.reshape(-1, 3), np.arange(corners.size // 3).reshape(-1, 3))
                part.merge_vertices()
                self.assertAlmostEqual(part.volume, parts.amount[k], delta=1e-6 * whole)
                np.testing.assert_allclose(part.center_mass, parts.centre[k], atol=1e-4)
                wired = manifold3d.Mesh(
                    corners.reshape(-1, 3).astype(np.float32),
                    np.arange(corners.size // 3, dtype=np.uint32).reshape(-1, 3),
                )
                wired.merge()
                pieces.append(manifold3d.Manifold(wired))
            self.assertAlmostEqual(float(parts.amount.sum()) / whole, 1, delta=1e-5)
            union = manifold3d.Manifold.batch_boolean(pieces, manifold3d.OpType.Add)
            self.assertAlmostEqual(union.volume() / whole, 1, delta=1e-4)

    def test_scraps_are_what_is_nearest_to_one_seed_and_lose_nothing(self):
        mesh = plane()
        parts = break_mesh(mesh, BreakSettings("scraps", 25, dense=lambda uv: uv[:, 0] ** 3))
        self.assertAlmostEqual(float(parts.amount.sum()), float(mesh.areas.sum()), places=9)
        right = parts.amount[parts.centre[:, 0] > 0.25].mean()
        self.assertLess(
            right, parts.amount[parts.centre[:, 0] < -0.1].mean() / 2
        )  # where the picture is bright they are finer

    def test_many_scraps_are_cut_as_few_are(self):
        """Each scrap is convex, so its centre is nearest to its own seed (scipy's k-d tree); together they are the
        square, none twice. Seeds are by Mitchell's candidates, here once more in plain NumPy."""
        quad = Mesh.of(
            np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0.0]]), np.array([[0, 1, 2], [0, 2, 3]]), np.zeros((4, 2))
        )
        for splinters in (0.0, 0.6):
            how = BreakSettings("scraps", 1500, splinters=splinters)
            parts, sites = break_mesh(quad, how), seeds(quad, how, inside=False)
            self.assertAlmostEqual(float(parts.amount.sum()), 1, places=12)
            nearest = scipy.spatial.cKDTree(sites).query(parts.centre)[1]
            self.assertEqual(len(np.unique(nearest)), len(parts))
        tried = np.random.default_rng(4).random((90, 3))
        near, taken = np.full(90, np.inf), []
        for group in np.array_split(np.arange(90), 13):
            taken.append(group[int(np.argmax(near[group]))])
            near = np.minimum(near, ((tried - tried[taken[-1]]) ** 2).sum(axis=1))
        sizes = [len(group) for group in np.array_split(np.arange(90), 13)]
        np.testing.assert_array_equal(furthest_first(tried, np.cumsum([0, *sizes]).astype(np.int64)), taken)

    def test_long_triangles_in_many_scraps_are_refused_in_words(self):
        turn = np.linspace(0, 2 * np.pi, 2001)[:-1]
        rim = np.column_stack([np.cos(turn), np.sin(turn), 0 * turn])
        needles = np.array([[0, 1 + i, 1 + (i + 1) % 2000] for i in range(2000)])
        cone = Mesh.of(np.vstack([[0, 0, 50], rim]), needles, np.zeros((2001, 2)))
        with self.assertRaisesRegex(BudgetError, "fewer scraps"):
            break_mesh(cone, BreakSettings("scraps", 4000))

    def test_particles_stand_at_the_centres_and_some_that_end_move_nobody(self):
        body = in_parts("cells")
        playing = Playing(read_effect(body))
        parts, stretch = playing.stage.broken_mesh(playing.effect.emitters[0].births.place)
        there = playing.frames(0)[0].population
        place = playing.stage.matrices("word", np.zeros(1))[0]
        world = (parts.centre @ np.linalg.pinv(stretch)) @ place[:3, :3].T + place[:3, 3]
        np.testing.assert_allclose(np.stack(there.position, axis=1), world[there.key.astype(int)], atol=2e-6)
        fewer = Playing(read_effect(in_parts("cells", births__keep=row(0.7)))).frames(20)[0].population
        self.assertLess(0.4 * len(there), len(fewer))
        self.assertLess(len(fewer), 0.9 * len(there))
        where = {int(k): i for i, k in enumerate(there.key)}
        same = [where[int(k)] for k in fewer.key]
        np.testing.assert_allclose(np.stack(fewer.position, axis=1), world[there.key.astype(int)][same], atol=2e-6)

    def test_other_words_are_another_name_in_the_same_effect(self):
        for text, letters in (("Ao", 2), ("Hotaru", 6)):
            playing = Playing(read_effect(in_parts("separate", {**WORD, "text": text})))
            self.assertEqual(len(playing.frames(10)[0].population), letters)
            self.assertEqual([layer.problem for layer in playing.layers(10)], [""])

    def test_what_is_not_closed_says_so_and_its_hull_can_be_broken(self):
        flat = {"kind": "shape", "uid": "ring", "name": "ring", "shape": "funnel", "position": row([0.0, 0.5, 0.0])}
        playing = Playing(read_effect(in_parts("cells", flat)))
        self.assertEqual(len(playing.frames(0)[0].population), 0)
        from kagero.core.workflows.why_invisible import explain_invisible

        population = explain_invisible(
            playing.effect.emitters[0], None, playing.runs[0], playing.plan, 0, playing.frames(0)[0].population, None
        )
        assert population is not None
        self.assertIn("not closed", population[0])
        self.assertIn("hull", population[0])
        for into, more in (("scraps", {}), ("faces", {}), ("cells", {"closing": True})):
            self.assertGreater(len(Playing(read_effect(in_parts(into, flat, more))).frames(0)[0].population), 10)

    def test_a_picture_falls_into_its_islands(self):
        pixels = np.zeros((40, 60, 4), np.float32)
        pixels[5:15, 5:25] = pixels[20:35, 30:50] = pixels[18:19, 3:4] = (
            1  # two islands and a speck that goes with the nearest
        )
        label, count = areas.areas(pixels)
        self.assertEqual(count, 2)
        parts = break_mesh(plane(), BreakSettings("areas", picture=pixels))
        np.testing.assert_allclose(sorted(parts.amount), [201 / 2400, 300 / 2400], atol=1e-9)
        self.assertEqual(int((label >= 0).sum()), 501)
        chess = np.ones((8, 8, 4), np.float32)
        chess[::2, ::2, :3] = chess[1::2, 1::2, :3] = 0
        self.assertGreaterEqual(areas.areas(np.kron(chess, np.ones((4, 4, 1), np.float32)))[1], 32)

    def test_a_prop_is_broken_up_in_one_move(self):
        effect = read_effect(upgrade({**document(emitter(), last_frame=40), "props": [WORD]}))
        numbers = iter(range(100))
        changed, uid = break_up(effect, "word", lambda: f"new{next(numbers)}")
        self.assertEqual(check_effect(changed), [])
        self.assertEqual(changed.emitters[-1].uid, uid)
        playing = Playing(changed)
        before, after = (np.stack(playing.frames(frame)[-1].population.position, axis=1) for frame in (0, 40))
        self.assertEqual(len(before), 2)
        self.assertLess(float(after[:, 1].max()), float(before[:, 1].min()))  # held, then let go: they fell
