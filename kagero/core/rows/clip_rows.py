"""Things whose rows depend on the clip alone: props, items of the finish, and the frame."""

from __future__ import annotations

from typing import Any, ClassVar

from .model import Part
from .view import Holder


class ByClip(Part):
    """A thing whose rows depend on the clip alone. holder: what it is called as the owner of rows."""

    stage = "emitter"
    holder: ClassVar[Holder] = "prop"

    uid: str
    name: str

    # what an emitter has and such a thing has not
    contacts: ClassVar[tuple[Any, ...]] = ()
    cues: ClassVar[tuple[Any, ...]] = ()
    rides: ClassVar[tuple[Any, ...]] = ()
    births: ClassVar[None] = None
    motion: ClassVar[None] = None
    target: ClassVar[None] = None

    @property
    def draws(self) -> list[Any]:
        return []

    @property
    def own(self) -> list[Any]:
        return []

    @property
    def muted_sources(self) -> list[str]:
        return []
