"""Particles that appear or vanish visibly from one frame to the next, and particles that live on unseen, over the
frames known so far."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..document.unseen import FAINTEST, SMALLEST
from ..simulation import LookEvaluator, Population
from .measure import shuffled

MOST = 40_000  # particles times frames that are looked at; of more, whole lives of some
VISIBLE = 0.25  # of its own opacity and largest size, above which a particle's first or last frame is seen as a pop
FRAMES = 5  # over how many it comes and goes after the fix

KnownFrame = list[tuple[int, float, Population]]


def find_visible_pops(looks: list[LookEvaluator], known: KnownFrame, frame_seconds: float) -> dict[str, Any] | None:
    """Return the pops and unseen lives of an emitter, or None without particles.

    looks: those drawn. known: frame, seconds, population. Returned: appears, goes, cut: how many particles with a known
    first or last frame are visible in it (opacity times size above VISIBLE of its own maximum), of how many, and the
    frame with most; cut are those ended before their lifespan. unseen: share of all particles over all frames that no
    look shows; after: that had been visible before. share: of a life, over which most would fade in or out within
    FRAMES frames.
    """
    total = sum(len(population) for _, _, population in known)
    if not total or not looks:
        return None
    every = max(1, -(-total // MOST))
    some = [
        (number, seconds, population.where(shuffled(population.key) % every == 0) if every > 1 else population)
        for number, seconds, population in known
    ]
    some = [entry for entry in some if len(entry[2])]
    if not some:
        return None
    crowd = Population.joined([population for _, _, population in some])
    number = np.concatenate([np.full(len(population), n) for n, _, population in some])
    seconds = np.concatenate([np.full(len(population), s) for _, s, population in some])
    order = np.lexsort((number, crowd.key))
    key, number = crowd.key[order], number[order]
    age, lifespan = crowd.age[order], crowd.lifespan[order]
    begins = np.append(True, key[1:] != key[:-1])
    owner = np.cumsum(begins) - 1
    first, last = np.flatnonzero(begins), np.flatnonzero(np.append(begins[1:], True))

    strength, seen = np.zeros(len(key)), np.zeros(len(key), bool)
    for look in looks:
        size, opacity = (values[order].astype(np.float64) for values in look.visible(crowd, seconds))
        largest = np.maximum.reduceat(size, first)[owner]
        strength = np.maximum(strength, opacity * np.where(largest > 0, size / np.maximum(largest, 1e-30), 0))
        seen |= (opacity > FAINTEST) & (size > SMALLEST)

    there = {n for n, _, _ in known}
    came = np.array([n - 1 in there for n in number[first]])
    went = np.array([n + 1 in there for n in number[last]])
    whole = age[last] + 1.001 * frame_seconds >= lifespan[last]
    after = np.maximum.accumulate(np.where(seen, np.arange(len(key)), -1)) >= first[owner]
    lives = np.sort(lifespan[first])
    return {
        "appears": _pops_report(strength[first], number[first], came, every),
        "goes": _pops_report(strength[last], number[last], went & whole, every),
        "cut": _pops_report(strength[last], number[last], went & ~whole, every),
        "unseen": float(np.mean(~seen)),
        "after": float(np.mean(~seen & after)),
        "share": round(float(min(0.5, FRAMES * frame_seconds / max(lives[len(lives) // 10], 1e-6))), 3),
    }


def _pops_report(strength: np.ndarray, number: np.ndarray, which: np.ndarray, every: int) -> dict[str, Any]:
    pops = number[which & (strength > VISIBLE)]
    frames, counts = np.unique(pops, return_counts=True)
    return {
        "count": len(pops) * every,
        "of": int(which.sum()) * every,
        "frame": int(frames[counts.argmax()]) if len(frames) else None,
    }
