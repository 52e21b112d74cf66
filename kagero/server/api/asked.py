"""What routes ask of a request: the emitter, the particle, the effect ready to play."""

from __future__ import annotations

import secrets

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
    found = next((emitter for emitter in document.emitters if emitter.uid == uid), None)
    if found is None:
        raise RequestError(f"There is no emitter {uid!r}.", where="emitter", remedy="Choose one of the effect's emitters.")
    return found


def particles_in(wanted: schemas.AboutEmitter) -> Particles:
    return Particles(ready(read_effect(wanted.document)), wanted.emitter)
