"""Births on or in a prop, wherever it stands and however it moves."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field

from ...errors import Finding
from ...formula import Values
from ...rows.curves import Curve
from ...rows.model import VALUE, Driven, Model, Refers, Setting, Uid
from ...rows.responses import NumberRow, differs_from_default, number
from ...rows.units import METRES
from ...rows.view import find_thing
from .base import BirthReader, Effectlike, uniforms
from .bound import BoundPlace

ON = {"surface": "on its surface", "inside": "anywhere inside", "points": "at its points", "edges": "along its lines"}
_HAS = {"surface": "surface", "inside": "inside", "points": "points", "edges": "lines"}


class Density(Model):
    """A picture on a prop that says how dense births are: in proportion to a channel, through a curve. picture: a
    picture prop."""

    picture: Annotated[
        Uid, Refers("props", "film"), Setting("as dense as", "Births are as dense as a picture is bright.")
    ]
    channel: Annotated[
        Literal["luminance", "red", "green", "blue", "alpha"], Setting("Channel", "What of the picture counts.")
    ] = "luminance"
    invert: Annotated[bool, Setting("inverted", "Dense where it would be thin.")] = False
    curve: Annotated[Curve | None, VALUE, Setting("Density", "From the channel's value to how dense births are.")] = (
        Field(default=None, description="From the channel's value to the density; without one, in proportion.")
    )


class OnProp(BoundPlace):
    """On or in a prop, wherever it stands and however it moves. even: by area, volume or length, as the prop is at
    rest."""

    label = "A prop"

    kind: Literal["prop"]
    prop: Annotated[Uid, Refers("props", "bearing"), Setting("Which prop", "The prop that particles are born on.")]
    on: Annotated[
        Literal["surface", "inside", "points", "edges"],
        Setting("Where on it", "Where on the prop.", choices=tuple(ON.items())),
    ] = "surface"
    offset: Annotated[
        NumberRow,
        Driven(
            "Offset",
            METRES,
            -10_000,
            10_000,
            1,
            0.0,
            "How far above the surface particles are born, along its normal; negative is below.",
        ),
    ] = number(0)
    density: Annotated[
        Density | None, Setting("as dense as", "A picture that says how dense births are.", nothing="everywhere")
    ] = None

    @classmethod
    def template(cls) -> dict[str, Any]:
        return {**super().template(), "on": "surface", "density": None}

    def possible(self, effect: Any, thing: Any) -> str:
        return "" if any(prop.births_on for prop in effect.props) else "There is no prop to be born on."

    def named_by(self, field: str, effect: Any, thing: Any) -> list[Any] | None:
        return [prop for prop in effect.props if prop.film] if field == "density" else None

    def unused(self) -> frozenset[str]:
        return frozenset() if self.on in ("surface", "points") else frozenset({"density"})

    def on_stage(self, thing: Any) -> Iterator[tuple[str, str, str]]:
        births = thing.births
        if self.density is not None:
            yield "density", "density", "How dense births are by the picture."
        if differs_from_default(births.keep, 1.0):
            yield "keep", "kept births", "The share of births that come to be."
        if births.when == "each":
            yield "begins", "begins at", "When each place begins."

    def values_of(self, field: str, effect: Any) -> tuple[str, ...] | None:
        prop = find_thing(effect.props, self.prop)
        return prop.births_on if field == "on" and prop is not None else None

    def faces_out(self) -> bool:
        return self.on == "surface"

    def asked(self) -> str:
        return f"{self.on} {self.density!r}"

    def pictures_asked(self) -> tuple[str, ...]:
        return (self.density.picture,) if self.density else ()

    def picks(self, at: BirthReader) -> Values:
        return (*uniforms(at), self.row(at, "offset")[0])

    def findings(self, effect: Effectlike, emitter: Any, where: str) -> Iterator[Finding]:
        prop = find_thing(effect.props, self.prop)
        if prop is None:
            yield Finding(
                "link",
                f"{where}.births.place.prop",
                f"{emitter.name} is born on a prop that is not there.",
                "Choose another place.",
            )
        elif self.on not in prop.births_on:
            fits = prop.births_on
            words = f"{prop.name} has no {_HAS[self.on]}."
            remedy = f"Choose {' or '.join(_HAS[each] for each in fits)}." if fits else "Choose another prop."
            yield Finding("link", f"{where}.births.place.on", words, remedy)
        if self.density and prop is not None and (self.on not in ("surface", "points") or not prop.dense):
            on = {"inside": "inside", "edges": "on lines of", "points": "at", "surface": "on"}[self.on]
            words = f"A picture cannot say how dense births are {on} {prop.name}."
            remedy = "Give birth on the surface or at points of a mesh, or take the picture away."
            yield Finding("link", f"{where}.births.place.density", words, remedy)
        picture = find_thing(effect.props, self.density.picture) if self.density else None
        if self.density and (picture is None or not picture.film):
            yield Finding(
                "link",
                f"{where}.births.place.density.picture",
                "The picture of how dense births are is not there.",
                "Choose a picture.",
            )
