"""An effect as slots read it: rows, responses, draws, dials and props by their permanent names."""

from __future__ import annotations

import hashlib
from typing import Any

from ..catalog import PlacedRow, Scope, all_rows
from ..effect import Draw, Effect, Prop
from ..program import PropQuery
from .camera import camera_values

Rows = dict[str, PlacedRow]  # all rows of an emitter or prop by address
Owner = tuple[str, str]  # "emitter" or "prop", and its uid


class EffectView:
    """One state of an effect. rows: of those owners whose rows are known already."""

    def __init__(self, effect: Effect, rows: dict[Owner, Rows] | None = None):
        self.effect = effect
        self._rows = dict(rows or {})
        self._owners: dict[Owner, Any] = {("emitter", emitter.uid): emitter for emitter in effect.emitters}
        self._owners |= {("prop", prop.uid): prop for prop in effect.props}
        self._dials = {dial.uid: dial.value for dial in effect.dials}
        self._responses: dict[Owner, dict[str, Any]] = {}
        self._digests: dict[str, str] = {}
        self._camera: list[float] | None = None

    def owner(self, owner: Owner) -> Any:
        return self._owners[owner]

    def prop(self, uid: str) -> Prop:
        return self._owners["prop", uid]  # type: ignore[no-any-return]

    def rows(self, owner: Owner) -> Rows:
        """Return an owner's rows by address."""
        if owner not in self._rows:
            self._rows[owner] = {placed.address: placed for placed in all_rows(Scope(self._owners[owner], self.effect))}
        return self._rows[owner]

    def response(self, owner: Owner, uid: str) -> Any:
        if owner not in self._responses:
            self._responses[owner] = {response.uid: response for placed in self.rows(owner).values() for response in placed.row.responses}
        return self._responses[owner][uid]

    def draw(self, owner: Owner, uid: str) -> Draw:
        return next(draw for draw in self._owners[owner].draws if draw.uid == uid)  # type: ignore[no-any-return]

    def dial(self, uid: str) -> float:
        return self._dials[uid]

    def camera(self, place: int) -> float:
        """Return one of `camera_values` of the effect's own camera."""
        if self._camera is None:
            self._camera = camera_values(self.effect.camera)
        return self._camera[place]

    def query(self, uid: str) -> PropQuery:
        """Return what a program asks of a prop."""
        return PropQuery(uid, self.digest(uid))

    def digest(self, uid: str) -> str:
        """Return a text equal where a prop is the same, stands and moves the same, with all that it follows and the dials it may read."""
        if uid not in self._digests:
            prop = self.prop(uid)
            text = prop.model_dump_json(exclude={"name", "tint", "shown", "dissolve"})
            dials = repr([(dial.uid, dial.value) for dial in self.effect.dials]) if '"dial"' in text or '"formula"' in text else ""
            followed = self.digest(prop.follow.prop) if prop.follow is not None else ""
            self._digests[uid] = hashlib.blake2b(f"{text} {dials} {followed}".encode(), digest_size=12).hexdigest()
        return self._digests[uid]
