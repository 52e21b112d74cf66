"""Any attribute drives any setting: each example of an artist's wish, on the engine, with its numbers worked out beside
it."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from kagero.core.catalog import Scope, choices, list_sources
from kagero.core.document import read_effect
from kagero.core.engine import REFERENCE, use_engine
from kagero.core.errors import CircleProblem, EffectError, LinkProblem
from kagero.core.formats import unpack
from kagero.core.kernels.random import seed_of, uniform_into
from kagero.core.workflows import Playing, PlayRequest, life_profile, play_packets
from tests.making import STRAIGHT, document, emitter, gradient, playing, response, row, with_
from tests.soak import SOAK

BOX = {"kind": "box", "centre": row([0.0, 1.0, 0.0]), "size": row([2.0, 2.0, 2.0])}  # heights 0 to 2, x -1 to 1


def drawn(values: Playing, draw: str, number: int, uid: str = "one") -> np.ndarray:
    """Return the raw random number in [0, 1) of each living particle, from the hash itself."""
    keys = values.frames(number)[0].population.key
    out = np.empty(len(keys), np.float32)
    uniform_into(keys, np.uint64(seed_of(values.effect.clip.seed, uid, draw)), out)
    return out


def ratio(uid: str, source: dict[str, Any], reference: float, power: float, read: str = "live") -> dict[str, Any]:
    return {"kind": "ratio", "uid": uid, "source": source, "read": read, "reference": reference, "power": power}


class Examples(unittest.TestCase):
    """The examples that must be easy."""

    def test_age_share_to_size_as_a_bell_each_particle_with_its_own_peak(self):
        """A tent over life, shifted by -0.25..0.25: size = 0.2 (1 - |2 (life - shift) - 1|), nought outside."""
        bell = response("bell", "life", [(0, 0), (0.5, 1), (1, 0)], shape="linear")
        bell["shift"] = {
            "base": 0,
            "responses": [
                response("own", "draw:d1", STRAIGHT, output=(-0.25, 0.25), read="once", operation="add", shape="linear")
            ],
        }
        clip = playing(emitter(look__size=row(0.2, bell)))
        p, shown = clip.frames(40)[0].population, clip.show(40)[0]
        life, shift = p.age / p.lifespan, drawn(clip, "d1", 40) * 0.5 - 0.25
        expected = 0.2 * np.clip(1 - np.abs(2 * (life - shift) - 1), 0, 1)
        np.testing.assert_allclose(shown.column("size"), expected, atol=2e-6)
        self.assertGreater(np.ptp(shift), 0.4)

    def test_birth_height_to_size_so_that_low_ones_are_smaller(self):
        """Height 0..2 m to 0.1..0.3 m: size = 0.1 + 0.1 h."""
        by_height = response(
            "h", "height", STRAIGHT, input=(0, 2), output=(0.1, 0.3), read="once", operation="set", shape="linear"
        )
        clip = playing(emitter(births__place=BOX, look__size=row(1.0, by_height)))
        p = clip.frames(10)[0].population
        born_at = p.position[1] - p.age * 1.0  # launched straight up at 1 m/s, nothing pushes
        np.testing.assert_allclose(clip.show(10)[0].column("size"), 0.1 + 0.1 * born_at, atol=1e-5)

    def test_size_to_how_fast_it_turns_small_ones_faster(self):
        """Spin x typical size / own size: 2 rad/s at 0.1 m is 4 rad/s at 0.05 m and 1 rad/s at 0.2 m; turned = spin x
        age."""
        sizes = {
            "kind": "choice",
            "uid": "d1",
            "name": "size",
            "options": [{"value": 0.05}, {"value": 0.1}, {"value": 0.2}],
        }
        base = {"source": {"kind": "draw", "draw": "d1"}, "read": "once"}
        clip = playing(
            emitter(
                draws=[sizes],
                look__size={"base": base},
                motion={"spin": row(2.0, ratio("r", {"kind": "size"}, 0.1, -1))},
            )
        )
        p, shown = clip.frames(20)[0].population, clip.show(20)[0]
        for size, spin in ((0.05, 4.0), (0.1, 2.0), (0.2, 1.0)):
            these = np.isclose(shown.column("size"), size) & (p.age > 0)
            self.assertTrue(these.any())
            np.testing.assert_allclose(p.carried["rotation"][these], spin * p.age[these], rtol=1e-4, atol=1e-5)

    def test_size_to_gravity_large_ones_fall_slowly_and_flipped(self):
        """Size 0.1..0.3 m to 10..2 m/s²: after 1 s from rest v = -g; flipped upside down, 2..10."""
        sizes = {
            "kind": "choice",
            "uid": "d1",
            "name": "size",
            "options": [{"value": 0.1}, {"value": 0.2}, {"value": 0.3}],
        }
        for keys, expected in (([(0, 1), (1, 0)], {0.1: 10, 0.2: 6, 0.3: 2}), (STRAIGHT, {0.1: 2, 0.2: 6, 0.3: 10})):
            by_size = response("g", "size", keys, input=(0.1, 0.3), output=(2, 10), operation="set", shape="linear")
            clip = playing(
                emitter(
                    draws=[sizes],
                    look__size={"base": {"source": {"kind": "draw", "draw": "d1"}, "read": "once"}},
                    births__lifespan=row(9.0),
                    births__launch__speed=row(0.0),
                    forces=[{"kind": "gravity", "uid": "g", "strength": row(9.0, by_size)}],
                )
            )
            p, shown = clip.frames(50)[0].population, clip.show(50)[0]
            for size, g in expected.items():
                these = np.isclose(shown.column("size"), size) & (p.age > 0)
                np.testing.assert_allclose(-p.velocity[1][these] / p.age[these], g, rtol=1e-4)

    def test_colour_brightness_to_gravity(self):
        """Luminance of linear light (ITU-R BT.709: 0.2126, 0.7152, 0.0722): grey 0.25 is 0.25, pure red 0.2126; gravity
        10 x that."""
        for colour, light in (([0.25, 0.25, 0.25], 0.25), ([1.0, 0.0, 0.0], 0.2126), ([0.0, 0.5, 1.0], 0.4298)):
            pull = response("g", "brightness", STRAIGHT, shape="linear")
            clip = playing(
                emitter(
                    look__colour=row(colour),
                    births__lifespan=row(9.0),
                    births__launch__speed=row(0.0),
                    forces=[{"kind": "gravity", "uid": "g", "strength": row(10.0, pull)}],
                )
            )
            p = clip.frames(50)[0].population
            np.testing.assert_allclose(-p.velocity[1][0] / p.age[0], 10 * light, rtol=1e-4)

    def test_a_draw_to_gravity_12_with_a_spread_of_9_spans_3_to_21(self):
        """12 +- 9 spans 3 to 21: common practice, no source."""
        draw = {"kind": "spread", "uid": "d1", "name": "weight", "centre": row(12), "spread": row(9)}
        clip = playing(
            emitter(
                draws=[draw],
                births__rate=row(2000),
                births__launch__speed=row(0.0),
                forces=[
                    {
                        "kind": "gravity",
                        "uid": "g",
                        "strength": {"base": {"source": {"kind": "draw", "draw": "d1"}, "read": "once"}},
                    }
                ],
            )
        )
        p = clip.frames(20)[0].population
        old = p.age > 0.2
        g = -p.velocity[1][old] / p.age[old]
        np.testing.assert_allclose(g, 3 + 18 * drawn(clip, "d1", 20)[old], rtol=1e-3)
        self.assertLess(g.min(), 3.1)
        self.assertGreater(g.max(), 20.9)

    def test_position_x_to_two_colours_sharp_or_soft(self):
        """Left of x = 0 red, right blue; soft mixes linearly from x = -0.5 to 0.5."""
        for shape, stops in (
            ("hold", [(0, (1.0, 0.0, 0.0)), (0.5, (0.0, 0.0, 1.0))]),
            ("linear", [(0.25, (1.0, 0.0, 0.0)), (0.75, (0.0, 0.0, 1.0))]),
        ):
            two = gradient("c", "life", stops, input=(-1, 1))
            two["source"] = {"kind": "position", "part": "x"}
            for stop in two["gradient"]["stops"]:
                stop["shape"] = shape
            clip = playing(emitter(births__place=BOX, look__colour=row([1.0, 1.0, 1.0], two)))
            shown = clip.show(25)[0]
            x = shown.population.position[0]
            blue = (x >= 0).astype(float) if shape == "hold" else np.clip(x + 0.5, 0, 1)
            np.testing.assert_allclose(shown.column("colour")[:, 2], blue, atol=1e-5)
            np.testing.assert_allclose(shown.column("colour")[:, 0], 1 - blue, atol=1e-5)

    def test_height_to_opacity_fading_out_between_two_heights(self):
        """Full below 1 m, nought above 1.5 m, half at 1.25 m."""
        fade = response("f", "height", [(0, 1), (1, 0)], input=(1, 1.5), shape="linear")
        clip = playing(emitter(births__place=BOX, look__opacity=row(0.8, fade)))
        shown = clip.show(30)[0]
        np.testing.assert_allclose(
            shown.column("opacity"), 0.8 * np.clip((1.5 - shown.population.position[1]) / 0.5, 0, 1), atol=1e-5
        )


class Growth(unittest.TestCase):
    """Growth by rate, up to a ceiling."""

    def grown(self, change: Any = 0.2, highest: Any = 0.3, **clip: Any) -> Playing:
        draws = [{"uid": uid, "name": uid, "kind": "uniform"} for uid in ("d1", "d2")]
        own = {
            "kind": "number",
            "uid": "grown",
            "name": "grown",
            "unit": "m",
            "memory": True,
            "held": True,
            "start": row(0),
            "change": change if isinstance(change, dict) else row(change),
            "lowest": row(0),
            "highest": highest if isinstance(highest, dict) else row(highest),
        }
        return playing(
            emitter(
                own=[own],
                draws=draws,
                births__lifespan=row(4.0),
                look__size={"base": {"source": {"kind": "own", "own": "grown"}, "read": "live"}},
            ),
            **clip,
        )

    def test_growth_r_to_a_ceiling_c_takes_c_over_r(self):
        """0.2 m/s to 0.3 m takes 1.5 s: common practice, no source. Substeps change nothing."""
        for substeps in (1, 4):
            shown = self.grown(substeps=substeps).show(50)[0]
            age = shown.population.age
            np.testing.assert_allclose(shown.column("size"), np.minimum(0.2 * age, 0.3), atol=2e-6)
            self.assertEqual(set(np.round(shown.column("size")[age > 1.5 + 1e-5], 6)), {np.float32(0.3).round(6)})

    def test_the_ceiling_is_mapped_by_age_full_then_falling_to_nil(self):
        """Full to half the life, then falling to nought in a straight line: at life 0.75 the ceiling is half of 0.3."""
        ceiling = row(0.3, response("c", "life", [(0, 1), (0.5, 1), (1, 0)], shape="linear"))
        shown = self.grown(change=1.0, highest=ceiling, last_frame=110).show(105)[0]
        life = shown.population.age / shown.population.lifespan
        expected = np.minimum(shown.population.age, 0.3 * np.clip(2 * (1 - life), 0, 1))
        np.testing.assert_allclose(shown.column("size"), expected, atol=1e-5)

    def test_rates_and_ceilings_of_each_particle(self):
        """Rate 0.1..0.5 m/s and ceiling 0.2..0.4 m, each from a draw of its own."""
        rate = row(1.0, response("r", "draw:d1", STRAIGHT, output=(0.1, 0.5), read="once", shape="linear"))
        ceiling = row(1.0, response("c", "draw:d2", STRAIGHT, output=(0.2, 0.4), read="once", shape="linear"))
        clip = self.grown(rate, ceiling)
        shown = clip.show(50)[0]
        expected = np.minimum(
            (0.1 + 0.4 * drawn(clip, "d1", 50)) * shown.population.age, 0.2 + 0.2 * drawn(clip, "d2", 50)
        )
        np.testing.assert_allclose(shown.column("size"), expected, atol=3e-6)

    def test_a_running_sum_is_the_way_travelled(self):
        """Change = speed: at 1 m/s the way is the age, in metres."""
        direction = {
            "kind": "number",
            "uid": "way",
            "name": "way",
            "memory": True,
            "start": row(0),
            "change": {"base": {"source": {"kind": "speed"}, "read": "live"}},
        }
        p = playing(emitter(own=[direction])).frames(30)[0].population
        np.testing.assert_allclose(p.carried["own.way.0"], p.age, atol=1e-5)


class OnceMeansOnce(unittest.TestCase):
    def test_what_was_read_at_birth_stays_after_crossing_while_its_curve_stays_editable(self):
        """Born left of x = 0 and flying right at 1 m/s: once, they stay red; live, they turn blue as they cross."""

        def coloured(read: str, blue: float = 1.0) -> Playing:
            two = gradient("c", "life", [(0, (1.0, 0.0, 0.0)), (0.5, (0.0, 0.0, blue))], input=(-1, 1), read=read)
            two["source"] = {"kind": "position", "part": "x"}
            two["gradient"]["stops"][0]["shape"] = "hold"
            place = {"kind": "point", "centre": row([-0.3, 0.0, 0.0])}
            return playing(
                emitter(
                    births__place=place,
                    births__launch__direction=row([1.0, 0.0, 0.0]),
                    look__colour=row([1.0, 1.0, 1.0], two),
                )
            )

        once, live = coloured("once"), coloured("live")
        x = once.frames(30)[0].population.position[0]
        self.assertTrue((x > 0).any() and (x < 0).any())
        self.assertEqual(once.show(30)[0].column("colour")[:, 2].max(), 0)
        clear = np.abs(x) > 1e-5
        np.testing.assert_array_equal(live.show(30)[0].column("colour")[clear, 2], (x[clear] >= 0).astype(np.float32))
        edited = Playing(coloured("once", blue=0.5).effect, once.store)
        stepped = once.store.frames_simulated
        edited.show(30)
        self.assertEqual(once.store.frames_simulated, stepped)  # the source is kept, so another colour steps nothing

    def test_a_base_read_once_keeps_its_source(self):
        place = {"kind": "sphere", "centre": row([0.0, 0.0, 0.0]), "radius": row(1.0), "on": "surface"}
        along = {"base": {"source": {"kind": "birth_normal", "part": "whole"}, "read": "once"}}
        p = playing(emitter(births__place=place, births__launch__direction=along)).frames(20)[0].population
        position, velocity = np.stack(p.position, 1), np.stack(p.velocity, 1)
        np.testing.assert_allclose(
            np.cross(position, velocity), 0, atol=1e-4
        )  # launched along the surface's normal, straight away
        np.testing.assert_allclose(np.linalg.norm(position, axis=1), 1 + p.age, atol=1e-4)


class Sources(unittest.TestCase):
    def setUp(self):
        own = [
            {
                "kind": "vector",
                "uid": "o",
                "name": "place",
                "start": {"base": {"source": {"kind": "birth_position", "part": "whole"}, "read": "once"}},
            }
        ]
        forces = [{"kind": "wind", "uid": "w", "velocity": row([1.0, 0.0, 0.5]), "coupling": row(0.4)}]
        self.one = emitter(
            births__place=BOX,
            own=own,
            forces=forces,
            births__mass=row(2.0),
            births__bursts=[{"uid": "b", "frame": 3, "count": 5}],
        )

    def test_what_is_wanted_most_stands_first_and_everyday_words_find_it(self):
        effect = read_effect(document(self.one))
        listed = choices(effect, effect.emitters[0], "look.size")
        keys = [choice.key for choice in listed]
        self.assertEqual(keys[:3], ["life", "age", "lifespan"])
        self.assertLess(keys.index("speed"), keys.index("position.x"))
        self.assertLess(max(keys.index(key) for key in ("position.x", "size", "formula")), keys.index("number"))
        groups = [choice.group for choice in listed]
        self.assertEqual(
            len(set(groups)),
            sum(a != b for a, b in zip(["", *groups], groups, strict=False)),
            "a group stands in one place",
        )
        for word, key in (
            ("left", "position.x"),
            ("above", "position.y"),
            ("fast", "speed"),
            ("old", "age"),
            ("random", "noise"),
            ("transparent", "opacity"),
        ):
            self.assertIn(key, [choice.key for choice in listed if word in choice.words.split()], word)

    def test_every_source_in_the_list_drives_every_row_or_says_why_not(self):
        """What the list offers for a row compiles and plays; what it does not offer is refused by the core too, in the
        same words."""
        effect = read_effect(document(self.one))
        whole = effect.model_dump(mode="json")
        tried = refused = 0
        for r, placed in enumerate(Scope(effect.emitters[0], effect).sheet_rows()):
            for c, choice in enumerate(choices(effect, effect.emitters[0], placed.address)):
                if (r + c) % (
                    2 if SOAK else 13
                ) and not choice.refusal:  # every row and every source, of their pairs a share
                    continue
                fields = {
                    "kind": "curve",
                    "uid": "new",
                    "source": choice.source,
                    "read": choice.read,
                    "input": choice.input,
                    "output": [0.5, 1.0],
                    "curve": {"keys": [{"x": 0, "y": 0}, {"x": 1, "y": 1}]},
                }
                where = "__".join(["emitters", "0", *placed.path.split("."), "responses"])
                candidate = with_(whole, **{where: [fields]}) if not choice.whole else None
                if candidate is None:
                    continue
                if choice.refusal:
                    refused += 1
                    with self.assertRaises(EffectError, msg=f"{placed.address} from {choice.key}"):
                        Playing(read_effect(candidate))
                else:
                    tried += 1
                    with use_engine(REFERENCE):  # that engines agree is tested elsewhere
                        columns = Playing(read_effect(candidate)).frames(1)[0].population.columns()
                    self.assertTrue(
                        all(np.isfinite(c.astype(float)).all() for c in columns), f"{placed.address} from {choice.key}"
                    )
        self.assertGreater(tried, 400 if SOAK else 60)
        self.assertGreater(refused, 100)

    def test_sources_are_what_they_say(self):
        clip = playing(self.one)
        p = clip.frames(20)[0].population
        from kagero.core.workflows import Particles, TableRequest

        table = Particles(clip, "one").table(20, TableRequest(count=500))
        at = {
            column["key"]: np.array([line[i + 2] for line in table["rows"]])
            for i, column in enumerate(table["columns"])
        }
        velocity = np.stack(p.velocity, 1)
        np.testing.assert_allclose(at["speed"], np.linalg.norm(velocity, axis=1), rtol=1e-5)
        np.testing.assert_allclose(at["velocity.z"], velocity[:, 2], rtol=1e-5)
        np.testing.assert_allclose(at["birth_frame"], p.birth_time * 25, atol=1e-4)
        np.testing.assert_allclose(at["own.o.x"], at["birth_position.x"], atol=1e-6)
        np.testing.assert_array_equal(at["mass"], 2)
        burst = (p.key >> np.uint64(63)) == 1
        self.assertEqual(sorted(at["number"][burst]), [0, 1, 2, 3, 4])
        self.assertEqual(sorted(at["number"][~burst]), list(range(int((~burst).sum()))))

    def test_mass_divides_what_wind_does(self):
        """Coupling 0.4 /s at 1 kg is 0.2 /s at 2 kg: v = w (1 - exp(-0.2 t))."""
        p = playing(with_(self.one, births__launch__speed=row(0.0))).frames(24)[0].population
        np.testing.assert_allclose(p.velocity[0], 1 - np.exp(-0.2 * p.age), rtol=2e-3, atol=1e-5)

    def test_distance_and_noise_have_settings_that_can_be_driven(self):
        far = {
            "kind": "curve",
            "uid": "f",
            "source": {"kind": "distance", "uid": "s", "point": [0.0, 1.0, 0.0]},
            "read": "live",
            "input": [0, 4],
            "output": [0, 4],
            "operation": "set",
            "curve": {"keys": [{"x": 0, "y": 0, "shape": "linear"}, {"x": 1, "y": 1}]},
        }
        clip = playing(emitter(births__place=BOX, look__size=row(1.0, far)))
        shown = clip.show(20)[0]
        np.testing.assert_allclose(
            shown.column("size"), np.linalg.norm(shown.positions() - [0, 1, 0], axis=1), atol=1e-5
        )
        moving = with_(
            far,
            source__point={
                "base": [0.0, 1.0, 0.0],
                "responses": [
                    {
                        **response(
                            "p", "clip_time", STRAIGHT, input=(0, 2), output=(0, 2), operation="add", shape="linear"
                        ),
                        "component": "x",
                    }
                ],
            },
        )
        shown = playing(emitter(births__place=BOX, look__size=row(1.0, moving))).show(20)[
            0
        ]  # at 0.8 s the point is at x = 0.8
        np.testing.assert_allclose(
            shown.column("size"), np.linalg.norm(shown.positions() - [0.8, 1, 0], axis=1), atol=1e-5
        )

    def test_another_rows_value_is_its_final_one(self):
        """Opacity reads the stretch row, which is 1 + 2 x life."""
        stretch = row(1.0, response("s", "life", STRAIGHT, output=(1, 3), shape="linear"))
        follow = {
            **response("f", "life", STRAIGHT, input=(1, 3), shape="linear"),
            "source": {"kind": "row", "row": "look.stretch"},
        }
        shown = playing(emitter(look__stretch=stretch, look__opacity=row(1.0, follow))).show(25)[0]
        np.testing.assert_allclose(shown.column("opacity"), shown.population.age / shown.population.lifespan, atol=1e-5)

    def test_a_circle_over_settings_and_rows_is_named(self):
        opacity = response("o", "life", STRAIGHT)
        opacity["exponent"] = row(1.0, response("e", "brightness", STRAIGHT))
        colour = {**response("c", "life", STRAIGHT), "source": {"kind": "opacity"}}
        with self.assertRaises(CircleProblem) as caught:
            playing(emitter(look__opacity=row(1.0, opacity), look__colour=row([1.0, 1.0, 1.0], colour)))
        self.assertIn("Opacity <- Colour <- Opacity", str(caught.exception))
        playing(emitter(look__opacity=row(1.0, opacity), look__colour=row([1.0, 1.0, 1.0], {**colour, "muted": True})))

    def test_a_row_of_the_whole_emitter_refuses_what_exists_on_a_particle_only(self):
        with self.assertRaises(LinkProblem) as caught:
            playing(emitter(births__rate=row(10, response("r", "life", STRAIGHT))))
        self.assertIn("Rate belongs to the whole emitter; life exists only on a particle.", str(caught.exception))

    def test_settings_driven_too_deep_are_refused(self):
        inner: dict[str, Any] = response("r0", "life", STRAIGHT)
        for depth in range(1, 6):
            outer = response(f"r{depth}", "life", STRAIGHT)
            outer["amount"] = row(1.0, inner)
            inner = outer
        with self.assertRaises(LinkProblem) as caught:
            playing(emitter(look__size=row(0.1, inner)))
        self.assertIn("levels deep", str(caught.exception))

    def test_the_list_has_every_attribute_once(self):
        keys = [listed.key for listed in list_sources(Scope(read_effect(document(self.one)).emitters[0]))]
        self.assertEqual(len(keys), len(set(keys)))
        for key in (
            "number",
            "age",
            "lifespan",
            "life",
            "position.x",
            "velocity.length",
            "speed",
            "size",
            "colour.red",
            "brightness",
            "opacity",
            "rotation",
            "spin",
            "mass",
            "birth_position.y",
            "birth_frame",
            "birth_u",
            "birth_v",
            "birth_normal.z",
            "clip_time",
            "noise",
            "distance",
        ):
            self.assertIn(key, keys)


class Muting(unittest.TestCase):
    def test_a_muted_row_and_a_muted_source_do_what_removing_their_responses_does(self):
        half = response("a", "life", STRAIGHT, output=(0.5, 0.5))
        also = response("b", "draw:d1", STRAIGHT, output=(0.1, 0.1), read="once")
        plain = lambda **more: playing(
            emitter(look__size=row(1.0, half, also), look__opacity=row(1.0, {**half, "uid": "c"}), **more)
        ).show(20)[0]
        np.testing.assert_allclose(plain().column("size"), 0.05, rtol=1e-6)
        muted = plain(muted_sources=["life"])
        np.testing.assert_allclose(muted.column("size"), 0.1, rtol=1e-6)
        np.testing.assert_allclose(muted.column("opacity"), 1)
        np.testing.assert_allclose(plain(look__size__muted=True).column("size"), 1)


class Quiet(unittest.TestCase):
    def words(self, collected: dict[str, Any], **more: Any) -> str:
        playing_ = playing(emitter(look__size=row(0.2, collected), **more))
        frames = [(n / 25, playing_.frames(n)[0].population) for n in range(51)]
        profile = life_profile(playing_.effect.emitters[0], playing_.plan.emitters[0], frames)
        return profile["responses"][collected["uid"]]["quiet"]

    def test_a_response_that_does_nothing_says_why(self):
        self.assertEqual(self.words(response("x", "life", STRAIGHT)), "")
        self.assertIn("same for all: 0", self.words(response("x", "height", STRAIGHT), births__launch__speed=row(0.0)))
        self.assertIn("No particle lies inside", self.words(response("x", "life", STRAIGHT, input=(5, 6))))
        self.assertIn("gives the same for all: 1", self.words(response("x", "life", [(0, 1), (1, 1)])))
        self.assertIn("no width", self.words(response("x", "life", STRAIGHT, input=(0.5, 0.5))))

    def test_what_decides_who_is_born_is_judged_on_those_who_were_not_too(self):
        """All who live were inside a hard mask: among them its value is the same, and all the same it does
        something."""
        within = lambda uid: response(uid, {"kind": "mask", "mask": "m"}, STRAIGHT, shape="linear", read="once")
        hard = {
            "uid": "m",
            "name": "M",
            "kind": "mask",
            "shape": "sphere",
            "position": row([0.0, 1.0, 0.0]),
            "radius": row(0.7),
            "falloff": row(0.0),
        }
        parent = emitter("p", births__place=BOX, births__keep=row(1.0, within("a")), births__rate=row(9000.0))
        child = emitter(
            "c",
            births__rate=row(3.0),
            births__place={"kind": "particles", "emitter": "p"},
            births__keep=row(1.0, within("b")),
        )
        clip = Playing(read_effect({**document(parent, child), "props": [hard]}))
        header = [unpack(packet)[0] for packet in play_packets(clip, 5, PlayRequest())][-1]
        quiet = [each["profile"]["responses"] for each in header["emitters"]]
        self.assertEqual([quiet[0]["a"]["quiet"], quiet[0]["a"]["low"], quiet[0]["a"]["high"]], ["", 0.0, 1.0])
        self.assertEqual([quiet[1]["b"]["quiet"], quiet[1]["b"]["low"], quiet[1]["b"]["high"]], ["", 0.0, 1.0])
        alone = life_profile(clip.effect.emitters[0], clip.plan.emitters[0], [(0.4, clip.frames(10)[0].population)])
        self.assertIn("same for all: 1", alone["responses"]["a"]["quiet"])  # as it was judged on those who live
