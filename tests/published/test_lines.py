"""Streaks, trails and ribbons: where they go, against mechanics and closed forms; how a piece of a line is covered;
whom ribbons join."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from kagero.core.document import read_effect
from kagero.core.errors import SchemaProblem
from kagero.core.formats import unpack
from kagero.core.kernels import drawing
from kagero.core.kernels import items as painted
from kagero.core.parts.looks import LOOKS
from kagero.core.picture.layers import Layer
from kagero.core.simulation import FrameStore, ShownParticles
from kagero.core.simulation.births_from_particles import join_keys, split_keys
from kagero.core.strands import ribbon
from kagero.core.workflows import Playing, render_pixels
from kagero.core.workflows.measure import measure
from kagero.core.workflows.stream import PlayRequest, play_packets
from kagero.core.workflows.why_invisible import explain_invisible
from tests.making import STRAIGHT, document, emitter, gradient, response, row
from tests.soak import examples

GRAVITY = 9.81
FALL = {"forces": [{"kind": "gravity", "uid": "fall", "strength": row(GRAVITY)}]}
PLAIN = {"size": row(0.1), "opacity": row(1.0), "colour": row([1.0, 1.0, 1.0])}


def lined(tag: str, **more: Any) -> dict[str, Any]:
    return {**LOOKS.kinds[tag].template(), **PLAIN, **more}


def shown(
    *emitters: dict[str, Any], frame: int = 40, which: int = 0, store: FrameStore | None = None, **clip: Any
) -> ShownParticles:
    playing_clip = Playing(read_effect(document(*emitters, **clip)), store)
    return playing_clip.drawn_in_looks(which, frame, playing_clip.frames(frame)[which].population)[0]


def lines_of(part: ShownParticles) -> list[np.ndarray]:
    """Return the places of each line, (k, 3)."""
    assert part.strands is not None
    ends = np.flatnonzero(~part.strands.joined) + 1
    return [line for line in np.split(part.strands.points, ends) if len(line)]


class Trails(unittest.TestCase):
    def thrown(self, rate: int, seconds: float = 0.6) -> tuple[ShownParticles, float]:
        """Particles thrown up at 4 m/s under gravity, at 1.25 s."""
        body = emitter(
            look=lined("trail", seconds=row(seconds)), births__launch__speed=row(4.0), births__rate=row(7.0), **FALL
        )
        return shown(body, frame=round(1.25 * rate), frame_rate=[rate, 1], last_frame=2 * rate), 1.25

    def test_go_through_where_a_thrown_body_was(self):
        """x = v t - g t² / 2, from now back to `seconds` ago or to the birth, at any frame rate: any handbook of
        mechanics."""
        for rate in (24, 60):
            part, now = self.thrown(rate)
            for line, born in zip(lines_of(part), part.population.birth_time, strict=True):
                age = now - np.linspace(0, min(0.6, now - born), len(line)) - born
                np.testing.assert_allclose(line[:, 1], 4 * age - GRAVITY * age * age / 2, atol=2e-5)
                np.testing.assert_allclose(line[:, [0, 2]], 0, atol=1e-6)

    def test_are_the_same_at_24_and_60_frames_a_second(self):
        """In turning air, where no closed form is: to what the two simulations differ by themselves."""
        swirl = {"kind": "swirl", "uid": "s", "strength": row(3.0)}
        body = emitter(
            look=lined("trail", seconds=row(0.5)),
            births__launch__speed=row(1.0),
            births__launch__direction=row([1.0, 0.2, 0.0]),
            births__rate=row(9.0),
            births__lifespan=row(3.0),
            forces=[swirl],
            births__place__centre=row([1.0, 0.0, 0.0]),
        )
        parts = [
            shown(body, frame=rate, frame_rate=[rate, 1], last_frame=rate * 2, substeps=120 // rate)
            for rate in (24, 60)
        ]
        one, other = (np.array(lines_of(part)) for part in parts)
        bent = np.linalg.norm(one[:, 0] - 2 * one[:, 6] + one[:, 12], axis=1).max()
        self.assertGreater(bent, 0.02)
        self.assertLess(np.abs(one - other).max(), 1e-3)

    def test_end_at_the_birth_and_belong_to_their_particle_whoever_ends(self):
        body = emitter(
            look=lined("trail", seconds=row(30.0)),
            births__lifespan=row(1.0, response("r", "draw:d1", STRAIGHT, output=(0.2, 1.0), read="once")),
            births__launch__cone=row(1.0),
        )
        one, later = shown(body, frame=30), shown(body, frame=31)
        for line in lines_of(one):
            np.testing.assert_allclose(line[-1], 0, atol=2e-5)
        before = dict(zip(one.population.key.tolist(), lines_of(one), strict=True))
        same = [
            (before[key], line)
            for key, line in zip(later.population.key.tolist(), lines_of(later), strict=True)
            if key in before
        ]
        self.assertLess(len(same), len(before))
        for old, new in same:  # straight lines from the birth: the way of each goes on the way it was
            np.testing.assert_allclose(np.cross(old[0], new[0]), 0, atol=1e-5)

    def test_what_is_not_finite_along_a_line_is_told(self):
        wide = {
            "base": {"source": {"kind": "formula", "uid": "w", "text": "0.1 / (along - along)"}, "read": "live"},
            "responses": [],
        }
        clip = Playing(read_effect(document(emitter(also=[{**lined("trail"), "uid": "t", "size": wide}]))))
        header, _ = unpack(next(play_packets(clip, 30, PlayRequest(whole=False, facts=False, measured=False))))
        self.assertEqual([fault["row"] for fault in header["emitters"][0]["look_faults"]], ["also.t.size"])

    def test_too_many_places_are_said_and_the_disc_stands_in(self):
        many = emitter(look=lined("trail", seconds=row(30.0), detail=240), births__rate=row(500.0))
        part = shown(many)
        self.assertIsNone(part.strands)
        self.assertRegex(part.problem, "places; the limit is")
        clip = Playing(read_effect(document(many)))
        disc = Playing(read_effect(document(emitter(look={"sprite": "soft_disc", **PLAIN}, births__rate=row(500.0)))))
        np.testing.assert_allclose(render_pixels(clip, 40, 80, 60), render_pixels(disc, 40, 80, 60), atol=1e-6)


class Along(unittest.TestCase):
    def test_rows_are_read_all_along_a_line(self):
        """A gradient and a curve over the line's own length; taper and fade run out at its far end."""
        blue = gradient("g", "along", [(0, (1.0, 0.0, 0.0)), (1, (0.0, 0.0, 1.0))])
        body = emitter(
            look=lined(
                "trail",
                seconds=row(0.5),
                colour=row([1.0, 1.0, 1.0], blue),
                taper=row(0.0),
                fade=row(0.25),
                size=row(0.1, response("w", "along", STRAIGHT, output=(1.0, 3.0), shape="linear")),
            )
        )
        part = shown(body, frame=40)
        assert part.strands is not None
        own = part.strands.points[:, 1]
        for line, end in zip(
            np.split(np.arange(len(own)), np.flatnonzero(~part.strands.joined) + 1), part.population.key, strict=False
        ):
            if not len(line) or np.ptp(own[line]) < 0.1:
                continue
            share = (own[line[0]] - own[line]) / np.ptp(own[line])
            np.testing.assert_allclose(
                part.strands.columns["colour"][line],
                np.stack([1 - share, 0 * share, share], axis=1),
                atol=5e-3,
                err_msg=str(end),
            )
            np.testing.assert_allclose(part.strands.columns["size"][line], 0.1 * (1 + 2 * share), rtol=1e-3)
            np.testing.assert_allclose(
                part.strands.columns["opacity"][line], np.clip((1 - share) / 0.25, 0, 1), atol=5e-4
            )

    def test_the_sheet_tells_what_a_row_is_all_along_its_lines(self):
        wide = row(0.1, response("w", "along", STRAIGHT, output=(1.0, 3.0), shape="linear"))
        clip = Playing(read_effect(document(emitter(look=lined("trail", size=wide)))))
        population = measure(clip.effect.emitters[0], clip.plan.emitters[0], clip.frames(40)[0].population, 1.6)
        (spread,) = population["rows"]["look.size"]["spread"]
        np.testing.assert_allclose(spread, (0.1, 0.2, 0.3), atol=0.02)
        self.assertLess(population["responses"]["w"]["low"], 0.1)
        self.assertGreater(population["responses"]["w"]["high"], 0.9)

    def test_no_other_row_can_read_it(self):
        along = response("w", "along", STRAIGHT, output=(1.0, 3.0))
        for changes in (
            {"look": lined("trail", seconds=row(0.5, along))},
            {"look": {**PLAIN, "sprite": "soft_disc", "size": row(0.1, along)}},
        ):
            with self.assertRaisesRegex(Exception, "no row along a line"):
                Playing(read_effect(document(emitter(**changes))))


