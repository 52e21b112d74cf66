"""What can be added to an effect."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from ...document import ONCE, Effect, Emitter, once
from ...parts.cues import CUES
from ...parts.draws import DRAWS
from ...parts.finish import FINISH
from ...parts.masks import MASKS
from ...parts.props import PROPS, PropOffer, PropPart
from ...rows.model import summary
from ...rows.union import OpenUnion
from .layout_types import Addable, plain_data
from .parts import new_part, ready_part


def addable_props() -> tuple[Addable, ...]:
    """Return the props that can be added without a file."""
    kinds = tuple(kind for kind in PROPS.classes() if not kind.mask)
    if kinds not in _without_file:
        _without_file[kinds] = tuple(_addable(kind, offer) for kind in kinds for offer in kind.offers)
    return _without_file[kinds]


_without_file: dict[tuple[type, ...], tuple[Addable, ...]] = {}


def props_of_file(file: dict[str, Any]) -> list[dict[str, Any]]:
    """Return what a file that was brought in can become, as plain data; `group` is the kind of prop. file: its facts,
    content and name."""
    return [plain_data(_addable(kind, offer)) for kind in PROPS.classes() for offer in kind.of_file(file)]


def _addable(kind: type[PropPart], offer: PropOffer) -> Addable:
    data = {**kind.template(), **offer.fields, "uid": "new", "name": offer.name}
    data_of_kind = kind.model_validate(data).model_dump(mode="json")
    return Addable(offer.label, offer.group or str(data_of_kind["kind"]), summary(kind), ("props",), data_of_kind, True)


def addable_masks(effect: Effect) -> Iterator[Addable]:
    placeholder = MASKS.classes()[0].model_construct(uid="new")
    for tag, kind in MASKS.kinds.items():
        data = new_part(
            effect,
            placeholder,
            kind,
            {**kind.template(), "shape": tag, "uid": "new", "name": f"{kind.label.lower()} mask"},
            {},
        )
        why = kind.model_construct(**data).possible(effect, placeholder)
        ready = None if why else kind.model_validate(data).model_dump(mode="json")
        group = "masks of other masks" if kind.needs == "masks" else "masks of a prop" if kind.needs else "masks"
        yield Addable(kind.label, group, summary(kind), ("props",), ready, True, why)


def addable_finish(effect: Effect) -> Iterator[Addable]:
    """Yield what can be done to the picture, each under a free name."""
    for kind in FINISH.classes():
        name = free_name(effect.finish, kind.label.lower())
        ready = kind.model_validate({**kind.template(), "uid": "new", "name": name}).model_dump(mode="json")
        yield Addable(kind.label, "finish", summary(kind), ("finish",), ready, True)


def addable_of(effect: Effect, emitter: Emitter, union: OpenUnion, into: str, group: str) -> Iterator[Addable]:
    """Yield the kinds of pushes or rides that an emitter can be given, each with what it cannot do without where the
    effect has it."""
    for kind in union.classes():
        data = {**kind.template(), "uid": "new", "muted": False}
        why = kind.model_construct(**data).possible(effect, emitter)
        ready = None if why else ready_part(effect, emitter, kind, data)
        yield Addable(kind.label, group, summary(kind), (into,), ready, True, why)


def addable_cues(effect: Effect, emitter: Emitter) -> Iterator[Addable]:
    """Yield the kinds of cues that an emitter can be given, under a free name."""
    for each in addable_of(effect, emitter, CUES, "cues", "cues"):
        yield replace(each, value={**each.value, "name": free_name(emitter.cues, "cue")}) if each.value else each


def addable_once(effect: Effect, emitter: Emitter, band: str) -> Iterator[Addable]:
    """Yield what an emitter can be given once in a band: targets, whom it goes along with, neighbours; where its
    particles end."""
    for path, kind in ONCE.items():
        if kind.band == band and once(emitter, path) is None:
            data = ready_part(effect, emitter, kind, {})
            why = "There is no prop for it." if data.get("prop", "") is None else ""
            yield Addable(kind.label, "besides", summary(kind), path, None if why else data, False, why)


def addable_to_all(effect: Effect) -> Iterator[Addable]:
    """Yield what the whole effect can have once, and has not."""
    for path, kind in ONCE.items():
        if kind.help_of_all and getattr(effect, path[0]) is None:
            value = kind.adapted_to(kind().model_dump(mode="json"), effect, None)
            yield Addable(f"{kind.label} of all", "the whole effect", kind.help_of_all, path, value, False, whole=True)


def addable_draws(emitter: Emitter) -> list[Addable]:
    letters = (f"draw {chr(65 + i % 26)}{i // 26 or ''}" for i in range(26 * 8))
    taken = {draw.name for draw in emitter.draws}
    name = next(each for each in letters if each not in taken)
    return [
        Addable(
            f"Draw: {kind.label}",
            "random, once a particle",
            summary(kind),
            ("draws",),
            {**kind.template(), "uid": "new", "name": name},
            True,
        )
        for kind in DRAWS.classes()
    ]


def free_name(things: list[Any], name: str) -> str:
    taken = {thing.name for thing in things}
    return name if name not in taken else next(each for i in range(2, 99) if (each := f"{name} {i}") not in taken)
