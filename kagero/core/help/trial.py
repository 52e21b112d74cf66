"""An effect on which an example of a card is tried: what it needs is added to it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..beginnings.parts import STRAIGHT, colours, curve, source
from ..catalog import Scope
from ..catalog.pieces import row_at_path
from ..document import Effect, read_effect
from ..errors import RequestError
from ..parts.draws import DRAWS
from ..rows.placed import PlacedRow
from ..rows.view import find_thing
from . import scene_parts

NewUid = Callable[[], str]
BELL = ((0.0, 0.15), (0.4, 1.0), (1.0, 0.0))


class Trial:
    """An effect's document while an example is put into it. emitter: the one that is looked at, as plain data."""

    def __init__(self, effect: Effect, emitter_uid: str, new_uid: NewUid):
        self.effect, self.new_uid = effect, new_uid
        index = next((i for i, each in enumerate(effect.emitters) if each.uid == emitter_uid), None)
        if index is None:
            raise RequestError(
                f"There is no emitter {emitter_uid!r}.", where="emitter", remedy="Choose one of the effect's."
            )
        self.document = effect.model_dump(mode="json")
        self.of = effect.emitters[index]
        self.emitter = self.document["emitters"][index]
        self.scope = Scope(self.of, effect)

    def placed(self, key: str) -> PlacedRow:
        """Return a row of the emitter by its address or by the key of its kind. Raises RequestError where it has
        none."""
        rows = self.scope.rows
        placed = rows.get(key) or next((each for each in rows.values() if each.spec.key == key and not each.host), None)
        if placed is None:
            raise RequestError("This emitter has no such row.", where="key", remedy="Add what has it first.")
        return placed

    def drive(
        self,
        placed: PlacedRow,
        driver: dict[str, Any],
        span: tuple[float, float],
        output: tuple[float, float],
        operation: str = "multiply",
        keys: Any = STRAIGHT,
        read: str | None = None,
    ) -> None:
        """Add a response to a row; of a colour one through a gradient."""
        spec = placed.spec
        read = read or {"birth": "once", "emitter": "live"}.get(spec.stage, "live")
        if spec.kind == "colour":
            fields = {
                **colours(self.new_uid(), driver, (0, scene_parts.COLD), (0.5, scene_parts.WARM), (1, scene_parts.HOT)),
                "input": list(span),
                "read": read,
            }
        else:
            fields = curve(self.new_uid(), driver, keys, input=span, output=output, operation=operation, read=read)
        self.row(placed)["responses"].append(fields)

    def row(self, placed: PlacedRow) -> dict[str, Any]:
        """Return a row of the emitter, as plain data that is changed in place."""
        return row_at_path(self.emitter, placed.path)

    def look_again(self) -> None:
        """See what was put in so far: rows and sources are those of the document as it is now."""
        self.effect = read_effect(self.document)
        self.of = find_thing(self.effect.emitters, self.of.uid)
        self.scope = Scope(self.of, self.effect)

    def draw(self, kind: str = "uniform") -> tuple[dict[str, Any], tuple[float, float]]:
        """Add a draw; return it as a source, with its range."""
        taken = {each["name"] for each in self.emitter["draws"]}
        name = next(n for i in range(1, 99) if (n := f"tried {i}") not in taken)
        chance = DRAWS.kinds[kind].model_validate({**DRAWS.kinds[kind].template(), "uid": self.new_uid(), "name": name})
        self.emitter["draws"].append(chance.model_dump(mode="json"))
        low, high = chance.range()
        return source("draw", draw=chance.uid), (float(low), float(high))

    def prop(self, fields: dict[str, Any]) -> str:
        """Add a prop or mask; return its uid."""
        taken = {each["name"] for each in self.document["props"]}
        name = next(
            n for i in range(1, 99) if (n := fields["name"] if i == 1 else f"{fields['name']} {i}") not in taken
        )
        fields_of_prop = {**fields, "uid": self.new_uid(), "name": name}
        self.document["props"].append(fields_of_prop)
        return str(fields_of_prop["uid"])


def with_uids(data: Any, new_uid: Any) -> Any:
    """Return plain data in which every uid that is "new" is one."""
    if isinstance(data, dict):
        return {
            key: new_uid() if key == "uid" and value == "new" else with_uids(value, new_uid)
            for key, value in data.items()
        }
    return [with_uids(each, new_uid) for each in data] if isinstance(data, list) else data