class Streaks(unittest.TestCase):
    def test_are_as_long_as_a_particle_goes_while_the_shutter_is_open(self):
        part = shown(
            emitter(look=lined("streak", shutter=row(0.25), stands_at=row(0.2)), births__launch__speed=row(2.0))
        )
        for line, at in zip(lines_of(part), part.positions(), strict=True):
            np.testing.assert_allclose(line[0] - line[-1], (0, 0.5, 0), atol=1e-5)
            np.testing.assert_allclose(line[0] - at, (0, 0.1, 0), atol=1e-5)


class Ribbons(unittest.TestCase):
    def test_go_through_all_in_order_of_birth_and_break_where_they_are_told_to(self):
        body = lambda **more: emitter(
            look=lined("ribbon", rounded=False, **more), births__rate=row(10.0), births__launch__speed=row(1.0)
        )
        (whole,) = lines_of(shown(body()))
        part = shown(body())
        np.testing.assert_array_equal(whole, part.positions()[::-1])
        self.assertEqual(len(lines_of(shown(body(gap=0.05)))), len(part))
        self.assertEqual(len(lines_of(shown(body(gap=0.2)))), 1)

    def test_join_those_of_one_parent_to_it_or_each_to_its_parent(self):
        sparks = emitter("sparks", births__rate=row(3.0), births__launch__cone=row(1.2), births__lifespan=row(2.0))
        place = {"kind": "particles", "emitter": "sparks"}
        child = lambda **more: emitter(
            "smoke",
            births__place=place,
            births__rate=row(12.0),
            births__launch__speed=row(0.0),
            look=lined("ribbon", rounded=False, **more),
        )
        parents = shown(sparks, child())
        part = shown(sparks, child(joins="siblings"), which=1)
        carried = part.population.carried
        mine = join_keys([carried[f"parent.name.{i}"] for i in range(3)])
        self.assertTrue(set(mine.tolist()) <= set(parents.population.key.tolist()))
        at = dict(zip(parents.population.key.tolist(), parents.positions(), strict=True))
        lines = lines_of(part)
        self.assertEqual(len(lines), len(set(mine.tolist())))
        for line, key in zip(lines, sorted(set(mine.tolist())), strict=True):
            np.testing.assert_array_equal(line, [at[key], *part.positions()[mine == key][::-1]])
        seen, hidden = (
            Playing(read_effect(document(sparks, child(joins="siblings", muted=muted)))).runs[1].address
            for muted in (False, True)
        )
        self.assertEqual(seen, hidden)  # its eye steps nothing
        tethers = lines_of(shown(sparks, child(joins="parent"), which=1))
        for line, key, here in zip(tethers, mine.tolist(), part.positions(), strict=True):
            np.testing.assert_allclose(line, [here, at[key]], atol=1e-6)

    def test_without_parents_that_is_said(self):
        self.assertIn("born by themselves", shown(emitter(look=lined("ribbon", joins="siblings"))).problem)

    @given(st.lists(st.integers(0, 2**64 - 1), min_size=1, max_size=20))
    def test_a_parent_s_key_goes_through_float32(self, keys: list[int]):
        values = np.array(keys, np.uint64)
        pieces = [piece.astype(np.float32) for piece in split_keys(values)]
        np.testing.assert_array_equal(join_keys(pieces), values)

    def test_rounded_ones_go_through_their_particles_and_round_a_circle(self):
        """Eight points of a circle: between them within 1 % of its radius, where straight pieces are 7.6 % off: 1 -
        cos(22.5°)."""
        turn = np.arange(9) / 8 * 2 * np.pi
        points = np.stack([np.cos(turn), np.sin(turn), 0 * turn], axis=1)
        gone = np.linalg.norm(np.diff(points, axis=0), axis=1)
        values = ribbon.rounded(points, np.ones(8, bool), np.arange(9), gone)
        np.testing.assert_allclose(values.points[:: ribbon.ROUNDED], points, atol=1e-6)
        inner = np.linalg.norm(values.points[ribbon.ROUNDED : -ribbon.ROUNDED], axis=1)
        self.assertLess(np.abs(inner - 1).max(), 0.01)
        uneven = np.array([[0.0, 0, 0], [1, 0, 0], [1.02, 0, 0], [2, 0, 0]])  # it never turns back on a straight line
        flat = ribbon.rounded(uneven, np.ones(3, bool), np.arange(4), np.diff(uneven[:, 0]))
        self.assertTrue((np.diff(flat.points[:, 0]) > 0).all())

    def test_an_edit_steps_nothing_but_for_who_the_parent_was(self):
        store = FrameStore()
        address = lambda **more: (
            Playing(read_effect(document(emitter(look=lined("ribbon", **more)))), store).runs[0].address
        )
        first = address()
        for change in (
            {"gap": 0.3},
            {"rounded": False},
            {"size": row(0.3)},
            {"faces": "flat"},
            {"drawn_with": "shelf"},
            {"taper": row(0.4)},
            {"muted": True},
        ):
            self.assertEqual(address(**change), first, change)


