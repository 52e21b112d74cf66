"""Help where the hand is: cards on rows, sources, operations, functions, forces, draws, props and masks, derived from
their parts. Each has a small effect that shows it, and two examples that can be tried on an effect."""

from .card_trials import attempt
from .cards import CARDS, Card, card_of
from .content import made_up

__all__ = ["CARDS", "Card", "attempt", "card_of", "made_up"]
