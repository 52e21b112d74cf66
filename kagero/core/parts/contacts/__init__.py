"""Contacts: what particles meet. One module a kind; the order here is that of the menu."""

from .base import CONTACTS, ContactPart

CONTACTS.load(__name__, "plane", "prop", "box", "sphere", "cylinder", "others")

__all__ = ["CONTACTS", "ContactPart"]
