"""What docs/ say in numbers is what the code has; what they name is there."""

from __future__ import annotations

import re
import unittest
from pathlib import Path

from django.conf import settings

from kagero.core.beginnings import BEGINNINGS
from kagero.core.document import MAX_DOCUMENT_BYTES, SCHEMA_VERSION
from kagero.core.engine import reference
from kagero.core.engine.native import machine
from kagero.core.engine.operations import OPERATIONS
from kagero.core.formats import gltf, meshes, pictures, svg
from kagero.core.formats.importing import MOST_NAME
from kagero.core.formula import FUNCTIONS, language
from kagero.core.formula.check import MOST_COST
from kagero.core.kernels.contact_columns import TOUCHES
from kagero.core.parts.draws import DRAWS
from kagero.core.parts.masks import MASKS
from kagero.core.parts.pushes import PUSHES
from kagero.core.picture.render import MAX_PIXELS
from kagero.core.plan.birth import BeforeContext, BirthContext, RecalledBirth
from kagero.core.plan.contexts import ByClipContext, EmitterContext, FieldContext
from kagero.core.plan.living_contexts import FrameContext, StepContext
from kagero.core.program import builder
from kagero.core.simulation import births, births_from_particles, step
from kagero.core.work_limits import Limits
from kagero.core.workflows.bake import MAX_PARTICLE_FRAMES
from kagero.server.library import files
from kagero.server.people import rules, sign_in_limits
from tests.making.budgets import AT_ONCE

DOCS = Path(settings.BASE_DIR) / "docs"
# page, words with the number in brackets, what it is in the code
STATED = [
    ("ENGINE", r"sampled every 1/(\d+) s", 1 / births.GRID),
    ("ENGINE", r"over blocks of ([\d,]+)\s+particles", reference.BLOCK),
    ("ENGINE", r"From ([\d,]+) on each thread takes", 2 * step.WORTH_IT),
    ("ENGINE", r"in blocks of ([\d,]+)", step.BLOCK),
    ("ENGINE", r"more births \(([\d,]+) an emitter and clip", births.MAX_BIRTHS),
    ("ENGINE", r"([\d,]+) a frame from particles\)", births_from_particles.MAX_BIRTHS_A_FRAME),
    ("ENGINE", r"particles in a cache \(([\d,]+)\)", MAX_PARTICLE_FRAMES),
    ("ENGINE", r"pixels \(([\d,]+)\)", MAX_PIXELS),
    ("ENGINE", r"operations of a program \(([\d,]+)\)", builder.MOST_OPERATIONS),
    ("ENGINE", r"bytes of an effect \((\d+) GiB\)", Limits().effect_bytes >> 30),
    ("ENGINE", r"more than (\d+) million operations\s+without asking", AT_ONCE / 1e6),
    ("ENGINE", r"too large \((\d+) MiB\)", MAX_DOCUMENT_BYTES >> 20),
    ("FORMATS", r"`schema_version` is (\d+)", SCHEMA_VERSION),
    ("FORMATS", r"to (\d+) open \(`document/upgrade.py`\)", SCHEMA_VERSION - 1),
    ("FORMATS", r"at most (\d+) MiB", MAX_DOCUMENT_BYTES >> 20),
    ("FORMATS", r"longer than (\d+) characters", MOST_NAME),
    ("FORMATS", r"more than ([\d,]+) triangles", meshes.MOST_FACES),
    ("FORMATS", r"triangles, (\d+) MiB", meshes.MOST_BYTES >> 20),
    ("FORMATS", r"([\d,]+) pixels or", pictures.MOST_PIXELS),
    ("FORMATS", r"pixels or ([\d,]+) a side", pictures.MOST_SIDE),
    ("FORMATS", r"([\d,]+) parts of a drawing", svg.MOST_ELEMENTS),
    ("FORMATS", r"drawn out, are more than ([\d,]+) parts", svg.MOST_EXPANDED),
    ("FORMATS", r"baked every 1/(\d+) s", 1 / gltf.FRAME),
    ("FORMATS", r"within (\d+) s and \d+ GiB of a process", files.SECONDS),
    ("FORMATS", r"within \d+ s and (\d+) GiB of a process", files.MEMORY >> 30),
    ("PROPS", r"with limits of (\d+) s and", files.SECONDS),
    ("PROPS", r"and (\d+) days more \(`KAGERO_KEEP_DAYS`\)", settings.KEEP_DAYS),
    ("FORMULAS", r"([\d,]+) characters,", language.MOST_CHARACTERS),
    ("FORMULAS", r"(\d+) lines,", language.MOST_STEPS),
    ("FORMULAS", r"(\d+) parts,", language.MOST_NODES),
    ("FORMULAS", r"(\d+) levels,", language.MOST_NESTED),
    ("FORMULAS", r"(\d+) open brackets", language.MOST_BRACKETS),
    ("FORMULAS", r"and ([\d,]+) operations a\s+particle", MOST_COST),
    ("FORMULAS", r"noise counts (\d+)", FUNCTIONS["noise"].weight),
    ("SERVING", r"within (\w+) days", {3: "three"}[rules.DAYS]),
    ("SERVING", r"After (\w+) wrong ones", {8: "eight"}[sign_in_limits.TRIES]),
    ("SERVING", r"`KAGERO_THREADS`.*\| (\d+) \|", 4 * settings.MOST_STREAMS),
    ("SERVING", r"`KAGERO_MEMORY_BYTES`.*\| (\d+) \|", 2 << 30),
    ("SERVING", r"`KAGERO_EFFECT_BYTES`.*\| (\d+) \|", 3 << 30),
    ("SERVING", r"`KAGERO_KEEP_DAYS`.*\| (\d+) \|", 30),
    ("SERVING", r"`KAGERO_KEEP_EXPORTS_DAYS`.*\| (\d+) \|", 7),
]

