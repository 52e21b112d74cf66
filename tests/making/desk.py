"""What a Desk is handed when it opens a small effect, as JSON: `python -m tests.making.desk`. The client's component
tests begin with it."""

from __future__ import annotations

import json
import sys
from typing import Any

from pydantic import BaseModel

from kagero.core.catalog import catalog_as_dict, layout
from kagero.core.document import read_effect
from tests.making import STRAIGHT, document, emitter, response, row


def effect() -> dict[str, Any]:
    """Return an effect of two emitters: a size by life and by a draw, an opacity by life, gravity, and a dial."""
    size = row(
        0.1, response("life", {"kind": "life"}, STRAIGHT), response("flicker", {"kind": "draw", "draw": "d1"}, STRAIGHT)
    )
    opacity = row(1.0, response("fades", {"kind": "life"}, STRAIGHT))
    one = emitter(
        "one", look__size=size, look__opacity=opacity, forces=[{"kind": "gravity", "uid": "g", "strength": row(9.81)}]
    )
    body = document(one, emitter("two"), last_frame=12)
    return {
        **body,
        "dials": [{"uid": "dial", "name": "Strength", "value": 0.5, "default": 0.5, "low": 0.0, "high": 1.0}],
    }


def opened() -> dict[str, Any]:
    """Return the catalog and the effect as the API gives them."""
    read = read_effect(effect())
    catalog = {
        **catalog_as_dict(),
        "engine": {"name": "native", "lanes": 8, "threads": 2, "reason": "", "identity": ""},
        "formats": [],
        "backgrounds": {"ink": [0.0, 0.0, 0.0], "grey": [0.2, 0.2, 0.2], "paper": [0.8, 0.8, 0.8]},
    }
    about = {
        "id": 1,
        "revision": 1,
        "saved": "2026-01-01T00:00:00Z",
        "undo": None,
        "redo": None,
        "findings": [],
        "playable": None,
    }
    return {"catalog": catalog, "opened": {**about, "document": read, "layout": layout(read)}}


def plain(value: Any) -> Any:
    """Return what JSON has for a part of the document or of the layout."""
    return value.model_dump(mode="json") if isinstance(value, BaseModel) else vars(value)


if __name__ == "__main__":
    json.dump(opened(), sys.stdout, default=plain)
