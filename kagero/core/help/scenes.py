"""Small effects that show one thing each: what moves in a card. Plain data, two seconds long. What a kind is shown with
is its own example (`rows.example`)."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from itertools import count
from typing import Any

from ..catalog import Scope, check_effect
from ..document import ONCE, read_effect
from ..parts.draws import DRAWS
from ..parts.finish import FINISH
from ..parts.masks import MASKS
from ..parts.props import PROPS
from ..parts.pushes import PUSHES
from ..parts.sources import SOURCES
from ..rows.example import Data, merged
from ..rows.model import fields_of
from ..rows.placed import PlacedRow
from ..rows.union import when_rebuilt
from ..rows.writing import STRAIGHT, colours, curve, row, source
from .additions import LISTS, SINGLE, Additions
from .content import FILES
from .fixtures import COLD, HOT, SECONDS, WARM, document, fixtures, fountain, swept, usual

FALLS = [{"kind": "gravity", "uid": "fall", "strength": row(5.0)}]
WANDERS = [
    {
        "kind": "curl_noise",
        "uid": "wander",
        "octaves": 1,
        "scale": row(0.5),
        "evolution": row(0.4),
        "strength": row(2.5),
    }
]


def on_card(**changes: Any) -> Additions:
    """Return the card's document, to which parts are added. changes: of its fountain."""
    return on_scene(document(fountain(**changes), props=fixtures(), dials=True))


def on_scene(data: dict[str, Any]) -> Additions:
    """Return a card's document, to which parts are added."""
    numbers = count(1)
    return Additions(read_effect(data), "it", lambda: f"added-{next(numbers)}", alone=True)


def seen(additions: Additions, dials: bool = False) -> dict[str, Any]:
    """Return the document with those of the card's own props alone that something in it names. dials: with its dial."""
    data = additions.document
    own = {prop["uid"]: prop for prop in fixtures()}
    reached = set(
        _texts([data["emitters"], *(prop for prop in data["props"] if prop["uid"] not in own), data["finish"]])
    )
    reached |= additions.shown
    for _ in own:
        reached |= {text for uid in reached & set(own) for text in _texts(own[uid])}
    data["props"] = [prop for prop in data["props"] if prop["uid"] in reached or prop["uid"] not in own]
    return data if dials else {**data, "dials": []}


def _texts(data: Any) -> Iterator[str]:
    """Yield every text in plain data."""
    if isinstance(data, str):
        yield data
    elif isinstance(data, dict):
        for value in data.values():
            yield from _texts(value)
    elif isinstance(data, list):
        for value in data:
            yield from _texts(value)


# parts ----------------------------------------------------------------------------------------------------------------
def part_scene(family: str, tag: str, **changes: Any) -> dict[str, Any]:
    """Return the document in which the fountain has a part: a force, ride, contact, cue, place, launch or look.
    changes: of the fountain."""
    additions = on_card(**changes)
    if family in LISTS:
        additions.part(family, tag, {"uid": "it"})
    else:
        additions.single(family, tag, LOOK if family == "look" else {})
    return seen(additions)


LOOK = {"size": row(0.06), "colour": row([0.9, 0.5, 0.12])}


def contact_scene(kind: str) -> dict[str, Any]:
    """Return the document in which the fountain meets a contact."""
    additions = on_card(forces=FALLS)
    additions.part("contact", kind, {"uid": "it", "bounce": row(0.6)})
    return seen(additions)


def look_scene(kind: str) -> dict[str, Any]:
    """Return the document in which particles are drawn in one look, and go about so that it is seen."""
    return part_scene("look", kind, births={**fountain()["births"], "rate": row(40.0)}, forces=WANDERS)


DEEDS = {  # of a cue: whatever it can do
    "kick": row([0.0, 2.0, 0.0]),
    "speeds": row(0.2),
    "own": "count",
    "own_value": row(0.0),
    "chance": row(0.9),
    "times": "each",
    "sizes": row(0.7),
    "tints": row(0.5),
    "tint": row([0.2, 0.5, 0.9]),
}


def cue_scene(kind: str) -> dict[str, Any]:
    """Return the document in which a cue throws particles up anew."""
    additions = on_card()
    additions.part("cue", kind, {"uid": "it", "name": "it", **DEEDS})
    happened = colours("happened", source("cue", cue="it", part="happened"), (0, COLD), (1, WARM))
    additions.merge({"look": {"colour": row([0.9, 0.5, 0.12], happened)}})
    return seen(additions)


def once_scene(tag: str) -> dict[str, Any]:
    """Return the document whose emitter has what one has at most once, seen by what it does."""
    additions = on_card()
    additions.once(tuple(tag.split(".")))
    return seen(additions)


