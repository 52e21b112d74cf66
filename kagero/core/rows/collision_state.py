"""Names of the state columns for collisions among particles."""

from __future__ import annotations

# how thick each is (m; nought: it meets nobody), 1 / its mass (1/kg; nought: nothing moves it), how it bounces and
# rubs, how fast pushes made it in
# this step (m/s: below that it rests), and how many it touches
RADIUS, INVERSE, BOUNCE, FRICTION, REST, COUNT = JOSTLE = tuple(
    f"jostle.{name}" for name in ("radius", "inverse", "bounce", "friction", "rest", "count")
)
