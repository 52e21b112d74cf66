"""Faults that the tests must find: each is a search and a replacement within a function, with the tests that protect
it.

`python -m tests.faults` puts each into the tree in turn, runs its tests, says whether they failed, and takes it back;
with words, only those whose file or function contains one of them. By hand: it takes an hour.
`tests/project/test_faults.py` holds that every fault still applies; whoever moves or rewrites such a function proves
its fault anew.
"""

from __future__ import annotations

import ast
import os
import subprocess
import sys
import time
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]


@dataclass(frozen=True)
class Fault:
    """file: within the tree. function: its name, or Class.name; in the client the text that stands before the fragment.
    tests: modules of Django's runner, or files of vitest."""

    file: str
    function: str
    search: str
    replacement: str
    tests: str


CORE = "kagero/core/"
SERVER = "kagero/server/"
CLIENT = "client/src/"
FAULTS = [
    # births, events, thinning
    Fault(CORE + "simulation/births.py", "snap_times", "<= TIME_ROUNDING", "< 0", "tests.document.test_times"),
    Fault(
        CORE + "simulation/births.py",
        "Schedule.between",
        '"left" if first else "right"',
        '"right"',
        "tests.births.test_births",
    ),
    Fault(
        CORE + "simulation/births.py",
        "_constant_rate_births",
        "np.arange(_births_below(total)) / rate",
        "(np.arange(_births_below(total)) + 0.5) / rate",
        "tests.document.test_times",
    ),
    Fault(
        CORE + "simulation/births.py",
        "_first_kept",
        "limit - found)) + 1",
        "limit - found))",
        "tests.births.test_births tests.births.test_masks",
    ),
    Fault(
        CORE + "simulation/events.py",
        "Events.joined",
        "np.argsort(time,",
        "np.argsort(-time,",
        "tests.published.test_cues",
    ),
    Fault(
        CORE + "simulation/step.py",
        "Stepper._advance",
        "if self._touched_again_row >= 0:",
        "if self._touched_again_row > 10_000:",
        "tests.published.test_cues",
    ),
    Fault(CORE + "plan/cue_step.py", "write_cues", 'b.op("mul", fresh, goes_on)', "fresh", "tests.published.test_cues"),
    Fault(
        CORE + "plan/thinning.py",
        "is_shown",
        'b.op("less", at.hash("thinning"), density)',
        'b.op("less", density, at.hash("thinning"))',
        "tests.births.test_births tests.props.test_stage",
    ),
    # the document, pieces, names
    Fault(
        CORE + "rows/curves.py",
        "Curve._in_order",
        "< 1e-6",
        "< -1",
        "tests.document.test_bad_input tests.catalog.test_mapping",
    ),
    Fault(
        CORE + "catalog/naming.py",
        "renamed_names",
        "reversed(list(names_in(text)))",
        "list(names_in(text))",
        "tests.catalog.test_pieces tests.formula.test_effects",
    ),
    Fault(CORE + "catalog/pieces.py", "paste_prop", "next((i + 1 for", "next((i for", "tests.catalog.test_pieces"),
    # kernels
    Fault(
        CORE + "kernels/contacts.py",
        "resolve_contacts",
        "took = min(rubs * (back - speed), side)",
        "took = rubs * (back - speed)",
        "tests.published.test_contacts",
    ),
    Fault(
        CORE + "kernels/contact_columns.py",
        "_draw",
        "uint64(count) * uint64(0xD1342543DE82EF95)",
        "uint64(0xD1342543DE82EF95)",
        "tests.published.test_contacts",
    ),
    Fault(
        CORE + "kernels/contact_shapes/sphere.py",
        "distance",
        "away -= p[3]",
        "away -= p[3] / 2",
        "tests.published.test_contacts",
    ),
    Fault(
        CORE + "kernels/contacts.py",
        "resolve_contacts",
        "if by > 0 and kinds[c] != MESH:",
        "if by > 0:",
        "tests.published.test_inside_meshes",
    ),
    Fault(
        CORE + "kernels/time_of_impact.py",
        "_first_touch",
        "passes = _first_crossing(",
        "passes = math.inf  # (",
        "tests.published.test_inside_meshes",
    ),
    Fault(
        CORE + "kernels/time_of_impact.py",
        "_time_to_close",
        " if speed > 0.0 else 2.0 * gap / max(math.sqrt(under) - speed, 1e-300)",
        " if push < 0.0 else gap / -speed",
        "tests.published.test_inside_meshes",
    ),
    Fault(
        CORE + "kernels/contact_distance.py",
        "_crossing_share",
        "if turns > 1 and",
        "if turns > 9 and",
        "tests.published.test_inside_meshes",
    ),
    Fault(
        CORE + "kernels/contact_distance.py",
        "_inside",
        "s + r <= 1.0 + 1e-7",
        "s + r <= 1.5",
        "tests.published.test_contacts",
    ),
    Fault(
        CORE + "kernels/noise.py",
        "curl_noise_into",
        "strength * (a_z - c_x)",
        "strength * (c_x - a_z)",
        "tests.published.test_noise",
    ),
    Fault(
        CORE + "kernels/random.py",
        "normal_into",
        "value if q > 0 else -value",
        "value",
        "tests.published.test_randomness",
    ),
    Fault(
        CORE + "kernels/drawing.py",
        "_coverage_at",
        "F32(1) - far * far",
        "F32(1) - far",
        "tests.published.test_curves_and_colour",
    ),
    Fault(
        CORE + "kernels/compositing.py",
        "blend_pixel",
        "keep = F32(1) - hides",
        "keep = F32(1) - c",
        "tests.published.test_curves_and_colour tests.published.test_finish",
    ),
    Fault(
        CORE + "kernels/film.py",
        "film_light",
        "k = F32(1) - mix",
        "k = F32(1)",
        "tests.published.test_pictures_on_particles",
    ),
    Fault(
        CORE + "kernels/sheets.py",
        "read_cell",
        "(F32(1) - v) * cell[3]",
        "v * cell[3]",
        "tests.published.test_pictures_on_particles",
    ),
    Fault(
        CORE + "kernels/bodies.py",
        "body_triangle",
        "u, v, w = u / za, v / zb, w / zc",
        "u, v, w = u / za, v / za, w / za",
        "tests.published.test_bodies",
    ),
    Fault(
        CORE + "kernels/surface_walk.py",
        "walk",
        "-1.0 if edge == TURN",
        "1.0 if edge == TURN",
        "tests.published.test_rides",
    ),
    Fault(
        CORE + "kernels/surface_frames.py",
        "locate",
        "p + q <= 1.0 - INSIDE",
        "p + q <= 2.0",
        "tests.published.test_rides tests.props.test_emission",
    ),
    Fault(
        CORE + "kernels/compiled.py", "reachable_modules", 'each != "compiled" and ', "", "tests.kernels.test_compiled"
    ),
    Fault(
        CORE + "kernels/compiled.py", "KernelCache._read", "!= content[:32]", "== b''", "tests.kernels.test_compiled"
    ),
    Fault(
        CORE + "kernels/compiled.py",
        "prune",
        "sorted(kept)",
        "sorted(kept, reverse=True)",
        "tests.kernels.test_compiled",
    ),
    # formats, finishing
    Fault(
        CORE + "formats/exporters/flipbook.py",
        "SpriteSheet._grid",
        '// self.about.options["every"] + 1',
        '// self.about.options["every"]',
        "tests.formats.test_pictures_out",
    ),
    Fault(
        CORE + "finishing/moments.py",
        "picture_samples",
        "(math.sqrt((k + 0.5) / count)",
        "(math.sqrt(k / count)",
        "tests.published.test_finish",
    ),
    # the server
    Fault(
        SERVER + "frames/queueing.py",
        "TurnQueue._may_go",
        "kind == FIRST or not self._busy[FIRST]",
        "True",
        "tests.server.test_turns",
    ),
    Fault(SERVER + "library/disk.py", "older", "st_mtime < before", "st_mtime > before", "tests.server.test_storage"),
    Fault(SERVER + "library/disk.py", "sweep", "> STALE", "< STALE", "tests.server.test_storage"),
    # the client's state
    Fault(
        CLIENT + "effect/player.svelte.ts",
        "private fetch(): void",
        "this.outdated = true",
        "this.outdated = false",
        "src/effect/player.test.ts",
    ),
    Fault(
        CLIENT + "effect/player.svelte.ts",
        "private keep(",
        "if (!complete(packet, older)) return",
        "complete(packet, older)",
        "src/effect/player.test.ts",
    ),
    Fault(
        CLIENT + "effect/player.svelte.ts",
        "} catch (problem) {",
        " && problem.status !== 401",
        "",
        "src/effect/player.test.ts",
    ),
    Fault(
        CLIENT + "effect/player.svelte.ts",
        "} catch (problem) {",
        "if (fallback) return",
        "if (!fallback) return",
        "src/effect/player.test.ts",
    ),
    Fault(
        CLIENT + "effect/player.svelte.ts",
        "private tick",
        "return this.resumeFrom(this.frame) // wait",
        "void this.frame // wait",
        "src/effect/player.test.ts",
    ),
    Fault(
        CLIENT + "effect/player.svelte.ts",
        "change(document: Effect, dragging",
        "number > this.clip.last_frame || ",
        "",
        "src/effect/player.test.ts",
    ),
    Fault(
        CLIENT + "effect/player.svelte.ts",
        "close(): void",
        "clearTimeout(this.retry)",
        "void 0",
        "src/effect/player.test.ts",
    ),
    Fault(
        CLIENT + "effect/player.svelte.ts",
        "private count(",
        "(version === this.countedOf ? (this.simulated ?? 0) : 0)",
        "(this.simulated ?? 0)",
        "src/effect/player.test.ts",
    ),
    Fault(
        CLIENT + "effect/selection.svelte.ts",
        "private passes",
        "solo.emitter !== emitter.uid || ",
        "",
        "src/effect/selection.test.ts",
    ),
    Fault(
        CLIENT + "effect/selection.svelte.ts",
        "private passes",
        "placed.address !== solo.row || ",
        "",
        "src/effect/selection.test.ts",
    ),
    Fault(
        CLIENT + "effect/selection.svelte.ts",
        "heard(document",
        "Math.min(Math.max(turned.values[d.uid], d.low), d.high)",
        "turned.values[d.uid]",
        "src/effect/selection.test.ts",
    ),
    Fault(
        CLIENT + "effect/selection.svelte.ts",
        "select(uid",
        "this.key = 0",
        "this.key = 1",
        "src/effect/selection.test.ts",
    ),
    Fault(
        CLIENT + "effect/catalog.svelte.ts",
        "private settingsAhead",
        "name === 'high' ? ['output', 1]",
        "name === 'high' ? ['output', 0]",
        "src/effect/catalog.test.ts",
    ),
    Fault(CLIENT + "effect/catalog.svelte.ts", "isActive(", "placed.row.muted ||", "", "src/effect/catalog.test.ts"),
    Fault(
        CLIENT + "effect/catalog.svelte.ts",
        "private kept(",
        "return before\n    this",
        "void before\n    this",
        "src/effect/catalog.test.ts",
    ),
    Fault(
        CLIENT + "effect/catalog.svelte.ts", "wordsOf(", " ?? this.chosen.get(key)", "", "src/effect/catalog.test.ts"
    ),
    Fault(CLIENT + "effect/queue.ts", "add<T>", "mine.catch(() => undefined)", "mine", "src/effect/queue.test.ts"),
    Fault(
        CLIENT + "effect/pieces.ts",
        "export async function carry",
        "move: copy ? [] : uids",
        "move: uids",
        "src/effect/pieces.test.ts",
    ),
    Fault(
        CLIENT + "effect/pieces.ts",
        "export function copied",
        "return null\n  }",
        "throw new Error()\n  }",
        "src/effect/pieces.test.ts",
    ),
    Fault(CLIENT + "effect/path.ts", "export function put", "[...document]", "document", "src/effect/path.test.ts"),
    Fault(CLIENT + "wire/packets.ts", "export function held", " && last.look === look", "", "src/wire/packets.test.ts"),
    Fault(
        CLIENT + "wire/packets.ts",
        "export function complete",
        "before?.motion === emitter.motion",
        "before",
        "src/wire/packets.test.ts",
    ),
    Fault(
        CLIENT + "effect/warming.svelte.ts",
        "get words()",
        "progress.done < progress.of",
        "true",
        "src/effect/warming.test.ts",
    ),
    # the client's components
    Fault(
        CLIENT + "sheet/SheetRow.svelte",
        "function menu(",
        "!inUse(placed) || responses.length > 0",
        "!inUse(placed)",
        "src/sheet/row.test.ts",
    ),
    Fault(
        CLIENT + "sheet/SheetRow.svelte",
        "function keys(",
        "event.key === 'm' && responses.length",
        "event.key === 'm'",
        "src/sheet/row.test.ts",
    ),
    Fault(CLIENT + "sheet/Chip.svelte", "'ArrowLeft'", "index - 1", "index + 1", "src/sheet/row.test.ts"),
    Fault(
        CLIENT + "sheet/Base.svelte",
        "function typed(",
        "together.length > 1",
        "together.length > 9",
        "src/sheet/row.test.ts",
    ),
    Fault(CLIENT + "sheet/Out.svelte", "const words", "same ?", "!same ?", "src/sheet/row.test.ts"),
    Fault(CLIENT + "sheet/Sheet.svelte", "const off", " && !showHidden[row.spec.band]", "", "src/sheet/sheet.test.ts"),
    Fault(
        CLIENT + "sheet/Sheet.svelte",
        "const filtered",
        "=== selection.filter",
        "!== selection.filter",
        "src/sheet/sheet.test.ts",
    ),
    Fault(
        CLIENT + "sheet/EmitterTabs.svelte",
        "function keys(",
        "(index + by + emitters.length) % emitters.length",
        "index + by",
        "src/sheet/emitters.test.ts",
    ),
    Fault(
        CLIENT + "sheet/emitters.ts",
        "label: 'Delete'",
        "emitters.length === 1",
        "!emitters.length",
        "src/sheet/emitters.test.ts",
    ),
    Fault(
        CLIENT + "sheet/RetimingRow.svelte",
        "const taken",
        "keys[shares.indexOf(k)] ?? ",
        "",
        "src/sheet/retiming.test.ts",
    ),
    Fault(
        CLIENT + "transport/KeyMarks.svelte",
        "const X",
        "Math.min(Math.max((time * rate) / span, 0), 1)",
        "((time * rate) / span)",
        "src/sheet/retiming.test.ts",
    ),
    Fault(
        CLIENT + "controls/NumberField.svelte",
        "function take()",
        "result.value < lowest || ",
        "",
        "src/controls/number.test.ts",
    ),
    Fault(
        CLIENT + "controls/NumberField.svelte",
        "function giveUp",
        "onset(was, ",
        "onset(latest, ",
        "src/controls/number.test.ts",
    ),
    Fault(
        CLIENT + "controls/numbers.ts",
        "const apply",
        ".toPrecision(15)",
        ".toPrecision(17)",
        "src/controls/number.test.ts",
    ),
    Fault(
        CLIENT + "effect/fitted.ts",
        "export function fitted",
        "[data.high, data.low]",
        "[data.low, data.high]",
        "src/response/editor.test.ts",
    ),
    Fault(
        CLIENT + "response/ResponseEditor.svelte",
        "function become",
        "reference: mean || 1",
        "reference: 1",
        "src/response/editor.test.ts",
    ),
    Fault(
        CLIENT + "response/PresetShelf.svelte",
        "const mine",
        ".filter((p) => p.kind === kind)",
        "",
        "src/response/editor.test.ts",
    ),
    Fault(
        CLIENT + "response/CurveEditor.svelte",
        "export function add",
        "evaluate(pieces(keys), x)",
        "0",
        "src/response/editor.test.ts",
    ),
    Fault(
        CLIENT + "table/Table.svelte",
        "async function load",
        "if (busy) {",
        "if (!busy && again) {",
        "src/table/table.test.ts",
    ),
    Fault(
        CLIENT + "table/Table.svelte",
        "async function load",
        "order = wish",
        "order = { by: '', descending: false }",
        "src/table/table.test.ts",
    ),
    Fault(
        CLIENT + "loom/Loom.svelte", "const columns", "b.count - a.count", "a.count - b.count", "src/loom/loom.test.ts"
    ),
    Fault(
        CLIENT + "overlay/SourcePicker.svelte",
        "function pick(",
        "!item || item.refusal || !act",
        "!item || !act",
        "src/overlay/picker.test.ts",
    ),
    Fault(
        CLIENT + "overlay/SourcePicker.svelte",
        "function replaceIn",
        "liveInput(choice, catalog.fittedTo(draft.owner))",
        "{}",
        "src/overlay/picker.test.ts",
    ),
    # light of small discs, surfaces that bend, seams, riders, what slow clients and new parts may take
    Fault(
        CORE + "picture/soft_disc.py", "antialiased", "light / given", "light", "tests.published.test_curves_and_colour"
    ),
    Fault(
        CORE + "geometry/bending.py",
        "Bending.__init__",
        "self._of[faces].ravel()",
        "faces.ravel()",
        "tests.props.test_bending",
    ),
    Fault(
        CORE + "geometry/path.py",
        "Path.of",
        "<= near:\n            points = points[:-1]",
        "< 0:\n            points = points[:-1]",
        "tests.props.test_path_and_picture",
    ),
    Fault(
        CORE + "parts/rides/base.py",
        "RidePart._at_the_end",
        'b.op("add", length, earlier)',
        "length",
        "tests.published.test_rides",
    ),
    Fault(CORE + "catalog/sheet/parts.py", "new_part", " if facts.must_name else ()", "", "tests.parts.test_layout"),
    Fault(CORE + "surfaces/parts.py", "in_parts", "first = last", "first = last + 1", "tests.memory.test_large_arrays"),
    Fault(
        SERVER + "connections/worker.py",
        "PatientWorker.wait_for_and_dispatch_events",
        "range(wanted)",
        "range(0)",
        "tests.server.test_connections",
    ),
    Fault(
        SERVER + "people/sign_in_limits.py",
        "SignInLimits.failed",
        "if found.count >= tries",
        "if found.count > 10 * tries",
        "tests.server.test_people",
    ),
]


