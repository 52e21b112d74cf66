"""What routes ask of a request: the emitter, the particle, the effect ready to play."""

from __future__ import annotations

import secrets
from dataclasses import asdict
from typing import Any

from kagero.core.catalog import check_effect, choices
from kagero.core.effect import Effect, Emitter, read_effect
from kagero.core.errors import RequestError
from kagero.core.workflows import Particles

from ..frames import ready
from . import schemas

PROBLEMS = {404: schemas.Problem, 409: schemas.Problem, 413: schemas.Problem, 422: schemas.Problem}


def new_uid() -> str:
    return secrets.token_hex(8)


def key_in(text: str) -> int:
    key = int(text)
    if key >= 1 << 64:
        raise RequestError("A particle's key has 64 bits.", where="key", remedy="Pick a particle that is there.")
    return key


def emitter_in(document: Effect, uid: str) -> Emitter:
    """Return an emitter, or a prop, whose rows are asked for in the same way."""
    found: Any = next((owner for owner in (*document.emitters, *document.props) if owner.uid == uid), None)
    if found is None:
        raise RequestError(f"There is no emitter {uid!r}.", where="emitter", remedy="Choose one of the effect's emitters.")
    return found


def sources_in(wanted: schemas.SourcesIn | schemas.NamesIn) -> list[dict[str, Any]]:
    """Return the sources for a row, with what the particles have of each; a prop's rows, and an effect that cannot be played, know none."""
    effect = read_effect(wanted.document)
    owner: Any = emitter_in(effect, wanted.emitter)
    if isinstance(owner, Emitter) and not check_effect(effect):
        return particles_in(wanted).sources(wanted.frame, wanted.address)
    try:
        return [{**asdict(choice), "now": None, "clip": None} for choice in choices(effect, owner, wanted.address)]
    except KeyError:
        raise RequestError(f"There is no row {wanted.address!r}.", where="address", remedy="Choose one of its rows.") from None


def particles_in(wanted: schemas.AboutEmitter) -> Particles:
    return Particles(ready(read_effect(wanted.document)), wanted.emitter)
