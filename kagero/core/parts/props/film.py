"""A film as a prop."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ...errors import GeometryProblem
from ...geometry import Film, ImportedGeometry, Mesh, Path
from ...rows.example import Example
from ...rows.model import CONTENT, FileKind, Setting
from ...rows.units import FACTOR, SECONDS
from .base import SHAPED, ClipTime, Maker, PropOffer, StandingProp
from .file_refs import FileRef, file_ref, file_title
from .picture import upright

Times = Annotated[int, Field(ge=1, le=1_000_000_000)]


class FilmRef(FileRef):
    """A film that was brought in, how many pictures it has, and how many a second, as a fraction: numerator and
    denominator."""

    pictures: Annotated[int, Field(ge=1, le=1_000_000)]
    rate: tuple[Times, Times]


class FilmProp(StandingProp):
    """A film on an upright plane, one metre high at scale 1."""

    label = "Film"
    births_on, guiding, dense, pictured, film, tinted = ("surface", "edges"), True, True, True, True, False
    example = Example(fields={"file": {"pictures": 24, "rate": [24, 1]}})

    kind: Literal["film"]
    file: Annotated[FilmRef, SHAPED, CONTENT, FileKind("film", (".webm", ".mp4")), Setting("file")]
    start: Annotated[ClipTime, CONTENT, Setting("moves from", "Clip time at which it begins.", SECONDS)] = 0.0
    speed: Annotated[float, CONTENT, Setting("speed", "How many times as fast as it was taken.", FACTOR)] = Field(
        default=1.0, ge=-100, le=100
    )
    loops: Annotated[bool, CONTENT, Setting("loops", "It begins anew when it has ended.")] = True

    @classmethod
    def of_file(cls, file: dict[str, Any]) -> Iterator[PropOffer]:
        if file["kind"] == "film":
            yield PropOffer(cls.label, file_title(file), {"file": file_ref(file)})

    def summary(self) -> str:
        over, under = self.file.rate
        return f"{self.file.pictures} pictures at {over / under:g} a second"

    def pictured_at(self, times: np.ndarray, rate: float, moves: bool) -> np.ndarray:
        over, under = self.file.rate
        number = np.floor((times - self.start) * self.speed * over / under + 1e-6)
        return number % self.file.pictures if self.loops else np.clip(number, 0, self.file.pictures - 1)

    def picture_key(self, number: int, own: dict[str, float]) -> str:
        return f"{self.file.content}:{number}"

    def picture(self, maker: Maker, number: int, own: dict[str, float]) -> ImportedGeometry:
        return film_in(self.file, maker).picture(number)

    def geometry(self, maker: Maker) -> Mesh | Path | None:
        width, height = film_in(self.file, maker).size
        return upright(width / height)


def film_in(file: FileRef, maker: Maker) -> Film:
    """Return a film that was brought in. Raises GeometryProblem."""
    found = maker.content(file.content)
    if not isinstance(found, Film):
        raise GeometryProblem(f"{file.name} is no film.", remedy="Bring in a film: WebM or MP4.")
    return found
