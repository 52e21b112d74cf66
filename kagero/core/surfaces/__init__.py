"""Surfaces that particles make together. Particles of a stored frame in, points and triangles out; never stepping.

One module a look of `parts.looks` that is drawn so, with `surface(asked)`.
"""

from .drawn import with_surface

__all__ = ["with_surface"]