# rows -----------------------------------------------------------------------------------------------------------------
@cache
def candidates() -> tuple[dict[str, Any], ...]:
    """Return documents whose emitters between them have every row that an emitter can have."""
    return tuple(_candidates())


when_rebuilt(candidates.cache_clear)


def _candidates() -> Iterator[dict[str, Any]]:
    yield document(fountain(), props=fixtures())
    yield document(fountain(thinning={"view": True}), props=fixtures())
    further: dict[str, Data] = {
        "contact": {"stick": row(0.5)},
        "cue": DEEDS,
        "look": {**LOOK, "size": row(0.3)},
    }
    for family in ("place", "launch", "force", "ride", "contact", "cue", "shaping", "look"):
        _, union = {**LISTS, **SINGLE}[family]
        for tag, kind in union.kinds.items():
            for variant in ({}, *kind.example.variants):
                additions = on_card()
                fields = merged(further.get(family, {}), variant)
                if family in LISTS:
                    additions.part(family, tag, {"uid": "it", **fields})
                else:
                    additions.single(family, tag, fields)
                yield additions.document
    for path in ONCE:
        additions = on_card()
        additions.once(path)
        yield additions.document


def row_scene(key: str) -> tuple[dict[str, Any], PlacedRow] | None:
    """Return the document in which a row goes from low to high and back over the clip, and the row; None where no
    emitter has it."""
    for one, used in [(one, used) for used in (True, False) for one in candidates()]:
        scene = read_effect(one)
        rows = Scope(scene.emitters[0], scene).rows.values()
        placed = next(
            (each for each in rows if each.spec.key == key and not each.host and not (used and each.unused)), None
        )
        if placed is None:
            continue
        additions = on_scene(one)
        additions.row(placed)["responses"] = [swept(placed.spec)]
        data = seen(additions, dials=True)
        for prop in data["props"]:
            prop["in_pictures"] = prop["uid"] == "ball"
        return data, placed
    return None


# sources, operations, functions ---------------------------------------------------------------------------------------
def source_scene(tag: str) -> dict[str, Any] | None:
    """Return the document in which particles are coloured by a source: dark where it is little, bright where it is
    much; or grow by it, where a colour cannot read it. None where nothing can."""
    kind = SOURCES.kinds[tag]
    additions = on_card()
    additions.show(kind)
    additions.look_again()
    scope, before = additions.scope, dict(additions.emitter["look"])
    for listed in kind.listed(scope):
        one = kind.model_validate({**listed.source, **({"uid": "s"} if "uid" in listed.source else {})})
        facts = one.facts(scope)
        if facts.shape != "number":
            continue
        driver = one.model_dump(mode="json") | ({"text": "0.5 + 0.5 * sin(age * 6)"} if one.is_formula else {})
        span = (0.0, SECONDS) if one.spans_clip else facts.input
        for read in ("live", "once"):
            ramp = {**colours("ramp", driver, (0, COLD), (0.5, WARM), (1, HOT)), "input": list(span), "read": read}
            grows = curve("grows", driver, STRAIGHT, input=span, output=(0.2, 2.0), read=read)
            cooling = colours("cooling", source("life"), (0, HOT), (1, COLD))
            for shown in (
                {"colour": row([0.9, 0.5, 0.12], ramp)},
                {"size": row(before["size"]["base"], grows), "colour": row([0.9, 0.5, 0.12], cooling)},
            ):
                additions.emitter["look"] = {**before, **shown}
                if not check_effect(read_effect(additions.document)):
                    return seen(additions, dials=True)
    return None


def operation_scene(operation: str) -> dict[str, Any]:
    """Return the document in which size is a bell over life under an operation."""
    output = {
        "multiply": (0.0, 1.0),
        "set": (0.02, 0.14),
        "add": (0.0, 0.09),
        "at_most": (0.02, 0.11),
        "at_least": (0.02, 0.13),
    }[operation]
    bell = curve("bell", source("life"), ((0, 0), (0.5, 1), (1, 0)), output=output, operation=operation)
    return document(fountain(look={**fountain()["look"], "size": row(0.075, bell)}))


def formula_of(name: str, parameters: tuple[str, ...], example: str) -> str:
    """Return a formula that shows a function: its own example, or the function of life and what is about it."""
    given = {
        "scale": "0.5",
        "drift": "1",
        "seed": "0",
        "number": "0",
        "power": "2",
        "low": "0",
        "high": "1",
        "edge": "0.5",
        "condition": "life < 0.5",
        "n": "normalize(velocity)",
        "eta": "0.7",
        "y": "life - 0.5",
        "point": "position",
        "place": "position",
        "v": "normalize(velocity)",
        "normal": "vec3(0, 1, 0)",
    }
    return example or f"{name}({', '.join(given.get(parameter, 'life') for parameter in parameters)})"


