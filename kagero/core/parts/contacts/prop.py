"""A prop's surface."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ...rows.model import Refers, Setting, Uid
from .base import ContactPart, Standing


class PropContact(ContactPart):
    """The surface of a mesh prop, as it moves, turns and bends: particles stay on the side of it where they are, within
    what is closed too."""

    label = "Prop"
    help = "The surface of a prop, as it moves and bends: particles stay on the side of it where they are."
    closed_form = False
    compiles = "contacts"

    kind: Literal["prop"] = "prop"
    prop: Annotated[
        Uid | None,
        Refers("props", "meshed", "{name} is a contact with a prop that is not there.", "Choose another."),
        Setting("with", "The prop whose surface they meet.", nothing="choose one"),
    ] = None

    def acts(self) -> bool:
        return super().acts() and self.prop is not None

    def unmet_need(self, effect: Any) -> tuple[str, str, str] | None:
        return ("prop", "meets no prop yet", "Choose one.") if self.prop is None else None

    def stands(self) -> Standing:
        return Standing(None, self.prop, 1.0)
