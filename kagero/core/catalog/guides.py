"""A guide made in one move: a shape round where particles are born, which sends them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..document import Effect, read_effect
from ..errors import LinkProblem
from ..formula import identifier
from ..parts.launches import LAUNCHES
from ..parts.launches.guided import Guided
from ..parts.props.shape import ShapeProp
from ..rows.responses import SourcedBase
from ..rows.view import find_thing
from .validate import check_no_worse

ROUND = 0.9  # of the bounds of what births are on: a little more than reaches their corners
LEAST, WIDER = 0.4, 2.0  # metres; how many times as far as births reach


def make_guide(effect: Effect, emitter_uid: str, new_uid: Callable[[], str]) -> tuple[Effect, str]:
    """Return the effect in which a new sphere round an emitter's births guides its launch, and the sphere's uid.

    It is seen through, in no picture, and fits the prop that births are on, whatever that becomes. Raises LinkProblem
    where there is no such emitter.
    """
    emitter = find_thing(effect.emitters, emitter_uid)
    if emitter is None:
        raise LinkProblem(
            f"There is no emitter {emitter_uid!r}.", where="emitter", remedy="Choose one of the effect's."
        )
    taken = {identifier(prop.name) for prop in effect.props}
    name = next(
        n
        for i in range(1, 99)
        if identifier(n := f"{emitter.name[:70]} guide" + (f" {i}" if i > 1 else "")) not in taken
    )
    uid, place = new_uid(), emitter.births.place
    sphere: dict[str, Any] = {
        **ShapeProp.template(),
        "kind": "shape",
        "shape": "sphere",
        "uid": uid,
        "name": name,
        "shown": "ghost",
        "in_pictures": False,
    }
    if place.prop_on() is not None:
        sphere |= {"radius": ROUND, "follow": {"prop": place.prop_on(), "at": "bounds"}}
    else:
        centre = _number(place, "centre", (0.0, 0.0, 0.0))
        reach = max(_number(place, "radius", 0.0), *(0.5 * side for side in _number(place, "size", (0.0, 0.0, 0.0))))
        sphere |= {"radius": max(LEAST, WIDER * reach), "position": {"base": list(centre), "responses": []}}
    document = effect.model_dump(mode="json")
    document["props"].append(sphere)
    launch = document["emitters"][[each.uid for each in effect.emitters].index(emitter_uid)]["births"]
    middle = {"source": {"kind": "prop", "prop": uid, "part": "whole"}, "read": "once"}
    fresh = {
        **Guided.template(),
        "aim": LAUNCHES.tags(Guided)[0],
        "guide": uid,
        "origin": {"base": middle, "responses": []},
    }
    launch["launch"] = fresh | {
        key: value for key, value in launch["launch"].items() if key in ("cone", "inherit", "multiplier", "offset")
    }
    return check_no_worse(effect, read_effect(document)), uid


def _number(place: Any, field: str, instead: Any) -> Any:
    """Return the number or numbers of a row of a place; instead where it has none, or something else gives them."""
    row = getattr(place, field, None)
    return instead if row is None or isinstance(row.base, SourcedBase) else row.base
