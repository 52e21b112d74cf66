"""Sprite sheets: the frames of a clip as pages of one picture, with a JSON of where each is; for games."""

from __future__ import annotations

import io
import json
import math
import zipfile
from itertools import pairwise
from typing import IO, Any

import numpy as np
from PIL import Image

from ...errors import BudgetError
from ...work_limits import claim
from ..encoding import to_bytes
from ..png_chunks import with_colour_chunks
from .base import BEHIND, OLD, FileExporter, FramePicture, Option

MOST_SIDE = 16_384
COLOUR = "sRGB, straight alpha"


class SpriteSheet(FileExporter):
    """Pages from the left, row by row, in one PNG; beside it a JSON, and where wanted a sheet of motion and one of
    depth or normals, page by page the same."""

    kind = "sheet"
    label = "Sprite sheet"
    suffix = ".sheet.zip"
    takes = "pictures"
    media = "application/zip"
    colour = COLOUR
    help = "Frames as pages of one picture, with a JSON: flipbooks for games."
    options = (
        BEHIND,
        Option("columns", "Columns", "How many pages stand beside each other; 0: as square as it gets.", 0, (), 0, 256),
        Option("every", "Every", "Only every so many-th frame becomes a page.", 1, (), 1, 100, "f"),
        Option(
            "padding",
            "Padding",
            "Pixels about each page, filled with its edge, so that nothing bleeds in.",
            2,
            (),
            0,
            64,
            "px",
        ),
        Option(
            "shape",
            "Pages",
            "As they are, square, or trimmed alike to what is seen of any.",
            "as they are",
            (("as they are", "as they are"), ("square", "square"), ("trimmed", "trimmed alike")),
        ),
        Option(
            "motion",
            "Motion",
            "A second sheet of where everything goes until the next page, so that few pages look like many.",
            False,
        ),
        Option(
            "second",
            "Second sheet",
            "A sheet of depth or normals beside it.",
            "none",
            (("none", "none"), ("depth", "depth"), ("normal", "normals")),
        ),
    )

    def passes(self) -> tuple[str, ...]:
        second = self.about.options["second"]
        return (*(("velocity",) if self.about.options["motion"] else ()), *((second,) if second != "none" else ()))

    def fits(self) -> None:
        width, height = self.about.size
        pages, columns, rows = self._grid()
        pad = 2 * self.about.options["padding"]
        side = max(width, height) if self.about.options["shape"] == "square" else 0
        wide, tall = columns * (max(width, side) + pad), rows * (max(height, side) + pad)
        if max(wide, tall) > MOST_SIDE:
            raise BudgetError(
                f"{pages} pages of {width} x {height} pixels make a sheet of {wide:,} x {tall:,}; a side may have "
                f"{MOST_SIDE:,}.",
                where="size",
                remedy="Make pages smaller, or fewer: every second frame.",
            )
        # pages and sheet, four bytes a pixel each; of a second sheet half floats as they come, and single ones as they
        # are put together
        claim(
            wide * tall * (8 + 24 * len(self.passes())),
            f"A sheet of {pages} pages",
            "Make pages smaller, or fewer, or leave the second sheet out.",
        )

    def _grid(self) -> tuple[int, int, int]:
        """Return how many pages, columns and rows there are."""
        pages = (self.about.last - self.about.first) // self.about.options["every"] + 1
        columns = self.about.options["columns"] or math.ceil(math.sqrt(pages))
        columns = min(columns, pages)
        return pages, columns, math.ceil(pages / columns)

    def open(self, stream: IO[bytes]) -> None:
        super().open(stream)
        self.pages: list[tuple[int, np.ndarray]] = []
        self.others: dict[str, list[np.ndarray]] = {name: [] for name in self.passes()}

    def frame(self, frame: FramePicture) -> None:
        if (frame.number - self.about.first) % self.about.options["every"]:
            return
        self.pages.append((frame.number, to_bytes(frame.pixels)))
        for name, kept in self.others.items():
            kept.append(frame.passes[name].astype(np.float16))

    def remarks(self) -> list[str]:
        return (
            [
                f"From the last page to the first it jumps {self.seam:.1f} times as far as from page to page: it does "
                "not loop."
            ]
            if self.seam > 1.5
            else []
        )

    def finish(self) -> None:
        _, columns, rows = self._grid()
        left, top, right, bottom = self._cut()
        pad = self.about.options["padding"]
        wide, tall = right - left, bottom - top
        if self.about.options["shape"] == "square":
            side = max(wide, tall)
            beside, above = (side - wide) // 2, (side - tall) // 2
        else:
            side, beside, above = 0, 0, 0
        cell_wide, cell_tall = max(wide, side), max(tall, side)

        def sheet(pages: list[np.ndarray], empty: tuple[int, ...]) -> np.ndarray:
            canvas = np.empty((rows * (cell_tall + 2 * pad), columns * (cell_wide + 2 * pad), len(empty)), np.uint8)
            canvas[:] = empty
            for k, page in enumerate(pages):
                cell = np.empty((cell_tall, cell_wide, len(empty)), np.uint8)
                cell[:] = empty
                cell[above : above + tall, beside : beside + wide] = page[top:bottom, left:right]
                padded = np.pad(cell, ((pad, pad), (pad, pad), (0, 0)), mode="edge")
                y, x = k // columns * (cell_tall + 2 * pad), k % columns * (cell_wide + 2 * pad)
                canvas[y : y + padded.shape[0], x : x + padded.shape[1]] = padded
            return canvas

        self.seam = loop_seam([page for _, page in self.pages])
        facts: dict[str, Any] = {
            "format": "kagero-sprite-sheet",
            "effect": self.about.effect,
            "picture": "sheet.png",
            "colour": COLOUR,
            "columns": columns,
            "rows": rows,
            "width": cell_wide,
            "height": cell_tall,
            "padding": pad,
            "frame_rate": [self.about.frame_rate[0], self.about.frame_rate[1] * self.about.options["every"]],
            "seam": round(self.seam, 3),
            "frames": [
                {
                    "frame": number,
                    "x": k % columns * (cell_wide + 2 * pad) + pad,
                    "y": k // columns * (cell_tall + 2 * pad) + pad,
                    "width": cell_wide,
                    "height": cell_tall,
                    "left": left - beside,
                    "top": top - above,
                }
                for k, (number, _) in enumerate(self.pages)
            ],
        }
        files = {"sheet.png": with_colour_chunks(png(sheet([page for _, page in self.pages], (0, 0, 0, 0))), COLOUR)}
        if self.about.options["motion"]:
            moves = [
                each.astype(np.float32) / cell_wide * self.about.options["every"] for each in self.others["velocity"]
            ]
            reach = max(max((float(np.abs(each).max()) for each in moves), default=0.0), 1e-4)
            shown = [
                np.concatenate(
                    [np.clip(each / reach * 0.5 + 0.5, 0, 1) * 255 + 0.5, np.zeros((*each.shape[:2], 1))], axis=2
                ).astype(np.uint8)
                for each in moves
            ]
            files["motion.png"] = png(sheet(shown, (128, 128, 0)))
            facts["motion"] = {
                "picture": "motion.png",
                "reach": reach,
                "of": "a page's width",
                "red": "to the right",
                "green": "down",
                "nowhere": 0.5,
            }
        second = self.about.options["second"]
        if second == "depth":
            depths = [each[..., 0].astype(np.float32) for each in self.others["depth"]]
            there = np.concatenate([each[np.isfinite(each)] for each in depths]) if depths else np.zeros(0)
            near, far = (float(there.min()), float(there.max())) if len(there) else (0.0, 1.0)
            span = max(far - near, 1e-6)
            shown = [
                np.where(np.isfinite(each), (1 - (each - near) / span) * 254 + 1, 0)
                .clip(0, 255)
                .astype(np.uint8)[..., None]
                for each in depths
            ]
            files["depth.png"] = png(sheet(shown, (0,))[..., 0])
            facts["depth"] = {
                "picture": "depth.png",
                "nearest": near,
                "farthest": far,
                "unit": "m",
                "white": "near",
                "black": "nothing",
            }
        elif second == "normal":
            shown = [
                (np.clip(each.astype(np.float32) * 0.5 + 0.5, 0, 1) * 255 + 0.5).astype(np.uint8)
                for each in self.others["normal"]
            ]
            files["normal.png"] = png(sheet(shown, (128, 128, 128)))
            facts["normal"] = {
                "picture": "normal.png",
                "red": "right",
                "green": "up",
                "blue": "toward the camera",
                "nowhere": 0.5,
            }
        with zipfile.ZipFile(self.stream, "w", zipfile.ZIP_STORED) as archive:
            for name, data in files.items():
                archive.writestr(zipfile.ZipInfo(name, OLD), data)
            archive.writestr(zipfile.ZipInfo("sheet.json", OLD), json.dumps(facts, indent=1) + "\n")

    def _cut(self) -> tuple[int, int, int, int]:
        """Return what of every page is kept: left, top, right, bottom."""
        height, width = self.pages[0][1].shape[:2]
        if self.about.options["shape"] != "trimmed":
            return 0, 0, width, height
        there = np.zeros((height, width), bool)
        for _, page in self.pages:
            there |= page[..., 3] > 0
        rows, columns = np.flatnonzero(there.any(axis=1)), np.flatnonzero(there.any(axis=0))
        return (
            (int(columns[0]), int(rows[0]), int(columns[-1]) + 1, int(rows[-1]) + 1)
            if len(rows)
            else (0, 0, width, height)
        )

    seam = 0.0


def loop_seam(pages: list[np.ndarray]) -> float:
    """Return how far it is from the last page to the first, by the mean difference of premultiplied colour, in how far
    it is from page to page; 0 of fewer than three."""
    if len(pages) < 3:
        return 0.0
    steps = [difference(one, other) for one, other in pairwise(pages)]
    return difference(pages[-1], pages[0]) / max(float(np.mean(steps)), 1e-6)


def difference(one: np.ndarray, other: np.ndarray) -> float:
    """Return the mean difference of premultiplied colour of two pictures, (height, width, 4) uint8, of 255."""
    a, b = (each.astype(np.float32)[..., :3] * each.astype(np.float32)[..., 3:] / 255 for each in (one, other))
    return float(np.abs(a - b).mean())


def png(pixels: np.ndarray) -> bytes:
    stream = io.BytesIO()
    Image.fromarray(pixels).save(stream, "PNG", compress_level=6)
    return stream.getvalue()
