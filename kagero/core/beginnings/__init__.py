"""Small effects to begin with, each with remarks on its rows that say why. A module a beginning; they are offered in
this order."""

from __future__ import annotations

from ..document import Effect, read_effect
from ..errors import RequestError
from .burst import BURST
from .dust import DUST
from .empty import EMPTY
from .on_a_mesh import ON_A_MESH
from .parts import Beginning
from .rain import RAIN
from .smoke import SMOKE
from .sparks import SPARKS
from .trail import TRAIL
from .words import WORDS

BEGINNINGS: dict[str, Beginning] = {
    each.key: each for each in (EMPTY, SPARKS, SMOKE, RAIN, TRAIL, DUST, BURST, ON_A_MESH, WORDS)
}


def begin(key: str) -> Effect:
    """Return the effect of a beginning. Raises RequestError for one that is not there."""
    if key not in BEGINNINGS:
        raise RequestError(
            f"There is no beginning {key[:40]!r}.", where="beginning", remedy=f"Choose one of: {', '.join(BEGINNINGS)}."
        )
    return read_effect(BEGINNINGS[key].document())


__all__ = ["BEGINNINGS", "Beginning", "begin"]
