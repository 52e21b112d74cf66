"""A kind's modules are found by its name, in the core and on the stage; a kind that lacks one is refused, and named."""

from __future__ import annotations

import re
import unittest
from pathlib import Path
from typing import Literal

import kagero.core.finishing as finishing
from kagero.core.parts.finish import FINISH, FinishPart
from kagero.core.parts.looks import LOOKS
from kagero.core.parts.looks.soft_disc import SoftDisc
from kagero.core.parts.looks.streak import Streak
from kagero.core.picture.items import drawn_by  # noqa: F401 (its import checks every look)
from kagero.core.rows.union import with_more_kinds

STAGE = Path(__file__).parents[2] / "client/src/stage"


class Halo(FinishPart):
    """A finish without a module of its own."""

    label, help = "Halo", "None."
    kind: Literal["halo"]


class Ring(SoftDisc):
    """A disc by another name."""

    sprite: Literal["ring"] = "ring"  # type: ignore[assignment]


class Thread(Streak):
    """A streak by another name."""

    sprite: Literal["thread"] = "thread"  # type: ignore[assignment]


class Namesakes(unittest.TestCase):
    def test_a_kind_without_its_module_is_refused_by_name(self):
        with with_more_kinds():
            FINISH.add(Halo)
            try:
                with self.assertRaisesRegex(TypeError, "'halo' needs a module of its name in kagero.core.finishing"):
                    finishing.stage_uniforms(
                        Halo.model_validate({**Halo.template(), "uid": "h", "name": "h"}), None, None
                    )
            finally:
                del FINISH.kinds["halo"]

    def test_a_look_that_derives_from_another_is_drawn_as_that_one(self):
        with with_more_kinds():
            for kind in (Ring, Thread):
                LOOKS.add(kind)
            try:
                self.assertEqual(
                    LOOKS.namesake("ring", "kagero.core.picture").__name__, "kagero.core.picture.soft_disc"
                )
                self.assertEqual(LOOKS.namesake("thread", "kagero.core.strands").__name__, "kagero.core.strands.streak")
            finally:
                del LOOKS.kinds["ring"], LOOKS.kinds["thread"]

    def test_the_stage_has_a_module_for_each_finish_that_acts_on_light_and_each_look_that_is_painted(self):
        wanted = [f"finishes/{kind}" for kind, part in FINISH.kinds.items() if part.acts == "light"]
        wanted += [f"looks/{kind}" for kind, part in LOOKS.kinds.items() if not (part.strands or part.surfaces)]
        for name in wanted:
            with self.subTest(name):
                self.assertRegex((STAGE / f"{name}.ts").read_text(), re.compile("^export default ", re.MULTILINE))
