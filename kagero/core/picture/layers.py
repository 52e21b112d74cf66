"""Layers of a picture: particles in one look each, with the sheets of pictures with which they are drawn."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..errors import GeometryProblem
from ..geometry import Picture
from ..geometry.forms import Forms
from ..geometry.sheet import Sheet, sheet
from ..geometry.stock import StockPicture, stock
from ..memory import PROCESS
from ..parts.looks import LookPart, Pictured
from ..simulation import ShownParticles, column_of
from ..staging import Stage
from .forms import look_forms, own_pictures


@dataclass(frozen=True)
class LookSheets:
    """A look's sheets at a time. key: equal for equal sheets. motion, cutter, mixed: sheets it may have besides. reach:
    displacement at full motion."""

    key: str
    main: Sheet
    motion: Sheet | None = None
    cutter: Sheet | None = None
    mixed: Sheet | None = None
    reach: float = 0.0

    @property
    def aspect(self) -> float:
        """Width over height of one page."""
        return self.main.aspect

    @property
    def opaque(self) -> bool:
        """Whether all its pictures are opaque."""
        kept = self.__dict__.get("_opaque")
        if kept is None:
            x, y, wide, tall = self.main.plates[0].astype(int)
            rows = -(-self.main.cells // self.main.across)
            cells = self.main.texels[y : y + rows * (tall + 2), x : x + self.main.across * (wide + 2), 3].reshape(
                rows, tall + 2, self.main.across, wide + 2
            )
            inner = cells[:, 1:-1, :, 1:-1].swapaxes(1, 2).reshape(rows * self.main.across, -1)[: self.main.cells]
            kept = bool(inner.min(initial=1) >= 0.999) and self.cutter is None
            object.__setattr__(self, "_opaque", kept)
        return kept

    @property
    def all(self) -> tuple[Sheet | None, ...]:
        return self.main, self.motion, self.cutter, self.mixed


@dataclass(frozen=True)
class Projector:
    """A camera that projects a picture onto particles. rows: from world space to its right, up and back, (3, 4).
    tangent: of half its view."""

    rows: np.ndarray
    tangent: float

    def project_points(self, places: np.ndarray, aspect: float) -> np.ndarray:
        """Return the positions of points (n, 3) in the picture relative to its middle, in shares of its width and
        height, (n, 2); far outside for points behind the camera. aspect: the picture's width over its height; it is as
        high as the camera's view."""
        seen = places @ self.rows[:, :3].T + self.rows[:, 3]
        away = -seen[:, 2]
        ahead = np.maximum(away, 1e-3) * self.tangent * 2
        projected = np.stack([seen[:, 0] / (ahead * aspect), seen[:, 1] / ahead], axis=1)
        return np.where((away > 1e-3)[:, None], projected, -9.0)


def projector_of(look: LookPart, stage: Stage, seconds: float, camera: Projector) -> Projector | None:
    """Return the projector of a look's picture; None where the picture lies on each particle. camera: the effect's
    own."""
    uid = look.projected()
    if uid is None:
        return None
    if not uid or not stage.has_prop(uid):
        return camera
    return projector_of_camera(stage, uid, seconds)


def projector_of_camera(stage: Stage, uid: str, seconds: float) -> Projector:
    """Return a camera prop as a projector at a time."""
    place = stage.places(seconds)[uid].astype(np.float64)
    axes = (place[:3, :3] / np.maximum(np.linalg.norm(place[:3, :3], axis=0), 1e-12)).T
    rows = np.concatenate([axes, -(axes @ place[:3, 3])[:, None]], axis=1)
    return Projector(rows, math.tan(stage.own(uid, seconds)["field_of_view.0"] / 2))


@dataclass(frozen=True)
class Layer:
    """An emitter's particles in one look: one point for each, or the points of their lines.

    sheets: pictures of the look, where available. forms: bodies of the look. emitter: uid. shines: otherwise it only
    occludes. problem: why resources are missing, in words; a disc is drawn instead.
    """

    shown: ShownParticles
    sheets: LookSheets | None = None
    problem: str = ""
    projector: Projector | None = None
    forms: Forms | None = None
    emitter: str = ""
    shines: bool = True

    def __len__(self) -> int:
        """Return the number of points."""
        return len(self.shown if self.shown.strands is None else self.shown.strands)

    def positions(self) -> np.ndarray:
        """Return the points, (n, 3) float32, metres."""
        return self.shown.positions() if self.shown.strands is None else self.shown.strands.points

    def column(self, name: str) -> np.ndarray:
        """Return a column of the points, also one at its default."""
        strands = self.shown.strands
        return (
            self.shown.column(name)
            if strands is None
            else column_of(self.shown.look, strands.columns, name, len(strands))
        )

    def age(self) -> np.ndarray:
        """Return the age of each point's particle, (n,) seconds."""
        age, strands = self.shown.population.age, self.shown.strands
        return age if strands is None else age[strands.owner]