def span(fault: Fault) -> tuple[int, int]:
    """Return where in its file a fault's fragment stands. Raises ValueError where it does not stand there once."""
    text = (ROOT / fault.file).read_text()
    start, end = 0, len(text)
    if fault.file.endswith(".py"):
        start, end = _function(text, fault.function)
    elif (start := text.find(fault.function)) < 0:
        raise ValueError(f"{fault.file} has no {fault.function!r}")
    found = text.find(fault.search, start, end)
    if found < 0:
        raise ValueError(f"{fault.function} of {fault.file} has no {fault.search!r}")
    if fault.file.endswith(".py") and text.find(fault.search, found + 1, end) >= 0:
        raise ValueError(f"{fault.function} of {fault.file} has {fault.search!r} more than once")
    return found, found + len(fault.search)


def _function(text: str, name: str) -> tuple[int, int]:
    """Return where a function, or a method as Class.name, begins and ends."""
    nodes: list[ast.AST] = [ast.parse(text)]
    for part in name.split("."):
        nodes = [
            child
            for node in nodes
            for child in ast.iter_child_nodes(node)
            if isinstance(child, (ast.FunctionDef, ast.ClassDef)) and child.name == part
        ]
    if len(nodes) != 1:
        raise ValueError(f"{name} is there {len(nodes)} times")
    lines = text.splitlines(keepends=True)
    node = nodes[0]
    assert isinstance(node, (ast.FunctionDef, ast.ClassDef)) and node.end_lineno is not None
    return len("".join(lines[: node.lineno - 1])), len("".join(lines[: node.end_lineno]))


