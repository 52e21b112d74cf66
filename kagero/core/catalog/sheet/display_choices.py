"""What the stage can show on props and particles."""

from __future__ import annotations

from collections.abc import Iterator

from ...document import Effect
from .layout_types import Showable


def showables(effect: Effect) -> Iterator[Showable]:
    """Yield what the stage can show on props: masks, and what emitters make of the props that they are born on."""
    for prop in effect.props:
        if prop.mask:
            yield Showable(prop.name, f"mask:{prop.uid}", f"mask.{prop.uid}.value", "The mask, on particles and props.")
    for emitter in effect.emitters:
        for part in (emitter.births.place, emitter.births.launch):
            for kind, label, words in part.on_stage(emitter):
                yield Showable(f"{emitter.name}: {label}", f"{kind}:{emitter.uid}", "", words)
