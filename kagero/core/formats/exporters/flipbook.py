"""Sprite sheets: the frames of a clip as pages of one picture, with a JSON of where each is; for games."""

from __future__ import annotations

import io
import json
import math
import zipfile
from dataclasses import dataclass
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
        layout = self._layout()
        self.seam = loop_seam([page for _, page in self.pages])
        every = self.about.options["every"]
        facts: dict[str, Any] = {
            "format": "kagero-sprite-sheet",
            "effect": self.about.effect,
            "picture": "sheet.png",
            "colour": COLOUR,
            "columns": layout.columns,
            "rows": layout.rows,
            "width": layout.wide,
            "height": layout.tall,
            "padding": layout.padding,
            "frame_rate": [self.about.frame_rate[0], self.about.frame_rate[1] * every],
            "seam": round(self.seam, 3),
            "frames": [layout.facts(k, number) for k, (number, _) in enumerate(self.pages)],
        }
        colours = layout.sheet([page for _, page in self.pages], (0, 0, 0, 0))
        files = {"sheet.png": with_colour_chunks(png(colours), COLOUR)}
        if self.about.options["motion"]:
            pages, facts["motion"] = motion_pages(self.others["velocity"], layout.wide, every)
            files["motion.png"] = png(layout.sheet(pages, (128, 128, 0)))
        if self.about.options["second"] == "depth":
            pages, facts["depth"] = depth_pages(self.others["depth"])
            files["depth.png"] = png(layout.sheet(pages, (0,))[..., 0])
        elif self.about.options["second"] == "normal":
            pages, facts["normal"] = normal_pages(self.others["normal"])
            files["normal.png"] = png(layout.sheet(pages, (128, 128, 128)))
        with zipfile.ZipFile(self.stream, "w", zipfile.ZIP_STORED) as archive:
            for name, data in files.items():
                archive.writestr(zipfile.ZipInfo(name, OLD), data)
            archive.writestr(zipfile.ZipInfo("sheet.json", OLD), json.dumps(facts, indent=1) + "\n")

    def _layout(self) -> SheetLayout:
        _, columns, rows = self._grid()
        left, top, right, bottom = cut = self._cut()
        wide, tall = right - left, bottom - top
        side = max(wide, tall) if self.about.options["shape"] == "square" else 0
        beside, above = ((side - wide) // 2, (side - tall) // 2) if side else (0, 0)
        return SheetLayout(
            columns, rows, self.about.options["padding"], cut, max(wide, side), max(tall, side), beside, above
        )

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


@dataclass(frozen=True)
class SheetLayout:
    """Where pages lie on a sheet, pixels. cut: what of each page is kept, left, top, right, bottom; wide, tall: of a
    cell without its padding; beside, above: where what is kept lies in it."""

    columns: int
    rows: int
    padding: int
    cut: tuple[int, int, int, int]
    wide: int
    tall: int
    beside: int
    above: int

    def corner(self, number: int) -> tuple[int, int]:
        """Return the left and top of a page's cell with its padding."""
        pad = 2 * self.padding
        return number % self.columns * (self.wide + pad), number // self.columns * (self.tall + pad)

    def sheet(self, pages: list[np.ndarray], empty: tuple[int, ...]) -> np.ndarray:
        """Return pages side by side, (height, width, channels) uint8; each cell's edge goes on in its padding."""
        left, top, right, bottom = self.cut
        pad, depth = self.padding, len(empty)
        size = (self.rows * (self.tall + 2 * pad), self.columns * (self.wide + 2 * pad), depth)
        canvas = np.broadcast_to(np.array(empty, np.uint8), size).copy()
        for number, page in enumerate(pages):
            cell = np.broadcast_to(np.array(empty, np.uint8), (self.tall, self.wide, depth)).copy()
            across, down = slice(self.beside, self.beside + right - left), slice(self.above, self.above + bottom - top)
            cell[down, across] = page[top:bottom, left:right]
            padded = np.pad(cell, ((pad, pad), (pad, pad), (0, 0)), mode="edge")
            x, y = self.corner(number)
            canvas[y : y + padded.shape[0], x : x + padded.shape[1]] = padded
        return canvas

    def facts(self, number: int, frame: int) -> dict[str, int]:
        """Return where a page lies, and where it lay in its frame's picture."""
        x, y = self.corner(number)
        return {
            "frame": frame,
            "x": x + self.padding,
            "y": y + self.padding,
            "width": self.wide,
            "height": self.tall,
            "left": self.cut[0] - self.beside,
            "top": self.cut[1] - self.above,
        }


def motion_pages(velocities: list[np.ndarray], wide: int, every: int) -> tuple[list[np.ndarray], dict[str, Any]]:
    """Return pages of how far what is seen moves until the next page, in a page's width, as colours; and how to read
    them. velocities: pixels a frame, (height, width, 2) each; every: frames a page."""
    moves = [each.astype(np.float32) / wide * every for each in velocities]
    reach = max(max((float(np.abs(each).max()) for each in moves), default=0.0), 1e-4)
    pages = [
        np.concatenate(
            [np.clip(each / reach * 0.5 + 0.5, 0, 1) * 255 + 0.5, np.zeros((*each.shape[:2], 1))], axis=2
        ).astype(np.uint8)
        for each in moves
    ]
    words = {"of": "a page's width", "red": "to the right", "green": "down", "nowhere": 0.5}
    return pages, {"picture": "motion.png", "reach": reach, **words}


def depth_pages(depths: list[np.ndarray]) -> tuple[list[np.ndarray], dict[str, Any]]:
    """Return pages of how near what is seen is, from 255 to 1, 0 where nothing is; and how to read them. depths:
    metres, (height, width, 1) each, infinite where nothing is."""
    metres = [each[..., 0].astype(np.float32) for each in depths]
    there = np.concatenate([each[np.isfinite(each)] for each in metres]) if metres else np.zeros(0)
    near, far = (float(there.min()), float(there.max())) if len(there) else (0.0, 1.0)
    span = max(far - near, 1e-6)
    pages = [
        np.where(np.isfinite(each), (1 - (each - near) / span) * 254 + 1, 0).clip(0, 255).astype(np.uint8)[..., None]
        for each in metres
    ]
    words = {"unit": "m", "white": "near", "black": "nothing"}
    return pages, {"picture": "depth.png", "nearest": near, "farthest": far, **words}


def normal_pages(normals: list[np.ndarray]) -> tuple[list[np.ndarray], dict[str, Any]]:
    """Return pages of which way what is seen faces, as colours; and how to read them. normals: as the camera sees them,
    (height, width, 3) each."""
    pages = [(np.clip(each.astype(np.float32) * 0.5 + 0.5, 0, 1) * 255 + 0.5).astype(np.uint8) for each in normals]
    words = {"red": "right", "green": "up", "blue": "toward the camera", "nowhere": 0.5}
    return pages, {"picture": "normal.png", **words}


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
