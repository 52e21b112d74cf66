"""Geometry: meshes, paths, pictures and text, and queries of many points at once.

Arrays in, arrays out; metres, radians, linear light. It reads no files (`formats` does) and knows no document.
"""

from .drawing import Drawing
from .field import VectorField
from .film import Film
from .mesh import Mesh, Places
from .path import Path
from .picture import Picture
from .shapes import SHAPES, shape

ImportedGeometry = Mesh | Picture | Film | Drawing | VectorField  # what a file that was brought in holds

__all__ = ["SHAPES", "Drawing", "Film", "ImportedGeometry", "Mesh", "Path", "Picture", "Places", "VectorField", "shape"]
