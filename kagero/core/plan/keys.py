"""Keys of structure: plans with equal keys are compiled once."""

from __future__ import annotations

import hashlib
from typing import Any

from ..document import Effect
from ..rows.clip_rows import ByClip
from ..rows.model import walk
from ..rows.structure import SKIPPED_VALUES, structure, structures


def structure_key(effect: Effect, thing: Any) -> str:
    """Return a text that is equal for things whose programs differ only in values. Names count where formulas read
    them."""
    clip = effect.clip
    props = list(effect.props)  # what it reads of props is part of its programs
    # shapings of other emitters that move all are among an emitter's own
    shaped = (
        []
        if isinstance(thing, ByClip)
        else [s for each in effect.emitters if each.uid != thing.uid for s in each.shaping if s.everyone]
    )
    named = any("formula" in facts.marks and value for of in (thing, *props, *shaped) for _, facts, value in walk(of))
    things = (
        *effect.dials,
        *effect.moments,
        *([] if isinstance(thing, ByClip) else [*thing.draws, *thing.own, *thing.cues]),
        *props,
    )
    names = [(each.uid, each.name) for each in things] if named else ()
    body = (structure(thing), structures(props), structures(shaped))
    return _hashed(
        (
            clip.frame_rate,
            clip.first_frame,
            clip.substeps,
            clip.preview < 1,
            [(dial.uid, bool(dial.keys)) for dial in effect.dials],
            names,
            body,
        )
    )


def validity_key(effect: Effect) -> str:
    """Return a text that is equal for effects that are equally valid, except for numbers outside their rows' ranges."""
    return _hashed(structure(effect, SKIPPED_VALUES))


def _hashed(thing: Any) -> str:
    return hashlib.blake2b(repr(thing).encode(), digest_size=20).hexdigest()
