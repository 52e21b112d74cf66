"""All rules and computation. Never Django, HTTP, the wall clock, global random state, or paths nobody handed in."""
