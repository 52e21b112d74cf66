"""Geometry: meshes, paths, pictures and text as geometry, and what is asked of them, many points at once.

Arrays in, arrays out; metres, radians, linear light. Nothing here reads files (`formats` does) or knows the document.
"""

from .drawing import Drawing
from .field import VectorField
from .film import Film
from .mesh import Mesh, Places
from .path import Path
from .picture import Picture
from .shapes import SHAPES, shape

Brought = Mesh | Picture | Film | Drawing | VectorField  # what a file that was brought in holds

__all__ = ["SHAPES", "Brought", "Drawing", "Film", "Mesh", "Path", "Picture", "Places", "VectorField", "shape"]