def function_scene(name: str, parameters: tuple[str, ...], example: str) -> dict[str, Any] | None:
    """Return the document in which particles are coloured by what a formula of the function gives, from -1 to 1."""
    text = formula_of(name, parameters, example)
    for shown in (text, f"length({text})", f"number_of({text})", f"1.0 if {text} else 0.0"):
        driver = {"kind": "formula", "uid": "f", "text": shown, "draft": ""}
        ramp = {**colours("ramp", driver, (0, COLD), (0.5, WARM), (1, HOT)), "input": [-1, 1]}
        look = {**fountain()["look"], "colour": row([0.9, 0.5, 0.12], ramp)}
        data = document(fountain(look=look), props=fixtures(), dials=True)
        if not check_effect(read_effect(data)):
            return data
    return None


# draws, props, masks, finishes ----------------------------------------------------------------------------------------
def draw_scene(kind: str) -> dict[str, Any]:
    """Return the document in which a draw says how far to the side a particle is born: where many are, it is likely."""
    template = DRAWS.kinds[kind].template()
    chance = DRAWS.kinds[kind].model_validate({**template, "uid": "chance", "name": "chance"})
    aside = curve(
        "aside",
        source("draw", draw="chance"),
        STRAIGHT,
        input=tuple(chance.range()),
        output=(-0.9, 0.9),
        operation="set",
        read="once",
        shape="linear",
    ) | {"component": "x"}
    place = {"kind": "point", "centre": row([0.0, 0.15, 0.0], aside)}
    births = {
        **fountain()["births"],
        "rate": row(240.0),
        "place": place,
        "launch": {**fountain()["births"]["launch"], "cone": row(0.03), "speed": row(1.2)},
    }
    look = {**fountain()["look"], "size": row(0.05)}
    return document(fountain(draws=[chance.model_dump(mode="json")], births=births, forces=[], look=look))


def prop_fields(kind: str) -> dict[str, Any]:
    """Return a prop of a kind as it is added, small enough for a card, with a made-up file where it is of one."""
    part = PROPS.kinds[kind]
    fields: dict[str, Any] = {**part.template(), "kind": kind, "uid": "it", "name": part.label.lower()}
    at = {} if part.camera else {"position": row([0.0, 0.8, 0.0])}
    if kind not in FILES:
        return {**fields, **part.offers[0].fields, **at}
    file = {"content": FILES[kind], "name": f"{kind}.file"}
    several = any(facts.name == "files" for facts in fields_of(part))
    return merged({**fields, **at, **({"files": [file]} if several else {"file": file})}, part.example.fields)


def prop_scene(kind: str) -> dict[str, Any]:
    """Return the document in which a prop turns, and particles are born on it where they can be."""
    part, fields = PROPS.kinds[kind], prop_fields(kind)
    turn = curve(
        "turn", source("clip_time"), STRAIGHT, input=(0, SECONDS), output=(0, 2.4), operation="set", shape="linear"
    ) | {"component": "y"}
    if not part.camera:
        fields["rotation"] = row([0.0, 0.0, 0.0], turn)
    births = fountain()["births"]
    if part.births_on:
        births = {
            **births,
            "place": {"kind": "prop", "prop": "it", "on": part.births_on[0]},
            "launch": {"aim": "normal", "cone": row(0.2), "speed": row(0.25)},
        }
    look = {**fountain()["look"], "size": row(0.035)}
    forces = [{**PUSHES.kinds["field"].template(), "uid": "blown", "prop": "it"}] if part.field else []
    return document(
        fountain(births={**births, "rate": row(220.0), "lifespan": row(0.8)}, forces=forces, look=look), props=[fields]
    )


def mask_fields(shape: str, additions: Additions) -> dict[str, Any]:
    """Return a mask of a shape, as plain data, that has what it needs of a card's own props or of an effect's."""
    part = MASKS.kinds[shape]
    fields = {**part.template(), "kind": "mask", "shape": shape, "uid": "it", "name": part.label.lower()}
    if "falloff" in part.model_fields:
        fields["falloff"] = row(0.25)
    if additions.alone:
        additions.show(part)
    additions.look_again()
    if "of" in part.model_fields:
        fields["of"] = additions.named(part.model_construct(**fields), "of")
    if "masks" in part.model_fields:
        joined = [each.uid for each in additions.effect.props if each.mask][:2]
        while len(joined) < 2:
            ball = MASKS.kinds["sphere"]
            at = {"position": row([0.3 * (1 - 2 * len(joined)), 0.8, 0.0])}
            new = {**ball.template(), "name": ball.label.lower(), "falloff": row(0.25), **at, "shown": "lines"}
            joined.append(additions.prop(new))
        fields["masks"] = joined
    return fields


