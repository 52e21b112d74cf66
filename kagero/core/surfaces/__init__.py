"""Surfaces and volumes that particles form together. Particles of a stored frame in, points and triangles out.

One module for each such look of `parts.looks`, with `surface(settings, shown, coarse, lights)`.
"""

from .drawn import with_surface

__all__ = ["with_surface"]
