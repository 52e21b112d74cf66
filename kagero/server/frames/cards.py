"""Pictures and counts for the library's cards, kept on disk by content."""

from __future__ import annotations

import hashlib
import json
import threading
from pathlib import Path
from typing import Any

from django.conf import settings

from kagero.core.effect import Effect
from kagero.core.workflows import Playing, card_pictures

from ..library import files
from ..library.disk import appearing

COUNT, WIDTH, HEIGHT = 16, 288, 162
_one_at_a_time = threading.Lock()


def card(effect: Effect) -> tuple[bytes, dict[str, Any]]:
    """Return a strip of COUNT pictures (PNG) over the clip, and {"counts": particles a frame}."""
    text = json.dumps(effect.model_dump(mode="json"), sort_keys=True) + f"{COUNT} {WIDTH} {HEIGHT} 2"
    name = hashlib.blake2b(text.encode(), digest_size=16).hexdigest()
    folder = settings.DATA_DIR / "cards"
    picture, facts = folder / f"{name}.png", folder / f"{name}.json"
    if picture.exists() and facts.exists():
        return picture.read_bytes(), json.loads(facts.read_text())
    with _one_at_a_time:  # a library full of new cards leaves room for whoever is at work
        if picture.exists() and facts.exists():
            return picture.read_bytes(), json.loads(facts.read_text())
        return _made(effect, folder, picture, facts)


def _made(effect: Effect, folder: Path, picture: Path, facts: Path) -> tuple[bytes, dict[str, Any]]:
    strip, counts = card_pictures(Playing(effect, None, files.content), COUNT, WIDTH, HEIGHT)
    for path, data in ((picture, strip), (facts, json.dumps({"counts": counts}).encode())):
        with appearing(path) as part:
            part.write_bytes(data)
    return strip, {"counts": counts}
