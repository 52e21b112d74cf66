"""Everything compiled beforehand that an effect would else wait for: kernels are kept once they were compiled (`kernels.compiled`)."""

from __future__ import annotations

import numpy as np

from ..beginnings.parts import STRAIGHT, curve, row, source
from ..document import read_effect
from ..geometry.streamlines import streamlines
from ..help import made_up, scenes
from ..help.content import FILES
from .bake import card_pictures
from .play import Playing, never


def ready() -> None:
    """Compile the kernels that are compiled when they are first called: trees of meshes, nearest places, rays, insides, triangles
    drawn, rides, neighbours, fields, streamlines.

    Takes half a minute once for each state of the kernels, a second afterwards.
    """
    wide = curve("wide", source("clip_time"), STRAIGHT, input=(0, scenes.SECONDS), output=(1, 2), operation="set") | {"component": "x"}
    file = {"content": FILES["mesh"], "name": "guide.glb"}
    guide = {"kind": "mesh", "uid": "guide", "name": "guide", "file": file, "scale": row([1.0, 1.0, 1.0], wide)}
    mask = {"kind": "mask", "shape": "mesh", "uid": "within", "name": "within", "of": "guide", "falloff": row(0.1)}
    births = {**scenes.emitter()["births"], "place": {"kind": "prop", "prop": "guide", "on": "inside"},
              "launch": {"aim": "guided", "guide": "guide", "cone": row(0.1)}}  # fmt: skip
    inside = curve("inside", source("mask", mask="within", part="value"), STRAIGHT)
    look = {**scenes.emitter()["look"], "opacity": row(1.0, inside)}
    data = scenes.document(scenes.emitter(births=births, look=look), props=[guide, mask])
    card_pictures(Playing(read_effect(data), content=made_up), 2, 64, 36, never)
    streamlines(np.ones((3, 3, 2)), 1.0)
    for wanted in (
        (scenes.push_scene, ("neighbours", "field", "stream", "turbulence", "curl_noise")),
        (scenes.contact_scene, ("plane", "prop", "sphere", "others")),
        (scenes.ride_scene, ("surface", "path", "crawl", "target")),
    ):
        for kind in wanted[1]:
            Playing(read_effect(wanted[0](kind)), content=made_up).show(3)
