"""Pictures on particles: sheets, pages, motion, cut-outs, tones, and how they meet what lies behind, against their
definitions and SciPy."""

from __future__ import annotations

import itertools
import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import map_coordinates

from demo.parts import STRAIGHT, response, row
from kagero.core.document import read_effect
from kagero.core.errors import GeometryProblem
from kagero.core.geometry import Picture
from kagero.core.geometry.patterns import PATTERNS, PatternSettings, pattern
from kagero.core.geometry.sheet import Sheet, sheet
from kagero.core.geometry.stock import NAMES, stock
from kagero.core.kernels import compositing, drawing
from kagero.core.kernels import items as painted
from kagero.core.kernels import sheets as reading
from kagero.core.kernels.tiling import tiling_noise
from kagero.core.picture.items import joined
from kagero.core.picture.render import drawing_order
from kagero.core.workflows import Playing, render_pixels
from tests.making import document, emitter, playing

F32 = np.float32


def flat(colour: tuple[float, ...], side: int = 8) -> Picture:
    return Picture(np.broadcast_to(np.array(colour, F32), (side, side, 4)).copy())


def drawn(
    sheets: list[Sheet],
    size: int = 64,
    half: float = 32.0,
    turn: float = 0.0,
    look: dict[int, int] | None = None,
    behind: tuple[float, ...] = (0, 0, 0, 0),
    nearest: float | None = None,
    reach: float = 0.0,
    **traits: float | tuple[float, ...],
) -> np.ndarray:
    """Return the picture of one particle in the middle, whose look has the sheets in the order of `drawing`'s
    columns."""
    items = painted.blank_items(1, painted.PICTURE)
    items.place[:], items.light[:], items.traits[:, painted.TILES : painted.TILES + 2] = (
        (size / 2 + 0.3, size / 2 - 0.4, 3.0),
        1,
        1,
    )
    items.axes[:] = (half * np.cos(turn), -half * np.sin(turn), -half * np.sin(turn), -half * np.cos(turn))
    items.looks[0, painted.SHEET], items.reach[0] = 0, reach
    for column, value in (look or {}).items():
        items.looks[0, column] = value
    for name, value in traits.items():
        at, values = getattr(painted, name), np.atleast_1d(np.asarray(value, F32))
        items.traits[0, at : at + len(values)] = values
    picture = np.empty((size, size, 4), F32)
    picture[:] = behind
    drawing.paint(
        picture, items, np.arange(1), joined(sheets), None if nearest is None else np.full((size, size), nearest)
    )
    return picture