def finish_sweep(kind: str, uid: str, seconds: float, keys: Any) -> dict[str, Any]:
    """Return an item of the finish whose foremost row goes over a clip as keys say."""
    part = FINISH.kinds[kind]
    driven = {
        facts.name: facts.driven
        for facts in fields_of(part)
        if facts.driven is not None and not isinstance(facts.driven.default, tuple)
    }
    name = next((each for each in part.row_order if each in driven), next(iter(driven)))
    span = usual(driven[name])
    fields = {**part.template(), "name": part.label.lower()}
    fields[name]["responses"] = [
        curve(uid, source("clip_time"), keys, input=(0, seconds), output=span, operation="set")
    ]
    return fields


def finish_scene(kind: str) -> dict[str, Any]:
    """Return the document in which a thing is done to the picture, more and less over the clip."""
    look = {**fountain()["look"], "size": row(0.09), "colour": row([2.4, 1.1, 0.2])}
    ground = {
        "kind": "shape",
        "uid": "ground",
        "name": "ground",
        "shape": "plane",
        "width": 6.0,
        "depth": 6.0,
        "tint": [0.1, 0.16, 0.18],
    }
    item = finish_sweep(kind, "sweep", SECONDS, ((0, 0), (0.5, 1), (1, 0)))
    return {**document(fountain(look=look), props=[ground, fixtures()[0]]), "finish": [{**item, "uid": "it"}]}


# particles that hang in a box -----------------------------------------------------------------------------------------
def mask_scene(shape: str) -> dict[str, Any]:
    """Return the document in which particles that hang in a box are coloured by a mask that moves through them."""
    ramp = colours("ramp", source("mask", mask="it", part="value"), (0, COLD), (0.5, WARM), (1, HOT))
    additions = on_card(**hanging([1.9, 1.5, 0.5], ramp))
    low = {
        "kind": "mask",
        "shape": "slab",
        "uid": "low",
        "name": "low",
        "size": row([1.0, 0.5, 1.0]),
        "falloff": row(0.1),
        "position": row([0.0, 0.7, 0.0]),
        "shown": "hidden",
    }
    additions.document["props"].append(low)
    fields = mask_fields(shape, additions) | {"shown": "hidden"}
    sweep = curve(
        "sweep", source("clip_time"), ((0, 0), (0.5, 1), (1, 0)), input=(0, SECONDS), output=(0.1, 1.5), operation="set"
    ) | {"component": "y"}
    if "position" in MASKS.kinds[shape].model_fields:
        fields["position"] = row([0.0, 0.8, 0.0], sweep)
    additions.document["props"].append(fields)
    return seen(additions)


def hanging(size: list[float], ramp: dict[str, Any]) -> dict[str, Any]:
    """Return what an emitter has whose particles hang in a box of a size, coloured by a response."""
    births = {
        "rate": row(0.0),
        "bursts": [{"uid": "all", "frame": 0, "count": 700}],
        "place": {"kind": "box", "centre": row([0.0, 0.85, 0.0]), "size": row(size)},
        "lifespan": row(9.0),
        "launch": {"aim": "direction", "direction": row([0.0, 1.0, 0.0]), "cone": row(0.0), "speed": row(0.0)},
    }
    look = {**fountain()["look"], "size": row(0.05), "colour": row([0.9, 0.5, 0.12], ramp)}
    return {"births": births, "forces": [], "look": look}


def shaping_scene(kind: str) -> dict[str, Any]:
    """Return the document in which what hangs in a box is moved more and less over the clip."""
    most = usual(
        next(
            facts.driven
            for facts in fields_of(LISTS["shaping"][1].kinds[kind])
            if facts.name == "amount" and facts.driven
        )
    )[1]
    sweep = curve(
        "sweep",
        source("clip_time"),
        ((0, 0), (0.5, 1), (1, 0)),
        input=(0, SECONDS),
        output=(0.0, most),
        operation="set",
    )
    ramp = colours("ramp", source("position", part="y"), (0, COLD), (0.5, WARM), (1, HOT)) | {"input": [0.1, 1.6]}
    additions = on_card(**hanging([0.7, 1.5, 0.7], ramp))
    additions.part("shaping", kind, {"uid": "it", "amount": row(0.0, sweep)})
    return seen(additions)
