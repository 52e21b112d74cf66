"""Examples of cards, tried on an effect: changes of its document, which are taken back like any edit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..beginnings.parts import STRAIGHT, curve, source
from ..catalog import check_no_worse, choices
from ..document import ONCE, Effect, read_effect
from ..errors import RequestError
from ..formula import identifier
from ..parts.contacts import CONTACTS
from ..parts.cues import CUES
from ..parts.finish import FINISH
from ..parts.looks import LOOKS
from ..parts.masks import MASKS
from ..parts.pushes import PUSHES
from ..parts.rides import RIDES
from ..parts.shapings import SHAPINGS
from ..parts.sources import SOURCES
from . import scene_parts, scenes
from .cards import Card, card_of
from .content import FILES
from .trial import BELL, NewUid, Trial, with_uids


def attempt(
    effect: Effect, emitter_uid: str, key: str, number: int, new_uid: NewUid, address: str = ""
) -> tuple[Effect, str]:
    """Return the effect with an example of a card in it, and what it is called as an edit.

    number: which of the two, 0 or 1. address: of the row that the card was asked for on. Raises RequestError where it
    does not fit here, in words, and EffectError where the changed effect could not be played.
    """
    card, trial = card_of(key), Trial(effect, emitter_uid, new_uid)
    if not 0 <= number < len(card.tries):
        raise RequestError("A card has two examples.", where="number", remedy="Choose 0 or 1.")
    _KINDS[card.kind](trial, card, number, address)
    return check_no_worse(effect, read_effect(trial.document)), f"Try {card.label.lower()}: {card.tries[number]}"


def _row(trial: Trial, card: Card, number: int, address: str) -> None:
    placed = trial.placed(address or card.name)
    spec, base = placed.spec, placed.row.base
    nought = base in (0, (0.0, 0.0, 0.0))
    low, high = (0.0, 1.0) if spec.kind == "colour" else scene_parts.usual(spec)
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
    trial: Trial,
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


def _source(trial: Trial, card: Card, number: int, address: str) -> None:
    why = _provide(trial, SOURCES.kinds[card.name]) or f"Nothing here has {card.label}."
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
            driver |= {"text": "life"} if driver["kind"] == "formula" else {}
            return trial.drive(placed, driver, fits.input, output, read=fits.read)
        why = listed[0].refusal if listed else why
    raise RequestError(why, where="key", remedy="Add what it reads first.")


def _provide(trial: Trial, kind: Any) -> str:
    """Add what a kind of source reads, where the effect has none: a ball, a mask, a dial, an attribute. Return why that
    cannot be, or nothing."""
    fields, effect = kind.model_fields, trial.effect
    if "prop" in fields and kind.kind_facts().label and not any(prop.placed and prop.solid for prop in effect.props):
        trial.prop({**scene_parts.fixtures()[0], "name": "ball"})
    elif "mask" in fields and not any(prop.mask for prop in effect.props):
        trial.prop(
            {**scenes.mask_fields("sphere"), "position": {"base": [0.0, 0.8, 0.0], "responses": []}, "shown": "lines"}
        )
    elif "dial" in fields and not effect.dials:
        trial.document["dials"].append(
            {"uid": trial.new_uid(), "name": "tried", "value": 0.5, "default": 0.5, "low": 0.0, "high": 1.0}
        )
    elif "moment" in fields and not effect.moments:
        trial.document["moments"].append(
            {"uid": trial.new_uid(), "name": "tried", "frame": (effect.clip.first_frame + effect.clip.last_frame) // 2}
        )
    elif "own" in fields and not trial.of.own:
        trial.emitter["own"].append({**scene_parts.emitter()["own"][0], "uid": trial.new_uid(), "name": "tried"})
    else:
        return ""
    trial.look_again()
    return ""


def _operation(trial: Trial, card: Card, number: int, address: str) -> None:
    placed = trial.placed("look.size" if number == 0 else "look.opacity")
    base = placed.row.base
    size = float(base) if isinstance(base, (int, float)) else 1.0
    output = (0.0, 1.0) if card.name == "multiply" else (0.0, 1.5 * size)
    trial.drive(placed, source("life"), (0, 1), output, card.name, ((0, 0), (0.5, 1), (1, 0)))


def _function(trial: Trial, card: Card, number: int, address: str) -> None:
    scene = card.scene()
    if scene is None:
        raise RequestError(f"{card.label} has no example of its own.", where="key", remedy="Write it in a formula.")
    text = scene["emitters"][0]["look"]["colour"]["responses"][0]["source"]["text"]
    if "draws.draw_a" in text:  # a draw of its own here, under a name that is free
        trial.draw()
        text = text.replace("draws.draw_a", f"draws.{identifier(trial.emitter['draws'][-1]['name'])}")
        trial.look_again()
    _seen(trial, {"kind": "formula", "uid": trial.new_uid(), "text": text, "draft": ""}, (-1, 1), number)


def _draw(trial: Trial, card: Card, number: int, address: str) -> None:
    driver, span = trial.draw(card.name)
    trial.drive(
        trial.placed("look.size" if number == 0 else "births.launch.speed"), driver, span, (0.4, 1.6), read="once"
    )


def _force(trial: Trial, card: Card, number: int, address: str) -> None:
    push = PUSHES.kinds[card.name]
    data = push.model_validate({**push.template(), "uid": trial.new_uid()}).model_dump(mode="json")
    if card.name == "stream":
        data["path"] = _line(trial)
    if card.name == "field":
        there = next((each.uid for each in trial.effect.props if each.field), None)
        if there is None:
            raise RequestError(
                f"{card.label}: there is no field in this effect.", where="key", remedy="Bring one in under Props."
            )
        data["prop"] = there
    needs = push.model_validate(data).relies_on()
    if needs == ("target",):
        _targets(trial)
    elif needs and trial.emitter["motion"]["near"] is None:
        trial.emitter["motion"]["near"] = ONCE[needs]().model_dump(mode="json")
    if number == 1:
        strength = push.model_validate(data).strength_row()
        data[strength]["responses"].append(curve(trial.new_uid(), source("life"), STRAIGHT))
    trial.emitter["forces"].append(data)


def _ride(trial: Trial, card: Card, number: int, address: str) -> None:
    ride = RIDES.kinds[card.name]
    data = ride.model_validate({**with_uids(ride.template(), trial.new_uid), "uid": trial.new_uid()}).model_dump(
        mode="json"
    )
    if card.name == "path":
        data["prop"] = _line(trial)
    elif card.name == "target":
        _targets(trial)
    else:
        there = [each.uid for each in trial.effect.props if each.guiding]
        data["prop"] = there[0] if there else trial.prop({**scene_parts.fixtures()[0], "name": "ball"})
    if number == 1:
        data["grip"]["responses"].append(curve(trial.new_uid(), source("life"), ((0, 1), (0.5, 0)), shape="hold"))
    trial.emitter["rides"].append(data)


def _contact(trial: Trial, card: Card, number: int, address: str) -> None:
    contact = CONTACTS.kinds[card.name]
    data = contact.model_validate({**with_uids(contact.template(), trial.new_uid), "uid": trial.new_uid()}).model_dump(
        mode="json"
    )
    if card.name == "prop":
        there = [each.uid for each in trial.effect.props if each.meshed]
        data["prop"] = there[0] if there else trial.prop({**scene_parts.fixtures()[0], "name": "ball"})
    if number == 1:
        data |= {"bounce": {"base": 0.0, "responses": []}, "friction": {"base": 1000.0, "responses": []}}
    trial.emitter["contacts"].append(data)


def _cue(trial: Trial, card: Card, number: int, address: str) -> None:
    data = {**with_uids(CUES.kinds[card.name].template(), trial.new_uid), "uid": trial.new_uid(), "name": "cue"}
    there = [each["uid"] for each in trial.emitter["cues"]]
    if card.name in ("clock", "joined"):
        if not there:
            first = {
                **with_uids(CUES.kinds["test"].template(), trial.new_uid),
                "uid": trial.new_uid(),
                "name": "half of life",
            }
            trial.emitter["cues"].append(CUES.kinds["test"].model_validate(first).model_dump(mode="json"))
            there = [first["uid"]]
        data |= {"after": there[0]} if card.name == "clock" else {"of": there[:2]}
    if card.name == "touch" and not trial.emitter["contacts"]:
        _contact(trial, card_of("contact:plane"), 0, "")
    if card.name == "elsewhere":
        other = next((each for each in trial.document["emitters"] if each["uid"] != trial.emitter["uid"]), None)
        if other is None:
            raise RequestError(
                "There is no other emitter whose cue it could count.", where="key", remedy="Add an emitter first."
            )
        if not other["cues"]:
            first = {
                **with_uids(CUES.kinds["test"].template(), trial.new_uid),
                "uid": trial.new_uid(),
                "name": "half of life",
            }
            other["cues"].append(CUES.kinds["test"].model_validate(first).model_dump(mode="json"))
        data |= {"emitter": other["uid"], "cue": other["cues"][0]["uid"]}
    data |= {"ends": True} if number == 0 else {"kick": {"base": [0.0, 3.0, 0.0], "responses": []}}
    trial.emitter["cues"].append(CUES.kinds[card.name].model_validate(data).model_dump(mode="json"))


def _look(trial: Trial, card: Card, number: int, address: str) -> None:
    look = LOOKS.kinds[card.name]
    data = with_uids(look.template(), trial.new_uid)
    first = trial.emitter["look"]
    if number == 0 and first["sprite"] == card.name:
        raise RequestError(
            f"They are drawn as a {card.label.lower()} already.",
            where="key",
            remedy="Draw them so as well, or as something else.",
        )
    if number == 0:
        kept = {name: first[name] for name in ("size", "opacity", "colour", "blend") if name in first}
        trial.emitter["look"] = look.model_validate({**data, **kept}).model_dump(mode="json")
    else:
        suited = look.adapted_to(
            look.model_validate({**data, "uid": trial.new_uid()}).model_dump(mode="json"), trial.effect, trial.of
        )
        trial.emitter["also"].append(suited)


def _once(trial: Trial, card: Card, number: int, address: str) -> None:
    *parents, last = path = tuple(card.name.split("."))
    holder = trial.emitter
    for step in parents:
        holder = holder[step]
    if path == ("target",):
        _targets(trial)
    elif holder[last] is None:
        holder[last] = ONCE[path]().model_dump(mode="json")
    if path == ("target",):
        _force(trial, card_of("force:toward_target"), 0, "") if number == 0 else _ride(
            trial, card_of("ride:target"), 0, ""
        )
    elif path == ("motion", "turning"):
        holder[last]["spin"]["base"] = [4.0, 3.0, 0.0]
        holder[last]["damping"]["base"] = 0.0 if number == 0 else 1.5
    elif path == ("light",):
        holder[last]["strength"]["base"] = 2.0
        if number == 1:
            holder[last]["strength"]["responses"].append(curve(trial.new_uid(), source("life"), ((0, 1), (1, 0))))
    elif path == ("retiming",):
        seconds = max(trial.effect.clip.seconds(trial.effect.clip.last_frame), 0.04)
        ways = ((0, 0), (0.4, 0.6), (0.65, 0.35), (1, 0.8)) if number else ((0, 0), (0.33, 0.33), (0.67, 0.5))
        holder[last]["keys"] = [
            {"at": at * seconds, "shows": shows * seconds, "shape": "smooth" if number else "linear"}
            for at, shows in ways
        ]
    elif path == ("loop",):
        clip = trial.effect.clip
        holder[last] |= ONCE[path].adapted_to(holder[last], trial.effect, trial.emitter) | {
            "way": ("matched", "blended")[number]
        }
        holder[last]["last"] = max(clip.first_frame + 1, (clip.first_frame + clip.last_frame) // 2)
    elif path == ("motion", "near") and number == 0:
        _force(trial, card_of("force:neighbours"), 0, "")
    elif path == ("motion", "near"):
        trial.look_again()
        _seen(trial, source("neighbours", part="count"), (0.0, 20.0), 1)
    elif path == ("motion", "space"):
        there = [each.uid for each in trial.effect.props if each.placed and not each.mask]
        holder[last]["prop"] = there[0] if there else trial.prop({**scene_parts.fixtures()[0], "name": "ball"})
        if number == 1:
            holder[last]["share"]["responses"].append(curve(trial.new_uid(), source("life"), ((0, 1), (1, 0))))
    elif path == ("passing",):
        holder[last]["first" if number == 0 else "shrinks"]["base"] = 0.15 if number == 0 else 1.0
        holder[last]["slows"]["base"] = float(number)
    elif path == ("leaving",):
        at = {"base": [0.0, 0.8, 0.0], "responses": []}
        holder[last]["mask"] = trial.prop(
            {**scenes.mask_fields("sphere" if number == 0 else "box"), "position": at, "shown": "lines"}
        )
    elif path == ("unseen",):
        if number == 1:
            trial.emitter["look"]["opacity"]["responses"].append(
                curve(trial.new_uid(), source("life"), ((0, 1), (0.5, 0), (1, 0)))
            )
    else:
        by, span = (source("height"), (0.0, 2.0)) if number == 0 else (source("life"), (0.0, 1.0))
        holder[last]["where"]["responses"].append(
            curve(trial.new_uid(), by, ((0, 0), (0.5, 1)), input=span, operation="add", shape="hold")
        )


def _line(trial: Trial) -> str:
    there = [each.uid for each in trial.effect.props if each.line]
    return there[0] if there else trial.prop({**scene_parts.fixtures()[3], "name": "line"})


def _targets(trial: Trial) -> None:
    if trial.emitter["target"] is None:
        there = [each.uid for each in trial.effect.props if each.births_on]
        trial.emitter["target"] = {
            "prop": there[0] if there else trial.prop({**scene_parts.fixtures()[0], "name": "ball"})
        }


def _prop(trial: Trial, card: Card, number: int, address: str) -> None:
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


def _mask(trial: Trial, card: Card, number: int, address: str) -> None:
    fields = scenes.mask_fields(card.name)
    kind = MASKS.kinds[card.name]
    if "of" in fields:
        fits = [each.uid for each in trial.effect.props if not each.mask and getattr(each, kind.of_fits)]
        if not fits and kind.of_fits not in ("solid", "placed", "guiding", "paintable"):
            raise RequestError(f"{card.label} needs a picture.", where="key", remedy="Bring one in under Props.")
        fields["of"] = fits[0] if fits else trial.prop({**scene_parts.fixtures()[0], "name": "ball"})
    if "masks" in fields:
        there = [each.uid for each in trial.effect.props if each.mask][:2]
        while len(there) < 2:
            at = {"base": [0.3 * (1 - 2 * len(there)), 0.8, 0.0], "responses": []}
            there.append(trial.prop({**scenes.mask_fields("sphere"), "position": at, "shown": "lines"}))
        fields["masks"] = there
    fields |= {"position": {"base": [0.0, 0.8, 0.0], "responses": []}} if "position" in fields else {}
    uid = trial.prop({**fields, "shown": "lines"})
    trial.look_again()
    driver = source("mask", mask=uid, part="value")
    placed = trial.placed("look.opacity" if number == 0 else "look.colour")
    trial.drive(placed, driver, (0, 1), (0.0, 1.0), read="live")


def _shaping(trial: Trial, card: Card, number: int, address: str) -> None:
    shaping = SHAPINGS.kinds[card.name]
    data = {**with_uids(shaping.template(), trial.new_uid), "uid": trial.new_uid()}
    if card.name == "path":
        data["prop"] = _line(trial)
    elif card.name == "by_mask":
        there = [each.uid for each in trial.effect.props if each.mask]
        data["mask"] = there[0] if there else trial.prop({**scene_parts.fixtures()[2], "name": "near"})
    if number == 1:
        most = data["amount"]["base"]
        late = curve(trial.new_uid(), source("life"), ((0, 0), (0.6, 0), (1, 1)), output=(0.0, most), operation="set")
        data["amount"] = {"base": 0.0, "responses": [late]}
    trial.emitter.setdefault("shaping", []).append(shaping.model_validate(data).model_dump(mode="json"))


def _finish(trial: Trial, card: Card, number: int, address: str) -> None:
    taken = {each["name"] for each in trial.document["finish"]}
    seconds = max(trial.effect.clip.seconds(trial.effect.clip.last_frame), 0.04)
    item = (
        scenes.finish_sweep(card.name, trial.new_uid(), seconds, STRAIGHT)
        if number
        else FINISH.kinds[card.name].template()
    )
    name = next(
        n for i in range(1, 99) if (n := card.label.lower() if i == 1 else f"{card.label.lower()} {i}") not in taken
    )
    trial.document["finish"].append({**item, "uid": trial.new_uid(), "name": name})


_KINDS: dict[str, Callable[[Trial, Card, int, str], None]] = {
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
