"""What routes ask of a request: the emitter, the particle, the effect ready to play."""

from __future__ import annotations

import secrets
from dataclasses import asdict
from typing import Any

from kagero.core.catalog import check_effect, choices
from kagero.core.document import Effect, Emitter, read_effect
from kagero.core.errors import RequestError
from kagero.core.workflows import Particles

from ..frames import ready
from . import schemas
from .base_schemas import AboutEmitter

# every route may answer with these: 400 what is no request, 401 a stranger, 403 another site, 404 what is not there,
# 409 a newer state,
# 413 too large, 422 what cannot be done, 429 too often, 503 and 507 the server's disk, or too many at once
PROBLEMS = dict.fromkeys((400, 401, 403, 404, 409, 413, 422, 429, 503, 507), schemas.Problem)
PACKETS = "application/octet-stream"


def binary(media: str) -> dict[str, Any]:
    """Return what the OpenAPI says of a route that answers with bytes."""
    return {"responses": {200: {"description": "Bytes: see docs/FORMATS.md.", "content": {media: {"schema": BYTES}}}}}


BYTES = {"type": "string", "format": "binary"}
BODY = {
    "requestBody": {"required": True, "content": {"application/octet-stream": {"schema": BYTES}}}
}  # of what is sent as it is


def new_uid() -> str:
    return secrets.token_hex(8)


def key_in(text: str) -> int:
    key = int(text)
    if key >= 1 << 64:
        raise RequestError("A particle's key has 64 bits.", where="key", remedy="Pick a particle that is there.")
    return key


def emitter_of(document: Effect, uid: str) -> Emitter:
    """Return an emitter, or a prop, whose rows are asked for in the same way."""
    owners: list[Any] = [*document.emitters, *document.props]
    found = next((owner for owner in owners if owner.uid == uid), None)
    if found is None:
        raise RequestError(
            f"There is no emitter {uid!r}.", where="emitter", remedy="Choose one of the effect's emitters."
        )
    return found


def sources_in(wanted: schemas.SourcesIn | schemas.NamesIn) -> list[dict[str, Any]]:
    """Return the sources for a row, with what the particles have of each; a prop's rows, and an effect that cannot be
    played, know none."""
    effect = read_effect(wanted.document)
    owner: Any = emitter_of(effect, wanted.emitter)
    if isinstance(owner, Emitter) and not check_effect(effect):
        return particles_in(wanted).sources(wanted.frame, wanted.address)
    try:
        return [{**asdict(choice), "now": None, "clip": None} for choice in choices(effect, owner, wanted.address)]
    except KeyError:
        raise RequestError(
            f"There is no row {wanted.address!r}.", where="address", remedy="Choose one of its rows."
        ) from None


def particles_in(wanted: AboutEmitter) -> Particles:
    return Particles(ready(read_effect(wanted.document)), wanted.emitter)