NUMBERS = [
    "zero",
    "one",
    "two",
    "three",
    "four",
    "five",
    "six",
    "seven",
    "eight",
    "nine",
    "ten",
    "eleven",
    "twelve",
    "thirteen",
    "fourteen",
    "fifteen",
    "sixteen",
]
CONTEXTS = (
    EmitterContext,
    ByClipContext,
    FieldContext,
    BirthContext,
    BeforeContext,
    RecalledBirth,
    StepContext,
    FrameContext,
)
COUNTED = [  # page, words with the count in words, what it is in the code
    ("docs/ENGINE.md", r"one of (\w+) \*\*contexts\*\*", len(CONTEXTS)),
    ("docs/FEATURES.md", r"one of (\w+) beginnings", len(BEGINNINGS) - 1),
    ("docs/FEATURES.md", r"Masks \| (\w+) kinds", len(MASKS.kinds)),
    ("docs/FEATURES.md", r"Pushes \| (\w+) forces", len(PUSHES.kinds)),
    ("docs/CONTACTS.md", r"up to\s+\*\*(\w+) a step", TOUCHES),
    ("docs/FEATURES.md", r"draws of (\w+) kinds", len(DRAWS.kinds)),
]
IMAGINED = frozenset(  # a folder of the user's cache
    {"kagero/kernels"}
)


def _tree(folder: Path) -> list[str]:
    """Return the files and folders within a folder of the project, relative to it, without what is installed."""
    found = [folder.name]
    for path in sorted(folder.iterdir()):
        if path.name in ("node_modules", "dist", "__pycache__"):
            continue
        found.append(f"{folder.name}/{path.name}")
        if path.is_dir():
            found += [f"{folder.name}/{each}" for each in _tree(path)]
    return found


