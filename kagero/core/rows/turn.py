"""Orientation of a particle: a unit quaternion x, y, z, w from its own axes to the world's (Hamilton's product;
Shoemake, "Animating rotation with quaternion curves", SIGGRAPH 1985)."""

from __future__ import annotations

from ..formula import Values
from ..program import Builder

ROTATION_STATE = tuple(f"turned.{i}" for i in range(4))  # what the state keeps of it
SWING_STATE = tuple(
    f"swing.{i}" for i in range(3)
)  # and its angular momentum over its mean moment of inertia, world, rad/s


def product(b: Builder, p: Values, q: Values) -> Values:
    """Return the rotation q followed by the rotation p."""
    signs = (
        ((3, 0, 1), (0, 3, 1), (1, 2, 1), (2, 1, -1)),
        ((3, 1, 1), (1, 3, 1), (2, 0, 1), (0, 2, -1)),
        ((3, 2, 1), (2, 3, 1), (0, 1, 1), (1, 0, -1)),
        ((3, 3, 1), (0, 0, -1), (1, 1, -1), (2, 2, -1)),
    )
    components = []
    for terms in signs:
        total: int | None = None
        for i, j, sign in terms:
            term = b.op("mul", p[i], q[j])
            total = term if total is None else b.op("add" if sign > 0 else "sub", total, term)
        assert total is not None
        components.append(total)
    return tuple(components)


def rotation_about(b: Builder, vector: Values) -> Values:
    """Return the rotation about a vector by its length, radians."""
    angle = b.op("length", *vector)
    half = b.op("mul", angle, b.const(0.5))
    share = b.op("div", b.op("sin", half), b.op("max", angle, b.const(1e-9)))
    return (*(b.op("mul", v, share) for v in vector), b.op("cos", half))


def rotate(b: Builder, q: Values, vector: Values, back: bool = False) -> Values:
    """Return a vector rotated by a quaternion. back: by its inverse."""
    axis = tuple(b.op("neg", x) for x in q[:3]) if back else q[:3]
    twice = tuple(b.op("mul", x, b.const(2)) for x in _cross(b, axis, vector))
    further = _cross(b, axis, twice)
    return tuple(
        b.op("add", b.op("add", v, b.op("mul", q[3], t)), f) for v, t, f in zip(vector, twice, further, strict=True)
    )


def rotation_toward(b: Builder, vector: Values) -> Values:
    """Return the rotation that takes z along a vector while x stays level; the identity for a zero vector."""
    x, y, z = vector
    level = b.op("length", x, b.const(0), z)
    yaw, pitch = b.op("atan2", x, z), b.op("neg", b.op("atan2", y, level))
    none = b.const(0)
    return product(b, rotation_about(b, (none, yaw, none)), rotation_about(b, (pitch, none, none)))


def rotation_upright(b: Builder, normal: Values) -> Values:
    """Return the smallest rotation that takes y along a unit vector; half a turn about x where it points down."""
    x, y, z = normal
    w = b.op("add", y, b.const(1))
    down = b.op("less", w, b.const(1e-6))
    one, none = b.const(1), b.const(0)
    return unit(
        b,
        (b.op("select", down, one, z), none, b.op("select", down, none, b.op("neg", x)), b.op("select", down, none, w)),
    )


def kept_unit(b: Builder, q: Values) -> Values:
    """Return a nearly unit quaternion renormalised by one Newton step for the inverse square root; the error is 3/8 of
    the square of the deviation."""
    squares = [b.op("mul", x, x) for x in q]
    total = b.op("add", b.op("add", squares[0], squares[1]), b.op("add", squares[2], squares[3]))
    share = b.op("sub", b.const(1.5), b.op("mul", b.const(0.5), total))
    return tuple(b.op("mul", x, share) for x in q)


def unit(b: Builder, q: Values) -> Values:
    """Return a quaternion normalised to length 1."""
    size = b.op("max", b.op("length", b.op("length", *q[:3]), q[3], b.const(0)), b.const(1e-12))
    return tuple(b.op("div", x, size) for x in q)


def _cross(b: Builder, p: Values, q: Values) -> Values:
    return tuple(b.op("sub", b.op("mul", p[i], q[j]), b.op("mul", p[j], q[i])) for i, j in ((1, 2), (2, 0), (0, 1)))