_sheets = PROCESS.region("sheets", 0.6)


def look_sheets(look: LookPart, stage: Stage, seconds: float, place: Any = None) -> tuple[LookSheets | None, str]:
    """Return a look's sheets at a clip time, or None and the reason; None and an empty reason for looks without
    pictures."""
    pictured = look.pictured()
    if pictured is None:
        return None, ""
    if pictured.of_meshes and not pictured.pictures:
        pictured = replace(pictured, pictures=(place.prop,) if place is not None and place.counted else ())
        if not pictured.pictures:
            return None, ""
    try:
        return _build_sheets(pictured, stage, seconds), ""
    except GeometryProblem as problem:
        return None, f"{problem.findings[0].message} {problem.findings[0].remedy}"


def _build_sheets(look: Pictured, stage: Stage, seconds: float) -> LookSheets | None:
    names = [*look.pictures, look.motion or "", look.cut_by or "", look.mixed or ""]
    if look.of_meshes:
        keys = [stage.key(uid) if stage.has_prop(uid) else uid for uid in look.pictures]
    else:
        keys = [
            stage.picture_key(uid, int(stage.clock(uid, seconds))) if uid and stage.has_prop(uid) else uid
            for uid in names
        ]
    settings = (look.of_meshes, look.shelf, look.across, look.down, look.cover_by, look.edges, look.reach)
    key = repr((keys, settings))
    found: LookSheets | None = _sheets.get(key)
    if found is not None:
        return found
    if look.of_meshes:
        pictures = own_pictures(look.pictures, stage)
        return None if pictures is None else _sheets.put(key, LookSheets(key, sheet(pictures, edges="repeat")))
    return _sheets.put(key, _new(key, look, stage, seconds))


def _new(key: str, look: Pictured, stage: Stage, seconds: float) -> LookSheets:
    def picture(uid: str) -> Picture:
        found = stage.picture_at(uid, seconds) if stage.has_prop(uid) else None
        if found is None:
            raise GeometryProblem(
                "A picture that this look is drawn with is not here.",
                remedy="Bring it in again, or choose another; the disc stands in.",
            )
        return found

    def single(uid: str | None) -> Sheet | None:
        return sheet([picture(uid)], edges="repeat" if look.edges == "end" else look.edges) if uid else None

    cutter = single(look.cut_by)
    mixed = sheet([picture(look.mixed)], edges=look.edges, cover=look.cover_by) if look.mixed else None
    if look.shelf is not None:
        of: StockPicture = stock(look.shelf)
        motion = _motion(of.motion, of.across, of.down) if of.motion is not None else None
        return LookSheets(
            key, sheet([of.picture], of.across, of.down, look.edges, look.cover_by), motion, cutter, mixed, of.reach
        )
    main = sheet([picture(uid) for uid in look.pictures], look.across, look.down, look.edges, look.cover_by)
    return LookSheets(
        key,
        main,
        _motion(picture(look.motion), look.across, look.down) if look.motion else None,
        cutter,
        mixed,
        look.reach,
    )


def _motion(picture: Picture, across: int, down: int) -> Sheet:
    """Return the sheet of a motion picture, whose alpha is ignored."""
    whole = np.concatenate([picture.pixels[..., :3], np.ones_like(picture.pixels[..., :1])], axis=2)
    return sheet([Picture(whole)], across, down, "hold")


def look_resources(
    look: LookPart, stage: Stage, seconds: float, place: Any
) -> tuple[LookSheets | None, Forms | None, str]:
    """Return a look's sheets and forms at a clip time, and why either is missing. place: where its particles are
    born."""
    sheets, problem = look_sheets(look, stage, seconds, place)
    forms, lacking = look_forms(look, stage, seconds, place)
    return sheets, forms, problem or lacking


def resources_key(sheets: LookSheets | None, forms: Forms | None) -> str:
    """Return a text that is equal for equal sheets and forms; empty without either."""
    return (
        ""
        if sheets is None and forms is None
        else f"{'' if sheets is None else sheets.key}{'' if forms is None else ' as ' + forms.key}"
    )


def layers(
    looks: list[LookPart],
    shown: list[ShownParticles],
    stage: Stage,
    seconds: float,
    camera: Projector,
    place: Any,
    emitter: str = "",
) -> list[Layer]:
    """Return the layers of looks at a clip time. shown: the particles of each look. camera: the effect's own. place:
    where they are born. emitter: its uid."""
    drawn = []
    for look, part in zip(looks, shown, strict=True):
        sheets, forms, problem = look_resources(look, stage, seconds, place)
        drawn.append(
            Layer(part, sheets, part.problem or problem, projector_of(look, stage, seconds, camera), forms, emitter)
        )
    return drawn