class Docs(unittest.TestCase):
    def text(self, page: str) -> str:
        return (DOCS / f"{page}.md").read_text()

    def test_numbers(self):
        for page, words, value in STATED:
            found = re.search(words, self.text(page))
            self.assertIsNotNone(found, f"{page}: {words}")
            stated = found[1].replace(",", "")
            self.assertEqual(stated if isinstance(value, str) else float(stated), value, f"{page}: {words}")

    def test_better_code_comes_after_as_long_as_is_said(self):
        self.assertIn(f"run for {({2: 'twice'})[machine.OPTIMISE_AFTER]} as long", self.text("ENGINE"))

    def test_the_table_of_how_far_the_engines_may_be_apart(self):
        stated: dict[str, int] = {}
        for names, ulp in re.findall(r"^\| ((?:`\w+`(?:, )?)+) \| (\d+) \|", self.text("ENGINE"), re.MULTILINE):
            stated |= {name: int(ulp) for name in re.findall(r"`(\w+)`", names)}
        self.assertEqual(stated, {name: entry.ulp for name, entry in OPERATIONS.items() if entry.ulp})

    def test_every_code_of_an_error_stands_in_the_table(self):
        table = set(
            re.findall(
                r"`(\w+)`",
                " ".join(
                    line.split("|")[1]
                    for line in self.text("ENGINE").partition("## Errors")[2].splitlines()
                    if line.startswith("| `")
                ),
            )
        )
        from kagero.core import errors

        codes = {thing.code for thing in vars(errors).values() if isinstance(thing, type) and hasattr(thing, "code")}
        self.assertEqual(codes | {"missing_file", "missing_letters", "outside_clip", "replaced"}, table)

    def test_counts_in_words(self):
        for page, words, count in COUNTED:
            text = (DOCS.parent / page).read_text()
            found = re.search(words, text, re.DOTALL)
            self.assertIsNotNone(found, f"{page}: {words}")
            self.assertEqual(NUMBERS.index(found[1].lower()), count, f"{page}: {words}")

    def test_every_path_in_backticks_is_there(self):
        root = Path(settings.BASE_DIR)
        files = [each for top in ("kagero", "client", "docs", "tests", "demo", "bench") for each in _tree(root / top)]
        files += [path.name for path in root.iterdir()]
        missing = []
        added = re.findall(r"^`([\w/.]+)`:$", self.text("ADDING"), re.MULTILINE)  # by its examples
        for page in (*DOCS.glob("*.md"), *root.glob("*.md")):
            for path in re.findall(r"`([\w.-]+(?:/[\w.-]+)+/?|\w+\.(?:py|ts|md|toml))`", page.read_text()):
                if re.search(
                    r"\.(py|ts|svelte|md|toml|json|lock)$|/$|^(kagero|docs|tests|demo|bench|client|core)/", path
                ):
                    if path in (*IMAGINED, *added) or any(
                        f"/{each}".endswith("/" + path.rstrip("/")) for each in files
                    ):
                        continue
                    missing.append(f"{page.name}: {path}")
        self.assertEqual(missing, [])

    def test_the_list_of_rooms_of_parts_is_whole(self):
        listed = re.search(r"one module a kind: (.*?)\. A module", (DOCS / "ARCHITECTURE.md").read_text(), re.DOTALL)
        rooms = {each.parent.name for each in (DOCS.parent / "kagero/core/parts").glob("*/__init__.py")}
        self.assertEqual(set(re.findall(r"(\w+)/", listed[1])), rooms)

    def test_files_and_settings_that_are_named_are_there(self):
        root = Path(settings.BASE_DIR)
        for page in DOCS.glob("*.md"):
            text = page.read_text()
            for link in re.findall(r"\]\(([\w./-]+\.(?:md|png))\)", text):
                self.assertTrue((DOCS / link).exists(), f"{page.name}: {link}")
            for setting in set(re.findall(r"KAGERO_[A-Z_]+", text)):
                used = any(setting in path.read_text() for path in (root / "kagero").rglob("*.py"))
                self.assertTrue(used or setting in (root / "Makefile").read_text(), f"{page.name}: {setting}")
        for link in re.findall(r"\]\((docs/[\w./-]+)\)", (root / "README.md").read_text()):
            self.assertTrue((root / link).exists(), link)
