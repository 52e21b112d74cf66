"""Plays effects: runs over a shared frame store, cancellation of older runs, pictures for the library."""

from .cards import card
from .runs import play, ready, store

__all__ = ["card", "play", "ready", "store"]
