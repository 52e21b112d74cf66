"""Names of people: what may stand in one, and when two look alike.

After Unicode Technical Standard 39, *Unicode Security Mechanisms*: no letters that cannot be seen, no mixture of
scripts whose letters look alike (section 5.2), and names are compared as they are read (compatibility forms, case and
spaces folded).
"""

from __future__ import annotations

import unicodedata

from kagero.core.errors import RequestError

ALIKE = ("LATIN", "GREEK", "CYRILLIC", "ARMENIAN", "CHEROKEE")  # scripts with letters that look like another's


def folded(name: str) -> str:
    """Return a name as it is compared: two that are folded alike are one name."""
    return " ".join(unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name).casefold()).split())


def proper(name: str) -> str:
    """Return a new name as it is kept, composed and without spaces around it. Raises RequestError for one that could be
    taken for another."""
    kept = unicodedata.normalize("NFC", name).strip()
    unseen = [
        c
        for c in kept
        if unicodedata.category(c)[0] == "C"
        or (unicodedata.category(c)[0] == "Z" and c != " ")
        or c in "\u115f\u1160\u3164\uffa0\u2800"
    ]
    if unseen or not folded(kept):
        raise RequestError(
            "This name has letters that cannot be seen.",
            where="name",
            remedy="Write it with letters, digits and single spaces.",
        )
    scripts = {word for c in kept if c.isalpha() and (word := unicodedata.name(c, "").partition(" ")[0]) in ALIKE}
    if len(scripts) > 1:
        words = " and ".join(sorted(word.title() for word in scripts))
        raise RequestError(
            f"This name mixes {words} letters, which look alike.", where="name", remedy="Write it in one script."
        )
    return kept
