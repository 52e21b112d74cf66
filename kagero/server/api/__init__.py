"""Wire schemas, routes, and the one place that turns the core's errors into responses."""