def middle(picture: np.ndarray) -> np.ndarray:
    return picture[len(picture) // 2, len(picture) // 2]


class Sheets(unittest.TestCase):
    def test_levels_are_means_and_rims_what_reading_at_an_edge_meets(self):
        rng = np.random.default_rng(3)
        pixels = rng.uniform(0, 1, (8, 16, 4)).astype(F32)
        times_alpha = np.concatenate([pixels[..., :3] * pixels[..., 3:], pixels[..., 3:]], axis=2)
        for edges in ("end", "hold", "repeat", "mirror"):
            result = sheet([Picture(pixels)], 2, 1, edges)
            self.assertEqual((result.cells, result.across, result.aspect), (2, 2, 1.0))
            for level, (x, y, w, h) in enumerate(result.plates.astype(int)):
                k = 2**level
                for cell in (0, 1):
                    wanted = times_alpha[:, cell * 8 : cell * 8 + 8].reshape(h, k, w, k, 4).mean(axis=(1, 3))
                    left = x + cell * (w + 2)
                    np.testing.assert_allclose(
                        result.texels[y + 1 : y + 1 + h, left + 1 : left + 1 + w], wanted, atol=1e-6
                    )
                    beyond = {"end": np.zeros_like(wanted[:, 0]), "repeat": wanted[:, -1]}.get(edges, wanted[:, 0])
                    np.testing.assert_allclose(result.texels[y + 1 : y + 1 + h, left], beyond, atol=1e-6)

    def test_what_cannot_be_cut_into_its_grid_is_said_with_its_numbers(self):
        with self.assertRaises(GeometryProblem) as caught:
            sheet([flat((1, 1, 1, 1), 10)], 3, 2)
        self.assertIn("10 x 10 pixels cannot be cut into 3 x 2", caught.exception.findings[0].message)

    def test_brightness_covers_as_much_as_the_brightest_part_says(self):
        result = sheet([flat((0.25, 0.5, 0.0, 1.0))], cover="brightness")
        np.testing.assert_allclose(result.texels[1:9, 1:9], np.broadcast_to([0.25, 0.5, 0, 0.5], (8, 8, 4)), atol=1e-6)

    @given(st.floats(0.3, 3.0), st.floats(-3, 3))
    def test_a_particle_is_read_between_texels_as_scipy_reads(self, scale, turn):
        values = sheet([Picture(np.random.default_rng(1).uniform(0, 1, (32, 32, 4)).astype(F32))])
        half = 16 * scale
        got = drawn([values], 128, half, turn)
        y, x = np.mgrid[0:128, 0:128] + 0.5
        x, y = x - 64.3, y - 63.6
        a, b = (x * np.cos(turn) - y * np.sin(turn)) / half, (-x * np.sin(turn) - y * np.cos(turn)) / half
        level = max(int(np.floor(np.log2(1 / scale) + 1e-9)), 0)
        px, py, w, h = values.plates[level]
        at = [py + 0.5 + (1 - (b + 1) / 2) * h, px + 0.5 + (a + 1) / 2 * w]
        wanted = np.stack([map_coordinates(values.texels[..., k], at, order=1) for k in range(4)], axis=2)
        inside = (np.abs(a) < 0.99) & (np.abs(b) < 0.99)
        np.testing.assert_allclose(got[inside], wanted[inside], atol=2e-4)
        self.assertEqual(float(np.abs(got[(np.abs(a) > 1.01) | (np.abs(b) > 1.01)]).max(initial=0)), 0)


class Pages(unittest.TestCase):
    """A book of pictures: between two pages each is seen as much as is due."""

    BOOK = Picture(np.concatenate([flat((k / 4, 0, 1 - k / 4, 1)).pixels for k in range(4)], axis=1))

    @given(st.floats(0, 2.999))
    def test_between_two_pages_is_between_their_colours(self, page):
        got = middle(
            drawn([sheet([self.BOOK], 4)], look={painted.PAGES: 4, painted.FIRST: 0, painted.LAST: 3}, PAGE=page)
        )
        np.testing.assert_allclose(got[:3], [page / 4, 0, 1 - page / 4], atol=1e-3)

    def test_after_the_last_it_stays_or_begins_anew(self):
        for repeats, wanted in ((0, 0.75), (1, 0.375)):
            got = middle(
                drawn(
                    [sheet([self.BOOK], 4)],
                    look={painted.PAGES: 4, painted.FIRST: 0, painted.LAST: 3, painted.REPEATS: repeats},
                    PAGE=3.5,
                )
            )
            self.assertAlmostEqual(float(got[0]), wanted, places=5)

    def test_pages_go_with_a_row_hold_or_repeat_and_stay_within_first_and_last(self):
        def pages(share: float, **look):
            result = {
                "sprite": "picture",
                "shelf": "puffs",
                "size": row(0.2),
                "opacity": row(1.0),
                "colour": row([1.0, 1.0, 1.0]),
                "page": row(share),
                **look,
            }
            return float(playing(emitter(look=result)).show(5)[0].column("page")[0])

        for share, look, wanted in (
            (0.0, {}, 0),
            (0.5, {}, 31.5),
            (1.0, {}, 63),
            (7.0, {}, 63),
            (1.25, {"after": "repeat"}, 16),
            (0.5, {"first": 9, "last": 16}, 11.5),
            (0.999, {"blended": False}, 63),
            (0.26, {"blended": False, "first": 1, "last": 4}, 1),
        ):
            self.assertAlmostEqual(pages(share, **look), wanted, delta=2e-3)

    @given(st.floats(0.05, 0.95))
    def test_motion_moves_what_is_on_a_page_toward_where_it_is_on_the_next(self, share):
        """The second page is the first, moved by a tenth of its width: in between it is once there, moved by as much as
        is due."""
        side, moved, reach = 80, 8, 0.2
        at = np.arange(side)
        hill = lambda middle: np.exp(-(((at - middle) / 6) ** 2))
        page = lambda middle: np.stack([np.outer(hill(40), hill(middle))] * 3 + [np.ones((side, side))], 2).astype(F32)
        book = sheet([Picture(np.concatenate([page(36), page(36 + moved)], axis=1))], 2, edges="hold")
        direction = np.full((side, 2 * side, 4), 0.5, F32)
        direction[..., 3], direction[..., 0] = 1, 0.5 + moved / side / 2 / reach
        motion = sheet([Picture(direction)], 2, edges="hold")
        look = {painted.MOTION: 1, painted.PAGES: 2, painted.FIRST: 0, painted.LAST: 1, painted.EDGES: reading.HOLD}
        got = drawn([book, motion], 80, 40.0, look=look, reach=reach, PAGE=share)
        still = drawn(
            [sheet([Picture(page(36 + moved * share))], edges="hold")], 80, 40.0, look={painted.EDGES: reading.HOLD}
        )
        self.assertLess(float(np.abs(got - still)[4:-4, 4:-4].max()), 0.02)

    def test_the_motion_that_ships_says_where_the_smoke_goes(self):
        """Each page, moved as its motion says, is nearer to the next than moved the other way; the young ones than
        unmoved, before they wear thin."""
        puffs = stock("puffs")
        side = puffs.picture.size[0] // 8
        cell = lambda picture, k: picture.pixels[
            k // 8 * side : (k // 8 + 1) * side, k % 8 * side : (k % 8 + 1) * side
        ].astype(float)
        rows, columns = np.mgrid[0:side, 0:side]
        apart = []
        for k in (5, 10, 20):
            direction = (cell(puffs.motion, k)[..., :2] - 0.5) * 2 * puffs.reach * side
            now, then = cell(puffs.picture, k)[..., 3], cell(puffs.picture, k + 1)[..., 3]
            moved, against = (
                map_coordinates(now, [rows - sign * direction[..., 1], columns - sign * direction[..., 0]], order=1)
                for sign in (1, -1)
            )
            apart.append([np.abs(each - then).mean() for each in (moved, now, against)])
        self.assertLess(apart[0][0], apart[0][1] * 0.65)
        for with_motion, _, against in apart:
            self.assertLess(with_motion, against * 0.75)  # a motion that points the other way is found


class Rows(unittest.TestCase):
    """What rows do to a picture, in closed form."""

    def test_beyond_an_edge_it_ends_holds_repeats_or_is_mirrored(self):
        ramp = Picture(
            np.concatenate(
                [
                    np.repeat(np.linspace(0, 1, 64, dtype=F32)[None, :, None], 64, 0).repeat(3, 2),
                    np.ones((64, 64, 1), F32),
                ],
                2,
            )
        )
        at = lambda u: np.clip((u * 64 - 0.5) / 63, 0, 1)
        for edges, name, wanted in (
            (reading.END, "end", lambda u: np.where((u < 0) | (u > 1), 0, at(u))),
            (reading.HOLD, "hold", at),
            (reading.REPEAT, "repeat", lambda u: at(u % 1)),
            (reading.MIRROR, "mirror", lambda u: at(1 - np.abs(u % 2 - 1))),
        ):
            got = drawn(
                [sheet([ramp], edges=name)], 64, 32.0, look={painted.EDGES: edges}, TILES=(3.0, 1.0), OFFSET=(0.25, 0.0)
            )[32, :, 0]
            u = 0.75 + (np.arange(64) + 0.5 - 32.3) / 64 * 3
            away = np.abs(u - np.round(u)) > 0.06  # where it jumps the rim is read
            np.testing.assert_allclose(got[away], wanted(u)[away], atol=0.02, err_msg=name)

    @given(st.floats(0.0, 1.0))
    def test_a_second_picture_is_mixed_in_by_its_share(self, share):
        """Premultiplied by alpha, as colours are mixed linearly: (1 - m) A + m B, also where one of them is
        see-through."""
        one, other = (0.8, 0.2, 0.1, 1.0), (0.1, 0.6, 0.9, 0.4)
        got = middle(drawn([sheet([flat(one)]), sheet([flat(other)])], look={painted.MIXED: 1}, MIX=share))
        first, second = (np.array([*(c * each[3] for c in each[:3]), each[3]]) for each in (one, other))
        np.testing.assert_allclose(got, (1 - share) * first + share * second, atol=1e-5)

    def test_a_tone_goes_from_dark_over_the_colour_to_bright(self):
        for light, wanted in (
            (0.0, (0.1, 0.0, 0.3)),
            (0.25, (0.55, 0.5, 0.65)),
            (0.5, (1, 1, 1)),
            (0.75, (1.5, 0.75, 0.5)),
            (1.0, (2.0, 0.5, 0.0)),
        ):
            got = middle(
                drawn(
                    [sheet([flat((light, light, light, 1))])], TONED=1.0, DARK=(0.1, 0.0, 0.3), BRIGHT=(2.0, 0.5, 0.0)
                )
            )
            np.testing.assert_allclose(got[:3], wanted, atol=1e-4)

    def test_a_cut_takes_all_from_nothing_to_everything_and_its_rim_glows_only_where_it_cuts(self):
        noise = pattern("noise", 64, PatternSettings(3, 0.0, 0.5, 1), 2.0)
        sheets = [sheet([flat((0.5, 0.5, 0.5, 1), 64)], edges="repeat"), sheet([noise], edges="repeat")]
        look = {painted.CUTTER: 1, painted.EDGES: reading.REPEAT}
        left = [float(drawn(sheets, look=look, CUT=(share, 0.1, 0.0))[..., 3].sum()) for share in np.linspace(0, 1, 11)]
        whole = float(drawn(sheets, look=look)[..., 3].sum())
        self.assertEqual(left[0], whole)
        self.assertEqual(left[-1], 0)
        self.assertTrue(all(a >= b for a, b in itertools.pairwise(left)))
        plain = drawn(sheets, look=look, CUT=(0.5, 0.1, 0.0))
        shone, dark = (
            drawn(sheets, look=look, CUT=(0.5, 0.1, 0.1), RIM_COLOUR=rim) for rim in ((9.0, 3.0, 0.0), (0.0, 0.0, 0.0))
        )
        self.assertGreater(float((shone - dark)[..., 0].max()), 1)
        np.testing.assert_allclose((shone - dark)[..., 0], 3 * (shone - dark)[..., 1], atol=1e-4)
        self.assertGreater(float((shone == plain).all(axis=2).mean()), 0.4)

    def test_a_rim_shows_its_colour_as_it_was_chosen_on_any_base(self):
        """Where the rim is whole a picture gives the rim's light alone: the same over black, grey and white."""
        noise = pattern("noise", 64, PatternSettings(3, 0.0, 0.5, 1), 2.0)
        look = {painted.CUTTER: 1, painted.EDGES: reading.REPEAT}
        seen = []
        for base in (0.0, 0.5, 1.0):
            sheets = [sheet([flat((base, base, base, 1), 64)], edges="repeat"), sheet([noise], edges="repeat")]
            seen.append(drawn(sheets, look=look, CUT=(0.5, 0.001, 50.0), RIM_COLOUR=(0.1, 0.6, 0.6)))
        there = seen[0][..., 3] > 0.5
        self.assertGreater(int(there.sum()), 100)
        for each in seen:
            colour = each[there][:, :3] / each[there][:, 3:]
            np.testing.assert_allclose(colour, np.broadcast_to((0.1, 0.6, 0.6), colour.shape), atol=0.02)

    colours = st.tuples(*[st.floats(0, 1)] * 3)

    @given(colours, st.floats(0.01, 1), colours)
    def test_screen_and_multiply_are_those_of_compositing_level_1(self, colour, alpha, behind):
        """W3C Compositing and Blending Level 1, section 10: screen is B + S - B S, multiply B S, mixed in by the
        source's alpha."""
        source, back = np.array(colour), np.array(behind)
        for blend, mixed in (
            (compositing.SCREENS, back + source * alpha - back * source * alpha),
            (compositing.MULTIPLIES, back * (1 - alpha) + back * source * alpha),
        ):
            got = middle(drawn([sheet([flat((*colour, alpha))])], look={painted.BLEND: blend}, behind=(*behind, 1)))
            np.testing.assert_allclose(got[:3], mixed, atol=1e-4)

    @given(st.floats(0.01, 2), st.floats(-0.5, 3))
    def test_it_fades_into_what_it_cuts_over_the_metres_it_is_told(self, soft, before):
        got = middle(drawn([sheet([flat((1, 1, 1, 1))])], nearest=3.0 + before, SOFT=soft))
        self.assertAlmostEqual(float(got[3]), min(max(before / soft, 0), 1), places=4)


class MadePictures(unittest.TestCase):
    @given(st.integers(1, 12), st.floats(0, 4), st.integers(0, 50))
    def test_noise_comes_round_at_its_period(self, period, z, seed):
        x, y = np.random.default_rng(seed).uniform(0, period, (2, 40)).astype(F32)
        x, y = np.round(x * 64) / 64, np.round(y * 64) / 64  # so that a period more is exact
        here = tiling_noise(x, y, z, period, 3, 0.5, seed)
        for dx, dy in ((period, 0), (0, period), (-period, period)):
            np.testing.assert_allclose(tiling_noise(x + dx, y + dy, z, period, 3, 0.5, seed), here, atol=1e-5)

    def test_patterns_tile_and_are_within_black_and_white(self):
        for name in PATTERNS:
            pixels = pattern(name, 64, PatternSettings(4, 0.3, 0.5, 2), 1.5).pixels[..., 0]
            self.assertTrue(0 <= pixels.min() < pixels.max() <= 1, name)
            if name not in ("gradient", "glow"):
                inner = np.abs(np.diff(pixels, axis=1)).max()
                self.assertLessEqual(float(np.abs(pixels[:, 0] - pixels[:, -1]).max()), inner * 1.05 + 1e-6, name)

    def test_pictures_that_ship_are_whole(self):
        """Each covers something, nothing of it is cut off at its edges, and its colours are within black and white."""
        for name in NAMES:
            of = stock(name)
            pixels = of.picture.pixels
            side = (pixels.shape[0] // of.down, pixels.shape[1] // of.across)
            cells = pixels.reshape(of.down, side[0], of.across, side[1], 4).swapaxes(1, 2).reshape(-1, *side, 4)
            alpha = cells[..., 3]
            self.assertGreater(float(alpha.max()), 0.5, name)
            edges = np.concatenate([alpha[:, 0], alpha[:, -1], alpha[:, :, 0], alpha[:, :, -1]], axis=1)
            self.assertLess(float(edges.max()), 0.03, name)
            self.assertTrue(np.isfinite(pixels).all() and pixels.min() >= 0 and pixels.max() <= 1, name)

    def test_one_drives_births_masks_and_sources_and_seethes_with_the_clip(self):
        noise = {
            "kind": "made",
            "uid": "noise",
            "name": "noise",
            "pattern": "noise",
            "count": row(4.0),
            "contrast": row(3.0),
            "evolution": row(
                1.0, response("seethes", "clip_time", STRAIGHT, input=(0, 1), output=(0, 1), shape="linear")
            ),
        }
        born = emitter(
            births__rate=row(400.0),
            births__place={"kind": "prop", "prop": "noise", "on": "surface", "density": {"picture": "noise"}},
            births__launch__speed=row(0.0),
            look__opacity=row(
                1.0,
                response(
                    "seen",
                    {"kind": "picture", "prop": "noise", "at": "near", "part": "luminance"},
                    STRAIGHT,
                    read="once",
                    shape="linear",
                ),
            ),
        )
        clip = Playing(read_effect({**document(born), "props": [noise]}))
        early, late = clip.stage.picture_at("noise", 0.0), clip.stage.picture_at("noise", 0.5)
        self.assertGreater(float(np.abs(early.pixels - late.pixels).mean()), 0.02)
        shown = clip.show(25)[0]
        # born where it is bright: the brightness there is more than that of the picture as a whole
        self.assertGreater(
            float(shown.column("opacity").mean()),
            float(clip.stage.picture_at("noise", 1.0).pixels[..., 0].mean()) + 0.05,
        )
        steady = Playing(read_effect({**document(emitter()), "props": [{**noise, "evolution": row(2.0)}]}))
        self.assertIs(steady.stage.picture_at("noise", 0.0), steady.stage.picture_at("noise", 0.9))


class Order(unittest.TestCase):
    def test_by_distance_or_birth_before_or_behind_as_brute_force_says(self):
        look = {"sprite": "soft_disc", "size": row(0.1), "opacity": row(1.0), "colour": row([1.0, 1.0, 1.0])}
        kinds = [
            ("plain", {}),
            ("late", {"order": "birth"}),
            ("front", {"stands": "before"}),
            ("back", {"stands": "behind", "order": "birth"}),
        ]
        clip = Playing(read_effect(document(*(emitter(uid, look={**look, **more}) for uid, more in kinds))))
        layers = clip.layers(25)
        depth = clip.viewpoint.project(np.concatenate([layer.shown.positions() for layer in layers]), 64, 64)[2]
        wanted, at = [], 0
        for layer, (_, more) in zip(layers, kinds, strict=True):
            here = depth[at : at + len(layer.shown)]
            for i, (away, age) in enumerate(zip(here, layer.shown.population.age, strict=True)):
                together = more.get("order") == "birth"
                rank = {"behind": 0, "before": 2}.get(more.get("stands", ""), 1)
                wanted.append((rank, -(here.mean() if together else away), -age if together else 0, at + i))
            at += len(layer.shown)
        self.assertEqual(drawing_order(layers, depth).tolist(), [each[-1] for each in sorted(wanted)])


class Thrown(unittest.TestCase):
    def test_what_a_camera_throws_is_seen_from_it_as_the_picture_itself_wherever_particles_are(self):
        """Projective texture mapping: from the projector's own place the picture looks flat (Segal et al., SIGGRAPH
        1992). One particle that fills the view, far from hundreds at any depth and turned any way."""
        noise = {
            "kind": "made",
            "uid": "noise",
            "name": "noise",
            "pattern": "cells",
            "count": row(5.0),
            "contrast": row(2.0),
        }
        look = {
            "sprite": "picture",
            "pictures": ["noise"],
            "opacity": row(1.0),
            "colour": row([1.0, 0.6, 0.3]),
            "cover_by": "alpha",
        }
        view = 2 * 4.0 * math.tan(math.radians(40) / 2)
        camera = {"position": [0.0, 1.0, 4.0], "target": [0.0, 1.0, 0.0], "field_of_view": math.radians(40)}
        born = lambda count, place: {
            "births__rate": row(0.0),
            "births__bursts": [{"uid": "b", "frame": 0, "count": count}],
            "births__launch__speed": row(0.0),
            "births__place": place,
        }
        one = emitter(look={**look, "size": row(view)}, **born(1, {"kind": "point", "centre": row([0.0, 1.0, 0.0])}))
        lean = {"base": {"source": {"kind": "draw", "draw": "d1"}, "read": "once"}, "responses": []}
        many = emitter(
            look={**look, "size": row(0.5), "lies": "camera"},
            births__rotation=lean,
            **born(600, {"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([3.2, 3.2, 2.0])}),
        )
        flat, thrown = (
            render_pixels(Playing(read_effect({**document(each), "camera": camera, "props": [noise]})), 2, 120, 120)
            for each in (one, many)
        )
        inner = (slice(12, -12), slice(12, -12))
        self.assertGreater(float(thrown[inner][..., 3].min()), 0.99)
        self.assertGreater(float(flat[inner][..., 0].std()), 0.1)
        self.assertLess(float(np.abs(flat - thrown)[inner].mean()), 0.012)
        self.assertLess(float(np.percentile(np.abs(flat - thrown)[inner], 99)), 0.08)
        away = read_effect(
            {
                **document(many),
                "camera": {**camera, "position": [3.0, 2.0, 3.0]},
                "props": [noise, {"kind": "camera", "uid": "there", "name": "there"}],
            }
        )
        behind = Playing(away.model_copy(deep=True))
        self.assertEqual(
            behind.layers(2)[0].projector.project_points(np.array([[6.0, 3.0, 6.0]]), 1.0).tolist(), [[-9.0, -9.0]]
        )


class StandIn(unittest.TestCase):
    def test_a_picture_that_is_gone_is_said_and_the_disc_stands_in(self):
        lost = {"kind": "picture", "uid": "lost", "name": "lost", "files": [{"content": "0" * 32, "name": "lost.png"}]}
        look = {
            "sprite": "picture",
            "pictures": ["lost"],
            "size": row(0.3),
            "opacity": row(1.0),
            "colour": row([1.0, 1.0, 1.0]),
        }
        clip = Playing(read_effect({**document(emitter(look=look)), "props": [lost]}))
        layer = clip.layers(10)[0]
        self.assertIn("not here", layer.problem)
        soft = {"sprite": "soft_disc", "size": row(0.3), "opacity": row(1.0), "colour": row([1.0, 1.0, 1.0])}
        disc = Playing(read_effect(document(emitter(look=soft))))
        np.testing.assert_allclose(render_pixels(clip, 10, 160, 120), render_pixels(disc, 10, 160, 120), atol=1e-6)

    def test_an_edit_of_a_look_steps_nothing(self):
        from kagero.core.simulation import FrameStore

        store = FrameStore()
        look = {
            "sprite": "picture",
            "shelf": "petal",
            "size": row(0.3),
            "opacity": row(1.0),
            "colour": row([1.0, 1.0, 1.0]),
        }
        first = Playing(read_effect(document(emitter(look=look))), store)
        first.show(20)
        before = [run.address for run in first.runs]
        for change in (
            {"shelf": "puffs", "page": row(0.4)},
            {"cut": row(0.3)},
            {"blend": "screen"},
            {"tiles_across": row(3.0), "edges": "repeat"},
        ):
            repeated = Playing(read_effect(document(emitter(look={**look, **change}))), store)
            self.assertEqual([run.address for run in repeated.runs], before)