class Several(unittest.TestCase):
    def test_each_look_is_drawn_and_one_that_is_muted_is_not(self):
        first = {"sprite": "soft_disc", "blend": "add", **PLAIN}
        second = {**lined("trail"), "blend": "add", "uid": "too"}
        light = lambda look, also: render_pixels(
            Playing(read_effect(document(emitter(look=look, also=also)))), 30, 120, 90
        )[..., :3]
        disc, both = light(first, []), light(first, [second])
        trail = light({**first, "muted": True}, [second])
        self.assertGreater(min(float(disc.sum()), float(trail.sum())), 5)
        np.testing.assert_allclose(both, disc + trail, atol=1e-4)
        np.testing.assert_array_equal(light(first, [{**second, "muted": True}]), disc)
        none = Playing(read_effect(document(emitter(look={**first, "muted": True}, also=[{**second, "muted": True}]))))
        population = explain_invisible(
            none.effect.emitters[0], None, none.runs[0], none.plan, 30, none.frames(30)[0].population, none.show(30)[0]
        )
        self.assertRegex(population[0] if population else "", "none of their looks is drawn")
        with self.assertRaisesRegex(SchemaProblem, "no uid"):
            read_effect(document(emitter(also=[lined("trail")])))


def piece(n: int) -> painted.Items:
    """Return n pieces of lines, white, of full opacity."""
    items = painted.blank_items(n, painted.PIECE)
    items.light[:] = 1
    items.traits[:, painted.LIGHT : painted.LIGHT + 4] = 1
    items.traits[:, painted.HARD] = 1
    return items


