"""An effect as slots read it: rows, responses, dials and props by their permanent names (`rows.slots.DocumentView`)."""

from __future__ import annotations

import hashlib
from typing import Any

from ..catalog import Scope, props_stood_by
from ..document import Effect, moment_times, owner_of
from ..program import PropQuery
from ..rows.placed import PlacedRow
from ..rows.view import Owner
from .camera import camera_values


class EffectView:
    """One state of an effect. scopes: of owners that are known already."""

    def __init__(self, effect: Effect, scopes: dict[Owner, Scope] | None = None):
        self.effect, self.seed = effect, effect.clip.seed
        self._scopes = dict(scopes or {})
        self._things: dict[Owner, Any] = {owner_of(thing): thing for thing in effect.holders()}
        self._dials = {dial.uid: dial for dial in effect.dials}
        self._responses: dict[Owner, dict[str, Any]] = {}
        self._digests: dict[str, str] = {}
        self._camera: list[float] | None = None
        self._moments: dict[str, float] | None = None

    def thing(self, owner: Owner) -> Any:
        return self._things[owner]

    def rows(self, owner: Owner) -> dict[str, PlacedRow]:
        if owner not in self._scopes:
            self._scopes[owner] = Scope(self._things[owner], self.effect)
        return self._scopes[owner].every_row

    def response(self, owner: Owner, uid: str) -> Any:
        if owner not in self._responses:
            self._responses[owner] = {
                response.uid: response for placed in self.rows(owner).values() for response in placed.row.responses
            }
        return self._responses[owner][uid]

    def dial(self, uid: str) -> float:
        return self._dials[uid].value

    def dial_keys(self, uid: str) -> list[Any]:
        return self._dials[uid].keys

    def moment(self, uid: str) -> float:
        if self._moments is None:
            self._moments = moment_times(self.effect)
        return self._moments[uid]

    def clip_length(self) -> float:
        return self.effect.clip.seconds(self.effect.clip.last_frame)

    def clip_end(self) -> float:
        return self.effect.clip.seconds(self.effect.clip.last_frame + 1)

    def preview(self) -> float:
        return self.effect.clip.preview

    def camera(self, place: int) -> float:
        if self._camera is None:
            self._camera = camera_values(self.effect.camera)
        return self._camera[place]

    def query(self, uid: str) -> PropQuery:
        return PropQuery(uid, self.digest(uid))

    def digest(self, uid: str) -> str:
        """Return a text that is equal where a prop's geometry and motion are equal, including everything it depends on
        (other props, dials, the clip's length)."""
        if uid not in self._digests:
            prop = self._things["prop", uid]
            text = prop.model_dump_json(
                exclude={
                    "name",
                    "tint",
                    "shown",
                    "dissolve",
                    "in_pictures",
                    "seen_from",
                    "seen_until",
                    "group",
                    "paint",
                }
            )
            dials = (
                repr([(dial.uid, dial.value, dial.keys) for dial in self.effect.dials])
                if '"dial"' in text or '"formula"' in text
                else ""
            )
            if '"moment"' in text or '"formula"' in text:
                dials += repr(sorted(moment_times(self.effect).items()))
            if '"clip_' in text or '"formula"' in text:
                dials += repr((self.effect.clip.frame_rate, self.clip_length()))
            others = "".join(self.digest(other.uid) for other in props_stood_by(self.effect, prop))
            self._digests[uid] = hashlib.blake2b(f"{text} {dials} {others}".encode(), digest_size=12).hexdigest()
        return self._digests[uid]
