"""Small effects that show one thing each: what moves in a card. Plain data, two seconds long."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..beginnings.parts import STRAIGHT, colours, curve, row, source
from ..catalog import Scope, check_effect
from ..document import ONCE, read_effect
from ..parts.contacts import CONTACTS
from ..parts.cues import CUES
from ..parts.draws import DRAWS
from ..parts.finish import FINISH
from ..parts.launches import LAUNCHES
from ..parts.masks import MASKS
from ..parts.places import PLACES
from ..parts.props import PROPS
from ..parts.pushes import PUSHES
from ..parts.rides import RIDES
from ..parts.shapings import SHAPINGS
from ..parts.sources import SOURCES
from ..rows.model import fields_of
from ..rows.placed import PlacedRow
from .content import FILES
from .scene_parts import (
    COLD,
    HOT,
    SECONDS,
    WARM,
    document,
    emitter,
    fixtures,
    happening,
    lined,
    meeting,
    pushed,
    riding,
    swept,
    usual,
    with_other,
)


# rows -----------------------------------------------------------------------------------------------------------------
def candidates() -> Iterator[dict[str, Any]]:
    """Yield emitters that between them have every row that an emitter can have."""
    yield emitter()
    yield emitter(thinning={"view": True})
    births = emitter()["births"]
    for tag, place in PLACES.kinds.items():
        of = {"prop": {"prop": "ball"}, "parts": {"prop": "ball"}, "particles": {"emitter": "other"}}.get(tag, {})
        yield emitter(births={**births, "place": {**place.template(), **of}})
    for tag, launch in LAUNCHES.kinds.items():
        yield emitter(
            births={**births, "launch": {**launch.template(), **({"guide": "ball"} if tag == "guided" else {})}}
        )
    for tag in PUSHES.kinds:
        yield emitter(**pushed(tag, whole=True))
    for tag in RIDES.kinds:
        yield emitter(**riding(tag))
    for tag in CONTACTS.kinds:
        yield emitter(contacts=[meeting(tag, stick=row(0.5))])
    for tag in CUES.kinds:
        yield emitter(**happening(tag, **({"second": "and"} if tag == "test" else {})))
    for tag in SHAPINGS.kinds:
        yield emitter(shaping=[shaped(tag)])
    for path in ONCE:
        yield emitter(**once_fields(".".join(path)))
    look = {**emitter()["look"], "size": row(0.3), "sprite": "picture"}
    yield emitter(
        look={
            **look,
            "shelf": "puffs",
            "page": row(0.25),
            "cut": row(0.2),
            "rim": row(0.1),
            "toned": row(0.6),
            "blend": "between",
        }
    )
    yield emitter(look={**look, "pictures": ["sheet", "sheet"], "mixed": "sheet", "mix": row(0.3), "edges": "repeat"})
    body = {**look, "sprite": "piece", "size": row(0.3), "form": "leaf"}
    shown = {"drawn_with": "picture", "shelf": "tile", "edges": "repeat"}
    yield emitter(look={**body, "pitch": row(0.4)})
    yield emitter(look={**body, **shown, "cut": row(0.2), "rim": row(0.1), "toned": row(0.6), "blend": "between"})
    yield emitter(
        look={
            **body,
            **shown,
            "pictures": ["sheet", "sheet"],
            "mixed": "sheet",
            "mix": row(0.3),
            "across": 2,
            "meshes": ["ball", "ball"],
        }
    )
    yield emitter(look={**look, "sprite": "blob", "size": row(0.3), "blend": "between"})
    yield emitter(look={**look, "sprite": "haze", "size": row(0.6), "density": row(3.0)})
    yield emitter(look=lined("trail", size=row(0.2), drawn_with="shelf", shelf="scrap", faces="flat", blend="between"))
    yield emitter(look=lined("ribbon"))
    yield emitter(look=lined("streak"))
    yield emitter(look=lined("streak", lies_along="direction", long_by="length"))


def cue_scene(kind: str) -> dict[str, Any]:
    """Return the document in which a cue throws particles up anew."""
    fades = {
        "colour": row(
            [0.9, 0.5, 0.12], colours("happened", source("cue", cue="it", part="happened"), (0, COLD), (1, WARM))
        )
    }
    return with_other(emitter(**happening(kind), look={**emitter()["look"], **fades}), [])


def row_scene(key: str) -> tuple[dict[str, Any], PlacedRow] | None:
    """Return the document in which a row goes from low to high and back over the clip, and the row; None where no
    emitter has it."""
    for one, used in [(one, used) for used in (True, False) for one in candidates()]:
        scene = read_effect(with_other(one))
        rows = Scope(scene.emitters[0], scene).rows.values()
        placed = next(
            (each for each in rows if each.spec.key == key and not each.host and not (used and each.unused)), None
        )
        if placed is None:
            continue
        data = scene.model_dump(mode="json")
        target: Any = data["emitters"][0]
        *steps, name = placed.path.split(".")
        for step in steps:
            target = target[int(step)] if isinstance(target, list) else target[step]
        target[name]["responses"] = [swept(placed.spec)]
        if key.startswith("thinning") or "noise" in key:
            data["props"] = [prop for prop in data["props"] if prop["uid"] == "ball"]
        for prop in data["props"]:
            prop["in_pictures"] = prop["uid"] == "ball" and "ball" in repr(one)
        return data, placed
    return None


# sources, operations, functions ---------------------------------------------------------------------------------------
def source_scene(kind: str) -> dict[str, Any] | None:
    """Return the document in which particles are coloured by a source: dark where it is little, bright where it is
    much."""
    births = emitter()["births"]
    place = (
        {"kind": "particles", "emitter": "other"}
        if kind == "parent"
        else {"kind": "parts", "prop": "ball", "into": "scraps"}
        if kind == "part"
        else {"kind": "prop", "prop": "ball", "on": "surface"}
    )
    rides: dict[str, Any] = {
        "ride": riding("path"),
        "ride_normal": riding("surface"),
        "ride_velocity": riding("surface"),
        "target": pushed("toward_target"),
        "neighbours": pushed("neighbours"),
        "own_axis": TUMBLES,
        "own_angle": TUMBLES,
        "tumbling": TUMBLES,
        "touch": {"contacts": [meeting("plane")]},
        "others": {"contacts": [meeting("others")]},
        "touch_normal": {"contacts": [meeting("sphere")]},
        "touch_colour": {"contacts": [meeting("prop")]},
        "cue": happening("test"),
    }.get(kind, {})
    births = rides.pop("births", births)
    on = (
        {**births, "place": place}
        if kind in ("parent", "part", "surface", "birth_normal", "birth_u", "birth_v")
        else births
    )
    look = (
        lined("trail")
        if kind == "along"
        else {**CARD, "size": row(0.15)}
        if kind in ("own_axis", "own_angle", "tumbling")
        else emitter()["look"]
    )
    scene = read_effect(with_other(emitter(births=on, look=look, **rides), dials=True))
    scope = Scope(scene.emitters[0], scene)
    for listed in SOURCES.kinds[kind].listed(scope):
        one = SOURCES.kinds[kind].model_validate({**listed.source, **({"uid": "s"} if "uid" in listed.source else {})})
        facts = one.facts(scope)
        if facts.shape != "number" or getattr(one, "part", "") == "released":
            continue
        driver = one.model_dump(mode="json") | ({"text": "0.5 + 0.5 * sin(age * 6)"} if kind == "formula" else {})
        span = (0.0, SECONDS) if one.spans_clip else facts.input
        for read in ("live", "once"):
            ramp = {**colours("ramp", driver, (0, COLD), (0.5, WARM), (1, HOT)), "input": list(span), "read": read}
            grows = curve("grows", driver, STRAIGHT, input=span, output=(0.2, 2.0), read=read)
            cooling = colours("cooling", source("life"), (0, HOT), (1, COLD))
            for shown in (
                {"colour": row([0.9, 0.5, 0.12], ramp)},
                {"size": row(0.075, grows), "colour": row([0.9, 0.5, 0.12], cooling)},
            ):
                data = with_other(emitter(births=on, **rides, look={**look, **shown}), dials=True)
                if not check_effect(read_effect(data)):
                    return data
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
    return document(emitter(look={**emitter()["look"], "size": row(0.075, bell)}))


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
        data = with_other(emitter(look={**emitter()["look"], "colour": row([0.9, 0.5, 0.12], ramp)}), dials=True)
        if not check_effect(read_effect(data)):
            return data
    return None


# draws, forces, props, masks
# --------------------------------------------------------------------------------------------
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
        **emitter()["births"],
        "rate": row(240.0),
        "place": place,
        "launch": {**emitter()["births"]["launch"], "cone": row(0.03), "speed": row(1.2)},
    }
    look = {**emitter()["look"], "size": row(0.05)}
    return document(emitter(draws=[chance.model_dump(mode="json")], births=births, forces=[], look=look))


def push_scene(kind: str) -> dict[str, Any]:
    """Return the document in which one force acts on the fountain, and nothing else."""
    fields = pushed(kind)
    uid = {"stream": "line", "field": "air"}.get(kind, "ball" if "target" in fields else "")
    needs = [prop for prop in fixtures() if prop["uid"] == uid]
    return document(emitter(**fields), props=needs)


def ride_scene(kind: str) -> dict[str, Any]:
    """Return the document in which particles ride."""
    needs = [prop for prop in fixtures() if prop["uid"] == ("line" if kind == "path" else "ball")]
    return document(emitter(**riding(kind)), props=needs)


def contact_scene(kind: str) -> dict[str, Any]:
    """Return the document in which the fountain meets one contact, and a ground plane."""
    shown = {
        "sphere": {"shape": "sphere", "radius": 0.5},
        "box": {"shape": "box", "width": 1.0, "height": 1.0, "depth": 1.0},
        "cylinder": {"shape": "cylinder", "radius": 0.3, "height": 1.0},
    }
    props = [prop for prop in fixtures() if prop["uid"] == "ball" and kind == "prop"]
    if kind in shown:
        props.append(
            {
                "kind": "shape",
                "uid": "seen",
                "name": "seen",
                "position": row([0.3, 0.75, 0.0]),
                "tint": [0.12, 0.2, 0.22],
                **shown[kind],
            }
        )
    if kind == "others":  # a heap on the ground
        ground = {**meeting("plane"), "uid": "ground", "bounce": row(0.2), "friction": row(0.8)}
        falls = [{"kind": "gravity", "uid": "fall", "strength": row(5.0)}]
        return document(
            emitter(contacts=[ground, meeting(kind)], forces=falls, look={**emitter()["look"], "size": row(0.16)})
        )
    return document(
        emitter(contacts=[meeting(kind)], forces=[{"kind": "gravity", "uid": "fall", "strength": row(5.0)}]),
        props=props,
    )


def look_scene(kind: str) -> dict[str, Any]:
    """Return the document in which particles are drawn in one look, and go about so that it is seen."""
    pages = row(1.0, curve("pages", source("life"), STRAIGHT, shape="linear"))
    own: dict[str, dict[str, Any]] = {
        "picture": {"shelf": "puffs", "size": row(0.5), "page": pages},
        "ribbon": {"size": row(0.09)},
        "streak": {"shutter": row(0.12)},
    }
    wander = {
        "kind": "curl_noise",
        "uid": "wander",
        "octaves": 1,
        "scale": row(0.5),
        "evolution": row(0.4),
        "strength": row(2.5),
    }
    births = {**emitter()["births"], "rate": row(14.0 if kind == "ribbon" else 40.0)}
    return document(emitter(look=lined(kind, **own.get(kind, {})), births=births, forces=[wander]))


TUMBLES: dict[str, Any] = {"motion": {"turning": {"spin": row([5.0, 3.0, 0.0]), "damping": row(0.8)}}}
CARD = {"sprite": "picture", "shelf": "petal", "faces": "space", "opacity": row(1.0), "colour": row([0.9, 0.5, 0.12])}


# of what an emitter has at most once, by its path: two examples, in words
ONCE_TRIES = {
    "target": ("add it, and a push that draws them there", "add it, and let them sit there"),
    "motion.near": ("add it, and let them keep apart", "add it, and colour by how many are near"),
    "motion.turning": ("let them tumble", "let them tumble and come to rest"),
    "motion.space": ("go along with a prop", "go along less and less over life"),
    "light": ("let them light what is near", "let them light, less and less over life"),
    "passing": ("fade in and out", "fade, shrink and slow at the end"),
    "ending": ("end above a height", "end at half of life"),
    "leaving": ("end on leaving a ball", "end on leaving a box"),
    "unseen": ("add it", "fade out by half of life, and end there"),
    "retiming": ("slow in the middle", "back and forth"),
    "loop": ("carry each life on", "blend the end into the beginning"),
}


def once_fields(tag: str) -> dict[str, Any]:
    """Return what an emitter has that has what one has at most once, so that it is seen what it does."""
    above = curve("above", source("height"), ((0, 0), (0.5, 1)), input=(0, 2.4), operation="add", shape="hold")
    faint = curve("faint", source("life"), ((0, 1), (0.5, 0), (1, 0)))
    fields: dict[str, dict[str, Any]] = {
        "passing": {"passing": {"first": row(0.15), "last": row(0.4), "shrinks": row(1.0)}},
        "leaving": {"leaving": {"mask": "near"}},
        "unseen": {"unseen": {"frames": row(2.0)}, "look": {**emitter()["look"], "opacity": row(1.0, faint)}},
        "target": pushed("toward_target"),
        "motion.near": pushed("neighbours"),
        "motion.space": {"motion": {"space": {"prop": "ball"}}},
        "motion.turning": {"motion": {"turning": {"spin": row([4.0, 3.0, 0.0])}}, "look": {**CARD, "size": row(0.2)}},
        "light": {"light": {"strength": row(3.0), "reach": row(1.4)}},
        "ending": {"ending": {"where": row(0.0, above)}},
        "retiming": {
            "retiming": {
                "keys": [
                    {"at": t, "shows": s, "shape": "smooth"}
                    for t, s in ((0.0, 0.0), (0.8, 1.2), (1.3, 0.7), (2.0, 1.6))
                ]
            }
        },
        "loop": {"loop": {"first": 6, "last": 17, "way": "blended", "over": 0.2}},
    }
    return fields[tag]


def once_scene(tag: str) -> dict[str, Any]:
    """Return the document whose emitter has what one has at most once, seen by what it does."""
    named = {"target": ["ball"], "motion.space": ["ball"], "light": ["ball"], "leaving": ["ball", "near"]}.get(tag, [])
    needs = [prop for prop in fixtures() if prop["uid"] in named]
    return document(emitter(**once_fields(tag)), props=needs)


def prop_fields(kind: str) -> dict[str, Any]:
    """Return a prop of a kind as it is added, small enough for a card, with a made-up file where it is of one."""
    part = PROPS.kinds[kind]
    file = {"content": FILES.get(kind, ""), "name": f"{kind}.file"} | (
        {"pictures": 24, "rate": [24, 1]} if kind == "film" else {}
    )
    of = {"files": [file]} if kind == "picture" else {"file": file} if kind in FILES else part.offers[0].fields
    fields = {**part.template(), **of, "kind": kind, "uid": "it", "name": part.label.lower()}
    return fields if kind == "camera" else {**fields, "position": row([0.0, 0.8, 0.0])}


def prop_scene(kind: str) -> dict[str, Any]:
    """Return the document in which a prop turns, and particles are born on it where they can be."""
    part, fields = PROPS.kinds[kind], prop_fields(kind)
    turn = curve(
        "turn", source("clip_time"), STRAIGHT, input=(0, SECONDS), output=(0, 2.4), operation="set", shape="linear"
    ) | {"component": "y"}
    if kind != "camera":
        fields["rotation"] = row([0.0, 0.0, 0.0], turn)
    births = emitter()["births"]
    if part.births_on:
        births = {
            **births,
            "place": {"kind": "prop", "prop": "it", "on": part.births_on[0]},
            "launch": {"aim": "normal", "cone": row(0.2), "speed": row(0.25)},
        }
    look = {**emitter()["look"], "size": row(0.035)}
    forces = [{**PUSHES.kinds["field"].template(), "uid": "blown", "prop": "it"}] if part.field else []
    return document(
        emitter(births={**births, "rate": row(220.0), "lifespan": row(0.8)}, forces=forces, look=look), props=[fields]
    )


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
    look = {**emitter()["look"], "size": row(0.09), "colour": row([2.4, 1.1, 0.2])}
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
    return {**document(emitter(look=look), props=[ground, fixtures()[0]]), "finish": [{**item, "uid": "it"}]}


def mask_fields(shape: str) -> dict[str, Any]:
    part = MASKS.kinds[shape]
    fields: dict[str, Any] = {
        **part.template(),
        "kind": "mask",
        "shape": shape,
        "uid": "it",
        "name": part.label.lower(),
        "shown": "hidden",
    }
    if "of" in part.model_fields:
        fields["of"] = "sheet" if shape == "picture" else "ball"
    if "masks" in part.model_fields:
        fields["masks"] = ["near", "low"]
    if "falloff" in part.model_fields:
        fields["falloff"] = row(0.25)
    return fields


def shaped(kind: str, **more: Any) -> dict[str, Any]:
    """Return a shaping of a kind that has all that it needs of the fixtures, its box about what hangs."""
    part = SHAPINGS.kinds[kind]
    fields = {
        **part.template(),
        "uid": "it",
        "muted": False,
        **{"by_mask": {"mask": "near"}, "path": {"prop": "line"}}.get(kind, {}),
        **more,
    }
    boxed = {"middle": row([0.0, 0.85, 0.0]), "size": row([0.7, 1.5, 0.7])} if "middle" in part.model_fields else {}
    return {
        **fields,
        **boxed,
        **({"offsets": [(0.6 * (k // 4), 0.0, 0.5 * (k % 2)) for k in range(8)]} if kind == "lattice" else {}),
    }
