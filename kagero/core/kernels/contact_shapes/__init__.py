"""Shapes of contacts in closed form: each kind of `parts.contacts` that stands for one has a module of the same name
here. Prop contacts are meshes (`contact_distance`).

A shape has up to six numbers in its own space, metres: those of the rows that its part lists as `bounds`, the first
three of which are its place. A module has

- `distance(p, x, y, z)`, a kernel: the signed distance from the shape's surface to a point relative to its place, and
  the unit vector in which it grows fastest;
- `scale(p, sx, sy, sz)`, a kernel: its numbers from the fourth on, changed in place to those of the shape in the space
  of a prop that is scaled along its axes;
- `enclosure(p, largest)`: what the shape lies in, for a scale of at most `largest`: the radius of a sphere about its
  place (float), or the outward normal (3,) of a half-space whose border contains its place.
"""

from __future__ import annotations

from importlib import import_module
from pkgutil import iter_modules
from types import ModuleType
from typing import Any

from ..compiled import kernel

_OPTIONS: Any = {"error_model": "numpy", "_nrt": False}
MESH = -1
MODULES: tuple[ModuleType, ...] = tuple(
    import_module(f"{__name__}.{name}") for name in sorted(each.name for each in iter_modules(__path__))
)
NUMBERS = {module.__name__.rpartition(".")[2]: number for number, module in enumerate(MODULES)}


@kernel(**_OPTIONS)
def _no_distance(number, p, x, y, z):
    return float("inf"), 0.0, 1.0, 0.0


@kernel(**_OPTIONS)
def _no_scale(number, p, sx, sy, sz):
    pass


def _choice_of_distance(chosen: int, of_this: Any, of_others: Any) -> Any:
    def distance(number, p, x, y, z):
        if number == chosen:
            return of_this(p, x, y, z)
        return of_others(number, p, x, y, z)

    distance.__qualname__ = f"distance from shape {chosen} on"  # compiled code is stored under this name
    return kernel(**_OPTIONS)(distance)


def _choice_of_scale(chosen: int, of_this: Any, of_others: Any) -> Any:
    def scale(number, p, sx, sy, sz):
        if number == chosen:
            of_this(p, sx, sy, sz)
        else:
            of_others(number, p, sx, sy, sz)

    scale.__qualname__ = f"scale from shape {chosen} on"
    return kernel(**_OPTIONS)(scale)


distance: Any = _no_distance  # (number of the shape, its numbers, x, y, z): as in the module of that number
scale: Any = _no_scale  # (number of the shape, its numbers, sx, sy, sz)
for _number, _module in reversed(list(enumerate(MODULES))):
    distance = _choice_of_distance(_number, _module.distance, distance)
    scale = _choice_of_scale(_number, _module.scale, scale)
