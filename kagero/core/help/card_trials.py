"""Examples of cards, tried on an effect: changes of its document, which are taken back like any edit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..catalog import check_no_worse, choices
from ..document import ONCE, Effect, once, read_effect
from ..errors import RequestError
from ..formula import identifier
from ..parts.finish import FINISH
from ..parts.looks import LOOKS
from ..parts.masks import MASKS
from ..parts.pushes import PUSHES
from ..parts.sources import SOURCES
from ..rows.example import Data, merged
from ..rows.writing import STRAIGHT, curve, row, source
from . import scenes
from .additions import Additions, NewUid, free_name, with_uids
from .cards import Card, card_of
from .content import FILES
from .fixtures import usual

BELL = ((0.0, 0.15), (0.4, 1.0), (1.0, 0.0))


def attempt(
    effect: Effect, emitter_uid: str, key: str, number: int, new_uid: NewUid, address: str = ""
) -> tuple[Effect, str]:
    """Return the effect with an example of a card in it, and what it is called as an edit.

    number: which of the two, 0 or 1. address: of the row that the card was asked for on. Raises RequestError where it
    does not fit here, in words, and EffectError where the changed effect could not be played.
    """
    card, trial = card_of(key), Additions(effect, emitter_uid, new_uid)
    if not 0 <= number < len(card.tries):
        raise RequestError("A card has two examples.", where="number", remedy="Choose 0 or 1.")
    _TRIALS[card.kind](trial, card, number, address)
    return check_no_worse(effect, read_effect(trial.document)), f"Try {card.label.lower()}: {card.tries[number]}"


def _row(trial: Additions, card: Card, number: int, address: str) -> None:
    placed = trial.placed(address or card.name)
    spec, base = placed.spec, placed.row.base
    nought = base in (0, (0.0, 0.0, 0.0))
    low, high = (0.0, 1.0) if spec.kind == "colour" else usual(spec)
    operation, reach = ("add", (low, high)) if nought else ("multiply", (0.0, 1.0))
    seconds = max(trial.effect.clip.seconds(trial.effect.clip.last_frame), 0.04)
    if number == 1 and spec.stage == "emitter":
        pulse = {"kind": "formula", "uid": trial.new_uid(), "text": "0.5 + 0.5 * sin(clip_time * tau * 2)", "draft": ""}
        trial.drive(placed, pulse, (0, 1), reach, operation)
    elif number == 1:
        driver, span = trial.draw()
        trial.drive(placed, driver, span, (low, high) if nought else (0.6, 1.4), operation, read="once")
    elif spec.stage == "live":
        trial.drive(placed, source("life"), (0, 1), reach, operation, BELL)
    else:
        trial.drive(placed, source("clip_time"), (0, seconds), reach, operation)


def _seen(
    trial: Additions,
    driver: dict[str, Any],
    span: tuple[float, float],
    number: int,
    output: tuple[float, float] = (0.3, 1.8),
) -> None:
    """Drive size (the first example) or colour (the second) by a source, read live where it can be."""
    placed = trial.placed("look.size" if number == 0 else "look.colour")
    one = SOURCES.kinds[driver["kind"]].model_validate(driver)
    facts = one.facts(trial.scope)
    trial.drive(placed, driver, span, output, read="live" if facts.changes or one.refreshed else "once")


def _source(trial: Additions, card: Card, number: int, address: str) -> None:
    kind = SOURCES.kinds[card.name]
    refused = RequestError(f"Nothing here has {card.label}.", where="key", remedy="Add what it reads first.")
    try:
        trial.required(kind, {})
    except RequestError as error:
        refused = error
    trial.look_again()
    for key, output in (
        (("look.size", (0.3, 1.8)), ("look.opacity", (0.1, 1.0))),
        (("look.colour", (0.0, 1.0)), ("look.size", (0.3, 1.8))),
    )[number]:
        placed = trial.placed(key)
        listed = [
            each
            for each in choices(trial.effect, trial.of, placed.address)
            if each.source["kind"] == card.name and not each.whole
        ]
        fits = next((each for each in listed if not each.refusal), None)
        if fits is not None:
            driver = {**fits.source, **({"uid": trial.new_uid()} if "uid" in fits.source else {})}
            driver |= {"text": "life"} if kind.is_formula else {}
            return trial.drive(placed, driver, fits.input, output, read=fits.read)
        if listed:
            refused = RequestError(listed[0].refusal, where="key", remedy="Add what it reads first.")
    raise refused


def _operation(trial: Additions, card: Card, number: int, address: str) -> None:
    placed = trial.placed("look.size" if number == 0 else "look.opacity")
    base = placed.row.base
    size = float(base) if isinstance(base, (int, float)) else 1.0
    output = (0.0, 1.0) if card.name == "multiply" else (0.0, 1.5 * size)
    trial.drive(placed, source("life"), (0, 1), output, card.name, ((0, 0), (0.5, 1), (1, 0)))


def _function(trial: Additions, card: Card, number: int, address: str) -> None:
    scene = card.scene()
    if scene is None:
        raise RequestError(f"{card.label} has no example of its own.", where="key", remedy="Write it in a formula.")
    text = scene["emitters"][0]["look"]["colour"]["responses"][0]["source"]["text"]
    if "draws.draw_a" in text:  # a draw of its own here, under a name that is free
        trial.draw()
        text = text.replace("draws.draw_a", f"draws.{identifier(trial.emitter['draws'][-1]['name'])}")
        trial.look_again()
    _seen(trial, {"kind": "formula", "uid": trial.new_uid(), "text": text, "draft": ""}, (-1, 1), number)


def _draw(trial: Additions, card: Card, number: int, address: str) -> None:
    driver, span = trial.draw(card.name)
    trial.drive(
        trial.placed("look.size" if number == 0 else "births.launch.speed"), driver, span, (0.4, 1.6), read="once"
    )


def _force(trial: Additions, card: Card, number: int, address: str) -> None:
    added = trial.part("force", card.name)
    if number == 1:
        strength = PUSHES.kinds[card.name].model_validate(added).strength_row()
        added[strength]["responses"].append(curve(trial.new_uid(), source("life"), STRAIGHT))


def _ride(trial: Additions, card: Card, number: int, address: str) -> None:
    added = trial.part("ride", card.name)
    if number == 1:
        lets_go = curve(trial.new_uid(), source("life"), ((0, 1), (0.5, 0)), shape="hold")
        added["grip"]["responses"].append(lets_go)


def _contact(trial: Additions, card: Card, number: int, address: str) -> None:
    trial.part("contact", card.name, {"bounce": row(0.0), "friction": row(1000.0)} if number == 1 else {})


def _cue(trial: Additions, card: Card, number: int, address: str) -> None:
    trial.part("cue", card.name, {"ends": True} if number == 0 else {"kick": row([0.0, 3.0, 0.0])})


def _look(trial: Additions, card: Card, number: int, address: str) -> None:
    look, first = LOOKS.kinds[card.name], trial.emitter["look"]
    if number == 1:
        data = {**with_uids(look.template(), trial.new_uid), "uid": trial.new_uid()}
        suited = look.adapted_to(look.model_validate(data).model_dump(mode="json"), trial.effect, trial.of)
        trial.emitter["also"].append(suited)
        return
    if first["sprite"] == card.name:
        raise RequestError(
            f"They are drawn as a {card.label.lower()} already.",
            where="key",
            remedy="Draw them so as well, or as something else.",
        )
    kept = {name: first[name] for name in ("size", "opacity", "colour", "blend") if name in first}
    data = {**with_uids(look.template(), trial.new_uid), **kept}
    trial.emitter["look"] = look.model_validate(data).model_dump(mode="json")


def _once(trial: Additions, card: Card, number: int, address: str) -> None:
    path = tuple(card.name.split("."))
    kind = ONCE[path]
    there = once(trial.of, path)
    new = kind.adapted_to(kind().model_dump(mode="json"), trial.effect, trial.of) if there is None else {}
    suggestions = kind.suggestions(trial.effect.clip)
    assert suggestions is not None
    chosen = suggestions[number]
    named = {field: trial.prop(_new_prop(fields)) for field, fields in chosen.props.items()}
    trial.once(path, with_uids(merged(merged(new, chosen.fields), named), trial.new_uid), shown=False)
    trial.merge(chosen.emitter)
    for key in chosen.beside:
        trial.beside(key)
    if chosen.drives is not None:
        trial.look_again()
        _seen(trial, dict(chosen.drives[0]), chosen.drives[1], 1)


def _new_prop(fields: Data) -> dict[str, Any]:
    """Return a mask as it is added, small enough to be seen whole."""
    part = MASKS.kinds[fields["shape"]]
    soft = {"falloff": row(0.25)} if "falloff" in part.model_fields else {}
    return {**part.template(), "name": part.label.lower(), **soft, **fields, "shown": "lines"}


def _prop(trial: Additions, card: Card, number: int, address: str) -> None:
    if card.name in FILES:
        raise RequestError(f"{card.label}: that comes from a file.", where="key", remedy="Bring one in under Props.")
    uid = trial.prop(scenes.prop_fields(card.name))
    far = (
        {"kind": "distance", "prop": uid}
        if "prop" in SOURCES.kinds["distance"].model_fields
        else {"kind": "prop", "prop": uid, "part": "length"}
    )
    trial.look_again()
    _seen(trial, far, (0.0, 1.5), number)


def _mask(trial: Additions, card: Card, number: int, address: str) -> None:
    at = {"position": row([0.0, 0.8, 0.0])}
    fields = scenes.mask_fields(card.name, trial)
    fields |= at if "position" in fields else {}
    uid = trial.prop({**fields, "shown": "lines"})
    trial.look_again()
    driver = source("mask", mask=uid, part="value")
    placed = trial.placed("look.opacity" if number == 0 else "look.colour")
    trial.drive(placed, driver, (0, 1), (0.0, 1.0), read="live")


def _shaping(trial: Additions, card: Card, number: int, address: str) -> None:
    added = trial.part("shaping", card.name)
    if number == 1:
        most = added["amount"]["base"]
        late = curve(trial.new_uid(), source("life"), ((0, 0), (0.6, 0), (1, 1)), output=(0.0, most), operation="set")
        added["amount"] = row(0.0, late)


def _finish(trial: Additions, card: Card, number: int, address: str) -> None:
    taken = {each["name"] for each in trial.document["finish"]}
    seconds = max(trial.effect.clip.seconds(trial.effect.clip.last_frame), 0.04)
    item = (
        scenes.finish_sweep(card.name, trial.new_uid(), seconds, STRAIGHT)
        if number
        else FINISH.kinds[card.name].template()
    )
    name = free_name(card.label.lower(), taken)
    trial.document["finish"].append({**item, "uid": trial.new_uid(), "name": name})


_TRIALS: dict[str, Callable[[Additions, Card, int, str], None]] = {
    "row": _row,
    "source": _source,
    "operation": _operation,
    "function": _function,
    "draw": _draw,
    "force": _force,
    "ride": _ride,
    "contact": _contact,
    "cue": _cue,
    "look": _look,
    "once": _once,
    "prop": _prop,
    "mask": _mask,
    "shaping": _shaping,
    "finish": _finish,
}
