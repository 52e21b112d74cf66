"""Where props are at any time, and what is on them and near them. Stands on plans, the engine and geometry; never steps particles."""

from .building import Content, geometry, geometry_key, nothing
from .fields import Fields, fine_mesh
from .prop_places import PropPlaces, moved, turned
from .stage import Stage

__all__ = [
    "Content",
    "Fields",
    "PropPlaces",
    "Stage",
    "fine_mesh",
    "geometry",
    "geometry_key",
    "moved",
    "nothing",
    "turned",
]
