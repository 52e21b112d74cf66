"""Plays effects: runs over a shared frame store, cancellation of older runs, pictures for the library."""

from .cards import card
from .runs import first_turn, picture_turn, play, ready, store
from .warm_up import WARMING

__all__ = ["WARMING", "card", "first_turn", "picture_turn", "play", "ready", "store"]
