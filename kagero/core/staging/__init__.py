"""Props at any time, and queries about them. It stands on plans, engines and geometry, and never steps particles."""

from .building import Content, geometry, geometry_key, no_content
from .fields import Fields, fine_mesh
from .prop_places import PropPlaces, rotation_matrices, transform_points
from .stage import Stage

__all__ = [
    "Content",
    "Fields",
    "PropPlaces",
    "Stage",
    "fine_mesh",
    "geometry",
    "geometry_key",
    "no_content",
    "rotation_matrices",
    "transform_points",
]
