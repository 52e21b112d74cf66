"""Names of the state columns for neighbours."""

RADIUS = "near.radius"
COUNT, CLOSEST = "near.count", "near.closest"
AWAY, VELOCITY, MIDDLE = (tuple(f"near.{what}.{i}" for i in range(3)) for what in ("away", "velocity", "middle"))
NEIGHBOUR_VALUES = (COUNT, CLOSEST, *AWAY, *VELOCITY, *MIDDLE)  # in the order of `kernels.neighbours.sum_neighbours`
