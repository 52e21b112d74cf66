"""Births that are bound to a place on a prop, and go with it: what the state keeps of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from ...formula import Values
from ...program import Group, PropQuery, Slot
from ...rows.reader import Reader
from ...rows.slots import DocumentView
from ...rows.view import Owner
from .base import BirthReader, PlacePart

# what the state keeps of a birth on a prop: the place it is bound to (`geometry.emission`), and how far from it
BINDING = ("bind.face", "bind.b1", "bind.b2", "bind.ox", "bind.oy", "bind.oz")


class BoundPlace(PlacePart):
    """A place on or in a prop, wherever it stands and however it moves. Kinds have a field `prop`."""

    bears = True
    prop: str

    def asked(self) -> str:
        """Return a text of all that decides where births are, beside the prop."""
        raise NotImplementedError

    def picks(self, at: BirthReader) -> Values:
        """Return what says where on it a birth is: three numbers, and how far off, metres."""
        raise NotImplementedError

    def prop_on(self) -> str | None:
        return self.prop

    def pictures_asked(self) -> tuple[str, ...]:
        """Return the pictures that decide where births are."""
        return ()

    def _all(self, at: BirthReader) -> Values:
        """Return all that a birth here gives: eight values, what it is bound to (6), how the place moves (3), whether
        one was found."""
        b = at.builder
        if at.how == "given":
            return (*at.birthplace(), *(b.const(0) for _ in range(9)), b.const(1))
        if at.how == "recalled":
            return b.multi(
                "prop_bound",
                *(b.input(name) for name in BINDING),
                b.input("birth_time"),
                attrs=(BirthsOnProp(at.owner),),
            )
        return b.multi("prop_born", *self.picks(at), b.input("birth_time"), attrs=(BirthsOnProp(at.owner),))

    def born(self, at: BirthReader) -> Values:
        return self._all(at)[:8]

    def velocity(self, at: BirthReader) -> Values | None:
        return self._all(at)[14:17]

    def found(self, at: BirthReader) -> int | None:
        return self._all(at)[17]

    def remembered(self, at: BirthReader) -> dict[str, int]:
        return dict(zip(BINDING, self._all(at)[8:14], strict=True))

    def held(self, at: Reader) -> Values:
        """Return where a living particle's place of birth is at the end of a step."""
        b = at.builder
        return b.multi(
            "prop_held", *(b.input(name) for name in BINDING), at.clip_time(), attrs=(BirthsOnProp(at.owner),)
        )


@dataclass(frozen=True)
class BirthsOnProp(Slot[DocumentView]):
    """What an emitter asks of the prop that its particles are born on."""

    owner: Owner
    group: ClassVar[Group] = "queries"

    def read(self, document: DocumentView) -> PropQuery:
        place: Any = document.thing(self.owner).births.place
        pictures = "".join(document.query(uid).digest for uid in place.pictures_asked())
        return PropQuery(place.prop, f"{document.query(place.prop).digest} {place.asked()}{pictures}", place)
