"""All that an effect can be made of, one module a kind. A module holds the fields of the document with their words,
units, ranges and defaults, what it refers to, where it may be read, and what it writes; rooms hold kinds of one sort
and fill their union."""
