"""What drives one axis of a row, given to another: its number and its responses, with the axes' names swapped in
formulas."""

from __future__ import annotations

import copy
import re
from collections.abc import Callable
from typing import Any, Literal

from ..document import Effect, owner_of, read_effect
from ..errors import RequestError
from ..rows.view import find_thing
from .pieces import row_at_path
from .scope import Scope
from .validate import check_no_worse

Axis = Literal["x", "y", "z"]


def swapped_axes(text: str, one: Axis, other: Axis) -> str:
    """Return a formula in which the axes' names are swapped: position.x is position.y, and position.y is position.x;
    comments stay."""
    swap: dict[str, str] = {one: other, other: one}
    return re.sub(
        r"#[^\n]*|(?<=\.)([xyz])\b(?!\s*[.(])",
        lambda found: found[0] if found[0].startswith("#") else swap.get(found[0], found[0]),
        text,
    )


def copy_axis(
    effect: Effect, owner_uid: str, address: str, one: Axis, other: Axis, new_uid: Callable[[], str]
) -> Effect:
    """Return the effect in which a vector row's axis `other` has what its axis `one` has: the number of its base and
    the responses of that axis alone, in place of its own; formulas have the axes' names swapped.

    Raises RequestError where there is no such row, or it is no vector.
    """
    owner = find_thing(effect.holders(), owner_uid)
    placed = Scope(owner, effect).rows.get(address) if owner is not None else None
    if placed is None or placed.spec.kind != "vector" or one == other:
        raise RequestError(
            f"{address!r} has no axes {one} and {other} to copy.",
            where="address",
            remedy="Choose a row of three numbers.",
        )
    row = placed.row.model_dump(mode="json")
    if isinstance(row["base"], list):
        row["base"]["xyz".index(other)] = row["base"]["xyz".index(one)]
    mine = [response for response in row["responses"] if response.get("component") == one]
    copies = [_fresh({**copy.deepcopy(response), "component": other}, one, other, new_uid) for response in mine]
    kept = [response for response in row["responses"] if response.get("component") != other]
    last = max((i for i, response in enumerate(kept) if response.get("component") == one), default=len(kept) - 1)
    row["responses"] = [*kept[: last + 1], *copies, *kept[last + 1 :]]
    document = effect.model_dump(mode="json")
    row_at_path(document, f"{effect.place_of(owner_of(owner))}.{placed.path}").update(row)
    return check_no_worse(effect, read_effect(document))


def _fresh(data: Any, one: Axis, other: Axis, new_uid: Callable[[], str]) -> Any:
    """Return plain data with uids of its own, and with the axes swapped in its formulas."""
    if isinstance(data, list):
        return [_fresh(each, one, other, new_uid) for each in data]
    if not isinstance(data, dict):
        return data
    renewed = {key: new_uid() if key == "uid" else _fresh(value, one, other, new_uid) for key, value in data.items()}
    if renewed.get("kind") == "formula":
        renewed |= {name: swapped_axes(renewed[name], one, other) for name in ("text", "draft") if renewed.get(name)}
    return renewed
