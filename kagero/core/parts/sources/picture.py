"""A prop's picture as a source."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from ...formula import Values
from ...rows.model import Refers, Uid
from ...rows.reader import Reader, channel
from ...rows.slots import OfProp
from ...rows.source import NAMING, Listed, SourceFacts, SourcePart
from ...rows.view import View, find_thing

_WHERE = {"near": "at the nearest place", "birth": "where it was born, by its birth u and v"}
_PARTS = ("luminance", "red", "green", "blue", "alpha", "whole")


class PictureSource(SourcePart):
    """A prop's picture, or a mesh's own colours: where the particle was born (its birth u, v), or at the nearest place
    of the prop."""

    label, group = "picture", "pictures"
    words = "texture image map"
    help = "A prop's picture or a mesh's own colours, in linear light."
    shape, after = "colour", "place"

    kind: Literal["picture"]
    prop: Annotated[Uid, Refers("props", "pictured")]
    at: Annotated[Literal["birth", "near"], NAMING] = "near"
    part: Annotated[Literal["luminance", "red", "green", "blue", "alpha", "whole"], NAMING] = "luminance"

    def facts(self, view: View) -> SourceFacts:
        prop, facts = find_thing(view.props, self.prop), self.kind_facts()
        name = f"missing {self.label}" if prop is None else prop.name
        if self.at == "birth":
            name, facts = f"{name} at birth", replace(facts, changes=False)
        if self.part == "whole":
            return replace(facts, label=f"{name} colour")
        return replace(facts, label=f"{name} {self.part}", shape="number")

    def missing(self, view: View) -> str:
        return (
            ""
            if find_thing(view.pictured, self.prop)
            else f"a prop that is not there, or has no picture: {self.prop!r}"
        )

    def column(self) -> str:
        return f"picture.{self.prop}" + (".birth" if self.at == "birth" else "") + f".{self.part}"

    def costly(self) -> str:
        return f"near {self.prop}"

    @classmethod
    def listed(cls, view: View) -> Iterator[Listed]:
        for prop in view.pictured:
            for at, where in _WHERE.items():
                for part in _PARTS:
                    yield cls.entry(
                        {"kind": "picture", "prop": prop.uid, "at": at, "part": part},
                        "pictures",
                        f"The prop's colours {where}, in linear light.",
                    )

    def write(self, at: Reader) -> Values:
        b = at.builder
        if self.at == "near":
            colour = b.multi("prop_sample", *at.state("position"), at.clip_time(), attrs=(OfProp(self.prop),))[3:7]
        else:
            (u,) = at.kept_from_birth("birth_u", 1, lambda birth: (birth.birthplace()[6],))
            (v,) = at.kept_from_birth("birth_v", 1, lambda birth: (birth.birthplace()[7],))
            colour = b.multi("prop_picture", u, v, at.clip_time(), attrs=(OfProp(self.prop),))
        return colour[:3] if self.part == "whole" else (channel(b, colour, self.part),)
