"""Births and masks, as documents have them."""

from __future__ import annotations

from tests.making import emitter, row
from tests.making.props import prop

STILL = {"births__launch__speed": row(0.0), "births__lifespan": row(100.0)}


def on(uid="a", where="surface", **more):
    return {"kind": "prop", "prop": uid, "on": where, **more}


def picture_prop(uid="p", content="0" * 32):
    return prop(uid, kind="picture", files=[{"content": content, "name": "made.png"}])


def from_particles(uid, parent, rate, **more):
    return emitter(
        uid,
        births__rate=rate,
        births__place={"kind": "particles", "emitter": parent},
        births__launch__speed=row(0.0),
        **more,
    )


def mask(uid="m", shape="sphere", **more):
    return {"uid": uid, "name": uid.title(), "kind": "mask", "shape": shape, **more}