class Covering(unittest.TestCase):
    @given(
        st.floats(0, 1),
        st.floats(-0.99, 0.99),
        st.floats(-0.8, 0.8),
        st.floats(-0.8, 0.8),
        st.floats(0.5, 2),
        st.floats(0.5, 2),
    )
    @settings(max_examples=examples(200))
    def test_how_far_along_a_piece_a_place_is(
        self, s: float, t: float, lean: float, far_lean: float, half: float, far_half: float
    ):
        """The inverse of (s, t) -> C0 + s (C1 - C0) + t (N0 + s (N1 - N0)), a bilinear map."""
        n, m = (
            half * np.array([-np.sin(lean), np.cos(lean)]),
            far_half * np.array([-np.sin(far_lean), np.cos(far_lean)]),
        )
        direction = np.array([6.0, 0.0])
        q = s * direction + t * (n + s * (m - n))
        found = drawing._share_along_segment(*(np.float32(x) for x in (*q, *direction, *n, *m, 1)))
        self.assertAlmostEqual(float(found), s, delta=2e-3)

    def test_two_pieces_meet_without_a_seam(self):
        """At half opacity a band of two pieces covers every pixel once, as one piece does; also round a corner each
        pixel at most once."""
        one, two = piece(1), piece(2)
        for items, ends in ((one, [0, 60]), (two, [0, 24.37, 60])):
            for i in range(len(ends) - 1):
                items.place[i] = (10 + ends[i], 20.25, 1)
                items.axes[i] = (ends[i + 1] - ends[i], 0, 0, 7)
                items.traits[i, painted.WIDE : painted.WIDE + 2] = (0, 7)
                items.traits[i, painted.HALVES : painted.HALVES + 2] = 7
                items.traits[i, painted.AWAY] = 1
            items.light[:, 3] = items.traits[:, painted.LIGHT + 3] = 0.5
        pictures = [np.zeros((40, 80, 4), np.float32) for _ in range(2)]
        for picture, items in zip(pictures, (one, two), strict=True):
            drawing.paint(picture, items, np.arange(len(items.place)))
        np.testing.assert_allclose(*pictures, atol=1e-5)
        self.assertAlmostEqual(float(pictures[0][20, 40, 3]), 0.5, places=5)
        corner = piece(2)
        corner.place[:] = [(10, 30, 1), (40, 30, 1)]
        corner.axes[:] = [(30, 0, 0, 6), (0, -25, 6, 6)]
        corner.traits[:, painted.WIDE : painted.WIDE + 2] = [(6, 6), (6, 0)]
        corner.traits[:, painted.HALVES : painted.HALVES + 2] = 6
        corner.light[:, 3] = corner.traits[:, painted.LIGHT + 3] = 0.5
        picture = np.zeros((60, 80, 4), np.float32)
        drawing.paint(picture, corner, np.arange(2))
        self.assertLessEqual(float(picture[..., 3].max()), 0.5 + 1e-6)
        self.assertGreater(float((picture[..., 3] > 0.49).sum()), 0.6 * 12 * 55)

    def test_a_band_is_as_wide_as_it_says_and_lies_in_space_where_it_is_told_to(self):
        """Seen from in front, a flat band toward the viewer is as wide as one that faces the camera; toward the sky it
        is a hair."""
        light = []
        for more in (
            {},
            {"faces": "flat", "toward": row([0.0, 0.0, 1.0])},
            {"faces": "flat", "toward": row([1.0, 0.0, 0.0])},
        ):
            look = lined("streak", long_by="length", length=row(0.6), taper=row(0.0), **more)
            light.append(
                float(
                    render_pixels(
                        Playing(read_effect(document(emitter(look=look, births__rate=row(2.0))))), 40, 160, 120
                    )[..., 3].sum()
                )
            )
        self.assertAlmostEqual(light[1] / light[0], 1, delta=0.02)
        self.assertLess(light[2], 0.35 * light[0])

    def test_the_layer_has_a_place_for_each(self):
        part = shown(emitter(look=lined("trail")))
        layer = Layer(part)
        self.assertEqual(len(layer), len(layer.positions()))
        self.assertEqual(len(layer.age()), len(layer.column("size")))
