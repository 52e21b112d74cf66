"""The worked example of docs/ADDING.md, as it stands there."""

from __future__ import annotations

import re
import sys
import types
import unittest
from pathlib import Path

import numpy as np

from kagero.core.catalog import check_effect, layout
from kagero.core.document import read_effect, upgrade
from kagero.core.engine import REFERENCE, current_engine, use_engine
from kagero.core.parts.pushes import PUSHES
from kagero.core.rows.union import with_more_kinds
from kagero.core.workflows import Playing
from tests.making import document, emitter, row, with_

PAGE = Path(__file__).parents[2] / "docs" / "ADDING.md"
NAME = "kagero.core.parts.pushes.whirl"


class WorkedExample(unittest.TestCase):
    def test_the_force_of_the_page_does_what_it_says(self):
        (code,) = re.findall(r"```python\n(.*?)```", PAGE.read_text(), re.DOTALL)
        module = types.ModuleType(NAME)
        module.__package__ = NAME.rpartition(".")[0]
        sys.modules[NAME] = module
        self.addCleanup(sys.modules.pop, NAME)
        exec(compile(code, str(PAGE), "exec"), module.__dict__)
        with with_more_kinds((PUSHES, module.Whirl)):
            push = {**module.Whirl.template(), "uid": "w", "strength": row(2.0)}
            one = emitter(
                births__launch__speed=row(0.0), births__place={"kind": "point", "centre": row([1.0, 0.0, 0.0])}
            )
            body = with_(upgrade(document(one, substeps=8)), emitters__0__forces=[push])
            effect = read_effect(body)
            self.assertEqual(check_effect(effect), [])
            part = layout(effect)["emitters"]["one"]["parts"]["forces.#w"]
            self.assertEqual(
                (part["label"], part["help"], len(part["rows"])),
                ("Whirl", "Round an upright axis, as strong everywhere.", 3),
            )
            # from rest at x = 1 the push is along -z, a = 2: z = -t² while x is still about 1
            for choice in (REFERENCE, current_engine()):
                with use_engine(choice):
                    population = Playing(effect).frames(8)[0].population
                    age = population.age.astype(float)
                    young = (age > 0) & (age < 0.15)
                    np.testing.assert_allclose(population.position[2][young], -(age[young] ** 2), atol=2e-3)
            other = read_effect(with_(body, emitters__0__forces__0__way="right"))
            self.assertGreater(float(Playing(other).frames(8)[0].population.position[2].max()), 0.01)