def found(fault: Fault) -> bool:
    """Put a fault in, run its tests, take it back; return whether they failed."""
    path = ROOT / fault.file
    before = path.read_bytes()
    start, end = span(fault)
    text = before.decode()
    path.write_text(text[:start] + fault.replacement + text[end:])
    try:
        command = (
            ["npx", "vitest", "run", *fault.tests.split()]
            if fault.tests.startswith("src/")
            else [
                sys.executable,
                "-W",
                "ignore",
                "manage.py",
                "test",
                "--failfast",
                "--parallel",
                "1",
                *fault.tests.split(),
            ]
        )
        done = subprocess.run(
            command,
            cwd=ROOT / "client" if fault.tests.startswith("src/") else ROOT,
            capture_output=True,
            text=True,
            env={**os.environ, "KAGERO_NO_SHRINKING": "1"},
        )
        return done.returncode != 0
    finally:
        path.write_bytes(before)


def main() -> int:
    chosen = [
        each
        for each in FAULTS
        if not sys.argv[1:] or any(word in f"{each.file} {each.function}" for word in sys.argv[1:])
    ]
    missed = 0
    for fault in chosen:
        started = time.monotonic()
        there = found(fault)
        missed += not there
        print(
            f"{'found' if there else 'MISSED':>6}  {time.monotonic() - started:5.1f} s  {fault.file} "
            f"{fault.function}: {fault.search!r}",
            flush=True,
        )
    print(f"{len(chosen) - missed} of {len(chosen)} found")
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
