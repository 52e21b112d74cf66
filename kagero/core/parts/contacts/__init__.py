"""Contacts: what particles meet. One module a kind; the order here is that of the menu. A kind of closed form has a
module of its name in `kernels/contact_shapes`, too, which computes its distance."""

from ...kernels import contact_shapes
from .base import CONTACTS, ContactPart

CONTACTS.load(__name__, "plane", "prop", "box", "sphere", "cylinder", "others")

for _kind, _part in CONTACTS.kinds.items():  # a kind without its module is refused at once
    if _part.closed_form:
        CONTACTS.namesake(_kind, contact_shapes.__name__)

__all__ = ["CONTACTS", "ContactPart"]
